// What a copy says before it runs.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { planCopies } from './copy-plan';
import { CatalogDatabase } from './database';
import type { FileRecord } from './records';

let db: CatalogDatabase;
let catalogs = 0;
const file = (driveId: string, photoId: string, more: Partial<FileRecord> = {}) =>
  fileRecord(driveId, more.path ?? `2019/${photoId}.jpg`, photoId, {
    sha256: photoId,
    verifiedAt: 1,
    sizeBytes: 10,
    ...more,
  });
const put = (...files: FileRecord[]) => db.files.bulkPut(files);

beforeEach(async () => {
  db = new CatalogDatabase(`copy-plan-${catalogs++}`);
  await db.drives.bulkPut(['studio', 'attic', 'copy'].map((id) => driveRecord(id)));
  await db.photos.bulkPut(['a', 'b', 'c', 'd'].map((id) => photoRecord(id, { sha256: id })));
});

const plan = (photoIds: string[] | null = null, sourceIds = ['studio', 'attic']) =>
  planCopies(db, { photoIds, sourceIds, targetId: 'copy' });

describe('a plan', () => {
  it('takes each photo from the first drive that has it, and not again what is there', async () => {
    await put(file('studio', 'a'), file('studio', 'b'), file('attic', 'b'), file('attic', 'c'), file('copy', 'c'));
    expect(await plan()).toEqual({
      from: [{ driveId: 'studio', photoIds: ['a', 'b'], bytes: 20 }],
      photos: 2,
      bytes: 20,
      there: 1,
      elsewhereThere: 0,
      unreadThere: 0,
      renamed: 0,
      doubtful: 0,
      away: 0,
    });
    expect((await plan(['b', 'd'], ['attic'])).from).toEqual([{ driveId: 'attic', photoIds: ['b'], bytes: 10 }]);
    expect(await plan(['b', 'd'], ['attic'])).toMatchObject({ photos: 1, away: 1 });
  });

  it('by content: a folder that has another name there costs nothing', async () => {
    await put(file('studio', 'a'), file('copy', 'a', { path: 'Faroes/a.jpg' }));
    expect(await plan()).toMatchObject({ photos: 0, there: 1, elsewhereThere: 1 });
  });

  it('tells what was never read there, whose name is taken, and what is damaged', async () => {
    await put(
      file('studio', 'a'),
      file('copy', 'a', { verifiedAt: null }),
      file('studio', 'b'),
      file('copy', 'c', { path: '2019/B.JPG' }),
      file('studio', 'd', { state: 'damaged', verifiedAt: null }),
    );
    expect(await plan()).toMatchObject({ photos: 2, unreadThere: 1, renamed: 1, doubtful: 1 });
    // another drive has it whole
    await put(file('attic', 'd'));
    expect(await plan()).toMatchObject({ photos: 3, doubtful: 0 });
  });

  it('leaves out what was taken out of the catalog or set aside, unless it was chosen itself', async () => {
    await put(file('studio', 'a'), file('studio', 'b', { path: '_wembo/set-aside/2026-01-01/b.jpg' }));
    await db.leftOut.put({ id: 'a', name: 'a.jpg', updatedAt: 1, deleted: false });
    expect(await plan()).toMatchObject({ photos: 0 });
    expect(await plan(['a', 'b'])).toMatchObject({ photos: 2 });
  });
});
