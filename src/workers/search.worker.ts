import { parseScope } from '@/core/scope/scope';
import type { MapPhotos } from '@/core/search/map-photos';
import { SearchIndex } from '@/core/search/search-index';
import { carriersOf, countKeywords, peopleNear, suggestWords, textWords } from '@/core/search/word-uses';
import { serve } from './serve';

const index = new SearchIndex();

/** The map that is looked at; gathered anew for another scope, and after changes. */
let map: { scope: string; photos: MapPhotos } | null = null;
function mapFor(scope: string): MapPhotos {
  if (map?.scope !== scope) map = { scope, photos: index.mapOf(scope) };
  return map.photos;
}

serve<'search' | 'count' | 'days' | 'setsOf' | 'ordered' | 'questions' | 'put' | 'knowWords' | 'keywordCounts' | 'carriers' | 'suggest' | 'textWords' | 'peopleNear' | 'placing' | 'heaps'>(self, {
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
  placing: async ({ scope }) => index.placing(scope),
  heaps: async ({ scope, box, zoom }) => {
    const map = mapFor(scope);
    return { heaps: map.in(box, zoom), placed: map.placed, bounds: map.bounds };
  },
  textWords: async () => textWords(index.photos),
  put: async ({ records, gone }) => {
    map = null;
    for (const id of gone) index.remove(id);
    return { slots: Uint32Array.from(records, (record) => index.put(record)), size: index.size };
  },
});
