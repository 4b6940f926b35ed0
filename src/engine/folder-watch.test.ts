import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CatalogDatabase } from '@/storage/catalog/database';
import { FolderWatch } from './folder-watch';

type Tell = (
  changes: {
    type: 'appeared' | 'modified' | 'disappeared';
    relativePathComponents: string[];
    changedHandle: { kind: 'file' | 'directory' } | null;
  }[],
) => void;

let db: CatalogDatabase;
let number = 0;
let tell: Tell = () => {};
let looked: string[];

class Observer {
  constructor(callback: Tell) {
    tell = callback;
  }
  observe = async () => undefined;
  disconnect = () => undefined;
}

const handle = { isSameEntry: async () => true } as unknown as FileSystemDirectoryHandle;
const file = (...parts: string[]) => ({
  type: 'appeared' as const,
  relativePathComponents: parts,
  changedHandle: { kind: 'file' as const },
});
const watch = (observer: unknown = Observer) =>
  new FolderWatch({ db, scanForChanges: async (driveId) => void looked.push(driveId) }, observer as never);
/** Lets what was noticed come to rest. */
const rest = async () => {
  await vi.advanceTimersByTimeAsync(2600);
  for (let tries = 0; tries < 20; tries++) await vi.advanceTimersByTimeAsync(5);
};

beforeEach(async () => {
  db = new CatalogDatabase(`watch-${number++}`);
  await db.open();
  looked = [];
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] });
});

afterEach(() => void vi.useRealTimers());

describe('a folder that is observed', () => {
  it('is looked through once when a photo has come to rest in it, or a folder of photos', async () => {
    await watch().watch('d', handle);
    tell([file('in', 'a.jpg')]);
    await vi.advanceTimersByTimeAsync(1000);
    tell([file('in', 'a.jpg'), file('in', 'b.jpg')]);
    expect(looked).toEqual([]);
    await rest();
    expect(looked).toEqual(['d']);
    tell([{ type: 'appeared', relativePathComponents: ['new'], changedHandle: { kind: 'directory' } }]);
    await rest();
    expect(looked).toEqual(['d', 'd']);
  });

  it('is left alone for what is ours or nobody’s: parts, sidecars, the archive folder, what the catalog has, what went', async () => {
    await db.files.put({ id: 'd/in/known.jpg' } as never);
    await watch().watch('d', handle);
    tell([
      file('in', 'a.wembo-part.jpg'),
      file('in', 'a.wembo-part.jpg.crswap'),
      file('in', 'a.xmp'),
      file('_wembo', 'x.jpg'),
      file('.trash', 'x.jpg'),
      file('in', '._a.jpg'),
      file('in', 'known.jpg'),
      { ...file('in', 'gone.jpg'), type: 'disappeared' },
      { type: 'appeared', relativePathComponents: ['in'], changedHandle: { kind: 'directory' } },
    ]);
    await rest();
    expect(looked).toEqual([]);
  });

  it('waits while a job or a move works on the drive', async () => {
    await db.jobs.put({ id: 'j', state: 'running', driveId: 'd' } as never);
    await watch().watch('d', handle);
    tell([file('a.jpg')]);
    await rest();
    expect(looked).toEqual([]);
    await db.jobs.update('j', { state: 'done' });
    await rest();
    expect(looked).toEqual(['d']);
  });
});

describe('coming back to the window', () => {
  it('looks through drives, at most after a while, and after long looks less often', async () => {
    await db.drives.put({ id: 'd', scannedAt: Date.now() } as never);
    const slow = new FolderWatch(
      {
        db,
        scanForChanges: async (driveId) => {
          looked.push(driveId);
          vi.setSystemTime(Date.now() + 10_000);
        },
      },
      undefined,
    );
    await slow.onFocus(['d']);
    expect(looked).toEqual([]);
    vi.setSystemTime(Date.now() + 9000);
    await slow.onFocus(['d']);
    expect(looked).toEqual(['d']);
    vi.setSystemTime(Date.now() + 100_000); // the look took 10 s: 200 s is the least
    await slow.onFocus(['d']);
    expect(looked).toEqual(['d']);
    vi.setSystemTime(Date.now() + 101_000);
    await slow.onFocus(['d']);
    expect(looked).toEqual(['d', 'd']);
  });
});
