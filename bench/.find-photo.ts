import type { SearchRecord } from '../src/core/search/search-record';
import { randomFrom } from '../src/demo/paint/noise';
const WORDS = 30_000;
const KEYWORDS = 4000;
const random = randomFrom(20261126);
const count = (value: number) => value.toLocaleString('en');

/** Zipf: the nth word is used in proportion to 1/n. */
function zipf(size: number): () => number {
  const sums = new Float64Array(size);
  let sum = 0;
  for (let rank = 0; rank < size; rank++) sums[rank] = sum += 1 / (rank + 1);
  return () => {
    const at = random() * sum;
    let [low, high] = [0, size - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sums[middle] ?? 0) < at) low = middle + 1;
      else high = middle;
    }
    return low;
  };
}

const SYLLABLES = ['bo', 'at', 'sli', 'fer', 'ry', 'no', 'rd', 'wo', 'ol', 'ha', 'rb', 'our', 'ki', 'la', 'ks', 'vik', 'tor', 'sha', 'vn', 'ei', 'du', 'mu', 'sto', 'ne'];
const wordAt = (rank: number): string => {
  let word = '';
  for (let left = rank + 24; left > 0; left = Math.floor(left / 24)) word += SYLLABLES[left % 24];
  return word;
};
const [word, keyword] = [zipf(WORDS), zipf(KEYWORDS)];
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
const CAMERAS = ['Norda K4', 'Norda K2', 'Norda K2s', 'Marin 5', 'Marin 7', 'Scan 4', 'Pocket 3', 'Pocket 4'];
const LENSES = ['24 mm f/2.8', '35 mm f/2', '50 mm f/1.8', '85 mm f/1.8', '24–70 mm f/4', '70–200 mm f/4'];
const PLACES = Array.from({ length: 120 }, (_, at) => wordAt(5000 + at));

export function photo(at: number): SearchRecord {
  const [year, month, date] = [2004 + Math.floor(random() * 23), 1 + Math.floor(random() * 12), 1 + Math.floor(random() * 28)];
  const day = year * 10_000 + month * 100 + date;
  const second = Math.floor(random() * 86_400);
  const words = (length: number) => Array.from({ length }, () => wordAt(word())).join(' ');
  const iso = pick([100, 200, 400, 800, 1600, 3200, 6400]);
  return {
    id: `${at.toString(16).padStart(8, '0')}${Math.floor(random() * 2 ** 32).toString(16).padStart(8, '0')}`,
    names: [`IMG_${String(at).padStart(7, '0')}.jpg`], folders: [`${year}/${year}-${String(month).padStart(2, '0')}`], drives: [pick(['Studio', 'Attic', 'Copy'])], camera: pick(CAMERAS), lens: pick(LENSES), format: 'jpeg', film: false,
    day, second, addedAt: 1.7e12, aspect: pick([1.5, 0.667]), megapixels: 24, copies: pick([1, 2, 3]), safeUntil: 0, edited: false, sent: [], look: null, large: false, placed: true,
    shot: { body: 'b', at: day * 100_000 + second, fraction: false, seconds: 1 / 250, fNumber: 8, iso, focalMm: 35, biasEv: 0, stems: [`s/${at}`], raw: false, given: null, overlaps: {} },
    fields: { rating: pick([0, 0, 0, 1, 2, 3, 4, 5]), caption: words(9), headline: words(4), keywords: [...new Set(Array.from({ length: 5 }, () => `k${wordAt(keyword())}`))], city: pick(PLACES), country: 'Faroe Islands', captured: `${year}-${month}-${date}` },
  };
}

interface Query {
  name: string;
  /** Another instance of the same kind of question each time. */
  ours: () => { scope: string; sql: [where: string, parameters: (string | number)[]]; words: string | null };
}

export const QUERIES: Query[] = [
  { name: 'two words', ours: () => {
    const [a, b] = [wordAt(Math.floor(random() * 60)), wordAt(Math.floor(random() * 300))];
    return { scope: `"${a}" "${b}"`, sql: ['id IN (SELECT rowid FROM words WHERE words MATCH ?)', [`"${a}"* "${b}"*`]], words: `${a} ${b}` };
  } },
  { name: 'keyword and rating and years', ours: () => {
    const [key, from] = [`k${wordAt(Math.floor(random() * 100))}`, 2004 + Math.floor(random() * 18)];
    return { scope: `keyword=${key} rating>=3 taken:${from}..${from + 4}`, sql: ['id IN (SELECT photo FROM keywords WHERE word = ?) AND rating >= 3 AND day BETWEEN ? AND ?', [key, from * 10_000, (from + 4) * 10_000 + 9999]], words: null };
  } },
  { name: 'camera and lens and ISO sorted by date', ours: () => {
    const [camera, lens, iso] = [pick(CAMERAS), pick(LENSES), pick([200, 400, 800])];
    return { scope: `camera="${camera}" lens="${lens}" iso>=${iso}`, sql: ['camera = ? AND lens = ? AND iso >= ?', [camera, lens, iso]], words: null };
  } },
  { name: 'three-letter prefix', ours: () => {
    const prefix = wordAt(Math.floor(random() * 2000)).slice(0, 3);
    return { scope: prefix, sql: ['id IN (SELECT rowid FROM words WHERE words MATCH ?)', [`${prefix}*`]], words: prefix };
  } },
];

export const FACETS = ['year', 'camera', 'rating', 'keyword'] as const;
