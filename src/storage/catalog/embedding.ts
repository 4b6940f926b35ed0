// Writing fields into the image files of a drive that is set to it, after the sidecar is safe.

import { isRawName } from '@/core/formats/containers/formats';
import type { FieldValues } from '@/core/fields/registry';
import { sameFields } from '@/core/fields/values';
import type { Measure } from '@/core/fixity/found-file';
import { type Drive, DriveError } from '../drives/drive';
import type { EmbedResult } from '../file-tasks/embed-into';
import { sidecarItem } from './changes';
import type { CatalogDatabase } from './database';
import { fileDamaged, fileWritten } from './photos';
import type { FileRecord, PhotoRecord } from './records';
import { embeddedIn } from './sidecars';

/**
 * @throws DriveError `source-damaged` where the file is not what is expected of it, `changed-meanwhile` where it is and
 * another program described it
 */
export type Embed = (order: {
  drive: Drive;
  path: string;
  fields: FieldValues;
  expected: Measure | null;
}) => Promise<EmbedResult>;

/**
 * Brings the image file in line with the catalog. Answers with the photo whose file was written, `null` where none was.
 */
export async function embedFields(
  db: CatalogDatabase,
  drive: Drive,
  fileId: string,
  embed: Embed,
  at: number,
): Promise<string | null> {
  const file = await db.files.get(fileId);
  const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
  if (!file || !photo || file.state !== 'present' || sameFields(embeddedIn(file, photo), photo.fields)) return null;
  const result = await embed({
    drive,
    path: file.path,
    fields: photo.fields,
    expected: file.sha256 === null ? null : { sha256: file.sha256, imageSha256: file.imageSha256 },
  }).catch(async (error: unknown) => {
    if (!(error instanceof DriveError && error.problem === 'source-damaged')) throw error;
    await drive.confirm();
    await fileDamaged(db, fileId, null, null, at);
    throw error;
  });
  const others = file.problems.filter(({ code }) => code !== 'embed/refused');
  if (result.state === 'refused') {
    // a format that takes no metadata is no problem: that is what sidecars are for
    if (result.reason !== 'format')
      await db.files.update(fileId, { problems: [...others, { code: 'embed/refused', reason: result.reason }] });
    return null;
  }
  if (result.state === 'nothing-to-do') {
    await db.files.update(fileId, { embedded: photo.fields, problems: others });
    return null;
  }
  await fileWritten(db, fileId, result.file, others, at);
  return photo.id;
}

/**
 * Every file of a drive that does not say by itself what the catalog says. For when the drive is set to be written
 * into.
 */
export async function queueEmbedding(db: CatalogDatabase, driveId: string, at: number): Promise<number> {
  const files = (await db.files.where('driveId').equals(driveId).toArray()).filter(
    ({ state, photoId, path }) =>
      state === 'present' && photoId !== null && (!isRawName(path) || path.toLowerCase().endsWith('.dng')),
  );
  const photos = new Map(
    (await db.photos.bulkGet(files.flatMap(({ photoId }) => photoId ?? []))).flatMap((photo) =>
      photo ? [[photo.id, photo] as const] : [],
    ),
  );
  const behind = files.filter((file) => differs(file, photos.get(file.photoId ?? '')));
  await db.outbox.bulkPut(behind.map((file) => sidecarItem(file, at)));
  return behind.length;
}

const differs = (file: FileRecord, photo: PhotoRecord | undefined): boolean =>
  photo !== undefined && !sameFields(embeddedIn(file, photo), photo.fields);
