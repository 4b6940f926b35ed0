// Laying out practice drives, over a private file system that is only a map.

import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { readDriveFile } from '../archive/archive-files';
import { readRecords } from '../archive/fixity-file';
import { CatalogDatabase } from '../catalog/database';
import type { JobRecord } from '../catalog/records';
import { HandleDrive } from '../drives/handle-drive';
import {
  type DemoIndex,
  type WritePack,
  demoIncomplete,
  fetchDemoIndex,
  loadPracticeDrives,
  removePracticeDrives,
  writePackHere,
} from './practice';

const notFound = (name: string) => new DOMException(name, 'NotFoundError');

class MemoryFolder {
  readonly kind = 'directory';
  readonly folders = new Map<string, MemoryFolder>();
  readonly files = new Map<string, Uint8Array<ArrayBuffer>>();
  constructor(readonly name: string) {}

  async getDirectoryHandle(name: string, { create = false } = {}): Promise<MemoryFolder> {
    if (!this.folders.has(name) && !create) throw notFound(name);
    return this.folders.get(name) ?? this.folders.set(name, new MemoryFolder(name)).get(name)!;
  }

  async getFileHandle(name: string, { create = false } = {}) {
    if (!this.files.has(name) && !create) throw notFound(name);
    if (!this.files.has(name)) this.files.set(name, new Uint8Array(0));
    const write = (bytes: Uint8Array) => void this.files.set(name, new Uint8Array(bytes));
    return {
      kind: 'file' as const,
      name,
      getFile: async () => new File([this.files.get(name)!], name, { lastModified: 1_700_000_000_000 }),
      createSyncAccessHandle: async () => ({ truncate: () => write(new Uint8Array(0)), write, close: () => undefined }),
      createWritable: async () => ({
        write: async (bytes: Uint8Array) => write(bytes),
        close: async () => undefined,
        abort: async () => undefined,
      }),
      move: async (to: string) => {
        this.files.set(to, this.files.get(name)!);
        this.files.delete(name);
      },
    };
  }

  async removeEntry(name: string): Promise<void> {
    if (!this.folders.delete(name) && !this.files.delete(name)) throw notFound(name);
  }
}

const SHA = 'a'.repeat(64);
const INDEX: DemoIndex = {
  format: 'wembo-demo',
  version: 3,
  drives: [
    {
      id: 'demo-one',
      name: 'One',
      folder: 'one',
      takenOut: false,
      card: false,
      packs: [
        {
          from: 'packs/one-00.bin',
          files: [
            { path: 'a/ð.jpg', bytes: 3, proof: { sha256: SHA, verifiedAt: 5 } },
            { path: 'a/b/c.xmp', bytes: 2 },
          ],
        },
      ],
    },
    {
      id: 'demo-two',
      name: 'Two',
      folder: 'two',
      takenOut: true,
      card: false,
      packs: [
        { from: 'packs/two-00.bin', files: [{ path: 'd.jpg', bytes: 1 }] },
        { from: 'packs/two-01.bin', files: [{ path: 'e.jpg', bytes: 0 }] },
      ],
    },
  ],
};
const PACKS: Record<string, number[]> = {
  'packs/one-00.bin': [1, 2, 3, 8, 9],
  'packs/two-00.bin': [7],
  'packs/two-01.bin': [],
};

let root: MemoryFolder;
let db: CatalogDatabase;
let asked: string[];

beforeEach(() => {
  root = new MemoryFolder('');
  asked = [];
  db = new CatalogDatabase(`practice-${Math.random()}`);
  vi.stubGlobal('navigator', { storage: { getDirectory: async () => root } });
  vi.stubGlobal('fetch', async (address: string) => {
    asked.push(address);
    if (address.endsWith('index.json')) return new Response(JSON.stringify(INDEX));
    const pack = PACKS[address.replace('/api/demo/', '')];
    return pack ? new Response(new Uint8Array(pack)) : new Response(null, { status: 404 });
  });
});
afterEach(async () => {
  vi.unstubAllGlobals();
  await db.delete();
});

const load = (write: WritePack = writePackHere) =>
  loadPracticeDrives(db, INDEX, write, 9, (done, total) => void progress.push([done, total]));
let progress: [number, number][] = [];
const driveFolder = async (id: string) => (await root.getDirectoryHandle('practice-drives')).getDirectoryHandle(id);

describe('practice drives', () => {
  it('are written from their packs, file by file, and registered as connected; the index says which is to be taken out', async () => {
    progress = [];
    const records = await load();
    const one = await driveFolder('demo-one');
    expect([...one.folders.get('a')!.files.get('ð.jpg')!]).toEqual([1, 2, 3]);
    expect([...one.folders.get('a')!.folders.get('b')!.files.get('c.xmp')!]).toEqual([8, 9]);
    expect((await driveFolder('demo-two')).files.get('e.jpg')?.length).toBe(0);
    expect(progress.at(-1)).toEqual([4, 4]);
    expect(records.map(({ id, takenOut }) => [id, takenOut])).toEqual([
      ['demo-one', false],
      ['demo-two', true],
    ]);
    expect((await db.drives.toArray()).map(({ name, kind, takenOut }) => [name, kind, takenOut])).toEqual([
      ['One', 'practice', false],
      ['Two', 'practice', false],
    ]);
  });

  it('what the last check verified is written with the time the file has here', async () => {
    await load();
    const drive = new HandleDrive((await driveFolder('demo-one')) as unknown as FileSystemDirectoryHandle, 'demo-one');
    expect([...(await readRecords(drive, 'demo-one')).byPath]).toEqual([
      [
        'a/ð.jpg',
        expect.objectContaining({
          bytes: 3,
          modified: 1_700_000_000_000,
          measure: { sha256: SHA, imageSha256: null },
          verifiedAt: 5,
        }),
      ],
    ]);
    expect(await readDriveFile(drive)).toMatchObject({ id: 'demo-one' });
  });

  it('a load that was interrupted goes on: what is there is not asked for again, and only a whole demo is registered', async () => {
    const broken: WritePack = async (folder, pack) => {
      if (pack.from.startsWith('packs/two')) throw new Error('the page was closed');
      return writePackHere(folder, pack);
    };
    await expect(load(broken)).rejects.toThrow('the page was closed');
    expect(await db.drives.count()).toBe(0);
    expect(await demoIncomplete(db, INDEX)).toBe(true);
    asked = [];
    await load();
    expect(asked.map((address) => address.split('/').at(-1)).sort()).toEqual(['two-00.bin']);
    // registered, and nobody has begun to catalog it
    expect(await demoIncomplete(db, INDEX)).toBe(true);
    await db.drives.update('demo-one', { scannedAt: 7 });
    await db.jobs.put({ id: 'j', kind: 'scan', driveId: 'demo-two' } as unknown as JobRecord);
    expect(await demoIncomplete(db, INDEX)).toBe(false);
  });

  it('a drive that was cataloged before is left as the person has it', async () => {
    await load();
    await db.drives.update('demo-one', { scannedAt: 7, name: 'Renamed' });
    expect((await load()).map(({ id }) => id)).toEqual(['demo-two']);
    expect((await db.drives.get('demo-one'))?.name).toBe('Renamed');
  });

  it('a file that is half there is written anew', async () => {
    await load();
    (await driveFolder('demo-one')).folders.get('a')!.files.set('ð.jpg', new Uint8Array([1]));
    await load();
    expect([...(await driveFolder('demo-one')).folders.get('a')!.files.get('ð.jpg')!]).toEqual([1, 2, 3]);
  });

  it('a file that the page before still holds is waited for', async () => {
    let held = 3;
    const folder = {
      ...root,
      getFileHandle: async (name: string) => {
        const handle = await root.getFileHandle(name, { create: true });
        return {
          ...handle,
          createSyncAccessHandle: async () => {
            if (held-- > 0) throw new DOMException(name, 'NoModificationAllowedError');
            return handle.createSyncAccessHandle();
          },
        };
      },
    } as unknown as FileSystemDirectoryHandle;
    await writePackHere(folder, { from: 'packs/two-00.bin', files: [{ path: 'd.jpg', bytes: 1 }] });
    expect([...root.files.get('d.jpg')!]).toEqual([7]);
    expect(held).toBeLessThan(0);
  });

  it('a pack the server does not have stops the load with its name', async () => {
    const [first] = INDEX.drives;
    const missing = { ...INDEX, drives: [{ ...first!, packs: [{ ...first!.packs[0]!, from: 'packs/none.bin' }] }] };
    await expect(loadPracticeDrives(db, missing, writePackHere, 9, () => undefined)).rejects.toThrow(
      'packs/none.bin: the server answers 404',
    );
  });

  it('are removed as a whole, and removing them twice is no trouble', async () => {
    await load();
    await removePracticeDrives();
    expect(root.folders.size).toBe(0);
    await removePracticeDrives();
  });

  it('a server without a demo has none to offer; an index of another version is refused', async () => {
    expect((await fetchDemoIndex())?.drives).toHaveLength(2);
    vi.stubGlobal('fetch', async () => new Response(null, { status: 404 }));
    expect(await fetchDemoIndex()).toBeNull();
    vi.stubGlobal('fetch', async () => new Response(JSON.stringify({ ...INDEX, version: 1 })));
    await expect(fetchDemoIndex()).rejects.toThrow();
  });
});
