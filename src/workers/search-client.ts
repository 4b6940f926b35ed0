import { PhotoOrder } from '@/core/search/photo-order';
import type { Box } from '@/core/geo/sphere';
import type { Placing } from '@/core/search/placing';
import type { Ordered, SearchOrder, SearchRecord, SearchResult } from '@/core/search/search-record';
import type { Suggestion } from '@/core/search/word-uses';
import type { UsedWord } from '@/core/vocabulary/alike';
import type { SetKind } from '@/core/sift/sets';
import { WorkerCaller } from './caller';
import type { HeapsInView } from './protocol';

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
  put(records: SearchRecord[], gone: string[]): Promise<number>;
  search(order: SearchOrder): Promise<SearchAnswer>;
  count(scopes: string[]): Promise<number[]>;
  /** Photos of each day of the year in the scope. */
  days(scope: string, year: number): Promise<Map<number, number>>;
  setsOf(ids: string[]): Promise<PhotoSet[]>;
  /** Photos in an order of one's own. */
  ordered(ids: string[]): Promise<OrderedPhotos>;
  /** Pairs of photos whose pictures should be compared. */
  questions(limit: number): Promise<[string, string][]>;
  /** What the vocabulary holds, in plain form; for telling keywords that are not in it. */
  knowWords(words: string[]): Promise<void>;
  keywordCounts(): Promise<UsedWord[]>;
  /** The photos that carry any of these words. */
  carriers(words: string[]): Promise<string[]>;
  suggest(ids: string[], limit: number): Promise<Suggestion[]>;
  /** People shown around this photo, the likeliest first. */
  peopleNear(id: string, limit: number): Promise<string[]>;
  /** What Locate needs of the photos of a scope, in the order taken. */
  placing(scope: string): Promise<Placing>;
  /** The placed photos of a scope in a view of the map. */
  heaps(scope: string, box: Box, zoom: number): Promise<HeapsInView>;
  /** Words of all texts, as written. */
  textWords(): Promise<UsedWord[]>;
}

/** @param onLost hears when the worker died: the index is then empty and must be filled again. */
export function workerSearch(onLost: () => void): SearchClient {
  let ids: string[] = [];
  let slotOf = new Map<string, number>();
  const caller = new WorkerCaller(
    () => new Worker(new URL('./search.worker.ts', import.meta.url), { type: 'module' }),
    () => {
      ids = [];
      slotOf = new Map();
      onLost();
    },
  );
  return {
    put: async (records, gone) => {
      const { slots, size } = await caller.call('put', { records, gone });
      for (const id of gone) slotOf.delete(id);
      records.forEach(({ id }, index) => {
        const slot = slots[index] ?? 0;
        ids[slot] = id;
        slotOf.set(id, slot);
      });
      return size;
    },
    search: async (order) => {
      const { slots, ...answer } = await caller.call('search', order);
      return { ...answer, order: new PhotoOrder(slots, ids, slotOf) };
    },
    count: (scopes) => caller.call('count', { scopes }),
    days: (scope, year) => caller.call('days', { scope, year }),
    setsOf: (of) => caller.call('setsOf', { ids: of }),
    ordered: async (of) => {
      const { slots, ...answer } = await caller.call('ordered', { ids: of });
      return { ...answer, order: new PhotoOrder(slots, ids, slotOf) };
    },
    questions: (limit) => caller.call('questions', { limit }),
    knowWords: async (words) => void (await caller.call('knowWords', { words })),
    keywordCounts: () => caller.call('keywordCounts', {}),
    carriers: (words) => caller.call('carriers', { words }),
    suggest: (of, limit) => caller.call('suggest', { ids: of, limit }),
    peopleNear: (id, limit) => caller.call('peopleNear', { id, limit }),
    placing: (scope) => caller.call('placing', { scope }),
    heaps: (scope, box, zoom) => caller.call('heaps', { scope, box, zoom }),
    textWords: () => caller.call('textWords', {}),
  };
}
