// Filing what a full reading of a file found.
//
//   first full reading of a photo                              → its digests are the measure
//   same bytes as the photo's first file, by fingerprint       → all bytes must be the same, else it is damaged
//   other bytes (metadata were written since)                  → the file's own digest must be the same as last time, and
//                                                                the picture's the photo's, else it is damaged
//   a photo newly found whose picture another one has, and
//     which says nothing else                                  → one photo with two files

import type { FileDigests } from '@/core/digest/image-digest';
import { differingKeys } from '@/core/fields/values';
import type { FileRecord, ItemTrouble, PhotoRecord } from '../catalog/records';
import { manifestAfterWriting, sidecarItem } from '../catalog/changes';
import { embeddedIn, isUpToDate } from '../catalog/sidecars';
import type { Drive } from '../drives/drive';
import { type JobTools, forEachItem, startProgress, troubleOf } from './job-tools';

/** Reads every byte of the files whose digest is not known. */
export async function digestNew(tools: JobTools, driveId: string, drive: Drive, troubles: ItemTrouble[]): Promise<void> {
  const { db, hands, control } = tools;
  const files = (await db.files.where('driveId').equals(driveId).toArray()).filter((file) => file.photoId && file.state === 'present' && file.sha256 === null);
  const progress = startProgress('digesting', files.length, files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  control.progress({ ...progress });
  const work = async (file: FileRecord) => {
    const digests = await hands.digest(await drive.open(file.path), (bytes) => {
      progress.doneBytes += bytes;
      control.progress({ ...progress });
    }, control.signal);
    await recordDigests(tools, file, digests);
    await joinSamePicture(tools, file.id);
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(files, control, work, (file, error) => troubles.push(troubleOf(file.path, error)));
}

export async function recordDigests({ db, now, onPhotos }: JobTools, file: FileRecord, digests: FileDigests): Promise<'sound' | 'damaged'> {
  const photoId = file.photoId;
  if (!photoId) return 'sound';
  const verdict = await db.transaction('rw', db.photos, db.files, async () => {
    const photo = await db.photos.get(photoId);
    const sound = photo === undefined || isSound(file, photo, digests);
    const isFirst = photo?.sha256 === null && file.fingerprint === photo.id;
    if (photo && isFirst) await db.photos.update(photoId, { sha256: digests.file, imageSha256: digests.image });
    else if (photo?.imageSha256 === null && sound && digests.image !== null) await db.photos.update(photoId, { imageSha256: digests.image });
    const read = { sha256: digests.file, imageSha256: digests.image, provenAt: now(), state: 'present' as const };
    await db.files.update(file.id, sound ? read : { state: 'damaged' });
    return sound ? 'sound' : 'damaged';
  });
  onPhotos([photoId]);
  return verdict;
}

function isSound(file: FileRecord, photo: PhotoRecord, digests: FileDigests): boolean {
  if (file.fingerprint === photo.id) return photo.sha256 === null || photo.sha256 === digests.file;
  if (file.sha256 !== null && file.sha256 !== digests.file) return false;
  return photo.imageSha256 === null || photo.imageSha256 === digests.image;
}

/** Makes one photo of two that show the same picture, where the newcomer has no words of its own that the other lacks. */
async function joinSamePicture({ db, now, onPhotos }: JobTools, fileId: string): Promise<void> {
  const joined = await db.transaction('rw', [db.photos, db.files, db.previews, db.looks, db.outbox, db.conflicts], async () => {
    const file = await db.files.get(fileId);
    const newcomer = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (!file || !newcomer?.imageSha256) return null;
    const others = await db.photos.where('imageSha256').equals(newcomer.imageSha256).toArray();
    const known = others.filter(({ id }) => id !== newcomer.id).sort((a, b) => a.addedAt - b.addedAt)[0];
    if (!known || known.addedAt > newcomer.addedAt || differingKeys(newcomer.fields, known.fields).some((key) => newcomer.fields[key] !== undefined)) return null;
    const files = await db.files.where('photoId').equals(newcomer.id).toArray();
    for (const one of files) {
      const moved = { ...one, photoId: known.id, embedded: embeddedIn(one, newcomer) };
      await db.files.put(moved);
      if (!isUpToDate(moved, known)) await db.outbox.put(sidecarItem(moved, now()));
    }
    for (const driveId of new Set(files.map((one) => one.driveId))) await db.outbox.put(manifestAfterWriting(driveId, now()));
    await db.photos.delete(newcomer.id);
    await db.previews.delete(newcomer.id);
    await db.looks.delete(newcomer.id);
    return [newcomer.id, known.id];
  });
  if (joined) onPhotos(joined);
}
