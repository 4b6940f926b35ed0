// The change: every edit is a plain value that carries its inverse. Nothing in the catalog is edited in another way.

import type { FieldKey, FieldValues } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import { sameValue, wordsIn } from '../fields/values';

export interface FieldEdit {
  photoId: string;
  key: FieldKey;
  before?: FieldValue;
  after?: FieldValue;
}

/** A smart collection: a scope kept under a name. */
export interface SmartCollection {
  id: string;
  name: string;
  scope: string;
  /** Milliseconds since 1970, UTC; of two versions the later one holds. */
  updatedAt: number;
  /** Kept as a tombstone, so that an older copy on a drive that was away does not bring it back. */
  deleted: boolean;
}

export type Change =
  | { kind: 'fields'; edits: FieldEdit[]; origin: 'person' | 'sidecar' | 'file' }
  | { kind: 'collection'; before: SmartCollection | null; after: SmartCollection }
  | { kind: 'drive-name'; driveId: string; before: string; after: string };

/** The change that takes `change` back. A collection made anew is taken back by its tombstone. */
export function inverse(change: Change, at: number): Change {
  if (change.kind === 'fields') {
    const edits = change.edits.map(({ photoId, key, before, after }) => edit(photoId, key, after, before));
    return { kind: 'fields', edits: edits.reverse(), origin: 'person' };
  }
  if (change.kind === 'drive-name') return { ...change, before: change.after, after: change.before };
  const restored = change.before ?? { ...change.after, deleted: true };
  return { kind: 'collection', before: change.after, after: { ...restored, updatedAt: at } };
}

function edit(photoId: string, key: FieldKey, before: FieldValue | undefined, after: FieldValue | undefined): FieldEdit {
  return { photoId, key, ...(before !== undefined && { before }), ...(after !== undefined && { after }) };
}

export interface Described {
  id: string;
  fields: FieldValues;
}

/** The edits that give every photo `value` in `key`; photos that have it already are left out. */
export function planSet(photos: Described[], key: FieldKey, value: FieldValue | undefined): FieldEdit[] {
  return photos.filter((photo) => !sameValue(photo.fields[key], value)).map((photo) => edit(photo.id, key, photo.fields[key], value));
}

/** Adds and takes away list members; the others keep their order. An empty list becomes no value. */
export function planList(photos: Described[], key: FieldKey, add: string[], takeAway: string[]): FieldEdit[] {
  return photos.flatMap((photo) => {
    const before = photo.fields[key];
    const kept = wordsIn(before).filter((word) => !takeAway.includes(word));
    const after = [...kept, ...add.filter((word) => !kept.includes(word))];
    const value = after.length > 0 ? after : undefined;
    return sameValue(before, value) ? [] : [edit(photo.id, key, before, value)];
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
