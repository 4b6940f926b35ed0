// What the person settles of a file that is not as it should be.

import { unreadableBecause } from '@/core/metadata/reading/reading';
import { pathAside } from '@/core/names/set-aside';
import { placeCopy } from '../catalog/copies';
import { moveWanted } from '../catalog/moves';
import { queueMove } from '../catalog/changes';
import type { FileRecord } from '../catalog/records';
import { fileBroughtBack, fileDamaged, settleAsItIs, settleMissing } from '../catalog/photos';
import { type Drive, DriveError } from '../drives/drive';
import { freePath } from '../drives/safe-write';
import type { JobTools } from './job-tools';

/**
 * `as-it-is`: it is what it should be, whatever was recorded; it is read and measured anew. `damaged`: of two measures
 * the other one is right.
 * `gone`: a missing file is gone for good.
 */
export type Settled = 'as-it-is' | 'damaged' | 'gone';

/**
 * @param drive where the file lies; not needed for what is gone. @throws DriveError where the file cannot be read, or
 * is no photo
 */
export async function settleFile(
  { db, fileTasks, now, control }: Omit<JobTools, 'control'> & { control: Pick<JobTools['control'], 'signal'> },
  drive: Drive | null,
  fileId: string,
  as: Settled,
): Promise<void> {
  const file = await db.files.get(fileId);
  if (!file) return;
  if (as === 'gone') {
    await settleMissing(db, fileId, now());
    return;
  }
  if (as === 'damaged') {
    await fileDamaged(db, fileId, null, file.foundSha256, now());
    return;
  }
  if (!drive) throw new DriveError('not-found', file.path);
  const opened = await drive.open(file.path);
  const { reading, fingerprint } = await fileTasks.read(opened, file.path, control.signal);
  if (unreadableBecause(reading)) throw new DriveError('failed', file.path);
  const digests = await fileTasks.digest(opened, () => undefined, control.signal);
  const { blob } = await fileTasks.preview(opened, reading, 'small', control.signal);
  await drive.confirm();
  const marked = (await db.drives.get(file.driveId))?.marked ?? false;
  await settleAsItIs(
    db,
    fileId,
    {
      seen: { sizeBytes: opened.size, modifiedMs: opened.lastModified },
      digests,
      fingerprint,
      reading,
      preview: blob,
      marked,
    },
    now(),
  );
}

export interface Mending {
  /** The drive the file belongs on. */
  drive: Drive;
  /** A verified copy of it. */
  from: { drive: Drive; fileId: string };
  /** ISO date of today, by the person's calendar: what is damaged is set aside under it, and not written over. */
  day: string;
}

/**
 * Brings a damaged or missing file back from a verified copy. @throws DriveError where the copy is not right, or
 * something keeps the place
 */
export async function mendFile(
  { db, fileTasks, now, control }: Omit<JobTools, 'control'> & { control: Pick<JobTools['control'], 'signal'> },
  fileId: string,
  { drive, from, day }: Mending,
): Promise<void> {
  const [file, source] = await db.files.bulkGet([fileId, from.fileId]);
  if (!file || !source) return;
  if (file.state !== 'missing') await setAsideDamaged(db, drive, file, day, now());
  const marked = await db.drives.bulkGet([source.driveId, file.driveId]);
  const copy = (order: Parameters<typeof fileTasks.copy>[0]) => fileTasks.copy(order, () => undefined, control.signal);
  const placed = await placeCopy(
    { db, now, copy },
    {
      file: source,
      source: { drive: from.drive, marked: marked[0]?.marked ?? false },
      target: { id: file.driveId, drive, marked: marked[1]?.marked ?? false },
      path: file.path,
    },
  );
  await fileBroughtBack(db, `${file.driveId}/${placed.path}`, now());
}

/**
 * By the same way as everything that is moved: noted first, so that a stop in the middle leaves it known. @throws
 * DriveError where it stayed
 */
async function setAsideDamaged(
  db: JobTools['db'],
  drive: Drive,
  file: FileRecord,
  day: string,
  at: number,
): Promise<void> {
  const aside = await freePath(drive, pathAside(file.path, day));
  await queueMove(db, file.id, aside, at);
  await moveWanted(db, file.driveId, drive, at);
  if (!(await db.files.get(`${file.driveId}/${aside}`))) throw new DriveError('changed-meanwhile', file.path);
}
