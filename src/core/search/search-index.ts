// The search index: photos as compact columns and word postings, kept in a worker. Answers a scope with the photos in the
// order asked for, their shapes and marks for the wall, and counts for the almanac and the shelves; everything by slot and in
// typed arrays, which cross to the page in a moment. A photo keeps its slot for good.

import { SEARCHED_FIELDS, searchedTexts } from '../fields/searched';
import { FIELDS } from '../fields/registry';
import { wordsIn } from '../fields/values';
import type { LatLon } from '../geo/position';
import { distanceM, inBox } from '../geo/sphere';
import { numbered } from '../names/natural';
import { type Condition, type LeftToDo, type Scope, type Test, parseScope } from '../scope/scope';
import { type FoundSet, findSets, panoramaQuestions, type Member } from '../sift/sets';
import { Columns } from './columns';
import { wordsOf } from './fold';
import { MapPhotos } from './map-photos';
import { type Placing, placingOf } from './placing';
import { FLAG, type FacetCount, type Ordered, SET_CODES, type SearchOrder, type SearchRecord, type SearchResult } from './search-record';
import { Sorter } from './sorting';
import { WordIndex, type WordPlaces } from './word-index';
import { plain } from '../vocabulary/vocabulary';
import type { Records } from './word-uses';

/** Names of drives and folders are asked for by their own terms; a plain word does not look there. */
const isIn = (asked: string) => (place: string) => (asked === 'any' ? place !== 'folder' && place !== 'drive' : place === asked);

interface SetMember extends Member {
  slot: number;
}

interface Sets {
  list: FoundSet<SetMember>[];
  /** By slot, −1 for none. */
  of: Int32Array;
}

export class SearchIndex {
  private readonly slotById = new Map<string, number>();
  private readonly records: (SearchRecord | null)[] = [];
  private readonly words = new WordIndex();
  private readonly columns = new Columns();
  private readonly sorter = new Sorter(this.columns);
  private sets: Sets | null = null;

  /** Words of the vocabulary and their synonyms, plain; a keyword that is none of them is left to do. */
  vocabularyWords: ReadonlySet<string> = new Set();

  get photos(): Records {
    return this.records;
  }

  get size(): number {
    return this.slotById.size;
  }

  /** Takes a photo in, or as it is now; returns its slot. */
  put(record: SearchRecord): number {
    const slot = this.slotById.get(record.id) ?? this.records.length;
    const before = this.records[slot] ?? null;
    this.words.change(slot, before && this.wordsOf(before), this.wordsOf(record));
    this.records[slot] = record;
    this.slotById.set(record.id, slot);
    this.columns.put(slot, record);
    if (!before || before.day !== record.day || before.second !== record.second || before.names[0] !== record.names[0]) this.sorter.forget();
    if (!before || !sameShot(before, record)) this.sets = null;
    return slot;
  }

  remove(id: string): void {
    const slot = this.slotById.get(id);
    const record = slot === undefined ? null : this.records[slot];
    if (slot === undefined || !record) return;
    this.words.change(slot, this.wordsOf(record), new Map());
    this.records[slot] = null;
    this.slotById.delete(id);
    this.sets = null;
  }

  search({ scope: text, closed, opened, stay }: SearchOrder): SearchResult {
    const scope = parseScope(text);
    const hits = this.hitsOf(scope);
    const fitting = hits.reduce((sum, hit) => sum + hit, 0);
    let staying = 0;
    for (const slot of stay ?? []) {
      if (hits[slot] !== 0 || !this.records[slot]) continue;
      hits[slot] = 1;
      staying += 1;
    }
    const before = fitting + staying;
    if (closed) this.closeSets(hits, opened);
    const slots = this.sorter.sort(slotsOf(hits), scope.sort);
    return this.resultOf(slots, scope, { fitting, staying, behind: before - slots.length });
  }

  count(scope: Scope): number {
    return this.hitsOf(scope).reduce((sum, hit) => sum + hit, 0);
  }

  /** Photos of each day of a year in the scope, by day number. */
  days(scope: Scope, year: number): Map<number, number> {
    const hits = this.hitsOf(scope);
    const days = new Map<number, number>();
    for (let slot = 0; slot < hits.length; slot++) {
      const day = this.columns.day[slot] ?? 0;
      if (hits[slot] === 1 && Math.floor(day / 10_000) === year) countIn(days, day);
    }
    return days;
  }

  /** The photos of the set this one is in, itself included, in clock order; alone where it is in none. */
  setOf(id: string): { kind: FoundSet<Member>['kind'] | null; ids: string[] } {
    const { list, of } = this.foundSets();
    const set = list[of[this.slotById.get(id) ?? -1] ?? -1];
    return set ? { kind: set.kind, ids: set.members.map((member) => member.id) } : { kind: null, ids: [id] };
  }

  /** These photos in this order. */
  ordered(ids: readonly string[]): Ordered {
    return this.orderedSlots(Uint32Array.from(ids.flatMap((id) => this.slotById.get(id) ?? [])));
  }

  private orderedSlots(slots: Uint32Array): Ordered {
    const { list, of } = this.foundSets();
    return {
      slots,
      ratings: Int8Array.from(slots, (slot) => this.columns.rating[slot] ?? 0),
      sets: Int32Array.from(slots, (slot) => of[slot] ?? -1),
      setKinds: Uint8Array.from(slots, (slot) => SET_CODES.indexOf(list[of[slot] ?? -1]?.kind ?? null)),
      setSizes: Uint16Array.from(slots, (slot) => list[of[slot] ?? -1]?.members.length ?? 0),
    };
  }

  /** Pairs of photos whose pictures must be compared, at most so many, newest first. */
  questions(limit: number): [string, string][] {
    return panoramaQuestions(this.members()).slice(-limit).reverse().map(([a, b]) => [a.id, b.id]);
  }

  private members(): SetMember[] {
    return this.records.flatMap((record, slot) => (record ? [{ id: record.id, name: record.names[0] ?? '', shot: record.shot, slot }] : []));
  }

  private foundSets(): Sets {
    if (this.sets) return this.sets;
    const of = new Int32Array(this.records.length).fill(-1);
    const list = findSets(this.members());
    list.forEach(({ members }, number) => {
      for (const { slot } of members) of[slot] = number;
    });
    return (this.sets = { list, of });
  }

  /** Of each set only the photo of the highest rung is left, the first of several. */
  private closeSets(hits: Uint8Array, opened: string[]): void {
    const { list, of } = this.foundSets();
    const open = new Set(opened.flatMap((id) => of[this.slotById.get(id) ?? -1] ?? []));
    list.forEach(({ members }, number) => {
      if (open.has(number)) return;
      const shown = members.filter(({ slot }) => hits[slot] === 1);
      const best = shown.reduce<SetMember | null>((one, other) => (!one || (this.columns.rating[other.slot] ?? 0) > (this.columns.rating[one.slot] ?? 0) ? other : one), null);
      for (const { slot } of shown) if (slot !== best?.slot) hits[slot] = 0;
    });
  }

  private wordsOf(record: SearchRecord): WordPlaces {
    const words: WordPlaces = new Map();
    for (const [place, text] of textsOf(record)) for (const word of wordsOf(text)) this.words.note(words, word, place);
    return words;
  }

  private hitsOf(scope: Scope): Uint8Array {
    const hits = Uint8Array.from(this.records, (record) => (record ? 1 : 0));
    for (const clause of scope.clauses) {
      const any = new Uint8Array(hits.length);
      for (const condition of clause) this.mark(condition, any);
      for (let slot = 0; slot < hits.length; slot++) hits[slot] = (hits[slot] ?? 0) & (any[slot] ?? 0);
    }
    return hits;
  }

  private mark({ not, test }: Condition, into: Uint8Array): void {
    const found = this.found(test);
    for (let slot = 0; slot < into.length; slot++) if ((found[slot] === 1) !== not) into[slot] = 1;
  }

  private found(test: Test): Uint8Array {
    switch (test.kind) {
      case 'range': return this.inRange(test);
      case 'accession': return this.inAccession(test.number);
      case 'text': return this.withText(test);
      case 'set-of': return this.inSetOf(numbered(test.name));
      case 'without': return this.without(test.of);
      case 'area': return this.atPosition((position) => inBox(position, test.box));
      case 'near': return this.atPosition((position) => distanceM(position, test.of) <= test.withinM);
      case 'left': return this.leftToDo(test.of);
      case 'set': {
        const { list, of } = this.foundSets();
        return Uint8Array.from(of, (number) => (number >= 0 && (test.of === 'any' || list[number]?.kind === test.of) ? 1 : 0));
      }
    }
  }

  /** With its ending, or without. */
  private inSetOf(name: string): Uint8Array {
    const { list, of } = this.foundSets();
    const found = new Uint8Array(this.records.length);
    this.records.forEach((record, slot) => {
      const set = list[of[slot] ?? -1];
      const own = this.columns.names[slot] ?? '';
      if (record && set && (own === name || own.startsWith(`${name}.`))) for (const member of set.members) found[member.slot] = 1;
    });
    return found;
  }

  private inRange({ of, from, to }: Test & { kind: 'range' }): Uint8Array {
    const { day, rating, copies } = this.columns;
    const found = new Uint8Array(this.records.length);
    for (let slot = 0; slot < found.length; slot++) {
      const taken = day[slot] ?? 0;
      if (taken === 0 && (of === 'taken' || of === 'month')) continue;
      const value = of === 'rating' ? (rating[slot] ?? 0) : of === 'copies' ? (copies[slot] ?? 0) : of === 'month' ? Math.floor(taken / 100) % 100 : taken;
      if (value >= from && value <= to) found[slot] = 1;
    }
    return found;
  }

  private inAccession(asked: string): Uint8Array {
    const below = `${asked}.`;
    return Uint8Array.from(this.records, (_, slot) => {
      const number = this.columns.accessions[slot] ?? '';
      return number === asked || number.startsWith(below) ? 1 : 0;
    });
  }

  private without(of: string): Uint8Array {
    if (of === 'place') return this.flagged(FLAG.unplaced);
    if (of === 'date') return Uint8Array.from(this.records, (record, slot) => (record && this.columns.day[slot] === 0 ? 1 : 0));
    const key = FIELDS.find(({ searchName }) => searchName.toLowerCase() === of)?.key;
    return Uint8Array.from(this.records, (record) => (record && key && record.fields[key] === undefined ? 1 : 0));
  }

  private leftToDo(of: LeftToDo): Uint8Array {
    if (of === 'blanks') return this.flagged(FLAG.blank);
    if (of === 'codes') return this.flagged(FLAG.wrongCode);
    const unknown = new Map<string, boolean>();
    const isUnknown = (word: string): boolean => {
      const before = unknown.get(word) ?? !this.vocabularyWords.has(plain(word));
      unknown.set(word, before);
      return before;
    };
    return Uint8Array.from(this.records, (record) => (record && wordsIn(record.fields.keywords).some(isUnknown) ? 1 : 0));
  }

  private atPosition(fits: (position: LatLon) => boolean): Uint8Array {
    const { lat, lon } = this.columns;
    return Uint8Array.from(this.records, (record, slot) => {
      const position = { lat: lat[slot] ?? NaN, lon: lon[slot] ?? NaN };
      return record && !Number.isNaN(position.lat) && fits(position) ? 1 : 0;
    });
  }

  /** What Locate needs of the photos of a scope, in the order taken. */
  placing(scope: string): Placing {
    const parsed = parseScope(scope);
    return placingOf(this.sorter.sort(slotsOf(this.hitsOf(parsed)), { by: 'taken', reversed: false }), this.records, this.columns);
  }

  /** The placed photos of a scope, gathered for a map. */
  mapOf(scope: string): MapPhotos {
    return new MapPhotos(slotsOf(this.hitsOf(parseScope(scope))), this.records, this.columns);
  }

  private flagged(flag: number): Uint8Array {
    return Uint8Array.from(this.records, (record, slot) => (record && ((this.columns.flags[slot] ?? 0) & flag) !== 0 ? 1 : 0));
  }

  private withText({ place, text, phrase }: Test & { kind: 'text' }): Uint8Array {
    const found = new Uint8Array(this.records.length).fill(1);
    const words = wordsOf(text);
    if (words.length === 0) return new Uint8Array(this.records.length);
    for (const word of words) {
      const carries = this.words.withPrefix(word, found.length, isIn(place));
      for (let slot = 0; slot < found.length; slot++) found[slot] = (found[slot] ?? 0) & (carries[slot] ?? 0);
    }
    if (phrase && words.length > 1) this.keepPhrases(found, words.join(' '), place);
    return found;
  }

  /** The last word of a phrase may be unfinished: it is being typed. */
  private keepPhrases(found: Uint8Array, phrase: string, place: string): void {
    for (const [slot, record] of this.records.entries()) {
      if (found[slot] !== 1 || !record) continue;
      const texts = textsOf(record).filter(([of]) => isIn(place)(of));
      if (!texts.some(([, text]) => ` ${wordsOf(text).join(' ')}`.includes(` ${phrase}`))) found[slot] = 0;
    }
  }

  private resultOf(slots: Uint32Array, scope: Scope, sums: Pick<SearchResult, 'fitting' | 'staying' | 'behind'>): SearchResult {
    const { columns } = this;
    const months = new Map<number, number>();
    const cameras = new Map<number, number>();
    const markers = new Map<number, number>();
    const ladder = new Map<number, number>();
    const onDrives = new Map<number, number>();
    for (const slot of slots) {
      countIn(months, Math.floor((columns.day[slot] ?? 0) / 100));
      countIn(cameras, columns.camera[slot] ?? 0);
      countIn(markers, columns.marker[slot] ?? 0);
      countIn(ladder, columns.rating[slot] ?? 0);
      countIn(onDrives, columns.drives[slot] ?? 0);
    }
    const drives = new Map<string, number>();
    for (const [number, photos] of onDrives) for (const drive of columns.drivesOf(number)) drives.set(drive, (drives.get(drive) ?? 0) + photos);
    return {
      ...this.orderedSlots(slots), ...sums, all: this.size, months,
      heads: this.sorter.headsOf(slots, scope.sort.by),
      days: Int32Array.from(slots, (slot) => columns.day[slot] ?? 0),
      aspects: Float32Array.from(slots, (slot) => columns.aspect[slot] ?? 0),
      copies: Uint8Array.from(slots, (slot) => columns.copies[slot] ?? 0),
      flags: Uint8Array.from(slots, (slot) => columns.flags[slot] ?? 0),
      onDrives: Uint16Array.from(slots, (slot) => columns.drives[slot] ?? 0),
      driveSets: columns.driveWords.words.map((_, number) => columns.drivesOf(number)),
      onMarkers: Uint16Array.from(slots, (slot) => columns.marker[slot] ?? 0),
      labels: columns.markerWords.words,
      cameras: facets(cameras, columns.cameraWords.words),
      markers: facets(markers, columns.markerWords.words),
      drives: sortedFacets([...drives].map(([value, count]) => ({ value, count }))),
      ladder: sortedFacets([...ladder].map(([rung, count]) => ({ value: String(rung), count }))),
    };
  }
}

function slotsOf(hits: Uint8Array): Uint32Array {
  const slots = new Uint32Array(hits.reduce((sum, hit) => sum + hit, 0));
  let at = 0;
  for (let slot = 0; slot < hits.length; slot++) if (hits[slot] === 1) slots[at++] = slot;
  return slots;
}

const sameShot = (a: SearchRecord, b: SearchRecord): boolean => a.names[0] === b.names[0] && JSON.stringify(a.shot) === JSON.stringify(b.shot);

function countIn<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}

/** The empty word is no value. */
const facets = (counts: Map<number, number>, words: readonly string[]): FacetCount[] =>
  sortedFacets([...counts].filter(([number]) => number !== 0).map(([number, count]) => ({ value: words[number] ?? '', count })));

const sortedFacets = (facets: FacetCount[]): FacetCount[] => facets.sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1));

function textsOf(record: SearchRecord): [place: string, text: string][] {
  const texts: [string, string][] = [];
  for (const name of record.names) texts.push(['name', name]);
  for (const folder of record.folders) texts.push(['folder', folder]);
  for (const drive of record.drives) texts.push(['drive', drive]);
  if (record.camera) texts.push(['camera', record.camera]);
  for (const row of SEARCHED_FIELDS) for (const text of searchedTexts(row, record.fields[row.key])) texts.push([row.searchName, text]);
  return texts;
}
