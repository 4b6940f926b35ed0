// The search index: everything that is known of the photos in compact columns and word postings, kept in a worker.
// Answers a scope with the photos in the order asked for, their shapes and marks for the wall, and counts for the
// almanac and the shelves; everything by slot and in typed arrays, which cross to the page in a moment. A photo keeps
// its slot for good.

import { FIELDS, type FieldRow } from '../fields/registry';
import { SEARCHED_FIELDS, searchedTexts } from '../fields/searched';
import type { FieldValue } from '../fields/shape';
import type { Keeping } from '../fixity/keeping';
import { type Scope, collectionsIn, queryOf } from '../query/query';
import { parseScope } from '../query/parse-scope';
import type { SetKind } from '../sift/sets';
import { type Bits, clearBit, countBits, hasBit, setBit, slotsIn } from './bit-set';
import { type AlikeGroups, alikeGroups } from './alike-groups';
import { type KeptCollection, Collections } from './collections';
import { type Completion, complete } from './complete';
import { evaluate } from './evaluate';
import type { SearchContext } from './search-context';
import { listedWord } from './text-bits';
import { type FacetCounts, type FacetName, FACETS, countFacet } from './facets';
import { isOnlyOf } from '../query/facet-terms';
import { type Habits, habitsOf } from './habits';
import { type YearTallies, yearTallies } from './year-tallies';
import { type DriveLoss, type DriveYears, driveLoss, driveYears } from './drive-years';
import { FolderTree } from './folder-tree';
import { Columns, LISTS, type SingleText } from './columns';
import { wordsOf } from '../text/fold';
import { MapPhotos } from './map-photos';
import { PhotoSets, type Sets } from './photo-sets';
import { FieldMasks } from './field-masks';
import { type Placing, placingOf } from './placing';
import { Postings } from './postings';
import { columnsOf, daysOfYear, monthsOf, orderedResult } from './results';
import { type Ordered, type SearchOrder, type SearchRecord, type SearchResult } from './search-record';
import { Sections } from './sections';
import { Sorter } from './sorting';
import { type KnownWord, VocabularyWords } from './vocabulary-words';

/** Texts up to this length are kept with their words, so many of them. */
const CACHED_LENGTH = 40;
const WORDS_CACHED = 20_000;

/**
 * Raised with every change of what the columns or postings hold. With another table of fields an index is of another
 * version too.
 */
const CONTENT_VERSION = 8;
const INDEX_VERSION = [
  ...FIELDS.map(({ key, searchName, value, form }) => `${key} ${searchName} ${value} ${form}`).join(),
].reduce((sum, sign) => (Math.imul(sum, 31) + sign.charCodeAt(0)) >>> 0, CONTENT_VERSION);

interface Meta {
  places: readonly (readonly string[])[];
  overlaps: Columns['overlapEntries'];
  catalog: string;
  upTo: number;
}

/** For each word the number of the set of places it stands in. */
type WordPlaces = Map<string, number>;

export class SearchIndex implements SearchContext {
  columns = new Columns();
  words = new Postings();
  listed = new Postings();
  places = new FieldMasks();
  vocabulary = new VocabularyWords([]);
  readonly cache = new Map<string, Bits>();
  today = 0;
  nowMs = 0;
  /** Which catalog it is of, and the last change of it that it knows of; for whoever keeps it. */
  catalog = '';
  upTo = 0;
  private collections = new Collections([]);
  private sorter = new Sorter(this.columns);
  private photoSets = new PhotoSets(this.columns);
  private folderTree: FolderTree | null = null;
  private readonly wordCache = new Map<string, readonly string[]>();

  get size(): number {
    return this.columns.liveCount;
  }

  /** Bytes of texts as they are written, among all the index holds. */
  get textBytes(): number {
    return this.columns.textBytes;
  }

  /** Takes a photo in, or as it is now; returns its slot. */
  put(record: SearchRecord): number {
    const known = this.columns.slotOf(record.id);
    const before = known < 0 ? null : this.wordsKept(known);
    const listedBefore = known < 0 ? [] : this.listedOf(known);
    const { slot, order, sets } = this.columns.put(record);
    this.post(
      slot,
      before,
      this.wordsOf(record, (row) => record.fields[row.key]),
    );
    this.postListed(slot, listedBefore, this.listedOf(slot));
    if (order) this.sorter.forget(slot);
    if (sets) this.photoSets.forget(slot);
    this.forget();
    return slot;
  }

  remove(id: string): void {
    const slot = this.columns.slotOf(id);
    if (slot < 0) return;
    this.post(slot, this.wordsKept(slot), new Map());
    this.postListed(slot, this.listedOf(slot), []);
    this.columns.remove(slot);
    this.photoSets.forget(slot);
    this.forget();
  }

  /** What was found before may be others now. */
  private forget(): void {
    this.cache.clear();
    this.folderTree = null;
    this.collections.forget();
  }

  /** Makes finding as quick as it can be; after many photos were taken in. */
  settle(): void {
    this.words.settle();
    this.listed.settle();
  }

  /** How the photos of each year stand on each drive, by a rule. */
  driveYears(verifiedWithinDays: number): DriveYears {
    return driveYears(this.columns, this.nowMs, verifiedWithinDays);
  }

  /** What would be lost with a drive. */
  driveLoss(driveId: string, keeping: Keeping): DriveLoss {
    return driveLoss(this.columns, driveId, keeping, this.nowMs);
  }

  /** The photos of each year in a scope, divided by a facet. */
  years(text: string, by: FacetName | null, limit: number): YearTallies {
    return yearTallies(slotsIn(this.hitsOf(parseScope(text))), by, limit, this);
  }

  habits(text: string): Habits {
    return habitsOf(slotsIn(this.hitsOf(parseScope(text))), this);
  }

  knowWords(words: readonly KnownWord[]): void {
    this.vocabulary = new VocabularyWords(words);
    this.forget();
  }

  knowCollections(kept: readonly KeptCollection[]): void {
    this.collections = new Collections(kept);
  }

  /**
   * Day number of today, and now in milliseconds since 1970, UTC. On another day, what is told from today is found
   * anew.
   */
  knowTime(today: number, nowMs: number): void {
    if (today !== this.today) this.collections.forget();
    Object.assign(this, { today, nowMs });
  }

  collection(name: string): Bits | null {
    return this.collections.bitsOf(name, this.columns, (text) => evaluate(queryOf(parseScope(text)), this));
  }

  search({ scope: text, closed, opened, stay }: SearchOrder): SearchResult {
    const scope = parseScope(text);
    const hits = this.hitsOf(scope);
    const fitting = countBits(hits);
    const months = monthsOf(slotsIn(this.hitsWithout(scope, 'taken', hits)), this.columns);
    let staying = 0;
    for (const slot of stay ?? []) {
      if (hasBit(hits, slot) || !this.columns.isLive(slot)) continue;
      setBit(hits, slot);
      staying += 1;
    }
    if (closed) this.closeSets(hits, opened);
    const slots = this.sorter.sorted(
      hits,
      scope.sort,
      Infinity,
      scope.sort.by === 'hand' ? this.handOrder(scope) : null,
    );
    return {
      ...orderedResult(slots, this.sets(), this.columns),
      ...columnsOf(slots, this),
      heads: this.sorter.headsOf(slots, scope.sort.by),
      months,
      fitting,
      staying,
      behind: fitting + staying - slots.length,
      all: this.size,
    };
  }

  /** Places in the first collection by hand that the scope names. */
  private handOrder(scope: Scope): ReadonlyMap<number, number> | null {
    const [named] = collectionsIn(scope);
    return named === undefined ? null : this.collections.orderOf(named, this.columns);
  }

  hitsOf(scope: Pick<Scope, 'items'>): Bits {
    return evaluate(queryOf(scope), this);
  }

  count(text: string): number {
    return countBits(this.hitsOf(parseScope(text)));
  }

  /**
   * The values of these facets with the photos of each; a facet is counted without regard to what the scope says of it.
   */
  facets(text: string, names: readonly FacetName[], limit: number): FacetCounts {
    const scope = parseScope(text);
    const hits = this.hitsOf(scope);
    const all = slotsIn(hits);
    return Object.fromEntries(
      names.map((name) => {
        const others = this.hitsWithout(scope, FACETS[name].key, hits);
        return [name, countFacet(name, others === hits ? all : slotsIn(others), this, limit)];
      }),
    );
  }

  /** Made when it is asked for, and kept until a photo changes. */
  get folders(): FolderTree {
    return (this.folderTree ??= new FolderTree(this.columns, this.columns.live));
  }

  /** What the scope finds without its conditions that are about this key alone; `hits` where it has none of them. */
  private hitsWithout({ items }: Scope, key: string, hits: Bits): Bits {
    const others = items.filter(({ query }) => !isOnlyOf(query, key));
    return others.length === items.length ? hits : this.hitsOf({ items: others });
  }

  /** Count, facets of what was found and the first ids: everything a screen of results asks for. */
  answer(
    text: string,
    names: readonly FacetName[],
    limit: number,
  ): { count: number; facets: FacetCounts; ids: string[] } {
    const scope = parseScope(text);
    const hits = this.hitsOf(scope);
    const slots = slotsIn(hits);
    const facets = Object.fromEntries(names.map((name) => [name, countFacet(name, slots, this, 20)]));
    return {
      count: slots.length,
      facets,
      ids: Array.from(this.sorter.sorted(hits, scope.sort, limit), (slot) => this.columns.ids.text(slot)),
    };
  }

  complete(text: string, cursor: number, limit: number): Completion[] {
    return complete(text, cursor, limit, this);
  }

  /** Groups of photos of a scope that look alike within so many bits, or have the same picture. */
  alike(text: string, bits: number): AlikeGroups {
    return alikeGroups(
      this.sorter.sorted(this.hitsOf(parseScope(text)), { by: 'taken', reversed: false }),
      bits,
      this.columns,
    );
  }

  /** Which collections a scope may name. */
  get collectionNames(): readonly string[] {
    return this.collections.names;
  }

  /** Photos of each day of a year in the scope, by day number. */
  days(text: string, year: number): Map<number, number> {
    return daysOfYear(slotsIn(this.hitsOf(parseScope(text))), year, this.columns);
  }

  /** The photos of the set this one is in, itself included, in clock order; alone where it is in none. */
  setOf(id: string): { kind: SetKind | null; ids: string[] } {
    const { list, of } = this.sets();
    const set = list[of[this.columns.slotOf(id)] ?? -1];
    return set
      ? { kind: set.kind, ids: set.slots.map((slot) => this.columns.ids.text(slot)) }
      : { kind: null, ids: [id] };
  }

  /** These photos in this order. */
  ordered(ids: readonly string[]): Ordered {
    return orderedResult(
      Uint32Array.from(ids.map((id) => this.columns.slotOf(id)).filter((slot) => slot >= 0)),
      this.sets(),
      this.columns,
    );
  }

  /** Pairs of photos whose pictures must be compared, at most so many, the last found first. */
  questions(limit: number): [string, string][] {
    return this.photoSets.asked(limit).map(([a, b]) => [this.columns.ids.text(a), this.columns.ids.text(b)]);
  }

  sets(): Sets {
    return this.photoSets.found;
  }

  /** Of each set only the photo of the highest rung is left, the first of several. */
  private closeSets(hits: Bits, opened: string[]): void {
    const { list, of } = this.sets();
    const rating = this.columns.column('rating');
    const open = new Set(opened.flatMap((id) => of[this.columns.slotOf(id)] ?? []));
    list.forEach(({ slots }, number) => {
      if (open.has(number)) return;
      const shown = slots.filter((slot) => hasBit(hits, slot));
      const best = shown.reduce(
        (one, other) => (one < 0 || (rating[other] ?? 0) > (rating[one] ?? 0) ? other : one),
        -1,
      );
      for (const slot of shown) if (slot !== best) clearBit(hits, slot);
    });
  }

  /** Each word of a photo with the places it stands in. */
  private wordsOf(texts: Texts, valueOfField: (row: FieldRow) => FieldValue | undefined): WordPlaces {
    const words: WordPlaces = new Map();
    const note = (place: string, text: string) => {
      for (const word of this.tokens(text)) words.set(word, this.places.with(words.get(word), place));
    };
    for (const name of texts.names) note('name', name);
    for (const folder of texts.folders) note('folder', folder);
    for (const drive of texts.drives) note('drive', drive);
    for (const drive of texts.onlyOn) note('only', drive);
    note('camera', texts.camera);
    note('lens', texts.lens);
    note('format', texts.format);
    note('profile', texts.profile);
    for (const row of SEARCHED_FIELDS) {
      const value = valueOfField(row);
      if (value !== undefined) for (const text of searchedTexts(row, value)) note(row.searchName, text);
    }
    return words;
  }

  /** The same of what the columns hold. */
  private wordsKept(slot: number): WordPlaces {
    const { columns } = this;
    const single = (name: SingleText) => columns.textColumn(name).text(slot);
    return this.wordsOf(
      {
        names: columns.strings('names', slot),
        folders: columns.strings('folders', slot),
        drives: columns.strings('drives', slot),
        onlyOn: columns.strings('onlyOn', slot),
        camera: single('camera'),
        lens: single('lens'),
        format: single('format'),
        profile: single('profile'),
      },
      (row) => columns.field(row.key, slot),
    );
  }

  /** Words of short texts, which repeat, are kept. */
  private tokens(text: string): readonly string[] {
    if (text.length > CACHED_LENGTH) return wordsOf(text);
    const cached = this.wordCache.get(text);
    if (cached) return cached;
    const words = wordsOf(text);
    if (this.wordCache.size >= WORDS_CACHED) this.wordCache.clear();
    this.wordCache.set(text, words);
    return words;
  }

  /** An edit changes a few words of many: only those are posted anew. */
  private post(slot: number, before: WordPlaces | null, after: WordPlaces): void {
    for (const word of before?.keys() ?? []) if (!after.has(word)) this.words.take(word, slot);
    for (const [word, places] of after) if (before?.get(word) !== places) this.words.put(word, slot, places);
  }

  private listedOf(slot: number): string[] {
    return LISTS.flatMap((list) =>
      this.columns
        .list(list)
        .texts(slot)
        .map((word) => listedWord(list, word)),
    );
  }

  private postListed(slot: number, before: readonly string[], after: readonly string[]): void {
    for (const word of before) if (!after.includes(word)) this.listed.take(word, slot);
    for (const word of after) if (!before.includes(word)) this.listed.put(word, slot, 0);
  }

  /** What Locate needs of the photos of a scope, in the order taken. */
  placing(text: string): Placing {
    return placingOf(this.sorter.sorted(this.hitsOf(parseScope(text)), { by: 'taken', reversed: false }), this.columns);
  }

  /** The placed photos of a scope, gathered for a map. */
  mapOf(text: string): MapPhotos {
    return new MapPhotos(slotsIn(this.hitsOf(parseScope(text))), this.columns);
  }

  /** All that is kept, as it is now; what changes later is not in it. */
  snapshot(): { toBytes: () => Uint8Array<ArrayBuffer> } {
    this.settle();
    const sections = new Sections();
    this.columns.save(sections);
    this.words.save(sections, 'words');
    this.listed.save(sections, 'listed');
    sections.put('order', this.sorter.timeOrder.slice());
    this.photoSets.save(sections);
    sections.meta = {
      places: [...this.places.all],
      overlaps: this.columns.overlapEntries,
      catalog: this.catalog,
      upTo: this.upTo,
    } satisfies Meta;
    return { toBytes: () => sections.toBytes(INDEX_VERSION) };
  }

  toBytes(): Uint8Array<ArrayBuffer> {
    return this.snapshot().toBytes();
  }

  /** `null` for bytes that are no whole index of this version. The index goes on living in them. */
  static fromBytes(bytes: Uint8Array<ArrayBuffer>): SearchIndex | null {
    const sections = Sections.fromBytes(bytes, INDEX_VERSION);
    if (!sections) return null;
    const { places, overlaps, catalog, upTo } = sections.meta as Meta;
    const index = new SearchIndex();
    Object.assign(index, { catalog, upTo });
    index.columns = Columns.open(sections, overlaps);
    index.words = Postings.open(sections, 'words');
    index.listed = Postings.open(sections, 'listed');
    index.places = FieldMasks.from(places);
    index.sorter = new Sorter(index.columns, sections.get('order', Uint32Array));
    index.photoSets = PhotoSets.open(sections, index.columns);
    return index;
  }
}

type Texts = Pick<SearchRecord, 'names' | 'folders' | 'drives' | 'onlyOn' | SingleText>;
