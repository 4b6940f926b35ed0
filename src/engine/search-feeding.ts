// Keeps the search index in step with the catalog: whatever is written, in this tab or another one, the database notes
// which photos it touches (storage/catalog/unindexed.ts); a moment later the index is fed what was noted, several
// writes at a time.

import type { CatalogDatabase } from '@/storage/catalog/database';
import { onChanged } from '@/storage/catalog/watch';

const FEED_DELAY_MS = 60;
/** While writes go on and on the index is fed more rarely: screens that are drawn anew all the time slow the work. */
const FEED_EVERY_MS = 1500;

export class SearchFeeding {
  private feeding = Promise.resolve();
  /** The next feeding, until it begins: whoever asks before that is served by it. */
  private next: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private fedAt = 0;

  /** @param feed feeds the index what was noted since the last time */
  constructor(
    private readonly db: CatalogDatabase,
    private readonly feed: () => Promise<void>,
  ) {}

  /** Follows from now on what is written. */
  listen(): void {
    onChanged(this.db, 'unindexed', () => this.later());
  }

  /** Feeds what was noted, after what is being fed: a person who changed something sees it at once. */
  now(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.next ??= this.feeding
      .then(() => {
        this.next = null;
        return this.feed();
      })
      .finally(() => (this.fedAt = Date.now()));
    return (this.feeding = this.next);
  }

  /** Resolves when what is waiting to be fed, or being fed, is in the index. */
  settled(): Promise<void> {
    return this.timer || this.next ? this.now() : this.feeding;
  }

  private later(): void {
    // a page in the background has its timers held back, and would fall behind
    if (typeof document !== 'undefined' && document.hidden) return void this.now();
    const wait = Math.max(FEED_DELAY_MS, this.fedAt + FEED_EVERY_MS - Date.now());
    this.timer ??= setTimeout(() => void this.now(), wait);
  }
}
