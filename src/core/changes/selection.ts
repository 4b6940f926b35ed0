// What a selection of photos says in each field: one value, or several different ones.

import { FIELDS, type FieldKey } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import { sameValue, wordsIn } from '../fields/values';
import type { Described } from './change';

export type Shared = { state: 'same'; value: FieldValue | undefined } | { state: 'differs'; kinds: number };

export interface WordCount {
  word: string;
  count: number;
}

export interface SelectionSummary {
  count: number;
  fields: Record<FieldKey, Shared>;
  /** Every keyword in the selection with the number of photos that carry it, most first, then by word. */
  keywords: WordCount[];
}

export function summarise(photos: Described[]): SelectionSummary {
  const fields = Object.fromEntries(FIELDS.map(({ key }) => [key, sharedValue(photos, key)])) as Record<FieldKey, Shared>;
  const counts = new Map<string, number>();
  for (const { fields: { keywords } } of photos) {
    for (const word of wordsIn(keywords)) counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  const keywords = [...counts].map(([word, count]) => ({ word, count })).sort((a, b) => b.count - a.count || a.word.localeCompare(b.word));
  return { count: photos.length, fields, keywords };
}

function sharedValue(photos: Described[], key: FieldKey): Shared {
  const kinds: (FieldValue | undefined)[] = [];
  for (const photo of photos) if (!kinds.some((value) => sameValue(value, photo.fields[key]))) kinds.push(photo.fields[key]);
  return kinds.length > 1 ? { state: 'differs', kinds: kinds.length } : { state: 'same', value: kinds[0] };
}
