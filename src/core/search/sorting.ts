// The orders a scope can be seen in, and the groups they fall into. What is the same by the order asked for stands in
// the order of time; what is the same in time, in that of names.

import type { Sort, SortBy } from '../query/query';
import { dayNumberOf, daysOfMs } from '../time/captured';
import { type Bits, countBits, hasBit, slotsIn } from './bit-set';
import type { Columns } from './columns';
import type { Head } from './search-record';
import { marksOf, reordered } from './slot-order';
import type { TextColumn } from './value-columns';

/** Photos whose time changed are put at their new place one by one; of more, all are sorted anew. */
const MOVED_LIMIT = 500;
/**
 * Sets smaller than a photo in so many are sorted by themselves; of greater ones, all photos are gone through in their
 * order.
 */
const SPARSE = 24;

export class Sorter {
  /** Slots in the order of time, and where each stands in it. */
  private order: Uint32Array | null = null;
  private ranks = new Uint32Array(0);
  private moved = new Set<number>();
  private nameForms: (string | undefined)[] = [];

  constructor(
    private readonly columns: Columns,
    order: Uint32Array | null = null,
  ) {
    if (order && order.length === columns.size) this.keepOrder(order);
  }

  /** Time or name of a photo is not what it was, or it is new. */
  forget(slot: number): void {
    this.nameForms[slot] = undefined;
    if (this.order === null) return;
    this.moved.add(slot);
    if (this.moved.size > MOVED_LIMIT) this.order = null;
  }

  get timeOrder(): Uint32Array {
    if (this.order === null || this.order.length !== this.columns.size || this.moved.size > 0) this.sortTime();
    return this.order as unknown as Uint32Array;
  }

  /**
   * The slots of a set in an order; at most `limit` of them, where that is enough. `hand`: places in a collection by
   * hand, by slot.
   */
  sorted(
    bits: Bits,
    { by, reversed }: Sort,
    limit = Infinity,
    hand: ReadonlyMap<number, number> | null = null,
  ): Uint32Array<ArrayBuffer> {
    if (by === 'taken' || (by === 'hand' && !hand)) return this.inTime(bits, reversed, limit);
    const key =
      by === 'hand'
        ? Float64Array.from({ length: this.columns.size }, (_, slot) => hand?.get(slot) ?? Infinity)
        : this.keyOf(by);
    const turn = reversed ? -1 : 1;
    const slots = this.inTime(bits, false, Infinity);
    slots.sort(
      (a, b) => turn * compareNumbers(key[a] ?? 0, key[b] ?? 0) || (this.ranks[a] ?? 0) - (this.ranks[b] ?? 0),
    );
    return slots.length > limit ? slots.slice(0, limit) : slots;
  }

  headsOf(slots: Uint32Array, by: SortBy): Head[] {
    const { columns } = this;
    const words = (column: TextColumn) =>
      headsBy(slots, (slot) => column.number(slot)).map(({ start, value }) => ({
        start,
        value: column.textOf(Number(value)),
      }));
    switch (by) {
      case 'taken':
        return headsBy(slots, (slot) => columns.column('day')[slot] ?? 0);
      case 'added':
        return headsBy(slots, (slot) => daysOfMs(columns.column('addedAt')[slot] ?? 0)).map(({ start, value }) => ({
          start,
          value: dayNumberOf(Number(value)),
        }));
      case 'rating':
        return headsBy(slots, (slot) => columns.column('rating')[slot] ?? 0);
      case 'marker':
        return headsBy(slots, (slot) => this.markerOf(slot));
      case 'type':
        return words(columns.textColumn('format'));
      case 'place':
        return words(columns.textColumn('place'));
      case 'accession':
        return headsBy(slots, (slot) => withoutLast(columns.textColumn('accession').text(slot)));
      case 'hand':
      case 'name':
        return slots.length > 0 ? [{ start: 0, value: '' }] : [];
    }
  }

  private markerOf(slot: number): string {
    const label = this.columns.field('label', slot);
    return typeof label === 'string' ? label : '';
  }

  private inTime(bits: Bits, reversed: boolean, limit: number): Uint32Array<ArrayBuffer> {
    const order = this.timeOrder;
    const count = countBits(bits);
    if (count * SPARSE < order.length) {
      const slots = slotsIn(bits);
      for (let at = 0; at < slots.length; at++) slots[at] = this.ranks[slots[at] as number] as number;
      const ranks = slots.sort();
      if (reversed) ranks.reverse();
      return (ranks.length > limit ? ranks.slice(0, limit) : ranks).map((rank) => order[rank] ?? 0);
    }
    const found = new Uint32Array(Math.min(count, limit));
    let at = 0;
    for (let step = 0; step < order.length && at < found.length; step++) {
      const slot = order[reversed ? order.length - 1 - step : step] as number;
      if (hasBit(bits, slot)) found[at++] = slot;
    }
    return found;
  }

  /** A number by which to sort, by slot. The best rung and the newest come first. */
  private keyOf(by: Exclude<SortBy, 'taken' | 'hand'>): ArrayLike<number> {
    const { columns } = this;
    switch (by) {
      case 'rating':
        return columns.column('rating').map((rating) => -rating);
      case 'added':
        return columns.column('addedAt').map((at) => -daysOfMs(at));
      case 'name':
        return ranksOf(Array.from({ length: columns.size }, (_, slot) => this.nameForm(slot)));
      case 'accession':
        return ranksOf(Array.from({ length: columns.size }, (_, slot) => columns.textColumn('accession').text(slot)));
      case 'marker':
        return ranksOf(Array.from({ length: columns.size }, (_, slot) => this.markerOf(slot)));
      case 'type':
        return byNumber(columns.textColumn('format'), columns.size);
      case 'place':
        return byNumber(columns.textColumn('place'), columns.size);
    }
  }

  private nameForm(slot: number): string {
    return (this.nameForms[slot] ??= this.columns.nameForm(slot));
  }

  private compare(a: number, b: number): number {
    const [day, second] = [this.columns.column('day'), this.columns.column('second')];
    return (
      (day[a] ?? 0) - (day[b] ?? 0) ||
      (second[a] ?? 0) - (second[b] ?? 0) ||
      compareTexts(this.nameForm(a), this.nameForm(b)) ||
      a - b
    );
  }

  private sortTime(): void {
    const { size } = this.columns;
    const known = this.order;
    if (known && this.moved.size <= MOVED_LIMIT) {
      const placed = Uint32Array.from(this.moved).sort((a, b) => this.compare(a, b));
      const order = reordered(known, marksOf(this.moved, size), placed, (a, b) => this.compare(a, b));
      if (order.length === size) return this.keepOrder(order);
    }
    this.keepOrder(Uint32Array.from({ length: size }, (_, slot) => slot).sort((a, b) => this.compare(a, b)));
  }

  private keepOrder(order: Uint32Array): void {
    this.order = order;
    this.moved.clear();
    if (this.ranks.length < order.length) this.ranks = new Uint32Array(order.length);
    for (let rank = 0; rank < order.length; rank++) this.ranks[order[rank] as number] = rank;
  }
}

/** Two that are infinite are the same. */
const compareNumbers = (a: number, b: number): number => (a < b ? -1 : a > b ? 1 : 0);

const compareTexts = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** Where each of these words comes in their order; what has none comes last. */
function ranksOf(words: readonly string[]): Float64Array {
  const distinct = [...new Set(words)].sort(compareTexts);
  const last = distinct.length;
  const rank = new Map(distinct.map((word, index) => [word, word === '' ? last : index]));
  return Float64Array.from(words, (word) => rank.get(word) ?? last);
}

function byNumber(column: TextColumn, size: number): Float64Array {
  const ranks = ranksOf(Array.from({ length: column.numberCount }, (_, number) => column.textOf(number)));
  return Float64Array.from({ length: size }, (_, slot) => ranks[column.number(slot)] ?? 0);
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

const withoutLast = (number: string): string => number.slice(0, Math.max(0, number.lastIndexOf('.')));
