// What must be seen to be known: whether neighbouring pictures overlap, which makes a panorama of them, and how sharp
// the frames of a set are. Looked at behind the screens, once, and kept in the catalog.

import type { OpenedFile } from '@/storage/drives/drive';
import { SHARPNESS_VERSION } from '@/core/picture/sharpness';
import type { CatalogDatabase } from '@/storage/catalog/database';
import type { FileRecord, SharpnessRecord } from '@/storage/catalog/records';
import { OF_PREVIEW } from '@/storage/file-tasks/file-tasks';
import type { PictureClient } from '@/workers/picture-client';
import type { SearchClient } from '@/workers/search-client';

const QUESTIONS_AT_ONCE = 12;
/** So long after the last photo came in: looking must not slow what runs. */
const REST_MS = 1500;

export interface FrameMeasuringTools {
  db: CatalogDatabase;
  search: () => SearchClient;
  pictures: () => PictureClient;
  original: (photoId: string) => Promise<{ file: OpenedFile; record: FileRecord } | null>;
  /** The index hears of what was written, before it is asked again. */
  feed: () => Promise<void>;
}

export class FrameMeasuring {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private looking = false;
  /** Pairs one of which has no preview: not asked again before the page is opened anew. */
  private readonly unseen = new Set<string>();
  private measuring = Promise.resolve();

  constructor(private readonly tools: FrameMeasuringTools) {}

  /** Looks at pictures that may be panoramas, when nothing else has come in for a moment. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), REST_MS);
  }

  private async look(): Promise<void> {
    if (this.looking) return;
    this.looking = true;
    try {
      const { db } = this.tools;
      for (;;) {
        if ((await db.jobs.where('state').equals('running').count()) > 0) return this.later();
        const questions = (await this.tools.search().questions(QUESTIONS_AT_ONCE + this.unseen.size)).filter(
          ([a, b]) => !this.unseen.has(`${a} ${b}`),
        );
        if (questions.length === 0) return;
        for (const [a, b] of questions.slice(0, QUESTIONS_AT_ONCE)) await this.compare(a, b);
        await this.tools.feed();
      }
    } catch {
      // a worker died: the next photo that comes in brings the question again
    } finally {
      this.looking = false;
    }
  }

  private async compare(a: string, b: string): Promise<void> {
    const { db, pictures } = this.tools;
    const [one, other] = await db.previews.bulkGet([a, b]);
    const id = `${a} ${b}`;
    if (!one || !other) {
      this.unseen.add(id);
      return;
    }
    await db.overlaps.put({
      id,
      a,
      b,
      overlaps: await pictures()
        .overlap(one.blob, other.blob)
        .catch(() => false),
    });
  }

  /**
   * Measures the sharpness of these photos where it is not known, one after the other; of the preview where the
   * original is away.
   */
  measure(photoIds: readonly string[]): Promise<void> {
    return (this.measuring = this.measuring.then(async () => {
      for (const id of photoIds) await this.measureOne(id).catch((error: unknown) => console.error(error));
    }));
  }

  private async measureOne(photoId: string): Promise<void> {
    const { db, pictures, original } = this.tools;
    const known = await db.sharpness.get(photoId);
    if (known && known.version === SHARPNESS_VERSION && known.of === 'original') return;
    const photo = await db.photos.get(photoId);
    const found = photo && (await original(photoId));
    if (known?.version === SHARPNESS_VERSION && !found) return;
    const preview = found ? null : await db.previews.get(photoId);
    const figure =
      found && photo
        ? await pictures().sharpness(found.file, photo)
        : preview
          ? await pictures().sharpness(preview.blob, OF_PREVIEW)
          : null;
    if (figure === null) return;
    const record: SharpnessRecord = { photoId, figure, of: found ? 'original' : 'preview', version: SHARPNESS_VERSION };
    await db.sharpness.put(record);
  }
}
