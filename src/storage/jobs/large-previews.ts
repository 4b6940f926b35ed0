// Large previews, which fill a screen or have real pixels: drawn from originals on connected drives, one photo after the
// other, at once or by night. What is drawn stays, so that the job goes on where it was, until it is thinned out.

import type { CatalogDatabase } from '../catalog/database';
import type { FileRecord, JobReport, LargePreviewRecord } from '../catalog/records';
import type { Drive } from '../drives/drive';
import type { LargePreviewSize } from '../file-tasks/file-tasks';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';

export type PreviewsReport = JobReport & { kind: 'previews' };

export interface PreviewsRequest {
  photoIds: string[];
  size: LargePreviewSize;
  /** The drive, when it is connected. */
  driveOf: (driveId: string) => Drive | null;
  /** Resolves when work may go on: at once, or when the night has come. */
  untilNight: () => Promise<void>;
}

export async function drawLargePreviews(
  tools: JobTools,
  { photoIds, size, driveOf, untilNight }: PreviewsRequest,
): Promise<PreviewsReport> {
  const { db, fileTasks, control } = tools;
  const report: PreviewsReport = { kind: 'previews', drawn: 0, there: 0, away: 0, problems: [] };
  control.reporting(report);
  const enough = (one: LargePreviewRecord) => size === 'large' || one.size === 'full';
  const there = new Set(await db.largePreviews.where('photoId').anyOf(photoIds).filter(enough).primaryKeys());
  const waiting = photoIds.filter((id) => !there.has(id));
  report.there = photoIds.length - waiting.length;
  const progress = startProgress('drawing', waiting.length, waiting.length);
  control.progress({ ...progress });
  const draw = async (photoId: string) => {
    await untilNight();
    const photo = await db.photos.get(photoId);
    const file = (await db.files.where('photoId').equals(photoId).toArray()).find(
      (one) => one.state === 'present' && driveOf(one.driveId),
    );
    if (photo && file) await drawOne(photoId, photo, file);
    else report.away += 1;
    progress.doneItems += 1;
    progress.doneBytes += 1;
    control.progress({ ...progress });
  };
  const drawOne = async (photoId: string, photo: Parameters<typeof fileTasks.preview>[1], file: FileRecord) => {
    const opened = await driveOf(file.driveId)?.open(file.path);
    const preview = opened && (await fileTasks.preview(opened, photo, size, control.signal));
    if (preview?.problem) report.problems.push({ path: file.path, problem: preview.problem });
    if (!preview?.blob) return;
    await db.largePreviews.put({ photoId, blob: preview.blob, size });
    report.drawn += 1;
  };
  await forEachItem(waiting, control, draw, (photoId, error) => report.problems.push(itemProblemOf(photoId, error)));
  return report;
}

/** From ten in the evening to six in the morning. */
export const isNight = (hour: number): boolean => hour >= 22 || hour < 6;

/** Gives their room back; the small ones stay. Answers how many bytes that were. */
export async function removeLargePreviews(db: CatalogDatabase, photoIds: readonly string[]): Promise<number> {
  const records = await db.largePreviews.bulkGet([...photoIds]);
  await db.largePreviews.bulkDelete([...photoIds]);
  return records.reduce((sum, record) => sum + (record?.blob.size ?? 0), 0);
}
