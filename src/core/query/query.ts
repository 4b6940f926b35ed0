// The query: what a scope asks of a photo, as a tree. The scope line, the rule editor, the facets, the almanac and the
// map all make this tree and show it; the index answers it. A term keeps the words it was written with, so that every
// tree has its text.

import type { FileMark } from '../fixity/copies';
import type { LatLon } from '../geo/position';
import type { Box } from '../geo/sphere';
import type { SetKind } from '../sift/sets';
import type { When } from './when';

export type Operator = ':' | '=' | '<' | '<=' | '>' | '>=';

/**
 * `any` looks into every text field, keyword and file name; another is `name`, `folder`, `camera` … or the search name
 * of a field.
 */
export type TextField = string;

export const LEFT_TO_DO = ['blanks', 'codes', 'words', 'notices', 'names'] as const;
export type LeftToDo = (typeof LEFT_TO_DO)[number];

/** Why a photo is not safe: too few verified copies, too few elsewhere, or enough that are to be read again. */
export const UNSAFE = ['copies', 'elsewhere', 'check'] as const;
export type Unsafe = (typeof UNSAFE)[number];

export const NUMBERS = ['rating', 'copies', 'iso', 'f', 'focal', 'shutter', 'megapixels', 'aspect'] as const;
/** Shutter in seconds, focal length in millimetres, aspect as width over height. */
export type NumberOf = (typeof NUMBERS)[number];

/** Both ends belong to it unless they are `open`. */
export interface Span {
  from: number;
  to: number;
  openFrom: boolean;
  openTo: boolean;
}

export const SHAPES = ['upright', 'level', 'square'] as const;
export type PictureShape = (typeof SHAPES)[number];
export const PHOTO_KINDS = ['raw', 'picture', 'video', 'panorama'] as const;
export type PhotoKind = (typeof PHOTO_KINDS)[number];

export type Test =
  /** Words that stand there in this order (`phrase`) or each somewhere; the last may be unfinished. */
  | { kind: 'text'; place: TextField; text: string; phrase: boolean }
  /** A value that is this text and no more, without regard to case and accents. */
  | { kind: 'is'; place: TextField; text: string }
  /** Photos whose number is this one or goes on behind it: a year, an accession, one photo. */
  | { kind: 'accession'; number: string }
  /** A folder, on one drive or any; with all that is below it, or by itself. */
  | { kind: 'folder'; drive: string | null; path: string; below: boolean }
  | { kind: 'number'; of: NumberOf; span: Span }
  /** A number or date of the field registry that has no column of its own, by its key; dates as day numbers. */
  | { kind: 'field-number' | 'field-date'; key: string; span: Span }
  /** Day numbers (20190704; month or day 00 for what is known in part). */
  | { kind: 'taken' | 'added'; span: Span }
  /** Told from today: the index knows which day that is. */
  | { kind: 'when'; of: 'taken' | 'added'; when: When }
  /** 1 to 12, of every year. */
  | { kind: 'month'; from: number; to: number }
  | { kind: 'set'; of: SetKind | 'any' }
  /** Photos in the set of a file of this name. */
  | { kind: 'set-of'; name: string }
  /**
   * Something, or nothing, stands in that field, by its search name; `place`: a position or a place in words; `date`: a
   * date taken.
   */
  | { kind: 'has' | 'missing'; of: string }
  | { kind: 'area'; box: Box }
  | { kind: 'near'; of: LatLon; withinM: number }
  | { kind: 'left'; of: LeftToDo }
  /** In a collection, by its name or its path. */
  | { kind: 'in'; collection: string }
  /** A file of it is so; `any`: damaged, missing, or in doubt. */
  | { kind: 'state'; of: FileMark | 'any' }
  | { kind: 'unsafe'; of: Unsafe }
  | { kind: 'safe'; is: boolean }
  | { kind: 'edited' | 'corrected'; is: boolean }
  | { kind: 'shape'; of: PictureShape }
  | { kind: 'photo-kind'; of: PhotoKind }
  /** Within so many seconds of a moment, by the cameras’ clocks: seconds since 1970 as if they went by UTC. */
  | { kind: 'around'; at: number; withinSeconds: number }
  /** Sent out at all (`any`), or under that name. */
  | { kind: 'sent'; to: string }
  /** Looks like the photo with a file of this name. */
  | { kind: 'like'; name: string; withinBits: number }
  /** A good part of the picture has a colour near this one: CIELAB, difference by CIEDE2000. */
  | { kind: 'colour'; lab: readonly [number, number, number]; within: number };

/** As written: `rating>=3` is key `rating`, operator `>=`, value `3`. A word by itself has no key. */
export interface Term {
  kind: 'term';
  key: string | null;
  operator: Operator;
  value: string;
  quoted: boolean;
  test: Test;
}

export type Query = { kind: 'all' | 'any'; of: Query[] } | { kind: 'not'; of: Query } | Term;

/** `hand` is the order of the collection that the scope names. */
export const SORTS = ['taken', 'name', 'rating', 'marker', 'type', 'added', 'accession', 'place', 'hand'] as const;
export type SortBy = (typeof SORTS)[number];

/** Each order has its own sense: oldest, best rung, newest in the catalog first; words from A to Z. */
export interface Sort {
  by: SortBy;
  reversed: boolean;
}

/** Why a place of the text is not understood. */
export type ScopeProblemCode =
  | 'unknown-field'
  | 'bad-value'
  | 'quote-open'
  | 'group-open'
  | 'group-empty'
  | 'stray-close'
  | 'nothing-after'
  | 'nothing-before'
  | 'too-deep'
  | 'no-operator';

/** What is not understood narrows nothing. `repair` is the text to put in its place, where one can be proposed. */
export interface ScopeProblem {
  code: ScopeProblemCode;
  start: number;
  end: number;
  /** As typed. */
  text: string;
  repair: string | null;
}

/** One of the conditions that must all hold, with its place in the text. */
export interface ScopeItem {
  query: Query;
  start: number;
  end: number;
}

export interface Scope {
  items: ScopeItem[];
  sort: Sort;
  problems: ScopeProblem[];
}

/** The whole scope as one tree. */
export const queryOf = ({ items }: Pick<Scope, 'items'>): Query => ({
  kind: 'all',
  of: items.map(({ query }) => query),
});

/** Collections that a scope names by `in:`, as typed. */
export const collectionsIn = (scope: Pick<Scope, 'items'>): string[] =>
  termsOf(queryOf(scope)).flatMap(({ test }) => (test.kind === 'in' ? [test.collection] : []));

/** Every term of a tree, from left to right. */
export const termsOf = (query: Query): Term[] =>
  query.kind === 'term' ? [query] : query.kind === 'not' ? termsOf(query.of) : query.of.flatMap(termsOf);
