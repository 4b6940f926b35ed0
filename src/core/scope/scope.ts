// The scope: the set of photos being worked on, as the text of the scope line. Terms stand side by side and all must
// hold; `OR` joins two neighbours; a minus before a term excludes it.
//
//   boat                    a word that begins so, in any text field, keyword or name
//   "old slip"              these words in this order
//   keyword:boat            only in that field (any search name of the field registry, and name:, folder:)
//   rating:3..  rating:4  rating:..-1      taken:2019-07..2021-11  taken:2020
//   camera:"Norda K2"  drive:Studio  marker:print  copies:..1  accession:2026.001
//   month:7                 that month of every year
//   set:bracket             in such a set; set:any in one at all; set:NK4_0012.jpg in that of the file
//   without:caption         nothing in that field; without:place, without:date
//   area:62.1,-6.7,62.3,-6.5  taken between two parallels and two meridians: south, west, north, east
//   near:62.227,-6.589,500m   taken within that distance, in m or km
//   left:blanks             a blank still open; left:codes a wrong code; left:words a keyword that is not in the vocabulary
//   sort:rating             the order; sort:-rating the other way round

import { FIELDS } from '../fields/registry';
import { SEARCHED_FIELDS } from '../fields/searched';
import { type LatLon, onEarth } from '../geo/position';
import type { Box } from '../geo/sphere';
import type { SetKind } from '../sift/sets';

export type TextPlace = 'any' | 'name' | 'folder' | 'camera' | 'drive' | (string & {});

export type Test =
  | { kind: 'text'; place: TextPlace; text: string; phrase: boolean }
  /** Photos whose number is this one or goes on behind it: a year, an accession, one photo. */
  | { kind: 'accession'; number: string }
  | { kind: 'range'; of: RangeOf; from: number; to: number }
  | { kind: 'set'; of: SetKind | 'any' }
  /** Nothing stands in that field, by its search name; `place`: neither position nor place in words; `date`: no date taken. */
  | { kind: 'without'; of: string }
  | { kind: 'area'; box: Box }
  | { kind: 'near'; of: LatLon; withinM: number }
  | { kind: 'left'; of: LeftToDo }
  /** Photos in the set of a file of this name. */
  | { kind: 'set-of'; name: string };

export const LEFT_TO_DO = ['blanks', 'codes', 'words'] as const;
export type LeftToDo = (typeof LEFT_TO_DO)[number];

type RangeOf = 'rating' | 'copies' | 'taken' | 'month';

export const SORTS = ['taken', 'name', 'rating', 'marker', 'type', 'added', 'accession', 'place'] as const;
export type SortBy = (typeof SORTS)[number];

/** Each order has its own sense: oldest, best rung, newest in the catalog first; words from A to Z. */
export interface Sort {
  by: SortBy;
  reversed: boolean;
}

export interface Condition {
  not: boolean;
  test: Test;
}

export interface Scope {
  /** All must hold; within one, any. */
  clauses: Condition[][];
  sort: Sort;
  /** Terms that are not understood, as typed. They narrow nothing, and the line says so. */
  notUnderstood: string[];
}

const SET_NAMES = new Set<string>(['bracket', 'burst', 'panorama', 'companion', 'chosen', 'any']);
const TERM = /-?(?:[\p{L}]+:)?(?:"[^"]*"?|[^\s"]+)/gu;
const TEXT_PLACES = new Set<string>(['name', 'folder', 'camera', 'drive', ...SEARCHED_FIELDS.map(({ searchName }) => searchName)]);

const FIELD_NAMES = new Set(FIELDS.map(({ searchName }) => searchName.toLowerCase()));

export function parseScope(text: string): Scope {
  const scope: Scope = { clauses: [], sort: { by: 'taken', reversed: false }, notUnderstood: [] };
  let joins = false;
  for (const [term] of text.matchAll(TERM)) {
    if (term === 'OR') {
      joins = scope.clauses.length > 0;
      continue;
    }
    const sort = sortOf(term);
    if (sort) {
      scope.sort = sort;
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

function sortOf(term: string): Sort | null {
  const found = /^sort:(-?)(.+)$/i.exec(term);
  const by = SORTS.find((name) => name === found?.[2]?.toLowerCase());
  return found && by ? { by, reversed: found[1] === '-' } : null;
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
  if (key === 'month') return rangeOf(key, value, (text) => (/^(?:0?[1-9]|1[0-2])$/.test(text) ? { from: Number(text), to: Number(text) } : null));
  if (key === 'set') return SET_NAMES.has(value) ? { kind: 'set', of: value as SetKind | 'any' } : { kind: 'set-of', name: value };
  if (key === 'taken') return rangeOf(key, value, daysOf);
  if (key === 'accession') return /^\d{4}(?:\.\d+){0,2}$/.test(value) ? { kind: 'accession', number: value } : null;
  if (key === 'without') return value === 'place' || value === 'date' || FIELD_NAMES.has(value.toLowerCase()) ? { kind: 'without', of: value.toLowerCase() } : null;
  if (key === 'area') return areaOf(value);
  if (key === 'near') return nearOf(value);
  if (key === 'left') return LEFT_TO_DO.some((of) => of === value) ? { kind: 'left', of: value as LeftToDo } : null;
  if (TEXT_PLACES.has(key)) return { kind: 'text', place: key, text: value, phrase: true };
  return null;
}

/** `62.1,-6.7,62.3,-6.5`; a west greater than the east lies over the antimeridian. */
function areaOf(value: string): Test | null {
  const numbers = value.split(',').map((part) => (/^[-−]?\d{1,3}(\.\d+)?$/.test(part) ? Number(part.replace('−', '-')) : NaN));
  const [south = NaN, west = NaN, north = NaN, east = NaN] = numbers;
  return numbers.length === 4 && onEarth({ lat: south, lon: west }) && onEarth({ lat: north, lon: east }) && south <= north ? { kind: 'area', box: { south, west, north, east } } : null;
}

/** `62.227,-6.589,500m` or `,2km`. */
function nearOf(value: string): Test | null {
  const found = /^([-−]?\d{1,2}(?:\.\d+)?),([-−]?\d{1,3}(?:\.\d+)?),(\d{1,6}(?:\.\d+)?)(m|km)$/i.exec(value);
  const of = { lat: Number(found?.[1]?.replace('−', '-')), lon: Number(found?.[2]?.replace('−', '-')) };
  return found && onEarth(of) ? { kind: 'near', of, withinM: Number(found[3]) * (found[4]?.toLowerCase() === 'km' ? 1000 : 1) } : null;
}

/** An area as it stands behind `area:`, to about a metre. */
export const areaText = ({ south, west, north, east }: Box): string => [south, west, north, east].map((degrees) => String(Number(degrees.toFixed(5)))).join(',');

const integer = (text: string) => Number(text.replace('−', '-'));

function rangeOf(of: RangeOf, value: string, read: (text: string) => { from: number; to: number } | null): Test | null {
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
