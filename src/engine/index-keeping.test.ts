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
  });
  return { keeping, fed, told };
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

  it('hears of what nobody announced when it is kept, and says so', async () => {
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
