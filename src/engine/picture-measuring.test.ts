import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { MEASURES_VERSION } from '@/core/picture/measuring';
import { CatalogDatabase } from '@/storage/catalog/database';
import type { JobRecord } from '@/storage/catalog/records';
import { lastNoted, notedSince } from '@/storage/catalog/search-feed';
import type { PictureClient } from '@/workers/picture-client';
import { PictureMeasuring, type MeasuringProgress } from './picture-measuring';

const MEASURES = { high: 1, low: 2, colours: [] };
let db: CatalogDatabase;
let number = 0;
let told: (MeasuringProgress | null)[];
let measured: number;
let onMeasure: () => void;

const measuring = (mine = told) =>
  new PictureMeasuring({
    db,
    onProgress: (progress) => void mine.push(progress),
    alone: (work) => work(),
    pictures: () =>
      ({
        measures: async () => {
          measured += 1;
          onMeasure();
          return MEASURES;
        },
      }) as unknown as PictureClient,
  });
const done = () => vi.waitFor(() => expect(told.at(-1)).toBeNull(), 5000);

beforeEach(async () => {
  db = new CatalogDatabase(`seeing-${number++}`);
  [told, measured, onMeasure] = [[], 0, () => undefined];
  await db.previews.bulkPut(Array.from({ length: 100 }, (_, at) => ({ photoId: String(at), blob: new Blob([]) })));
});

describe('pictures are measured behind the screens', () => {
  it('each once, with the way told, and those of an earlier measure anew', async () => {
    await db.measures.bulkPut([
      { photoId: '0', measures: MEASURES, version: MEASURES_VERSION },
      { photoId: '1', measures: MEASURES, version: MEASURES_VERSION - 1 },
    ]);
    const before = await lastNoted(db);
    measuring().goOn();
    await done();
    expect([measured, await db.measures.where('version').equals(MEASURES_VERSION).count()]).toEqual([99, 100]);
    expect(await notedSince(db, before, await lastNoted(db))).toHaveLength(99); // for the index to hear of
    expect(told[0]).toEqual({ done: 1, all: 100, state: 'measuring' });
    measuring().goOn();
    await vi.waitFor(() => expect(told.filter((one) => one === null)).toHaveLength(2));
    expect(measured).toBe(99);
  });

  it('rest when they are told to, keep what is measured, and go on', async () => {
    const one = measuring();
    onMeasure = () => measured === 30 && one.pause();
    one.goOn();
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ done: 40, all: 100, state: 'paused' }));
    expect(await db.measures.count()).toBe(40);
    one.goOn();
    await done();
    expect(measured).toBe(100);
  });

  it('wait for a job that is running', async () => {
    await db.jobs.put({ id: 'j', state: 'running' } as JobRecord);
    measuring().goOn();
    await vi.waitFor(() => expect(told).toEqual([{ done: 0, all: 100, state: 'waits-for-job' }]));
    expect(measured).toBe(0);
    await db.jobs.delete('j');
    await done(); // it looks again by itself
    expect(measured).toBe(100);
  });
});
