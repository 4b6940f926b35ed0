// Taking in, emptying and renaming over a real database engine (in memory) and drives that fail on demand.

import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { planTakeIn } from '@/core/take-in/plan';
import { inClockOrder } from '@/core/take-in/runs';
import { NEW_SHEET, type Sheet } from '@/core/take-in/sheet';
import type { Pattern } from '@/core/names/pattern';
import { ascii, short, withBlocks, writeExif } from '@/demo/archive/tiff-writer';
import { nextNumber, settleAccession } from '../catalog/accessions';
import { lastDone, makeChange, undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { emptyOutbox } from '../catalog/outbox';
import { driveRecord } from '../../../tests/fixtures/records';
import type { AccessionFileRecord, AccessionRecord, DriveRecord, FileRecord } from '../catalog/records';
import { planRename } from '../catalog/renaming';
import { DriveError, isLeftover } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { cardStatus, emptySource } from './emptying';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';
import { surveySource } from './source-survey';
import { takeIn } from './take-in';

const FRAME = Buffer.from([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 12, 0, 16, 1, 1, 0x11, 0]);
const SCAN = Buffer.from([0xff, 0xda, 0, 2]);
const END = Buffer.from([0xff, 0xd9]);

function jpeg(seed: number, captured = `2026:08:30 10:00:${String(seed).padStart(2, '0')}`): Uint8Array<ArrayBuffer> {
  const exif = writeExif(
    new Map([
      [0x0110, ascii('Norda K4')],
      [0x0112, short(1)],
    ]),
    new Map([[0x9003, ascii(captured)]]),
    null,
  );
  return new Uint8Array(withBlocks(Buffer.concat([FRAME, SCAN, Buffer.alloc(60_000, seed), END]), { exif }));
}
const SIDECAR =
  '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:Headline="from the card"/></rdf:RDF></x:xmpmeta>';
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

let db: CatalogDatabase;
let card: MemoryDrive;
let studio: MemoryDrive;
let vault: MemoryDrive;
let clock = 0;
let number = 0;
const now = () => (clock += 1000);
const fileTasks = directFileTasks();

const tools = (signal = new AbortController().signal, onProgress = () => {}): JobTools => ({
  db,
  fileTasks,
  now,
  control: { signal, atRest: async () => signal.throwIfAborted(), progress: onProgress, reporting: () => undefined },
});
const away = new Set<string>();
const driveOf = (id: string) => (away.has(id) ? null : id === 'studio' ? studio : id === 'vault' ? vault : null);
const outbox = () =>
  emptyOutbox({
    db,
    driveOf,
    embed: (order) => fileTasks.embed(order),
    copy: (order) => fileTasks.copy(order, () => undefined),
    now,
  });

const SHEET: Sheet = {
  ...NEW_SHEET,
  driveId: 'studio',
  blanks: { kind: '', client: '', subject: 'Gjógv' },
  second: { ...NEW_SHEET.second, driveId: 'vault' },
};
const NUMBERED: Pattern = [
  { kind: 'blank', of: 'subject' },
  { kind: 'text', text: '_' },
  { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
];

const survey = (source = card) =>
  surveySource({ db, fileTasks, signal: new AbortController().signal, onProgress: () => undefined }, source, {
    withSubfolders: true,
    below: '',
  });
const filesOn = async (drive: MemoryDrive) => {
  const paths: string[] = [];
  for await (const { path } of drive.list()) paths.push(path);
  return paths;
};

/** Records what the sheet would take in, as the Take in place does. */
async function prepare(sheet: Sheet = SHEET, only: (path: string) => boolean = () => true): Promise<AccessionRecord> {
  const { items } = await survey();
  const chosen = inClockOrder(
    items
      .filter(({ frame, status }) => only(frame.photos[0]?.path ?? '') && status?.state !== 'known')
      .map((item) => ({ ...item, path: item.frame.photos[0]?.path ?? '', captured: item.reading?.captured ?? null })),
  );
  const accession: AccessionRecord = {
    id: `acc-${clock}`,
    number: await nextNumber(db, 2026),
    name: 'Gjógv',
    note: '',
    source: 'Card',
    sourceId: 'card',
    recordedAt: null,
    startedAt: now(),
    endedAt: null,
    onSource: items.length,
    known: items.length - chosen.length,
    leftOut: 0,
    routine: null,
    sheet,
    runs: [],
  };
  const plan = planTakeIn({
    frames: chosen,
    sheet,
    accession: accession.number,
    source: 'Card',
    main: { files: await filesOn(studio) },
    second: sheet.second.driveId ? { files: await filesOn(vault) } : null,
  });
  await db.accessions.put(accession);
  await db.accessionFiles.bulkPut(
    plan.files.map((file): AccessionFileRecord => ({
      ...file,
      id: `${accession.id}/${file.from}`,
      accessionId: accession.id,
      sha256: null,
      photoId: null,
      placed: [],
      described: false,
    })),
  );
  return accession;
}
const run = (accession: AccessionRecord, signal?: AbortSignal, onProgress?: () => void) =>
  takeIn(tools(signal, onProgress), {
    accession,
    source: card,
    main: { id: 'studio', drive: studio },
    second: accession.sheet.second.driveId ? { id: 'vault', drive: away.has('vault') ? null : vault } : null,
    asItIs: accession.sheet.asItIs ? vault : null,
  });
const photoAt = async (id: string) => {
  const file = await db.files.get(id);
  return file?.photoId ? db.photos.get(file.photoId) : undefined;
};

beforeEach(async () => {
  db = new CatalogDatabase(`take-in-${number++}`);
  [card, studio, vault] = [new MemoryDrive(), new MemoryDrive(), new MemoryDrive()];
  away.clear();
  const record = (id: string, name: string): DriveRecord => ({
    id,
    name,
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
  await db.drives.bulkPut([record('studio', 'Studio'), record('vault', 'Vault')]);
  for (let seed = 1; seed <= 6; seed++) card.put(`DCIM/104/N_${seed}.JPG`, jpeg(seed));
  card.put('DCIM/104/N_1.xmp', SIDECAR);
  card.put('DCIM/104/N_2.WAV', 'spoken');
  card.put('MISC/index.dat', 'no photo');
});

describe('taking in', () => {
  it('places every byte on both drives, proven, numbered and described, with sidecar and spoken note under one name', async () => {
    await db.kits.put({
      id: 'k',
      name: 'Survey',
      updatedAt: 1,
      deleted: false,
      entries: [
        { key: 'creator', mode: 'fill', value: ['Mia Holt'] },
        { key: 'captured', mode: 'replace', value: '1999-01-01' },
      ],
    });
    const accession = await prepare({
      ...SHEET,
      names: NUMBERED,
      kitIds: ['k'],
      keywords: ['harbour'],
      marker: 'print',
    });
    const report = await run(accession);
    expect(report.line).toBe('6 on the card · 6 on Studio · 6 on Vault · all checksums equal');
    expect(report.problems).toEqual([]);
    const names = [
      'Gjógv_0001.JPG',
      'Gjógv_0001.xmp',
      'Gjógv_0002.JPG',
      'Gjógv_0002.WAV',
      ...[3, 4, 5, 6].map((seed) => `Gjógv_000${seed}.JPG`),
    ].map((name) => `2026/2026-08-30 Gjógv/${name}`);
    for (const drive of [studio, vault]) {
      expect(await filesOn(drive)).toEqual(names);
      for (let seed = 1; seed <= 6; seed++)
        expect(sha256(drive.files.get(`2026/2026-08-30 Gjógv/Gjógv_000${seed}.JPG`)?.bytes ?? new Uint8Array())).toBe(
          sha256(jpeg(seed)),
        );
    }
    expect((await photoAt('studio/2026/2026-08-30 Gjógv/Gjógv_0001.JPG'))?.fields).toMatchObject({
      headline: 'from the card',
      keywords: ['harbour'],
      creator: ['Mia Holt'],
      label: 'print',
      identifier: ['2026.001.0001'],
      originalName: 'N_1.JPG',
      captured: '2026-08-30T10:00:01',
    });
    await outbox();
    expect(studio.text('2026/2026-08-30 Gjógv/Gjógv_0002.xmp')).toContain('2026.001.0002');
    expect(vault.text('2026/2026-08-30 Gjógv/Gjógv_0001.xmp')).toContain('from the card');
    expect(vault.text('_wembo/manifest-sha256.txt')?.split('\n')).toHaveLength(7);
    expect(JSON.parse(studio.text('_wembo/accessions/2026.001.json') ?? '')).toMatchObject({
      format: 'wembo-accession',
      number: '2026.001',
      onSource: 6,
      files: expect.arrayContaining([
        expect.objectContaining({ from: 'DCIM/104/N_2.WAV', role: 'beside', sha256: sha256(Buffer.from('spoken')) }),
      ]),
    });
    expect(studio.text('_wembo/accessions/2026.001.txt')).toContain(
      '6 on the card · 6 on Studio · 6 on Vault · all checksums equal',
    );
    // the description is one change of its own; number and old name are not part of it
    expect((await lastDone(db))?.change).toMatchObject({ kind: 'fields' });
    await undoLast(db, now());
    expect((await photoAt('studio/2026/2026-08-30 Gjógv/Gjógv_0002.JPG'))?.fields).toEqual({
      captured: '2026-08-30T10:00:02',
      identifier: ['2026.001.0002'],
      originalName: 'N_2.JPG',
    });
  });

  it('opens each file of the card once, for both copies, digests, metadata and preview', async () => {
    const accession = await prepare();
    const opened: string[] = [];
    card.onOpen = (path) => opened.push(path);
    await run(accession);
    expect(opened.sort()).toEqual([...new Set(opened)]);
    expect(opened).toHaveLength(8);
  });

  describe('with the card as it is', () => {
    const KEPT: Sheet = { ...SHEET, second: NEW_SHEET.second, names: NUMBERED, asItIs: 'vault' };
    const kept = () =>
      new Map(
        [...vault.files].flatMap(([path, { bytes }]) => {
          const [, rest] = /^_wembo\/cards\/2026\.001\/(.*)$/.exec(path) ?? [];
          return rest === undefined ? [] : [[rest, sha256(bytes)]];
        }),
      );
    const onCard = () => new Map([...card.files].map(([path, { bytes }]) => [path, sha256(bytes)]));

    it('keeps every file of it, also what is no photo or was left out, each read once, with a list of checksums', async () => {
      const accession = await prepare(KEPT, (path) => !path.endsWith('N_3.JPG'));
      const opened: string[] = [];
      card.onOpen = (path) => opened.push(path);
      const report = await run(accession);
      expect(report).toMatchObject({ problems: [], asItIs: { files: card.files.size } });
      expect(kept()).toEqual(onCard());
      expect(opened.sort()).toEqual([...card.files.keys()].sort());
      const listed = (vault.text('_wembo/cards/2026.001.sha256') ?? '').trim().split('\n');
      expect(listed).toEqual([...onCard()].map(([path, digest]) => `${digest}  2026.001/${path}`).sort());
      await outbox();
      expect(studio.text('_wembo/accessions/2026.001.txt')).toContain('on Vault in _wembo/cards/2026.001');
    });

    it('goes on with it where it was stopped, also when all photos are there', async () => {
      const accession = await prepare(KEPT);
      const { open } = card;
      card.open = (path) =>
        path.startsWith('MISC') ? Promise.reject(new DriveError('no-permission', path)) : open.call(card, path);
      expect((await run(accession)).problems).toMatchObject([{ path: 'MISC/index.dat' }]);
      card.open = open;
      vault.files.delete('_wembo/cards/2026.001/DCIM/104/N_2.WAV');
      expect((await run(accession)).problems).toEqual([]);
      expect(kept()).toEqual(onCard());
    });

    it('stops where the drive is full, and nothing half lies there', async () => {
      const accession = await prepare(KEPT);
      vault.capacityBytes = 200_000;
      await expect(run(accession)).rejects.toMatchObject({ problem: 'full' });
      for (const [path, digest] of kept()) expect(onCard().get(path)).toBe(digest);
      expect([...vault.files.keys()].filter(isLeftover)).toEqual([]);
      vault.capacityBytes = Infinity;
      await run(accession);
      expect(kept()).toEqual(onCard());
    });
  });

  it('a run of frames gets words of its own on top', async () => {
    const accession = {
      ...(await prepare({ ...SHEET, keywords: ['all'] })),
      runs: [{ first: 'DCIM/104/N_4', last: 'DCIM/104/N_2', keywords: ['boat'], kitIds: [] }],
    };
    await run(accession);
    const words = await Promise.all(
      [1, 2, 3, 4, 5].map(
        async (seed) => (await photoAt(`studio/2026/2026-08-30 Gjógv/N_${seed}.JPG`))?.fields.keywords,
      ),
    );
    expect(words).toEqual([['all'], ['all', 'boat'], ['all', 'boat'], ['all', 'boat'], ['all']]);
  });

  it('what was taken in before is known by its content, also under another name; the same name with other content is said', async () => {
    await run(await prepare(SHEET, (path) => path < 'DCIM/104/N_4'));
    card.put('DCIM/105/X_9.JPG', jpeg(2));
    card.put('DCIM/104/N_3.JPG', jpeg(33, '2026:08:30 10:00:03'));
    const damaged = jpeg(1);
    damaged.fill(7, 30_000, 30_010);
    card.put('DCIM/106/N_1.JPG', damaged);
    const statuses = Object.fromEntries((await survey()).items.map(({ frame, status }) => [frame.key, status]));
    expect(statuses).toMatchObject({
      'DCIM/104/N_1': { state: 'known' },
      'DCIM/104/N_2': { state: 'known' },
      'DCIM/105/X_9': { state: 'known' },
      'DCIM/104/N_4': { state: 'new' },
      'DCIM/104/N_3': { state: 'doubtful', why: 'same-name' },
      'DCIM/106/N_1': { state: 'doubtful', why: 'other-bytes' },
    });
  });

  it('a second accession of the same card goes elsewhere under another number', async () => {
    await run(await prepare(SHEET, (path) => path < 'DCIM/104/N_4'));
    const second = await prepare({ ...SHEET, blanks: { ...SHEET.blanks, subject: 'Funningur' } });
    expect((await run(second)).line).toBe(
      '6 on the card · 3 known from before · 3 on Studio · 3 on Vault · all checksums equal',
    );
    expect((await filesOn(studio)).filter((path) => path.includes('Funningur'))).toEqual(
      [4, 5, 6].map((seed) => `2026/2026-08-30 Funningur/N_${seed}.JPG`),
    );
    expect((await photoAt('studio/2026/2026-08-30 Funningur/N_4.JPG'))?.fields.identifier).toEqual(['2026.002.0001']);
  });
});

describe('a take-in that is interrupted', () => {
  it('goes on where it was when the card was pulled out, and copies nothing twice', async () => {
    const accession = await prepare();
    let opens = 0;
    card.onOpen = () => (card.gone = ++opens > 3);
    await expect(run(accession)).rejects.toMatchObject({ problem: 'source-gone' });
    const before = new Map(studio.files);
    expect(before.size).toBeGreaterThan(0);
    expect([...before.keys()].filter((path) => path.includes('wembo-part'))).toEqual([]);
    expect((await db.accessions.get(accession.id))?.endedAt).toBeNull();
    card.gone = false;
    const opened: string[] = [];
    card.onOpen = (path) => opened.push(path);
    const report = await run(accession);
    expect(report.line).toContain('6 on Studio · 6 on Vault · all checksums equal');
    expect(opened.length).toBeLessThan(8);
    for (const [path, file] of before) expect(studio.files.get(path), path).toBe(file);
    expect((await db.accessions.get(accession.id))?.endedAt).not.toBeNull();
  });

  it('goes on when it was cancelled; a file that was finished and not recorded is recognised', async () => {
    const accession = await prepare();
    const stop = new AbortController();
    let seen = 0;
    await expect(run(accession, stop.signal, () => ++seen > 12 && stop.abort())).rejects.toThrow();
    await db.accessionFiles.toCollection().modify((file) => {
      file.placed = [];
      file.sha256 = null;
    });
    expect((await run(accession)).line).toContain('6 on Studio · 6 on Vault · all checksums equal');
    expect(await filesOn(studio)).toHaveLength(8);
  });

  it('put away instead of resumed, it has what was placed, and what was not is free again', async () => {
    const accession = await prepare();
    let opens = 0;
    card.onOpen = () => (card.gone = ++opens > 3);
    await expect(run(accession)).rejects.toMatchObject({ problem: 'source-gone' });
    card.gone = false;
    card.onOpen = () => {};
    const there = (await filesOn(studio)).length;
    await settleAccession(db, accession.id, now());
    expect(await db.accessionFiles.count()).toBe(there);
    expect(await db.accessions.get(accession.id)).toMatchObject({
      leftOut: 6 - (await filesOn(studio)).filter((path) => path.endsWith('.JPG')).length,
    });
    const rest = await run(await prepare({ ...SHEET, blanks: { ...SHEET.blanks, subject: 'rest' } }));
    expect(rest.line).toMatch(/all checksums equal$/);
    const nothing = await prepare({ ...SHEET, blanks: { ...SHEET.blanks, subject: 'never' } });
    await settleAccession(db, nothing.id, now());
    expect(await db.accessions.get(nothing.id)).toBeUndefined();
  });

  it('stops when the drive is full, keeps what is proven, and goes on when there is room', async () => {
    const accession = await prepare();
    studio.capacityBytes = 200_000;
    await expect(run(accession)).rejects.toMatchObject({ problem: 'full' });
    const there = await filesOn(studio);
    expect(there.length).toBeGreaterThan(1);
    studio.capacityBytes = Infinity;
    expect((await run(accession)).line).toContain('6 on Studio · 6 on Vault');
  });

  it('a full second drive does not stop it: its copies wait, and the line says how many', async () => {
    const accession = await prepare();
    vault.capacityBytes = 200_000;
    const report = await run(accession);
    expect(report.line).toMatch(/6 on Studio · 3 on Vault · 3 not on Vault yet/);
    expect(report.problems).toEqual([expect.objectContaining({ problem: { code: 'drive/problem', reason: 'full' } })]);
    vault.capacityBytes = Infinity;
    await outbox();
    expect(await filesOn(vault)).toEqual(await filesOn(studio));
  });

  it('one file that cannot be read is named, the others are taken in', async () => {
    const accession = await prepare();
    card.unreadable.add('DCIM/104/N_3.JPG');
    const report = await run(accession);
    expect(report.problems).toEqual([
      { path: 'DCIM/104/N_3.JPG', problem: { code: 'drive/problem', reason: 'no-permission' } },
    ]);
    expect(report.line).toBe('6 on the card · 5 on Studio · 5 on Vault · 1 not on Studio yet · 1 not on Vault yet');
  });

  it('a companion that is no picture is copied and named, and no photo of the catalog', async () => {
    card.put('DCIM/104/N_3.DNG', 'hello, I am no raw');
    const report = await run(await prepare(SHEET, (path) => path.includes('N_2')));
    expect(report.problems).toEqual([]);
    card.put('DCIM/104/N_2.TIF', 'nor am I a picture');
    const again = await run(
      await prepare({ ...SHEET, blanks: { ...SHEET.blanks, subject: 'again' } }, (path) => path.includes('N_3')),
    );
    expect(again.problems).toEqual([
      { path: 'DCIM/104/N_3.DNG', problem: { code: 'file/not-understood', found: '68 65 6c 6c 6f 2c 20 49' } },
    ]);
    expect(await db.files.get('studio/2026/2026-08-30 again/N_3.DNG')).toMatchObject({
      photoId: null,
      state: 'unreadable',
    });
    expect(studio.text('2026/2026-08-30 again/N_3.DNG')).toBe('hello, I am no raw');
  });

  it('a file changed on the card after the plan was made is not taken for the one that was chosen', async () => {
    const accession = await prepare();
    card.put('DCIM/104/N_3.JPG', jpeg(77));
    expect((await run(accession)).problems).toEqual([
      { path: 'DCIM/104/N_3.JPG', problem: { code: 'drive/problem', reason: 'changed-meanwhile' } },
    ]);
  });
});

describe('the second drive away', () => {
  it('its copies wait in the outbox and are made when it is back; until then the card may not be emptied', async () => {
    away.add('vault');
    const report = await run(await prepare());
    expect(report).toMatchObject({ waiting: 6, line: '6 on the card · 6 on Studio · 0 on Vault · 6 not on Vault yet' });
    const { plan } = await cardStatus({ db, fileTasks, signal: new AbortController().signal, driveOf }, card, {
      copies: 2,
      awayCounts: false,
    });
    expect(plan.removable).toEqual([]);
    expect(plan.obstacles.filter(({ why }) => why === 'copies')).toHaveLength(8);
    away.clear();
    await outbox();
    await outbox();
    expect(await filesOn(vault)).toEqual(await filesOn(studio));
    for (const drive of [studio, vault])
      expect(drive.text('_wembo/accessions/2026.001.txt')).toContain('6 on Vault · all checksums equal');
  });
});

describe('emptying a card', () => {
  const status = (copies: number) =>
    cardStatus({ db, fileTasks, signal: new AbortController().signal, driveOf }, card, { copies, awayCounts: false });

  it('removes what is verified on two drives and nothing else, after the person agreed to the number', async () => {
    await run(await prepare(SHEET, (path) => path !== 'DCIM/104/N_6.JPG'));
    const { plan } = await status(2);
    expect(plan.removable).toHaveLength(7);
    expect(plan.obstacles).toEqual([
      { path: 'MISC/index.dat', why: 'other' },
      { path: 'DCIM/104/N_6.JPG', why: 'never-read' },
    ]);
    await expect(emptySource(tools(), card, { files: 6, copies: 2, awayCounts: false }, driveOf)).rejects.toThrow(
      'not-agreed',
    );
    expect(card.files.size).toBe(9);
    const report = await emptySource(tools(), card, { files: 7, copies: 2, awayCounts: false }, driveOf);
    expect(report).toMatchObject({ removed: 7, kept: ['MISC/index.dat', 'DCIM/104/N_6.JPG'], problems: [] });
    expect([...card.files.keys()].sort()).toEqual(['DCIM/104/N_6.JPG', 'MISC/index.dat']);
  });

  it('keeps a file whose bytes are others now though its length and time are the same, and one whose copy has gone', async () => {
    await run(await prepare());
    const swapped = card.files.get('DCIM/104/N_2.JPG');
    if (swapped) swapped.bytes = jpeg(99);
    vault.files.delete('2026/2026-08-30 Gjógv/N_3.JPG');
    const report = await emptySource(tools(), card, { files: 8, copies: 2, awayCounts: false }, driveOf);
    expect(report.problems).toEqual([
      { path: 'DCIM/104/N_2.JPG', problem: { code: 'drive/problem', reason: 'changed-meanwhile' } },
      { path: 'DCIM/104/N_3.JPG', problem: { code: 'drive/problem', reason: 'copies-gone' } },
    ]);
    expect([...card.files.keys()].sort()).toEqual(['DCIM/104/N_2.JPG', 'DCIM/104/N_3.JPG', 'MISC/index.dat']);
  });

  it('goes by where sidecars and notes lie now, also when everything was renamed and described since', async () => {
    await run(await prepare({ ...SHEET, keywords: ['harbour'] }));
    await outbox();
    const photos = (await db.files.toArray()).flatMap(({ photoId }) => photoId ?? []);
    const plan = await planRename(db, [...new Set(photos)], NUMBERED, SHEET.blanks, true);
    await makeChange(db, { kind: 'names', moves: plan.moves, edits: plan.edits }, now());
    await outbox();
    expect(await emptySource(tools(), card, { files: 8, copies: 2, awayCounts: false }, driveOf)).toMatchObject({
      removed: 8,
      problems: [],
    });
  });

  it('knows frames that were in the catalog before, by their content', async () => {
    studio.put('old/a.jpg', jpeg(1));
    await scanDrive(tools(), 'studio', studio);
    expect((await status(1)).plan.removable.map(({ path }) => path)).toEqual(['DCIM/104/N_1.JPG']);
    expect((await status(2)).plan.obstacles).toContainEqual({ path: 'DCIM/104/N_1.JPG', why: 'copies', copies: 1 });
  });
});

describe('everything rebuilt from the drives', () => {
  it('accessions, kits, patterns and routines come back with the photos', async () => {
    await makeChange(
      db,
      {
        kind: 'kept',
        savedKind: 'kits',
        before: null,
        after: {
          id: 'k',
          name: 'Survey',
          entries: [{ key: 'creator', mode: 'fill', value: ['Mia Holt'] }],
          updatedAt: 5,
          deleted: false,
        },
      },
      now(),
    );
    await makeChange(
      db,
      {
        kind: 'kept',
        savedKind: 'patterns',
        before: null,
        after: { id: 'n', name: 'By number', parts: NUMBERED, updatedAt: 5, deleted: false },
      },
      now(),
    );
    await makeChange(
      db,
      {
        kind: 'kept',
        savedKind: 'routines',
        before: null,
        after: { id: 'r', name: 'Card', sheet: { ...SHEET, names: NUMBERED }, updatedAt: 5, deleted: false },
      },
      now(),
    );
    await run(await prepare());
    await outbox();
    const before = {
      kits: await db.kits.toArray(),
      patterns: await db.patterns.toArray(),
      routines: await db.routines.toArray(),
    };
    await db.delete();
    db = new CatalogDatabase(`take-in-${number++}`);
    await db.drives.put(driveRecord('studio'));
    const report = await scanDrive(tools(), 'studio', studio);
    expect(report.problems).toEqual([]);
    expect({
      kits: await db.kits.toArray(),
      patterns: await db.patterns.toArray(),
      routines: await db.routines.toArray(),
    }).toEqual(before);
    expect(await db.accessions.toArray()).toEqual([
      expect.objectContaining({ number: '2026.001', name: 'Gjógv', onSource: 6 }),
    ]);
    expect(await db.accessionFiles.count()).toBe(8);
    expect(await nextNumber(db, 2026)).toBe('2026.002');
    // the record says that there are two copies; this catalog has seen one, and only that counts for a photo
    const { plan } = await cardStatus({ db, fileTasks, signal: new AbortController().signal, driveOf }, card, {
      copies: 2,
      awayCounts: false,
    });
    expect(plan.removable.filter(({ path }) => path.endsWith('.JPG'))).toEqual([]);
    expect(plan.obstacles).toContainEqual({ path: 'DCIM/104/N_4.JPG', why: 'copies', copies: 1 });
  });
});

describe('renaming what is in the catalog', () => {
  const rename = async (names: Pattern, only: (name: string) => boolean = () => true) => {
    const photos = (await db.files.toArray()).filter(({ path }) => only(path)).flatMap(({ photoId }) => photoId ?? []);
    const plan = await planRename(db, [...new Set(photos)], names, SHEET.blanks, true);
    await makeChange(db, { kind: 'names', moves: plan.moves, edits: plan.edits }, now());
    return plan;
  };
  const namesOn = async (drive: MemoryDrive) =>
    (await filesOn(drive)).map((path) => path.slice(path.lastIndexOf('/') + 1));

  it('every drive follows, with sidecars and spoken notes; away drives later; undo gives back every name', async () => {
    await run(await prepare({ ...SHEET, second: { ...SHEET.second, layout: 'card' } }));
    await outbox();
    const [studioBefore, vaultBefore] = [await filesOn(studio), await filesOn(vault)];
    away.add('vault');
    const plan = await rename(NUMBERED);
    expect(plan).toMatchObject({ photos: 6, companions: 0, drives: ['studio', 'vault'] });
    expect(plan.examples[0]).toMatchObject({ before: 'N_1.JPG', after: 'Gjógv_0001.JPG' });
    await outbox();
    expect((await namesOn(studio)).filter((name) => name.startsWith('Gjógv_000'))).toHaveLength(studioBefore.length);
    expect(studio.text('2026/2026-08-30 Gjógv/Gjógv_0002.WAV')).toBe('spoken');
    expect(studio.text('2026/2026-08-30 Gjógv/Gjógv_0003.xmp')).toContain('N_3.JPG'); // the old name, in the metadata
    expect(studio.text('_wembo/manifest-sha256.txt')).toContain('Gjógv_0001.JPG');
    expect(await filesOn(vault)).toEqual(vaultBefore);
    away.clear();
    await outbox();
    expect((await namesOn(vault)).filter((name) => name.startsWith('Gjógv_000'))).toHaveLength(vaultBefore.length);
    await undoLast(db, now());
    await outbox();
    expect(await filesOn(studio)).toEqual(studioBefore);
    expect(await filesOn(vault)).toEqual(vaultBefore);
    expect(await db.outbox.count()).toBe(0);
  });

  it('names that change places, or only their case, go by way of a third', async () => {
    await run(await prepare({ ...SHEET, second: { ...SHEET.second, driveId: null } }, (path) => path < 'DCIM/104/N_3'));
    await outbox();
    const files = await db.files.toArray();
    const [one, two] = files;
    const content = (name: string) =>
      sha256(studio.files.get(`2026/2026-08-30 Gjógv/${name}`)?.bytes ?? new Uint8Array());
    const before = [content('N_1.JPG'), content('N_2.JPG')];
    const move = (file: typeof one, after: string) => ({
      photoId: file?.photoId ?? '',
      driveId: 'studio',
      before: file?.path ?? '',
      after: `2026/2026-08-30 Gjógv/${after}`,
    });
    await makeChange(db, { kind: 'names', edits: [], moves: [move(one, 'N_2.JPG'), move(two, 'N_1.JPG')] }, now());
    await outbox();
    expect([content('N_1.JPG'), content('N_2.JPG')]).toEqual(before.toReversed());
    await undoLast(db, now());
    await outbox();
    expect([content('N_1.JPG'), content('N_2.JPG')]).toEqual(before);
    await makeChange(db, { kind: 'names', edits: [], moves: [move(one, 'n_1.jpg')] }, now());
    await outbox();
    expect(await namesOn(studio)).toContain('n_1.jpg');
    expect((await filesOn(studio)).filter((path) => path.includes('aside'))).toEqual([]);
  });

  it('never replaces a file that another program put there; says so, and keeps the old name until it can', async () => {
    await run(await prepare({ ...SHEET, second: { ...SHEET.second, driveId: null } }, (path) => path < 'DCIM/104/N_2'));
    studio.put('2026/2026-08-30 Gjógv/Gjógv_0001.JPG', 'somebody else’s');
    await rename(NUMBERED);
    await outbox();
    expect(studio.text('2026/2026-08-30 Gjógv/Gjógv_0001.JPG')).toBe('somebody else’s');
    expect(
      await db.outbox
        .where('driveId')
        .equals('studio')
        .filter(({ task }) => task.kind === 'move')
        .toArray(),
    ).toEqual([expect.objectContaining({ problem: 'exists' })]);
    await undoLast(db, now());
    expect(await db.outbox.filter(({ task }) => task.kind === 'move').count()).toBe(0);
  });

  it('a move that was made and not recorded is recognised', async () => {
    await run(await prepare({ ...SHEET, second: { ...SHEET.second, driveId: null } }, (path) => path < 'DCIM/104/N_2'));
    await outbox();
    await rename(NUMBERED);
    await studio.move('2026/2026-08-30 Gjógv/N_1.JPG', '2026/2026-08-30 Gjógv/Gjógv_0001.JPG');
    await outbox();
    expect(await namesOn(studio)).toEqual(['Gjógv_0001.JPG', 'Gjógv_0001.xmp']);
    expect(await db.files.toArray()).toEqual([
      expect.objectContaining({ path: '2026/2026-08-30 Gjógv/Gjógv_0001.JPG', wantedPath: null }),
    ]);
  });

  it('a companion comes along, and names taken in the folder are passed over', async () => {
    card.put('DCIM/104/N_1.DNG', jpeg(50, '2026:08:30 10:00:01'));
    await run(await prepare({ ...SHEET, second: { ...SHEET.second, driveId: null } }, (path) => path < 'DCIM/104/N_3'));
    await outbox();
    studio.put('2026/2026-08-30 Gjógv/gjógv_0001.tif', 'x');
    await db.files.put({
      ...((await db.files.toArray())[0] as FileRecord),
      id: 'studio/2026/2026-08-30 Gjógv/gjógv_0001.tif',
      path: '2026/2026-08-30 Gjógv/gjógv_0001.tif',
      photoId: null,
    });
    const plan = await rename(NUMBERED, (path) => path.endsWith('N_1.JPG'));
    expect(plan).toMatchObject({ photos: 2, companions: 1 });
    await outbox();
    expect((await namesOn(studio)).filter((name) => name.startsWith('Gjógv_'))).toEqual([
      'Gjógv_0002.DNG',
      'Gjógv_0002.JPG',
      'Gjógv_0002.JPG.xmp',
      'Gjógv_0002.xmp',
    ]);
  });
});
