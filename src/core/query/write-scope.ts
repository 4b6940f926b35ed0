// From the query to its text, and the text changed term by term: what the almanac, the facets and the map do to a
// scope.

import { pieces } from './lex';
import type { Query, Sort, Term } from './query';

/** Signs that end a word or mean something in it. */
const NEEDS_QUOTES = /[\s"()]|^$|^-|^(?:OR|NOT)$/;

const inQuotes = (value: string): string => `"${value.replaceAll('"', '""')}"`;

/** A value as it stands after a colon: in quotes where it must, with its own quotation marks doubled. */
export const quoted = (value: string): string => (NEEDS_QUOTES.test(value) ? inQuotes(value) : value);

export function termText({
  key,
  operator,
  value,
  quoted: wasQuoted,
}: Pick<Term, 'key' | 'operator' | 'value' | 'quoted'>): string {
  if (key !== null) return `${key}${operator}${quoted(value)}`;
  return wasQuoted || NEEDS_QUOTES.test(value) || /^\p{L}+(?::|<|>|=)/u.test(value) ? inQuotes(value) : value;
}

/** `parseScope` reads it as the same query. */
export function queryText(query: Query): string {
  return query.kind === 'all' ? query.of.map((one) => partText(one, 'all')).join(' ') : partText(query, 'all');
}

function partText(query: Query, inside: 'all' | 'any'): string {
  if (query.kind === 'term') return termText(query);
  if (query.kind === 'not') return `-${query.of.kind === 'term' ? termText(query.of) : `(${queryText(query.of)})`}`;
  if (query.of.length === 1 && query.of[0]) return partText(query.of[0], inside);
  const text = query.of.map((one) => partText(one, 'any')).join(query.kind === 'any' ? ' OR ' : ' ');
  return query.kind === inside ? `(${text})` : inside === 'any' ? `(${text})` : text;
}

export const sortText = ({ by, reversed }: Sort): string =>
  by === 'taken' && !reversed ? '' : `sort:${reversed ? '-' : ''}${by}`;

/** Conditions beside each other; empty ones are left out. */
export const joinedConditions = (...texts: string[]): string =>
  texts
    .map((text) => text.trim())
    .filter((text) => text !== '')
    .join(' ');

const isFor =
  (key: string) =>
  (piece: ReturnType<typeof pieces>[number]): boolean =>
    piece.kind === 'term' && piece.key === key;

/**
 * The places of every term for `key` that stands by itself: not behind a minus, not in a group, not joined with
 * another.
 */
function ownPlaces(text: string, key: string): { start: number; end: number }[] {
  const all = pieces(text);
  let depth = 0;
  return all.flatMap((piece, at) => {
    if (piece.kind === 'open') depth += 1;
    if (piece.kind === 'close') depth -= 1;
    const [before, after] = [all[at - 1]?.kind, all[at + 1]?.kind];
    return depth === 0 && isFor(key)(piece) && before !== 'not' && before !== 'or' && after !== 'or'
      ? [{ start: piece.start, end: piece.end }]
      : [];
  });
}

/** The text without a range of it, and without the space that leaves. */
export const without = (text: string, { start, end }: { start: number; end: number }): string =>
  joinedConditions(text.slice(0, start), text.slice(end));

/**
 * The text with every term for `key` taken out and, where `value` is given, one put in at the end: `quoted` where it
 * must be, with its operator if that is not the colon.
 */
export function withTerm(text: string, key: string, value: string | null): string {
  let bare = text;
  for (const place of ownPlaces(text, key).reverse()) bare = without(bare, place);
  return value === null ? bare : joinedConditions(bare, /^(?:=|[<>]=?)/.test(value) ? key + value : `${key}:${value}`);
}

/** What the text says for `key`, as typed without quotes; `null` where it says nothing. */
export function termOf(text: string, key: string): string | null {
  const [place] = ownPlaces(text, key);
  const piece = place && pieces(text).find(({ start }) => start === place.start);
  return piece?.kind === 'term' ? piece.value : null;
}
