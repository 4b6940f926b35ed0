// Sending out: each photo of a run made ready and placed where it goes, each result read back; what arrived is noted as
// a delivery. What has arrived and still lies there is left out, so that a run resumes; a ZIP is packed when all are
// ready, and made anew where that was interrupted. Words are what holds when a photo's turn comes, and what is private
// then stays behind.

import { movesPixels, correctionsIn } from '@/core/looks/corrections';
import { correctedSize } from '@/core/looks/geometry';
import type { SavedChange } from '@/core/catalog/change';
import type { FieldValues } from '@/core/fields/registry';
import { foldName, folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import type { Problem } from '@/core/problems/problem';
import { captionsTable } from '@/core/send-out/captions-table';
import type { Delivery, SentFile } from '@/core/send-out/delivery';
import { isShownByBrowsers, notedAs } from '@/core/send-out/delivery-profile';
import type { Watermark } from '@/core/send-out/watermark';
import { webPage } from '@/core/send-out/web-page';
import { type WordMarks, wordsOfPhoto, wordsToSend } from '@/core/send-out/words-policy';
import { makeChange } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import { fileDamaged, fileRead } from '../catalog/photos';
import type { DeliveryItemRecord, DeliveryRunRecord, FileRecord, JobReport, PhotoRecord } from '../catalog/records';
import { wordMarksOf } from '../catalog/sendable';
import { type Drive, DriveError, type OpenedFile } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import type { Delivered, MadeDelivery, Overlay, PlacedDelivery } from '../file-tasks/deliver';
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
  const items = (await db.deliveryItems.where('runId').equals(runId).toArray()).sort((a, b) => a.order - b.order);
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
    await sending.finish();
  } finally {
    await noteArrived(db, run, tools.now());
  }
  return report;
}

interface MadeItem {
  item: DeliveryItemRecord;
  made: MadeDelivery;
}

class Sending {
  /** What waits to be packed. The browser keeps their bytes, not this page. */
  private readonly packed: MadeItem[] = [];

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
    const target = this.targetOf(item);
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

  private targetOf({ driveId, path }: Pick<DeliveryItemRecord, 'driveId' | 'path'>): Drive {
    const target = this.driveOf(driveId);
    if (!target) throw new DriveError('target-gone', path);
    return target;
  }

  private async liesThere(target: Drive, { path, bytes }: SentFile): Promise<boolean> {
    if (this.run.zipPath !== null) return (await openIfThere(target, folderIn(path))) !== null;
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
    if (sent.state === 'made') this.packed.push({ item, made: sent });
    else await this.arrived(item, sent.path, sent, sent.outcome === 'already-there');
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
    opened: OpenedFile,
    target: Drive,
  ): Promise<Delivered> {
    const { fileTasks, control } = this.tools;
    const { picture, watermark, words } = this.run.profile;
    const full = photo.width && photo.height ? { width: photo.width, height: photo.height } : null;
    const size = item.pixels ?? (full && correctedSize(full, photo.fields));
    const facts = { fields: this.fieldsOf(photo), path: file.path };
    const corrections = correctionsIn(photo.fields.corrections);
    const { region: _, ...unmoved } = facts.fields;
    return fileTasks.deliver(
      {
        drive: this.run.zipPath === null ? target : null,
        path: item.sent?.path ?? item.path,
        file: opened,
        name: file.path,
        expected: file.sha256,
        photo: { ...photo, corrections },
        picture,
        pixels: picture.kind === 'made' ? item.pixels : null,
        // parts of the picture that are named lie elsewhere once it is cut or turned
        fields: picture.kind === 'made' && movesPixels(corrections) ? unmoved : facts.fields,
        technical: words.which === 'all',
        overlay: watermark && size && picture.kind === 'made' ? await this.drawOverlay(watermark, facts, size) : null,
      },
      () => undefined,
      control.signal,
    );
  }

  private fieldsOf(photo: PhotoRecord): FieldValues {
    return wordsOfPhoto(photo.fields, this.run.profile.words, this.words).fields;
  }

  /** A drive that is gone takes no further file; whatever else it was is this file's alone. */
  private async failed(error: DriveError, target: Drive): Promise<never> {
    try {
      await target.confirm();
      for await (const _ of target.list({ shallow: true })) break;
    } catch {
      throw new DriveError('target-gone', error.path);
    }
    throw error;
  }

  private async arrived(
    item: DeliveryItemRecord,
    path: string,
    made: PlacedDelivery | MadeDelivery,
    isThere: boolean,
  ): Promise<void> {
    const { fingerprint, sha256, sizeBytes, width, height } = made;
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
    this.count(sizeBytes, isThere);
  }

  /** When every photo had its turn: the ZIP, or what goes along beside the pictures. */
  async finish(): Promise<void> {
    if (this.run.zipPath !== null) return this.pack(this.run.zipPath);
    const items = (await this.tools.db.deliveryItems.where('runId').equals(this.run.id).toArray())
      .filter(({ sent }) => sent !== null)
      .sort((a, b) => a.order - b.order);
    const folders = new Map<string, DeliveryItemRecord[]>();
    for (const item of items) {
      const key = foldName(joinedPath(item.driveId, folderIn(item.sent?.path ?? '')));
      folders.set(key, [...(folders.get(key) ?? []), item]);
    }
    for (const [first, ...rest] of folders.values()) {
      if (!first) continue;
      const target = this.targetOf(first);
      const folder = folderIn(first.sent?.path ?? '');
      const sent = [first, ...rest].map((item) => ({ item, name: nameIn(item.sent?.path ?? '') }));
      for (const { name, blob } of await this.extrasOf(sent))
        await this.tools.fileTasks
          .copy(
            { drive: target, path: joinedPath(folder, name), file: blob, name, expected: null },
            () => undefined,
            this.tools.control.signal,
          )
          .catch((error: unknown) => this.report.problems.push(itemProblemOf(joinedPath(folder, name), error)));
    }
  }

  private async pack(zipPath: string): Promise<void> {
    const first = this.packed[0];
    if (!first) return;
    const { fileTasks, control, now } = this.tools;
    this.packed.sort((a, b) => a.item.order - b.item.order);
    const extras = await this.extrasOf(this.packed.map(({ item }) => ({ item, name: item.path })));
    const entries = [
      ...this.packed.map(({ item, made }) => ({ name: item.path, file: made.blob, modifiedMs: now() })),
      ...extras.map(({ name, blob }) => ({ name, file: blob, modifiedMs: now() })),
    ];
    control.progress(startProgress('finishing'));
    const target = this.targetOf(first.item);
    const { path } = await fileTasks.zip({ drive: target, path: zipPath, entries }, () => undefined, control.signal);
    await target.confirm();
    for (const { item, made } of this.packed) await this.arrived(item, joinedPath(path, item.path), made, false);
  }

  private async extrasOf(
    sent: readonly { item: DeliveryItemRecord; name: string }[],
  ): Promise<{ name: string; blob: Blob }[]> {
    const { page, table } = this.run.profile.extras;
    const { picture } = this.run.profile;
    if (!page && !table) return [];
    const photos = await this.tools.db.photos.bulkGet(sent.map(({ item }) => item.photoId));
    const told = sent.map(({ item, name }, index) => {
      const photo = photos[index];
      return { name, pixels: item.pixels, fields: photo ? this.fieldsOf(photo) : {} };
    });
    const pagePhotos = told.map(({ name, pixels, fields }) => ({
      path: name,
      width: pixels?.width ?? null,
      height: pixels?.height ?? null,
      fields,
    }));
    return [
      ...(page && isShownByBrowsers(picture)
        ? [
            {
              name: 'index.html',
              blob: new Blob([webPage(notedAs(this.run.profile), pagePhotos)], { type: 'text/html' }),
            },
          ]
        : []),
      ...(table ? [{ name: 'captions.csv', blob: new Blob([captionsTable(told)], { type: 'text/csv' }) }] : []),
    ];
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
async function noteArrived(db: CatalogDatabase, run: DeliveryRunRecord, at: number): Promise<void> {
  const items = await db.deliveryItems.where('runId').equals(run.id).toArray();
  const files = items.sort((a, b) => a.order - b.order).flatMap(({ sent }) => sent ?? []);
  const before = (await db.deliveries.get(run.id)) ?? null;
  if (files.length === 0 || before?.files?.length === files.length) return;
  const after: Delivery = {
    id: run.id,
    name: notedAs(run.profile),
    date: run.day,
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
