// Which photo a file that was found is of: by its bytes, its picture, and what was recorded of it.

import { samePicture } from '@/core/fixity/copies';
import { type Kin, type Measure, isOther, photoFor } from '@/core/fixity/found-file';
import { foldName, nameIn } from '@/core/names/file-names';
import type { OnRecord } from '../archive/fixity-file';
import type { FileRecord, PhotoRecord } from '../catalog/records';
import type { DriveEntry } from '../drives/drive';
import type { Opened, ScanContext, ScanItem } from './scan-items';

export interface Identified {
  photoId: string;
  known: PhotoRecord | undefined;
  recorded: string | null;
}

/**
 * Whether something says that a file is of this photo of the catalog: its bytes, its picture, the drive's records, or
 * that it always was its only file. The photo's own measure counts beside those of its files, which may all have been
 * written into.
 */
const isProven = (
  { known }: ScanItem,
  fingerprint: string,
  photo: PhotoRecord,
  measure: Measure | null,
  kin: readonly Kin[],
  recorded: string | null,
): boolean =>
  photo.id === recorded ||
  (known?.photoId === photo.id && known.fingerprint === fingerprint) ||
  (measure !== null &&
    [photo, ...kin.filter(({ photoId }) => photoId === photo.id)].some((one) => samePicture(one, measure)));

/**
 * The photo a record speaks of: by its name, by a file that has the same measure, else by the fingerprint it was
 * known by.
 */
export async function photoOfRecord(
  context: ScanContext,
  record: OnRecord | undefined,
  fingerprint: string,
  measure: Measure,
): Promise<string | null> {
  const twin = await context.tools.db.files
    .where('sha256')
    .equals(measure.sha256)
    .filter(({ photoId }) => photoId !== null)
    .first();
  const recorded =
    (await recordedAs(context, record?.photoId, measure)) ??
    twin?.photoId ??
    (await recordedAs(context, context.records.photoBySha256.get(measure.sha256), measure));
  if (recorded !== null) return recorded;
  const print = record?.fingerprint ?? fingerprint;
  if (print === '') return null;
  const isTaken = (await recordedAs(context, print, measure)) === null;
  return photoFor(print, measure, [], null, () => isTaken);
}

/**
 * The photo a record names, unless another picture goes by that name here: of those that share a fingerprint, the
 * first that was met has it.
 */
async function recordedAs(
  context: ScanContext,
  photoId: string | null | undefined,
  measure: Measure | null,
): Promise<string | null> {
  if (!photoId) return null;
  const photo = await context.tools.db.photos.get(photoId);
  return photo && measure && isOther(photo, measure) ? null : photoId;
}

/**
 * Which photo a file is of, and that photo where the catalog has it; `null` where it came meanwhile, and is not
 * proven to be this one.
 */
export async function whichPhoto(
  context: ScanContext,
  item: ScanItem,
  { result, kin, claim }: Opened,
  measure: Measure | null,
): Promise<Identified | null> {
  const { db } = context.tools;
  const { identities, records } = context;
  const { fingerprint } = result;
  const recorded =
    (await recordedAs(context, claim?.photoId, measure)) ??
    (await recordedAs(context, measure && records.photoBySha256.get(measure.sha256), measure)) ??
    (await recordedAs(context, identities.get(fingerprint), measure));
  const isTaken = (await db.photos.get(fingerprint)) !== undefined;
  const photoId = photoFor(fingerprint, measure, kin, recorded, () => isTaken);
  const known = await db.photos.get(photoId);
  return known && !isProven(item, fingerprint, known, measure, kin, recorded) ? null : { photoId, known, recorded };
}

/**
 * Whether a photo that shares the fingerprint of another, and not its bytes, may be that one with damage: by its
 * name, because that one is gone from its place on this drive, or because the drive's record says so.
 */
export async function isRival(
  context: ScanContext,
  { path }: DriveEntry,
  rivals: readonly Kin[],
  recorded: string | null,
): Promise<boolean> {
  if (rivals.some(({ photoId }) => photoId === recorded)) return true;
  const files = await context.tools.db.files
    .where('photoId')
    .anyOf(rivals.map(({ photoId }) => photoId))
    .toArray();
  const isGone = (file: FileRecord) =>
    file.driveId === context.driveId && context.known.has(file.path) && !context.there.has(file.path);
  return files.some((file) => isGone(file) || foldName(nameIn(file.path)) === foldName(nameIn(path)));
}
