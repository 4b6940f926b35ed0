// Second copies and checks: every byte read, every digest held against the photo's, manifest and proofs brought up to date.

import { isPhotoName } from '@/core/containers/formats';
import { asideOf } from '@/core/names/set-aside';
import { readManifest } from '../archive/archive-files';
import { pathToBe } from '../catalog/changes';
import { placeCopy } from '../catalog/copies';
import { writeFixityOf } from '../catalog/manifest';
import type { FileRecord, JobReport } from '../catalog/records';
import { type Drive, isBelow } from '../drives/drive';
import { listAll } from '../drives/list-all';
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
  const leftOut = new Set((await db.leftOut.toArray()).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const files = (await db.files.where('driveId').equals(source.id).toArray()).filter((file) => file.photoId && file.state === 'present' && (chosen ? chosen.has(file.photoId) : !leftOut.has(file.photoId) && asideOf(pathToBe(file)) === null));
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
  const copy = await placeCopy({ db, now, copy: (order) => hands.copy(order, onBytes, control.signal) }, { file, source: source.drive, target, path: file.path });
  await recordDigests(tools, file, { file: copy.sha256, image: file.imageSha256 });
  return copy;
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
  for await (const entry of listAll(drive, { signal: control.signal, onUnlisted })) {
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
