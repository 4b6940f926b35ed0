import { parseScope } from '@/core/scope/scope';
import { SearchIndex } from '@/core/search/search-index';
import { carriersOf, countKeywords, peopleNear, suggestWords, textWords } from '@/core/search/word-uses';
import { serve } from './serve';

const index = new SearchIndex();

serve<'search' | 'count' | 'days' | 'setsOf' | 'ordered' | 'questions' | 'put' | 'knowWords' | 'keywordCounts' | 'carriers' | 'suggest' | 'textWords' | 'peopleNear'>(self, {
  search: async (order) => index.search(order),
  count: async ({ scopes }) => scopes.map((scope) => index.count(parseScope(scope))),
  days: async ({ scope, year }) => index.days(parseScope(scope), year),
  setsOf: async ({ ids }) => ids.map((id) => index.setOf(id)),
  ordered: async ({ ids }) => index.ordered(ids),
  questions: async ({ limit }) => index.questions(limit),
  knowWords: async ({ words }) => {
    index.vocabularyWords = new Set(words);
    return null;
  },
  keywordCounts: async () => countKeywords(index.photos),
  carriers: async ({ words }) => carriersOf(index.photos, words),
  suggest: async ({ ids, limit }) => suggestWords(index.photos, ids, limit),
  peopleNear: async ({ id, limit }) => peopleNear(index.photos, id, limit),
  textWords: async () => textWords(index.photos),
  put: async ({ records, gone }) => {
    for (const id of gone) index.remove(id);
    return { slots: Uint32Array.from(records, (record) => index.put(record)), size: index.size };
  },
});
