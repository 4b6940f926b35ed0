// Copies that are kept up to date.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../tests/fixtures/records';
import { makeChange, undoLast } from '@/storage/catalog/changes';
import { planCopyRoutine, planNoCopyRoutine, readCopyRoutines } from '@/storage/catalog/copy-routines';
import { CatalogDatabase } from '@/storage/catalog/database';
import { CopyRoutines } from './copy-routines';

let db: CatalogDatabase;
let catalogs = 0;
const put = (...files: [driveId: string, photoId: string][]) =>
  db.files.bulkPut(
    files.map(([driveId, photoId]) =>
      fileRecord(driveId, `${photoId}.jpg`, photoId, { sha256: photoId, verifiedAt: 1 }),
    ),
  );

describe('a copy that is kept up to date', () => {
  const here = new Set(['studio', 'attic', 'copy']);
  const begun: unknown[][] = [];
  const routines = () =>
    new CopyRoutines({
      db,
      isHere: (id) => here.has(id),
      find: async (scope) => (scope === 'boat' ? ['b', 'c'] : []),
      copy: async (...order) => void begun.push(order),
      alone: (work) => work(),
    });
  const drive = { fromId: 'studio', scope: '', toId: 'copy', whole: true, folders: null, begins: true };
  const search = { fromId: null, scope: 'boat', toId: 'copy', whole: false, folders: null, begins: false };

  beforeEach(async () => {
    db = new CatalogDatabase(`copy-routines-${catalogs++}`);
    await db.drives.bulkPut(['studio', 'attic', 'copy'].map((id) => driveRecord(id)));
    await db.photos.bulkPut(['a', 'b', 'c'].map((id) => photoRecord(id, { sha256: id })));
    begun.length = 0;
    await put(['studio', 'a'], ['studio', 'b'], ['attic', 'c']);
  });

  it('is kept on the drives, and undo takes it back', async () => {
    await makeChange(db, planCopyRoutine(drive, 'one', 1), 1);
    const [kept] = await readCopyRoutines(db);
    expect(kept).toMatchObject(drive);
    if (kept) await makeChange(db, planNoCopyRoutine(kept, 2), 2);
    expect(await readCopyRoutines(db)).toEqual([]);
    await undoLast(db, 3);
    expect(await readCopyRoutines(db)).toHaveLength(1);
    await db.settings.update(kept?.id ?? '', { value: { toId: 7 } });
    expect(await readCopyRoutines(db)).toEqual([]);
  });

  it('copies the drive as a whole, or what a search finds from each drive that has it', async () => {
    await routines().begin(drive);
    await routines().begin(search);
    expect(begun).toEqual([
      ['studio', 'copy', { photoIds: null, whole: true, folders: null }],
      ['attic', 'copy', { photoIds: ['c'], whole: false, folders: null }],
      ['studio', 'copy', { photoIds: ['b'], whole: false, folders: null }],
    ]);
  });

  it('waits while its drive is away, and begins nothing when all is there', async () => {
    here.delete('copy');
    expect(await routines().plan(drive)).toBeNull();
    here.add('copy');
    await put(['copy', 'a'], ['copy', 'b']);
    await routines().begin(drive);
    expect(begun).toEqual([]);
  });
});
