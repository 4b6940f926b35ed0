// Sending out: each photo of a run made ready and placed where it goes, each result read back; what arrived is noted as
// a delivery. What has arrived and still lies there is left out, so that a run resumes. Words are what holds when a
// photo's turn comes, and what is private then stays behind.

import type { SavedChange } from '@/core/catalog/change';
import type { FieldValues } from '@/core/fields/registry';
import type { Problem } from '@/core/problems/problem';
import type { Delivery, SentFile } from '@/core/send-out/delivery';
import type { Watermark } from '@/core/send-out/watermark';
import { type WordMarks, wordsOfPhoto, wordsToSend } from '@/core/send-out/words-policy';
import { makeChange } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import { wordMarksOf } from '../catalog/sendable';
import { fileDamaged, fileRead } from '../catalog/photos';
import type { DeliveryItemRecord, DeliveryRunRecord, FileRecord, JobReport, PhotoRecord } from '../catalog/records';
import { type Drive, DriveError } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import type { Delivered, Overlay, PlacedDelivery } from '../file-tasks/deliver';
import { type JobTools, forEachItem, itemProblemOf, startProgress, stopsAll } from './job-tools';

export type DeliverReport = JobReport & { kind: 'deliver' };

/** Draws a watermark for a picture of this size; in the application only. */
export type DrawOverlay = (
  watermark: Watermark,
  facts: { fields: FieldValues; path: string },
  picture: { width: number; height: number },
) => Promise<Overlay | null>;

export interface DeliveryWork {
  runId: string;
  /** The drive, when it is connected. */
  driveOf: (driveId: string) => Drive | null;
  drawOverlay: DrawOverlay;
}

/** Pictures in the making at once: each may take a gigabyte, and two use both cores (measured). */
const IN_THE_MAKING = 2;

export async function sendOut(tools: JobTools, { runId, driveOf, drawOverlay }: DeliveryWork): Promise<DeliverReport> {
  const { db, control } = tools;
  const run = await db.deliveryRuns.get(runId);
  if (!run) throw new Error('there is no such delivery');
  const items = await db.deliveryItems.where('runId').equals(runId).toArray();
  const report: DeliverReport = {
    kind: 'deliver',
    name: run.profile.name,
    asked: items.length,
    arrived: 0,
    there: 0,
    bytes: 0,
    away: [],
    damaged: [],
    problems: [],
  };
  control.reporting(report);
  const sending = new Sending(tools, run, await wordMarksOf(db), driveOf, drawOverlay, report);
  const progress = startProgress('sending', items.length, items.length);
  control.progress({ ...progress });
  try {
    await forEachItem(
      items,
      control,
      async (item) => {
        await sending.send(item);
        progress.doneItems += 1;
        progress.doneBytes += 1;
        control.progress({ ...progress });
      },
      (item, error) => report.problems.push(itemProblemOf(item.path, error)),
      IN_THE_MAKING,
    );
  } finally {
    await noteArrived(db, run, tools.now());
  }
  return report;
}

class Sending {
  constructor(
    private readonly tools: JobTools,
    private readonly run: DeliveryRunRecord,
    private readonly words: WordMarks,
    private readonly driveOf: (driveId: string) => Drive | null,
    private readonly drawOverlay: DrawOverlay,
    private readonly report: DeliverReport,
  ) {}

  async send(item: DeliveryItemRecord): Promise<void> {
    const { db } = this.tools;
    const target = this.driveOf(item.driveId);
    if (!target) throw new DriveError('target-gone', item.path);
    if (item.sent && (await this.liesThere(target, item.sent))) return this.count(item.sent.bytes, true);
    const photo = await db.photos.get(item.photoId);
    if (!photo) return this.told(item, { code: 'file/vanished' });
    const files = await db.files.where('photoId').equals(item.photoId).toArray();
    const sound = files.filter(({ state, driveId }) => state === 'present' && this.driveOf(driveId));
    let failure: unknown = null;
    for (const file of sound) {
      try {
        if (await this.sendFile(item, photo, file, target)) return;
      } catch (error) {
        // the drive it lies on may be gone; another one may have it
        if (this.tools.control.signal.aborted || stopsAll(error)) throw error;
        failure ??= error;
      }
    }
    if (failure) throw failure;
    if (sound.length > 0) return;
    if (files.some(({ state, driveId }) => state !== 'missing' && this.driveOf(driveId)))
      this.report.damaged.push(item.path);
    else this.report.away.push(item.path);
  }

  private async liesThere(target: Drive, { path, bytes }: SentFile): Promise<boolean> {
    return (await openIfThere(target, path))?.size === bytes;
  }

  /** Answers whether it is settled with this file; where it is damaged, another copy may do. */
  private async sendFile(
    item: DeliveryItemRecord,
    photo: PhotoRecord,
    file: FileRecord,
    target: Drive,
  ): Promise<boolean> {
    const { db, now } = this.tools;
    const source = this.driveOf(file.driveId);
    if (!source) return false;
    const opened = await source.open(file.path);
    const seen = { sizeBytes: opened.size, modifiedMs: opened.lastModified };
    if (this.isHeldBack(photo, file)) {
      this.told(item, { code: 'delivery/words-in-file' });
      return true;
    }
    let sent: Delivered;
    try {
      sent = await this.delivered(item, photo, file, opened, target);
    } catch (error) {
      if (!(error instanceof DriveError)) throw error;
      if (error.problem !== 'source-damaged') return await this.failed(error, target);
      await source.confirm();
      await fileDamaged(db, file.id, seen, null, now());
      this.report.damaged.push(file.path);
      return false;
    }
    if (sent.state === 'refused') {
      this.told(item, sent.problem);
      return true;
    }
    await target.confirm();
    await source.confirm();
    // the original was read in full, too
    if (file.sha256 !== null)
      await fileRead(
        db,
        file,
        seen,
        { file: file.sha256, image: file.imageSha256 },
        (await db.drives.get(file.driveId))?.marked ?? false,
        now(),
      );
    await this.arrived(item, sent);
    return true;
  }

  /** An untouched original says what it says: where some of that is to stay here, so does the file. */
  private isHeldBack(photo: PhotoRecord, file: FileRecord): boolean {
    const { picture, words } = this.run.profile;
    return (
      picture.kind === 'original' &&
      wordsToSend(file.embedded ?? photo.embedded, words, this.words.marks).behind.length > 0
    );
  }

  private async delivered(
    item: DeliveryItemRecord,
    photo: PhotoRecord,
    file: FileRecord,
    opened: File,
    target: Drive,
  ): Promise<Delivered> {
    const { fileTasks, control } = this.tools;
    const { profile } = this.run;
    const { picture, watermark, words } = profile;
    const size = item.pixels ?? (photo.width && photo.height ? { width: photo.width, height: photo.height } : null);
    const facts = { fields: wordsOfPhoto(photo.fields, words, this.words).fields, path: file.path };
    return fileTasks.deliver(
      {
        drive: target,
        path: item.sent?.path ?? item.path,
        file: opened,
        name: file.path,
        expected: file.sha256,
        photo,
        picture,
        pixels: picture.kind === 'made' ? item.pixels : null,
        fields: facts.fields,
        technical: words.which === 'all',
        overlay: watermark && size && picture.kind === 'made' ? await this.drawOverlay(watermark, facts, size) : null,
      },
      () => undefined,
      control.signal,
    );
  }

  /** A drive that is gone takes no further file; whatever else it was is this file's alone. */
  private async failed(error: DriveError, target: Drive): Promise<never> {
    await target.confirm().catch(() => {
      throw new DriveError('target-gone', error.path);
    });
    throw error;
  }

  private async arrived(item: DeliveryItemRecord, one: PlacedDelivery): Promise<void> {
    const { path, fingerprint, sha256, sizeBytes, width, height } = one;
    const sent: SentFile = {
      photoId: item.photoId,
      driveId: item.driveId,
      path,
      fingerprint,
      sha256,
      bytes: sizeBytes,
      width,
      height,
    };
    await this.tools.db.deliveryItems.update(item.id, { sent });
    this.count(sizeBytes, one.outcome === 'already-there');
  }

  private count(bytes: number, isThere: boolean): void {
    this.report.arrived += 1;
    this.report.bytes += bytes;
    if (isThere) this.report.there += 1;
  }

  private told(item: DeliveryItemRecord, problem: Problem): void {
    this.report.problems.push({ path: item.path, problem });
  }
}

/** What arrived so far, noted as one delivery; one that was noted before is brought up to date. */
export async function noteArrived(db: CatalogDatabase, run: DeliveryRunRecord, at: number): Promise<void> {
  const files = (await db.deliveryItems.where('runId').equals(run.id).toArray()).flatMap(({ sent }) => sent ?? []);
  const before = (await db.deliveries.get(run.id)) ?? null;
  if (files.length === 0 || before?.files?.length === files.length) return;
  const { profile, day } = run;
  const after: Delivery = {
    id: run.id,
    name: profile.sentAs === '' ? profile.name : profile.sentAs,
    date: day,
    note: before?.note ?? '',
    photoIds: files.map(({ photoId }) => photoId),
    files,
    updatedAt: at,
    deleted: false,
  };
  await makeChange(db, { kind: 'kept', savedKind: 'deliveries', before, after } as SavedChange, at);
}

/** A run will not be taken up again: what arrived is noted, and the rest of it forgotten. */
export async function settleDelivery(db: CatalogDatabase, runId: string, at: number): Promise<void> {
  const run = await db.deliveryRuns.get(runId);
  if (run) await noteArrived(db, run, at);
  await db.transaction('rw', db.deliveryRuns, db.deliveryItems, async () => {
    await db.deliveryRuns.delete(runId);
    await db.deliveryItems.where('runId').equals(runId).delete();
  });
}
