// What the search index knows of a photo, put together from the catalog's records.

import { copiesOf, provenCount } from '@/core/fixity/copies';
import type { SearchRecord } from '@/core/search/search-index';
import { dayNumber, secondOfDay } from '@/core/time/captured';
import { splitPath } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';

/** The name a camera goes by: its model, with the make before it where the model does not say it already. */
export function cameraName({ make, model }: PhotoRecord['camera']): string {
  if (!model) return make ?? '';
  return make && !model.toLowerCase().startsWith(make.toLowerCase().split(' ')[0] ?? '') ? `${make} ${model}` : model;
}

function searchRecord(photo: PhotoRecord, files: FileRecord[], driveNames: Map<string, string>): SearchRecord {
  return {
    id: photo.id,
    names: [...new Set(files.map(({ path }) => splitPath(path).name))],
    folders: [...new Set(files.map(({ path }) => splitPath(path).folders.join('/')))],
    drives: [...new Set(files.map(({ driveId }) => driveNames.get(driveId) ?? ''))],
    camera: cameraName(photo.camera),
    day: dayNumber(photo.captured),
    second: secondOfDay(photo.captured),
    aspect: photo.width && photo.height ? photo.width / photo.height : 1.5,
    copies: provenCount(copiesOf(files, photo.sha256)),
    fields: photo.fields,
  };
}

/** The records of some photos, and which of them are no longer in the catalog. */
export async function searchRecords(db: CatalogDatabase, photoIds: string[]): Promise<{ records: SearchRecord[]; gone: string[] }> {
  const names = new Map((await db.drives.toArray()).map(({ id, name }) => [id, name]));
  const photos = await db.photos.bulkGet(photoIds);
  const files = new Map<string, FileRecord[]>();
  for (const file of await db.files.where('photoId').anyOf(photoIds).toArray()) if (file.photoId) files.set(file.photoId, [...(files.get(file.photoId) ?? []), file]);
  const records = photos.flatMap((photo) => (photo ? [searchRecord(photo, files.get(photo.id) ?? [], names)] : []));
  return { records, gone: photoIds.filter((_, index) => photos[index] === undefined) };
}

/** Photos read at once when a catalog is opened: keeps the page answering in between. */
const OPENING_CHUNK = 2000;

export async function* allSearchRecords(db: CatalogDatabase): AsyncGenerator<SearchRecord[]> {
  const ids = (await db.photos.toCollection().primaryKeys()) as string[];
  for (let at = 0; at < ids.length; at += OPENING_CHUNK) yield (await searchRecords(db, ids.slice(at, at + OPENING_CHUNK))).records;
}
