// What a selection of photos says in each field: one value, or several different ones.

import { FIELDS, type FieldKey } from './registry';
import type { FieldValue } from './shape';
import { sameValue, wordsIn } from './values';
import type { Described } from './edits';

export type Shared =
  { state: 'same'; value: FieldValue | undefined } | { state: 'differs'; kinds: number; values: readonly ValueCount[] };

/** A value, or nothing, and how many photos of the selection say so. */
export interface ValueCount {
  value: FieldValue | undefined;
  photos: number;
}

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
  const fields = Object.fromEntries(FIELDS.map(({ key }) => [key, sharedValue(photos, key)])) as Record<
    FieldKey,
    Shared
  >;
  const counts = new Map<string, number>();
  for (const {
    fields: { keywords },
  } of photos) {
    for (const word of wordsIn(keywords)) counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  const keywords = [...counts]
    .map(([word, count]) => ({ word, count }))
    .sort((a, b) => b.count - a.count || a.word.localeCompare(b.word));
  return { count: photos.length, fields, keywords };
}

/** Linear in the number of photos, however many different things they say. */
function sharedValue(photos: Described[], key: FieldKey): Shared {
  const counts = new Map<string | undefined, { value: FieldValue | undefined; photos: number }>();
  for (const { fields } of photos) {
    const value = fields[key];
    const name = value === undefined ? undefined : typeof value === 'string' ? `"${value}` : JSON.stringify(value);
    const known = counts.get(name);
    if (known) known.photos += 1;
    else counts.set(name, { value, photos: 1 });
  }
  const values = [...counts.values()];
  const [first] = values;
  // structures may say the same with their members in another order
  if (values.every(({ value }) => sameValue(value, first?.value))) return { state: 'same', value: first?.value };
  return { state: 'differs', kinds: values.length, values: values.sort((a, b) => b.photos - a.photos) };
}
