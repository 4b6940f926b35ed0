// What the person settles of a file that is not as it should be.

import { unreadableBecause } from '@/core/reading/reading';
import { fileDamaged, settleAsItIs, settleMissing } from '../catalog/photos';
import { type Drive, DriveError } from '../drives/drive';
import type { JobTools } from './job-tools';

/**
 * `as-it-is`: it is what it should be, whatever was recorded; it is read and measured anew. `damaged`: of two measures the other one is right.
 * `gone`: a missing file is gone for good.
 */
export type Settled = 'as-it-is' | 'damaged' | 'gone';

/** @param drive where the file lies; not needed for what is gone. @throws DriveError where the file cannot be read, or is no photo */
export async function settleFile({ db, hands, now, control, onPhotos }: Omit<JobTools, 'control'> & { control: Pick<JobTools['control'], 'signal'> }, drive: Drive | null, fileId: string, as: Settled): Promise<void> {
  const file = await db.files.get(fileId);
  if (!file) return;
  if (as === 'gone') {
    const photoId = await settleMissing(db, fileId, now());
    if (photoId) onPhotos([photoId]);
    return;
  }
  if (as === 'damaged') {
    await fileDamaged(db, fileId, null, file.foundSha256, now());
    onPhotos([file.photoId ?? '']);
    return;
  }
  if (!drive) throw new DriveError('not-found', file.path);
  const opened = await drive.open(file.path);
  const { reading, fingerprint } = await hands.read(opened, file.path, control.signal);
  if (unreadableBecause(reading)) throw new DriveError('failed', file.path);
  const digests = await hands.digest(opened, () => undefined, control.signal);
  const { blob } = await hands.preview(opened, reading, 'small', control.signal);
  await drive.confirm();
  const marked = (await db.drives.get(file.driveId))?.marked ?? false;
  onPhotos(await settleAsItIs(db, fileId, { seen: { sizeBytes: opened.size, modifiedMs: opened.lastModified }, digests, fingerprint, reading, preview: blob, marked }, now()));
}
