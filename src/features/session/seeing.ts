// Measures how pictures look (their hash and colours), from their previews, behind the screens: a few at a time while nothing else
// runs, each once. What is measured is found by `like:` and `colour:`, and in the desk for look-alikes.

import { LOOK_VERSION } from '@/core/looks/measure';
import type { CatalogDatabase } from '@/storage/catalog/database';
import type { PictureClient } from '@/workers/picture-client';

const REST_MS = 2500;
const LOT = 40;

export interface SeeingTools {
  db: CatalogDatabase;
  pictures: () => PictureClient;
  onPhotos: (photoIds: string[]) => void;
}

export class Seeing {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private seeing = false;

  constructor(private readonly tools: SeeingTools) {}

  /** Looks for previews that were not measured yet, when nothing has come in for a moment. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.see(), REST_MS);
  }

  private async see(): Promise<void> {
    if (this.seeing) return this.later();
    this.seeing = true;
    try {
      const { db } = this.tools;
      const current = db.looks.where('version').equals(LOOK_VERSION);
      if ((await current.count()) === (await db.previews.count())) return; // every preview is measured; each has its look, and no look is left without
      const measured = new Set(await current.primaryKeys());
      const left = (await db.previews.toCollection().primaryKeys()).filter((id) => !measured.has(id));
      for (let from = 0; from < left.length; from += LOT) {
        if ((await db.jobs.where('state').equals('running').count()) > 0) return this.later();
        await this.measure(left.slice(from, from + LOT));
      }
    } catch (error) {
      console.error(error); // a worker died: the next photo that comes in begins again
    } finally {
      this.seeing = false;
    }
  }

  private async measure(ids: string[]): Promise<void> {
    const { db, pictures, onPhotos } = this.tools;
    const previews = (await db.previews.bulkGet(ids)).filter((one) => one !== undefined);
    const looks = [];
    for (const { photoId, blob } of previews) looks.push({ photoId, look: await pictures().look(blob).catch(() => null), version: LOOK_VERSION });
    await db.looks.bulkPut(looks);
    onPhotos(looks.map(({ photoId }) => photoId));
  }
}
