// Checks: every byte read, every digest held against the file's measure, the drive's records brought up to date. What was
// read longest ago is read first; a check that is resumed goes on where it was, and one of a portion reads a part of the
// drive that is due.

import { isPhotoName } from '@/core/formats/containers/formats';
import { type DriveRecords, MANIFEST_FILE, readRecords } from '../archive/fixity-file';
import { writeFixityOf } from '../catalog/manifest';
import { fileMissing } from '../catalog/photos';
import { sentHere } from '../catalog/sendable';
import type { FileRecord, JobReport } from '../catalog/records';
import { type Drive, type DriveEntry, isInFolder } from '../drives/drive';
import { verifyFile } from './digesting';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';
import { ownEntries } from './own-entries';

export type CheckReport = JobReport & { kind: 'check' };

export interface CheckOrder {
  /** What was verified since then was verified by this very check, before it was interrupted. */
  since: number | null;
  /** Of the bytes on the drive the share that is read; `null` for all. */
  share: number | null;
}

const ALL: CheckOrder = { since: null, share: null };

/** Reads what is on a drive again, and names what is damaged, missing or new. */
export async function checkDrive(
  tools: JobTools,
  driveId: string,
  drive: Drive,
  writable: boolean,
  order: CheckOrder = ALL,
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
  const { entries: all, hidden, bags } = await ownEntries(tools, drive, report, isPhotoName);
  const entries = all.filter(({ path }) => !isInFolder(path, bags));
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
    if (!present.has(path) && !isInFolder(path, hidden) && !isInFolder(path, bags) && !isMoving(path))
      report.missing.push(path);
  // what is new here has nothing it could be held against: it is named, and no more
  const measured = entries.filter(({ path }) => known.has(path) || records.byPath.has(path));
  const { due, read } = entriesDue(measured, known, order, now());
  report.sound = read;
  const progress = startProgress(
    'digesting',
    due.length,
    due.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
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
    due,
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

/**
 * What is to be read, the longest ago first: what was never read, or is no file of the catalog, before all. `read`: how
 * many this check has read already.
 */
function entriesDue(
  entries: readonly DriveEntry[],
  known: ReadonlyMap<string, FileRecord>,
  { since, share }: CheckOrder,
  at: number,
): { due: DriveEntry[]; read: number } {
  const readAt = ({ path }: DriveEntry) => known.get(path)?.verifiedAt ?? -Infinity;
  const due = entries
    .filter((entry) => since === null || readAt(entry) < since || readAt(entry) > at)
    .sort((a, b) => readAt(a) - readAt(b) || (a.path < b.path ? -1 : 1));
  const read = entries.length - due.length;
  if (share === null) return { due, read };
  let left = share * entries.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const portion = due.findIndex(({ sizeBytes }) => (left -= sizeBytes) <= 0);
  return { due: portion < 0 ? due : due.slice(0, portion + 1), read: 0 };
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
  return file === record?.measure.sha256 || file === record?.also ? 'verified' : 'damaged';
}
