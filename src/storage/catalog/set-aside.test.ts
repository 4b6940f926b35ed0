// Out of the catalog, set aside, brought back, erased: what becomes of every file on every drive, away ones included.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { MemoryDrive } from '../drives/memory-drive';
import { checkDrive } from '../jobs/checking';
import type { JobTools } from '../jobs/job-tools';
import { scanDrive } from '../jobs/scan';
import { directFileTasks } from '../file-tasks/file-tasks';
import { makeChange, undoLast } from './changes';
import { CatalogDatabase } from './database';
import { emptyOutbox } from './outbox';
import { searchRecords } from './search-feed';
import { listSetAside, planBringBack, planLeaveOut, planSetAside, queueErasing } from './set-aside';

let db: CatalogDatabase;
let studio: MemoryDrive;
let vault: MemoryDrive;
let away: Set<string>;
let number = 0;
let clock = 100;

const DAY = '2026-11-25';
const shown = async () => (await searchRecords(db, ['a', 'b'])).records.map(({ id }) => id);
const round = () =>
  emptyOutbox({
    db,
    driveOf: (id) => (away.has(id) ? null : id === 'studio' ? studio : vault),
    embed: async () => ({ state: 'unchanged' }) as never,
    copy: async () => {
      throw new Error('nothing is copied here');
    },
    now: () => (clock += 1),
  });
const make = async ({ change }: { change: Parameters<typeof makeChange>[1] }) => makeChange(db, change, (clock += 1));
const photosOn = (drive: MemoryDrive) =>
  [...drive.files.keys()].filter((path) => !/\.(json|jsonl|txt)$/.test(path)).sort();

beforeEach(async () => {
  db = new CatalogDatabase(`aside-${number++}`);
  studio = new MemoryDrive();
  vault = new MemoryDrive();
  away = new Set();
  await db.drives.bulkPut([driveRecord('studio'), driveRecord('vault')]);
  await db.photos.bulkPut([photoRecord('a'), photoRecord('b')]);
  for (const [id, drive] of [
    ['studio', studio],
    ['vault', vault],
  ] as const) {
    for (const photo of ['a', 'b']) {
      drive.put(`2026/Gjógv/${photo}.jpg`, `${photo}${photo}`);
      await db.files.put(
        fileRecord(id, `2026/Gjógv/${photo}.jpg`, photo, {
          sizeBytes: 2,
          modifiedMs: drive.files.get(`2026/Gjógv/${photo}.jpg`)?.modifiedMs ?? 0,
          ...(photo === 'a' && {
            sidecar: { path: '2026/Gjógv/a.xmp', sizeBytes: 1, modifiedMs: 1, sha256: 's', base: {} },
          }),
        }),
      );
    }
    drive.put('2026/Gjógv/a.xmp', 's');
    drive.put('2026/Gjógv/a.wav', 'spoken');
  }
});

describe('set aside', () => {
  it('says beforehand how many files on which drives, and moves them all with what belongs to them', async () => {
    const plan = await planSetAside(db, ['a'], DAY);
    expect(plan).toMatchObject({ photos: 1, files: 2, bytes: 4 });
    expect([...plan.drives]).toEqual([
      ['studio', 1],
      ['vault', 1],
    ]);
    await make(plan);
    expect(await shown()).toEqual(['b']); // at once, whatever the drives do
    await round();
    for (const drive of [studio, vault])
      expect(photosOn(drive)).toEqual([
        '2026/Gjógv/b.jpg',
        `_wembo/set-aside/${DAY}/2026/Gjógv/a.jpg`,
        `_wembo/set-aside/${DAY}/2026/Gjógv/a.wav`,
        `_wembo/set-aside/${DAY}/2026/Gjógv/a.xmp`,
      ]);
    expect(await listSetAside(db)).toMatchObject([{ photoId: 'a', day: DAY, from: '2026/Gjógv/a.jpg', bytes: 4 }]);
  });

  it('a drive that is away follows later; undone before, it never moves', async () => {
    away.add('vault');
    await make(await planSetAside(db, ['a', 'b'], DAY));
    await round();
    expect([
      photosOn(studio).filter((path) => !path.startsWith('_')),
      photosOn(vault).filter((path) => path.startsWith('_')),
    ]).toEqual([[], []]);
    expect(await listSetAside(db)).toHaveLength(2);
    await undoLast(db, (clock += 1));
    away.clear();
    await round();
    for (const drive of [studio, vault])
      expect(photosOn(drive)).toEqual(['2026/Gjógv/a.jpg', '2026/Gjógv/a.wav', '2026/Gjógv/a.xmp', '2026/Gjógv/b.jpg']);
    expect(await shown()).toEqual(['a', 'b']);
  });

  it('brought back, it lies where it lay; where its name is taken by then, it gets a number', async () => {
    await make(await planSetAside(db, ['a'], DAY));
    await round();
    studio.put('2026/Gjógv/A.JPG', 'another');
    await db.photos.put(photoRecord('c'));
    await db.files.put(fileRecord('studio', '2026/Gjógv/A.JPG', 'c', { sizeBytes: 7 }));
    await make(await planBringBack(db, ['a']));
    await round();
    expect(photosOn(vault)).toEqual(['2026/Gjógv/a.jpg', '2026/Gjógv/a.wav', '2026/Gjógv/a.xmp', '2026/Gjógv/b.jpg']);
    expect(photosOn(studio)).toEqual([
      '2026/Gjógv/A.JPG',
      '2026/Gjógv/a 2.jpg',
      '2026/Gjógv/a 2.wav',
      '2026/Gjógv/a 2.xmp',
      '2026/Gjógv/b.jpg',
    ]);
    expect(await listSetAside(db)).toEqual([]);
  });

  it('is found again by a scan, in a new catalog too, and is not shown', async () => {
    await make(await planSetAside(db, ['a'], DAY));
    await round();
    const tools = (catalog: CatalogDatabase): JobTools => ({
      db: catalog,
      fileTasks: directFileTasks(),
      now: () => (clock += 1),
      control: quietControl(),
    });
    const scan = (catalog: CatalogDatabase) => scanDrive(tools(catalog), 'studio', studio);
    expect((await scan(db)).missing).toEqual([]);
    expect(await listSetAside(db)).toMatchObject([{ photoId: 'a' }]);
    const check = await checkDrive(tools(db), 'studio', studio, true);
    expect(check).toMatchObject({ missing: [], added: [] });
    expect(check.sound + check.damaged.length).toBe(2); // read like any other
  });
});

describe('erasing', () => {
  it('is of what is set aside alone, on every drive, and takes the photo from the catalog with its last file', async () => {
    await make(await planSetAside(db, ['a'], DAY));
    await round();
    away.add('vault');
    expect(await queueErasing(db, ['a', 'b'], 1)).toMatchObject({ files: 2, bytes: 4 }); // b is not set aside
    await round();
    expect(photosOn(studio)).toEqual(['2026/Gjógv/b.jpg']);
    expect(await db.photos.get('a')).toBeDefined(); // still on the drive that is away
    away.clear();
    await round();
    expect(photosOn(vault)).toEqual(['2026/Gjógv/b.jpg']);
    await round(); // the manifest, which no longer lists it
    expect([
      await db.photos.get('a'),
      await db.files.where('photoId').equals('a').count(),
      await db.outbox.filter(({ task }) => task.kind !== 'history').count(),
    ]).toEqual([undefined, 0, 0]);
    expect(await shown()).toEqual(['b']);
  });

  it('leaves the note that bears the name of another photo, too, until that is erased', async () => {
    await db.photos.put(photoRecord('c'));
    studio.put('2026/Gjógv/a.tif', 'cc');
    const modifiedMs = studio.files.get('2026/Gjógv/a.tif')?.modifiedMs ?? 0;
    await db.files.put(fileRecord('studio', '2026/Gjógv/a.tif', 'c', { sizeBytes: 2, modifiedMs }));
    await make(await planSetAside(db, ['a', 'c'], DAY));
    await round();
    const aside = (name: string) => `_wembo/set-aside/${DAY}/2026/Gjógv/${name}`;
    expect(photosOn(studio)).toContain(aside('a.wav'));
    await queueErasing(db, ['a'], 1);
    await round();
    expect(photosOn(studio)).toEqual(['2026/Gjógv/b.jpg', aside('a.tif'), aside('a.wav')].sort());
    await queueErasing(db, ['c'], 1);
    await round();
    expect(photosOn(studio)).toEqual(['2026/Gjógv/b.jpg']);
  });

  it('a photo that was brought back meanwhile stays', async () => {
    await make(await planSetAside(db, ['a'], DAY));
    away.add('studio').add('vault');
    await queueErasing(db, ['a'], 1);
    await make(await planBringBack(db, ['a']));
    away.clear();
    await round();
    expect(photosOn(studio)).toContain('2026/Gjógv/a.jpg');
    expect(await db.photos.get('a')).toBeDefined();
  });
});

describe('out of the catalog', () => {
  it('hides the photo and leaves its files; kept on every drive, and undone', async () => {
    const plan = await planLeaveOut(db, ['a']);
    expect(plan).toMatchObject({ photos: 1, files: 2, bytes: 4 });
    await make(plan);
    expect(await shown()).toEqual(['b']);
    await round();
    expect(photosOn(studio)).toContain('2026/Gjógv/a.jpg');
    expect(JSON.parse(vault.text('_wembo/left-out.json') ?? '')).toMatchObject({
      format: 'wembo-left-out',
      leftOut: [{ id: 'a', name: 'a.jpg', deleted: false }],
    });
    await undoLast(db, (clock += 1));
    expect(await shown()).toEqual(['a', 'b']);
  });
});

describe('a round', () => {
  it('is judged by changes: decisions, ratings and undo go together; left, it stands on the drives', async () => {
    const kept = {
      id: 'r',
      name: 'First',
      rung: 1,
      photoIds: ['a', 'b'],
      decided: {},
      startedAt: 1,
      after: null,
      updatedAt: 1,
      deleted: false,
    };
    await makeChange(db, { kind: 'kept', savedKind: 'rounds', before: null, after: kept }, 1);
    await makeChange(
      db,
      {
        kind: 'round',
        roundId: 'r',
        decisions: [{ photoId: 'a', before: null, after: { decision: 'up', was: 0 } }],
        edits: [{ photoId: 'a', key: 'rating', after: 1 }],
      },
      2,
    );
    expect((await db.rounds.get('r'))?.decided).toEqual({ a: { decision: 'up', was: 0 } });
    expect((await db.photos.get('a'))?.fields.rating).toBe(1);
    await round();
    expect(JSON.parse(studio.text('_wembo/rounds.json') ?? '')).toMatchObject({
      rounds: [{ id: 'r', decided: { a: { decision: 'up' } } }],
    });
    expect(studio.text('2026/Gjógv/a.xmp')).toBe('s'); // another program's bytes that cannot be understood are not written over
    await undoLast(db, 3);
    expect((await db.rounds.get('r'))?.decided).toEqual({});
    expect((await db.photos.get('a'))?.fields.rating).toBeUndefined();
  });

  it('several changes are one act: undone together', async () => {
    const marker = {
      id: 'm',
      name: 'print',
      color: '#7a8b99',
      shape: 'disc' as const,
      order: 1,
      updatedAt: 1,
      deleted: false,
    };
    await makeChange(
      db,
      {
        kind: 'together',
        changes: [
          { kind: 'kept', savedKind: 'markers', before: null, after: marker },
          { kind: 'fields', origin: 'person', edits: [{ photoId: 'b', key: 'label', after: 'print' }] },
        ],
      },
      5,
    );
    expect([(await db.markers.get('m'))?.deleted, (await db.photos.get('b'))?.fields.label]).toEqual([false, 'print']);
    await undoLast(db, 6);
    expect([(await db.markers.get('m'))?.deleted, (await db.photos.get('b'))?.fields.label]).toEqual([true, undefined]);
  });
});

it('what is changed while a drive’s savedKind is read stays changed', async () => {
  const kept = {
    id: 'r',
    name: 'First',
    rung: 1,
    photoIds: ['a', 'b'],
    decided: {},
    startedAt: 1,
    after: null,
    updatedAt: 1,
    deleted: false,
  };
  await makeChange(db, { kind: 'kept', savedKind: 'rounds', before: null, after: kept }, 1);
  await round();
  let judged = false;
  studio.onOpen = (path) => {
    if (!path.endsWith('rounds.json') || judged) return;
    judged = true; // just now, while the outbox reads what the drive keeps
    void makeChange(
      db,
      {
        kind: 'round',
        roundId: 'r',
        decisions: [{ photoId: 'a', before: null, after: { decision: 'up', was: 0 } }],
        edits: [],
      },
      2,
    );
  };
  await db.outbox.put({ id: 'studio/', driveId: 'studio', task: { kind: 'archive' }, queuedAt: 3, problem: null });
  await round();
  expect(judged).toBe(true);
  expect((await db.rounds.get('r'))?.decided).toEqual({ a: { decision: 'up', was: 0 } });
});
