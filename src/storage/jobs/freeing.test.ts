// Room freed on a drive: only of what stays safe without it, each file read once more, and everything that speaks
// against it keeps it.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord } from '../../../tests/fixtures/records';
import { bent, pictureBytes } from '../../../tests/storm/pictures';
import { changeTables, makeChange } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { planRoom } from '../catalog/free-room';
import { planFacts, planRule } from '../catalog/keeping';
import { historyOf } from '../catalog/history';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { copyPhotos } from './copying';
import { freeRoom } from './freeing';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

let db: CatalogDatabase;
let drives: Record<'studio' | 'cellar' | 'bank', MemoryDrive>;
let clock = 1_700_000_000_000;
let number = 0;
const ids = ['studio', 'cellar', 'bank'] as const;
let away: string[] = [];

const now = () => (clock += 1000);
const tools = (): JobTools => ({ db, now, fileTasks: directFileTasks(), control: quietControl() });
const driveOf = (id: string) => (away.includes(id) ? null : (drives[id as 'studio'] ?? null));
const plan = (awayCounts = false) =>
  planRoom(db, { driveId: 'studio', photoIds: null, awayCounts, isHere: (id) => driveOf(id) !== null, now: now() });
const free = async (awayCounts = false, files = 99) =>
  freeRoom(tools(), {
    driveId: 'studio',
    drive: drives.studio,
    photoIds: null,
    agreed: { files, awayCounts },
    driveOf,
  });
const say = async (change: Awaited<ReturnType<typeof planRule>>) => makeChange(db, change, now());
const own = (drive: MemoryDrive) => [...drive.files.keys()].filter((path) => !path.startsWith('_wembo/')).sort();

beforeEach(async () => {
  db = new CatalogDatabase(`freeing-${number++}`);
  await db.drives.bulkPut(ids.map((id) => driveRecord(id)));
  drives = { studio: new MemoryDrive(), cellar: new MemoryDrive(), bank: new MemoryDrive() };
  away = [];
  for (let at = 1; at <= 4; at++) drives.studio.put(`2019/${at}.jpg`, pictureBytes(at, false));
  drives.studio.put('2019/1.wav', new TextEncoder().encode('spoken'));
  await scanDrive(tools(), 'studio', drives.studio);
  for (const id of ['cellar', 'bank'] as const)
    await copyPhotos(tools(), {
      source: { id: 'studio', drive: drives.studio, writable: true },
      target: { id, drive: drives[id] },
      photoIds: null,
      over: null,
      whole: false,
      replacesOn: null,
    });
  await say(await planRule(db, { copies: 2, elsewhere: 1, verifiedWithinDays: 365 }, now()));
  await say(await planFacts(db, 'bank', { elsewhere: true }, now()));
  await db.outbox.clear();
});

describe('room on a drive', () => {
  it('is freed of what stays safe without it, with what lies beside; the photos stay, and their history tells', async () => {
    expect(await plan()).toMatchObject({ staying: { copies: [], elsewhere: [] } });
    expect(await free()).toMatchObject({ removed: 5, damaged: [], problems: [] });
    expect(own(drives.studio)).toEqual([]);
    expect(own(drives.bank)).toEqual(['2019/1.jpg', '2019/1.wav', '2019/2.jpg', '2019/3.jpg', '2019/4.jpg']);
    expect(await db.photos.count()).toBe(4);
    expect(await db.files.where('driveId').equals('studio').count()).toBe(0);
    const [photo] = await db.photos.toArray();
    const history = JSON.stringify(await historyOf(db, photo?.id ?? ''));
    expect(history).toContain('freed');
    // it is gone by an act of ours, and not missing
    expect((await scanDrive(tools(), 'studio', drives.studio)).missing).toEqual([]);
  });

  it('stays as it is where the rule would not hold any more', async () => {
    await say(await planRule(db, { copies: 3, elsewhere: 1, verifiedWithinDays: 365 }, now()));
    expect((await plan()).staying.copies).toHaveLength(4);
    expect(await free()).toMatchObject({ removed: 0, problems: [] });
    expect(own(drives.studio)).toHaveLength(5);
  });

  it('is not freed of more than was agreed to', async () => {
    await expect(free(false, 3)).rejects.toThrow('not-agreed');
    expect(own(drives.studio)).toHaveLength(5);
  });

  it('keeps what has a copy that is gone, or another file by now, though the catalog believes in it', async () => {
    drives.cellar.files.delete('2019/2.jpg');
    const other = drives.bank.files.get('2019/3.jpg');
    if (other) [other.bytes, other.modifiedMs] = [bent(other.bytes), other.modifiedMs + 5000];
    const report = await free();
    expect(report.problems.map(({ path, problem }) => [path, problem])).toEqual(
      ['2019/2.jpg', '2019/3.jpg'].map((path) => [path, { code: 'drive/problem', reason: 'copies-gone' }]),
    );
    expect(report.damaged).toEqual(['2019/3.jpg']);
    expect(own(drives.studio)).toEqual(['2019/2.jpg', '2019/3.jpg']);
  });

  it('keeps what turns out to be damaged here, and files it; and what was changed meanwhile', async () => {
    const rotten = drives.studio.files.get('2019/2.jpg');
    if (rotten) rotten.bytes = bent(rotten.bytes);
    const edited = drives.studio.files.get('2019/3.jpg');
    if (edited) edited.modifiedMs += 60_000;
    const report = await free();
    expect(report.damaged).toEqual(['2019/2.jpg']);
    expect(report.problems).toMatchObject([{ path: '2019/3.jpg', problem: { reason: 'changed-meanwhile' } }]);
    expect((await db.files.get('studio/2019/2.jpg'))?.state).toBe('damaged');
    expect(own(drives.studio)).toEqual(['2019/2.jpg', '2019/3.jpg']);
  });

  it('keeps a photo whose companion lies beside no copy as it is here', async () => {
    drives.studio.put('2019/1.wav', new TextEncoder().encode('spoken again'));
    drives.studio.put('2019/2.xmp', new TextEncoder().encode('words of another program'));
    const report = await free();
    report.problems.sort((a, b) => (a.path < b.path ? -1 : 1));
    expect(report.problems).toMatchObject([
      { path: '2019/1.jpg', problem: { reason: 'beside-differs' } },
      { path: '2019/2.jpg', problem: { reason: 'beside-differs' } },
    ]);
    expect(own(drives.studio)).toEqual(['2019/1.jpg', '2019/1.wav', '2019/2.jpg', '2019/2.xmp']);
  });

  it('leaves what another photo of its base name needs, in a folder too, until that goes', async () => {
    drives.studio.put('2019/1.jpeg', pictureBytes(31, false));
    await scanDrive(tools(), 'studio', drives.studio);
    expect(await free()).toMatchObject({ removed: 4, problems: [] });
    // the one that is nowhere else stays, with the note that bears its name
    expect(own(drives.studio)).toEqual(['2019/1.jpeg', '2019/1.wav']);
  });

  it('keeps what is safe only by a drive that is away, unless that counts', async () => {
    away = ['bank'];
    expect((await plan()).staying.away).toHaveLength(4);
    expect(await free()).toMatchObject({ removed: 0 });
    expect(await free(true)).toMatchObject({ removed: 5, problems: [] });
  });

  it('keeps what words still wait for, or of which two versions are to be decided', async () => {
    const item = { driveId: 'bank', queuedAt: 1, problem: null };
    await db.transaction('rw', changeTables(db), async () => {
      await db.outbox.put({ ...item, id: 'bank/2019/1.jpg', task: { kind: 'sidecar', fileId: 'bank/2019/1.jpg' } });
    });
    expect((await plan()).staying.waits).toEqual(['2019/1.jpg']);
    expect(await free()).toMatchObject({ removed: 3 });
    expect(own(drives.studio)).toEqual(['2019/1.jpg', '2019/1.wav']);
  });

  it('does not count a copy that is set aside', async () => {
    const file = await db.files.get('bank/2019/1.jpg');
    if (file) await db.files.put({ ...file, path: '_wembo/set-aside/2026-11-30/2019/1.jpg' });
    expect((await plan()).staying.copies).toEqual(['2019/1.jpg']);
  });
});
