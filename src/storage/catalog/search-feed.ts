// What the search index knows of a photo, put together from the catalog's records.

import { sentByPhoto } from '@/core/send-out/delivery';
import { type CopyOnDrive, FILE_PROBLEMS, type FileMark, copiesOf } from '@/core/fixity/copies';
import { type Keeping, onlyOn, photoSafety, twiceOn } from '@/core/fixity/keeping';
import type { PictureMeasures } from '@/core/picture/measures';
import { baseOf, foldName, folderIn } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { folderValue } from '@/core/query/folder-value';
import type { SearchRecord } from '@/core/search/search-record';
import { shotOf } from '@/core/sift/shot';
import { capturedIn, sameFields } from '@/core/fields/values';
import { dayNumber, secondOfDay } from '@/core/time/captured';
import type { Table } from 'dexie';
import { splitPath } from '../drives/drive';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import { readKeeping } from './keeping';
import { profileWord } from '@/core/metadata/reading/profile';
import type { FileRecord, PictureMeasuresRecord, OverlapRecord, PhotoRecord } from './records';
import { EVERY_DRIVE } from './unindexed';

/** The name a camera goes by: its model, with the make before it where the model does not say it already. */
export function cameraName({ make, model }: PhotoRecord['camera']): string {
  if (!model) return make ?? '';
  return make && !model.toLowerCase().startsWith(make.toLowerCase().split(' ')[0] ?? '') ? `${make} ${model}` : model;
}

/** What lies beside the photos, in the catalog, that search is told of. */
interface Surroundings {
  driveNames: Map<string, string>;
  keeping: Keeping;
  leftOut: Set<string>;
  large: Set<string>;
  overlaps: Map<string, OverlapRecord[]>;
  measures: Map<string, PictureMeasures>;
  sent: Map<string, string[]>;
}

/** Whether the photo is in the catalog as the person sees it: not taken out, and not with all its files set aside. */
const isCataloged = (photo: PhotoRecord, files: FileRecord[], { leftOut }: Pick<Surroundings, 'leftOut'>): boolean =>
  !leftOut.has(photo.id) && (files.length === 0 || files.some((file) => asideOf(pathToBe(file)) === null));

function searchRecord(photo: PhotoRecord, allFiles: FileRecord[], around: Surroundings): SearchRecord {
  const captured = capturedIn(photo.fields);
  const files = allFiles.filter((file) => asideOf(pathToBe(file)) === null);
  const copies = copiesOf(files, photo);
  const safety = photoSafety(files, photo, around.keeping);
  const nameOf = (driveId: string) => around.driveNames.get(driveId) ?? '';
  return {
    id: photo.id,
    names: [...new Set(files.map((file) => splitPath(pathToBe(file)).name))],
    folders: [...new Set(files.map((file) => splitPath(pathToBe(file)).folders.join('/')))],
    driveFolders: [
      ...new Set(files.map((file) => folderValue({ drive: nameOf(file.driveId), path: folderIn(pathToBe(file)) }))),
    ],
    drives: [...new Set(files.map(({ driveId }) => nameOf(driveId)))],
    camera: cameraName(photo.camera),
    lens: photo.lens ?? '',
    format: photo.format,
    profile: profileWord(photo) ?? '',
    video: photo.seconds !== null,
    day: dayNumber(captured),
    second: secondOfDay(captured),
    addedAt: photo.addedAt,
    aspect: photo.width && photo.height ? photo.width / photo.height : 1.5,
    megapixels: photo.width && photo.height ? (photo.width * photo.height) / 1e6 : 0,
    copies: safety.copies,
    marks: marksOf(files, copies),
    lacks: safety.lacks,
    safeUntil: safety.until,
    onDrives: copies,
    onlyOn: onlyOn(files, photo, around.keeping).map(nameOf),
    edited: !sameFields(photo.fields, photo.embedded),
    sent: around.sent.get(photo.id) ?? [],
    measures: around.measures.get(photo.id) ?? null,
    large: around.large.has(photo.id),
    placed:
      typeof photo.fields.position === 'string' ||
      typeof photo.fields.city === 'string' ||
      typeof photo.fields.sublocation === 'string',
    shot: shotOf(
      photo,
      photo.fields,
      [
        ...new Set(
          files.map((file) =>
            foldName(`${file.driveId}/${folderIn(pathToBe(file))}/${baseOf(splitPath(pathToBe(file)).name)}`),
          ),
        ),
      ],
      Object.fromEntries((around.overlaps.get(photo.id) ?? []).map(({ b, overlaps }) => [b, overlaps])),
    ),
    fields: photo.fields,
  };
}

function marksOf(files: readonly FileRecord[], copies: readonly CopyOnDrive[]): FileMark[] {
  const marks: FileMark[] = FILE_PROBLEMS.filter((problem) => files.some(({ state }) => state === problem));
  if (copies.some(({ status }) => status === 'not-yet-read')) marks.push('unread');
  if (twiceOn(files).length > 0) marks.push('twice');
  return marks;
}

async function driveNames(db: CatalogDatabase): Promise<Map<string, string>> {
  return new Map((await db.drives.toArray()).map(({ id, name }) => [id, name]));
}

export function byPhoto(files: FileRecord[]): Map<string, FileRecord[]> {
  const grouped = new Map<string, FileRecord[]>();
  for (const file of files) {
    if (!file.photoId) continue;
    const others = grouped.get(file.photoId);
    if (others) others.push(file);
    else grouped.set(file.photoId, [file]);
  }
  return grouped;
}

const isOut = ({ deleted }: { deleted: boolean }) => !deleted;

/** The records of some photos, and which of them are not, or no longer, in the catalog. */
export async function searchRecords(
  db: CatalogDatabase,
  photoIds: string[],
): Promise<{ records: SearchRecord[]; gone: string[] }> {
  const photos = await db.photos.bulkGet(photoIds);
  const files = byPhoto(await db.files.where('photoId').anyOf(photoIds).toArray());
  const around: Surroundings = {
    driveNames: await driveNames(db),
    keeping: await readKeeping(db),
    leftOut: new Set((await db.leftOut.bulkGet(photoIds)).flatMap((one) => (one && isOut(one) ? [one.id] : []))),
    large: new Set(await db.largePreviews.where('photoId').anyOf(photoIds).primaryKeys()),
    overlaps: byFirst(await db.overlaps.where('a').anyOf(photoIds).toArray()),
    measures: measuresById((await db.measures.bulkGet(photoIds)).filter((one) => one !== undefined)),
    sent: sentByPhoto(await db.deliveries.toArray()),
  };
  const cataloged = photos
    .filter((photo) => photo !== undefined)
    .filter((photo) => isCataloged(photo, files.get(photo.id) ?? [], around));
  const there = new Set(cataloged.map(({ id }) => id));
  return {
    records: cataloged.map((photo) => searchRecord(photo, files.get(photo.id) ?? [], around)),
    gone: photoIds.filter((id) => !there.has(id)),
  };
}

const measuresById = (records: PictureMeasuresRecord[]): Map<string, PictureMeasures> =>
  new Map(records.flatMap(({ photoId, measures }) => (measures ? [[photoId, measures]] : [])));

function byFirst(overlaps: OverlapRecord[]): Map<string, OverlapRecord[]> {
  const grouped = new Map<string, OverlapRecord[]>();
  for (const one of overlaps) grouped.set(one.a, [...(grouped.get(one.a) ?? []), one]);
  return grouped;
}

/** Records read at once when a catalog is opened: keeps the page answering in between. */
const OPENING_CHUNK = 4000;

/** The whole catalog, in reads of ranges: asking for each photo's files by index takes ten times as long (measured). */
export async function* allSearchRecords(db: CatalogDatabase): AsyncGenerator<SearchRecord[]> {
  const around: Surroundings = {
    driveNames: await driveNames(db),
    keeping: await readKeeping(db),
    leftOut: new Set((await db.leftOut.toArray()).filter(isOut).map(({ id }) => id)),
    large: new Set(await db.largePreviews.toCollection().primaryKeys()),
    overlaps: byFirst(await db.overlaps.toArray()),
    measures: measuresById(await db.measures.toArray()),
    sent: sentByPhoto(await db.deliveries.toArray()),
  };
  const files: FileRecord[] = [];
  for await (const chunk of inRanges(db.files)) files.push(...chunk);
  const grouped = byPhoto(files);
  for await (const chunk of inRanges(db.photos))
    yield chunk
      .filter((photo) => isCataloged(photo, grouped.get(photo.id) ?? [], around))
      .map((photo) => searchRecord(photo, grouped.get(photo.id) ?? [], around));
}

async function* inRanges<T extends { id: string }>(table: Table<T, string>): AsyncGenerator<T[]> {
  for (let last = ''; ;) {
    const chunk = await table.where('id').above(last).limit(OPENING_CHUNK).toArray();
    const end = chunk.at(-1);
    if (!end) return;
    yield chunk;
    last = end.id;
  }
}

/** The number of the last change that was noted. */
export async function lastNoted(db: CatalogDatabase): Promise<number> {
  return (await db.unindexed.orderBy('seq').last())?.seq ?? 0;
}

/** The name of this very catalog among all that were ever made; `null` while its index was never kept. */
export async function catalogNamed(db: CatalogDatabase): Promise<string | null> {
  return (await db.unindexed.filter(({ catalog }) => catalog !== undefined).first())?.catalog ?? null;
}

/** Gives the catalog its name, when its index is kept for the first time. */
export function nameCatalog(db: CatalogDatabase, name: string): Promise<string> {
  return db.transaction('rw', db.unindexed, async () => {
    const catalog = await catalogNamed(db);
    if (catalog === null) await db.unindexed.add({ photoIds: [], driveIds: [], catalog: name });
    return catalog ?? name;
  });
}

/** Photos noted as changed after `upTo`, up to and with `to`. */
export async function notedSince(db: CatalogDatabase, upTo: number, to: number): Promise<string[]> {
  const records = await db.unindexed.where('seq').between(upTo, to, false, true).toArray();
  const drives = [...new Set(records.flatMap(({ driveIds }) => driveIds))];
  if (drives.includes(EVERY_DRIVE)) return db.photos.toCollection().primaryKeys();
  const ids = new Set(records.flatMap(({ photoIds }) => photoIds));
  for (const file of drives.length > 0 ? await db.files.where('driveId').anyOf(drives).toArray() : [])
    if (file.photoId) ids.add(file.photoId);
  return [...ids];
}

/** Whether something that was noted after `upTo` is not there any more. */
export async function isForgotten(db: CatalogDatabase, upTo: number): Promise<boolean> {
  const next = await db.unindexed.where('seq').above(upTo).first();
  return next?.seq !== undefined && next.seq > upTo + 1;
}

/** The index that is kept knows of what was noted before `upTo`; that one stays, so that numbers never begin anew. */
export async function forgetNoted(db: CatalogDatabase, upTo: number): Promise<void> {
  await db.unindexed
    .where('seq')
    .below(upTo)
    .filter(({ catalog }) => catalog === undefined)
    .delete();
}
