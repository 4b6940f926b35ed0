// A query answered over the columns: every condition becomes a set of bits. Those that are found by words come first;
// numbers are then only looked at for what is left.

import { type FieldKey, fieldNamed } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import { distanceM, inBox } from '../geo/sphere';
import { bitsApart } from '../picture/measures';
import { colourTest } from '../picture/colour-search';
import { numbered } from '../text/natural';
import type { LeftToDo, NumberOf, Query, Span, Term, Test } from '../query/query';
import { daysOfWhen } from '../query/when';
import { dayNumber, dayNumberOf, daysOfMs, parseCaptured } from '../time/captured';
import {
  type Bits,
  andInto,
  bitsBetween,
  bitsFor,
  bitsWhere,
  countBits,
  keepOnly,
  orInto,
  setBit,
  withoutInto,
} from './bit-set';
import { COLOUR_COLUMNS, type Columns, valueOf } from './columns';
import { wordsOf, plain } from '../text/fold';
import { type LazySet, type Match, type SearchContext, type Predicate } from './search-context';
import { FLAG } from './search-record';
import { folderBits } from './folder-tree';
import { accessionBits, isBits, isIn, listedBits, textBits, wordBits } from './text-bits';

/** Where fewer than one photo in so many is left, each is asked. */
const FEW_LEFT = 12;

function keep(of: Bits, found: Exclude<Match, Bits>, size: number): void {
  if (typeof found === 'function') keepOnly(of, found);
  else if (countBits(of) * FEW_LEFT < size) keepOnly(of, found.predicate);
  else andInto(of, found.bits());
}

/** The photos a query finds. */
export function evaluate(query: Query, context: SearchContext): Bits {
  const { columns } = context;
  const all = bitsFor(columns.size);
  all.set(columns.live.subarray(0, all.length));
  return narrow(query, all, context);
}

/** Of these photos those that fit; `of` is changed. */
function narrow(query: Query, of: Bits, context: SearchContext): Bits {
  switch (query.kind) {
    case 'all':
      return narrowAll(query.of, of, context);
    case 'not':
      withoutInto(of, narrow(query.of, of.slice(), context));
      return of;
    case 'any': {
      const any = bitsFor(context.columns.size);
      for (const one of query.of) orInto(any, narrow(one, of.slice(), context));
      return any;
    }
    case 'term': {
      const found = cached(query, context);
      if (found instanceof Uint32Array) andInto(of, found);
      else keep(of, found, context.columns.size);
      return of;
    }
  }
}

function narrowAll(queries: readonly Query[], of: Bits, context: SearchContext): Bits {
  const later: Exclude<Match, Bits>[] = [];
  const rest: Query[] = [];
  for (const query of queries) {
    if (query.kind !== 'term') {
      rest.push(query);
      continue;
    }
    const found = cached(query, context);
    if (found instanceof Uint32Array) andInto(of, found);
    else later.push(found);
  }
  for (const found of later) keep(of, found, context.columns.size);
  return rest.reduce((left, query) => narrow(query, left, context), of);
}

/** Conditions whose photos are cached until a photo changes. */
const CACHED_TERMS = 64;
/** These depend on more than the photos: on the day, on the collections. */
const NOT_CACHED = new Set<Test['kind']>(['when', 'safe', 'unsafe', 'in', 'set', 'set-of']);

/**
 * What a condition found when it was asked before: while a scope is typed, and as facets are clicked, most stay the
 * same.
 */
function cached(term: Term, context: SearchContext): Match {
  if (NOT_CACHED.has(term.test.kind)) return find(term.test, context);
  const key = `${term.key ?? ''}\t${term.operator}\t${term.quoted ? '"' : ''}${term.value}`;
  const note = (bits: Bits): Bits => {
    context.cache.delete(key); // what is asked for again is the last to be forgotten
    if (context.cache.size >= CACHED_TERMS) context.cache.delete(context.cache.keys().next().value ?? '');
    context.cache.set(key, bits);
    return bits;
  };
  const before = context.cache.get(key);
  if (before) return note(before);
  const found = find(term.test, context);
  if (found instanceof Uint32Array) return note(found);
  return typeof found === 'function' ? found : { predicate: found.predicate, bits: () => note(found.bits()) };
}

type Finders = { [K in Test['kind']]: (test: Extract<Test, { kind: K }>, context: SearchContext) => Match };

/** What each kind of test finds, as bits or as a question to each photo. */
const FINDERS: Finders = {
  text: ({ place, text, phrase }, context) => textBits(place, text, phrase, context),
  is: ({ place, text }, context) => isBits(place, text, context),
  accession: ({ number }, context) => accessionBits(number, context),
  folder: (asked, { columns }) => folderBits(asked, columns),
  number: ({ of, span }, { columns }) => numberBits(of, span, columns),
  'field-number': ({ key, span }, { columns }) =>
    fieldPasses(key as FieldKey, columns, (value) => typeof value === 'number' && inSpan(value, span)),
  'field-date': ({ key, span }, { columns }) =>
    fieldPasses(key as FieldKey, columns, (value) => {
      const day = typeof value === 'string' ? dayNumber(parseCaptured(value)) : 0;
      return day > 0 && inSpan(day, span);
    }),
  taken: ({ span }, { columns }) => dayBits(columns.column('day'), columns.size, span),
  added: ({ span }, { columns }) => dayBits(addedDays(columns), columns.size, span),
  when: ({ of, when }, { columns, today }) => {
    const days = of === 'taken' ? columns.column('day') : addedDays(columns);
    const found = daysOfWhen(when, today);
    return 'monthDay' in found
      ? (slot) => (days[slot] ?? 0) > 0 && (days[slot] ?? 0) % 10_000 === found.monthDay
      : dayBits(days, columns.size, { ...found, openFrom: false, openTo: false });
  },
  around: ({ at, withinSeconds }, { columns }) => {
    const clock = columns.column('clock');
    return (slot) => Math.abs((clock[slot] ?? NaN) - at) <= withinSeconds;
  },
  month: ({ from, to }, { columns }) => {
    const day = columns.column('day');
    const month = (slot: number) => Math.floor((day[slot] ?? 0) / 100) % 100;
    return from <= to
      ? (slot) => month(slot) >= from && month(slot) <= to
      : (slot) => month(slot) >= from || (month(slot) > 0 && month(slot) <= to);
  },
  set: ({ of: kind }, context) => {
    const { list, of } = context.sets();
    return (slot) => (of[slot] ?? -1) >= 0 && (kind === 'any' || list[of[slot] ?? -1]?.kind === kind);
  },
  'set-of': ({ name }, context) => setOfBits(name, context),
  has: ({ of }, { columns }) => hasPasses(of, columns),
  missing: ({ of }, { columns }) => {
    const has = hasPasses(of, columns);
    return (slot) => !has(slot);
  },
  area: ({ box }, { columns }) => atPosition(columns, (lat, lon) => inBox({ lat, lon }, box)),
  near: ({ of, withinM }, { columns }) => atPosition(columns, (lat, lon) => distanceM({ lat, lon }, of) <= withinM),
  left: ({ of }, context) => {
    if (of === 'words') return unknownWords(context);
    return flagged(context.columns, LEFT_FLAGS[of]);
  },
  in: ({ collection }, context) => context.collection(collection) ?? bitsFor(context.columns.size),
  state: ({ of }, { columns }) => flagged(columns, of === 'any' ? FLAG.damaged | FLAG.missing | FLAG.doubt : FLAG[of]),
  unsafe: ({ of }, { columns, nowMs }) => {
    if (of !== 'check') return flagged(columns, of === 'copies' ? FLAG.fewCopies : FLAG.noneElsewhere);
    const until = columns.column('safeUntil');
    return (slot) => (until[slot] ?? 0) > 0 && (until[slot] ?? 0) <= nowMs;
  },
  safe: ({ is }, { columns, nowMs }) => {
    const until = columns.column('safeUntil');
    return (slot) => (until[slot] ?? 0) > nowMs === is;
  },
  edited: isOrNot,
  corrected: isOrNot,
  shape: ({ of }, { columns }) => {
    const aspect = columns.column('aspect');
    return (slot) => shapeOf(aspect[slot] ?? 1) === of;
  },
  'photo-kind': ({ of }, context) => {
    const { columns } = context;
    if (of === 'panorama') return find({ kind: 'set', of: 'panorama' }, context);
    const [raw, video] = [flagged(columns, FLAG.raw), flagged(columns, FLAG.video)];
    if (of === 'raw') return raw;
    return of === 'video' ? video : (slot) => !raw(slot) && !video(slot);
  },
  sent: ({ to }, context) =>
    to === 'any'
      ? (slot) => context.columns.list('sent').numbers(slot).length > 0
      : listedBits('sent', [plain(to)], context),
  like: (test, context) => likeBits(test, context),
  colour: ({ lab, within }, { columns }) => {
    const isNear = colourTest(lab, within);
    const colours = COLOUR_COLUMNS.map((name) => columns.column(name));
    return (slot) => colours.some((column) => isNear(column[slot] ?? 0));
  },
};

/** Photos that bear a mark, or all others. */
function isOrNot({ kind, is }: Test & { kind: 'edited' | 'corrected' }, { columns }: SearchContext): Predicate {
  const marked = flagged(columns, FLAG[kind]);
  return (slot) => marked(slot) === is;
}

const find = (test: Test, context: SearchContext): Match =>
  (FINDERS[test.kind] as (test: Test, context: SearchContext) => Match)(test, context);

const inSpan = (value: number, { from, to, openFrom, openTo }: Span): boolean =>
  (openFrom ? value > from : value >= from) && (openTo ? value < to : value <= to);

/** Day numbers are whole, and 0 is none. */
const dayBits = (days: ArrayLike<number>, size: number, { from, to, openFrom, openTo }: Span): LazySet =>
  between(days, size, Math.max(1, openFrom ? from + 1 : from), openTo ? to - 1 : to);

const between = (column: ArrayLike<number>, size: number, from: number, to: number): LazySet => ({
  predicate: (slot) => (column[slot] as number) >= from && (column[slot] as number) <= to,
  bits: () => bitsBetween(column, size, from, to),
});

function addedDays(columns: Columns): ArrayLike<number> {
  const cache = new Map<number, number>();
  return columns.column('addedAt').map((ms) => {
    const day = daysOfMs(ms);
    const number = cache.get(day) ?? (day > 0 ? dayNumberOf(day) : 0);
    cache.set(day, number);
    return number;
  });
}

/** Wider than high by more than a hundredth, higher than wide, or neither. */
export const shapeOf = (aspect: number): 'upright' | 'level' | 'square' =>
  aspect > 1.01 ? 'level' : aspect < 1 / 1.01 ? 'upright' : 'square';

/** What is left to do, where a flag of the photo says it; words are told by the vocabulary. */
const LEFT_FLAGS: Record<Exclude<LeftToDo, 'words'>, number> = {
  blanks: FLAG.blank,
  codes: FLAG.wrongCode,
  notices: FLAG.notice,
  names: FLAG.cameraName,
};

const NUMBER_COLUMN = {
  rating: 'rating',
  copies: 'copies',
  iso: 'iso',
  f: 'fNumber',
  focal: 'focal',
  shutter: 'exposure',
  megapixels: 'megapixels',
  aspect: 'aspect',
} as const;

/** Columns hold single precision: bounds are brought to it, so that f 2.8 is f 2.8. */
function numberBits(of: NumberOf, { from, to, openFrom, openTo }: Span, columns: Columns): LazySet {
  const column = columns.column(NUMBER_COLUMN[of]);
  const next =
    column instanceof Float32Array
      ? nextSingle
      : (value: number, up: boolean) => (up ? Math.floor(value) + 1 : Math.ceil(value) - 1);
  const bound = column instanceof Float32Array ? Math.fround : (value: number) => value;
  const low = openFrom ? next(bound(from), true) : bound(from);
  // a size that is not known is 0, and of no size
  return between(
    column,
    columns.size,
    of === 'megapixels' ? Math.max(low, Number.MIN_VALUE) : low,
    openTo ? next(bound(to), false) : bound(to),
  );
}

const single = new Float32Array(1);
const singleBits = new Int32Array(single.buffer);
/** The next number of single precision above or below. */
function nextSingle(value: number, up: boolean): number {
  if (!Number.isFinite(value)) return value;
  single[0] = value;
  if (single[0] === 0) singleBits[0] = up ? 1 : 0x80000001 | 0;
  else singleBits[0] = (singleBits[0] ?? 0) + (single[0] > 0 === up ? 1 : -1);
  return single[0];
}

/** Asked once for each value, not for each photo. */
function fieldPasses(key: FieldKey, columns: Columns, fits: (value: FieldValue) => boolean): Predicate {
  const column = columns.fieldColumn(key);
  if (!column) return () => false;
  const cache = new Uint8Array(column.numberCount);
  return (slot) => {
    const number = column.number(slot);
    if (number === 0) return false;
    if (cache[number] === 0) cache[number] = fits(valueOf(column.textOf(number))) ? 1 : 2;
    return cache[number] === 1;
  };
}

function hasPasses(of: string, columns: Columns): Predicate {
  if (of === 'place') {
    const unplaced = flagged(columns, FLAG.unplaced);
    return (slot) => !unplaced(slot);
  }
  const day = columns.column('day');
  if (of === 'date') return (slot) => (day[slot] ?? 0) > 0;
  const key = fieldNamed(of)?.key;
  return key === undefined ? () => false : (slot) => columns.hasField(key, slot);
}

function flagged(columns: Columns, flag: number): Predicate {
  const flags = columns.column('flags');
  return (slot) => ((flags[slot] ?? 0) & flag) !== 0;
}

function atPosition(columns: Columns, fits: (lat: number, lon: number) => boolean): Predicate {
  const [lat, lon] = [columns.column('lat'), columns.column('lon')];
  return (slot) => !Number.isNaN(lat[slot] ?? NaN) && fits(lat[slot] ?? 0, lon[slot] ?? 0);
}

function unknownWords({ columns, vocabulary }: SearchContext): Predicate {
  if (vocabulary.isEmpty) return () => false; // who keeps none misses none
  const list = columns.list('keywords');
  const cache = new Uint8Array(list.words.size);
  return (slot) =>
    list.numbers(slot).some((number) => {
      if (cache[number] === 0) cache[number] = vocabulary.has(list.words.text(number)) ? 1 : 2;
      return cache[number] === 2;
    });
}

function setOfBits(name: string, context: SearchContext): Bits {
  const { columns } = context;
  const { list, of } = context.sets();
  const asked = numbered(name);
  const found = bitsFor(columns.size);
  for (let slot = 0; slot < columns.size; slot++) {
    const set = list[of[slot] ?? -1];
    if (!set || !columns.isLive(slot) || !isNamed(columns.nameForm(slot), asked)) continue;
    for (const member of set.slots) setBit(found, member);
  }
  return found;
}

/** With its ending, or without. */
const isNamed = (form: string, asked: string): boolean => form === asked || form.startsWith(`${asked}.`);

function likeBits({ name, withinBits }: Test & { kind: 'like' }, { columns, words, places }: SearchContext): Bits {
  const [high, low] = [columns.column('hashHigh'), columns.column('hashLow')];
  const measured = flagged(columns, FLAG.measured);
  const asked = numbered(name);
  const models: number[] = [];
  keepOnly(wordBits(wordsOf(name), isIn('name'), { columns, words, places }), (slot) => {
    if (measured(slot) && columns.isLive(slot) && isNamed(columns.nameForm(slot), asked)) models.push(slot);
    return true;
  });
  return bitsWhere(
    columns.size,
    (slot) =>
      measured(slot) &&
      models.some(
        (model) => bitsApart(high[slot] ?? 0, low[slot] ?? 0, high[model] ?? 0, low[model] ?? 0) <= withinBits,
      ),
  );
}
