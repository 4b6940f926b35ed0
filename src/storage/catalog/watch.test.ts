import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { watchCalmly } from './watch';

const file = (id: string) => ({ id, driveId: 'd', photoId: null, state: 'present' }) as unknown as FileRecord;
let db: CatalogDatabase;

beforeEach(() => {
  db = new CatalogDatabase(`watch-${Math.random()}`);
});
afterEach(() => db.delete());

describe('sums over a table that changes', () => {
  it('are read at once, and some time after the last change once more, not after each', async () => {
    let reads = 0;
    const seen: number[] = [];
    const end = watchCalmly(
      db,
      'files',
      () => {
        reads += 1;
        return db.files.count();
      },
      (sum) => seen.push(sum),
    );
    await vi.waitFor(() => expect(seen).toEqual([0]));
    for (let at = 0; at < 40; at++) await db.files.put(file(String(at)));
    await vi.waitFor(() => expect(seen.at(-1)).toBe(40), 3000);
    expect(reads).toBeLessThan(8);
    end();
  });

  it('other tables do not ask for them; ended, nothing does; and a read that fails is made up for', async () => {
    const seen: number[] = [];
    let fails = false;
    const end = watchCalmly(
      db,
      'files',
      () => (fails ? Promise.reject(new Error('closed')) : db.files.count()),
      (sum) => seen.push(sum),
    );
    await vi.waitFor(() => expect(seen).toEqual([0]));
    await db.previews.put({ photoId: 'p', blob: new Blob() });
    fails = true;
    await db.files.put(file('a'));
    await new Promise((resolve) => setTimeout(resolve, 700));
    expect(seen).toEqual([0]);
    fails = false;
    await db.files.put(file('b'));
    await vi.waitFor(() => expect(seen).toEqual([0, 2]), 3000);
    end();
    await db.files.put(file('c'));
    await new Promise((resolve) => setTimeout(resolve, 700));
    expect(seen).toEqual([0, 2]);
  });
});
