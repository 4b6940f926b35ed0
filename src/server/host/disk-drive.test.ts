import fs from 'node:fs';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { sha256Hex } from '@/storage/drives/sha256';
import { bytesOf } from '@/storage/drives/safe-write';
import { ConfinedFolder } from './confined';
import { DiskDrive } from './disk-drive';

let root: string;
let drive: DiskDrive;
const put = (name: string, bytes: Uint8Array | string) => fs.writeFileSync(path.join(root, name), bytes);

beforeEach(() => {
  // under the project, since what lies in memory is not read past the cache
  fs.mkdirSync('.work', { recursive: true });
  root = fs.realpathSync(fs.mkdtempSync(path.join('.work', 'disk-')));
  drive = new DiskDrive(root, (act) => act());
  return () => fs.rmSync(root, { recursive: true, force: true });
});

const noise = (length: number) => Uint8Array.from({ length }, (_, at) => (at * 2654435761) >>> 13);

describe('a file on the disk', () => {
  it.each([0, 1, 4095, 4096, 4097, 4 * 1024 * 1024 + 5])(
    'of %i bytes reads the same past the cache',
    async (length) => {
      const bytes = noise(length);
      const part = await drive.createPart('x.jpg', pieces(bytes));
      const read = await bytesOf(await part.open());
      expect(await sha256Hex(read)).toBe(await sha256Hex(bytes));
      const middle = (await part.open()).slice(1, -1);
      expect(await bytesOf(middle)).toEqual(bytes.slice(1, -1));
    },
  );

  it('is read past the cache where the file system does that', () => {
    put('x.wembo-part-0a1b2c3d.jpg', 'x');
    const { fd, isDirect } = new ConfinedFolder(root).openFile('x.wembo-part-0a1b2c3d.jpg', true);
    fs.closeSync(fd);
    expect(isDirect).toBe(process.platform === 'linux');
  });

  it('that is another by now is not read', async () => {
    put('x.jpg', 'one');
    const opened = await drive.open('x.jpg');
    put('x.jpg', 'two');
    fs.utimesSync(path.join(root, 'x.jpg'), 1, 1);
    await expect(bytesOf(opened)).rejects.toMatchObject({ problem: 'changed-meanwhile' });
    fs.truncateSync(path.join(root, 'x.jpg'), 1);
    await expect(bytesOf(opened)).rejects.toMatchObject({ problem: 'changed-meanwhile' });
  });

  it('is copied with its time, to the microsecond, and with what may be done with it', async () => {
    put('x.jpg', 'one');
    fs.chmodSync(path.join(root, 'x.jpg'), 0o640);
    fs.utimesSync(path.join(root, 'x.jpg'), 1562245680.123456, 1562245680.123456);
    const opened = await drive.open('x.jpg');
    const part = await drive.createPart('y.jpg', pieces(await bytesOf(opened)), opened);
    await part.finish('y.jpg', 'free');
    const stat = (name: string) => fs.statSync(path.join(root, name), { bigint: true });
    expect(stat('y.jpg').mtimeNs / 1000n).toBe(stat('x.jpg').mtimeNs / 1000n);
    expect(stat('y.jpg').mode).toBe(stat('x.jpg').mode);
  });

  it('whose name is taken by a folder gets none', async () => {
    fs.mkdirSync(path.join(root, 'x.jpg'));
    const part = await drive.createPart('x.jpg', pieces(noise(4)));
    await expect(part.finish('x.jpg', 'free')).rejects.toMatchObject({ problem: 'exists' });
    await expect(part.finish('x.jpg', 'old')).rejects.toMatchObject({ problem: 'exists' });
    expect(fs.statSync(path.join(root, 'x.jpg')).isDirectory()).toBe(true);
  });

  it('in a folder that may not be read is told, and the rest is listed', async () => {
    if (process.getuid?.() === 0) return; // who may read everything cannot be kept out
    fs.mkdirSync(path.join(root, 'closed'), { mode: 0 });
    put('x.jpg', 'x');
    const unlisted: string[] = [];
    const found: string[] = [];
    for await (const { path: file } of drive.list({ onUnlisted: (file) => unlisted.push(file) })) found.push(file);
    expect([found, unlisted]).toEqual([['x.jpg'], ['closed/']]);
  });
});

async function* pieces(bytes: Uint8Array<ArrayBuffer>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  if (bytes.length > 0) yield bytes;
}
