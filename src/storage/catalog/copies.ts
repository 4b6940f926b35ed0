// A copy of a photo's file on another drive, with its sidecar, and the record of it.

import { sameBytes } from '@/core/bytes/join';
import { pathBeside } from '@/core/names/file-names';
import type { Drive } from '../drives/drive';
import { type CopyResult, readIfThere, replaceFile } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { sidecarItem } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { isUpToDate, recordOf } from './sidecars';

export type CopyBytes = (order: { drive: Drive; path: string; file: Blob; expected: string | null }) => Promise<CopyResult>;

export interface CopyPlace {
  file: FileRecord;
  source: Drive;
  target: { id: string; drive: Drive };
  /** Where it is to go on the target. */
  path: string;
}

/** Copies and proves the bytes, brings the sidecar along, records the file, and queues what the sidecar does not say yet. */
export async function placeCopy({ db, now, copy: copyBytes }: { db: CatalogDatabase; now: () => number; copy: CopyBytes }, { file, source, target, path }: CopyPlace): Promise<CopyResult> {
  const photo = file.photoId ? await db.photos.get(file.photoId) : undefined;
  const blob = await source.open(file.path);
  const expected = file.sha256 ?? (file.fingerprint === photo?.id ? (photo?.sha256 ?? null) : null);
  const copy = await copyBytes({ drive: target.drive, path, file: blob, expected });
  // named as beside the original; after the copy's own full name where the copy had to be numbered
  const sidecarPath = copy.path === path ? pathBeside(file.sidecar?.path ?? file.sidecarTarget, file.path, path) : `${copy.path}.xmp`;
  const sidecar = await copySidecar(file, source, target.drive, sidecarPath);
  const placed = await target.drive.open(copy.path);
  const record: FileRecord = {
    ...file, id: `${target.id}/${copy.path}`, driveId: target.id, path: copy.path, wantedPath: null, modifiedMs: placed.lastModified,
    state: 'present', sha256: copy.sha256, provenAt: now(), ...sidecar,
  };
  await db.files.put(record);
  // edits that wait for the source's sidecar, or a sidecar that was there and says otherwise
  if (photo && !isUpToDate(record, photo)) await db.outbox.put(sidecarItem(record, now()));
  return copy;
}

/** The sidecar goes along byte for byte. One that is there already and says something else is left; the outbox merges it. */
async function copySidecar(file: FileRecord, source: Drive, target: Drive, path: string): Promise<Pick<FileRecord, 'sidecar' | 'sidecarTarget'>> {
  const bytes = file.sidecar ? await readIfThere(source, file.sidecar.path) : null;
  if (!bytes || !file.sidecar) return { sidecar: null, sidecarTarget: path };
  const there = await readIfThere(target, path);
  if (there && !sameBytes(there, bytes)) return { sidecar: null, sidecarTarget: path };
  if (!there) await replaceFile(target, path, bytes, null);
  const { lastModified } = await target.open(path);
  return { sidecar: recordOf({ path, sizeBytes: bytes.length, modifiedMs: lastModified }, await sha256Hex(bytes), file.sidecar.base), sidecarTarget: path };
}
