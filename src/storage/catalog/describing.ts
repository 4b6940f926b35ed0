// Edits that need to know where the files of the photos lie: values with fill-ins, and kits.

import { type FieldEdit, planSet } from '@/core/fields/edits';
import { filledIn, hasFillIn } from '@/core/describe/fill-ins';
import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { type KitEntry, planEntries } from '@/core/describe/kit';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { PhotoRecord } from './records';

/** The photos of these ids that are there, in this order. */
export async function photosOf(db: CatalogDatabase, photoIds: readonly string[]): Promise<PhotoRecord[]> {
  return (await db.photos.bulkGet([...photoIds])).flatMap((photo) => (photo ? [photo] : []));
}

/**
 * The same in lots, so that the screen goes on answering and can say how far it is: `done` counts the ids asked for,
 * this lot included.
 */
export async function* photoBatches(
  db: CatalogDatabase,
  photoIds: readonly string[],
  batch = 500,
): AsyncGenerator<{ photos: PhotoRecord[]; done: number }> {
  for (let at = 0; at < photoIds.length; at += batch)
    yield { photos: await photosOf(db, photoIds.slice(at, at + batch)), done: Math.min(photoIds.length, at + batch) };
}

/** The path of one file of each photo. */
export async function pathsOf(db: CatalogDatabase, photoIds: readonly string[]): Promise<Map<string, string>> {
  const files = await db.files
    .where('photoId')
    .anyOf([...photoIds])
    .toArray();
  return new Map(files.reverse().flatMap((file) => (file.photoId ? [[file.photoId, pathToBe(file)]] : [])));
}

/** The edits that give every photo `value`, filled in from what each says. */
export async function planValue(
  db: CatalogDatabase,
  photoIds: readonly string[],
  key: FieldKey,
  value: FieldValue | undefined,
): Promise<FieldEdit[]> {
  const photos = await photosOf(db, photoIds);
  if (value === undefined || !hasFillIn(value)) return planSet(photos, key, value);
  const paths = await pathsOf(db, photoIds);
  return photos.flatMap((photo) =>
    planSet([photo], key, filledIn(value, { fields: photo.fields, path: paths.get(photo.id) ?? '' })),
  );
}

/** The edits that put a kit on the photos. */
export async function planKit(
  db: CatalogDatabase,
  photoIds: readonly string[],
  entries: readonly KitEntry[],
): Promise<FieldEdit[]> {
  const paths = await pathsOf(db, photoIds);
  return (await photosOf(db, photoIds)).flatMap((photo) => planEntries(photo, entries, paths.get(photo.id) ?? ''));
}
