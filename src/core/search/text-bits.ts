// Conditions about text: words and phrases, whole values, numbers of accessions. Words come from the postings; a phrase
// or a whole value is then looked for in the texts themselves, once a value and not once a photo.

import { fieldNamed, fieldOf } from '../fields/registry';
import { SEARCHED_FIELDS, searchedTexts } from '../fields/searched';
import { type Bits, andInto, bitsFor, bitsOfTable, bitsWhere, countBits, keepOnly, orInto } from './bit-set';
import { type Columns, LISTS, type ListName, valueOf, type SingleText } from './columns';
import { foldText, wordsOf, plain } from '../text/fold';
import { type Match, type SearchContext } from './search-context';
import type { TextColumn } from './value-columns';

/** Names of drives and folders, and formats, are asked for by their own terms; a plain word does not look there. */
export const isIn = (asked: string) => (place: string) =>
  asked === 'any' ? place !== 'folder' && place !== 'drive' && place !== 'only' && place !== 'format' : place === asked;

export const listedWord = (list: ListName, word: string): string => `${list}\t${plain(word)}`;

/** Photos that carry every one of these words, or one beginning so, in a place that passes. */
export function wordBits(
  tokens: readonly string[],
  predicate: (place: string) => boolean,
  { columns, words, places }: Pick<SearchContext, 'columns' | 'words' | 'places'>,
): Bits {
  const codes = places.withAny(predicate);
  let found: Bits | null = null;
  for (const token of tokens) {
    const carries = bitsFor(columns.size);
    words.mark(token, codes, carries);
    if (found) andInto(found, carries);
    else found = carries;
  }
  return found ?? bitsFor(columns.size);
}

export function listedBits(list: ListName, plainWords: Iterable<string>, { columns, listed }: SearchContext): Bits {
  const found = bitsFor(columns.size);
  for (const word of plainWords) listed.markWord(listedWord(list, word), ANY_CODE, found);
  return found;
}

const ANY_CODE = Uint8Array.of(1);

export function textBits(place: string, text: string, phrase: boolean, context: SearchContext): Bits {
  const tokens = wordsOf(text);
  if (tokens.length === 0) return bitsFor(context.columns.size);
  // a word of several signs, as scripts without spaces have them, is one: its signs stand beside each other
  const together = phrase || (tokens.length > 1 && !/[^\p{L}\p{N}\p{M}]/u.test(text.trim()));
  const lookUp = place === 'any' || place === 'keyword';
  if (together || tokens.length === 1) {
    const found = wordBits(tokens, isIn(place), context);
    if (tokens.length > 1) keepPhrases(found, tokens.join(' '), place, context);
    if (lookUp) orInto(found, listedBits('keywords', context.vocabulary.foundBy(tokens), context));
    return found;
  }
  let all: Bits | null = null;
  for (const token of tokens) {
    const found = wordBits([token], isIn(place), context);
    if (lookUp) orInto(found, listedBits('keywords', context.vocabulary.foundBy([token]), context));
    if (all) andInto(all, found);
    else all = found;
  }
  return all ?? bitsFor(context.columns.size);
}

/** The one column of a place; `null` for lists of words, and for what is many. */
function columnOf(place: string, columns: Columns): TextColumn | null {
  if (place === 'camera' || place === 'lens' || place === 'format' || place === 'profile')
    return columns.textColumn(place);
  const key = fieldNamed(place)?.key;
  return key === undefined ? null : columns.fieldColumn(key);
}

/** Where texts of a place come from: a column each, with the texts of a value. */
type Source = { number: (slot: number) => number; count: number; texts: (number: number, slot: number) => string[] };

function sourcesOf(place: string, columns: Columns): Source[] {
  const sources: Source[] = [];
  for (const row of SEARCHED_FIELDS) {
    if (place !== 'any' && row.searchName.toLowerCase() !== place) continue;
    if (LISTS.some((list) => list === row.key))
      sources.push({
        number: () => -1,
        count: 0,
        texts: (_, slot) => searchedTexts(row, columns.field(row.key, slot)),
      });
    const column = columns.fieldColumn(row.key);
    if (column)
      sources.push({
        number: (slot) => column.number(slot),
        count: column.numberCount,
        texts: (number) => (number === 0 ? [] : searchedTexts(row, valueOf(column.textOf(number)))),
      });
  }
  const list = (name: 'names' | 'folders' | 'drives' | 'onlyOn') => {
    const column = columns.textColumn(name);
    sources.push({
      number: (slot) => column.number(slot),
      count: column.numberCount,
      texts: (_, slot) => columns.strings(name, slot),
    });
  };
  const single = (name: SingleText) => {
    const column = columns.textColumn(name);
    sources.push({
      number: (slot) => column.number(slot),
      count: column.numberCount,
      texts: (number) => (number === 0 ? [] : [column.textOf(number)]),
    });
  };
  if (place === 'any' || place === 'name') list('names');
  if (place === 'folder') list('folders');
  if (place === 'drive') list('drives');
  if (place === 'only') list('onlyOn');
  for (const name of ['camera', 'lens', 'format', 'profile'] as const)
    if (place === name || (place === 'any' && name !== 'format' && name !== 'profile')) single(name);
  return sources;
}

/** Takes out the photos none of whose texts in that place fits. Each value is looked at once. */
function keepTexts(found: Bits, place: string, columns: Columns, fits: (text: string) => boolean): void {
  if (countBits(found) === 0) return;
  const sources = sourcesOf(place, columns).map((source) => ({ ...source, cache: new Uint8Array(source.count) }));
  keepOnly(found, (slot) =>
    sources.some(({ number, texts, cache }) => {
      const value = number(slot);
      if (value < 0) return texts(value, slot).some(fits);
      if (value === 0) return false;
      if (cache[value] === 0) cache[value] = texts(value, slot).some(fits) ? 1 : 2;
      return cache[value] === 1;
    }),
  );
}

/** The last word of a phrase may be unfinished: it is being typed. */
const keepPhrases = (found: Bits, phrase: string, place: string, { columns }: SearchContext): void =>
  keepTexts(found, place, columns, (text) => ` ${wordsOf(text).join(' ')}`.includes(` ${phrase}`));

/** Texts of a column's values as they are compared, kept for the next question; by number. */
const foldedKept = new WeakMap<TextColumn, string[][]>();
function foldedValues(place: string, column: TextColumn, columns: Columns): string[][] {
  const folded = foldedKept.get(column) ?? [];
  if (folded.length < column.numberCount) {
    const source = sourcesOf(place, columns)[0];
    for (let number = folded.length; number < column.numberCount; number++)
      folded.push(number === 0 ? [] : (source?.texts(number, -1) ?? []).map((text) => foldText(text.trim())));
    foldedKept.set(column, folded);
  }
  return folded;
}

/** Values so few are compared one by one; of more, only those of photos that have the words. */
const FEW_VALUES = 4096;

export function isBits(place: string, text: string, context: SearchContext): Match {
  const list = LISTS.find((name) => name === fieldNamed(place)?.key);
  if (list) return listedBits(list, [plain(text)], context);
  const column = columnOf(place, context.columns);
  if (column && column.numberCount <= FEW_VALUES) {
    const asked = foldText(text.trim());
    const folded = foldedValues(place, column, context.columns);
    const table = new Uint8Array(folded.length);
    for (let number = 1; number < table.length; number++) if (folded[number]?.includes(asked)) table[number] = 1;
    return {
      predicate: (slot) => table[column.number(slot)] === 1,
      bits: () => bitsOfTable(column.raw, context.columns.size, table),
    };
  }
  const tokens = wordsOf(text);
  const found =
    tokens.length > 0
      ? wordBits(tokens, isIn(place), context)
      : bitsWhere(context.columns.size, (slot) => context.columns.isLive(slot));
  const asked = foldText(text.trim());
  keepTexts(found, place, context.columns, (value) => foldText(value.trim()) === asked);
  return found;
}

export function accessionBits(asked: string, context: SearchContext): Bits {
  const column = context.columns.textColumn('accession');
  const below = `${asked}.`;
  const found = wordBits(wordsOf(asked), isIn(fieldOf('identifier').searchName), context);
  keepOnly(found, (slot) => column.text(slot) === asked || column.text(slot).startsWith(below));
  return found;
}
