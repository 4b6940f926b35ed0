// Ways to lose a file or to believe a damaged one that were found in code that was green, each as it was found.

import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { Places, PlaceDrive, Process, newDisk } from '../../../tests/storm/disks';
import { bent, pictureBytes } from '../../../tests/storm/pictures';
import { driveRecord } from '../../../tests/fixtures/records';
import { planSet } from '@/core/fields/edits';
import { verifiedCount, copiesOf } from '@/core/fixity/copies';
import { NEW_SHEET } from '@/core/take-in/sheet';
import { makeChange, undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { queueEmbedding } from '../catalog/embedding';
import { joinDrive, sameFilesOn } from '../catalog/joining';
import { writeFixityOf } from '../catalog/manifest';
import { emptyOutbox } from '../catalog/outbox';
import { planRename } from '../catalog/renaming';
import { type Drive, DriveError } from '../drives/drive';
import { MarkedDrive } from '../archive/marked-drive';
import { MemoryDrive } from '../drives/memory-drive';
import { cardStatus, emptySource } from './emptying';
import { checkDrive } from './checking';
import { placesAsThere } from '../catalog/copy-places';
import { copyPhotos } from './copying';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';
import { mendFile, settleFile } from './settling';

let db: CatalogDatabase;
let drives: Record<string, MemoryDrive>;
let clock = 1000;
let number = 0;

const fileTasks = directFileTasks();
const now = () => (clock += 1000);
const tools = (): JobTools => ({
  db,
  fileTasks,
  now,
  control: quietControl(),
});
const driveOf = (id: string): Drive | null => drives[id] ?? null;
const scan = (id: string) => scanDrive(tools(), id, drives[id] as MemoryDrive);
const copy = (from: string, to: string) =>
  copyPhotos(tools(), {
    source: { id: from, drive: drives[from] as MemoryDrive, writable: true },
    target: { id: to, drive: drives[to] as MemoryDrive },
    photoIds: null,
  });
const check = (id: string) => checkDrive(tools(), id, drives[id] as MemoryDrive, true);
const outbox = (of: (id: string) => Drive | null = driveOf) =>
  emptyOutbox({
    db,
    driveOf: of,
    embed: (order) => fileTasks.embed(order),
    copy: (order) => fileTasks.copy(order, () => undefined),
    now: () => (clock += 30_000),
  });
const fileAt = (id: string) => db.files.get(id);
const rot = (id: string, path: string) => {
  const file = drives[id]?.files.get(path);
  if (file) file.bytes = bent(file.bytes);
};
const copiesOfPhoto = async (path: string) => {
  const photo = await db.photos.get((await fileAt(path))?.photoId ?? '');
  return photo ? verifiedCount(copiesOf(await db.files.where('photoId').equals(photo.id).toArray(), photo)) : 0;
};

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

async function newCatalog(): Promise<void> {
  db = new CatalogDatabase(`no-file-lost-${number++}`);
  await db.drives.bulkPut(['studio', 'cellar'].map((id) => driveRecord(id)));
}

beforeEach(async () => {
  drives = { studio: new MemoryDrive(), cellar: new MemoryDrive() };
  await newCatalog();
});

describe('a rebuild', () => {
  it.each([
    ['the bent copy first', ['cellar', 'studio']],
    ['the good one first', ['studio', 'cellar']],
  ])('believes the measure that was recorded, and no present byte: %s', async (_, order) => {
    drives.studio?.put('a.jpg', pictureBytes(1, true));
    await scan('studio');
    await copy('studio', 'cellar');
    rot('cellar', 'a.jpg');
    expect((await check('cellar')).damaged).toEqual(['a.jpg']);
    await newCatalog();
    for (const id of order) await scan(id);
    expect(await db.photos.count()).toBe(1);
    expect([
      (await fileAt('cellar/a.jpg'))?.state,
      (await fileAt('studio/a.jpg'))?.state,
      await copiesOfPhoto('studio/a.jpg'),
    ]).toEqual(['damaged', 'present', 1]);
    expect(await copy('cellar', 'studio')).toMatchObject({ copied: 0 });
  });

  it('finds damage nobody had met before against the manifest, whatever form the older records had', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    drives.studio?.files.delete('_wembo/fixity.jsonl');
    rot('studio', 'a.jpg');
    await newCatalog();
    expect(await scan('studio')).toMatchObject({ damaged: ['a.jpg'] });
    expect(await fileAt('studio/a.jpg')).toMatchObject({ state: 'damaged', verifiedAt: null });
  });

  it('says what is missing although only the drive’s records know of it; what was moved by hand is not', async () => {
    for (const [index, name] of ['a', 'b', 'c'].entries())
      drives.studio?.put(`${name}.jpg`, pictureBytes(index, false));
    await scan('studio');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    const moved = drives.studio?.files.get('b.jpg');
    drives.studio?.files.delete('a.jpg');
    drives.studio?.files.delete('b.jpg');
    if (moved) drives.studio?.files.set('in/b2.jpg', moved);
    await newCatalog();
    expect(await scan('studio')).toMatchObject({ missing: ['a.jpg'] });
    expect((await fileAt('studio/a.jpg'))?.state).toBe('missing');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    expect(drives.studio?.text('_wembo/manifest-sha256.txt')?.match(/\S+\.jpg/g)).toEqual([
      'a.jpg',
      'c.jpg',
      'in/b2.jpg',
    ]);
  });

  it('that was interrupted leaves every line of the manifest that it did not come to', async () => {
    for (const name of ['a', 'b', 'c']) drives.studio?.put(`${name}.jpg`, pictureBytes(name.charCodeAt(0), false));
    await scan('studio');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    const before = drives.studio?.text('_wembo/manifest-sha256.txt');
    await newCatalog();
    drives.studio?.unreadable.add('b.jpg').add('c.jpg');
    await scan('studio');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    drives.studio?.unreadable.clear();
    expect(drives.studio?.text('_wembo/manifest-sha256.txt')).toBe(before);
  });
});

describe('the card that is emptied', () => {
  const rule = { copies: 1, awayCounts: false };
  const status = (source: Drive) =>
    cardStatus({ db, fileTasks, signal: new AbortController().signal, driveOf }, source, rule);

  it('is refused where it is a drive of the catalog, by its mark', async () => {
    drives.studio?.put(
      '_wembo/drive.json',
      JSON.stringify({ format: 'wembo-drive', version: 1, id: 'drive-0001', name: 'Studio', createdAt: 1 }),
    );
    await db.drives.put(driveRecord('drive-0001'));
    await expect(status(drives.studio as MemoryDrive)).rejects.toThrow('source-is-drive');
  });

  it.each([
    ['a folder of a drive', 'p/DCIM', 'p'],
    ['around a drive', 'p', 'p/DCIM'],
    ['the folder of a drive under another name', 'q', 'p'],
  ])('keeps every file where it is %s: the file is not its own copy', async (_, card, drive) => {
    const places = new Places();
    const disk = newDisk('disk', 'exact');
    places.plug('p', disk);
    places.plug('q', disk);
    disk.drive.put('DCIM/a.jpg', pictureBytes(1, false));
    const at = (place: string): Drive => new PlaceDrive(new Process(), places, place);
    const [source, onDrive] = [at(card), at(drive)];
    await scanDrive(tools(), 'studio', onDrive);
    const of = () => onDrive;
    const { plan } = await cardStatus(
      { db, fileTasks, signal: new AbortController().signal, driveOf: of },
      source,
      rule,
    );
    const report = await emptySource(tools(), source, { ...rule, files: 9 }, of);
    expect(plan.removable).toHaveLength(1); // the records alone do not tell
    expect(report).toMatchObject({ removed: 0, problems: [{ problem: { reason: 'copies-gone' } }] });
    expect([...disk.drive.files.keys()]).toEqual(['DCIM/a.jpg']);
  });

  it('a folder of a drive that was copied to another goes from there, and the drive’s own record with it', async () => {
    const [places, disk] = [new Places(), newDisk('disk', 'exact')];
    places.plug('p', disk);
    disk.drive.put('DCIM/a.jpg', pictureBytes(1, false));
    const at = (place: string): Drive => new PlaceDrive(new Process(), places, place);
    await scanDrive(tools(), 'studio', at('p'));
    drives.cellar?.put('a.jpg', pictureBytes(1, false));
    await scan('cellar');
    clock += 400 * 86_400_000; // all copies would be read again
    const report = await emptySource(tools(), at('p/DCIM'), { ...rule, files: 1 }, (id) =>
      id === 'studio' ? at('p') : driveOf(id),
    );
    expect(report).toMatchObject({ removed: 1 });
    expect([await fileAt('studio/DCIM/a.jpg'), await copiesOfPhoto('cellar/a.jpg')]).toEqual([undefined, 1]);
    expect(await db.retired.get('studio/DCIM/a.jpg')).toBeDefined();
  });

  it('of which nothing can be put aside for a moment, because it is full, is still told from a drive', async () => {
    const card = new MemoryDrive();
    card.put('DCIM/a.jpg', pictureBytes(1, false));
    card.capacityBytes = 1;
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    expect(await emptySource(tools(), card, { ...rule, files: 1 }, driveOf)).toMatchObject({ removed: 1 });
  });

  it('keeps a file whose copy has rotted since it was verified, when that is longer ago than the rule of safekeeping', async () => {
    const card = new MemoryDrive();
    card.put('DCIM/a.jpg', pictureBytes(1, false));
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    rot('studio', 'a.jpg');
    clock += 400 * 86_400_000;
    expect(await emptySource(tools(), card, { ...rule, files: 1 }, driveOf)).toMatchObject({
      removed: 0,
      damaged: ['a.jpg'],
    });
    expect((await fileAt('studio/a.jpg'))?.state).toBe('damaged');
  });

  it('keeps a spoken note whose copy is bent at the same length, and what only a record of an accession speaks of', async () => {
    const card = new MemoryDrive();
    card.put('DCIM/a.jpg', pictureBytes(1, false));
    card.put('DCIM/a.wav', 'spoken');
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    drives.studio?.put('a.wav', 'spoken');
    await scan('studio');
    const { lastModified, size } = await card.open('DCIM/a.wav');
    const sha256 = 'f'.repeat(64);
    await db.accessions.put({
      id: 'acc',
      number: '2026.001',
      name: '',
      note: '',
      source: '',
      sourceId: '',
      startedAt: 1,
      endedAt: 2,
      onSource: 1,
      known: 0,
      leftOut: 0,
      routine: null,
      sheet: NEW_SHEET,
      recordedAt: null,
      runs: [],
    });
    const note = {
      id: 'acc/DCIM/a.wav',
      accessionId: 'acc',
      from: 'DCIM/a.wav',
      number: '2026.001.0001',
      role: 'beside' as const,
      sizeBytes: size,
      modifiedMs: lastModified,
      sha256,
      frame: 'a',
      to: 'a.wav',
      second: null,
      photoId: null,
      described: true,
    };
    await db.accessionFiles.put({
      ...note,
      placed: [
        { driveId: 'studio', path: 'a.wav' },
        { driveId: 'a drive of long ago', path: 'a.wav' },
      ],
    });
    expect((await status(card)).plan.removable.map(({ path }) => path)).toEqual(['DCIM/a.jpg', 'DCIM/a.wav']);
    expect((await emptySource(tools(), card, { ...rule, files: 2 }, driveOf)).problems.map(({ path }) => path)).toEqual(
      ['DCIM/a.wav'],
    );
    card.put('DCIM/a.jpg', pictureBytes(1, false));
    await db.accessionFiles.put({ ...note, placed: [{ driveId: 'a drive of long ago', path: 'a.wav' }] });
    expect((await status(card)).plan.obstacles).toContainEqual({ path: 'DCIM/a.wav', why: 'never-read' });
    expect([...card.files.keys()]).toEqual(['DCIM/a.wav', 'DCIM/a.jpg']);
  });
});

describe('another disk under the same letter', () => {
  const mark = (id: string) => JSON.stringify({ format: 'wembo-drive', version: 1, id, name: id, createdAt: 1 });

  it.each([
    ['another drive', mark('drive-0002')],
    ['an empty mount point', null],
  ])('%s: nothing is read or written, nothing counts as missing, and waiting names wait', async (_, other) => {
    const [mine, theirs] = [new MemoryDrive(), new MemoryDrive()];
    mine.put('_wembo/drive.json', mark('drive-0001'));
    mine.put('a.jpg', pictureBytes(1, false));
    if (other) theirs.put('_wembo/drive.json', other);
    if (other) theirs.put('a.jpg', pictureBytes(2, false));
    await db.drives.put(driveRecord('drive-0001'));
    await scanDrive(tools(), 'drive-0001', new MarkedDrive(mine, 'drive-0001'));
    const { photoId } = (await fileAt('drive-0001/a.jpg')) ?? {};
    const photo = await db.photos.get(photoId ?? '');
    await makeChange(
      db,
      {
        kind: 'names',
        moves: [{ photoId: photoId ?? '', driveId: 'drive-0001', before: 'a.jpg', after: 'b.jpg' }],
        edits: photo ? planSet([photo], 'city', 'Gjógv') : [],
      },
      now(),
    );
    const before = new Map(theirs.files);
    const swapped = new MarkedDrive(theirs, 'drive-0001');
    await expect(scanDrive(tools(), 'drive-0001', swapped)).rejects.toThrow('other-drive');
    await expect(checkDrive(tools(), 'drive-0001', swapped, true)).rejects.toThrow('other-drive');
    await outbox((id) => (id === 'drive-0001' ? swapped : null));
    expect(theirs.files).toEqual(before);
    expect(await fileAt('drive-0001/a.jpg')).toMatchObject({ state: 'present', wantedPath: 'b.jpg' });
    await outbox((id) => (id === 'drive-0001' ? new MarkedDrive(mine, 'drive-0001') : null));
    expect([...mine.files.keys()]).toContain('b.jpg');
  });
});

describe('an undo during a rename', () => {
  it('brings every file back, those that were on their way too', async () => {
    const studio = drives.studio as MemoryDrive;
    for (let index = 0; index < 12; index++) studio.put(`n${index}.jpg`, pictureBytes(index + 1, false));
    await scan('studio');
    const names = () => [...studio.files.keys()].filter((path) => path.endsWith('.jpg')).sort();
    const before = names();
    const plan = await planRename(
      db,
      await db.photos.toCollection().primaryKeys(),
      [
        { kind: 'text', text: 'new ' },
        { kind: 'sequence', start: 1, digits: 3, over: 'folder' },
      ],
      NEW_SHEET.blanks,
      false,
    );
    await makeChange(db, { kind: 'names', moves: plan.moves, edits: [] }, now());
    const move = studio.move.bind(studio);
    let moves = 0;
    studio.move = async (from, to) => {
      await move(from, to);
      // the catalog has not followed this move yet
      if (++moves === 4) await undoLast(db, now());
    };
    await outbox();
    await outbox();
    expect(moves).toBeGreaterThan(4);
    expect(names()).toEqual(before);
    expect(await db.files.filter(({ wantedPath, movingTo }) => wantedPath !== null || movingTo !== null).count()).toBe(
      0,
    );
  });
});

describe('damage', () => {
  it('met when fields are to be written into the file is filed, and the file is left as it is', async () => {
    const studio = drives.studio as MemoryDrive;
    studio.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    await db.drives.update('studio', { embeds: true });
    rot('studio', 'a.jpg');
    const rotten = studio.files.get('a.jpg')?.bytes;
    const photo = await db.photos.get((await fileAt('studio/a.jpg'))?.photoId ?? '');
    await makeChange(
      db,
      { kind: 'fields', origin: 'person', edits: photo ? planSet([photo], 'headline', 'x') : [] },
      now(),
    );
    expect(await queueEmbedding(db, 'studio', now())).toBe(1);
    await outbox();
    expect(studio.files.get('a.jpg')?.bytes).toBe(rotten);
    expect(await fileAt('studio/a.jpg')).toMatchObject({ state: 'damaged', verifiedAt: null });
  });

  it('met by a copy is filed from that moment, on the drive’s records too', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    rot('studio', 'a.jpg');
    expect(await copy('studio', 'cellar')).toMatchObject({ copied: 0, damaged: ['a.jpg'] });
    expect((await fileAt('studio/a.jpg'))?.state).toBe('damaged');
    expect(await copiesOfPhoto('studio/a.jpg')).toBe(0);
    expect(drives.studio?.text('_wembo/fixity.jsonl')).toContain('"state":"damaged"');
    expect([...(drives.cellar?.files.keys() ?? [])].filter((path) => path.endsWith('.jpg'))).toEqual([]);
  });

  it('is not seen where files are written into while they are being checked', async () => {
    const studio = drives.studio as MemoryDrive;
    const names = Array.from({ length: 8 }, (_, index) => `${index}.jpg`);
    for (const name of names) studio.put(name, pictureBytes(1 + Number(name[0]), false));
    await scan('studio');
    await db.drives.update('studio', { embeds: true });
    await makeChange(
      db,
      { kind: 'fields', origin: 'person', edits: planSet(await db.photos.toArray(), 'headline', 'x') },
      now(),
    );
    const { digest } = fileTasks;
    let written: Promise<unknown> | null = null;
    const beside: JobTools = {
      ...tools(),
      fileTasks: {
        ...fileTasks,
        digest: async (...order) => {
          const read = await digest(...order);
          await (written ??= outbox());
          return read;
        },
      },
    };
    expect(await checkDrive(beside, 'studio', studio, true)).toMatchObject({ sound: names.length, damaged: [] });
    expect(written).not.toBeNull();
    expect(await db.files.where('state').equals('present').count()).toBe(names.length);
  });

  it('is settled by the person: brought back from a verified copy, what was damaged set aside; or right as it is', async () => {
    const day = '2026-11-29';
    for (const name of ['a', 'b']) drives.studio?.put(`${name}.jpg`, pictureBytes(name.charCodeAt(0), false));
    await scan('studio');
    await copy('studio', 'cellar');
    for (const name of ['a', 'b']) rot('cellar', `${name}.jpg`);
    await check('cellar');
    const copyOf = (path: string) => ({
      drive: drives.cellar as MemoryDrive,
      from: { drive: drives.studio as MemoryDrive, fileId: `studio/${path}` },
      day,
    });
    await mendFile(tools(), 'cellar/a.jpg', copyOf('a.jpg'));
    expect(await fileAt('cellar/a.jpg')).toMatchObject({
      state: 'present',
      sha256: (await fileAt('studio/a.jpg'))?.sha256,
    });
    expect([...(drives.cellar?.files.keys() ?? [])]).toContain(`_wembo/set-aside/${day}/a.jpg`);
    await settleFile(tools(), drives.cellar as MemoryDrive, 'cellar/b.jpg', 'as-it-is');
    // the other copy is what it was: these are two photos from here on
    expect(await fileAt('cellar/b.jpg')).toMatchObject({ state: 'present', foundSha256: null });
    expect((await fileAt('cellar/b.jpg'))?.photoId).not.toBe((await fileAt('studio/b.jpg'))?.photoId);
    expect(await check('cellar')).toMatchObject({ damaged: ['_wembo/set-aside/2026-11-29/a.jpg'] });
  });
});

describe('pictures of one length with equal edges', () => {
  it('are two photos, and both are copied', async () => {
    drives.studio?.put('scans/one.jpg', pictureBytes(1, true));
    drives.studio?.put('scans/two.jpg', pictureBytes(2, true));
    await scan('studio');
    expect((await fileAt('studio/scans/one.jpg'))?.fingerprint).toBe(
      (await fileAt('studio/scans/two.jpg'))?.fingerprint,
    );
    expect(await db.photos.count()).toBe(2);
    expect(await copy('studio', 'cellar')).toMatchObject({ copied: 2 });
    const ids = (await db.photos.toCollection().primaryKeys()).sort();
    for (const order of [
      ['studio', 'cellar'],
      ['cellar', 'studio'],
    ]) {
      await newCatalog();
      for (const id of order) await scan(id);
      expect((await db.photos.toCollection().primaryKeys()).sort()).toEqual(ids);
    }
  });

  it('are two photos still where a drive’s record gives one of them the name by which the other is known here', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, true));
    await scan('studio');
    drives.studio?.put('a.jpg', pictureBytes(1, true, 'said elsewhere'));
    await scan('studio');
    await writeFixityOf(db, 'studio', drives.studio as MemoryDrive);
    drives.cellar?.put('b.jpg', pictureBytes(2, true));
    await newCatalog();
    for (const id of ['cellar', 'studio']) await scan(id);
    const [a, b] = [await fileAt('studio/a.jpg'), await fileAt('cellar/b.jpg')];
    expect([a?.state, b?.state]).toEqual(['present', 'present']);
    expect(a?.photoId).not.toBe(b?.photoId);
    expect([await copiesOfPhoto('studio/a.jpg'), await copiesOfPhoto('cellar/b.jpg')]).toEqual([1, 1]);
  });
});

describe('a file that was replaced by another picture', () => {
  it('into which another program wrote, and of which a copy was made by hand after, are one photo whichever is found first', async () => {
    const [before, after] = [pictureBytes(1, false), pictureBytes(1, false, 'w1w')];
    drives.studio?.put('a.jpg', before);
    await scan('studio');
    drives.studio?.put('a.jpg', after);
    drives.cellar?.put('by-hand.jpg', after);
    await scan('cellar'); // nothing says yet that it is the photo of the studio
    await scan('studio');
    expect((await fileAt('cellar/by-hand.jpg'))?.photoId).toBe((await fileAt('studio/a.jpg'))?.photoId);
    expect(await db.photos.count()).toBe(1);
  });

  it('into which another program wrote metadata is no damage to a check that comes first; a scan hears what was written', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    drives.studio?.put('a.jpg', pictureBytes(1, false, 'said elsewhere'));
    expect(await check('studio')).toMatchObject({
      sound: 0,
      damaged: [],
      problems: [{ path: 'a.jpg', problem: { reason: 'described' } }],
    });
    expect((await fileAt('studio/a.jpg'))?.verifiedAt).toBeNull();
    expect(await scan('studio')).toMatchObject({ changed: 1, damaged: [] });
    expect((await db.photos.toCollection().first())?.fields.headline).toBe('said elsewhere');
  });

  it('and of which the bytes of before turn up elsewhere is that photo still; the scan comes to its end', async () => {
    // two that share a fingerprint: the second has an id of its own
    drives.studio?.put('a.jpg', pictureBytes(1, true));
    drives.studio?.put('b.jpg', pictureBytes(2, true));
    await scan('studio');
    const before = (await fileAt('studio/b.jpg'))?.photoId;
    drives.studio?.put('b.jpg', pictureBytes(2, true, 'w1w'));
    await scan('studio');
    drives.cellar?.put('old.jpg', pictureBytes(2, true));
    await scan('cellar');
    expect((await fileAt('cellar/old.jpg'))?.photoId).toBe(before);
    expect(await db.photos.count()).toBe(2);
  });

  it('that is damaged has words beside it that are right: a catalog made anew hears them', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    const photo = await db.photos.toCollection().first();
    if (photo)
      await makeChange(db, { kind: 'fields', origin: 'person', edits: planSet([photo], 'headline', 'said') }, now());
    await outbox();
    rot('studio', 'a.jpg');
    expect(await check('studio')).toMatchObject({ damaged: ['a.jpg'] });
    await outbox();
    await newCatalog();
    expect(await scan('studio')).toMatchObject({ damaged: ['a.jpg'] });
    expect((await db.photos.toCollection().first())?.fields.headline).toBe('said');
  });

  it('before it was ever read in full is cataloged as what it is', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    await db.files.update('studio/a.jpg', { sha256: null, imageSha256: null, verifiedAt: null });
    await db.photos.toCollection().modify({ sha256: null, imageSha256: null });
    await db.measures.put({ photoId: (await fileAt('studio/a.jpg'))?.photoId ?? '', measures: null, version: 1 });
    drives.studio?.put('a.jpg', pictureBytes(2, false));
    expect(await scan('studio')).toMatchObject({ changed: 1, problems: [] });
    expect([await db.photos.count(), await db.measures.count()]).toEqual([1, 0]);
  });

  it('after it was measured is damaged until the person says that it is right', async () => {
    drives.studio?.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    drives.studio?.put('a.jpg', pictureBytes(2, false));
    expect(await scan('studio')).toMatchObject({ damaged: ['a.jpg'], problems: [] });
    await settleFile(tools(), drives.studio as MemoryDrive, 'studio/a.jpg', 'as-it-is');
    expect(await fileAt('studio/a.jpg')).toMatchObject({ state: 'present' });
    expect([await copiesOfPhoto('studio/a.jpg'), await db.photos.count()]).toEqual([1, 1]);
  });
});

describe('names', () => {
  it('that a drive takes apart into letters and accents are one file, for a catalog made anew too, and stand in its manifest once', async () => {
    drives.cellar = new MemoryDrive('decomposed');
    drives.studio?.put('á/é.jpg', pictureBytes(1, false));
    await scan('studio');
    await copy('studio', 'cellar');
    await newCatalog();
    expect(await scan('cellar')).toMatchObject({ added: 1, missing: [] });
    await writeFixityOf(db, 'cellar', drives.cellar);
    expect(drives.cellar.text('_wembo/manifest-sha256.txt')?.match(/\S+\.jpg/g)).toEqual(['á/é.jpg'.normalize('NFD')]);
  });

  it('ten thousand that differ only by their case each get one of their own', () => {
    const letters = 'abcdefghijklmn';
    const files = Array.from({ length: 10_000 }, (_, at) => ({
      path: `in/${[...letters].map((letter, bit) => ((at >> bit) & 1 ? letter.toUpperCase() : letter)).join('')}.jpg`,
      photoId: String(at),
    }));
    const planned = placesAsThere(files, []);
    expect(planned.size).toBe(10_000);
    expect(new Set([...planned.values()].map((path) => path.toLowerCase())).size).toBe(10_000);
    // resumed: what is there of the same photo is compared, not numbered again
    expect(
      placesAsThere(files.slice(0, 1), [{ path: files[0]?.path ?? '', photoId: '0' }]).get(files[0]?.path ?? ''),
    ).toBe(files[0]?.path);
  });

  it('set aside twice on one day, a name gets a number', async () => {
    for (const seed of [1, 2]) {
      drives.studio?.put('a.jpg', pictureBytes(seed, false));
      await scan('studio');
      const { planSetAside } = await import('../catalog/set-aside');
      const photoId = (await fileAt('studio/a.jpg'))?.photoId ?? '';
      await makeChange(db, (await planSetAside(db, [photoId], '2026-11-29')).change, now());
      await outbox();
    }
    expect([...(drives.studio?.files.keys() ?? [])].filter((path) => path.includes('set-aside')).sort()).toEqual([
      '_wembo/set-aside/2026-11-29/a 2.jpg',
      '_wembo/set-aside/2026-11-29/a.jpg',
    ]);
  });
});

describe('a drive in a folder of another', () => {
  it('keeps its files to itself: what lies on both by path is one copy', async () => {
    const places = new Places();
    const disk = newDisk('disk', 'exact');
    places.plug('p', disk);
    const at = (place: string) => new PlaceDrive(new Process(), places, place);
    disk.drive.put(
      '2019/_wembo/drive.json',
      JSON.stringify({ format: 'wembo-drive', version: 1, id: 'inner-id', name: 'Inner', createdAt: 1 }),
    );
    disk.drive.put('2019/a.jpg', pictureBytes(1, false));
    disk.drive.put('b.jpg', pictureBytes(2, false));
    await db.drives.put(driveRecord('inner-id'));
    await scanDrive(tools(), 'inner-id', at('p/2019'));
    expect(await scanDrive(tools(), 'studio', at('p'))).toMatchObject({ photos: 1, nested: ['2019'] });
    expect(await copiesOfPhoto('inner-id/2019/a.jpg')).toBe(0);
    expect(await copiesOfPhoto('inner-id/a.jpg')).toBe(1);
    expect(await checkDrive(tools(), 'studio', at('p'), true)).toMatchObject({ sound: 1, added: [], missing: [] });
    // joined, it is a part of the outer one, and nothing is read anew or lost
    await makeChange(
      db,
      {
        kind: 'names',
        moves: [
          {
            photoId: (await fileAt('inner-id/a.jpg'))?.photoId ?? '',
            driveId: 'inner-id',
            before: 'a.jpg',
            after: 'c.jpg',
          },
        ],
        edits: [],
      },
      now(),
    );
    await joinDrive(db, { innerId: 'inner-id', outerId: 'studio', path: '2019' }, now());
    expect(await scanDrive(tools(), 'studio', at('p'))).toMatchObject({ photos: 2, added: 0, missing: [], nested: [] });
    expect(await fileAt('studio/2019/a.jpg')).toMatchObject({ state: 'present', wantedPath: '2019/c.jpg' });
    await outbox((id) => (id === 'studio' ? at('p') : null));
    expect([...disk.drive.files.keys()]).toContain('2019/c.jpg');
    await undoLast(db, now());
    await outbox((id) => (id === 'studio' ? at('p') : null));
    expect([...disk.drive.files.keys()]).toContain('2019/a.jpg');
  });
});

describe('two records of one disk', () => {
  /** A photo that is to get another name. */
  const withNameWaiting = async (): Promise<MemoryDrive> => {
    const disk = drives.studio as MemoryDrive;
    disk.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    const photoId = (await fileAt('studio/a.jpg'))?.photoId ?? '';
    await makeChange(
      db,
      { kind: 'names', moves: [{ photoId, driveId: 'studio', before: 'a.jpg', after: 'Slip.jpg' }], edits: [] },
      now(),
    );
    return disk;
  };
  /** Without its mark, and is taken for a new drive. */
  const comesBackAndIsJoined = async (disk: MemoryDrive): Promise<void> => {
    drives.again = disk;
    await db.drives.put(driveRecord('again'));
    await scan('again');
    await joinDrive(db, { innerId: 'studio', outerId: 'again', path: '' }, now());
  };

  it('become one: what was counted twice counts once, words and copies that wait go along, what is gone is missing', async () => {
    const disk = drives.studio as MemoryDrive;
    for (const at of [1, 2, 3]) disk.put(`2019/${at}.jpg`, pictureBytes(at, false));
    await scan('studio');
    await check('studio');
    const photoId = (await fileAt('studio/2019/1.jpg'))?.photoId ?? '';
    expect(await copiesOfPhoto('studio/2019/1.jpg')).toBe(1);
    await db.outbox.put({
      id: 'copy:cellar/2019/1.jpg',
      driveId: 'cellar',
      task: {
        kind: 'copy',
        photoId,
        from: { driveId: 'studio', path: '2019/1.jpg' },
        path: '2019/1.jpg',
        sha256: (await fileAt('studio/2019/1.jpg'))?.sha256 ?? '',
        accessionFileId: '',
      },
      queuedAt: 1,
      problem: null,
    });
    // it comes back without its mark, is taken for a new drive, and has lost one file since
    disk.files.delete('2019/3.jpg');
    drives.again = disk;
    await db.drives.put(driveRecord('again'));
    await scan('again');
    await check('again');
    expect(await copiesOfPhoto('studio/2019/1.jpg')).toBe(2);
    expect(await sameFilesOn(db, 'studio', 'again')).toEqual({ files: 3, same: 2 });
    const touched = await joinDrive(db, { innerId: 'studio', outerId: 'again', path: '' }, now());
    expect(touched).toContain(photoId);
    expect(await copiesOfPhoto('again/2019/1.jpg')).toBe(1);
    expect(await db.files.where('driveId').equals('studio').count()).toBe(0);
    // not seen by the record that stays: no verified copy, and missing when it is looked for
    expect(await fileAt('again/2019/3.jpg')).toMatchObject({ verifiedAt: null });
    expect(await scan('again')).toMatchObject({ missing: ['2019/3.jpg'] });
    expect((await db.outbox.get('copy:cellar/2019/1.jpg'))?.task).toMatchObject({ from: { driveId: 'again' } });
    await outbox((id) => drives[id] ?? null);
    expect([...(drives.cellar as MemoryDrive).files.keys()]).toContain('2019/1.jpg');
  });

  it('a name that waits to be given under the former record is given under the one that stays', async () => {
    const disk = await withNameWaiting();
    await comesBackAndIsJoined(disk);
    await outbox((id) => (id === 'again' ? disk : null));
    expect([...disk.files.keys()].filter((name) => name.endsWith('.jpg'))).toEqual(['Slip.jpg']);
    await undoLast(db, now());
    await outbox((id) => (id === 'again' ? disk : null));
    expect([...disk.files.keys()].filter((name) => name.endsWith('.jpg'))).toEqual(['a.jpg']);
  });

  it('what was to be done with a file is done with no other photo that has its name now', async () => {
    const disk = await withNameWaiting();
    disk.put('a.jpg', pictureBytes(3, false)); // by another program
    await comesBackAndIsJoined(disk);
    await outbox((id) => (id === 'again' ? disk : null));
    expect([...disk.files.keys()].filter((name) => name.endsWith('.jpg'))).toEqual(['a.jpg']);
    expect((await db.outbox.toArray()).filter(({ task }) => task.kind === 'move')).toEqual([]);
  });

  it('two versions that wait to be decided under the one that stays are not replaced by those of the former record', async () => {
    const disk = await withNameWaiting();
    await db.conflicts.put({ fileId: 'studio/a.jpg', at: 1 } as never);
    await db.conflicts.put({ fileId: 'again/a.jpg', at: 2 } as never);
    await comesBackAndIsJoined(disk);
    expect(await db.conflicts.toArray()).toEqual([{ fileId: 'again/a.jpg', at: 2 }]);
  });

  it('a file that was moved on the disk meanwhile is not called missing', async () => {
    const disk = drives.studio as MemoryDrive;
    disk.put('a.jpg', pictureBytes(1, false));
    await scan('studio');
    disk.files.delete('a.jpg');
    disk.put('2019/a.jpg', pictureBytes(1, false));
    await comesBackAndIsJoined(disk);
    expect(await scan('again')).toMatchObject({ missing: [] });
    expect(await db.files.where('driveId').equals('again').primaryKeys()).toEqual(['again/2019/a.jpg']);
  });
});

it('what is no photo stays so when a check reads it in full', async () => {
  drives.studio?.put('words.jpg', 'not a photo');
  await scan('studio');
  await check('studio');
  expect(await fileAt('studio/words.jpg')).toMatchObject({ state: 'unreadable', photoId: null, verifiedAt: null });
});

it('a drive that is full, gone or another one stops a copy with its reason, and no half file', async () => {
  drives.studio?.put('a.jpg', pictureBytes(1, true));
  await scan('studio');
  const cellar = drives.cellar as MemoryDrive;
  cellar.capacityBytes = 100;
  await expect(copy('studio', 'cellar')).rejects.toThrow(DriveError);
  expect([...cellar.files.keys()].filter((path) => path.endsWith('.jpg'))).toEqual([]);
});

describe('a damaged file that is met before the copy that is right', () => {
  const orders: [string, () => Promise<unknown>][] = [
    [
      'before it',
      async () => {
        await scan('studio');
        await scan('cellar');
      },
    ],
    [
      'after it',
      async () => {
        await scan('cellar');
        await scan('studio');
      },
    ],
    ['at the same moment', () => Promise.all([scan('studio'), scan('cellar')])],
  ];

  it.each(orders)('is of the same photo, which stays in its collection: %s', async (_, meet) => {
    const good = pictureBytes(3, false);
    const manifest = new TextEncoder().encode(`${sha256(good)}  x.jpg\n`);
    drives = { studio: new MemoryDrive(), cellar: new MemoryDrive() };
    for (const drive of Object.values(drives)) drive.put('_wembo/manifest-sha256.txt', manifest);
    drives.studio?.put('x.jpg', bent(good));
    await newCatalog();
    if (_ === 'before it') {
      await scan('studio');
      const alone = (await db.photos.toCollection().primaryKeys())[0] ?? '';
      await db.collections.put({ ...HARBOURS, photoIds: ['other', alone] });
    }
    drives.cellar?.put('x.jpg', good);
    await meet();
    const photos = await db.photos.toArray();
    expect(photos.map((photo) => [photo.sha256, photo.width])).toEqual([[sha256(good), expect.any(Number)]]);
    const files = await db.files.toArray();
    expect(files.map(({ driveId, state, photoId }) => [driveId, state, photoId])).toEqual([
      ['cellar', 'present', photos[0]?.id],
      ['studio', 'damaged', photos[0]?.id],
    ]);
    expect(await copiesOfPhoto('cellar/x.jpg')).toBe(1);
    if (_ === 'before it') expect((await db.collections.get('harbours'))?.photoIds).toEqual(['other', photos[0]?.id]);
  });
});

const HARBOURS = {
  id: 'harbours',
  name: 'Harbours',
  kind: 'hand' as const,
  parentId: null,
  scope: '',
  photoIds: [],
  pinned: false,
  order: 0,
  updatedAt: 1,
  deleted: false,
};
