// Where a sidecar on a drive meets the catalog: taking over what another program wrote, keeping both versions where
// both sides changed, and writing what the catalog holds. Pure decisions are in core/changes/merge.ts.

import { sameBytes } from '@/core/bytes/join';
import { endingOf } from '@/core/containers/formats';
import { planFields } from '@/core/changes/edits';
import { mergeFields } from '@/core/changes/merge';
import type { FieldValues } from '@/core/fields/registry';
import { sameFields } from '@/core/fields/values';
import type { Problem } from '@/core/problems/problem';
import { effectiveFields, parseSidecar, planSidecar } from '@/core/xmp/sidecar';
import { type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { makeChange, sidecarItem } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord, SidecarRecord } from './records';

export interface FoundSidecar {
  path: string;
  sizeBytes: number;
  modifiedMs: number;
  bytes: Uint8Array;
}

export type Taken = { state: 'taken'; tookOver: number; conflicts: number } | { state: 'unreadable'; problems: Problem[] };

/** Reads a sidecar that is not as we last saw it, into the catalog. Both versions are kept where both sides changed. */
export async function takeSidecar(db: CatalogDatabase, file: FileRecord, photo: PhotoRecord, found: FoundSidecar, at: number): Promise<Taken> {
  const sidecar = parseSidecar(found.bytes);
  if (sidecar.state !== 'read') return { state: 'unreadable', problems: sidecar.state === 'unreadable' ? sidecar.problems : [] };
  const theirs = effectiveFields(embeddedIn(file, photo), sidecar.value);
  const sha256 = await sha256Hex(found.bytes);
  const merge = mergeFields(file.sidecar?.base ?? embeddedIn(file, photo), photo.fields, theirs);
  await db.files.update(file.id, { sidecar: recordOf(found, sha256, theirs), sidecarTarget: found.path });
  if (merge.take.length > 0) {
    await makeChange(db, { kind: 'fields', origin: 'sidecar', edits: planFields(photo, theirs, merge.take) }, at);
  }
  if (merge.conflicts.length > 0) {
    await db.conflicts.put({ fileId: file.id, photoId: photo.id, keys: merge.conflicts, theirs, sidecarSha256: sha256, foundAt: at });
  } else {
    await db.conflicts.delete(file.id);
  }
  return { state: 'taken', tookOver: merge.take.length, conflicts: merge.conflicts.length };
}

export const recordOf = (found: Omit<FoundSidecar, 'bytes'>, sha256: string, base: FieldValues): SidecarRecord => ({
  path: found.path, sizeBytes: found.sizeBytes, modifiedMs: found.modifiedMs, sha256, base,
});

/** Whether what stands beside the file says the same as the catalog. */
export const isUpToDate = (file: FileRecord, photo: PhotoRecord): boolean => sameFields(file.sidecar?.base ?? embeddedIn(file, photo), photo.fields);

/** What the image file itself says. */
export const embeddedIn = (file: FileRecord, photo: PhotoRecord): FieldValues => file.embedded ?? photo.embedded;

export type Written = 'written' | 'nothing-to-do' | 'conflict' | { trouble: string };

/** Brings the sidecar of one file up to date. What another program wrote meanwhile is taken in first. */
export async function writeSidecar(db: CatalogDatabase, drive: Drive, fileId: string, at: number, onPhotos: (photoIds: string[]) => void): Promise<Written> {
  const file = await db.files.get(fileId);
  let photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
  if (!file || !photo || file.state === 'missing') return 'nothing-to-do';
  const path = file.sidecar?.path ?? file.sidecarTarget;
  const existing = await readIfThere(drive, path);
  const existingSha256 = existing ? await sha256Hex(existing) : null;
  if (existing && existingSha256 !== file.sidecar?.sha256) {
    const taken = await takeSidecar(db, file, photo, { path, sizeBytes: existing.length, modifiedMs: at, bytes: existing }, at);
    if (taken.state === 'unreadable') return { trouble: 'sidecar-unreadable' };
    onPhotos([photo.id]);
    photo = (await db.photos.get(photo.id)) ?? photo;
  }
  if (await db.conflicts.get(fileId)) return 'conflict';
  if (!existing && sameFields(embeddedIn(file, photo), photo.fields)) return 'nothing-to-do';
  const plan = planSidecar({ existing, fields: photo.fields, embedded: embeddedIn(file, photo), ending: endingOf(file.path) });
  if ('problems' in plan) return { trouble: 'sidecar-unreadable' };
  const same = existing !== null && sameBytes(existing, plan.bytes);
  if (!same) await replaceFile(drive, path, plan.bytes, existing);
  const written = await drive.open(path);
  const record = recordOf({ path, sizeBytes: plan.bytes.length, modifiedMs: written.lastModified }, await sha256Hex(plan.bytes), photo.fields);
  await db.files.update(fileId, { sidecar: record, sidecarTarget: path });
  return same ? 'nothing-to-do' : 'written';
}

/** The person decided a conflict: `decided` is what its fields are to say, here and in the file. Undo takes it back. */
export async function decideConflict(db: CatalogDatabase, fileId: string, decided: FieldValues, at: number): Promise<string[]> {
  const conflict = await db.conflicts.get(fileId);
  const photo = conflict ? await db.photos.get(conflict.photoId) : undefined;
  const file = await db.files.get(fileId);
  if (!conflict || !photo || !file) return [];
  await db.conflicts.delete(fileId);
  await makeChange(db, { kind: 'fields', origin: 'person', edits: planFields(photo, decided, conflict.keys) }, at);
  await db.outbox.put(sidecarItem(file, at));
  return [photo.id];
}
