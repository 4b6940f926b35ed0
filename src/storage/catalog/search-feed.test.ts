import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { SAFE_RULE, safeUntil } from '@/core/fixity/safe';
import { CatalogDatabase } from './database';
import { allSearchRecords, searchRecords } from './search-feed';

const DAY_MS = 86_400_000;
let db: CatalogDatabase;
let catalogs = 0;

beforeEach(async () => {
  db = new CatalogDatabase(`feed-${catalogs++}`);
  await db.drives.bulkPut([driveRecord('d', { name: 'Studio' }), driveRecord('e', { name: 'Attic' })]);
});

it('a photo is told with its lens, size, copies, what was written about it, where it went and how it looks; read one by one or all', async () => {
  const proven = (driveId: string, verifiedAt: number) =>
    fileRecord(driveId, '2019/a.jpg', 'a', { sha256: 's', verifiedAt });
  await db.photos.bulkPut([
    photoRecord('a', {
      width: 6000,
      height: 4000,
      lens: '35 mm',
      sha256: 's',
      embedded: { city: 'Vágur' },
      fields: { city: 'Gjógv' },
    }),
    photoRecord('b', { seconds: 12, embedded: { city: 'x' }, fields: { city: 'x' } }),
  ]);
  await db.files.bulkPut([proven('d', 5 * DAY_MS), proven('e', 9 * DAY_MS), fileRecord('d', 'b.mov', 'b')]);
  await db.measures.bulkPut([
    { photoId: 'a', measures: { high: 1, low: 2, colours: [] }, version: 1 },
    { photoId: 'b', measures: null, version: 1 },
  ]);
  await db.deliveries.bulkPut([
    { id: '1', name: 'Museum', date: '2026-11-26', note: '', photoIds: ['a'], updatedAt: 1, deleted: false },
    { id: '2', name: 'Taken back', date: '2026-11-26', note: '', photoIds: ['a', 'b'], updatedAt: 1, deleted: true },
  ]);
  const { records, gone } = await searchRecords(db, ['a', 'b', 'nobody']);
  expect(gone).toEqual(['nobody']);
  expect(records[0]).toMatchObject({
    id: 'a',
    drives: ['Studio', 'Attic'],
    lens: '35 mm',
    megapixels: 24,
    copies: 2,
    safeUntil: (5 + SAFE_RULE.verifiedWithinDays) * DAY_MS,
    edited: true,
    video: false,
    sent: ['Museum'],
    measures: { high: 1, low: 2 },
  });
  expect(records[1]).toMatchObject({
    id: 'b',
    copies: 0,
    safeUntil: 0,
    edited: false,
    video: true,
    sent: [],
    measures: null,
  });
  const all = [];
  for await (const some of allSearchRecords(db)) all.push(...some);
  expect(all).toEqual(records);
});

it('a photo is safe as long as its second newest proof is not too old', () => {
  const copy = (driveId: string, verifiedAt: number | null, status: 'verified' | 'damaged' = 'verified') => ({
    driveId,
    path: 'x',
    status,
    verifiedAt,
  });
  const year = SAFE_RULE.verifiedWithinDays * DAY_MS;
  expect([
    safeUntil([]),
    safeUntil([copy('d', 5)]),
    safeUntil([copy('d', 5), copy('e', 9)]),
    safeUntil([copy('d', 5), copy('e', 9), copy('f', 7)]),
    safeUntil([copy('d', 5), copy('e', 9, 'damaged')]),
    safeUntil([copy('d', 5), copy('e', null)]),
  ]).toEqual([0, 0, 5 + year, 7 + year, 0, 0]);
});
