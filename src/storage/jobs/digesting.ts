// Reading files in full and filing what that found: on its own record (catalog/photos.ts), whatever the reason it was
// read for.

import type { FileRecord, JobReport } from '../catalog/records';
import { type Verdict, fileRead, joinByProof } from '../catalog/photos';
import type { CatalogDatabase } from '../catalog/database';
import type { Drive } from '../drives/drive';
import type { FileTasks } from '../file-tasks/file-tasks';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';

export interface ReadingTools {
  db: CatalogDatabase;
  fileTasks: Pick<FileTasks, 'digest'>;
  now: () => number;
  signal: AbortSignal;
}

/**
 * Not read in full since it was found or last changed; on a drive without a mark, where nothing counts as verified,
 * never.
 */
export const isUnread = ({ verifiedAt, sha256 }: FileRecord, marked: boolean): boolean =>
  marked ? verifiedAt === null : sha256 === null;

/** How often a file that is written at the same time is read again. */
const TRIES = 3;

/**
 * Reads all bytes of a file and files whether they match its measure; photos that are the same by that become one.
 * `other` where it changed all the while, or is recorded no more.
 * @param marked whether the drive bears its mark
 */
export async function verifyFile(
  { db, fileTasks, now, signal }: ReadingTools,
  drive: Drive,
  fileId: string,
  marked: boolean,
  onBytes: (bytes: number) => void = () => undefined,
): Promise<Verdict> {
  for (let tries = 0; tries < TRIES; tries++) {
    const file = await db.files.get(fileId);
    if (!file) return 'other';
    const opened = await drive.open(file.path);
    const seen = { sizeBytes: opened.size, modifiedMs: opened.lastModified };
    const digests = await fileTasks.digest(opened, onBytes, signal);
    await drive.confirm();
    const after = await drive.open(file.path);
    // what was written into while it was read says nothing
    if (after.size !== seen.sizeBytes || after.lastModified !== seen.modifiedMs) continue;
    const verdict = await fileRead(db, file, seen, digests, marked, now());
    if (verdict === 'verified' && isUnread(file, marked)) await joinByProof(db, file.id, now());
    if (verdict !== 'other') return verdict;
  }
  return 'other';
}

/**
 * Reads every byte of the files that were not verified since they were found or last changed; on a drive without a
 * mark, of those never read.
 */
export async function digestNew(
  tools: JobTools,
  driveId: string,
  drive: Drive,
  marked: boolean,
  report: JobReport & { kind: 'scan' },
): Promise<void> {
  const { db, control } = tools;
  const files = (await db.files.where('driveId').equals(driveId).toArray()).filter(
    (file) => file.photoId && file.state === 'present' && isUnread(file, marked),
  );
  if (files.length === 0) return;
  const progress = startProgress(
    'digesting',
    files.length,
    files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
  );
  control.progress({ ...progress });
  const work = async (file: FileRecord) => {
    const verdict = await verifyFile({ ...tools, signal: control.signal }, drive, file.id, marked, (bytes) => {
      progress.doneBytes += bytes;
      control.progress({ ...progress });
    });
    if (verdict === 'damaged') report.damaged.push(file.path);
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(files, control, work, (file, error) => report.problems.push(itemProblemOf(file.path, error)));
}
