// Opens the search index as it was kept, brings it up to date with what changed since, and keeps it again when nothing has changed for
// a while. Where none is kept, or it is damaged or of another version, it is built from the catalog.

import type { CatalogDatabase } from '@/storage/catalog/database';
import { allSearchRecords, forgetNoted, lastNoted, notedSince, searchRecords } from '@/storage/catalog/search-feed';
import type { SearchClient } from '@/workers/search-client';

/** So long without a change before it is kept. */
const REST_MS = 12_000;
/** Photos read and fed at once. */
const LOT = 2000;

export interface IndexTools {
  db: CatalogDatabase;
  search: () => SearchClient;
  /** How many photos it has so far, while it is being built or brought up to date. */
  onProgress: (indexed: number) => void;
}

export class IndexKeeping {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private upTo = 0;
  private keeping = Promise.resolve();

  constructor(private readonly tools: IndexTools) {}

  /** Whichever way it comes about: the index, whole. Returns how many photos it has. */
  async open(): Promise<number> {
    const { db, search } = this.tools;
    const to = await lastNoted(db);
    const opened = await search().open(db.name).catch(() => null);
    // a kept index that knows more than the catalog is that of a catalog that is no more
    if (!opened || opened.upTo > to) return this.build();
    this.upTo = opened.upTo;
    this.tools.onProgress(opened.size);
    return (await this.catchUp(to)) ?? opened.size;
  }

  /** From the catalog. */
  async build(): Promise<number> {
    const { db, search, onProgress } = this.tools;
    this.upTo = await lastNoted(db);
    let indexed = 0;
    for await (const records of allSearchRecords(db)) {
      indexed = await search().put(records, []);
      onProgress(indexed);
    }
    this.later();
    return indexed;
  }

  /** Something changed: the index is kept when that is over. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), REST_MS);
  }

  /** Keeps it; only one page of the catalog at a time does. */
  keep(): Promise<void> {
    const once = () => navigator.locks.request(`wembo-index-${this.tools.db.name}`, { ifAvailable: true }, (lock) => (lock ? this.keepNow() : this.later()));
    // a full disk, a dead worker: the next start builds it
    return (this.keeping = this.keeping.then(once).catch((error: unknown) => console.error(error)));
  }

  private async keepNow(): Promise<void> {
    const { db, search } = this.tools;
    if ((await db.jobs.where('state').equals('running').count()) > 0) return this.later();
    const to = await lastNoted(db);
    await this.catchUp(to); // what was noted is in it for certain, whether or not this page heard of it
    await search().keep(db.name, to);
    await forgetNoted(db, to);
  }

  private async catchUp(to: number): Promise<number | null> {
    const { db, search } = this.tools;
    const ids = await notedSince(db, this.upTo, to);
    let size: number | null = null;
    for (let from = 0; from < ids.length; from += LOT) {
      const { records, gone } = await searchRecords(db, ids.slice(from, from + LOT));
      size = await search().put(records, gone);
    }
    this.upTo = Math.max(this.upTo, to);
    return size;
  }
}
