// Photos go to another drive: what is there afterwards on both, what stays where something is wrong, what undo leaves.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { planSet } from '@/core/fields/edits';
import { driveRecord } from '../../../tests/fixtures/records';
import { bent, pictureBytes } from '../../../tests/storm/pictures';
import { makeChange, redoNext, undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { planOver } from '../catalog/going-over';
import { emptyOutbox } from '../catalog/outbox';
import { DriveError } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { checkDrive } from './checking';
import { copyPhotos } from './copying';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

let db: CatalogDatabase;
let studio: MemoryDrive;
let cellar: MemoryDrive;
let clock = 1000;
let number = 0;
let isCancelled = false;

const fileTasks = directFileTasks();
const now = () => (clock += 1000);
function tools(): JobTools {
  const abort = new AbortController();
  let done = 0;
  return {
    db,
    fileTasks,
    now,
    control: {
      signal: abort.signal,
      atRest: async () => {
        if (isCancelled && done++ > 0) abort.abort();
        abort.signal.throwIfAborted();
      },
      progress: () => undefined,
      reporting: () => undefined,
    },
  };
}
const scan = (id: 'studio' | 'cellar') => scanDrive(tools(), id, id === 'studio' ? studio : cellar);
const idOf = async (path: string) => (await db.files.get(path))?.photoId ?? '';
const over = (photoIds: string[], { from = null, to = 'in', leaves = true }: Partial<Going> = {}) =>
  copyPhotos(tools(), {
    source: { id: 'studio', drive: studio, writable: true },
    target: { id: 'cellar', drive: cellar },
    photoIds,
    over: { going: { from, to, leaves }, day: '2026-11-30' },
  });
interface Going {
  from: string | null;
  to: string;
  leaves: boolean;
}
const outbox = () =>
  emptyOutbox({
    db,
    driveOf: (id) => ({ studio, cellar })[id] ?? null,
    embed: (order) => fileTasks.embed(order),
    copy: (order) => fileTasks.copy(order, () => undefined),
    now: () => (clock += 30_000),
  });
const on = (drive: MemoryDrive) =>
  [...drive.files.keys()].filter((path) => !/^_wembo\/[^s]|shorthand|spots|settings/.test(path)).sort();

beforeEach(async () => {
  db = new CatalogDatabase(`going-over-${number++}`);
  await db.drives.bulkPut(['studio', 'cellar'].map((id) => driveRecord(id)));
  [studio, cellar, isCancelled] = [new MemoryDrive(), new MemoryDrive(), false];
  studio.put('2019/a.jpg', pictureBytes(1, false));
  studio.put('2019/a.png', pictureBytes(2, false));
  studio.put('2019/A.WAV', 'spoken');
  studio.put('2019/slip/b.jpg', pictureBytes(3, false));
  cellar.put('in/A.jpg', pictureBytes(4, false));
  await scan('studio');
  await scan('cellar');
});

describe('photos that go to another drive', () => {
  it('lie there with companions, sidecars and spoken notes, under a name that was free for all of them', async () => {
    const id = await idOf('studio/2019/a.jpg');
    const photo = await db.photos.get(id);
    const edits = photo ? planSet([photo], 'city', 'Gjógv') : [];
    await makeChange(db, { kind: 'fields', origin: 'person', edits }, now());
    const order = { sourceId: 'studio', targetId: 'cellar', photoIds: [id], over: { from: null, to: 'in' } };
    expect(await planOver(db, order)).toMatchObject({
      companions: 1,
      there: 0,
      renamed: [{ before: 'a', after: 'a-2' }],
    });
    expect(await over([id])).toMatchObject({ copied: 2, left: 2, problems: [] });
    await outbox();
    expect(on(cellar)).toEqual(['in/A.jpg', 'in/a-2.WAV', 'in/a-2.jpg', 'in/a-2.png', 'in/a-2.xmp']);
    expect(on(studio)).toEqual([
      '2019/slip/b.jpg',
      '_wembo/set-aside/2026-11-30/2019/a.WAV',
      '_wembo/set-aside/2026-11-30/2019/a.jpg',
      '_wembo/set-aside/2026-11-30/2019/a.png',
      '_wembo/set-aside/2026-11-30/2019/a.xmp',
    ]);
  });

  it('come back by undo as if nothing had been, and go again by redo', async () => {
    const before = on(studio);
    await over([await idOf('studio/2019/a.jpg')]);
    await outbox();
    await undoLast(db, now());
    await outbox();
    expect(on(studio).map((path) => path.toLowerCase())).toEqual(before.map((path) => path.toLowerCase()));
    expect(on(cellar)).toEqual([
      '_wembo/set-aside/2026-11-30/in/a-2.WAV',
      '_wembo/set-aside/2026-11-30/in/a-2.jpg',
      '_wembo/set-aside/2026-11-30/in/a-2.png',
      'in/A.jpg',
    ]);
    await redoNext(db, now());
    await outbox();
    expect(on(cellar)).toEqual(['in/A.jpg', 'in/a-2.WAV', 'in/a-2.jpg', 'in/a-2.png']);
  });

  it('take their folders along, and are only copied where that was asked', async () => {
    const ids = [await idOf('studio/2019/a.jpg'), await idOf('studio/2019/slip/b.jpg')];
    expect(await over(ids, { from: '2019', to: 'years/2019', leaves: false })).toMatchObject({ copied: 3 });
    expect(on(cellar)).toEqual(
      expect.arrayContaining(['years/2019/a.jpg', 'years/2019/a.png', 'years/2019/slip/b.jpg']),
    );
    await outbox();
    expect(on(studio)).toEqual(expect.arrayContaining(['2019/a.jpg', '2019/slip/b.jpg']));
    expect(await db.journal.count()).toBe(0);
  });

  it('stay together with a companion that is damaged', async () => {
    const id = await idOf('studio/2019/a.jpg');
    await checkDrive(tools(), 'studio', studio, true);
    const png = studio.files.get('2019/a.png');
    if (png) png.bytes = bent(png.bytes);
    const report = await over([id]);
    expect(report).toMatchObject({ copied: 1, left: 0, damaged: ['2019/a.png'] });
    expect(await over([id])).toMatchObject({ copied: 0, left: 0, inDoubt: 2 });
    await outbox();
    expect(on(studio)).toContain('2019/a.jpg');
  });

  it('stay where one of them could not be read, and are taken up under the name that was begun with', async () => {
    const ids = [await idOf('studio/2019/a.jpg'), await idOf('studio/2019/slip/b.jpg')];
    const { open } = studio;
    studio.open = (path) =>
      path === '2019/a.png' ? Promise.reject(new DriveError('no-permission', path)) : open.call(studio, path);
    expect(await over(ids)).toMatchObject({ copied: 2, left: 1, problems: [{ path: '2019/a.png' }] });
    await outbox();
    expect(on(studio)).toEqual(expect.arrayContaining(['2019/a.jpg', '2019/a.png', '2019/A.WAV']));
    studio.open = open;
    expect(await over(ids)).toMatchObject({ copied: 1, alreadyThere: 1, left: 2 });
    await outbox();
    expect(on(cellar)).toEqual(['in/A.jpg', 'in/a-2.WAV', 'in/a-2.jpg', 'in/a-2.png', 'in/b.jpg']);
  });

  it('do not leave where the run was cancelled', async () => {
    const ids = [await idOf('studio/2019/a.jpg'), await idOf('studio/2019/slip/b.jpg')];
    isCancelled = true;
    await expect(over(ids)).rejects.toThrow();
    await outbox();
    expect(on(studio)).toEqual(expect.arrayContaining(['2019/a.jpg', '2019/slip/b.jpg']));
    expect(await db.journal.count()).toBe(0);
  });

  it('leave nothing behind for a drive without a mark: nothing on it counts as verified', async () => {
    await db.drives.update('cellar', { marked: false });
    const id = await idOf('studio/2019/slip/b.jpg');
    expect(await over([id])).toMatchObject({ copied: 1, left: 0 });
  });

  it('that were there before the act are not set aside by its undo', async () => {
    const id = await idOf('studio/2019/slip/b.jpg');
    await over([id], { leaves: false });
    expect(await over([id])).toMatchObject({ copied: 0, alreadyThere: 1, left: 1 });
    await undoLast(db, now());
    await outbox();
    expect(on(cellar)).toContain('in/b.jpg');
    expect(on(studio)).toContain('2019/slip/b.jpg');
  });
});
