// Opens the search index as it was kept, brings it up to date with what changed since, and keeps it again when nothing
// has changed for a while. Where none is kept, or it is damaged, of another version or of another catalog, it is built
// from the catalog.

import type { CatalogDatabase } from '@/storage/catalog/database';
import {
  allSearchRecords,
  catalogNamed,
  forgetNoted,
  isForgotten,
  lastNoted,
  nameCatalog,
  notedSince,
  searchRecords,
} from '@/storage/catalog/search-feed';
import type { SearchClient } from '@/workers/search-client';

/** So long without a change before it is kept. */
const REST_MS = 12_000;
/** Photos read and fed at once. */
const BATCH = 2000;

const BEHIND = 'behind';

export interface IndexTools {
  db: CatalogDatabase;
  search: () => Pick<SearchClient, 'open' | 'keep' | 'put'>;
  locks: Pick<LockManager, 'request'>;
  newId: () => string;
  /** What was noted is forgotten already, since another page kept the index: it must be opened anew. */
  onBehind: () => void;
  /** How many photos it has so far, while it is being opened. */
  onProgress: (indexed: number) => void;
  /** It has new content. */
  onFed: (indexed: number) => void;
}

export class IndexKeeping {
  private timer: ReturnType<typeof setTimeout> | null = null;
  /** The last change it knows of, and the last one that what is kept knows of. */
  private upTo = 0;
  private keptUpTo: number | null = null;
  private keeping: Promise<void> = Promise.resolve();
  /** What is put into it, one after the other: an older record never comes after a newer one. */
  private filling: Promise<unknown> = Promise.resolve();
  /** Not while it is being built: half of it must never be kept. */
  private isWhole = false;

  constructor(private readonly tools: IndexTools) {}

  /** Whichever way it comes about: the index, whole. Returns how many photos it has. */
  async open(): Promise<number> {
    const { db, search, onProgress } = this.tools;
    const [catalog, last] = [await catalogNamed(db), await lastNoted(db)];
    const opened =
      catalog === null
        ? null
        : await search()
            .open(db.name, catalog)
            .catch(() => null);
    if (!opened || opened.upTo > last) return this.build();
    this.keptUpTo = this.upTo = opened.upTo;
    onProgress(opened.size);
    this.isWhole = true;
    const caught = await this.inTurn(() => this.catchUp(last));
    return caught === BEHIND ? opened.size : (caught ?? opened.size);
  }

  /** From the catalog. */
  build(): Promise<number> {
    this.isWhole = false;
    return this.inTurn(() => this.buildNow());
  }

  private async buildNow(): Promise<number> {
    const { db, search, onProgress } = this.tools;
    this.upTo = await lastNoted(db);
    this.keptUpTo = null;
    let indexed = 0;
    for await (const records of allSearchRecords(db)) {
      indexed = await search().put(records, []);
      onProgress(indexed);
    }
    this.isWhole = true;
    return indexed;
  }

  /** Feeds what was noted since the last time. */
  async feed(): Promise<void> {
    const { db, onFed } = this.tools;
    // a worker that died is being filled anew from the catalog, which has these photos as they are now
    const size = await this.inTurn(async () => this.catchUp(await lastNoted(db))).catch(() => null);
    if (size !== null && size !== BEHIND) onFed(size);
  }

  /** Something changed: the index is kept when that is over. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), REST_MS);
  }

  /** Keeps it; only one page of the catalog at a time does. */
  keep(): Promise<void> {
    const once = () =>
      this.tools.locks.request(`wembo-index-${this.tools.db.name}`, { ifAvailable: true }, (lock) =>
        lock ? this.keepNow() : this.later(),
      );
    // a full disk, a dead worker: the next start builds it
    return (this.keeping = this.keeping.then(once).then(
      () => undefined,
      (error: unknown) => console.error(error),
    ));
  }

  private async keepNow(): Promise<void> {
    const { db, search, newId, onFed } = this.tools;
    if ((await db.jobs.where('state').equals('running').count()) > 0) return this.later();
    const catalog = await nameCatalog(db, newId());
    const last = await lastNoted(db);
    if (last === this.keptUpTo) return;
    const size = await this.inTurn(async () => {
      // what was noted is in it for certain, whether or not this page heard of it
      const caught = await this.catchUp(last);
      if (caught === BEHIND || !this.isWhole) return BEHIND;
      await search().keep(db.name, catalog, last);
      return caught;
    });
    if (size === BEHIND) return this.later();
    const keptBefore = this.keptUpTo;
    this.keptUpTo = last;
    // of what other pages may not have heard yet, one keeping more is remembered
    if (keptBefore !== null) await forgetNoted(db, keptBefore);
    if (size !== null) onFed(size);
  }

  private inTurn<T>(fill: () => Promise<T>): Promise<T> {
    const filled = this.filling.then(fill);
    this.filling = filled.catch(() => undefined);
    return filled;
  }

  /** Feeds what was noted up to `to`. Returns how many photos it has then, `null` where there was nothing to feed. */
  private async catchUp(to: number): Promise<number | null | typeof BEHIND> {
    const { db, search, onBehind } = this.tools;
    if (to <= this.upTo) return null;
    if (await isForgotten(db, this.upTo)) {
      onBehind();
      return BEHIND;
    }
    const ids = await notedSince(db, this.upTo, to);
    let size: number | null = null;
    for (let from = 0; from < ids.length; from += BATCH) {
      const { records, gone } = await searchRecords(db, ids.slice(from, from + BATCH));
      size = await search().put(records, gone);
    }
    this.upTo = Math.max(this.upTo, to);
    return size;
  }
}
