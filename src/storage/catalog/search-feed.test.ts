import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { DAY_MS } from '@/core/time/captured';
import { keepSetting } from './changes';
import { FACTS_PREFIX, RULE_SETTING } from '@/core/fixity/keeping';
import { CatalogDatabase } from './database';
import { allSearchRecords, lastNoted, notedSince, searchRecords } from './search-feed';

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
    lacks: ['copies', 'elsewhere'],
    safeUntil: 0,
    onlyOn: [],
    edited: true,
    video: false,
    sent: ['Museum'],
    measures: { high: 1, low: 2 },
  });
  expect(records[1]).toMatchObject({
    id: 'b',
    copies: 0,
    marks: ['unread'],
    safeUntil: 0,
    onlyOn: ['Studio'],
    edited: false,
    video: true,
    sent: [],
    measures: null,
  });
  const all = [];
  for await (const some of allSearchRecords(db)) all.push(...some);
  expect(all).toEqual(records);
});

it('what is said of drives, and the rule, decide what counts; whoever changes them has the photos fed anew', async () => {
  await db.photos.put(photoRecord('a', { sha256: 's' }));
  const file = (driveId: string, path: string, verifiedAt: number | null) =>
    fileRecord(driveId, path, 'a', { sha256: 's', verifiedAt });
  await db.files.bulkPut([file('d', 'a.jpg', 5 * DAY_MS), file('e', 'a.jpg', 9 * DAY_MS), file('e', 'b.jpg', null)]);
  const fed = async () => {
    const { records } = await searchRecords(db, ['a']);
    const { copies, marks, lacks, safeUntil, onlyOn } = records[0] ?? {};
    return { copies, marks, lacks, safeUntil, onlyOn };
  };
  const noted = async () => notedSince(db, before, (before = await lastNoted(db)));
  let before = await lastNoted(db);
  await keepSetting(db, RULE_SETTING, { copies: 2, elsewhere: 1, verifiedWithinDays: 30 }, 1);
  expect(await noted()).toEqual(['a']);
  expect(await fed()).toEqual({ copies: 2, marks: ['twice'], lacks: ['elsewhere'], safeUntil: 0, onlyOn: [] });
  await keepSetting(db, `${FACTS_PREFIX}e`, { standing: 'in-use', elsewhere: true }, 2);
  expect(await noted()).toEqual(['a']);
  expect(await fed()).toMatchObject({ lacks: [], safeUntil: 35 * DAY_MS });
  for (const standing of ['retired', 'lost']) {
    await keepSetting(db, `${FACTS_PREFIX}e`, { standing, elsewhere: true }, 3);
    expect(await fed()).toMatchObject({ copies: 1, lacks: ['copies', 'elsewhere'], onlyOn: ['Studio'] });
  }
  // what nobody can read is as if nothing was said
  await keepSetting(db, `${FACTS_PREFIX}e`, { standing: 'melted' }, 4);
  await keepSetting(db, RULE_SETTING, { copies: 0 }, 4);
  expect(await fed()).toMatchObject({ copies: 2, lacks: ['copies', 'elsewhere'] });
  await keepSetting(db, 'pinned', ['boat'], 5);
  before = await lastNoted(db);
  expect(await noted()).toEqual([]);
});
