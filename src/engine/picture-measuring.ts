// Measures pictures (their hash and colours), from their previews, behind the screens: a few at a time while
// nothing else runs, each once. What is measured is found by `like:` and `colour:`, and in the desk for look-alikes.

import { MEASURES_VERSION } from '@/core/picture/measuring';
import type { CatalogDatabase } from '@/storage/catalog/database';
import type { PictureMeasuresRecord } from '@/storage/catalog/records';
import type { PictureClient } from '@/workers/picture-client';

const REST_MS = 2500;
const BATCH = 40;

export interface PictureMeasuringTools {
  db: CatalogDatabase;
  pictures: () => PictureClient;
  /** Does the work where no other tab does it just now. */
  alone: (work: () => Promise<void>) => Promise<void>;
  /** How far it is; `null` where every preview is measured. */
  onProgress: (measuring: MeasuringProgress | null) => void;
}

export interface MeasuringProgress {
  done: number;
  all: number;
  state: 'measuring' | 'waits-for-job' | 'paused';
}

export class PictureMeasuring {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private measuring = false;
  private paused = false;

  constructor(private readonly tools: PictureMeasuringTools) {}

  /** Looks for previews that were not measured yet, when nothing has come in for a moment. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.see(), REST_MS);
  }

  /** Stops after the pictures in hand; what is measured stays. Until the page is loaded again, or gone on with. */
  pause(): void {
    this.paused = true;
    void this.see();
  }

  goOn(): void {
    this.paused = false;
    void this.see();
  }

  private async see(): Promise<void> {
    if (this.measuring) return this.later();
    this.measuring = true;
    try {
      await this.tools.alone(() => this.measureAll());
    } catch (error) {
      console.error(error); // a worker died: the next photo that comes in begins again
      this.tools.onProgress(null);
    } finally {
      this.measuring = false;
    }
  }

  private async measureAll(): Promise<void> {
    const { db, onProgress } = this.tools;
    const current = db.measures.where('version').equals(MEASURES_VERSION);
    const [before, all] = [await current.count(), await db.previews.count()];
    if (before === all) return onProgress(null); // every preview is measured; each has its measures, and none are left without
    const measured = new Set(await current.primaryKeys());
    const left = (await db.previews.toCollection().primaryKeys()).filter((id) => !measured.has(id));
    for (let from = 0; from < left.length; from += BATCH) {
      const busy = (await db.jobs.where('state').equals('running').count()) > 0;
      onProgress({
        done: all - left.length + from,
        all,
        state: this.paused ? 'paused' : busy ? 'waits-for-job' : 'measuring',
      });
      if (this.paused) return;
      if (busy) return this.later();
      await this.measure(left.slice(from, from + BATCH));
    }
    onProgress(null);
  }

  private async measure(ids: string[]): Promise<void> {
    const { db, pictures } = this.tools;
    const previews = (await db.previews.bulkGet(ids)).filter((one) => one !== undefined);
    const measured: PictureMeasuresRecord[] = [];
    for (const { photoId, blob } of previews)
      measured.push({
        photoId,
        measures: await pictures()
          .measures(blob)
          .catch(() => null),
        version: MEASURES_VERSION,
      });
    await db.measures.bulkPut(measured);
  }
}
