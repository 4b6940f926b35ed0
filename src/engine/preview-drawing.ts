// Draws the previews that are missing, behind the screens: of pictures that only a slow decoder opens, which cataloging
// does not wait for, and of catalogs that are older than the decoder. What is in sight comes first, and at once; then the
// newest. What cannot be drawn is noted with its reason, and tried again only by a newer way of drawing.

import type { OpenedFile } from '@/storage/drives/drive';
import type { CatalogDatabase } from '@/storage/catalog/database';
import type { FileRecord } from '@/storage/catalog/records';
import { type FileTasks, type MadePreview, DRAWING_VERSION } from '@/storage/file-tasks/file-tasks';

const REST_MS = 1500;
/** Photos whose dates are looked at in one go. */
const BATCH = 500;

export interface DrawingProgress {
  left: number;
  state: 'drawing' | 'waits-for-job' | 'paused';
}

export interface PreviewDrawingTools {
  db: CatalogDatabase;
  fileTasks: () => Pick<FileTasks, 'preview'>;
  original: (photoId: string) => Promise<{ file: OpenedFile; record: FileRecord } | null>;
  /** Does the work where no other tab does it just now. */
  alone: (work: () => Promise<void>) => Promise<void>;
  onProgress: (progress: DrawingProgress | null) => void;
  /** One was drawn, or is known not to be drawable. */
  onDrawn: () => void;
}

export class PreviewDrawing {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private drawing = false;
  private paused = false;
  /** In sight and without a preview, the last seen last. */
  private readonly inSight = new Set<string>();
  /** Whose drives were away when they were to be drawn, or whose worker died; asked again when a drive comes. */
  private readonly notNow = new Set<string>();

  constructor(private readonly tools: PreviewDrawingTools) {}

  /** Looks for photos without a preview, when nothing has come in for a moment. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.see(), REST_MS);
  }

  /** Drives came or went. */
  again(): void {
    this.notNow.clear();
    this.later();
  }

  /** These are looked at and have none. */
  wanted(photoIds: readonly string[]): void {
    for (const id of photoIds) {
      this.inSight.delete(id);
      if (!this.notNow.has(id)) this.inSight.add(id);
    }
    if (this.inSight.size > 0 && !this.drawing) void this.see();
  }

  /** Stops after the picture in hand, but for what is looked at. Until the page is loaded again, or gone on with. */
  pause(): void {
    this.paused = true;
    void this.see();
  }

  goOn(): void {
    this.paused = false;
    void this.see();
  }

  private async see(): Promise<void> {
    if (this.drawing) return;
    this.drawing = true;
    try {
      await this.tools.alone(() => this.drawAll());
    } catch (error) {
      console.error(error); // a worker died: the next photo that comes in begins again
      this.tools.onProgress(null);
    } finally {
      this.drawing = false;
    }
  }

  private async drawAll(): Promise<void> {
    await this.drawInSight();
    const missing = await this.missing();
    const inTurn = await this.newestFirst(missing);
    for (const [index, photoId] of inTurn.entries()) {
      await this.drawInSight();
      const state = await this.stateNow();
      this.tools.onProgress({ left: inTurn.length - index, state });
      if (state === 'paused') return;
      if (state === 'waits-for-job') return this.later();
      await this.draw(photoId);
    }
    this.tools.onProgress(null);
    if (this.inSight.size > 0) this.later();
  }

  private async drawInSight(): Promise<void> {
    for (let last = [...this.inSight].at(-1); last !== undefined; last = [...this.inSight].at(-1)) {
      this.inSight.delete(last);
      await this.draw(last);
    }
  }

  private async stateNow(): Promise<DrawingProgress['state']> {
    if (this.paused) return 'paused';
    const running = await this.tools.db.jobs.where('state').equals('running').count();
    return running > 0 ? 'waits-for-job' : 'drawing';
  }

  private async missing(): Promise<string[]> {
    const { db } = this.tools;
    const undrawable = db.undrawn.where('version').equals(DRAWING_VERSION);
    const [photos, previews, known] = await Promise.all([db.photos.count(), db.previews.count(), undrawable.count()]);
    if (photos === previews + known) return []; // each has a preview or a reason
    const [drawn, undrawn] = await Promise.all([db.previews.toCollection().primaryKeys(), undrawable.primaryKeys()]);
    const settled = new Set([...drawn, ...undrawn, ...this.notNow]);
    return (await db.photos.toCollection().primaryKeys()).filter((id) => !settled.has(id));
  }

  private async newestFirst(ids: readonly string[]): Promise<string[]> {
    const dated: { id: string; addedAt: number }[] = [];
    for (let from = 0; from < ids.length; from += BATCH)
      for (const photo of await this.tools.db.photos.bulkGet(ids.slice(from, from + BATCH)))
        if (photo) dated.push({ id: photo.id, addedAt: photo.addedAt });
    return dated.sort((a, b) => b.addedAt - a.addedAt).map(({ id }) => id);
  }

  private async draw(photoId: string): Promise<void> {
    const { db, original, fileTasks, onDrawn } = this.tools;
    const [photo, known, failed] = await Promise.all([
      db.photos.get(photoId),
      db.previews.where('photoId').equals(photoId).count(),
      db.undrawn.get(photoId),
    ]);
    if (!photo || known > 0 || failed?.version === DRAWING_VERSION) return;
    const found = await original(photoId);
    if (!found) return void this.notNow.add(photoId);
    const made = await fileTasks()
      .preview(found.file, photo, 'small')
      .catch(() => null);
    const isOfThePicture = made && (made.blob !== null || !OF_THE_PAGE.has(made.problem?.code ?? ''));
    if (isOfThePicture && (made.blob || (await canBeRead(found.file)))) await keep(db, photoId, made);
    // its drive went, or its worker: that says nothing of the picture
    else this.notNow.add(photoId);
    onDrawn();
  }
}

/** Reasons that lie with the page, not with the file. */
const OF_THE_PAGE = new Set(['picture/not-isolated']);

const canBeRead = (file: OpenedFile): Promise<boolean> =>
  Promise.all([file.slice(0, 1).arrayBuffer(), file.slice(-1).arrayBuffer()]).then(
    () => true,
    () => false,
  );

/** The preview, or why there is none; unless the photo went, or got one, while it was drawn. */
const keep = (db: CatalogDatabase, photoId: string, { blob, problem }: MadePreview): Promise<void> =>
  db.transaction('rw', db.photos, db.previews, db.undrawn, async () => {
    if ((await db.photos.where('id').equals(photoId).count()) === 0) return;
    await db.undrawn.delete(photoId);
    if ((await db.previews.where('photoId').equals(photoId).count()) > 0) return;
    if (blob) await db.previews.put({ photoId, blob });
    else await db.undrawn.put({ photoId, problem, version: DRAWING_VERSION });
  });
