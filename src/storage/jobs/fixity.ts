// Second copies and checks: every byte read, every digest held against the photo's, manifest and proofs brought up to date.

import { sameBytes } from '@/core/bytes/join';
import { isPhotoName } from '@/core/containers/formats';
import { writeFixity, readManifest } from '../archive/archive-files';
import { sidecarItem } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import type { FileRecord, JobReport, PhotoRecord } from '../catalog/records';
import { isUpToDate, recordOf } from '../catalog/sidecars';
import { type Drive, isBelow, splitPath } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { type JobTools, forEachItem, startProgress, troubleOf } from './job-tools';
import { recordDigests } from './digesting';

export type CopyReport = JobReport & { kind: 'copy' };
export type CheckReport = JobReport & { kind: 'check' };

export interface CopyRequest {
  source: { id: string; drive: Drive; writable: boolean };
  target: { id: string; drive: Drive };
  /** `null`: every photo of the source drive. */
  photoIds: string[] | null;
}

/** After this many files the manifests are written, so that an interruption costs little proof. */
const FILES_BETWEEN_MANIFESTS = 200;

/** Copies photos with their sidecars to another drive. What is proven there already is left out, so a copy resumes. */
export async function copyPhotos(tools: JobTools, { source, target, photoIds }: CopyRequest): Promise<CopyReport> {
  const { db, control } = tools;
  const report: CopyReport = { kind: 'copy', copied: 0, alreadyThere: 0, bytes: 0, troubles: [] };
  control.reporting(report);
  const chosen = photoIds && new Set(photoIds);
  const files = (await db.files.where('driveId').equals(source.id).toArray()).filter((file) => file.photoId && file.state === 'present' && (!chosen || chosen.has(file.photoId)));
  const there = new Map((await db.files.where('driveId').equals(target.id).toArray()).filter(({ state, provenAt }) => state === 'present' && provenAt !== null).map((file) => [file.photoId, file]));
  const waiting = files.filter((file) => !there.has(file.photoId));
  report.alreadyThere = files.length - waiting.length;
  // every byte counts twice: once written, once read back
  const progress = startProgress('copying', waiting.length, 2 * waiting.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  control.progress({ ...progress });
  const onBytes = (bytes: number) => {
    progress.doneBytes += bytes;
    control.progress({ ...progress });
  };
  const writeManifests = async () => {
    await writeFixityOf(db, target.id, target.drive);
    if (source.writable) await writeFixityOf(db, source.id, source.drive);
  };
  const work = async (file: FileRecord) => {
    const copy = await copyOne(tools, file, source, target, onBytes);
    progress.doneItems += 1;
    control.progress({ ...progress });
    if (copy.outcome === 'copied') {
      report.copied += 1;
      report.bytes += file.sizeBytes;
      if (report.copied % FILES_BETWEEN_MANIFESTS === 0) await writeManifests();
    } else report.alreadyThere += 1;
  };
  try {
    await forEachItem(waiting, control, work, (file, error) => report.troubles.push(troubleOf(file.path, error)));
  } finally {
    const onTarget = await db.drives.get(target.id);
    if (onTarget) await db.drives.update(target.id, { bytes: onTarget.bytes + report.bytes });
    await writeManifests().catch((error: unknown) => report.troubles.push(troubleOf('_wembo/manifest-sha256.txt', error)));
  }
  return report;
}

async function copyOne(tools: JobTools, file: FileRecord, source: CopyRequest['source'], target: CopyRequest['target'], onBytes: (bytes: number) => void) {
  const { db, hands, control, now } = tools;
  const photo = file.photoId ? await db.photos.get(file.photoId) : undefined;
  const blob = await source.drive.open(file.path);
  const copy = await hands.copy({ drive: target.drive, path: file.path, file: blob, expected: file.sha256 ?? (file.fingerprint === photo?.id ? (photo?.sha256 ?? null) : null) }, onBytes, control.signal);
  const sidecar = await copySidecar(file, source.drive, target.drive, copy.path);
  const placed = await target.drive.open(copy.path);
  const placedFile: FileRecord = {
    ...file, id: `${target.id}/${copy.path}`, driveId: target.id, path: copy.path, modifiedMs: placed.lastModified,
    state: 'present', sha256: copy.sha256, provenAt: now(), ...sidecar,
  };
  await db.files.put(placedFile);
  // edits that wait for the source's sidecar, or a sidecar that was there and says otherwise
  if (photo && !isUpToDate(placedFile, photo)) await db.outbox.put(sidecarItem(placedFile, now()));
  await recordDigests(tools, file, { file: copy.sha256, image: file.imageSha256 });
  return copy;
}

/** The sidecar goes along byte for byte. One that is there already and says something else is left; the outbox merges it. */
async function copySidecar(file: FileRecord, source: Drive, target: Drive, copyPath: string): Promise<Pick<FileRecord, 'sidecar' | 'sidecarTarget'>> {
  const path = sidecarPathFor(file, copyPath);
  const bytes = file.sidecar ? await readIfThere(source, file.sidecar.path) : null;
  if (!bytes || !file.sidecar) return { sidecar: null, sidecarTarget: path };
  const there = await readIfThere(target, path);
  if (there && !sameBytes(there, bytes)) return { sidecar: null, sidecarTarget: path };
  if (!there) await replaceFile(target, path, bytes, null);
  const { lastModified } = await target.open(path);
  return { sidecar: recordOf({ path, sizeBytes: bytes.length, modifiedMs: lastModified }, await sha256Hex(bytes), file.sidecar.base), sidecarTarget: path };
}

/** Beside the copy, named as beside the original; after the copy's own full name where the copy had to be renamed. */
function sidecarPathFor(file: FileRecord, copyPath: string): string {
  if (copyPath !== file.path) return `${copyPath}.xmp`;
  const folders = splitPath(copyPath).folders;
  return [...folders, splitPath(file.sidecar?.path ?? file.sidecarTarget).name].join('/');
}

/** Reads everything on a drive again, and names what is damaged, missing or new. */
export async function checkDrive(tools: JobTools, driveId: string, drive: Drive, writable: boolean): Promise<CheckReport> {
  const { db, hands, control } = tools;
  const report: CheckReport = { kind: 'check', sound: 0, damaged: [], missing: [], added: [], troubles: [] };
  control.reporting(report);
  const known = new Map((await db.files.where('driveId').equals(driveId).toArray()).map((file) => [file.path, file]));
  const manifest = new Map((await readManifest(drive)).map(({ path, sha256 }) => [path, sha256]));
  const entries = [];
  const unlisted: string[] = [];
  const onUnlisted = (path: string, error: Error) => {
    unlisted.push(path);
    report.troubles.push(troubleOf(path, error));
  };
  for await (const entry of drive.list({ signal: control.signal, onUnlisted })) {
    if (isPhotoName(entry.path)) entries.push(entry);
  }
  const present = new Set(entries.map(({ path }) => path));
  report.added = entries.map(({ path }) => path).filter((path) => !known.has(path) && !manifest.has(path));
  for (const path of new Set([...manifest.keys(), ...[...known.values()].filter(({ photoId }) => photoId).map((file) => file.path)])) if (!present.has(path) && !isBelow(path, unlisted)) report.missing.push(path);
  const progress = startProgress('digesting', entries.length, entries.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  control.progress({ ...progress });
  const work = async ({ path }: { path: string }) => {
    const digests = await hands.digest(await drive.open(path), (bytes) => {
      progress.doneBytes += bytes;
      control.progress({ ...progress });
    }, control.signal);
    progress.doneItems += 1;
    control.progress({ ...progress });
    const file = known.get(path);
    const expected = file?.sha256 ?? manifest.get(path) ?? null;
    const sound = (file ? (await recordDigests(tools, file, digests)) === 'sound' : true) && (expected === null || expected === digests.file);
    if (sound) report.sound += 1;
    else {
      report.damaged.push(path);
      if (file) await db.files.update(file.id, { state: 'damaged' });
    }
  };
  await forEachItem(entries, control, work, (entry, error) => report.troubles.push(troubleOf(entry.path, error)));
  await markMissing(tools, report.missing, known);
  if (writable) await writeFixityOf(db, driveId, drive).catch((error: unknown) => report.troubles.push(troubleOf('_wembo/manifest-sha256.txt', error)));
  return report;
}

async function markMissing({ db, onPhotos }: JobTools, paths: string[], known: Map<string, FileRecord>): Promise<void> {
  for (const path of paths) {
    const file = known.get(path);
    if (!file) continue;
    await db.files.update(file.id, { state: 'missing' });
    if (file.photoId) onPhotos([file.photoId]);
  }
}

/** The manifest lists what the drive should hold, damaged and missing files included, by the digest they should have. */
export async function writeFixityOf(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const files = await db.files.where('driveId').equals(driveId).toArray();
  const photos = new Map<string, PhotoRecord | undefined>();
  for (const photo of await db.photos.bulkGet([...new Set(files.flatMap(({ photoId }) => photoId ?? []))])) if (photo) photos.set(photo.id, photo);
  const manifest = files.flatMap(({ path, photoId, sha256 }) => {
    const should = sha256 ?? (photoId ? photos.get(photoId)?.sha256 : null);
    return should ? [{ path, sha256: should }] : [];
  });
  const proofs = files.flatMap(({ path, sizeBytes, modifiedMs, sha256, imageSha256, provenAt, state }) =>
    state === 'present' && sha256 && provenAt ? [{ path, bytes: sizeBytes, modified: modifiedMs, sha256, ...(imageSha256 && { imageSha256 }), provenAt }] : [],
  );
  await writeFixity(drive, manifest, proofs);
}
