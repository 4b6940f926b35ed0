// Metadata written into image files, by us and by other programs: the photo stays the photo.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { planSet } from '@/core/fields/edits';
import { planEmbed } from '@/core/metadata/embed/embed';
import { sourceOfParts } from '@/core/metadata/embed/parts';
import type { FieldValues } from '@/core/fields/registry';
import { copiesOf, verifiedCount } from '@/core/fixity/copies';
import { ascii, short, withBlocks, writeExif } from '@/demo/archive/tiff-writer';
import { IDENTITIES_FILE } from '../archive/archive-files';
import { MANIFEST_FILE } from '../archive/fixity-file';
import { makeChange, undoLast } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { queueEmbedding } from '../catalog/embedding';
import { writeFixityOf } from '../catalog/manifest';
import { emptyOutbox } from '../catalog/outbox';
import type { DriveRecord } from '../catalog/records';
import { isLeftover } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { blobSource } from '../drives/safe-write';
import { newSha256, sha256Hex } from '../drives/sha256';
import { checkDrive } from './checking';
import { copyPhotos } from './copying';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

const FRAME = Buffer.from([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 12, 0, 16, 1, 1, 0x11, 0]);
const scanOf = (seed: number) =>
  Buffer.concat([Buffer.from([0xff, 0xda, 0, 2]), Buffer.alloc(200_000, seed), Buffer.from([0xff, 0xd9])]);
const jpeg = (seed: number, ...more: [number, string][]): Uint8Array<ArrayBuffer> =>
  new Uint8Array(
    withBlocks(Buffer.concat([FRAME, scanOf(seed)]), {
      exif: writeExif(
        new Map([[0x0112, short(1)], ...more.map(([tag, text]) => [tag, ascii(text)] as const)]),
        new Map(),
        null,
      ),
    }),
  );

let db: CatalogDatabase;
let studio: MemoryDrive;
let cellar: MemoryDrive;
let clock = 0;
let number = 0;

const fileTasks = directFileTasks();
const now = () => (clock += 1000);
const tools = (): JobTools => ({
  db,
  fileTasks,
  now,
  control: quietControl(),
});
const scan = (id: 'studio' | 'cellar' = 'studio') => scanDrive(tools(), id, id === 'studio' ? studio : cellar);
const outbox = () =>
  emptyOutbox({
    db,
    driveOf: (id) => (id === 'studio' ? studio : cellar),
    embed: (order) => fileTasks.embed(order),
    copy: (order) => fileTasks.copy(order, () => undefined),
    now,
  });
const fileAt = (id: string) => db.files.get(id);
const photoOf = async (id: string) => db.photos.get((await fileAt(id))?.photoId ?? '');
async function set(id: string, fields: FieldValues): Promise<void> {
  const photo = await photoOf(id);
  if (!photo) throw new Error(`no photo at ${id}`);
  await makeChange(
    db,
    {
      kind: 'fields',
      origin: 'person',
      edits: Object.entries(fields).flatMap(([key, value]) => planSet([photo], key as 'city', value)),
    },
    now(),
  );
}
/** Another program writes a caption into a file, as this one would. */
async function otherProgramWrites(drive: MemoryDrive, path: string, fields: FieldValues): Promise<void> {
  const file = await drive.open(path);
  const plan = await planEmbed(blobSource(file), path, fields, newSha256);
  if (plan.state !== 'planned') throw new Error(JSON.stringify(plan));
  const made = sourceOfParts(blobSource(file), plan.parts);
  drive.put(path, new Uint8Array(await made.read(0, made.size)));
}

beforeEach(async () => {
  db = new CatalogDatabase(`embedding-${number++}`);
  studio = new MemoryDrive();
  cellar = new MemoryDrive();
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
  await db.drives.bulkPut([{ ...record('studio'), embeds: true }, record('cellar')]);
  studio.put('a.jpg', jpeg(1));
  await scan();
});

describe('a drive that is set to be written into', () => {
  it('gets edits into the sidecar and the file; the photo, its proof and its picture stay', async () => {
    const before = await fileAt('studio/a.jpg');
    await set('studio/a.jpg', { title: 'Bátur', keywords: ['boat'] });
    expect(await outbox()).toMatchObject({ written: 1, failed: 0 });
    const after = await fileAt('studio/a.jpg');
    expect(after).toMatchObject({
      photoId: before?.photoId,
      state: 'present',
      imageSha256: before?.imageSha256,
      embedded: { title: 'Bátur', keywords: ['boat'] },
      problems: [],
    });
    expect(after?.sha256).not.toBe(before?.sha256);
    expect((await fileTasks.read(await studio.open('a.jpg'), 'a.jpg')).reading.fields).toMatchObject({
      title: 'Bátur',
      keywords: ['boat'],
    });
    expect(studio.text('a.xmp')).toContain('Bátur');
    expect(await scan()).toMatchObject({ added: 0, changed: 0 });
    expect(await checkDrive(tools(), 'studio', studio, false)).toMatchObject({ sound: 1, damaged: [] });
  });

  it('undo takes the file back as well', async () => {
    await set('studio/a.jpg', { title: 'one' });
    await outbox();
    const first = studio.files.get('a.jpg')?.bytes;
    await set('studio/a.jpg', { title: 'two' });
    await outbox();
    await undoLast(db, now());
    await outbox();
    expect(studio.files.get('a.jpg')?.bytes).toEqual(first);
  });

  it('on a full drive keeps the old file whole, says why, and writes when there is room', async () => {
    const old = studio.files.get('a.jpg')?.bytes;
    studio.capacityBytes = 300_000;
    await set('studio/a.jpg', { title: 'one' });
    expect(await outbox()).toMatchObject({ failed: 1 });
    expect(studio.files.get('a.jpg')?.bytes).toEqual(old);
    expect([...studio.files.keys()].filter(isLeftover)).toEqual([]);
    expect(
      (await db.outbox.toArray()).filter(({ task }) => task.kind === 'sidecar').map(({ problem }) => problem),
    ).toEqual(['full']);
    studio.capacityBytes = Infinity;
    expect(await outbox()).toMatchObject({ failed: 0 });
    expect((await fileAt('studio/a.jpg'))?.embedded).toEqual({ title: 'one' });
  });

  it('a damaged file is not written into, and its card says so', async () => {
    studio.put(
      'b.jpg',
      new Uint8Array(withBlocks(Buffer.concat([FRAME, scanOf(2)]), { xmp: Buffer.from('<x:xmpmeta') })),
    );
    await scan();
    const before = studio.files.get('b.jpg')?.bytes;
    await set('studio/b.jpg', { title: 'one' });
    expect(await outbox()).toMatchObject({ failed: 0 });
    expect(studio.files.get('b.jpg')?.bytes).toEqual(before);
    expect((await fileAt('studio/b.jpg'))?.problems).toContainEqual({ code: 'embed/refused', reason: 'damaged' });
    expect(studio.text('b.xmp')).toContain('one');
  });

  it('switched on later catches up with what the sidecars hold', async () => {
    await db.drives.update('studio', { embeds: false, marked: true });
    await set('studio/a.jpg', { title: 'one' });
    await outbox();
    expect((await fileAt('studio/a.jpg'))?.embedded).toBeNull();
    await db.drives.update('studio', { embeds: true });
    expect(await queueEmbedding(db, 'studio', now())).toBe(1);
    await outbox();
    expect((await fileAt('studio/a.jpg'))?.embedded).toEqual({ title: 'one' });
    expect(await queueEmbedding(db, 'studio', now())).toBe(0);
  });

  it('a copy made before and one made after are two proven copies of one photo', async () => {
    await copyPhotos(tools(), {
      source: { id: 'studio', drive: studio, writable: true },
      target: { id: 'cellar', drive: cellar },
      photoIds: null,
    });
    await set('studio/a.jpg', { title: 'one' });
    await outbox();
    const photo = await photoOf('studio/a.jpg');
    const files = await db.files
      .where('photoId')
      .equals(photo?.id ?? '')
      .toArray();
    expect(new Set(files.map(({ sha256 }) => sha256)).size).toBe(2);
    expect(photo && verifiedCount(copiesOf(files, photo))).toBe(2);
    expect(await checkDrive(tools(), 'cellar', cellar, false)).toMatchObject({ sound: 1, damaged: [] });
  });
});

describe('when the writing has come to rest', () => {
  it('the manifest has the digests of the files as they are now, so that sha256sum finds no damage', async () => {
    await copyPhotos(tools(), {
      source: { id: 'studio', drive: studio, writable: true },
      target: { id: 'cellar', drive: cellar },
      photoIds: null,
    });
    await set('studio/a.jpg', { title: 'one' });
    expect((await outbox()).dueInMs).toBeGreaterThan(0); // and not at every edit: it costs a look at all files
    const stale = studio.text(MANIFEST_FILE);
    clock += 60_000;
    expect(await outbox()).toMatchObject({ failed: 0, dueInMs: null });
    expect(studio.text(MANIFEST_FILE)).not.toBe(stale);
    expect(studio.text(MANIFEST_FILE)).toBe(
      `${await sha256Hex(studio.files.get('a.jpg')?.bytes ?? new Uint8Array())}  a.jpg\n`,
    );
  });

  it('a catalog made anew from the drives has each photo under the name that rounds and collections call it by', async () => {
    const id = (await photoOf('studio/a.jpg'))?.id ?? '';
    await copyPhotos(tools(), {
      source: { id: 'studio', drive: studio, writable: true },
      target: { id: 'cellar', drive: cellar },
      photoIds: null,
    });
    for (const title of ['one', 'two']) {
      await set('studio/a.jpg', { title });
      await outbox();
    }
    clock += 60_000;
    await outbox();
    expect(JSON.parse(studio.text(IDENTITIES_FILE) ?? '')).toMatchObject({ version: 1, identities: [{ photo: id }] }); // of what it was in between, nothing
    const drives = await db.drives.toArray();
    db = new CatalogDatabase(`embedding-${number++}`);
    await db.drives.bulkPut(drives);
    await scan('studio');
    expect(await photoOf('studio/a.jpg')).toMatchObject({ id, fields: { title: 'two' } });
    await scan('cellar'); // where the bytes are still those of the beginning
    expect(await db.photos.toArray()).toHaveLength(1);
    const photo = await photoOf('cellar/a.jpg');
    expect(photo && verifiedCount(copiesOf(await db.files.toArray(), photo))).toBe(2);
    // a catalog that has not read the photo yet leaves what the other noted of it
    db = new CatalogDatabase(`embedding-${number++}`);
    await db.drives.bulkPut(drives);
    await writeFixityOf(db, 'studio', studio);
    expect(JSON.parse(studio.text(IDENTITIES_FILE) ?? '')).toMatchObject({ identities: [{ photo: id }] });
  });

  it('a file of identities that is none is told, and left as it is', async () => {
    studio.put(IDENTITIES_FILE, new TextEncoder().encode('{"format":"wembo-identities","version":9,"identities":[]}'));
    expect((await scan()).problems.map(({ path }) => path)).toEqual([IDENTITIES_FILE]);
    await set('studio/a.jpg', { title: 'one' });
    await outbox();
    clock += 60_000;
    expect(await outbox()).toMatchObject({ failed: 1 });
    expect(studio.text(IDENTITIES_FILE)).toContain('"version":9');
  });
});

describe('metadata that another program wrote into a file', () => {
  it('come into the catalog as a change of its own, to which undo does not come; the photo stays', async () => {
    await db.drives.update('studio', { embeds: false, marked: true });
    const id = (await photoOf('studio/a.jpg'))?.id;
    await set('studio/a.jpg', { city: 'Gjógv' });
    await outbox();
    await otherProgramWrites(studio, 'a.jpg', { headline: 'theirs' });
    studio.files.delete('a.xmp');
    await db.files.update('studio/a.jpg', { sidecar: null });
    await db.photos.update(id ?? '', { fields: {} });
    expect(await scan()).toMatchObject({ added: 0, changed: 1 });
    expect(await photoOf('studio/a.jpg')).toMatchObject({ id, fields: { headline: 'theirs' } });
    await undoLast(db, now());
    expect((await photoOf('studio/a.jpg'))?.fields.headline).toBe('theirs');
    expect(
      await db.journal.filter(({ change }) => change.kind === 'fields' && change.origin === 'file').toArray(),
    ).toMatchObject([{ state: 'noted', photoIds: [id] }]);
  });

  it('that contradict an edit made here are kept as two versions until the person decides', async () => {
    await db.drives.update('studio', { embeds: false, marked: true });
    await set('studio/a.jpg', { headline: 'ours' });
    await otherProgramWrites(studio, 'a.jpg', { headline: 'theirs' });
    expect(await scan()).toMatchObject({ conflicts: 1 });
    expect((await photoOf('studio/a.jpg'))?.fields.headline).toBe('ours');
    expect((await db.conflicts.toArray())[0]).toMatchObject({ keys: ['headline'], theirs: { headline: 'theirs' } });
  });

  it('a picture that another photo has, and that says nothing more, is a second file of that photo', async () => {
    await db.drives.update('studio', { embeds: false, marked: true });
    await set('studio/a.jpg', { title: 'one' });
    await outbox();
    cellar.put(
      'same.jpg',
      new Uint8Array(
        withBlocks(Buffer.concat([FRAME, scanOf(1)]), {
          exif: writeExif(new Map([[0x0131, ascii('another program')]]), new Map(), null),
        }),
      ),
    );
    await scan('cellar');
    expect(await db.photos.count()).toBe(1);
    expect(await fileAt('cellar/same.jpg')).toMatchObject({
      photoId: (await photoOf('studio/a.jpg'))?.id,
      state: 'present',
    });
  });

  it('a picture that another photo has but that says something of its own stays a photo of its own', async () => {
    cellar.put('same.jpg', jpeg(1, [0x010e, 'a caption of its own']));
    await scan('cellar');
    expect(await db.photos.count()).toBe(2);
    expect((await photoOf('cellar/same.jpg'))?.fields.caption).toBe('a caption of its own');
  });
});
