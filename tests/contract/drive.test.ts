// The contract of a drive, held by every adapter. The one over the browser's own handles is held to it on real
// folders in tests/e2e.

import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { type Drive, DriveError, isLeftover, partOf, wholeOf } from '@/storage/drives/drive';
import { HandleDrive } from '@/storage/drives/handle-drive';
import { MarkedDrive } from '@/storage/archive/marked-drive';
import { ListedDrive } from '@/storage/drives/listed-drive';
import { MemoryDrive } from '@/storage/drives/memory-drive';
import { bytesOf, readIfThere, replaceFile } from '@/storage/drives/safe-write';
import { copyVerified } from '@/storage/file-tasks/verified-copy';
import { newSha256 } from '@/storage/drives/sha256';
import { DiskDrive } from '@/server/host/disk-drive';
import { HostDrive } from '@/storage/host/host-drive';
import { hostDrive, testHost } from './host';
import { nodeFolder } from './node-handles';
import { inTurn, storeDrive, testStore } from './store';

const bytes = (text: string) => new TextEncoder().encode(text);
const text = async (drive: Drive, file: string) => new TextDecoder().decode(await bytesOf(await drive.open(file)));
async function put(drive: Drive, file: string, content: string): Promise<void> {
  const part = await drive.createPart(
    file,
    (async function* () {
      yield bytes(content);
    })(),
  );
  await part.finish(file, 'old');
}
const paths = async (drive: Drive) => {
  const found: string[] = [];
  for await (const { path: file } of drive.list()) found.push(file);
  return found.sort();
};
const partsOn = async (drive: Drive) => {
  const found: string[] = [];
  for await (const _ of drive.list({ onLeftover: (file) => found.push(file) })) continue;
  return found;
};
const problem = (error: unknown) => (error instanceof DriveError ? error.problem : String(error));
const tools = { newDigest: newSha256, onBytes: () => undefined };
/** One copy, as its digest and what became of it. */
async function copyInto(
  drive: Drive,
  wanted: string,
  source: Blob,
  more: { expected?: string; signal?: AbortSignal; onBytes?: () => void } = {},
) {
  const {
    digests,
    placed: [placed],
  } = await copyVerified(source, 'x.jpg', [{ drive, path: wanted }], { ...tools, ...more });
  return { sha256: digests?.file, ...placed };
}

const MARK = JSON.stringify({ format: 'wembo-drive', version: 1, id: 'drive-0001', name: 'x', createdAt: 1 });

/** Made by age-keygen for this test. */
const IDENTITY = 'AGE-SECRET-KEY-1YPQFYVK20QUJ0PHE44PG6ADCMJP94M7KX7VL9E6D00XKZ8F34LRQVRK3Z5';

const ADAPTERS: [name: string, make: () => Drive | Promise<Drive>][] = [
  ['in memory', () => new MemoryDrive()],
  [
    'over handles, on the disk',
    () => new HandleDrive(nodeFolder(mkdtempSync(path.join(tmpdir(), 'wembo-drive-'))), 'drive'),
  ],
  ['of the host, on the disk', () => new DiskDrive(mkdtempSync(path.join(tmpdir(), 'wembo-disk-')), inTurn())],
  ['that the host serves', () => hostDrive()],
  ['in a store elsewhere', async () => storeDrive(await testStore())],
  [
    'in a store elsewhere, sealed with its names',
    async () => storeDrive(await testStore({ identity: IDENTITY, sealsNames: true })),
  ],
  ['in a store elsewhere, sealed', async () => storeDrive(await testStore({ prefix: '', identity: IDENTITY }))],
  [
    'in a store elsewhere that the host serves, sealed with its names',
    async () => {
      const host = testHost();
      const { identity: _, sealsNames: _names, ...store } = (await testStore()).place;
      const { served } = await host.client.ask('serveStore', {
        store,
        sealing: { how: 'new', passphrase: null, sealsNames: true },
      });
      return new HostDrive(host.client, served.id, 'drive');
    },
  ],
  [
    'that the host serves, known by its mark',
    () => {
      const folder = mkdtempSync(path.join(tmpdir(), 'wembo-marked-'));
      mkdirSync(path.join(folder, '_wembo'));
      writeFileSync(path.join(folder, '_wembo/drive.json'), MARK);
      return new MarkedDrive(hostDrive(testHost(), folder), 'drive-0001');
    },
  ],
  ['in memory that takes no notice of case', () => new MemoryDrive('caseless')],
  [
    'known by its mark',
    () => {
      const drive = new MemoryDrive();
      drive.put('_wembo/drive.json', MARK);
      return new MarkedDrive(drive, 'drive-0001');
    },
  ],
];

describe.each(ADAPTERS)('a drive %s', (_, make) => {
  it('lists files of all folders with blanks, ð, emoji and leading dots in their names, and leaves out its archive and debris', async () => {
    const drive = await make();
    for (const file of [
      'a b/ð 🐑.jpg',
      '.dot.jpg',
      'x.jpg',
      '_wembo/kits.json',
      '.hidden/x.jpg',
      '._x.jpg',
      'deep/er/y.xmp',
    ])
      await put(drive, file, 'x');
    expect(await paths(drive)).toEqual(['.dot.jpg', 'a b/ð 🐑.jpg', 'deep/er/y.xmp', 'x.jpg']);
  });

  it('calls the part of a file so that its ending stays, and knows what it was to become', () => {
    for (const [whole, part, older] of [
      ['a/x.jpg', 'a/x.wembo-part-0a1b2c3d.jpg', 'a/x.wembo-part.jpg'],
      ['a.b/no ending', 'a.b/no ending.wembo-part-0a1b2c3d', 'a.b/no ending.wembo-part'],
      ['.dot', '.dot.wembo-part-0a1b2c3d', '.dot.wembo-part'],
      ['x.jpg.xmp', 'x.jpg.wembo-part-0a1b2c3d.xmp', 'x.jpg.wembo-part.xmp'],
    ] as const) {
      expect([partOf(whole, '0a1b2c3d'), wholeOf(part), wholeOf(`${part}.crswap`), wholeOf(older)]).toEqual([
        part,
        whole,
        whole,
        whole,
      ]);
      for (const left of [part, older]) expect(isLeftover(left.split('/').at(-1) ?? '')).toBe(true);
    }
  });

  it('tells a part file of ours that was left behind, and does not list it', async () => {
    const drive = await make();
    const part = await drive.createPart(
      'in/x.jpg',
      (async function* () {
        yield bytes('half');
      })(),
    );
    const left: string[] = [];
    for await (const _entry of drive.list({ onLeftover: (file) => left.push(file) })) expect.fail('nothing to list');
    expect(left).toEqual([part.path]);
    expect(wholeOf(part.path)).toBe('in/x.jpg');
  });

  it('says that a file is not there, and gives its length and time when it is', async () => {
    const drive = await make();
    await expect(drive.open('no/such.jpg').catch(problem)).resolves.toBe('not-found');
    await put(drive, 'x', 'four');
    for await (const entry of drive.list())
      expect(entry).toMatchObject({ path: 'x', sizeBytes: 4, modifiedMs: (await drive.open('x')).lastModified });
  });

  it('replaces a file in one step, and only one that is still what was read', async () => {
    const drive = await make();
    await replaceFile(drive, 'in/x.xmp', bytes('one'), null);
    await replaceFile(drive, 'in/x.xmp', bytes('two'), bytes('one'));
    expect(await replaceFile(drive, 'in/x.xmp', bytes('three'), bytes('one')).catch(problem)).toBe('changed-meanwhile');
    expect(await replaceFile(drive, 'in/x.xmp', bytes('three'), null).catch(problem)).toBe('changed-meanwhile');
    expect(await text(drive, 'in/x.xmp')).toBe('two');
    expect(await partsOn(drive)).toEqual([]);
  });

  it('copies with proof; the same content is there already; other content of that name is never replaced', async () => {
    const drive = await make();
    const first = await copyInto(drive, 'a/x.jpg', new Blob(['one']));
    expect(first).toMatchObject({
      path: 'a/x.jpg',
      outcome: 'copied',
      sha256: '7692c3ad3540bb803c020b3aee66cd8887123234ea0c6e7143c0add73ff431ed',
    }); // printf one | sha256sum
    expect(await copyInto(drive, 'a/x.jpg', new Blob(['one']))).toMatchObject({ outcome: 'already-there' });
    expect(await copyInto(drive, 'a/x.jpg', new Blob(['two']))).toMatchObject({ path: 'a/x-2.jpg', outcome: 'copied' });
    expect(await text(drive, 'a/x.jpg')).toBe('one');
  });

  it('does not copy a source that is not what its checksum says', async () => {
    const drive = await make();
    expect(await copyInto(drive, 'x.jpg', new Blob(['one']), { expected: 'f'.repeat(64) })).toMatchObject({
      state: 'failed',
      problem: 'source-damaged',
    });
    expect(await paths(drive)).toEqual([]);
  });

  it('moves a file to any folder in one step, and never over another file', async () => {
    const drive = await make();
    await put(drive, 'in/x.jpg', 'one');
    await put(drive, 'y.jpg', 'two');
    await drive.move('in/x.jpg', 'deep/er/ð.jpg');
    expect(await paths(drive)).toEqual(['deep/er/ð.jpg', 'y.jpg']);
    expect(await drive.move('y.jpg', 'deep/er/ð.jpg').catch(problem)).toBe('exists');
    expect(await drive.move('in/x.jpg', 'z.jpg').catch(problem)).toBe('not-found');
    expect([await text(drive, 'deep/er/ð.jpg'), await text(drive, 'y.jpg')]).toEqual(['one', 'two']);
  });

  it('lists below a folder, all of it or its own files only; of a folder that is not there nothing', async () => {
    const drive = await make();
    for (const file of ['a/x', 'a/b/y', 'ab/z', 'r', '_wembo/accessions/1.json']) await put(drive, file, 'x');
    const below = async (folder: string, shallow = false) => {
      const found: string[] = [];
      for await (const { path: file } of drive.list({ ...(folder && { below: folder }), shallow })) found.push(file);
      return found.sort();
    };
    expect([
      await below('a'),
      await below('a', true),
      await below('', true),
      await below('no'),
      await below('_wembo/accessions'),
    ]).toEqual([['a/b/y', 'a/x'], ['a/x'], ['r'], [], ['_wembo/accessions/1.json']]);
  });

  it('a part takes a name that nothing has, or that of the old file where that is said; two parts of one name are two', async () => {
    const drive = await make();
    const part = async (content: string) =>
      drive.createPart(
        'in/x.jpg',
        (async function* () {
          yield bytes(content);
        })(),
      );
    const [one, two] = [await part('one'), await part('two')];
    await one.finish('in/x.jpg', 'free');
    expect(await two.finish('in/x.jpg', 'free').catch(problem)).toBe('exists');
    expect(await text(drive, 'in/x.jpg')).toBe('one');
    expect(await bytesOf(await two.open())).toEqual(bytes('two'));
    await two.finish('in/x.jpg', 'old');
    expect([await text(drive, 'in/x.jpg'), await partsOn(drive)]).toEqual(['two', []]);
  });

  it('does one thing at a time of what changes names', async () => {
    const drive = await make();
    const said: string[] = [];
    const act = (name: string) =>
      drive.alone(async () => {
        said.push(`${name} begins`);
        await new Promise((resolve) => setTimeout(resolve, 5));
        said.push(`${name} ends`);
      });
    await Promise.all([
      act('one'),
      act('two'),
      drive
        .alone(async () => {
          throw new Error('no matter');
        })
        .catch(() => undefined),
      act('three'),
    ]);
    expect(said).toEqual(['one begins', 'one ends', 'two begins', 'two ends', 'three begins', 'three ends']);
  });

  it('tells of a drive that lies in a folder of it', async () => {
    const drive = await make();
    for (const file of ['_wembo/kits.json', 'a/b/_wembo/drive.json', 'a/b/x.jpg']) await put(drive, file, 'x');
    const archives: string[] = [];
    for await (const _ of drive.list({ onArchive: (folder) => archives.push(folder) })) continue;
    expect(archives).toEqual(['a/b']);
  });

  it('a cancelled copy leaves nothing', async () => {
    const drive = await make();
    const stop = new AbortController();
    const big = new Blob([new Uint8Array(9 * 1024 * 1024)]);
    await expect(copyInto(drive, 'x.jpg', big, { signal: stop.signal, onBytes: () => stop.abort() })).rejects.toThrow();
    expect(await readIfThere(drive, 'x.jpg')).toBeNull();
    expect(await partsOn(drive)).toEqual([]);
  });
});

describe('a full drive', () => {
  it('keeps the old file and no half of the new one', async () => {
    const drive = new MemoryDrive();
    drive.put('x.xmp', 'old');
    drive.capacityBytes = 8;
    expect(await replaceFile(drive, 'x.xmp', bytes('much longer'), bytes('old')).catch(problem)).toBe('full');
    expect([...drive.files.keys()]).toEqual(['x.xmp']);
    expect(drive.text('x.xmp')).toBe('old');
  });
});

describe('a folder given as a list of files', () => {
  it('is listed and read as any drive, and refuses to be written', async () => {
    const file = (relative: string) =>
      Object.defineProperty(new File(['x'], relative.split('/').at(-1) ?? ''), 'webkitRelativePath', {
        value: relative,
      });
    const drive = new ListedDrive([file('Root/a/x.jpg'), file('Root/_wembo/drive.json'), file('Root/._x.jpg')]);
    expect(drive.name).toBe('Root');
    expect(await paths(drive)).toEqual(['a/x.jpg']);
    expect(await text(drive, '_wembo/drive.json')).toBe('x');
    expect(await replaceFile(drive, 'a/x.xmp', bytes('x'), null).catch(problem)).toBe('no-permission');
    for (const refused of [drive.move('a/x.jpg'), drive.makeFolder('b'), drive.remove('a/x.jpg')])
      expect(await refused.catch(problem)).toBe('no-permission');
    const single = (name: string) => Object.defineProperty(new File(['x'], name), 'webkitRelativePath', { value: '' });
    const dropped = new ListedDrive([single('one.jpg'), single('two.jpg')], '2 dropped files');
    expect([dropped.name, await paths(dropped)]).toEqual(['2 dropped files', ['one.jpg', 'two.jpg']]);
  });
});

describe('a drive that is known by its mark', () => {
  const other = MARK.replace('drive-0001', 'drive-0002');

  it.each([
    ['another mark', other],
    ['none', null],
    ['one that cannot be read', '{ half'],
  ])('with %s by now nothing on it gets, loses or changes a name', async (_, mark) => {
    const inner = new MemoryDrive();
    inner.put('_wembo/drive.json', MARK);
    inner.put('x.xmp', 'old');
    const drive = new MarkedDrive(inner, 'drive-0001');
    await drive.confirm();
    if (mark) inner.put('_wembo/drive.json', mark);
    else inner.files.delete('_wembo/drive.json');
    const before = new Map(inner.files);
    expect(await replaceFile(drive, 'x.xmp', bytes('new'), bytes('old')).catch(problem)).toBe('other-drive');
    expect(await copyInto(drive, 'y.jpg', new Blob(['y']))).toMatchObject({ state: 'failed', problem: 'other-drive' });
    expect(await drive.confirm().catch(problem)).toBe('other-drive');
    expect(inner.files).toEqual(before);
  });
});
