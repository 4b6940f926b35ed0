// One reading, several copies: over drives in memory that fail on demand. `sha256` values by Node's own digest.

import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { MemoryDrive } from '../drives/memory-drive';
import { type Target, copyVerified } from './verified-copy';
import { newSha256 } from '../drives/sha256';

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const content = (length: number, seed = 1) => Uint8Array.from({ length }, (_, at) => (at * 31 + seed) & 0xff);

/** A file that counts how many of its bytes are read, may say another length, and may fail from some byte on. */
class WatchedFile extends File {
  readBytes = 0;
  failsFrom = Infinity;

  constructor(
    private readonly all: Uint8Array<ArrayBuffer>,
    private readonly says = all.length,
  ) {
    super([all], 'x.mov');
  }

  override get size(): number {
    return this.says;
  }

  override slice(from = 0, to = this.says): Blob {
    return Object.assign(new Blob([]), { arrayBuffer: () => this.take(from, to) });
  }

  override arrayBuffer = () => this.take(0, this.says);

  private async take(from: number, to: number): Promise<ArrayBuffer> {
    if (to > this.failsFrom) throw new DOMException('gone', 'NotFoundError');
    const part = this.all.slice(from, to);
    this.readBytes += part.length;
    return part.buffer;
  }
}

const targets = (...drives: MemoryDrive[]): Target[] => drives.map((drive) => ({ drive, path: 'in/x.mov' }));

describe.each([
  ['in memory', 50_000, Infinity],
  ['in chunks, as a long video is', 9_000_000, 1000],
])('a file read %s', (_, length, heldBytes) => {
  const file = () => new WatchedFile(content(length));
  const place = (watched: WatchedFile, to: Target[], signal?: AbortSignal) =>
    copyVerified(watched, 'x.mov', to, { newDigest: newSha256, onBytes: () => undefined, signal, heldBytes });

  it('goes to all drives from one reading, each copy read back', async () => {
    const [one, two, three] = [new MemoryDrive(), new MemoryDrive(), new MemoryDrive()];
    const watched = file();
    const { digests, placed } = await place(watched, targets(one, two, three));
    expect(digests?.file).toBe(sha256(content(length)));
    expect(placed).toEqual(
      [one, two, three].map((drive) => ({
        state: 'placed',
        path: 'in/x.mov',
        outcome: 'copied',
        modifiedMs: drive.files.get('in/x.mov')?.modifiedMs,
      })),
    );
    for (const drive of [one, two, three])
      expect(sha256(drive.files.get('in/x.mov')?.bytes ?? new Uint8Array())).toBe(sha256(content(length)));
    expect(watched.readBytes).toBe(length);
  });

  it('one drive that is full does not keep the other from its copy, and is left without a part', async () => {
    const [full, other] = [new MemoryDrive(), new MemoryDrive()];
    full.capacityBytes = length / 2;
    const { placed } = await place(file(), targets(full, other));
    expect(placed).toEqual([{ state: 'failed', problem: 'full' }, expect.objectContaining({ state: 'placed' })]);
    expect([...full.files.keys()]).toEqual([]);
    expect(other.files.get('in/x.mov')?.bytes.length).toBe(length);
  });

  it('a copy that reads back otherwise is taken away and said to be so', async () => {
    const [bad, good] = [new MemoryDrive(), new MemoryDrive()];
    const createPart = bad.createPart.bind(bad);
    bad.createPart = async (path, pieces) => {
      const part = await createPart(path, pieces);
      const written = bad.files.get(part.path);
      if (written) written.bytes[100] = (written.bytes[100] ?? 0) ^ 1;
      return part;
    };
    const { placed } = await place(file(), targets(bad, good));
    expect(placed).toEqual([
      { state: 'failed', problem: 'read-back-differs' },
      expect.objectContaining({ state: 'placed' }),
    ]);
    expect([...bad.files.keys()]).toEqual([]);
  });

  it('the same file is there already; another of that name stays, and the copy goes beside it', async () => {
    const [same, other] = [new MemoryDrive(), new MemoryDrive()];
    same.put('in/x.mov', content(length));
    other.put('in/x.mov', content(length, 2));
    const { placed } = await place(file(), targets(same, other));
    // in chunks it is read once more, since its digest must be known before anything is written
    expect(placed).toMatchObject([
      { path: 'in/x.mov', outcome: 'already-there' },
      { path: 'in/x-2.mov', outcome: 'copied' },
    ]);
    expect(sha256(other.files.get('in/x.mov')?.bytes ?? new Uint8Array())).toBe(sha256(content(length, 2)));
  });

  it('a source that fails in the middle leaves nothing on any drive', async () => {
    const [one, two] = [new MemoryDrive(), new MemoryDrive()];
    const watched = file();
    watched.failsFrom = length / 2;
    await expect(place(watched, targets(one, two))).rejects.toThrow('gone');
    expect([...one.files.keys(), ...two.files.keys()]).toEqual([]);
  });

  it('cancelled, it leaves nothing', async () => {
    const [one, stop] = [new MemoryDrive(), new AbortController()];
    const watched = file();
    stop.abort();
    await expect(place(watched, targets(one), stop.signal)).rejects.toThrow();
    expect([...one.files.keys()]).toEqual([]);
  });
});

describe('a file that lies about its length', () => {
  it('is not copied: it ends before it says', async () => {
    const drive = new MemoryDrive();
    await expect(
      copyVerified(new WatchedFile(content(1000), 2000), 'x.jpg', targets(drive), {
        newDigest: newSha256,
        onBytes: () => undefined,
      }),
    ).rejects.toThrow('ends at 1000 of 2000 bytes');
    expect([...drive.files.keys()]).toEqual([]);
  });
});

describe('names on a drive that takes no notice of case', () => {
  const tools = { newDigest: newSha256, onBytes: () => undefined };

  it('two copies that race for names that differ only by case get one each, and both are there', async () => {
    const drive = new MemoryDrive('caseless');
    const placed = await Promise.all(
      ['a/X.jpg', 'a/x.jpg', 'A/x.JPG'].map((path, index) =>
        copyVerified(new File([content(5000, index)], 'x.jpg'), 'x.jpg', [{ drive, path }], tools),
      ),
    );
    const paths = placed.map(({ placed: [one] }) => (one?.state === 'placed' ? one.path : 'not placed'));
    expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(3);
    for (const [index, path] of paths.entries())
      expect(sha256(new Uint8Array(await (await drive.open(path)).arrayBuffer()))).toBe(sha256(content(5000, index)));
  });

  it('a source that is not its measure is not copied, short or long', async () => {
    for (const heldBytes of [Infinity, 1000]) {
      const drive = new MemoryDrive();
      const { placed } = await copyVerified(new File([content(9000)], 'x.jpg'), 'x.jpg', [{ drive, path: 'x.jpg' }], {
        ...tools,
        heldBytes,
        expected: 'f'.repeat(64),
      });
      expect(placed).toEqual([{ state: 'failed', problem: 'source-damaged' }]);
      expect([...drive.files.keys()]).toEqual([]);
    }
  });
});
