// A copy of a photo's file on another drive, with its sidecar, and the record of it.

import { sameBytes } from '@/core/bytes/join';
import { nthPath, pathBeside } from '@/core/names/file-names';
import { type Drive, DriveError, type LazyBytes } from '../drives/drive';
import type { CopyResult } from '../file-tasks/verified-copy';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { sidecarItem } from './changes';
import type { CatalogDatabase } from './database';
import { addFile, fileDamaged, fileRead } from './photos';
import type { FileRecord } from './records';
import { isUpToDate, recordOf } from './sidecars';

/**
 * Copies and compares; @throws DriveError `source-damaged` where the source is not what is expected, else the problem of
 * the target
 */
export type CopyBytes = (order: {
  drive: Drive;
  path: string;
  file: LazyBytes;
  name: string;
  expected: string | null;
}) => Promise<CopyResult>;

export interface CopyPlace {
  file: FileRecord;
  source: { drive: Drive; marked: boolean };
  target: { id: string; drive: Drive; marked: boolean };
  /** Where it is to go on the target. */
  path: string;
}

/**
 * Copies the bytes of a file, all of them read back and held against its measure, brings the sidecar along, records the
 * file, and queues what the sidecar does not say yet. A source that is not its measure is filed as damaged; nothing of
 * it is copied.
 */
export async function placeCopy(
  { db, now, copy: copyBytes }: { db: CatalogDatabase; now: () => number; copy: CopyBytes },
  { file, source, target, path: asked }: CopyPlace,
): Promise<CopyResult> {
  const path = await unrecorded(db, target.id, asked, file.photoId);
  const blob = await source.drive.open(file.path);
  const seen = { sizeBytes: blob.size, modifiedMs: blob.lastModified };
  if (blob.size !== file.sizeBytes || blob.lastModified !== file.modifiedMs)
    throw new DriveError('changed-meanwhile', file.path);
  const copy = await copyBytes({ drive: target.drive, path, file: blob, name: file.path, expected: file.sha256 }).catch(
    async (error: unknown) => {
      if (!(error instanceof DriveError && error.problem === 'source-damaged')) throw error;
      await source.drive.confirm();
      await fileDamaged(db, file.id, seen, null, now());
      throw new DriveError('source-damaged', file.path);
    },
  );
  await target.drive.confirm();
  await source.drive.confirm();
  // the source was read in full, too
  await fileRead(db, file, seen, { file: copy.sha256, image: copy.imageSha256 }, source.marked, now());
  // named as beside the original; after the copy's own full name where the copy had to be numbered
  const sidecarPath =
    copy.path === path ? pathBeside(file.sidecar?.path ?? file.sidecarTarget, file.path, path) : `${copy.path}.xmp`;
  const sidecar = await copySidecar(file, source.drive, target.drive, sidecarPath);
  const id = `${target.id}/${copy.path}`;
  const record: FileRecord = {
    ...file,
    id,
    driveId: target.id,
    path: copy.path,
    wantedPath: null,
    movingTo: null,
    modifiedMs: copy.modifiedMs,
    state: 'present',
    foundSha256: null,
    sha256: copy.sha256,
    imageSha256: copy.imageSha256,
    measuredFrom: 'copy',
    verifiedAt: target.marked ? now() : null,
    ...sidecar,
  };
  await addFile(db, record, null, null, now());
  const photo = file.photoId ? await db.photos.get(file.photoId) : undefined;
  // edits that wait for the source's sidecar, or a sidecar that was there and says otherwise
  if (photo && !isUpToDate(record, photo)) await db.outbox.put(sidecarItem(record, now()));
  return copy;
}

/** The path, unless another photo is recorded there, even a missing one: that is not to be forgotten for a copy. */
async function unrecorded(
  db: CatalogDatabase,
  driveId: string,
  wanted: string,
  photoId: string | null,
): Promise<string> {
  for (let number = 1; ; number++) {
    const path = nthPath(wanted, number);
    const record = await db.files.get(`${driveId}/${path}`);
    if (!record || record.photoId === photoId) return path;
  }
}

/**
 * The sidecar goes along byte for byte. One that is there already and says something else is left; the outbox merges
 * it.
 */
async function copySidecar(
  file: FileRecord,
  source: Drive,
  target: Drive,
  path: string,
): Promise<Pick<FileRecord, 'sidecar' | 'sidecarTarget'>> {
  const bytes = file.sidecar ? await readIfThere(source, file.sidecar.path) : null;
  if (!bytes || !file.sidecar) return { sidecar: null, sidecarTarget: path };
  const there = await readIfThere(target, path);
  if (there && !sameBytes(there, bytes)) return { sidecar: null, sidecarTarget: path };
  if (!there) await replaceFile(target, path, bytes, null);
  const { lastModified } = await target.open(path);
  const sha256 = await sha256Hex(bytes);
  // another program wrote it since it was read: what it says is still to be met, here too
  if (sha256 !== file.sidecar.sha256) return { sidecar: null, sidecarTarget: path };
  return {
    sidecar: recordOf({ path, sizeBytes: bytes.length, modifiedMs: lastModified }, sha256, file.sidecar.base),
    sidecarTarget: path,
  };
}
