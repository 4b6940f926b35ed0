// Second copies and checks: every byte read, every digest held against the file's measure, the drive's records brought
// up to date.

import { isPhotoName } from '@/core/formats/containers/formats';
import { baseOf, foldName, folderIn, joinedPath, nameIn, nthPath } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { type DriveRecords, MANIFEST_FILE, readRecords } from '../archive/fixity-file';
import { pathToBe } from '../catalog/changes';
import { placeCopy } from '../catalog/copies';
import { writeFixityOf } from '../catalog/manifest';
import { fileMissing } from '../catalog/photos';
import { sentHere } from '../catalog/sendable';
import type { FileRecord, JobReport } from '../catalog/records';
import { type Drive, DriveError, isInFolder } from '../drives/drive';
import { listAll } from '../drives/list-all';
import { verifyFile } from './digesting';
import { innerDrives } from './inner-drives';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';

export type CopyReport = JobReport & { kind: 'copy' };
export type CheckReport = JobReport & { kind: 'check' };

export interface CopyRequest {
  source: { id: string; drive: Drive; writable: boolean };
  target: { id: string; drive: Drive };
  /** `null`: every photo of the source drive. */
  photoIds: string[] | null;
}

/** After this many files the manifests are written, so that an interruption costs little. */
const FILES_BETWEEN_MANIFESTS = 200;

/**
 * Copies photos with their sidecars to another drive. What is verified there already is left out, so a copy resumes;
 * what is in doubt or damaged is not copied on.
 */
export async function copyPhotos(tools: JobTools, { source, target, photoIds }: CopyRequest): Promise<CopyReport> {
  const { db, fileTasks, control, now } = tools;
  const report: CopyReport = {
    kind: 'copy',
    copied: 0,
    alreadyThere: 0,
    bytes: 0,
    inDoubt: 0,
    damaged: [],
    problems: [],
  };
  control.reporting(report);
  await source.drive.confirm();
  await target.drive.confirm();
  const chosen = await chosenFiles(tools, source.id, photoIds);
  report.inDoubt = chosen.filter(({ state }) => state === 'doubt').length;
  const files = chosen.filter(({ state }) => state === 'present');
  const onTarget = await db.files.where('driveId').equals(target.id).toArray();
  const there = new Set(
    onTarget
      .filter(({ state, verifiedAt }) => state === 'present' && verifiedAt !== null)
      .map(({ photoId }) => photoId),
  );
  const waiting = files.filter((file) => !there.has(file.photoId));
  report.alreadyThere = files.length - waiting.length;
  const paths = planPaths(waiting, onTarget);
  const [sourceMarked, targetMarked] = (await db.drives.bulkGet([source.id, target.id])).map(
    (drive) => drive?.marked ?? false,
  );
  // every byte counts twice: once written, once read back
  const progress = startProgress(
    'copying',
    waiting.length,
    2 * waiting.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
  );
  control.progress({ ...progress });
  const onBytes = (bytes: number) => {
    progress.doneBytes += bytes;
    control.progress({ ...progress });
  };
  const writeManifests = async () => {
    await writeFixityOf(db, target.id, target.drive);
    if (source.writable) await writeFixityOf(db, source.id, source.drive);
  };
  const work = async ({ id, path: before }: FileRecord) => {
    // as it is now: it may have been written into, moved or found damaged since
    const file = await db.files.get(id);
    if (file?.state !== 'present') return;
    const copy = await placeCopy(
      { db, now, copy: (order) => fileTasks.copy(order, onBytes, control.signal) },
      {
        file,
        source: { drive: source.drive, marked: sourceMarked ?? false },
        target: { id: target.id, drive: target.drive, marked: targetMarked ?? false },
        path: paths.get(before) ?? file.path,
      },
    );
    progress.doneItems += 1;
    control.progress({ ...progress });
    if (copy.outcome === 'copied') {
      report.copied += 1;
      report.bytes += file.sizeBytes;
      if (report.copied % FILES_BETWEEN_MANIFESTS === 0) await writeManifests();
    } else report.alreadyThere += 1;
  };
  try {
    const onProblem = (file: FileRecord, error: unknown) => {
      if (error instanceof DriveError && error.problem === 'source-damaged') report.damaged.push(file.path);
      report.problems.push(itemProblemOf(file.path, error));
    };
    await forEachItem(waiting, control, work, onProblem, source.drive.atOnce && target.drive.atOnce);
  } finally {
    const onDrive = await db.drives.get(target.id);
    if (onDrive) await db.drives.update(target.id, { bytes: onDrive.bytes + report.bytes });
    await writeManifests().catch((error: unknown) => report.problems.push(itemProblemOf(MANIFEST_FILE, error)));
  }
  return report;
}

/** The files a copy is asked of; what was left out of the catalog or set aside only where it was chosen itself. */
async function chosenFiles({ db }: JobTools, driveId: string, photoIds: string[] | null): Promise<FileRecord[]> {
  const chosen = photoIds && new Set(photoIds);
  const leftOut = new Set((await db.leftOut.toArray()).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const files = (await db.files.where('driveId').equals(driveId).toArray()).filter(
    (file) => file.photoId && (file.state === 'present' || file.state === 'doubt'),
  );
  return files.filter((file) =>
    chosen ? chosen.has(file.photoId ?? '') : !leftOut.has(file.photoId ?? '') && asideOf(pathToBe(file)) === null,
  );
}

/**
 * Where each file is to lie on the target, by its path on the source: as there, unless that name is another's already,
 * on the target or in this batch, as the least discerning file system compares names. Linear, however many names differ
 * by their case alone.
 */
export function planPaths(
  files: readonly Pick<FileRecord, 'path' | 'photoId'>[],
  onTarget: readonly Pick<FileRecord, 'path' | 'photoId'>[],
): Map<string, string> {
  const owner = new Map(onTarget.map(({ path, photoId }) => [foldName(path), { path, photoId }]));
  const next = new Map<string, number>();
  const planned = new Map<string, string>();
  for (const { path, photoId } of files) {
    const base = foldName(joinedPath(folderIn(path), baseOf(nameIn(path))));
    // what is there of the same photo, under the same spelling, is for the copy to compare
    const isFree = (to: string) => {
      const taken = owner.get(foldName(to));
      return !taken || (taken.photoId === photoId && taken.path === to);
    };
    let number = next.get(base) ?? 1;
    while (!isFree(nthPath(path, number))) number += 1;
    if (number > 1) next.set(base, number + 1);
    const to = nthPath(path, number);
    owner.set(foldName(to), { path: to, photoId: null });
    planned.set(path, to);
  }
  return planned;
}

/** Reads everything on a drive again, and names what is damaged, missing or new. */
export async function checkDrive(
  tools: JobTools,
  driveId: string,
  drive: Drive,
  writable: boolean,
): Promise<CheckReport> {
  const { db, control, now } = tools;
  const report: CheckReport = { kind: 'check', sound: 0, damaged: [], missing: [], added: [], problems: [] };
  control.reporting(report);
  await drive.confirm();
  const marked = (await db.drives.get(driveId))?.marked ?? false;
  const known = new Map((await db.files.where('driveId').equals(driveId).toArray()).map((file) => [file.path, file]));
  const records = await readRecords(drive, driveId).catch((error: unknown): DriveRecords => {
    report.problems.push(itemProblemOf(MANIFEST_FILE, error));
    return { byPath: new Map(), photoBySha256: new Map() };
  });
  const { entries, hidden } = await entriesOf(tools, drive, report);
  await drive.confirm();
  const present = new Set(entries.map(({ path }) => path));
  const { places: sent } = await sentHere(db);
  const isMoving = (path: string) => known.get(path)?.movingTo !== null && known.has(path);
  report.added = entries
    .map(({ path }) => path)
    .filter((path) => !known.has(path) && !records.byPath.has(path) && !sent.has(`${driveId}/${path}`));
  const expected = new Set([
    ...records.byPath.keys(),
    ...[...known.values()].filter(({ photoId }) => photoId).map(({ path }) => path),
  ]);
  for (const path of expected)
    if (!present.has(path) && !isInFolder(path, hidden) && !isMoving(path)) report.missing.push(path);
  const progress = startProgress(
    'digesting',
    entries.length,
    entries.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
  );
  control.progress({ ...progress });
  const onBytes = (bytes: number) => {
    progress.doneBytes += bytes;
    control.progress({ ...progress });
  };
  const work = async ({ path }: { path: string }) => {
    const file = known.get(path);
    const verdict = file
      ? await verifyFile({ ...tools, signal: control.signal }, drive, file.id, marked, onBytes)
      : await againstRecord(tools, drive, path, records, onBytes);
    progress.doneItems += 1;
    control.progress({ ...progress });
    if (verdict === 'damaged') report.damaged.push(path);
    if (verdict === 'described')
      report.problems.push({ path, problem: { code: 'drive/problem', reason: 'described' } });
    if (verdict === 'verified') report.sound += 1;
  };
  await forEachItem(
    entries,
    control,
    work,
    (entry, error) => report.problems.push(itemProblemOf(entry.path, error)),
    drive.atOnce,
  );
  await drive.confirm();
  for (const path of report.missing) {
    const file = known.get(path);
    // it may have been moved meanwhile
    if (!file || (await db.files.get(file.id))?.path !== path) continue;
    await fileMissing(db, file.id, now());
  }
  if (writable)
    await writeFixityOf(db, driveId, drive).catch((error: unknown) =>
      report.problems.push(itemProblemOf(MANIFEST_FILE, error)),
    );
  return report;
}

/** A file this catalog does not know, held against what its drive says of it. */
async function againstRecord(
  { fileTasks, control }: JobTools,
  drive: Drive,
  path: string,
  { byPath }: DriveRecords,
  onBytes: (bytes: number) => void,
): Promise<'verified' | 'damaged'> {
  const record = byPath.get(path);
  const { file } = await fileTasks.digest(await drive.open(path), onBytes, control.signal);
  return !record || file === record.measure.sha256 || file === record.also ? 'verified' : 'damaged';
}

async function entriesOf({ control, db }: JobTools, drive: Drive, report: CheckReport) {
  const entries = [];
  const hidden: string[] = [];
  const onUnlisted = (path: string, error: Error) => {
    hidden.push(path);
    report.problems.push(itemProblemOf(path, error));
  };
  const archives: string[] = [];
  for await (const entry of listAll(drive, {
    signal: control.signal,
    onUnlisted,
    onArchive: (folder) => archives.push(folder),
  }))
    if (isPhotoName(entry.path)) entries.push(entry);
  hidden.push(...(await innerDrives(db, drive, archives)).keys());
  return { entries: entries.filter(({ path }) => !isInFolder(path, hidden)), hidden };
}
