import type { SearchRecord, SearchResult } from '@/core/search/search-index';
import { WorkerCaller } from './caller';

export interface SearchClient {
  put(records: SearchRecord[], gone: string[]): Promise<number>;
  search(scope: string): Promise<SearchResult>;
  count(scopes: string[]): Promise<number[]>;
}

/** @param onLost hears when the worker died: the index is then empty and must be filled again. */
export function workerSearch(onLost: () => void): SearchClient {
  const caller = new WorkerCaller(() => new Worker(new URL('./search.worker.ts', import.meta.url), { type: 'module' }), onLost);
  return {
    put: (records, gone) => caller.call('put', { records, gone }),
    search: (scope) => caller.call('search', { scope }),
    count: (scopes) => caller.call('count', { scopes }),
  };
}
