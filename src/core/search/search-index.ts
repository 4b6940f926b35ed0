// The search index: photos as compact columns and word postings, kept in a worker. Answers a scope with the photos in
// time order, their shapes for the wall, and counts for the almanac and the shelves.
//
// A photo keeps its slot for good. Postings are sorted slots with, beside each, the number of the set of places in which
// the word stands there. Words are kept sorted for prefixes; words seen since the last sort wait in a short list that is read through.

import type { FieldValues } from '../fields/registry';
import { SEARCHED_FIELDS, searchedTexts } from '../fields/searched';
import type { Condition, Scope, Test } from '../scope/scope';
import { wordsOf } from './fold';
import { PlaceSets } from './place-sets';

export interface SearchRecord {
  id: string;
  names: string[];
  folders: string[];
  /** Each once. */
  drives: string[];
  camera: string;
  /** Day number (20190704) and second of the day of capture; 0 for none. */
  day: number;
  second: number;
  /** Width over height as shown. */
  aspect: number;
  /** Proven copies. */
  copies: number;
  fields: FieldValues;
}

export interface FacetCount {
  value: string;
  count: number;
}

export interface SearchResult {
  /** Photos of the scope, oldest first. */
  ids: string[];
  days: Int32Array;
  aspects: Float32Array;
  ratings: Int8Array;
  /** All photos of the catalog; shown + hidden = all. */
  all: number;
  /** Photos by year and month (201907) in the scope; 0 for undated. */
  months: Map<number, number>;
  cameras: FacetCount[];
  drives: FacetCount[];
  ladder: FacetCount[];
}

const RECENT_WORDS_LIMIT = 2000;
/** `IMG_2` before `IMG_10`. */
const NAMES = new Intl.Collator('en', { numeric: true });
/** Names of drives and folders are asked for by their own terms; a plain word does not look there. */
const isIn = (asked: string) => (place: string) => (asked === 'any' ? place !== 'folder' && place !== 'drive' : place === asked);

interface Posting {
  slots: number[];
  /** Numbers of place sets. */
  places: number[];
}

export class SearchIndex {
  private readonly slotById = new Map<string, number>();
  private readonly records: (SearchRecord | null)[] = [];
  private readonly postings = new Map<string, Posting>();
  private readonly placeSets = new PlaceSets();
  private sortedWords: string[] = [];
  private recentWords: string[] = [];
  private timeOrder: number[] | null = null;

  get size(): number {
    return this.slotById.size;
  }

  put(record: SearchRecord): void {
    const known = this.slotById.get(record.id);
    const slot = known ?? this.records.length;
    const before = known === undefined ? null : (this.records[known] ?? null);
    const now = this.placesByWord(record);
    if (before) {
      // an edit changes a few words of many: only those are posted anew
      const then = this.placesByWord(before);
      for (const [word, places] of then) if (now.get(word) === places) now.delete(word);
        else this.unpost(slot, word);
    }
    this.records[slot] = record;
    this.slotById.set(record.id, slot);
    for (const [word, places] of now) this.post(slot, word, places);
    if (!before || before.day !== record.day || before.second !== record.second) this.timeOrder = null;
  }

  remove(id: string): void {
    const slot = this.slotById.get(id);
    const record = slot === undefined ? null : this.records[slot];
    if (slot === undefined || !record) return;
    for (const word of this.placesByWord(record).keys()) this.unpost(slot, word);
    this.records[slot] = null;
    this.slotById.delete(id);
    this.timeOrder = null;
  }

  clear(): void {
    this.slotById.clear();
    this.records.length = 0;
    this.postings.clear();
    this.sortedWords = [];
    this.recentWords = [];
    this.timeOrder = null;
  }

  search(scope: Scope): SearchResult {
    const hits = this.hitsOf(scope);
    const slots = this.inTimeOrder().filter((slot) => hits[slot] === 1);
    return this.resultOf(slots);
  }

  count(scope: Scope): number {
    return this.hitsOf(scope).reduce((sum, hit) => sum + hit, 0);
  }

  private post(slot: number, word: string, places: number): void {
    let posting = this.postings.get(word);
    if (!posting) {
      posting = { slots: [], places: [] };
      this.postings.set(word, posting);
      this.recentWords.push(word);
    }
    const last = posting.slots.at(-1);
    if (last === undefined || last < slot) {
      posting.slots.push(slot);
      posting.places.push(places);
      return;
    }
    const at = lowerBound(posting.slots, slot);
    posting.slots.splice(at, 0, slot);
    posting.places.splice(at, 0, places);
  }

  private unpost(slot: number, word: string): void {
    const posting = this.postings.get(word);
    if (!posting) return;
    const at = lowerBound(posting.slots, slot);
    if (posting.slots[at] !== slot) return;
    posting.slots.splice(at, 1);
    posting.places.splice(at, 1);
  }

  private placesByWord(record: SearchRecord): Map<string, number> {
    const places = new Map<string, number>();
    for (const [place, text] of textsOf(record)) {
      for (const word of wordsOf(text)) places.set(word, this.placeSets.with(places.get(word), place));
    }
    return places;
  }

  private inTimeOrder(): number[] {
    this.timeOrder ??= this.records
      .flatMap((record, slot) => (record ? [{ slot, record }] : []))
      .sort(({ record: a }, { record: b }) => a.day - b.day || a.second - b.second || NAMES.compare(a.names[0] ?? '', b.names[0] ?? '') || (a.id < b.id ? -1 : 1))
      .map(({ slot }) => slot);
    return this.timeOrder;
  }

  private hitsOf(scope: Scope): Uint8Array {
    const hits = new Uint8Array(this.records.length);
    for (const [slot, record] of this.records.entries()) if (record) hits[slot] = 1;
    for (const clause of scope.clauses) {
      const any = new Uint8Array(hits.length);
      for (const condition of clause) this.mark(condition, any);
      for (let slot = 0; slot < hits.length; slot++) hits[slot] = (hits[slot] ?? 0) & (any[slot] ?? 0);
    }
    return hits;
  }

  private mark({ not, test }: Condition, into: Uint8Array): void {
    const found = test.kind === 'range' ? this.inRange(test) : this.withText(test);
    for (let slot = 0; slot < into.length; slot++) if ((found[slot] === 1) !== not) into[slot] = 1;
  }

  private inRange({ of, from, to }: Test & { kind: 'range' }): Uint8Array {
    const found = new Uint8Array(this.records.length);
    for (const [slot, record] of this.records.entries()) {
      if (!record || (of === 'taken' && record.day === 0)) continue;
      const value = of === 'rating' ? ratingOf(record) : of === 'copies' ? record.copies : record.day;
      if (value >= from && value <= to) found[slot] = 1;
    }
    return found;
  }

  private withText({ place, text, phrase }: Test & { kind: 'text' }): Uint8Array {
    const found = new Uint8Array(this.records.length).fill(1);
    const sets = this.placeSets.withAny(isIn(place));
    const words = wordsOf(text);
    if (words.length === 0) return new Uint8Array(this.records.length);
    for (const word of words) {
      const carries = this.withPrefix(word, sets);
      for (let slot = 0; slot < found.length; slot++) found[slot] = (found[slot] ?? 0) & (carries[slot] ?? 0);
    }
    if (phrase && words.length > 1) this.keepPhrases(found, words.join(' '), place);
    return found;
  }

  private withPrefix(prefix: string, sets: Uint8Array): Uint8Array {
    const found = new Uint8Array(this.records.length);
    for (const word of this.wordsWith(prefix)) {
      const posting = this.postings.get(word);
      posting?.slots.forEach((slot, index) => {
        if (sets[posting.places[index] ?? 0] === 1) found[slot] = 1;
      });
    }
    return found;
  }

  private wordsWith(prefix: string): string[] {
    if (this.recentWords.length > RECENT_WORDS_LIMIT) {
      this.sortedWords = [...this.postings.keys()].sort();
      this.recentWords = [];
    }
    const words = this.recentWords.filter((word) => word.startsWith(prefix));
    for (let at = lowerBound(this.sortedWords, prefix); this.sortedWords[at]?.startsWith(prefix); at++) words.push(this.sortedWords[at] ?? '');
    return words;
  }

  /** The last word of a phrase may be unfinished: it is being typed. */
  private keepPhrases(found: Uint8Array, phrase: string, place: string): void {
    for (const [slot, record] of this.records.entries()) {
      if (found[slot] !== 1 || !record) continue;
      const texts = textsOf(record).filter(([of]) => isIn(place)(of));
      if (!texts.some(([, text]) => ` ${wordsOf(text).join(' ')}`.includes(` ${phrase}`))) found[slot] = 0;
    }
  }

  private resultOf(slots: number[]): SearchResult {
    const result: SearchResult = {
      ids: [], days: new Int32Array(slots.length), aspects: new Float32Array(slots.length), ratings: new Int8Array(slots.length),
      all: this.size, months: new Map(), cameras: [], drives: [], ladder: [],
    };
    const cameras = new Map<string, number>();
    const drives = new Map<string, number>();
    const ladder = new Map<string, number>();
    slots.forEach((slot, index) => {
      const record = this.records[slot];
      if (!record) return;
      result.ids.push(record.id);
      result.days[index] = record.day;
      result.aspects[index] = record.aspect;
      result.ratings[index] = ratingOf(record);
      countIn(result.months, Math.floor(record.day / 100));
      if (record.camera) countIn(cameras, record.camera);
      for (const drive of record.drives) countIn(drives, drive);
      countIn(ladder, String(ratingOf(record)));
    });
    return { ...result, cameras: facets(cameras), drives: facets(drives), ladder: facets(ladder) };
  }
}

const ratingOf = (record: SearchRecord) => (typeof record.fields.rating === 'number' ? record.fields.rating : 0);

function countIn<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}

const facets = (counts: Map<string, number>): FacetCount[] =>
  [...counts].map(([value, count]) => ({ value, count })).sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1));

function textsOf(record: SearchRecord): [place: string, text: string][] {
  const texts: [string, string][] = [];
  for (const name of record.names) texts.push(['name', name]);
  for (const folder of record.folders) texts.push(['folder', folder]);
  for (const drive of record.drives) texts.push(['drive', drive]);
  if (record.camera) texts.push(['camera', record.camera]);
  for (const row of SEARCHED_FIELDS) for (const text of searchedTexts(row, record.fields[row.key])) texts.push([row.searchName, text]);
  return texts;
}

/** First index whose value is not below `value`, in a sorted list. */
function lowerBound<T extends number | string>(sorted: T[], value: T): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((sorted[middle] as T) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

