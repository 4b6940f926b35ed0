// Sending out over a real database engine (in memory), drives that can be made to fail, and pictures made by sharp in the
// place of the browser's workers.

import 'fake-indexeddb/auto';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { beforeEach, describe, expect, it } from 'vitest';
import type { FieldValues } from '@/core/fields/registry';
import { readPhoto } from '@/core/metadata/reading/reading';
import { folderIn } from '@/core/names/file-names';
import { sentByPhoto } from '@/core/send-out/delivery';
import { type DeliveryProfile, NEW_PROFILE } from '@/core/send-out/delivery-profile';
import { Undecodable } from '@/core/problems/undecodable';
import { driveRecord } from '../../../tests/fixtures/records';
import { undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { emptyOutbox } from '../catalog/outbox';
import { DriveError, type LazyBytes, isLeftover } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { blobSource } from '../drives/safe-write';
import { directFileTasks } from '../file-tasks/file-tasks';
import { sendOut, settleDelivery } from './delivering';
import { checkDrive } from './checking';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

let db: CatalogDatabase;
let studio: MemoryDrive;
let out: MemoryDrive;
let number = 0;
let clock = 0;
let made = 0;
/** Called before each picture is made. */
let beforeMaking: (file: LazyBytes) => Promise<void> | void = () => undefined;

const fileTasks = directFileTasks({
  makePicture: async (file, _photo, { picture, pixels }) => {
    await beforeMaking(file);
    made += 1;
    const bytes = await sharp(Buffer.from(await file.arrayBuffer()))
      .resize(pixels?.width ?? null)
      .jpeg({ quality: picture.quality })
      .toBuffer()
      .catch((error: unknown) => {
        throw new Undecodable({ code: 'picture/refused', reason: String(error) });
      });
    const { width = 0, height = 0 } = await sharp(bytes).metadata();
    return { blob: new Blob([new Uint8Array(bytes)]), width, height, quality: picture.quality };
  },
  decodeMade: async (file) => {
    const { width = 0, height = 0 } = await sharp(Buffer.from(await file.arrayBuffer())).metadata();
    return { width, height };
  },
});
const tools = (signal = new AbortController().signal): JobTools => ({
  db,
  fileTasks,
  now: () => (clock += 1000),
  control: {
    signal,
    atRest: async () => signal.throwIfAborted(),
    progress: () => undefined,
    reporting: () => undefined,
  },
});
const drives = (): Record<string, MemoryDrive> => ({ studio, out });
const driveOf = (id: string) => drives()[id] ?? null;
const run = (signal?: AbortSignal) => sendOut(tools(signal), { runId: 'run', driveOf, drawOverlay: async () => null });

const picture = async (seed: number, width = 90): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(
    await sharp({ create: { width, height: 60, channels: 3, background: { r: seed * 20, g: 90, b: 60 } } })
      .jpeg()
      .toBuffer(),
  );

const PROFILE: DeliveryProfile = {
  ...NEW_PROFILE,
  id: 'press',
  name: 'Press',
  folder: { kind: 'on-drive', driveId: 'out', parts: [{ kind: 'text', text: 'press' }] },
  updatedAt: 0,
  deleted: false,
};

/** Lays a run of all photos, as the place does. */
async function plan(profile: Partial<DeliveryProfile> = {}, zipPath: string | null = null): Promise<string[]> {
  const photos = (await db.photos.toArray()).sort((a, b) => (a.id < b.id ? -1 : 1));
  await db.deliveryRuns.put({ id: 'run', profile: { ...PROFILE, ...profile }, day: '2026-11-30', begunAt: 0, zipPath });
  const isMade = (profile.picture ?? PROFILE.picture).kind === 'made';
  await db.deliveryItems.bulkPut(
    photos.map(({ id }, order) => ({
      id: `run/${id}`,
      runId: 'run',
      photoId: id,
      order,
      driveId: 'out',
      path: zipPath === null ? `press/s-${order + 1}.jpg` : `s-${order + 1}.jpg`,
      pixels: isMade ? { width: 45, height: 30 } : null,
      sent: null,
    })),
  );
  return photos.map(({ id }) => id);
}

const arrived = () => [...out.files.keys()].filter((path) => path.startsWith('press/') && !isLeftover(path)).sort();
const describePhoto = async (id: string, fields: FieldValues) => {
  await db.photos.update(id, { fields });
};
const reading = async (path: string) => readPhoto(blobSource(await out.open(path)), path);

beforeEach(async () => {
  db = new CatalogDatabase(`delivering-${(number += 1)}`);
  await db.open();
  [studio, out] = [new MemoryDrive(), new MemoryDrive()];
  [clock, made, beforeMaking] = [1_000_000, 0, () => undefined];
  await db.drives.bulkPut([driveRecord('studio', { marked: true }), driveRecord('out', { marked: true })]);
  for (const seed of [1, 2, 3, 4]) studio.put(`shoot/${seed}.jpg`, await picture(seed));
  await scanDrive(tools(), 'studio', studio);
});

describe('sending out', () => {
  it('every photo arrives, is counted, and is noted as sent with the file it became', async () => {
    const ids = await plan();
    const report = await run();
    expect(report).toMatchObject({ asked: 4, arrived: 4, there: 0, problems: [], damaged: [], away: [] });
    expect(arrived()).toEqual(['press/s-1.jpg', 'press/s-2.jpg', 'press/s-3.jpg', 'press/s-4.jpg']);
    const delivery = await db.deliveries.get('run');
    expect(delivery).toMatchObject({ name: 'Press', date: '2026-11-30', photoIds: ids });
    expect(delivery?.files?.map(({ path, width }) => [path, width])).toEqual(arrived().map((path) => [path, 45]));
    expect(sentByPhoto(await db.deliveries.toArray()).get(ids[0] ?? '')).toEqual(['Press']);
  });

  it('words leave by the policy; what became private since it was planned stays', async () => {
    const [first = ''] = await plan();
    await describePhoto(first, { caption: 'At the slip.', keywords: ['boat', 'secret'], city: 'Klaksvík', rating: 5 });
    await db.vocabulary.put({
      id: 'w',
      word: 'secret',
      parentId: null,
      synonyms: [],
      note: '',
      isPrivate: true,
      updatedAt: 0,
      deleted: false,
    });
    await run();
    const { fields } = await reading('press/s-1.jpg');
    expect(fields).toEqual({ caption: 'At the slip.', keywords: ['boat'] });
    expect(Buffer.from(await (await out.open('press/s-1.jpg')).arrayBuffer()).includes('secret')).toBe(false);
  });

  it('a drive that is pulled at the third file ends it; what arrived is noted, and it goes on from there', async () => {
    await plan();
    beforeMaking = () => {
      if (made === 2) out.gone = true;
    };
    await expect(run()).rejects.toMatchObject({ problem: 'target-gone' });
    const before = (await db.deliveries.get('run'))?.photoIds.length ?? 0;
    expect(before).toBe(arrived().length);
    [out.gone, beforeMaking] = [false, () => undefined];
    const report = await run();
    expect(report).toMatchObject({ arrived: 4, there: before });
    expect(arrived()).toHaveLength(4);
    expect([...out.files.keys()].some(isLeftover)).toBe(false);
    expect((await db.deliveries.get('run'))?.photoIds).toHaveLength(4);
  });

  it('cancelled and resumed: what is there is not made again', async () => {
    await plan();
    const abort = new AbortController();
    beforeMaking = () => {
      if (made === 1) abort.abort();
    };
    await expect(run(abort.signal)).rejects.toThrow();
    beforeMaking = () => undefined;
    const there = arrived().length;
    made = 0;
    expect((await run()).arrived).toBe(4);
    expect(made).toBe(4 - there);
    expect(arrived()).toHaveLength(4);
  });

  it('the page closed between a file’s placing and its record leaves no double of it', async () => {
    await plan();
    await run();
    await db.deliveryItems.toCollection().modify({ sent: null });
    await db.deliveries.clear();
    expect(await run()).toMatchObject({ arrived: 4, there: 4 });
    expect(arrived()).toHaveLength(4);
  });

  it('a file that was taken away from there is made again', async () => {
    await plan();
    await run();
    await out.remove('press/s-2.jpg');
    expect(await run()).toMatchObject({ arrived: 4, there: 3 });
    expect(arrived()).toHaveLength(4);
  });

  it('a full drive ends it, and nothing half lies there', async () => {
    await plan();
    out.capacityBytes = 700;
    await expect(run()).rejects.toMatchObject({ problem: 'full' });
    expect([...out.files.keys()].some(isLeftover)).toBe(false);
    for (const path of arrived()) expect((await reading(path)).problems).toEqual([]);
  });

  it('what lies there under its name stays, and the file gets a number', async () => {
    await plan();
    out.put('press/S-1.JPG', await picture(9));
    const caseless = new MemoryDrive('caseless');
    caseless.put('press/S-1.JPG', await picture(9));
    out = caseless;
    expect((await run()).arrived).toBe(4);
    expect(arrived()).toEqual(['press/S-1.JPG', 'press/s-1-2.jpg', 'press/s-2.jpg', 'press/s-3.jpg', 'press/s-4.jpg']);
    expect(out.files.get('press/S-1.JPG')?.bytes).toEqual(await picture(9));
  });

  it('a damaged original is filed and not sent, unless another drive has it whole', async () => {
    const file = (await db.files.toArray())[0];
    if (!file) throw new Error('no file');
    const sound = await picture(Number(file.path.slice(6, 7)));
    const bent = Uint8Array.from(sound, (byte, at) => (at === sound.length - 20 ? byte ^ 1 : byte));
    studio.files.set(file.path, { bytes: bent, modifiedMs: file.modifiedMs });
    await plan();
    const report = await run();
    expect(report.arrived).toBe(3);
    expect(report.damaged).toEqual([file.path]);
    expect((await db.files.get(file.id))?.state).toBe('damaged');
    out.put('copies/a.jpg', sound);
    await scanDrive(tools(), 'out', out);
    expect(await run()).toMatchObject({ arrived: 4, there: 3 });
  });

  it('one that cannot be decoded is told, the rest goes on', async () => {
    await plan();
    let calls = 0;
    beforeMaking = () => {
      calls += 1;
      if (calls === 2) throw new Undecodable({ code: 'picture/refused', reason: 'bent' });
    };
    const report = await run();
    expect(report.arrived).toBe(3);
    expect(report.problems).toHaveLength(1);
    expect(report.problems[0]?.problem).toEqual({ code: 'picture/refused', reason: 'bent' });
  });

  it('photos on no connected drive are named, and no photos are nothing', async () => {
    await plan();
    const report = await sendOut(tools(), {
      runId: 'run',
      driveOf: (id) => (id === 'out' ? out : null),
      drawOverlay: async () => null,
    });
    expect([report.arrived, report.away.length]).toEqual([0, 4]);
    await settleDelivery(db, 'run', 0);
    expect(await db.deliveryItems.count()).toBe(0);
    expect(await db.deliveries.count()).toBe(0);
  });

  it('undo takes the note back; the files stay', async () => {
    const [first = ''] = await plan();
    await run();
    await undoLast(db, (clock += 1000));
    expect(sentByPhoto(await db.deliveries.toArray()).get(first)).toBeUndefined();
    expect(arrived()).toHaveLength(4);
  });
});

describe('an original, untouched', () => {
  const original = {
    picture: { kind: 'original', sidecar: true },
    words: { which: 'all', place: 'out', people: 'in' },
  } as const;

  it('arrives byte for byte, its words in a sidecar beside it', async () => {
    const [first = ''] = await plan(original);
    await describePhoto(first, { caption: 'At the slip.', city: 'Klaksvík' });
    expect((await run()).arrived).toBe(4);
    const [file] = await db.files.where('photoId').equals(first).toArray();
    expect(out.files.get('press/s-1.jpg')?.bytes).toEqual(studio.files.get(file?.path ?? '')?.bytes);
    const sidecar = new TextDecoder().decode(out.files.get('press/s-1.jpg.xmp')?.bytes);
    expect(sidecar).toContain('At the slip.');
    expect(sidecar).not.toContain('Klaksvík');
  });

  it('stays here when its file says what is not to leave', async () => {
    const [first = ''] = await plan(original);
    await db.photos.update(first, { embedded: { position: '62.2, -6.6' } });
    const report = await run();
    expect([report.arrived, report.problems[0]?.problem.code]).toEqual([3, 'delivery/words-in-file']);
  });
});

describe('a ZIP', () => {
  const zip = {
    folder: { kind: 'zip', driveId: 'out', parts: [], name: 'press' },
    extras: { page: true, table: true },
  } as const;
  const unpacked = () => unzipSync(out.files.get('press/a.zip')?.bytes ?? new Uint8Array());

  it('holds all pictures, a page and a table; each is noted by its place in it', async () => {
    await plan(zip, 'press/a.zip');
    expect((await run()).arrived).toBe(4);
    expect(Object.keys(unpacked()).sort()).toEqual([
      'captions.csv',
      'index.html',
      's-1.jpg',
      's-2.jpg',
      's-3.jpg',
      's-4.jpg',
    ]);
    expect((await sharp(unpacked()['s-3.jpg'] ?? Buffer.alloc(0)).metadata()).width).toBe(45);
    expect((await db.deliveries.get('run'))?.files?.map(({ path }) => path)).toContain('press/a.zip/s-4.jpg');
    expect(await run()).toMatchObject({ arrived: 4, there: 4 });
    expect(arrived()).toEqual(['press/a.zip']);
  });

  it('is all or nothing: interrupted, nothing of it lies there, and nothing is noted', async () => {
    await plan(zip, 'press/a.zip');
    const abort = new AbortController();
    beforeMaking = () => {
      if (made === 2) abort.abort();
    };
    await expect(run(abort.signal)).rejects.toThrow();
    expect(out.files.size).toBe(0);
    expect(await db.deliveries.count()).toBe(0);
    beforeMaking = () => undefined;
    expect((await run()).arrived).toBe(4);
    expect(Object.keys(unpacked())).toHaveLength(6);
  });
});

describe('what goes along', () => {
  it('a page and a table lie beside the pictures, with the words that left', async () => {
    const [first = ''] = await plan({ extras: { page: true, table: true } });
    await describePhoto(first, { headline: 'At the slip', city: 'Klaksvík' });
    await run();
    const page = new TextDecoder().decode(out.files.get('press/index.html')?.bytes);
    expect(page).toContain('<h2>At the slip</h2>');
    expect(page).toContain('src="s-4.jpg"');
    const table = new TextDecoder().decode(out.files.get('press/captions.csv')?.bytes);
    expect(table).toContain('s-1.jpg,At the slip');
    expect(`${page}${table}`).not.toContain('Klaksvík');
  });
});

describe('a delivery into a folder that is cataloged', () => {
  it('its files are no photos of their own: here, after they were moved, and in a catalog made anew', async () => {
    await plan();
    await run();
    const photos = await db.photos.count();
    const report = await scanDrive(tools(), 'out', out);
    expect([report.added, report.sentHere, await db.photos.count()]).toEqual([0, 4, photos]);
    await out.move('press/s-1.jpg', 'elsewhere/x.jpg');
    expect((await scanDrive(tools(), 'out', out)).added).toBe(0);
    await emptyOutbox({
      db,
      driveOf,
      embed: (order) => fileTasks.embed(order),
      copy: (order) => fileTasks.copy(order, () => undefined),
      now: () => (clock += 1000),
    });
    db = new CatalogDatabase(`delivering-anew-${number}`);
    await db.open();
    await db.drives.put(driveRecord('out', { marked: true }));
    const anew = await scanDrive(tools(), 'out', out);
    expect([anew.added, anew.sentHere]).toEqual([0, 4]);
    expect(sentByPhoto(await db.deliveries.toArray()).size).toBe(4);
  });

  it('nor while it is under way: a page closed in the middle leaves no photo behind', async () => {
    await plan();
    beforeMaking = () => {
      if (made === 2) throw new DriveError('full', '');
    };
    await expect(run()).rejects.toThrow();
    await db.deliveries.clear();
    await db.deliveryItems.toCollection().modify({ sent: null });
    expect((await scanDrive(tools(), 'out', out)).added).toBe(0);
  });

  it('what lay where one was to go before it began is a photo of its own', async () => {
    await plan();
    await db.deliveryRuns.update('run', { begunAt: Date.now() });
    out.put('press/s-1.jpg', await picture(9));
    expect((await scanDrive(tools(), 'out', out)).added).toBe(1);
  });

  it('a check calls them neither new nor missing', async () => {
    await plan();
    await run();
    const report = await checkDrive(tools(), 'out', out, false);
    expect([report.added, report.missing, report.damaged]).toEqual([[], [], []]);
    expect(folderIn(arrived()[0] ?? '')).toBe('press');
  });

  it('an original that was sent untouched is a copy of its photo', async () => {
    await plan({ picture: { kind: 'original', sidecar: false }, words: { which: 'all', place: 'in', people: 'in' } });
    await run();
    await scanDrive(tools(), 'out', out);
    expect(await db.files.where('driveId').equals('out').count()).toBe(4);
    expect(await db.photos.count()).toBe(4);
  });
});
