import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord } from '../catalog/records';
import { writeDriveFile } from '../archive/archive-files';
import { accessTo, addFolderDrive, connectionOf, recognise } from './connections';
import { MemoryDrive } from './memory-drive';
import { ListedDrive } from './listed-drive';

type Entry = { folder: string; away?: boolean; permission?: PermissionState };

/** A directory handle that is only its name, its files by MemoryDrive, and what the browser says of it. */
function handle({ folder, away = false, permission = 'granted' }: Entry, drive = new MemoryDrive()): FileSystemDirectoryHandle {
  const file = (name: string) => ({
    kind: 'file', name,
    getFile: () => drive.open(name).catch(() => { throw new DOMException(name, 'NotFoundError'); }),
    createWritable: async () => ({ write: async (bytes: Uint8Array<ArrayBuffer>) => drive.put(name, bytes), close: async () => undefined, abort: async () => undefined }),
    move: async (to: string) => {
      const moved = drive.files.get(name);
      if (moved) drive.files.set(`${name.slice(0, name.lastIndexOf('/') + 1)}${to}`, moved);
      drive.files.delete(name);
    },
  });
  const directory = (prefix: string): unknown => ({
    kind: 'directory', name: folder,
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
const db = { drives: { toArray: async () => drives, put: async (record: DriveRecord) => void drives.push(record) } } as unknown as CatalogDatabase;
const record = (id: string, folder: FileSystemDirectoryHandle | null, more: Partial<DriveRecord> = {}): DriveRecord => ({ id, name: id, kind: 'folder', handle: folder, access: 'write', takenOut: false, addedAt: 0, scannedAt: null, bytes: 0, embeds: false, ...more });
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
    ['a folder that opens', {}, { folder: 'a' }, 'connected'],
    ['a folder the browser asks about', {}, { folder: 'a', permission: 'prompt' as const }, 'needs-permission'],
    ['a folder whose drive is unplugged', {}, { folder: 'a', away: true }, 'away'],
    ['a practice drive that was taken out', { takenOut: true }, { folder: 'a' }, 'away'],
  ])('%s', async (_, more, entry, state) => {
    expect(await connectionOf(record('x', handle(entry), more))).toMatchObject({ state });
  });

  it('one click lets the browser ask, and connects', async () => {
    expect(await connectionOf(record('x', handle({ folder: 'a', permission: 'prompt' })), true)).toMatchObject({ state: 'connected', writable: true });
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
    expect(JSON.parse(memory.text('_wembo/drive.json') ?? '')).toEqual({ format: 'wembo-drive', version: 1, id: 'new-drive-1', name: 'Mine', createdAt: 5 });
  });

  it('that may only be read is added without a mark', async () => {
    const memory = new MemoryDrive();
    await addFolderDrive(db, { id: 'new-drive-1', name: 'Mine', folder: { handle: handle({ folder: 'a' }, memory) }, access: 'read', at: 5 });
    expect(memory.files.size).toBe(0);
  });

  it('the catalog has already is known, without reading its mark', async () => {
    drives = [record('known-id', handle({ folder: 'a' }))];
    expect(await recognise(db, { handle: handle({ folder: 'a' }) })).toMatchObject({ state: 'known-here', record: { id: 'known-id' } });
  });

  it('with the mark of a drive that is away is that drive, in a new place', async () => {
    drives = [record('known-id', handle({ folder: 'old place', away: true }))];
    expect(await recognise(db, { handle: handle({ folder: 'new place' }, await marked('known-id')) })).toMatchObject({ state: 'known-moved' });
  });

  it('with the mark of a drive that is connected too is a clone, and is asked about', async () => {
    drives = [record('known-id', handle({ folder: 'old place' }))];
    expect(await recognise(db, { handle: handle({ folder: 'new place' }, await marked('known-id')) })).toMatchObject({ state: 'clone' });
  });

  it('with a mark the catalog has lost comes back under its own name and id', async () => {
    expect(await recognise(db, { handle: handle({ folder: 'x' }, await marked('lost-drive')) })).toEqual({ state: 'returning', id: 'lost-drive', name: 'name of lost-drive', createdAt: 3 });
  });
});
