// What becomes of a drive: what is said before, what counts after, and how it is taken back.

import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { driveFactsOf } from '@/core/fixity/keeping';
import { makeChange, taskItem, undoLast } from './changes';
import { CatalogDatabase } from './database';
import { forgetDrive, notYetOn, planReplacement, planStanding, whatItHolds } from './drive-life';
import { planFacts, planRule, readKeeping } from './keeping';
import { addFile } from './photos';
import { searchRecords } from './search-feed';

const DAY = '2026-11-30';
let db: CatalogDatabase;
let catalogs = 0;

const file = (driveId: string, photoId: string, more: Parameters<typeof fileRecord>[3] = {}) =>
  fileRecord(driveId, `${photoId}.jpg`, photoId, { sha256: photoId, verifiedAt: 1000, ...more });

beforeEach(async () => {
  db = new CatalogDatabase(`life-${catalogs++}`);
  await db.drives.bulkPut(['old', 'new', 'far'].map((id) => driveRecord(id, { name: `Drive ${id}` })));
  await db.photos.bulkPut(['a', 'b', 'c'].map((id) => photoRecord(id, { sha256: id })));
  await db.files.bulkPut([file('old', 'a'), file('old', 'b'), file('far', 'a'), file('new', 'c')]);
});

const copies = async () =>
  Object.fromEntries((await searchRecords(db, ['a', 'b', 'c'])).records.map(({ id, copies: count }) => [id, count]));

it('a drive is retired, or declared lost: nothing on it counts any more, until that is taken back', async () => {
  expect(await copies()).toEqual({ a: 2, b: 1, c: 1 });
  for (const standing of ['retired', 'lost'] as const) {
    await makeChange(db, await planStanding(db, 'old', standing, DAY, 5), 5);
    expect(driveFactsOf(await readKeeping(db), 'old')).toMatchObject({ standing, standingSince: DAY });
    expect(await copies()).toEqual({ a: 1, b: 0, c: 1 });
    await undoLast(db, 6);
    expect(driveFactsOf(await readKeeping(db), 'old').standing).toBe('in-use');
    expect(await copies()).toEqual({ a: 2, b: 1, c: 1 });
  }
});

it('what is said of a drive by and by does not overwrite what was said before, and the rule is an act like others', async () => {
  await makeChange(db, await planFacts(db, 'far', { place: 'bank box', elsewhere: true }, 5), 5);
  await makeChange(db, await planFacts(db, 'far', { note: 'the key is with Sissal' }, 6), 6);
  expect(driveFactsOf(await readKeeping(db), 'far')).toMatchObject({
    place: 'bank box',
    elsewhere: true,
    standing: 'in-use',
  });
  await makeChange(db, await planRule(db, { copies: 2, elsewhere: 1, verifiedWithinDays: 90 }, 7), 7);
  expect((await readKeeping(db)).rule.verifiedWithinDays).toBe(90);
  await undoLast(db, 8);
  await undoLast(db, 9);
  expect(await readKeeping(db)).toMatchObject({ rule: { copies: 3, verifiedWithinDays: 365 } });
  expect(driveFactsOf(await readKeeping(db), 'far').note).toBe('');
});

it('a drive takes the place of another only when all that lies there is verified on it', async () => {
  await makeChange(db, await planFacts(db, 'old', { place: 'cellar', elsewhere: true, note: 'noisy' }, 4), 4);
  expect(await planReplacement(db, 'old', 'new', DAY, 5)).toBeNull();
  await db.files.bulkPut([file('new', 'a'), file('new', 'b', { verifiedAt: null })]);
  expect(await notYetOn(db, 'old', 'new')).toEqual(['b']);
  await db.files.put(file('new', 'b'));
  const change = await planReplacement(db, 'old', 'new', DAY, 5);
  if (change) await makeChange(db, change, 5);
  const keeping = await readKeeping(db);
  expect(driveFactsOf(keeping, 'old')).toMatchObject({ standing: 'retired', replacedBy: 'new', note: 'noisy' });
  expect(driveFactsOf(keeping, 'new')).toMatchObject({
    standing: 'in-use',
    place: 'cellar',
    elsewhere: true,
    note: '',
  });
  expect((await db.drives.bulkGet(['old', 'new'])).map((one) => one?.name)).toEqual([
    'Drive old, until 2026-11-30',
    'Drive old',
  ]);
  await undoLast(db, 6);
  expect((await db.drives.bulkGet(['old', 'new'])).map((one) => one?.name)).toEqual(['Drive old', 'Drive new']);
  expect(driveFactsOf(await readKeeping(db), 'old').standing).toBe('in-use');
});

it('missing and set-aside files do not keep a drive from being replaced', async () => {
  await db.files.bulkPut([
    file('new', 'a'),
    file('old', 'b', { state: 'missing', verifiedAt: null }),
    { ...file('old', 'c'), id: 'old/_wembo/set-aside/2026-01-01/c.jpg', path: '_wembo/set-aside/2026-01-01/c.jpg' },
  ]);
  expect(await notYetOn(db, 'old', 'new')).toEqual([]);
});

it('what was still on its way to a drive that was forgotten is no copy on it', async () => {
  await db.files.put(file('far', 'b'));
  expect(await forgetDrive(db, 'old')).toBeNull();
  await addFile(db, file('old', 'c'), null, null, 5);
  expect(await db.files.where('driveId').equals('old').count()).toBe(0);
  expect((await copies()).c).toBe(1);
});

it.each<[string, () => Promise<unknown>, object | null]>([
  ['a photo is verified nowhere else', async () => undefined, { kind: 'photos', photoIds: ['b'] }],
  [
    'a photo that is missing there is nowhere else',
    () => db.files.put(file('old', 'b', { state: 'missing', verifiedAt: null })),
    { kind: 'photos', photoIds: ['b'] },
  ],
  [
    'its other file is set aside',
    () => db.files.put({ ...file('far', 'b'), path: '_wembo/set-aside/2026-01-01/b.jpg' }),
    { kind: 'photos', photoIds: ['b'] },
  ],
  [
    'its other drive is lost',
    async () => {
      await db.files.put(file('far', 'b'));
      await makeChange(db, await planStanding(db, 'far', 'lost', DAY, 5), 5);
    },
    { kind: 'photos', photoIds: ['a', 'b'] },
  ],
  [
    'a copy on another drive waits to be made from it',
    async () => {
      await db.files.put(file('far', 'b'));
      await db.outbox.put(
        taskItem(
          'copy:far/x',
          'far',
          {
            kind: 'copy',
            photoId: 'b',
            from: { driveId: 'old', path: 'b.jpg' },
            path: 'x',
            sha256: 'b',
            accessionFileId: 'x',
          },
          1,
        ),
      );
    },
    { kind: 'copies', waiting: 1 },
  ],
  ['all of it is elsewhere', () => db.files.put(file('far', 'b')), null],
])('it is forgotten only when it holds nothing that is not elsewhere: %s', async (_, arrange, holding) => {
  await arrange();
  await db.outbox.put(taskItem('old/a.jpg', 'old', { kind: 'sidecar', fileId: 'old/a.jpg' }, 1));
  expect(await whatItHolds(db, 'old')).toEqual(holding);
  expect(await forgetDrive(db, 'old')).toEqual(holding);
  const left = [
    await db.drives.get('old'),
    await db.files.where('driveId').equals('old').count(),
    await db.outbox.get('old/a.jpg'),
  ];
  expect(left).toEqual(holding ? [expect.anything(), 2, expect.anything()] : [undefined, 0, undefined]);
  expect(await db.photos.count()).toBe(3);
});
