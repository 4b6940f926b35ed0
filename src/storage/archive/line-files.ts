// Files of the archive folder that hold a line for each file of the drive, sorted by path: read in slices, merged with
// what the catalog knows line by line, and written as they are merged, so that a million lines neither hold up the page
// nor lie in memory together.

import type { RunningDigest } from '@/core/bytes/digest';
import { digestWhole } from '@/core/bytes/digest';
import { type Drive, DriveError, type LazyBytes } from '../drives/drive';
import { blobSource, openIfThere, withPart } from '../drives/safe-write';
import { newSha256 } from '../drives/sha256';

/** Read at once; parsing so much takes a few milliseconds. */
const SLICE_BYTES = 512 * 1024;
/** A longer line is none of ours. */
const LINE_LIMIT = 64 * 1024;

/** Lets the page have its turn: reading a file from memory alone would never leave it one. */
const turn = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

export interface Line {
  path: string;
}

export type ParseLine<T> = (text: string) => T | null;

/** The lines of a file, as many at a time as stand in a slice; what is not understood is left out. */
export async function* batchesOf<T>(file: LazyBytes, parse: ParseLine<T>): AsyncGenerator<T[]> {
  const decoder = new TextDecoder();
  let rest = '';
  for (let at = 0; at < file.size; at += SLICE_BYTES) {
    const text = rest + decoder.decode(await file.slice(at, at + SLICE_BYTES).arrayBuffer(), { stream: true });
    const lines = text.split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > LINE_LIMIT) rest = '';
    yield lines.flatMap((line) => (line === '' ? [] : (parse(line) ?? [])));
    await turn();
  }
  const last = rest + decoder.decode();
  yield last === '' ? [] : [parse(last)].flatMap((line) => line ?? []);
}

/** The same in the order of their paths, each path once; sorted in memory only where the file is not. */
async function* sortedBatches<T extends Line>(file: LazyBytes, parse: ParseLine<T>): AsyncGenerator<T[]> {
  if (await isSorted(file, parse)) return yield* batchesOf(file, parse);
  const byPath = new Map<string, T>();
  for await (const batch of batchesOf(file, parse))
    for (const line of batch) if (!byPath.has(line.path)) byPath.set(line.path, line);
  yield [...byPath.values()].sort((a, b) => (a.path < b.path ? -1 : 1));
}

async function isSorted<T extends Line>(file: LazyBytes, parse: ParseLine<T>): Promise<boolean> {
  let last: string | null = null;
  for await (const batch of batchesOf(file, parse)) {
    for (const { path } of batch) {
      if (last !== null && path <= last) return false;
      last = path;
    }
  }
  return true;
}

/** Looks one line ahead in a stream of batches. */
class Ahead<T extends Line> {
  private batch: T[] = [];
  private at = 0;

  constructor(private readonly batches: AsyncIterator<T[]>) {}

  /** `undefined` where the batch is used up, or at the end. */
  get here(): T | undefined {
    return this.batch[this.at];
  }

  /** The next line, from the next batch where that is needed. */
  async next(): Promise<T | undefined> {
    while (this.at >= this.batch.length) {
      const { done, value } = await this.batches.next();
      if (done) return undefined;
      this.batch = value;
      this.at = 0;
    }
    return this.here;
  }

  step(): void {
    this.at += 1;
  }
}

export interface LineFile<T extends Line> {
  path: string;
  /** A first line that is none of the files'. */
  head: string;
  parse: ParseLine<T>;
  write: (line: T) => string;
}

export interface OwnLines<T extends Line> {
  /** What the catalog knows, in the order of paths. */
  known: AsyncIterable<T[]>;
  /** What holds of a path both know; `onDrive` where the catalog cannot say better. */
  choose: (known: T, onDrive: T) => T;
  /** Whether a line the catalog does not know is to go: its file was moved or removed by an act of ours. */
  isRetired: (path: string) => boolean;
  /**
   * Whether all that was merged still holds: no file moved or went meanwhile. Asked when the file is about to take its
   * place.
   */
  stillHolds: () => Promise<boolean>;
  /** Whether a line that only the catalog knows is complete enough to be written. */
  isWritten: (line: T) => boolean;
}

/**
 * Brings a file of lines up to date: what the catalog knows, and every line it does not know.
 * Rejects with `changed-meanwhile` where another program wrote the file at the same time, or files moved while it was
 * merged; it then stands as it was.
 */
export async function mergeIntoFile<T extends Line>(
  drive: Drive,
  { path, head, parse, write }: LineFile<T>,
  own: OwnLines<T>,
): Promise<void> {
  const before = await openIfThere(drive, path);
  const written = await newSha256();
  let lines = 0;
  const pieces = merged(
    before ? sortedBatches(before, parse) : nothing<T>(),
    own,
    head,
    write,
    written,
    (count) => (lines += count),
  );
  const part = await drive.createPart(path, pieces);
  await withPart(part, async () => {
    const digest = written.hex();
    const readBack = await part.open();
    if ((await digestWhole(blobSource(readBack), await newSha256(), () => undefined)) !== digest)
      throw new DriveError('read-back-differs', path);
    const isNew =
      before === null
        ? lines > 0
        : before.size !== readBack.size ||
          (await digestWhole(blobSource(before), await newSha256(), () => undefined)) !== digest;
    if (!isNew) return part.remove();
    await drive.alone(async () => {
      const now = await openIfThere(drive, path);
      if (now?.size !== before?.size || now?.lastModified !== before?.lastModified || !(await own.stillHolds()))
        throw new DriveError('changed-meanwhile', path);
      await part.finish(path, before === null ? 'free' : 'old');
    });
  });
}

async function* nothing<T>(): AsyncGenerator<T[]> {
  // no file, no lines
}

/** Lines put together before they are handed on. */
const LINES_A_PIECE = 2000;

async function* merged<T extends Line>(
  onDrive: AsyncGenerator<T[]>,
  { known, choose, isRetired, isWritten }: OwnLines<T>,
  head: string,
  write: (line: T) => string,
  digest: RunningDigest,
  onLines: (count: number) => void,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const [theirs, ours] = [new Ahead(onDrive), new Ahead(known[Symbol.asyncIterator]())];
  const encoder = new TextEncoder();
  let texts: string[] = head === '' ? [] : [head];
  const piece = (): Uint8Array<ArrayBuffer> => {
    const bytes = encoder.encode(texts.join(''));
    digest.update(bytes);
    texts = [];
    return bytes;
  };
  for (;;) {
    // no turn of the event loop is spent on a line that is at hand
    const their = theirs.here ?? (await theirs.next());
    const our = ours.here ?? (await ours.next());
    if (!their && !our) break;
    const line =
      our && (!their || our.path < their.path)
        ? isWritten(our)
          ? our
          : null
        : their && (!our || their.path < our.path)
          ? isRetired(their.path)
            ? null
            : their
          : their && our
            ? choose(our, their)
            : null;
    if (our && (!their || our.path <= their.path)) ours.step();
    if (their && (!our || their.path <= our.path)) theirs.step();
    if (line) {
      texts.push(write(line));
      onLines(1);
    }
    if (texts.length >= LINES_A_PIECE) yield piece();
  }
  yield piece();
}
