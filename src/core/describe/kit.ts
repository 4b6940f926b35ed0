// Kits: field values kept under a name, to be put on many photos at once. Each entry says what it does to what is
// there.

import type { Versioned } from '../fields/version';
import { type FieldEdit, type Described, planSet } from '../fields/edits';
import type { FieldKey, FieldValues } from '../fields/registry';
import { fieldOf } from '../fields/registry';
import { type FieldValue, isWordList } from '../fields/shape';
import { wordsIn } from '../fields/values';
import { type FillFacts, filledIn } from './fill-ins';

/**
 * `leave`: nothing, for now; the value is kept. `fill`: only where nothing stands. `add`: to a list, without losing
 * what is there; to a text, only where nothing stands.
 */
export type KitMode = 'leave' | 'fill' | 'add' | 'replace';

export interface KitEntry {
  key: FieldKey;
  mode: KitMode;
  value: FieldValue;
}

export interface Kit extends Versioned {
  id: string;
  name: string;
  entries: KitEntry[];
}

function valueAfter(
  before: FieldValue | undefined,
  { key, mode, value: written }: KitEntry,
  facts: FillFacts,
): FieldValue | undefined {
  if (mode === 'leave' || (mode === 'fill' && before !== undefined)) return before;
  const value = filledIn(written, facts);
  if (mode === 'replace') return value;
  if (mode === 'add' && isWordList(fieldOf(key))) return [...new Set([...wordsIn(before), ...wordsIn(value)])];
  return before ?? value;
}

/** What the entries, one after the other, make of the fields of a photo whose file lies at `path`. */
export function withEntries(fields: FieldValues, entries: readonly KitEntry[], path: string): FieldValues {
  const next = { ...fields };
  for (const entry of entries) {
    const after = valueAfter(next[entry.key], entry, { fields: next, path });
    if (after === undefined) delete next[entry.key];
    else next[entry.key] = after;
  }
  return next;
}

/** The edits that put the entries on a photo; values it has already are left out. */
export function planEntries(photo: Described, entries: readonly KitEntry[], path: string): FieldEdit[] {
  const after = withEntries(photo.fields, entries, path);
  return [...new Set(entries.map(({ key }) => key))].flatMap((key) => planSet([photo], key, after[key]));
}
