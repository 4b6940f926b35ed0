import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord } from '../catalog/records';
import { writeDriveFile } from '../archive/archive-files';
import { accessTo, addFolderDrive, connectionOf, markAgain, recognise, sharesPlace } from './connections';
import { MemoryDrive } from '../drives/memory-drive';
import { ListedDrive } from '../drives/listed-drive';

type Entry = { folder: string; away?: boolean; permission?: PermissionState };

/** A directory handle that is only its name, its files by MemoryDrive, and what the browser says of it. */
function handle(
  { folder, away = false, permission = 'granted' }: Entry,
  drive = new MemoryDrive(),
): FileSystemDirectoryHandle {
  const file = (name: string) => ({
    kind: 'file',
    name,
    getFile: () =>
      drive.open(name).catch(() => {
        throw new DOMException(name, 'NotFoundError');
      }),
    createWritable: async () => ({
      write: async (bytes: Uint8Array<ArrayBuffer>) => drive.put(name, bytes),
      close: async () => undefined,
      abort: async () => undefined,
    }),
    move: async (to: string) => {
      const moved = drive.files.get(name);
      if (moved) drive.files.set(`${name.slice(0, name.lastIndexOf('/') + 1)}${to}`, moved);
      drive.files.delete(name);
    },
  });
  const directory = (prefix: string): unknown => ({
    kind: 'directory',
    name: folder,
    place: folder,
    resolve: async (other: { place: string }) =>
      other.place === folder
        ? []
        : other.place.startsWith(`${folder}/`)
          ? other.place.slice(folder.length + 1).split('/')
          : null,
    values: () => ({
      next: async () => {
        if (away) throw new DOMException(folder, 'NotFoundError');
        return { done: true, value: undefined };
      },
    }),
    getDirectoryHandle: async (name: string) => directory(`${prefix}${name}/`),
    getFileHandle: async (name: string, { create = false } = {}) => {
      if (!create && !drive.files.has(prefix + name)) throw new DOMException(name, 'NotFoundError');
      return file(prefix + name);
    },
    removeEntry: async (name: string) => void drive.files.delete(prefix + name),
    isSameEntry: async (other: { name: string }) => other.name === folder,
    queryPermission: async () => permission,
    requestPermission: async () => (permission === 'prompt' ? 'granted' : permission),
  });
  return directory('') as FileSystemDirectoryHandle;
}

let drives: DriveRecord[] = [];
const db = {
  drives: { toArray: async () => drives, put: async (record: DriveRecord) => void drives.push(record) },
} as unknown as CatalogDatabase;
const record = (
  id: string,
  folder: FileSystemDirectoryHandle | null,
  more: Partial<DriveRecord> = {},
): DriveRecord => ({
  id,
  name: id,
  kind: 'folder',
  handle: folder,
  access: 'write',
  takenOut: false,
  addedAt: 0,
  scannedAt: null,
  bytes: 0,
  embeds: false,
  marked: true,
  ...more,
});
async function marked(id: string): Promise<MemoryDrive> {
  const drive = new MemoryDrive();
  await writeDriveFile(drive, { id, name: `name of ${id}`, createdAt: 3 });
  return drive;
}

beforeEach(() => {
  drives = [];
});

describe('whether a drive is there', () => {
  it.each([
    [
      'a folder that opens, and may only be read',
      { marked: false, access: 'read' as const },
      { folder: 'a' },
      'connected',
    ],
    ['a folder the browser asks about', {}, { folder: 'a', permission: 'prompt' as const }, 'needs-permission'],
    ['a folder whose drive is unplugged', {}, { folder: 'a', away: true }, 'away'],
    ['a practice drive that was taken out', { takenOut: true }, { folder: 'a' }, 'away'],
  ])('%s', async (_, more, entry, state) => {
    expect(await connectionOf(record('x', handle(entry), more))).toMatchObject({ state });
  });

  it('one click lets the browser ask, and connects', async () => {
    expect(
      await connectionOf(
        record('x-drive-id', handle({ folder: 'a', permission: 'prompt' }, await marked('x-drive-id'))),
        null,
        true,
      ),
    ).toMatchObject({ state: 'connected', writable: true });
  });

  it.each([
    ['its own', 'x-drive-id', { state: 'connected' }],
    ['that of another', 'y-drive-id', { state: 'stranger', why: 'other-drive', name: 'name of y-drive-id' }],
    ['none, as an empty mount point', null, { state: 'stranger', why: 'no-mark' }],
    ['one that cannot be read', '../', { state: 'stranger', why: 'mark-unreadable' }],
  ])('is told by the mark that lies there: %s', async (_, id, connection) => {
    const drive = new MemoryDrive();
    if (id !== null)
      drive.put(
        '_wembo/drive.json',
        JSON.stringify({ format: 'wembo-drive', version: 1, id, name: `name of ${id}`, createdAt: 1 }),
      );
    expect(await connectionOf(record('x-drive-id', handle({ folder: 'a' }, drive)))).toMatchObject(connection);
  });

  it('a folder list from a browser without handles gives reading only', async () => {
    expect(await accessTo({ listed: new ListedDrive([]) })).toBe('read');
    expect(await accessTo({ handle: handle({ folder: 'a', permission: 'denied' }) })).toBe('read');
    expect(await accessTo({ handle: handle({ folder: 'a', permission: 'prompt' }) })).toBe('write');
  });
});

describe('a folder that is offered', () => {
  it('without a mark is new, and gets its mark when it is added', async () => {
    const memory = new MemoryDrive();
    const folder = { handle: handle({ folder: 'Photos' }, memory) };
    expect(await recognise(db, folder)).toEqual({ state: 'new', suggestedName: 'Photos' });
    await addFolderDrive(db, { id: 'new-drive-1', name: 'Mine', folder, access: 'write', at: 5 });
    expect(JSON.parse(memory.text('_wembo/drive.json') ?? '')).toEqual({
      format: 'wembo-drive',
      version: 1,
      id: 'new-drive-1',
      name: 'Mine',
      createdAt: 5,
    });
  });

  it('that may only be read is added without a mark', async () => {
    const memory = new MemoryDrive();
    await addFolderDrive(db, {
      id: 'new-drive-1',
      name: 'Mine',
      folder: { handle: handle({ folder: 'a' }, memory) },
      access: 'read',
      at: 5,
    });
    expect(memory.files.size).toBe(0);
  });

  it('the catalog has already is known by its mark', async () => {
    const drive = await marked('known-id');
    drives = [record('known-id', handle({ folder: 'a' }, drive))];
    expect(await recognise(db, { handle: handle({ folder: 'a' }, drive) })).toMatchObject({
      state: 'known-here',
      record: { id: 'known-id' },
    });
  });

  it('without a mark, where a drive of the catalog lay, is asked about: nothing is written on it', async () => {
    const drive = new MemoryDrive();
    drives = [record('known-id', handle({ folder: 'a' }, drive))];
    expect(await recognise(db, { handle: handle({ folder: 'a' }, drive) })).toMatchObject({
      state: 'lost-mark',
      record: { id: 'known-id' },
    });
    expect(drive.files.size).toBe(0);
    await markAgain(drives[0] as DriveRecord, { handle: handle({ folder: 'a' }, drive) });
    expect(await recognise(db, { handle: handle({ folder: 'a' }, drive) })).toMatchObject({ state: 'known-here' });
    await expect(
      markAgain({ ...(drives[0] as DriveRecord), id: 'other-id' }, { handle: handle({ folder: 'a' }, drive) }),
    ).rejects.toThrow('other-drive');
  });

  it('at the path of one drive with the mark of another is that other one', async () => {
    drives = [
      record('first-id', handle({ folder: 'a', away: true })),
      record('second-id', handle({ folder: 'b', away: true })),
    ];
    expect(await recognise(db, { handle: handle({ folder: 'a' }, await marked('second-id')) })).toMatchObject({
      state: 'known-moved',
      record: { id: 'second-id' },
    });
  });

  it('that leads to a connected drive by another path is that drive, and no clone', async () => {
    const drive = await marked('known-id');
    drives = [record('known-id', handle({ folder: 'one path' }, drive))];
    const before = [...drive.files.keys()];
    expect(await recognise(db, { handle: handle({ folder: 'another path' }, drive) })).toMatchObject({
      state: 'known-here',
    });
    expect([...drive.files.keys()]).toEqual(before);
  });

  it('in a drive of the catalog, or around some, is no drive beside them', async () => {
    drives = [
      record('outer-id', handle({ folder: 'disk/photos' })),
      record('other-id', handle({ folder: 'elsewhere' })),
    ];
    expect(await recognise(db, { handle: handle({ folder: 'disk/photos/2019' }) })).toMatchObject({
      state: 'inside',
      record: { id: 'outer-id' },
      path: '2019',
    });
    expect(await recognise(db, { handle: handle({ folder: 'disk' }) })).toMatchObject({
      state: 'around',
      inner: [{ record: { id: 'outer-id' }, path: 'photos' }],
    });
    expect([
      await sharesPlace({ handle: handle({ folder: 'disk/photos/2019' }) }, drives[0] as DriveRecord),
      await sharesPlace({ handle: handle({ folder: 'disk/card' }) }, drives[0] as DriveRecord),
    ]).toEqual([true, false]);
  });

  it('with a mark of a later version, or a damaged one, is left alone', async () => {
    const drive = new MemoryDrive();
    drive.put('_wembo/drive.json', '{"format":"wembo-drive","version":2}');
    expect(await recognise(db, { handle: handle({ folder: 'a' }, drive) })).toMatchObject({
      state: 'strange-mark',
      reason: expect.stringContaining('version 2') as string,
    });
  });

  it('with the mark of a drive that is away is that drive, in a new place', async () => {
    drives = [record('known-id', handle({ folder: 'old place', away: true }))];
    expect(await recognise(db, { handle: handle({ folder: 'new place' }, await marked('known-id')) })).toMatchObject({
      state: 'known-moved',
    });
  });

  it('with the mark of a drive that is connected too is a clone, and is asked about', async () => {
    drives = [record('known-id', handle({ folder: 'old place' }, await marked('known-id')))];
    expect(await recognise(db, { handle: handle({ folder: 'new place' }, await marked('known-id')) })).toMatchObject({
      state: 'clone',
    });
  });

  it('with a mark the catalog has lost comes back under its own name and id', async () => {
    expect(await recognise(db, { handle: handle({ folder: 'x' }, await marked('lost-drive')) })).toEqual({
      state: 'returning',
      id: 'lost-drive',
      name: 'name of lost-drive',
      createdAt: 3,
    });
  });
});
