import { parseScope } from '@/core/scope/scope';
import { SearchIndex } from '@/core/search/search-index';
import { serve } from './serve';

const index = new SearchIndex();

serve<'search' | 'count' | 'put'>(self, {
  search: async ({ scope }) => index.search(parseScope(scope)),
  count: async ({ scopes }) => scopes.map((scope) => index.count(parseScope(scope))),
  put: async ({ records, gone }) => {
    for (const id of gone) index.remove(id);
    for (const record of records) index.put(record);
    return index.size;
  },
});
