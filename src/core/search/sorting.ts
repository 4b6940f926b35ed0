// The orders a scope can be seen in, and the groups they fall into. What is the same by the order asked for stands in the
// order of time; what is the same in time, in that of names.

import type { Sort, SortBy } from '../scope/scope';
import { dayNumber, parseCaptured } from '../time/captured';
import { isoOfSeconds } from '../time/civil';
import type { Columns } from './columns';
import type { Head } from './search-record';

export class Sorter {
  private ranks: Uint32Array | null = null;

  constructor(private readonly columns: Columns) {}

  /** Time or name of a photo is not what it was. */
  forget(): void {
    this.ranks = null;
  }

  /** Sorts slots in place. */
  sort(slots: Uint32Array, { by, reversed }: Sort): Uint32Array {
    const rank = this.timeRanks();
    const key = this.keyOf(by);
    const turn = reversed ? -1 : 1;
    if (key === null) return slots.sort((a, b) => turn * ((rank[a] ?? 0) - (rank[b] ?? 0)));
    return slots.sort((a, b) => turn * ((key[a] ?? 0) - (key[b] ?? 0)) || (rank[a] ?? 0) - (rank[b] ?? 0));
  }

  headsOf(slots: Uint32Array, by: SortBy): Head[] {
    const { columns } = this;
    switch (by) {
      case 'taken': return headsBy(slots, (slot) => columns.day[slot] ?? 0);
      case 'added': return headsBy(slots, (slot) => daysOf(columns.addedAt[slot] ?? 0)).map(({ start, value }) => ({ start, value: dayNumber(parseCaptured(isoOfSeconds(Number(value) * 86_400))) }));
      case 'rating': return headsBy(slots, (slot) => columns.rating[slot] ?? 0);
      case 'marker': return headsBy(slots, (slot) => columns.markerWords.words[columns.marker[slot] ?? 0] ?? '');
      case 'type': return headsBy(slots, (slot) => columns.formatWords.words[columns.format[slot] ?? 0] ?? '');
      case 'place': return headsBy(slots, (slot) => columns.placeWords.words[columns.place[slot] ?? 0] ?? '');
      case 'accession': return headsBy(slots, (slot) => withoutLast(columns.accessions[slot] ?? ''));
      case 'name': return slots.length > 0 ? [{ start: 0, value: '' }] : [];
    }
  }

  /** A number by which to sort, by slot; `null` for time itself. The best rung and the newest come first. */
  private keyOf(by: SortBy): ArrayLike<number> | null {
    const { columns } = this;
    switch (by) {
      case 'taken': return null;
      case 'rating': return columns.rating.map((rating) => -rating);
      case 'added': return columns.addedAt.map((at) => -daysOf(at));
      case 'name': return ranksOf(columns.names, columns.size);
      case 'accession': return ranksOf(columns.accessions, columns.size);
      case 'marker': return byWord(columns.marker, columns.markerWords.words);
      case 'type': return byWord(columns.format, columns.formatWords.words);
      case 'place': return byWord(columns.place, columns.placeWords.words);
    }
  }

  private timeRanks(): Uint32Array {
    if (this.ranks) return this.ranks;
    const { day, second, names, size } = this.columns;
    const order = Uint32Array.from({ length: size }, (_, slot) => slot);
    order.sort((a, b) => (day[a] ?? 0) - (day[b] ?? 0) || (second[a] ?? 0) - (second[b] ?? 0) || compare(names[a] ?? '', names[b] ?? '') || a - b);
    this.ranks = new Uint32Array(size);
    for (let rank = 0; rank < size; rank++) this.ranks[order[rank] ?? 0] = rank;
    return this.ranks;
  }
}

const compare = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** Where each of these words comes in their order; what has none comes last. */
function ranksOf(words: readonly string[], size: number): Float64Array {
  const distinct = [...new Set(words)].sort(compare);
  const last = distinct.length;
  const rank = new Map(distinct.map((word, index) => [word, word === '' ? last : index]));
  return Float64Array.from({ length: size }, (_, slot) => rank.get(words[slot] ?? '') ?? last);
}

function byWord(column: ArrayLike<number>, words: readonly string[]): Float64Array {
  const ranks = ranksOf(words, words.length);
  return Float64Array.from(column, (word) => ranks[word] ?? words.length);
}

function headsBy(slots: Uint32Array, valueOf: (slot: number) => number | string): Head[] {
  const heads: Head[] = [];
  let last: number | string | null = null;
  slots.forEach((slot, start) => {
    const value = valueOf(slot);
    if (value !== last) heads.push({ start, value });
    last = value;
  });
  return heads;
}

const DAY_MS = 86_400_000;
const daysOf = (milliseconds: number): number => Math.floor(milliseconds / DAY_MS);

const withoutLast = (number: string): string => number.slice(0, Math.max(0, number.lastIndexOf('.')));
