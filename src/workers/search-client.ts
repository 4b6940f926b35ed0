import type { AlikeGroups } from '@/core/search/alike-groups';
import type { KeptCollection } from '@/core/search/collections';
import type { Completion } from '@/core/search/complete';
import type { Explained } from '@/core/search/explain';
import type { DriveLoss, DriveYears } from '@/core/search/drive-years';
import type { Keeping } from '@/core/fixity/keeping';
import type { Habits } from '@/core/search/habits';
import type { YearTallies } from '@/core/search/year-tallies';
import type { FolderCount } from '@/core/search/folder-tree';
import type { FacetCounts, FacetName } from '@/core/search/facets';
import { Strings } from '@/core/search/strings';
import type { KnownWord } from '@/core/search/vocabulary-words';
import { PhotoOrder } from '@/core/search/photo-order';
import type { Box } from '@/core/geo/sphere';
import type { Placing } from '@/core/search/placing';
import type { Ordered, SearchOrder, SearchRecord, SearchResult } from '@/core/search/search-record';
import type { Suggestion } from '@/core/search/word-uses';
import type { UsedWord } from '@/core/vocabulary/alike';
import type { SetKind } from '@/core/sift/sets';
import { WorkerCaller } from './caller';
import type { ClustersInView } from './protocol';

/** The answer to a scope, with the photos by their order. */
export interface SearchAnswer extends Omit<SearchResult, 'slots'> {
  order: PhotoOrder;
}

export interface OrderedPhotos extends Omit<Ordered, 'slots'> {
  order: PhotoOrder;
}

export interface PhotoSet {
  kind: SetKind | null;
  ids: string[];
}

export interface SearchClient {
  /**
   * Takes the index as it was kept under a name, of this very catalog; `null` where there is none, and it must be
   * filled.
   */
  open(name: string, catalog: string): Promise<{ size: number; upTo: number } | null>;
  /** Keeps the index for the next start. */
  keep(name: string, catalog: string, upTo: number): Promise<number>;
  put(records: SearchRecord[], gone: string[]): Promise<number>;
  /** Ends the worker, and the index with it; it is to be filled anew. */
  restart(): void;
  search(order: SearchOrder): Promise<SearchAnswer>;
  count(scopes: string[]): Promise<number[]>;
  folders(open: string[]): Promise<Record<string, FolderCount[]>>;
  driveYears(verifiedWithinDays: number): Promise<DriveYears>;
  driveLoss(driveId: string, keeping: Keeping): Promise<DriveLoss>;
  years(scope: string, by: FacetName | null, limit: number): Promise<YearTallies>;
  habits(scope: string): Promise<Habits>;
  facets(scope: string, names: readonly FacetName[], limit: number): Promise<FacetCounts>;
  explain(scope: string): Promise<Explained>;
  complete(text: string, cursor: number, limit: number): Promise<Completion[]>;
  alike(scope: string, bits: number): Promise<AlikeGroups>;
  /** Photos of each day of the year in the scope. */
  days(scope: string, year: number): Promise<Map<number, number>>;
  setsOf(ids: string[]): Promise<PhotoSet[]>;
  /** Photos in an order of one's own. */
  ordered(ids: string[]): Promise<OrderedPhotos>;
  /** Pairs of photos whose pictures should be compared. */
  questions(limit: number): Promise<[string, string][]>;
  /**
   * What the vocabulary holds: for finding by synonyms and by words above, and for telling keywords that are not in it.
   */
  knowWords(words: KnownWord[]): Promise<void>;
  knowCollections(collections: KeptCollection[]): Promise<void>;
  keywordCounts(): Promise<UsedWord[]>;
  /** The photos that carry any of these words. */
  carriers(words: string[]): Promise<string[]>;
  suggest(ids: string[], limit: number): Promise<Suggestion[]>;
  /** People shown around this photo, the likeliest first. */
  peopleNear(id: string, limit: number): Promise<string[]>;
  /** What Locate needs of the photos of a scope, in the order taken. */
  placing(scope: string): Promise<Placing>;
  /** The placed photos of a scope in a view of the map. */
  clusters(scope: string, box: Box, zoom: number): Promise<ClustersInView>;
  /** Words of all texts, as written. */
  textWords(): Promise<UsedWord[]>;
}

/** @param onLost hears when the worker died: the index is then empty and must be filled again. */
export function workerSearch(onLost: () => void): SearchClient {
  let ids = new Strings();
  const caller = new WorkerCaller(
    () => new Worker(new URL('./search.worker.ts', import.meta.url), { type: 'module' }),
    () => {
      ids = new Strings();
      onLost();
    },
  );
  return {
    restart: () => caller.restart(),
    open: async (name, catalog) => {
      const opened = await caller.call('openIndex', { name, catalog });
      if (!opened) return null;
      ids = Strings.fromParts(opened.ids);
      return opened;
    },
    keep: (name, catalog, upTo) => caller.call('keepIndex', { name, catalog, upTo }),
    put: async (records, gone) => {
      const { slots, size } = await caller.call('put', { records, gone });
      // both sides number photos as they come
      records.forEach(({ id }, at) => {
        if (ids.number(id) !== slots[at]) throw new Error(`photo ${id} has another slot here`);
      });
      return size;
    },
    search: async (order) => {
      const { slots, ...answer } = await caller.call('search', order);
      return { ...answer, order: new PhotoOrder(slots, ids) };
    },
    count: (scopes) => caller.call('count', { scopes }),
    folders: (open) => caller.call('folders', { open }),
    driveYears: (verifiedWithinDays) => caller.call('driveYears', { verifiedWithinDays }),
    driveLoss: (driveId, keeping) => caller.call('driveLoss', { driveId, keeping }),
    years: (scope, by, limit) => caller.call('years', { scope, by, limit }),
    habits: (scope) => caller.call('habits', { scope }),
    facets: (scope, names, limit) => caller.call('facets', { scope, names, limit }),
    explain: (scope) => caller.call('explain', { scope }),
    complete: (text, cursor, limit) => caller.call('complete', { text, cursor, limit }),
    alike: (scope, bits) => caller.call('alike', { scope, bits }),
    days: (scope, year) => caller.call('days', { scope, year }),
    setsOf: (of) => caller.call('setsOf', { ids: of }),
    ordered: async (of) => {
      const { slots, ...answer } = await caller.call('ordered', { ids: of });
      return { ...answer, order: new PhotoOrder(slots, ids) };
    },
    questions: (limit) => caller.call('questions', { limit }),
    knowWords: async (words) => void (await caller.call('knowWords', { words })),
    knowCollections: async (collections) => void (await caller.call('knowCollections', { collections })),
    keywordCounts: () => caller.call('keywordCounts', {}),
    carriers: (words) => caller.call('carriers', { words }),
    suggest: (of, limit) => caller.call('suggest', { ids: of, limit }),
    peopleNear: (id, limit) => caller.call('peopleNear', { id, limit }),
    placing: (scope) => caller.call('placing', { scope }),
    clusters: (scope, box, zoom) => caller.call('clusters', { scope, box, zoom }),
    textWords: () => caller.call('textWords', {}),
  };
}
