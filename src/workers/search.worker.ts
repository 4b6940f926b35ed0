import { explainScope } from '@/core/search/explain';
import type { MapPhotos } from '@/core/search/map-photos';
import { SearchIndex } from '@/core/search/search-index';
import { carriersOf, countKeywords, peopleNear, suggestWords, textWords } from '@/core/search/word-uses';
import { othersTurn, readIndex, writeIndex } from './kept-index';
import { serve } from './serve';

let index = new SearchIndex();

/** The map that is looked at; gathered anew for another scope, and after changes. */
let map: { scope: string; photos: MapPhotos } | null = null;
function mapFor(scope: string): MapPhotos {
  if (map?.scope !== scope) map = { scope, photos: now().mapOf(scope) };
  return map.photos;
}

/** The index, told what day it is by the person's calendar. */
function now(): SearchIndex {
  const date = new Date();
  index.knowTime(date.getFullYear() * 10_000 + (date.getMonth() + 1) * 100 + date.getDate(), date.getTime());
  return index;
}

serve<
  | 'openIndex'
  | 'keepIndex'
  | 'search'
  | 'count'
  | 'folders'
  | 'driveYears'
  | 'driveLoss'
  | 'years'
  | 'habits'
  | 'facets'
  | 'explain'
  | 'complete'
  | 'days'
  | 'setsOf'
  | 'ordered'
  | 'questions'
  | 'put'
  | 'knowWords'
  | 'knowCollections'
  | 'keywordCounts'
  | 'carriers'
  | 'suggest'
  | 'textWords'
  | 'peopleNear'
  | 'placing'
  | 'clusters'
  | 'alike'
>(self, {
  openIndex: async ({ name, catalog }) => {
    const bytes = await readIndex(name).catch(() => null);
    const opened = bytes && SearchIndex.fromBytes(bytes);
    if (opened?.catalog !== catalog) return null;
    index = opened;
    map = null;
    return { ids: index.columns.ids.parts(), size: index.size, upTo: index.upTo };
  },
  keepIndex: async ({ name, catalog, upTo }) => {
    index.settle();
    await othersTurn();
    Object.assign(index, { catalog, upTo });
    const snapshot = index.snapshot();
    await othersTurn();
    const bytes = snapshot.toBytes();
    await writeIndex(name, bytes);
    return bytes.length;
  },
  search: async (order) => now().search(order),
  count: async ({ scopes }) => scopes.map((scope) => now().count(scope)),
  folders: async ({ open }) => now().folders.open(open),
  driveYears: async ({ verifiedWithinDays }) => now().driveYears(verifiedWithinDays),
  driveLoss: async ({ driveId, keeping }) => now().driveLoss(driveId, keeping),
  years: async ({ scope, by, limit }) => now().years(scope, by, limit),
  habits: async ({ scope }) => now().habits(scope),
  facets: async ({ scope, names, limit }) => now().facets(scope, names, limit),
  explain: async ({ scope }) => explainScope(scope, now()),
  complete: async ({ text, cursor, limit }) => now().complete(text, cursor, limit),
  days: async ({ scope, year }) => now().days(scope, year),
  setsOf: async ({ ids }) => ids.map((id) => index.setOf(id)),
  ordered: async ({ ids }) => index.ordered(ids),
  questions: async ({ limit }) => index.questions(limit),
  knowWords: async ({ words }) => {
    index.knowWords(words);
    return null;
  },
  knowCollections: async ({ collections }) => {
    index.knowCollections(collections);
    return null;
  },
  keywordCounts: async () => countKeywords(index.columns),
  carriers: async ({ words }) => carriersOf(index.columns, words),
  suggest: async ({ ids, limit }) => suggestWords(index.columns, ids, limit),
  peopleNear: async ({ id, limit }) => peopleNear(index.columns, id, limit),
  placing: async ({ scope }) => now().placing(scope),
  clusters: async ({ scope, box, zoom }) => {
    const photos = mapFor(scope);
    return { clusters: photos.in(box, zoom), placed: photos.placed, bounds: photos.bounds };
  },
  alike: async ({ scope, bits }) => now().alike(scope, bits),
  textWords: async () => textWords(index.columns),
  put: async ({ records, gone }) => {
    map = null;
    for (const id of gone) index.remove(id);
    return { slots: Uint32Array.from(records, (record) => index.put(record)), size: index.size };
  },
});
