// Scan, copy, check and outbox over a real database engine (in memory) and drives that can be made to fail.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { planSet } from '@/core/fields/edits';
import { writeExif, ascii, short, withBlocks, writeIim } from '@/demo/archive/tiff-writer';
import { makeChange, redoNext, undoLast } from '../catalog/changes';
import { driveRecord } from '../../../tests/fixtures/records';
import { CatalogDatabase } from '../catalog/database';
import { emptyOutbox } from '../catalog/outbox';
import type { DriveRecord, JobProgress } from '../catalog/records';
import { isLeftover } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { checkDrive } from './checking';
import { copyPhotos } from './copying';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from './job-tools';
import { clearLeftovers, scanDrive } from './scan';

const FRAME = Buffer.from([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 12, 0, 16, 1, 1, 0x11, 0]);
const SCAN = Buffer.from([0xff, 0xda, 0, 2]);
const END = Buffer.from([0xff, 0xd9]);

function jpeg(seed: number, headline?: string): Uint8Array<ArrayBuffer> {
  const exif = writeExif(
    new Map([
      [0x0110, ascii('Norda K4')],
      [0x0112, short(1)],
    ]),
    new Map([[0x9003, ascii(`2020:01:0${seed % 9 || 1} 10:00:00`)]]),
    null,
  );
  const bare = Buffer.concat([FRAME, SCAN, Buffer.alloc(300_000, seed), END]);
  return new Uint8Array(
    withBlocks(bare, { exif, ...(headline && { photoshop: writeIim([[105, headline]], 'utf8') }) }),
  );
}

let db: CatalogDatabase;
let studio: MemoryDrive;
let cellar: MemoryDrive;
let clock = 0;
let seen: JobProgress[] = [];
let number = 0;

const drives = (): Record<string, MemoryDrive> => ({ studio, cellar });
const tools = (): JobTools => ({
  db,
  fileTasks: directFileTasks(),
  now: () => (clock += 1000),
  control: {
    signal: new AbortController().signal,
    atRest: async () => undefined,
    progress: (progress) => void seen.push(progress),
    reporting: () => undefined,
  },
});
const scan = (id: 'studio' | 'cellar' = 'studio') => scanDrive(tools(), id, drives()[id] as MemoryDrive);
const copy = (photoIds: string[] | null = null) =>
  copyPhotos(tools(), {
    source: { id: 'studio', drive: studio, writable: true },
    target: { id: 'cellar', drive: cellar },
    photoIds,
  });
const outbox = (connected: string[] = ['studio', 'cellar']) =>
  emptyOutbox({
    db,
    driveOf: (id) => (connected.includes(id) ? (drives()[id] ?? null) : null),
    embed: (order) => directFileTasks().embed(order),
    copy: (order) => directFileTasks().copy(order, () => undefined),
    now: () => (clock += 1000),
  });
const photoAt = async (path: string, drive = 'studio') => {
  const file = await db.files.get(`${drive}/${path}`);
  return { file, photo: file?.photoId ? await db.photos.get(file.photoId) : undefined };
};
async function set(path: string, city: string): Promise<void> {
  const { photo } = await photoAt(path);
  if (!photo) throw new Error(`no photo at ${path}`);
  await makeChange(db, { kind: 'fields', origin: 'person', edits: planSet([photo], 'city', city) }, (clock += 1000));
}

/** What waits but for manifests, which rest first. */
const waiting = async () =>
  (await db.outbox.toArray()).map(({ task }) => task.kind).filter((kind) => kind !== 'manifest' && kind !== 'history');

beforeEach(async () => {
  db = new CatalogDatabase(`test-${number++}`);
  studio = new MemoryDrive();
  cellar = new MemoryDrive();
  seen = [];
  const record = (id: string): DriveRecord => ({
    id,
    name: id,
    kind: 'folder',
    handle: null,
    access: 'write',
    takenOut: false,
    addedAt: 0,
    scannedAt: null,
    bytes: 0,
    embeds: false,
    marked: true,
  });
  await db.drives.bulkPut([record('studio'), record('cellar')]);
});

describe('a scan', () => {
  it('catalogs photos, lists what it cannot read with the reason, and writes nothing', async () => {
    studio.put('a.jpg', jpeg(1, 'One'));
    studio.put('empty.jpg', '');
    studio.put('words.jpg', 'not a photo');
    studio.put('locked.jpg', jpeg(2));
    studio.unreadable.add('locked.jpg');
    const before = new Map(studio.files);
    const report = await scan();
    expect(report).toMatchObject({ photos: 4, added: 1, missing: [] });
    expect(report.problems.map(({ path, problem }) => [path, problem.code]).sort()).toEqual([
      ['empty.jpg', 'file/empty'],
      ['locked.jpg', 'drive/problem'],
      ['words.jpg', 'file/not-understood'],
    ]);
    expect(studio.files).toEqual(before);
    expect(await photoAt('a.jpg')).toMatchObject({
      photo: { fields: { headline: 'One' } },
      file: { state: 'present' },
    });
    // read in full as it was cataloged: nothing is left to be digested afterwards
    expect(seen.at(-1)).toMatchObject({ phase: 'reading', doneItems: 4, totalItems: 4 });
  });

  it('a second one reads nothing that is as it was', async () => {
    studio.put('a.jpg', jpeg(1));
    await scan();
    studio.unreadable.add('a.jpg'); // reading it now would be a trouble
    expect(await scan()).toMatchObject({ added: 0, changed: 0, problems: [] });
  });

  it.each([
    ['few', 4],
    ['most', 1],
  ])('of a drive that has %s of the photos finds words that are not beside them yet', async (_, elsewhere) => {
    for (let at = 1; at <= elsewhere; at++) cellar.put(`c${at}.jpg`, jpeg(at));
    studio.put('a.jpg', jpeg(9));
    await scan('cellar');
    await scan();
    await set('a.jpg', 'Gjógv');
    await db.outbox.clear();
    await scan();
    expect(await waiting()).toEqual(['sidecar']);
  });

  it('tells moved, missing, added, and what is not what it was apart', async () => {
    for (const [index, name] of ['a', 'b', 'c'].entries()) studio.put(`${name}.jpg`, jpeg(index + 1));
    await scan();
    const moved = studio.files.get('a.jpg');
    if (moved) studio.files.set('in/a2.jpg', moved);
    for (const gone of ['a.jpg', 'b.jpg']) studio.files.delete(gone);
    studio.put('c.jpg', jpeg(7));
    studio.put('d.jpg', jpeg(8));
    expect(await scan()).toMatchObject({
      added: 1,
      changed: 0,
      moved: [{ from: 'a.jpg', to: 'in/a2.jpg' }],
      missing: ['b.jpg'],
      damaged: ['c.jpg'],
    });
    expect((await photoAt('b.jpg')).file?.state).toBe('missing');
    expect((await photoAt('in/a2.jpg')).file?.verifiedAt).not.toBeNull();
  });

  it('a verification does not outlive a touch: a file bent in the middle since is read again and found damaged', async () => {
    const bytes = jpeg(1);
    studio.put('a.jpg', bytes);
    await scan();
    expect((await photoAt('a.jpg')).file).toMatchObject({ state: 'present', verifiedAt: expect.any(Number) as number });
    studio.put('a.jpg', Uint8Array.from(bytes).fill(9, 150_000, 150_001));
    await scan();
    expect((await photoAt('a.jpg')).file).toMatchObject({ state: 'damaged', verifiedAt: null });
  });

  it('a folder that cannot be looked into is named, and its photos are not called missing, by scan or check', async () => {
    studio.put('open/a.jpg', jpeg(1));
    studio.put('closed/b.jpg', jpeg(2));
    await scan();
    studio.closedFolders.add('closed/');
    const report = await scan();
    expect(report).toMatchObject({
      missing: [],
      problems: [{ path: 'closed/', problem: { code: 'drive/problem', reason: 'no-permission' } }],
    });
    expect(await checkDrive(tools(), 'studio', studio, false)).toMatchObject({ sound: 1, missing: [] });
    expect((await photoAt('closed/b.jpg')).file?.state).toBe('present');
  });

  it('tells part files left behind; old ones go, one being written right now stays', async () => {
    studio.put('a.jpg', jpeg(1));
    studio.put('a.xmp.wembo-part', 'half');
    studio.put('b.wembo-part.xmp', 'half');
    const { leftovers } = await scan();
    expect(leftovers).toEqual(['a.xmp.wembo-part', 'b.wembo-part.xmp']);
    const age = (path: string) => studio.files.get(path)?.modifiedMs ?? 0;
    await clearLeftovers(studio, leftovers, age('a.xmp.wembo-part') + 10_500);
    expect([...studio.files.keys()]).toEqual(['a.jpg', 'b.wembo-part.xmp']);
  });

  it('an edit that never reached its sidecar stays with the photo when another picture lies at its path', async () => {
    studio.put('a.jpg', jpeg(1));
    await scan();
    await set('a.jpg', 'Gjógv');
    studio.put('a.jpg', jpeg(2));
    await scan();
    expect((await photoAt('a.jpg')).photo?.fields.city).toBe('Gjógv');
  });

  it('a file that may be a copy with a damaged middle is a photo of its own, in doubt: nothing but its name and its edges says that it is one', async () => {
    const bytes = jpeg(1);
    studio.put('a.jpg', bytes);
    cellar.put('a.jpg', Uint8Array.from(bytes).fill(9, 150_000, 150_001));
    await scan();
    await scan('cellar');
    expect(await db.photos.count()).toBe(2);
    expect((await photoAt('a.jpg', 'cellar')).file).toMatchObject({
      state: 'doubt',
      verifiedAt: null,
      foundSha256: (await photoAt('a.jpg')).file?.sha256,
    });
    expect((await photoAt('a.jpg')).file?.state).toBe('present');
  });
});

describe('the outbox', () => {
  it('waits for a drive that is away, and merges nothing it did not read', async () => {
    studio.put('a.jpg', jpeg(1));
    await scan();
    await set('a.jpg', 'Gjógv');
    await outbox([]);
    expect(studio.text('a.xmp')).toBeNull();
    expect(await waiting()).toEqual(['sidecar']);
    expect(await outbox()).toMatchObject({ written: 1, failed: 0 });
    expect(studio.text('a.xmp')).toContain('<photoshop:City>Gjógv</photoshop:City>');
    expect(await waiting()).toEqual([]);
  });

  it('on a full drive keeps the edit and the old sidecar, says why, and writes when there is room', async () => {
    studio.put('a.jpg', jpeg(1));
    await scan();
    await set('a.jpg', 'Gjógv');
    await outbox();
    const old = studio.text('a.xmp');
    studio.capacityBytes = 300_000;
    await set('a.jpg', 'Klaksvík');
    expect(await outbox()).toMatchObject({ written: 0, failed: 1 });
    expect(studio.text('a.xmp')).toBe(old);
    expect((await db.outbox.toArray()).find(({ task }) => task.kind === 'sidecar')?.problem).toBe('full');
    studio.capacityBytes = Infinity;
    await outbox();
    expect(studio.text('a.xmp')).toContain('Klaksvík');
  });

  it('undo over everything takes sidecar and catalog back; a new change drops what could be redone', async () => {
    studio.put('a.jpg', jpeg(1));
    await scan();
    await set('a.jpg', 'Gjógv');
    await outbox();
    const first = studio.text('a.xmp');
    await set('a.jpg', 'Klaksvík');
    await outbox();
    await undoLast(db, clock);
    await outbox();
    // but for the version, which says that it was changed and changed back
    const but = (text: string | null) => text?.replace(/<rdf:li>city [^<]*<\/rdf:li>/, '');
    expect(but(studio.text('a.xmp'))).toBe(but(first));
    await redoNext(db, clock);
    expect((await photoAt('a.jpg')).photo?.fields.city).toBe('Klaksvík');
    await undoLast(db, clock);
    await set('a.jpg', 'Viðareiði');
    expect(await redoNext(db, clock)).toBeNull();
  });
});

describe('a second copy', () => {
  beforeEach(async () => {
    studio.put('in/a.jpg', jpeg(1, 'One'));
    studio.put('in/b.jpg', jpeg(2));
    await scan();
    await set('in/a.jpg', 'Gjógv');
    await outbox();
  });

  it('takes the sidecar along, is verified, and done twice copies nothing', async () => {
    expect(await copy()).toMatchObject({ copied: 2, alreadyThere: 0, problems: [] });
    expect(cellar.text('in/a.xmp')).toBe(studio.text('in/a.xmp'));
    expect(cellar.text('_wembo/manifest-sha256.txt')).toBe(studio.text('_wembo/manifest-sha256.txt'));
    expect((await photoAt('in/a.jpg', 'cellar')).file).toMatchObject({
      state: 'present',
      verifiedAt: expect.any(Number) as number,
    });
    expect(await copy()).toMatchObject({ copied: 0, alreadyThere: 2 });
  });

  it('made while an edit still waits gets that edit too', async () => {
    await set('in/b.jpg', 'Klaksvík');
    await copy();
    expect(cellar.text('in/b.xmp')).toBeNull();
    await outbox();
    expect(cellar.text('in/b.xmp')).toContain('Klaksvík');
    expect(cellar.text('in/b.xmp')).toBe(studio.text('in/b.xmp'));
  });

  it('stops at a full drive with no half file, and goes on when there is room', async () => {
    cellar.capacityBytes = 450_000;
    await expect(copy()).rejects.toMatchObject({ problem: 'full' });
    expect([...cellar.files.keys()].filter(isLeftover)).toEqual([]);
    cellar.capacityBytes = Infinity;
    expect((await copy()).problems).toEqual([]);
    expect([...cellar.files.keys()].filter((path) => path.endsWith('.jpg')).sort()).toEqual(['in/a.jpg', 'in/b.jpg']);
  });

  it('does not spread damage: an original that changed since it was verified is named and left', async () => {
    const file = studio.files.get('in/b.jpg');
    if (file) file.bytes = Uint8Array.from(file.bytes).fill(9, 150_000, 150_001);
    const report = await copy();
    expect(report).toMatchObject({
      copied: 1,
      problems: [{ path: 'in/b.jpg', problem: { code: 'drive/problem', reason: 'source-damaged' } }],
    });
    expect(cellar.files.has('in/b.jpg')).toBe(false);
  });

  it('of a file that vanished meanwhile is a trouble of that file only', async () => {
    studio.files.delete('in/a.jpg');
    expect(await copy()).toMatchObject({
      copied: 1,
      problems: [{ path: 'in/a.jpg', problem: { code: 'file/vanished' } }],
    });
  });

  it('a check of the copy finds damage, loss and strangers; the proofs bring them back to a new catalog', async () => {
    await copy();
    const before = await photoAt('in/a.jpg', 'cellar');
    cellar.files.delete('in/b.jpg');
    cellar.put('new.jpg', jpeg(5));
    const bent = cellar.files.get('in/a.jpg');
    const good = bent?.bytes;
    if (bent) bent.bytes = Uint8Array.from(bent.bytes).fill(9, 150_000, 150_001);
    expect(await checkDrive(tools(), 'cellar', cellar, true)).toMatchObject({
      sound: 0,
      damaged: ['in/a.jpg'],
      missing: ['in/b.jpg'],
      added: ['new.jpg'],
    });
    if (bent && good) bent.bytes = good;
    await checkDrive(tools(), 'cellar', cellar, true);
    db = new CatalogDatabase(`test-${number++}`);
    await db.drives.put(driveRecord('cellar'));
    await scan('cellar');
    expect((await photoAt('in/a.jpg', 'cellar')).file?.sha256).toBe(before.file?.sha256);
    expect((await photoAt('in/a.jpg', 'cellar')).photo?.fields).toMatchObject({ headline: 'One', city: 'Gjógv' });
  });
});
