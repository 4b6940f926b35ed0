// Keeps the search index in step with the catalog: photos whose records changed are fed to it a moment later, several
// at a time, and the other tabs hear of them.

import type { CatalogDatabase } from '@/storage/catalog/database';
import { searchRecords } from '@/storage/catalog/search-feed';
import type { SearchClient } from '@/workers/search-client';

const FEED_DELAY_MS = 60;
/** Those of a running job come later: a screen that is drawn anew all the time has no time left for the work. */
export const JOB_FEED_DELAY_MS = 900;

export class SearchFeeding {
  private channel: BroadcastChannel | null = null;
  private readonly changed = new Set<string>();
  private feeding = Promise.resolve();
  private timer: { due: number; timer: ReturnType<typeof setTimeout> } | null = null;

  /** @param onFed hears how many photos the index has, whenever it has new content. */
  constructor(
    private readonly db: CatalogDatabase,
    private readonly search: () => SearchClient,
    private readonly onFed: (indexed: number) => void,
  ) {}

  /** Hears from now on what other tabs changed. */
  listen(): void {
    this.channel = new BroadcastChannel(`${this.db.name}-photos`);
    this.channel.onmessage = ({ data }) => this.feedLater(data as string[], FEED_DELAY_MS);
  }

  /** These photos are not what they were: search, the walls and the other tabs are told. */
  later(photoIds: string[], delayMs = FEED_DELAY_MS): void {
    if (photoIds.length > 0) this.channel?.postMessage(photoIds);
    this.feedLater(photoIds, delayMs);
  }

  /** Feeds what changed, after what is being fed. */
  now(): Promise<void> {
    if (this.timer) clearTimeout(this.timer.timer);
    this.timer = null;
    return (this.feeding = this.feeding.then(() => this.feed()));
  }

  private feedLater(photoIds: string[], delayMs: number): void {
    for (const id of photoIds) this.changed.add(id);
    const due = Date.now() + delayMs;
    if (this.timer && this.timer.due <= due) return;
    if (this.timer) clearTimeout(this.timer.timer);
    this.timer = { due, timer: setTimeout(() => void this.now(), delayMs) };
  }

  private async feed(): Promise<void> {
    const ids = [...this.changed];
    this.changed.clear();
    try {
      const { records, gone } = await searchRecords(this.db, ids);
      this.onFed(await this.search().put(records, gone));
    } catch {
      // the search worker died and is being filled anew from the catalog, which has these photos as they are now
    }
  }
}
