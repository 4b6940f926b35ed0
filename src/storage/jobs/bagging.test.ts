// Bags made of photos and checked: what is in one, what keeps it from being one, and that others' bags are read by the
// same rules. That `sha256sum -c` agrees is seen on real folders (tests/e2e).

import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord } from '../../../tests/fixtures/records';
import { bent, pictureBytes } from '../../../tests/storm/pictures';
import type { BagAsked } from '../catalog/records';
import { CatalogDatabase } from '../catalog/database';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { checkBagOn, packBag } from './bag-checking';
import { makeBag } from './bagging';
import { checkDrive } from './checking';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

let db: CatalogDatabase;
let studio: MemoryDrive;
let cellar: MemoryDrive;
let clock = 1_700_000_000_000;
let number = 0;
let away: string[] = [];

const now = () => (clock += 1000);
const tools = (stopAfter = Infinity): JobTools => {
  let done = 0;
  const abort = new AbortController();
  const atRest = async () => {
    if (done++ >= stopAfter) abort.abort();
    abort.signal.throwIfAborted();
  };
  return { db, now, fileTasks: directFileTasks(), control: { ...quietControl(), signal: abort.signal, atRest } };
};
const driveOf = (id: string) => (away.includes(id) ? null : ({ studio, cellar }[id] ?? null));
const ASKED: BagAsked = {
  name: 'Rust',
  folder: 'bags/Rust',
  algorithm: 'sha256',
  organization: 'Museum of Boats',
  contact: '',
  description: 'Boats,\nas they were',
};
const make = async (asked: Partial<BagAsked> = {}, stopAfter?: number) =>
  makeBag(tools(stopAfter), {
    asked: { ...ASKED, ...asked },
    photoIds: (await db.photos.toCollection().primaryKeys()).sort(),
    target: cellar,
    driveOf,
    day: '2026-11-30',
  });
const check = (folder = 'bags/Rust') =>
  checkBagOn(cellar, folder, {
    fileTasks: directFileTasks(),
    signal: new AbortController().signal,
    onProgress: () => undefined,
  });
const text = (path: string) => new TextDecoder().decode(cellar.files.get(path)?.bytes);
const inBag = () => [...cellar.files.keys()].filter((path) => path.startsWith('bags/')).sort();

beforeEach(async () => {
  db = new CatalogDatabase(`bagging-${number++}`);
  await db.drives.bulkPut(['studio', 'cellar'].map((id) => driveRecord(id)));
  [studio, cellar, away] = [new MemoryDrive(), new MemoryDrive(), []];
  for (let at = 1; at <= 3; at++) studio.put(`2019/ð ${at} 100%.jpg`, pictureBytes(at, false));
  studio.put('2019/ð 1 100%.wav', new TextEncoder().encode('spoken'));
  await scanDrive(tools(), 'studio', studio);
});

describe('a bag', () => {
  it('has each original with what lies beside it, a table, the records, and is valid', async () => {
    expect(await make()).toMatchObject({ finished: true, photos: 3, files: 4, problems: [] });
    expect(inBag()).toEqual([
      'bags/Rust/bag-info.txt',
      'bags/Rust/bagit.txt',
      'bags/Rust/data/2019/ð 1 100%.jpg',
      'bags/Rust/data/2019/ð 1 100%.wav',
      'bags/Rust/data/2019/ð 2 100%.jpg',
      'bags/Rust/data/2019/ð 3 100%.jpg',
      'bags/Rust/manifest-sha256.txt',
      'bags/Rust/metadata/photos.csv',
      'bags/Rust/metadata/photos.json',
      'bags/Rust/tagmanifest-sha256.txt',
    ]);
    const first = studio.files.get('2019/ð 1 100%.jpg')?.bytes ?? new Uint8Array();
    const sum = createHash('sha256').update(first).digest('hex');
    expect(text('bags/Rust/manifest-sha256.txt')).toContain(`${sum}  data/2019/ð 1 100%25.jpg\n`);
    expect(text('bags/Rust/bag-info.txt')).toBe(
      `Source-Organization: Museum of Boats\nExternal-Description: Boats,\n  as they were\nExternal-Identifier: Rust\nBagging-Date: 2026-11-30\nPayload-Oxum: ${3 * first.length + 6}.4\nBag-Software-Agent: Wembo\n`,
    );
    expect(text('bags/Rust/metadata/photos.csv')).toContain('data/2019/ð 1 100%.jpg');
    expect(await check()).toMatchObject({ isValid: true, wrong: [], read: 9 });
  });

  it('by SHA-512 has sums of 512 bits', async () => {
    await make({ algorithm: 'sha512' });
    expect(text('bags/Rust/tagmanifest-sha512.txt')).toMatch(/^[0-9a-f]{128} {2}bag-info\.txt\n/);
    expect(await check()).toMatchObject({ isValid: true });
  });

  it('that broke off is no bag; taken up again it copies nothing twice', async () => {
    for (let at = 4; at <= 9; at++) studio.put(`2020/${at}.jpg`, pictureBytes(at, false));
    await scanDrive(tools(), 'studio', studio);
    await expect(make({}, 6)).rejects.toThrow();
    expect(inBag()).not.toContain('bags/Rust/bagit.txt');
    expect((await check()).check.faults).toEqual([{ code: 'no-declaration', path: 'bagit.txt' }]);
    const placed = inBag().filter((path) => path.endsWith('.jpg'));
    const times = () => placed.map((path) => cellar.files.get(path)?.modifiedMs);
    const before = times();
    expect(placed.length).toBeGreaterThan(0);
    expect(placed.length).toBeLessThan(9);
    expect(await make()).toMatchObject({ finished: true });
    expect(times()).toEqual(before);
    expect(await check()).toMatchObject({ isValid: true });
  });

  it('is not finished while anything asked for is damaged or away', async () => {
    const rotten = studio.files.get('2019/ð 2 100%.jpg');
    if (rotten) rotten.bytes = bent(rotten.bytes);
    expect(await make()).toMatchObject({ finished: false, problems: [{ problem: { reason: 'source-damaged' } }] });
    expect(await make()).toMatchObject({ finished: false, damaged: ['2019/ð 2 100%.jpg'] });
    away = ['studio'];
    expect((await make()).away).toHaveLength(3);
    expect(inBag()).not.toContain('bags/Rust/bagit.txt');
  });

  it('is not made where something lies already, nor over a bag that is finished', async () => {
    cellar.put('bags/Rust/letter.txt', new TextEncoder().encode('mine'));
    await expect(make()).rejects.toThrow('exists');
    cellar.files.delete('bags/Rust/letter.txt');
    await make();
    await expect(make()).rejects.toThrow('exists');
  });

  it('is left alone by scans and checks of its drive: it is neither photo nor copy', async () => {
    await make();
    expect(await scanDrive(tools(), 'cellar', cellar)).toMatchObject({ photos: 0, bags: ['bags/Rust'], missing: [] });
    expect(await checkDrive(tools(), 'cellar', cellar, true)).toMatchObject({ added: [], missing: [] });
    expect(await db.files.where('driveId').equals('cellar').count()).toBe(0);
  });

  it('is packed into one file that holds what was checked; where something of it went since, into none', async () => {
    await make();
    const packing = { fileTasks: directFileTasks(), signal: new AbortController().signal, onBytes: () => undefined };
    const checked = await check();
    expect(await packBag(cellar, 'bags/Rust', checked, packing)).toMatchObject({ path: 'bags/Rust.zip' });
    const zip = cellar.files.get('bags/Rust.zip')?.bytes ?? new Uint8Array();
    const entries = Buffer.from(zip).toString('latin1').split('PK\u0001\u0002').length - 1;
    expect(entries).toBe(checked.paths.length); // one of the directory a file (APPNOTE 6.3, 4.3.12)
    cellar.files.delete('bags/Rust.zip');
    cellar.files.delete('bags/Rust/data/2019/ð 3 100%.jpg');
    await expect(packBag(cellar, 'bags/Rust', checked, packing)).rejects.toThrow('not-found');
    expect([...cellar.files.keys()].filter((path) => path.includes('.zip'))).toEqual([]);
  });

  it.each([
    ['a bit turned in the payload', (path: string) => path.endsWith('3 100%.jpg'), 'data/2019/ð 3 100%.jpg'],
    ['a bit turned in a tag file', (path: string) => path.endsWith('photos.csv'), 'metadata/photos.csv'],
  ])('with %s is complete and not valid', async (_, isIt, path) => {
    await make();
    const file = cellar.files.get(inBag().find(isIt) ?? '');
    if (file) file.bytes = bent(file.bytes);
    expect(await check()).toMatchObject({ isValid: false, wrong: [path], check: { faults: [] } });
  });

  it('of which a file went, or to which one came, is not complete', async () => {
    await make();
    cellar.files.delete('bags/Rust/data/2019/ð 3 100%.jpg');
    cellar.put('bags/Rust/data/more.jpg', pictureBytes(9, false));
    expect((await check()).check.faults).toEqual([
      { code: 'missing', path: 'data/2019/ð 3 100%.jpg' },
      { code: 'unlisted', path: 'data/more.jpg' },
    ]);
  });
});
