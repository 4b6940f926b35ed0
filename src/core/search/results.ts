// What was found, as the page wants it: columns by position in the order asked for, in typed arrays that cross to it in
// a moment.

import { type Columns, listIn, valueOf } from './columns';
import { countFacet } from './facets';
import type { SearchContext } from './search-context';
import type { Sets } from './photo-sets';
import { type Ordered, SET_CODES, type SearchResult } from './search-record';

const YEARS = 10_000;
/** Months of a year by their number, and 0 for a year alone. */
const MONTHS = 13;

/** Photos by year and month (201907); 0 for undated. */
export function monthsOf(slots: Uint32Array, columns: Columns): Map<number, number> {
  const day = columns.column('day');
  const counts = new Uint32Array(YEARS * MONTHS);
  for (let at = 0; at < slots.length; at++) {
    const month = ((day[slots[at] as number] as number) / 100) | 0;
    const year = (month / 100) | 0;
    const place = year * MONTHS + month - year * 100;
    counts[place] = (counts[place] as number) + 1;
  }
  const found = new Map<number, number>();
  for (let place = 0; place < counts.length; place++)
    if (counts[place] !== 0) found.set(((place / MONTHS) | 0) * 100 + (place % MONTHS), counts[place] as number);
  return found;
}

/** Photos by day number, of one year. */
export function daysOfYear(slots: Uint32Array, year: number, columns: Columns): Map<number, number> {
  const day = columns.column('day');
  const found = new Map<number, number>();
  for (const slot of slots) {
    const number = day[slot] as number;
    if (((number / 10_000) | 0) === year) found.set(number, (found.get(number) ?? 0) + 1);
  }
  return found;
}

export function orderedResult(slots: Uint32Array, { list, of }: Sets, columns: Columns): Ordered {
  const { length } = slots;
  const rating = columns.column('rating');
  const [ratings, sets, setKinds, setSizes] = [
    new Int8Array(length),
    new Int32Array(length),
    new Uint8Array(length),
    new Uint16Array(length),
  ];
  for (let at = 0; at < length; at++) {
    const slot = slots[at] as number;
    ratings[at] = rating[slot] as number;
    const number = of[slot] ?? -1;
    sets[at] = number;
    if (number < 0) continue;
    setKinds[at] = SET_CODES.indexOf(list[number]?.kind ?? null);
    setSizes[at] = list[number]?.slots.length ?? 0;
  }
  return { slots, ratings, sets, setKinds, setSizes };
}

type ResultColumns = Pick<
  SearchResult,
  'days' | 'aspects' | 'copies' | 'flags' | 'onDrives' | 'driveSets' | 'onMarkers' | 'labels' | 'ladder'
>;

/** One pass over the columns by name: through a function that takes any column it is ten times as long (measured). */
export function columnsOf(slots: Uint32Array, context: SearchContext): ResultColumns {
  const { columns } = context;
  const { length } = slots;
  const [day, aspect, copied, flag] = [
    columns.column('day'),
    columns.column('aspect'),
    columns.column('copies'),
    columns.column('flags'),
  ];
  const [drives, labels] = [columns.textColumn('drives'), columns.fieldColumn('label')];
  const [drive, label] = [drives.raw, labels?.raw ?? new Uint8Array(0)];
  const [days, aspects, copies, flags, onDrives, onMarkers] = [
    new Int32Array(length),
    new Float32Array(length),
    new Uint8Array(length),
    new Uint8Array(length),
    new Uint16Array(length),
    new Uint16Array(length),
  ];
  for (let at = 0; at < length; at++) {
    const slot = slots[at] as number;
    days[at] = day[slot] as number;
    aspects[at] = aspect[slot] as number;
    copies[at] = copied[slot] as number;
    flags[at] = flag[slot] as number;
    onDrives[at] = drive[slot] ?? 0;
    onMarkers[at] = label[slot] ?? 0;
  }
  return {
    days,
    aspects,
    copies,
    flags,
    onDrives,
    onMarkers,
    driveSets: Array.from({ length: drives.numberCount }, (_, number) => listIn(drives.textOf(number))),
    labels: Array.from({ length: labels?.numberCount ?? 1 }, (_, number) =>
      number === 0 ? '' : String(valueOf(labels?.textOf(number) ?? '')),
    ),
    ladder: countFacet('rating', slots, context, Infinity),
  };
}
