// What a copy says before it runs.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Pattern } from '@/core/names/pattern';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { copyPlaces } from './copy-places';
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

const plan = (photoIds: string[] | null = null, sourceIds = ['studio', 'attic'], folders: Pattern | null = null) =>
  planCopies(db, { photoIds, sourceIds, targetId: 'copy', folders });

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
      example: null,
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

  it('into folders by a pattern: frames go whole, and beside what of them is there already', async () => {
    const captured = (written: string) => ({ captured: written });
    await db.photos.bulkPut([
      photoRecord('a', { sha256: 'a', fields: captured('2019-05-03T10:00:00') }),
      photoRecord('b', { sha256: 'b', fields: captured('2019-05-03T10:00:01') }),
      photoRecord('c', { sha256: 'c', fields: captured('2019-05-03T11:00:00') }),
      photoRecord('d', { sha256: 'd', fields: {} }),
    ]);
    const byDay: Pattern = [{ kind: 'date', form: 'YYYY' }, { kind: 'level' }, { kind: 'date', form: 'MM-DD' }];
    // a raw and its companion, another card with the same names, and one without a date
    const files = [
      file('studio', 'a', { path: 'card 1/IMG_1.CR2' }),
      file('studio', 'b', { path: 'card 1/IMG_1.JPG' }),
      file('studio', 'c', { path: 'card 2/img_1.jpg' }),
      file('studio', 'd', { path: 'old/letter.jpg' }),
    ];
    await put(...files);
    const places = (going = files, onTarget: FileRecord[] = []) =>
      copyPlaces(db, { going, chosen: files, onTarget, folders: byDay });
    expect(Object.fromEntries(await places())).toEqual({
      'card 1/IMG_1.CR2': '2019/05-03/IMG_1.CR2',
      'card 1/IMG_1.JPG': '2019/05-03/IMG_1.JPG',
      'card 2/img_1.jpg': '2019/05-03/img_1-2.jpg',
      'old/letter.jpg': 'undated/undated/letter.jpg',
    });
    const there = file('copy', 'a', { path: 'Faroes/raw.CR2' });
    expect(Object.fromEntries(await places(files.slice(1, 2), [there]))).toEqual({
      'card 1/IMG_1.JPG': 'Faroes/raw.JPG',
    });
    expect(await plan(null, ['studio'], byDay)).toMatchObject({
      photos: 4,
      renamed: 1,
      example: { from: 'card 1/IMG_1.CR2', to: '2019/05-03/IMG_1.CR2' },
    });
  });

  it('leaves out what was taken out of the catalog or set aside, unless it was chosen itself', async () => {
    await put(file('studio', 'a'), file('studio', 'b', { path: '_wembo/set-aside/2026-01-01/b.jpg' }));
    await db.leftOut.put({ id: 'a', name: 'a.jpg', updatedAt: 1, deleted: false });
    expect(await plan()).toMatchObject({ photos: 0 });
    expect(await plan(['a', 'b'])).toMatchObject({ photos: 2 });
  });
});
