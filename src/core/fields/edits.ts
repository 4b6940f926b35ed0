// Edits of fields: each says what stood there and what is to stand there, and so can be taken back.

import type { FieldKey, FieldValues } from './registry';
import type { FieldValue } from './shape';
import { sameValue, wordsIn } from './values';

export interface FieldEdit {
  photoId: string;
  key: FieldKey;
  before?: FieldValue;
  after?: FieldValue;
}

/** An edit without the sides on which nothing stands. */
export function editOf(
  photoId: string,
  key: FieldKey,
  before: FieldValue | undefined,
  after: FieldValue | undefined,
): FieldEdit {
  return { photoId, key, ...(before !== undefined && { before }), ...(after !== undefined && { after }) };
}

export interface Described {
  id: string;
  fields: FieldValues;
}

/** The edits that give every photo `value` in `key`; photos that have it already are left out. */
export function planSet(photos: Described[], key: FieldKey, value: FieldValue | undefined): FieldEdit[] {
  return photos
    .filter((photo) => !sameValue(photo.fields[key], value))
    .map((photo) => editOf(photo.id, key, photo.fields[key], value));
}

/** Adds and takes away list members; the others keep their order. An empty list becomes no value. */
export function planList(photos: Described[], key: FieldKey, add: string[], takeAway: string[]): FieldEdit[] {
  return photos.flatMap((photo) => {
    const before = photo.fields[key];
    const kept = wordsIn(before).filter((word) => !takeAway.includes(word));
    const after = [...kept, ...add.filter((word) => !kept.includes(word))];
    const value = after.length > 0 ? after : undefined;
    return sameValue(before, value) ? [] : [editOf(photo.id, key, before, value)];
  });
}

/** The edits that turn one set of values into another, for one photo. */
export function planFields(photo: Described, wanted: FieldValues, keys: FieldKey[]): FieldEdit[] {
  return keys.flatMap((key) => planSet([photo], key, wanted[key]));
}

export function applyEdit(fields: FieldValues, { key, after }: FieldEdit): FieldValues {
  const next = { ...fields };
  if (after === undefined) delete next[key];
  else next[key] = after;
  return next;
}
