import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { makeChange, undoLast } from './changes';
import { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { listDoubles, planDoubles } from './doubles';

let db: CatalogDatabase;
let catalogs = 0;
const file = (path: string, more: Parameters<typeof fileRecord>[3] = {}, driveId = 'd') =>
  fileRecord(driveId, path, 'a', { sha256: 's', verifiedAt: 9, ...more });

beforeEach(async () => {
  db = new CatalogDatabase(`doubles-${catalogs++}`);
  await db.drives.bulkPut([driveRecord('d'), driveRecord('e')]);
  await db.photos.put(photoRecord('a', { sha256: 's' }));
  await db.files.bulkPut([
    file('2019/a.jpg', { addedAt: 5 }),
    file('copy of a.jpg', { addedAt: 4 }),
    file('a.jpg', {}, 'e'),
    file('with words.jpg', { sha256: 't' }),
    file('_wembo/set-aside/2026-01-01/a.jpg'),
    file('gone.jpg', { state: 'missing' }),
  ]);
});

const paths = async () =>
  (await listDoubles(db, ['a'])).map(({ driveId, files }) => [driveId, ...files.map(({ path }) => path)]);

it('are the same bytes on one drive; not on two, not described otherwise, not what is aside or gone', async () => {
  expect(await paths()).toEqual([['d', 'copy of a.jpg', '2019/a.jpg']]);
});

it('the one with a sidecar is proposed to stay, else the one that came first', async () => {
  const sidecar = { path: '2019/a.xmp', sizeBytes: 1, modifiedMs: 1, sha256: 'x', base: {} };
  await db.files.update('d/2019/a.jpg', { sidecar });
  expect(await paths()).toEqual([['d', '2019/a.jpg', 'copy of a.jpg']]);
});

it('the others are set aside, which undo takes back', async () => {
  const groups = (await listDoubles(db, ['a'])).map((group) => ({ ...group, staysId: 'd/2019/a.jpg' }));
  const change = await planDoubles(db, groups, '2026-11-30');
  expect(change.moves).toMatchObject([{ before: 'copy of a.jpg', after: '_wembo/set-aside/2026-11-30/copy of a.jpg' }]);
  await makeChange(db, change, 1);
  expect(await paths()).toEqual([]);
  await undoLast(db, 2);
  expect(await paths()).toHaveLength(1);
});

it.each<[string, Partial<FileRecord>]>([
  ['was never read in full', { verifiedAt: null }],
  ['was found damaged since', { state: 'damaged' }],
  ['is to be set aside itself', { wantedPath: '_wembo/set-aside/2026-11-30/x.jpg' }],
])('nothing goes where the one to stay %s', async (_, more) => {
  const groups = (await listDoubles(db, ['a'])).map((group) => ({ ...group, staysId: 'd/2019/a.jpg' }));
  await db.files.update('d/2019/a.jpg', more);
  expect((await planDoubles(db, groups, '2026-11-30')).moves).toEqual([]);
});
