// Which words the photos use, and which of them go together: counts for the vocabulary, the carriers of a word, words that are
// likely for a selection, and the words of texts for the spell checker. Each reads all records once.

import { wordsIn } from '../fields/values';
import { numberAmong } from '../take-in/accession';
import type { UsedWord } from '../vocabulary/alike';
import { plain } from '../vocabulary/vocabulary';
import type { SearchRecord } from './search-record';

export type Records = readonly (SearchRecord | null)[];

const keywordsOf = ({ fields }: SearchRecord): string[] => wordsIn(fields.keywords);

/** Every keyword as it is written, with the number of photos that carry it. */
export function countKeywords(records: Records): UsedWord[] {
  const counts = new Map<string, number>();
  for (const record of records) if (record) for (const word of keywordsOf(record)) counts.set(word, (counts.get(word) ?? 0) + 1);
  return [...counts].map(([word, count]) => ({ word, count }));
}

/** The photos that carry any of these words, however it is written. */
export function carriersOf(records: Records, words: readonly string[]): string[] {
  const wanted = new Set(words.map(plain));
  const isWanted = new Map<string, boolean>();
  const asked = (word: string): boolean => {
    const known = isWanted.get(word);
    if (known !== undefined) return known;
    isWanted.set(word, wanted.has(plain(word)));
    return wanted.has(plain(word));
  };
  return records.flatMap((record) => (record && keywordsOf(record).some(asked) ? [record.id] : []));
}

/** Why a word is likely: photos taken within the hour have it, others of the accession, or it goes with a word the selection has. */
export type SuggestedFor = { kind: 'near' } | { kind: 'accession' } | { kind: 'with'; word: string };

export interface Suggestion {
  word: string;
  because: SuggestedFor;
  /** 0 to 3: the sum of the shares of photos that speak for it. */
  weight: number;
}

const NEAR_SECONDS = 3600;
/** Words that go together in fewer photos than this say nothing. */
const TOGETHER_AT_LEAST = 2;

/** Words that are likely for these photos and that not all of them have, the likeliest first. */
export function suggestWords(records: Records, chosenIds: readonly string[], limit: number): Suggestion[] {
  const ids = new Set(chosenIds);
  const chosen = records.filter((record): record is SearchRecord => record !== null && ids.has(record.id));
  if (chosen.length === 0) return [];
  const times = chosen.filter(({ day }) => day > 0).map(({ day, second }) => [day, second] as const);
  const days = new Map<number, [from: number, to: number]>();
  for (const [day, second] of times) {
    const [from, to] = days.get(day) ?? [second, second];
    days.set(day, [Math.min(from, second), Math.max(to, second)]);
  }
  const accessions = new Set(chosen.map(accessionOf).filter((number) => number !== ''));
  const had = new Set(chosen.flatMap(keywordsOf));
  const near = new Tally();
  const accession = new Tally();
  const together = new Map<string, Tally>([...had].map((word) => [word, new Tally()]));
  for (const record of records) {
    if (!record) continue;
    const words = keywordsOf(record);
    for (const word of words) together.get(word)?.note(words);
    if (ids.has(record.id)) continue;
    const span = days.get(record.day);
    if (span && record.second >= span[0] - NEAR_SECONDS && record.second <= span[1] + NEAR_SECONDS) near.note(words);
    else if (accessions.size > 0 && accessions.has(accessionOf(record))) accession.note(words);
  }
  const found = new Map<string, Suggestion>();
  const add = (word: string, share: number, because: SuggestedFor) => {
    const known = found.get(word);
    if (known) known.weight += share;
    else found.set(word, { word, because, weight: share });
  };
  for (const [word, count] of near.counts) add(word, count / near.photos, { kind: 'near' });
  for (const [word, count] of accession.counts) add(word, (0.5 * count) / accession.photos, { kind: 'accession' });
  for (const [own, tally] of together) for (const [word, count] of tally.counts) if (word !== own && count >= TOGETHER_AT_LEAST) add(word, (0.5 * count) / tally.photos / together.size, { kind: 'with', word: own });
  const onAll = new Set([...had].filter((word) => chosen.every((record) => keywordsOf(record).includes(word))));
  return [...found.values()].filter(({ word }) => !onAll.has(word)).sort((a, b) => b.weight - a.weight || (a.word < b.word ? -1 : 1)).slice(0, limit);
}

const accessionOf = (record: SearchRecord): string => {
  const number = numberAmong(wordsIn(record.fields.identifier)) ?? '';
  return number.slice(0, Math.max(0, number.lastIndexOf('.')));
};

class Tally {
  photos = 0;
  readonly counts = new Map<string, number>();

  note(words: readonly string[]): void {
    this.photos += 1;
    for (const word of words) this.counts.set(word, (this.counts.get(word) ?? 0) + 1);
  }
}

/** People shown in photos of the same day or accession, the most frequent first, then those of the whole catalog. */
export function peopleNear(records: Records, photoId: string, limit: number): string[] {
  const photo = records.find((record) => record?.id === photoId);
  if (!photo) return [];
  const own = accessionOf(photo);
  const here = new Tally();
  const all = new Tally();
  for (const record of records) {
    const people = record ? wordsIn(record.fields.personShown) : [];
    if (!record || people.length === 0) continue;
    ((record.day === photo.day && photo.day > 0) || (own !== '' && accessionOf(record) === own) ? here : all).note(people);
  }
  const sorted = ({ counts }: Tally) => [...counts].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1)).map(([name]) => name);
  return [...new Set([...sorted(here), ...sorted(all)])].slice(0, limit);
}

/** The fields whose words are spelt. */
export const SPELT = ['caption', 'headline', 'title', 'keywords', 'altText', 'extendedDescription'] as const;
const TEXT_WORD = /\p{L}[\p{L}\p{M}]*(?:['’]\p{L}[\p{L}\p{M}]*)*/gu;
/** Longer than any word of any language that a dictionary has. */
const LONGEST = 60;
/** Blanks and fill-ins are no text. */
const HOLES = /\[[?=][^[\]]*\]/g;

/** Words of two letters and more in the texts of all photos, as they are written, with the number of photos that have them. */
export function textWords(records: Records): UsedWord[] {
  const counts = new Map<string, number>();
  for (const record of records) {
    if (!record) continue;
    const words = new Set<string>();
    for (const key of SPELT) {
      const value = record.fields[key];
      for (const text of typeof value === 'string' ? [value] : wordsIn(value)) for (const [word] of text.replace(HOLES, ' ').matchAll(TEXT_WORD)) if (word.length > 1 && word.length <= LONGEST) words.add(word.normalize('NFC').replaceAll('’', "'"));
    }
    for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  return [...counts].map(([word, count]) => ({ word, count }));
}

/** The text with a word put in the place of another, wherever that stands as a whole word. */
export function replaceInText(text: string, word: string, right: string): string {
  return text.replace(TEXT_WORD, (found) => (found.normalize('NFC').replaceAll('’', "'") === word ? right : found));
}
