// The scope: the set of photos being worked on, as the text of the scope line. Terms stand side by side and all must
// hold; `OR` joins two neighbours; a minus before a term excludes it.
//
//   boat                    a word that begins so, in any text field, keyword or name
//   "old slip"              these words in this order
//   keyword:boat            only in that field (any search name of the field registry, and name:, folder:)
//   rating:3..  rating:4  rating:..-1      taken:2019-07..2021-11  taken:2020
//   camera:"Norda K2"  drive:Studio  marker:print  copies:..1

import { SEARCHED_FIELDS } from '../fields/searched';

export type TextPlace = 'any' | 'name' | 'folder' | 'camera' | 'drive' | (string & {});

export type Test =
  | { kind: 'text'; place: TextPlace; text: string; phrase: boolean }
  | { kind: 'range'; of: 'rating' | 'copies' | 'taken'; from: number; to: number };

export interface Condition {
  not: boolean;
  test: Test;
}

export interface Scope {
  /** All must hold; within one, any. */
  clauses: Condition[][];
  /** Terms that are not understood, as typed. They narrow nothing, and the line says so. */
  notUnderstood: string[];
}

const TERM = /-?(?:[\p{L}]+:)?(?:"[^"]*"?|[^\s"]+)/gu;
const TEXT_PLACES = new Set<string>(['name', 'folder', 'camera', 'drive', ...SEARCHED_FIELDS.map(({ searchName }) => searchName)]);

export function parseScope(text: string): Scope {
  const scope: Scope = { clauses: [], notUnderstood: [] };
  let joins = false;
  for (const [term] of text.matchAll(TERM)) {
    if (term === 'OR') {
      joins = scope.clauses.length > 0;
      continue;
    }
    const condition = parseTerm(term);
    const last = scope.clauses.at(-1);
    if (!condition) scope.notUnderstood.push(term);
    else if (joins && last) last.push(condition);
    else scope.clauses.push([condition]);
    joins = false;
  }
  return scope;
}

function parseTerm(term: string): Condition | null {
  const not = term.startsWith('-') && term.length > 1;
  const body = not ? term.slice(1) : term;
  const colon = /^(\p{L}+):(.*)$/u.exec(body);
  const key = colon?.[1]?.toLowerCase();
  const raw = colon ? (colon[2] ?? '') : body;
  const phrase = raw.startsWith('"');
  const value = phrase ? raw.replace(/^"|"$/g, '') : raw;
  if (value === '') return null;
  const test = testOf(key, value, phrase);
  return test && { not, test };
}

function testOf(key: string | undefined, value: string, phrase: boolean): Test | null {
  if (key === undefined) return { kind: 'text', place: 'any', text: value, phrase };
  if (key === 'rating' || key === 'copies') return rangeOf(key, value, (text) => (/^[-−]?\d+$/.test(text) ? { from: integer(text), to: integer(text) } : null));
  if (key === 'taken') return rangeOf(key, value, daysOf);
  if (TEXT_PLACES.has(key)) return { kind: 'text', place: key, text: value, phrase: true };
  return null;
}

const integer = (text: string) => Number(text.replace('−', '-'));

function rangeOf(of: 'rating' | 'copies' | 'taken', value: string, read: (text: string) => { from: number; to: number } | null): Test | null {
  const parts = value.split('..');
  if (parts.length > 2) return null;
  const first = parts[0] ?? '';
  const last = parts.length === 2 ? (parts[1] ?? '') : first;
  const from = first === '' ? { from: -Infinity, to: 0 } : read(first);
  const to = last === '' ? { from: 0, to: Infinity } : read(last);
  return from && to ? { kind: 'range', of, from: from.from, to: to.to } : null;
}

/** `2019`, `2019-07` or `2019-07-04` as the day numbers it covers, partial dates (month or day 00) included. */
function daysOf(text: string): { from: number; to: number } | null {
  const found = /^(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?$/.exec(text);
  if (!found) return null;
  const [, year, month, day] = found;
  const from = Number(year) * 10_000 + Number(month ?? 0) * 100 + Number(day ?? 0);
  return { from, to: day ? from : month ? from + 99 : from + 9999 };
}

/** A value as it stands after a colon: quoted when it has blanks. */
export const quoted = (value: string): string => (/\s/.test(value) ? `"${value.replaceAll('"', '')}"` : value);

/** The text with every term for `key` taken out and, where `value` is given, one put in at the end. */
export function withTerm(text: string, key: string, value: string | null): string {
  const terms = [...text.matchAll(TERM)].map(([term]) => term).filter((term) => !term.toLowerCase().startsWith(`${key}:`));
  if (value !== null) terms.push(`${key}:${value}`);
  return terms.join(' ');
}

/** What the text says for `key`, as typed without quotes; `null` where it says nothing. */
export function termOf(text: string, key: string): string | null {
  for (const [term] of text.matchAll(TERM)) {
    if (term.toLowerCase().startsWith(`${key}:`)) return term.slice(key.length + 1).replace(/^"|"$/g, '');
  }
  return null;
}
