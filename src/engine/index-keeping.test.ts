import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import type { SearchRecord } from '@/core/search/search-record';
import { CatalogDatabase } from '@/storage/catalog/database';
import { fileRecord, photoRecord } from '../../tests/fixtures/records';
import { IndexKeeping } from './index-keeping';

/** What the worker has, and what it kept. */
let kept: { catalog: string; upTo: number; ids: Set<string> } | null;
let db: CatalogDatabase;
let catalogs = 0;

/** A page of the catalog: its worker is empty until it opens or is fed. */
function page() {
  let ids = new Set<string>();
  const fed: string[][] = [];
  const told: number[] = [];
  let behind = 0;
  let onPut = () => undefined as void;
  const search = {
    open: async (_: string, catalog: string) => {
      if (kept?.catalog !== catalog) return null;
      ids = new Set(kept.ids);
      return { size: ids.size, upTo: kept.upTo };
    },
    keep: async (_: string, catalog: string, upTo: number) => {
      kept = { catalog, upTo, ids: new Set(ids) };
      return 1;
    },
    put: async (records: SearchRecord[], gone: string[]) => {
      onPut();
      fed.push([...records.map(({ id }) => id), ...gone.map((id) => `-${id}`)]);
      for (const { id } of records) ids.add(id);
      for (const id of gone) ids.delete(id);
      return ids.size;
    },
  };
  const locks = {
    request: async (_: string, __: unknown, act: (lock: object | null) => unknown) => act({}),
  } as unknown as LockManager;
  const keeping = new IndexKeeping({
    db,
    search: () => search,
    locks,
    newId: () => `catalog-${db.name}`,
    onProgress: () => undefined,
    onFed: (indexed) => told.push(indexed),
    onBehind: () => void (behind += 1),
  });
  /** The worker dies while it is fed the next time; another one is filled from the catalog. */
  const dieAtNextPut = () => {
    onPut = () => {
      onPut = () => undefined;
      ids = new Set();
      void keeping.build();
    };
  };
  return { keeping, fed, told, wasBehind: () => behind > 0, dieAtNextPut };
}

beforeEach(async () => {
  kept = null;
  db = new CatalogDatabase(`keeping-${catalogs++}`);
  await db.photos.bulkPut(['a', 'b', 'c'].map((id) => photoRecord(id)));
  await db.files.bulkPut(['a', 'b', 'c'].map((id) => fileRecord('d', `${id}.jpg`, id)));
});

describe('the index', () => {
  it('is built where none is kept; kept, it is opened without a photo being read', async () => {
    const first = page();
    expect(await first.keeping.open()).toBe(3);
    expect(first.fed).toEqual([['a', 'b', 'c']]);
    await first.keeping.keep();
    for (let time = 0; time < 2; time++) {
      const next = page();
      expect(await next.keeping.open()).toBe(3);
      expect(next.fed).toEqual([]);
      await next.keeping.keep();
    }
  });

  it('is brought up to date with what changed after it was kept, and with that alone', async () => {
    const first = page();
    await first.keeping.open();
    await first.keeping.keep();
    await db.photos.update('b', { bytes: 2 });
    await db.photos.delete('c');
    const next = page();
    expect(await next.keeping.open()).toBe(2);
    expect(next.fed.map((batch) => batch.toSorted())).toEqual([['-c', 'b']]);
  });

  it('is fed what was noted, by this page or another, each once', async () => {
    const first = page();
    await first.keeping.open();
    await db.photos.put(photoRecord('d'));
    await db.photos.delete('a');
    await first.keeping.feed();
    await first.keeping.feed();
    expect([first.fed.slice(1).map((batch) => batch.toSorted()), first.told]).toEqual([[['-a', 'd']], [3]]);
  });

  it('of a page that fell behind what the others remember is opened anew', async () => {
    const [slow, quick] = [page(), page()];
    await slow.keeping.open();
    await quick.keeping.open();
    for (const id of ['d', 'e', 'f']) {
      await db.photos.put(photoRecord(id));
      await quick.keeping.keep();
    }
    await slow.keeping.feed();
    expect([slow.wasBehind(), quick.wasBehind()]).toEqual([true, false]);
  });

  it('of which a half is there, since its worker died, is not kept', async () => {
    const first = page();
    await first.keeping.open();
    await db.photos.put(photoRecord('d'));
    first.dieAtNextPut();
    await first.keeping.keep();
    expect(kept).toBeNull();
    await first.keeping.feed(); // comes after the building
    await first.keeping.keep();
    expect(kept?.ids).toEqual(new Set(['a', 'b', 'c', 'd']));
  });

  it('hears of what came in since when it is kept, and says so', async () => {
    const first = page();
    await first.keeping.open();
    await first.keeping.keep();
    await db.photos.put(photoRecord('d'));
    await first.keeping.keep();
    expect([first.fed.at(-1), first.told]).toEqual([['d'], [4]]);
    expect(kept?.ids.has('d')).toBe(true);
  });

  it('of another catalog, or that knows of changes this one never had, is not taken', async () => {
    const first = page();
    await first.keeping.open();
    await first.keeping.keep();
    if (kept) kept.upTo += 1000;
    const ahead = page();
    await ahead.keeping.open();
    expect(ahead.fed).toEqual([['a', 'b', 'c']]);
    if (kept) Object.assign(kept, { catalog: 'of another', upTo: 1 });
    const other = page();
    await other.keeping.open();
    expect(other.fed).toEqual([['a', 'b', 'c']]);
  });
});
