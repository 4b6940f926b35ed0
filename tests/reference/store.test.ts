// What lies in a store, held against clients and programs that are not ours: an S3 client of another make lists it,
// reads it back and writes into it; the age tool opens what we sealed, and we what it sealed; a shell follows the page
// for strangers.

import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Client } from 'minio';
import { describe, expect, it } from 'vitest';
import { openKey, openSize, sealKey, sealedSize } from '@/server/store/sealing';
import { PART_BYTES } from '@/server/store/store';
import { type Drive, DriveError } from '@/storage/drives/drive';
import { bytesOf, once } from '@/storage/drives/safe-write';
import { HostDrive } from '@/storage/host/host-drive';
import { newFolder, testHost } from '../contract/host';
import { STORE_KEYS, type TestStore, storeDrive, testStore } from '../contract/store';

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const noise = (length: number): Uint8Array<ArrayBuffer> =>
  new Uint8Array(Buffer.alloc(length, createHash('sha512').update(String(length)).digest()));
const put = async (drive: Drive, name: string, bytes: Uint8Array<ArrayBuffer>) =>
  (await drive.createPart(name, once(bytes))).finish(name, 'free');
const problem = (error: unknown) => (error instanceof DriveError ? error.problem : String(error));

function otherClient({ place }: TestStore): Client {
  const { hostname, port } = new URL(place.endpoint);
  return new Client({
    endPoint: hostname,
    port: Number(port),
    useSSL: false,
    accessKey: place.accessKeyId,
    secretKey: place.secretAccessKey,
    region: place.region,
  });
}

async function listed(client: Client): Promise<Map<string, number>> {
  const found = new Map<string, number>();
  for await (const object of client.listObjectsV2(STORE_KEYS.bucket, '', true) as AsyncIterable<{
    name?: string;
    size: number;
  }>)
    found.set(object.name ?? '', object.size);
  return found;
}

async function readBy(client: Client, key: string): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of await client.getObject(STORE_KEYS.bucket, key)) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

/** Everything in the store, as files of a folder: what any client's copy command does. */
async function fetched(client: Client): Promise<string> {
  const folder = newFolder();
  for (const key of (await listed(client)).keys()) {
    const file = path.join(folder, key);
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(file, await readBy(client, key));
  }
  return folder;
}

const SIZES = [0, 1, 65_535, 65_536, 65_537, 131_072, 200_001];

describe('another S3 client', () => {
  it('lists and reads back what we stored, long files in parts too, and what it stores we read', async () => {
    const store = await testStore();
    const [drive, client] = [storeDrive(store), otherClient(store)];
    const files = new Map([
      ['2019/Gjógv ð/áarbát (1).jpg', noise(5000)],
      ['2019/Gjógv ð/áarbát (1).xmp', noise(0)],
      ['videos/long +&=.mp4', noise(2 * PART_BYTES + 5)],
    ]);
    for (const [name, bytes] of files) await put(drive, name, bytes);
    expect(await listed(client)).toEqual(new Map([...files].map(([name, bytes]) => [`photos/${name}`, bytes.length])));
    for (const [name, bytes] of files) expect(sha256(await readBy(client, `photos/${name}`))).toBe(sha256(bytes));
    // 40 MiB: it sends parts of its own
    const theirs = Buffer.from(noise(40 * 1024 * 1024 + 1));
    await client.putObject(STORE_KEYS.bucket, 'photos/theirs/x.tif', theirs);
    const file = await drive.open('theirs/x.tif');
    expect([file.size, sha256(await bytesOf(file))]).toEqual([theirs.length, sha256(theirs)]);
    await drive.move('theirs/x.tif', 'ours/x.tif');
    expect(sha256(await readBy(client, 'photos/ours/x.tif'))).toBe(sha256(theirs));
  });
});

describe('the age tool', () => {
  const keygen = spawnSync('age-keygen', [], { encoding: 'utf8' });
  const identity = /AGE-SECRET-KEY-1[0-9A-Z]+/.exec(keygen.stdout)?.[0] ?? '';
  const recipient = /age1[0-9a-z]+/.exec(keygen.stdout)?.[0] ?? '';

  it.each(SIZES)('opens what we sealed, and we what it sealed: %i bytes', async (size) => {
    const [bytes, folder] = [noise(size), newFolder()];
    const store = await testStore({ identity });
    const drive = storeDrive(store);
    await put(drive, 'x.jpg', bytes);
    const ours = store.standIn.bytesOf('photos/x.jpg.age');
    expect([ours.length, openSize(ours.length)]).toEqual([sealedSize(size), size]);
    writeFileSync(path.join(folder, 'key.txt'), `${identity}\n`);
    writeFileSync(path.join(folder, 'x.age'), ours);
    const opened = spawnSync('age', ['-d', '-i', 'key.txt', 'x.age'], { cwd: folder, maxBuffer: 2 ** 24 });
    expect([opened.stderr.toString(), sha256(opened.stdout)]).toEqual(['', sha256(bytes)]);

    const sealed = spawnSync('age', ['-r', recipient], { input: bytes, maxBuffer: 2 ** 24 }).stdout;
    store.standIn.put('photos/theirs.jpg.age', sealed);
    const file = await drive.open('theirs.jpg');
    expect([file.size, sha256(await bytesOf(file))]).toEqual([size, sha256(bytes)]);
    for (const [start, end] of [
      [0, Math.min(10, size)],
      [Math.max(0, size - 3), size],
      [Math.min(65_530, size), Math.min(65_545, size)],
    ] as const)
      expect(await bytesOf(file.slice(start, end))).toEqual(bytes.slice(start, end));
  });

  it('seals for another key: we do not open it', async () => {
    const other = /age1[0-9a-z]+/.exec(spawnSync('age-keygen', [], { encoding: 'utf8' }).stdout)?.[0] ?? '';
    const store = await testStore({ identity });
    store.standIn.put('photos/x.jpg.age', spawnSync('age', ['-r', other], { input: noise(100) }).stdout);
    const file = await storeDrive(store).open('x.jpg');
    expect(await bytesOf(file).catch(problem)).toBe('sealed');
  });

  it('opens our key by its passphrase, which it asks for on a terminal', async () => {
    const folder = newFolder();
    writeFileSync(path.join(folder, 'wembo-key.age'), await sealKey(identity, 'twelve herrings swim', 12));
    // script (util-linux) gives it a terminal
    const { stdout } = spawnSync('script', ['-qec', 'age -d -o key.txt wembo-key.age', '/dev/null'], {
      cwd: folder,
      input: 'twelve herrings swim\n',
      encoding: 'utf8',
    });
    expect(readFileSync(path.join(folder, 'key.txt'), 'utf8'), stdout).toBe(`${identity}\n`);
    expect(await openKey(await sealKey(identity, 'another passphrase', 12), 'twelve herrings').catch(problem)).toBe(
      'sealed',
    );
  });
});

describe('a stranger with the bucket and the sheet', () => {
  it.each([false, true])('gets everything back by the lines of the page; names sealed: %s', async (sealsNames) => {
    const store = await testStore({ prefix: '' });
    const { identity: _, sealsNames: _names, ...address } = store.place;
    const host = testHost();
    const { served, identity } = await host.client.ask('serveStore', {
      store: address,
      sealing: { how: 'new', passphrase: null, sealsNames },
    });
    const drive = new HostDrive(host.client, served.id, 'drive');
    const files = new Map(['2004/Nólsoy/x.jpg', '2004/Nólsoy/x.xmp', 'y z.jpg'].map((name) => [name, noise(90_000)]));
    for (const [name, bytes] of files) await put(drive, name, bytes);
    await put(drive, 'moved.jpg', noise(10));
    await drive.move('moved.jpg', '2005/moved.jpg');
    await put(drive, 'gone.jpg', noise(10));
    await drive.remove('gone.jpg');
    files.set('2005/moved.jpg', noise(10));
    const manifest = [...files].map(([name, bytes]) => `${sha256(bytes)}  ${name}\n`).join('');
    await put(drive, '_wembo/manifest-sha256.txt', new TextEncoder().encode(manifest));

    const client = otherClient(store);
    const keys = [...(await listed(client)).keys()].join('\n');
    expect(keys.includes('2004')).toBe(!sealsNames);
    expect(keys.includes('gone')).toBe(false);
    const folder = await fetched(client);
    const page = readFileSync(path.join(folder, 'READ-ME.txt'), 'utf8');
    const shown = /find \. [^]*?done.*/.exec(page)?.[0] ?? '';
    expect(shown).toContain('age -d -i key.txt');
    writeFileSync(path.join(folder, 'key.txt'), `${identity}\n`);
    const shell = spawnSync(
      'sh',
      ['-ec', `${shown}\nsha256sum -c --strict _wembo/manifest-sha256.txt\nfind . -type f`],
      {
        cwd: folder,
        encoding: 'utf8',
      },
    );
    expect([shell.stderr, shell.status]).toEqual(['', 0]);
    expect(shell.stdout.match(/: OK/g)).toHaveLength(4);
    expect(shell.stdout).not.toContain('gone');
  });
});
