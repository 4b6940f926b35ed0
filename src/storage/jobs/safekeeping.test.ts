// What keeps photos safe by and by: checks of a part of a drive, checks that were interrupted, a drive copied as a whole
// and replaced.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord } from '../../../tests/fixtures/records';
import { bent, pictureBytes } from '../../../tests/storm/pictures';
import { driveFactsOf } from '@/core/fixity/keeping';
import { undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { readKeeping } from '../catalog/keeping';
import { DriveError } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { checkDrive, type CheckOrder } from './checking';
import { copyPhotos } from './copying';
import { DRILL_FOLDER, readLastDrill, runDrill } from './drilling';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

let db: CatalogDatabase;
let studio: MemoryDrive;
let cellar: MemoryDrive;
let clock = 1000;
let number = 0;
/** Paths whose bytes were read in full, in order. */
let readPaths: string[] = [];

const direct = directFileTasks();
const now = () => (clock += 1000);
const tools = (stopAfter = Infinity): JobTools => {
  let done = 0;
  const abort = new AbortController();
  return {
    db,
    now,
    fileTasks: {
      ...direct,
      digest: (file, onBytes, signal) => {
        readPaths.push(pathOf(file.lastModified));
        return direct.digest(file, onBytes, signal);
      },
    },
    control: {
      ...quietControl(),
      signal: abort.signal,
      atRest: async () => {
        if (done++ >= stopAfter) abort.abort();
        abort.signal.throwIfAborted();
      },
    },
  };
};
const pathOf = (modifiedMs: number) =>
  [...studio.files].find(([, file]) => file.modifiedMs === modifiedMs)?.[0] ?? String(modifiedMs);
const scan = (id: string, drive: MemoryDrive) => scanDrive(tools(), id, drive);
const check = (order?: CheckOrder, stopAfter?: number) => checkDrive(tools(stopAfter), 'studio', studio, true, order);

beforeEach(async () => {
  db = new CatalogDatabase(`safekeeping-${number++}`);
  await db.drives.bulkPut(['studio', 'cellar'].map((id) => driveRecord(id)));
  studio = new MemoryDrive();
  cellar = new MemoryDrive();
  for (let at = 1; at <= 6; at++) studio.put(`2019/${at}.jpg`, pictureBytes(at, false));
  await scan('studio', studio);
  readPaths = [];
});

describe('a check', () => {
  it('reads first what was read longest ago', async () => {
    await db.files.update('studio/2019/4.jpg', { verifiedAt: 5 });
    await db.files.update('studio/2019/2.jpg', { verifiedAt: null });
    await check();
    expect(readPaths.slice(0, 2)).toEqual(['2019/2.jpg', '2019/4.jpg']);
    expect(readPaths).toHaveLength(6);
  });

  it('that was interrupted goes on where it was, and says what it read in all', async () => {
    const since = now();
    await expect(check({ since, share: null }, 4)).rejects.toThrow();
    const before = readPaths.length;
    expect(before).toBeLessThan(6);
    expect(await check({ since, share: null })).toMatchObject({ sound: 6, damaged: [] });
    expect(readPaths).toHaveLength(6);
  });

  it('does not take what a clock that ran ahead had read for read by it', async () => {
    await db.files.update('studio/2019/4.jpg', { verifiedAt: clock + 1e9 });
    await check({ since: now(), share: null });
    expect(readPaths).toHaveLength(6);
  });

  it('of a portion reads a share of the bytes, at least one file, until all was read', async () => {
    const seen = new Set<string>();
    for (let day = 0; day < 6; day++) {
      expect(await check({ since: now(), share: 1 / 90 })).toMatchObject({ sound: 1, missing: [] });
      seen.add(readPaths.at(-1) ?? '');
    }
    expect([readPaths.length, seen.size]).toEqual([6, 6]);
    expect(await check({ since: now(), share: 1 / 3 })).toMatchObject({ sound: 2 });
  });

  it('of a portion finds what is missing anywhere, and damage where it reads', async () => {
    await db.files.update('studio/2019/3.jpg', { verifiedAt: 5 });
    const file = studio.files.get('2019/3.jpg');
    if (file) file.bytes = bent(file.bytes);
    studio.files.delete('2019/6.jpg');
    expect(await check({ since: now(), share: 1 / 90 })).toMatchObject({
      damaged: ['2019/3.jpg'],
      missing: ['2019/6.jpg'],
      sound: 0,
    });
  });
});

describe('a drive as a whole', () => {
  const whole = (replacesOn: string | null = null) =>
    copyPhotos(tools(), {
      source: { id: 'studio', drive: studio, writable: true },
      target: { id: 'cellar', drive: cellar },
      photoIds: null,
      whole: true,
      replacesOn,
    });

  beforeEach(() => {
    studio.put('2019/1.xmp', text('not XMP at all'));
    studio.put('contracts/ð/letter.pdf', text('dear museum'));
    studio.put('2019/broken.jpg', text('no picture'));
  });

  it('is copied with what is no photo, each in its folder; done twice copies nothing', async () => {
    await scan('studio', studio);
    expect(await whole()).toMatchObject({ copied: 6, others: { copied: 2, there: 0 }, problems: [] });
    const files = (drive: MemoryDrive) =>
      [...drive.files].filter(([path]) => !path.startsWith('_wembo/')).map(([path, { bytes }]) => [path, [...bytes]]);
    expect(files(cellar).sort()).toEqual(files(studio).sort());
    expect(await whole()).toMatchObject({ copied: 0, alreadyThere: 6, others: { copied: 0, there: 2 } });
  });

  it('does not write over another file of that name', async () => {
    cellar.put('contracts/ð/letter.pdf', text('another letter'));
    await whole();
    expect(new TextDecoder().decode(cellar.files.get('contracts/ð/letter.pdf')?.bytes)).toBe('another letter');
    expect(new TextDecoder().decode(cellar.files.get('contracts/ð/letter-2.pdf')?.bytes)).toBe('dear museum');
  });

  it('is replaced when all of it is verified on the other, and undo takes that back', async () => {
    expect(await whole('2026-11-30')).toMatchObject({ replaced: true });
    expect(driveFactsOf(await readKeeping(db), 'studio')).toMatchObject({ standing: 'retired', replacedBy: 'cellar' });
    expect((await db.drives.get('cellar'))?.name).toBe('studio');
    await undoLast(db, now());
    expect(driveFactsOf(await readKeeping(db), 'studio').standing).toBe('in-use');
    expect((await db.drives.get('cellar'))?.name).toBe('cellar');
  });

  it('is not replaced while a file of it is damaged, or could not be copied', async () => {
    const file = studio.files.get('2019/3.jpg');
    if (file) file.bytes = bent(file.bytes);
    expect(await whole('2026-11-30')).toMatchObject({ replaced: false, damaged: ['2019/3.jpg'], copied: 5 });
    expect(driveFactsOf(await readKeeping(db), 'studio').standing).toBe('in-use');
  });

  it('is not replaced by a drive that bears no mark, nor when another lies in its place', async () => {
    await db.drives.update('cellar', { marked: false });
    expect(await whole('2026-11-30')).toMatchObject({ replaced: false, copied: 6 });
    await db.drives.update('cellar', { marked: true });
    let asked = 0;
    cellar.confirm = async () => {
      if ((asked += 1) > 2) throw new DriveError('other-drive', '');
    };
    expect(await whole('2026-11-30')).toMatchObject({ replaced: false });
    expect(driveFactsOf(await readKeeping(db), 'studio').standing).toBe('in-use');
  });
});

describe('a drill', () => {
  const drill = (target = cellar) => runDrill(tools(), { source: { id: 'studio', drive: studio }, target, name: 'j1' });
  const copied = async () => {
    await checkDrive(tools(), 'studio', studio, true); // writes the manifest
    return drill();
  };

  it('restores photos by what lies on their drive alone, keeps when it was, and leaves nothing behind', async () => {
    expect(await copied()).toMatchObject({ photos: 6, damaged: [], words: [], problems: [] });
    expect(await readLastDrill(db)).toMatchObject({ driveId: 'studio', photos: 6, wrong: 0 });
    expect([...cellar.files.keys()].filter((path) => path.startsWith(DRILL_FOLDER))).toEqual([]);
  });

  it('finds damage that no check has found, a manifest that lacks a file, and words that never came to the drive', async () => {
    await checkDrive(tools(), 'studio', studio, true);
    const file = studio.files.get('2019/2.jpg');
    if (file) file.bytes = bent(file.bytes);
    studio.put('2019/7.jpg', pictureBytes(7, false));
    await scan('studio', studio);
    const photoId = (await db.files.get('studio/2019/3.jpg'))?.photoId ?? '';
    await db.photos.update(photoId, { fields: { caption: 'The ferry' } });
    expect(await drill()).toMatchObject({
      photos: 5,
      damaged: ['2019/2.jpg'],
      words: ['2019/3.jpg'],
      problems: [{ path: '2019/7.jpg', problem: { reason: 'not-in-manifest' } }],
    });
    expect(await readLastDrill(db)).toMatchObject({ photos: 7, wrong: 3 });
  });

  it('takes away nothing that lay there before', async () => {
    cellar.put(`${DRILL_FOLDER}/j1/2019/1.jpg`, text('mine'));
    await copied();
    expect(new TextDecoder().decode(cellar.files.get(`${DRILL_FOLDER}/j1/2019/1.jpg`)?.bytes)).toBe('mine');
  });
});

const text = (words: string) => new TextEncoder().encode(words);
