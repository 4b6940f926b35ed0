// What can be typed next in the scope line: fields while a word begins, values with counts behind a colon. Counts are
// of the whole
// catalog: they say whether something is there to be found at all.

import { pieces } from '../query/lex';
import { TERMS, type TermRow, termRow } from '../query/terms';
import { quoted } from '../query/write-scope';
import { WHEN_WORDS } from '../query/when';
import { COLOUR_NAMES } from '../picture/colour-names';
import { FIELDS } from '../fields/registry';
import { slotsIn } from './bit-set';
import type { SearchContext } from './search-context';
import { FACETS, FACET_NAMES, countFacet } from './facets';
import { foldText } from '../text/fold';

export interface Completion {
  kind: 'field' | 'value' | 'word';
  /** The range of the text it replaces, and with what. */
  start: number;
  end: number;
  text: string;
  label: string;
  /** Of photos; `null` where it is not about some. */
  count: number | null;
}

export interface CompletionContext extends SearchContext {
  collectionNames: readonly string[];
}

const FOLDERS_SHOWN = 50;
/** Fields offered for a word that is being typed. */
const FIELDS_SHOWN = 4;

/** @param cursor place in the text, in UTF-16 units */
export function complete(text: string, cursor: number, limit: number, context: CompletionContext): Completion[] {
  const piece = pieces(text).find((one) => one.start <= cursor && one.end >= cursor && one.kind === 'term');
  if (piece?.kind !== 'term') return [];
  if (piece.key !== null) {
    const row = termRow(piece.key);
    return row && cursor >= piece.valueStart
      ? valuesFor(row, piece.value, context)
          .slice(0, limit)
          .map(({ value, count }) => ({
            kind: 'value',
            start: piece.start,
            end: piece.end,
            text: valueText(row, value),
            label: value,
            count,
          }))
      : [];
  }
  if (piece.quoted) return [];
  const begun = foldText(piece.value);
  const fields = TERMS.filter(
    ({ key, label }) => key.startsWith(begun) || (begun.length > 1 && foldText(label).startsWith(begun)),
  );
  fields.sort((a, b) => Number(b.key.startsWith(begun)) - Number(a.key.startsWith(begun)));
  const words = context.words
    .wordsWith(begun, 400)
    .sort((a, b) => b.count - a.count)
    .slice(0, limit);
  return [
    ...fields.slice(0, FIELDS_SHOWN).map(({ key, label }): Completion => ({
      kind: 'field',
      start: piece.start,
      end: piece.end,
      text: `${key}:`,
      label,
      count: null,
    })),
    ...words
      .filter(({ word }) => word !== begun)
      .map(({ word, count }): Completion => ({
        kind: 'word',
        start: piece.start,
        end: piece.end,
        text: word,
        label: word,
        count,
      })),
  ].slice(0, limit);
}

/** A whole value is asked for with `=` where the field has one. */
const valueText = (row: TermRow, value: string): string =>
  `${row.key}${row.kind === 'text' && row.read(value, '=')?.kind === 'is' ? '=' : ':'}${quoted(value)}`;

function valuesFor(row: TermRow, begun: string, context: CompletionContext): { value: string; count: number | null }[] {
  const folded = foldText(begun);
  const fits = (value: string) =>
    foldText(value).startsWith(folded) || (folded.length > 1 && foldText(value).includes(folded));
  if (row.kind === 'field')
    return ['place', 'date', ...FIELDS.map(({ searchName }) => searchName.toLowerCase())]
      .filter(fits)
      .map((value) => ({ value, count: null }));
  if (row.kind === 'collection') return context.collectionNames.filter(fits).map((value) => ({ value, count: null }));
  if (row.key === 'folder')
    return context.folders.named(begun, FOLDERS_SHOWN).map(({ value, below }) => ({ value, count: below }));
  if (row.kind === 'colour')
    return Object.keys(COLOUR_NAMES)
      .filter(fits)
      .map((value) => ({ value, count: null }));
  const facet = FACET_NAMES.find((name) => FACETS[name].key === row.key && name !== 'year');
  const counted = facet
    ? countFacet(facet, slotsIn(context.columns.live), context, Infinity).filter(({ value }) => fits(value))
    : [];
  const known = new Set(counted.map(({ value }) => value));
  const words = [...(row.choices ?? []), ...(row.key === 'taken' || row.key === 'added' ? WHEN_WORDS : [])].filter(
    (value) => fits(value) && !known.has(value),
  );
  return [
    ...counted.filter(({ value }) => foldText(value) !== folded || !row.choices),
    ...words.map((value) => ({ value, count: null })),
  ];
}
