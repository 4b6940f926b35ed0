// What the search index knows of a photo, put together from the catalog's records.

import { copiesOf, provenCount } from '@/core/fixity/copies';
import type { SearchRecord } from '@/core/search/search-index';
import { capturedIn } from '@/core/fields/values';
import { dayNumber, secondOfDay } from '@/core/time/captured';
import type { Table } from 'dexie';
import { splitPath } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';

/** The name a camera goes by: its model, with the make before it where the model does not say it already. */
export function cameraName({ make, model }: PhotoRecord['camera']): string {
  if (!model) return make ?? '';
  return make && !model.toLowerCase().startsWith(make.toLowerCase().split(' ')[0] ?? '') ? `${make} ${model}` : model;
}

function searchRecord(photo: PhotoRecord, files: FileRecord[], driveNames: Map<string, string>): SearchRecord {
  const captured = capturedIn(photo.fields);
  return {
    id: photo.id,
    names: [...new Set(files.map(({ path }) => splitPath(path).name))],
    folders: [...new Set(files.map(({ path }) => splitPath(path).folders.join('/')))],
    drives: [...new Set(files.map(({ driveId }) => driveNames.get(driveId) ?? ''))],
    camera: cameraName(photo.camera),
    day: dayNumber(captured),
    second: secondOfDay(captured),
    aspect: photo.width && photo.height ? photo.width / photo.height : 1.5,
    copies: provenCount(copiesOf(files, photo)),
    fields: photo.fields,
  };
}

async function driveNames(db: CatalogDatabase): Promise<Map<string, string>> {
  return new Map((await db.drives.toArray()).map(({ id, name }) => [id, name]));
}

function byPhoto(files: FileRecord[]): Map<string, FileRecord[]> {
  const grouped = new Map<string, FileRecord[]>();
  for (const file of files) {
    if (!file.photoId) continue;
    const others = grouped.get(file.photoId);
    if (others) others.push(file);
    else grouped.set(file.photoId, [file]);
  }
  return grouped;
}

/** The records of some photos, and which of them are no longer in the catalog. */
export async function searchRecords(db: CatalogDatabase, photoIds: string[]): Promise<{ records: SearchRecord[]; gone: string[] }> {
  const names = await driveNames(db);
  const photos = await db.photos.bulkGet(photoIds);
  const files = byPhoto(await db.files.where('photoId').anyOf(photoIds).toArray());
  const records = photos.flatMap((photo) => (photo ? [searchRecord(photo, files.get(photo.id) ?? [], names)] : []));
  return { records, gone: photoIds.filter((_, index) => photos[index] === undefined) };
}

/** Records read at once when a catalog is opened: keeps the page answering in between. */
const OPENING_CHUNK = 4000;

/** The whole catalog, in reads of ranges: asking for each photo's files by index takes ten times as long (measured). */
export async function* allSearchRecords(db: CatalogDatabase): AsyncGenerator<SearchRecord[]> {
  const names = await driveNames(db);
  const files: FileRecord[] = [];
  for await (const chunk of inRanges(db.files)) files.push(...chunk);
  const grouped = byPhoto(files);
  for await (const chunk of inRanges(db.photos)) yield chunk.map((photo) => searchRecord(photo, grouped.get(photo.id) ?? [], names));
}

async function* inRanges<T extends { id: string }>(table: Table<T, string>): AsyncGenerator<T[]> {
  for (let last = ''; ; ) {
    const chunk = await table.where('id').above(last).limit(OPENING_CHUNK).toArray();
    const end = chunk.at(-1);
    if (!end) return;
    yield chunk;
    last = end.id;
  }
}
