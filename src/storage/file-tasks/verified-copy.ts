// The verified copy: copies of one file on one or several drives from one reading of it. Every byte is read once,
// digested on the way, written to all, and each copy is read back in full and its SHA-256 held against that of the
// reading.
//
//   up to `heldBytes`      read into memory; then it is known whether a file of that name has the same content already
//   longer                read in chunks that go to all drives in step; read once more only where a file of that name
// and
//                         length is there, to tell whether it is the same
//
// One drive that fails does not keep the others from getting their copy. A copy gets its name only where nothing has
// it, while nobody else gives names on that drive; where something of another content has it, the copy is called
// `NAME-2.EXT`.

import { type ByteSource, memorySource } from '@/core/bytes/source';
import { type FileDigests, digestBoth, digestBothOf, digestImage } from '@/core/metadata/picture-digest/image-digest';
import { DIGEST_CHUNK_BYTES, type RunningDigest, digestWhole } from '@/core/bytes/digest';
import { nthPath } from '@/core/names/file-names';
import { type Drive, DriveError, type OpenedFile, type DriveProblem, type LazyBytes } from '../drives/drive';
import { blobSource, bytesOf, once, openIfThere, withPart } from '../drives/safe-write';
import { sha256, sha256Hex } from '../drives/sha256';

/** Larger than nearly any still picture; six of them in work are what a browser bears. */
const HELD_BYTES = 100 * 1024 * 1024;

export interface Target {
  drive: Drive;
  path: string;
}

export type PlacedCopy =
  | { state: 'placed'; path: string; modifiedMs: number; outcome: 'copied' | 'already-there' }
  | { state: 'failed'; problem: DriveProblem };

/** One copy on one drive. */
export interface CopyResult extends Extract<PlacedCopy, { state: 'placed' }> {
  /** Of all bytes, as they were read, written and read back. */
  sha256: string;
  imageSha256: string | null;
}

export interface CopyTools {
  newDigest: () => Promise<RunningDigest>;
  /** Hears every byte read, and every byte written and read back. */
  onBytes: (bytes: number) => void;
  signal?: AbortSignal | undefined;
  /**
   * The measure of the file. One that reads otherwise is damaged, and its damage is not copied: every target fails with
   * `source-damaged`.
   */
  expected?: string | null;
  /** Files up to this length are held in memory; by default what a browser's page bears. */
  heldBytes?: number;
}

export interface VerifiedCopies {
  /** `null` only where a long file could be placed nowhere. */
  digests: FileDigests | null;
  /** In the order of the targets. */
  placed: PlacedCopy[];
  /** The file as it was read, for reading its metadata; of a long one its first copy. */
  source: ByteSource;
  blob: LazyBytes;
}

/**
 * Rejects only when the file itself cannot be read to its end, or on cancelling; nothing is then left of it anywhere.
 */
export async function copyVerified(
  file: LazyBytes,
  name: string,
  targets: readonly Target[],
  tools: CopyTools,
): Promise<VerifiedCopies> {
  const [bytes, whole] =
    file.size <= (tools.heldBytes ?? HELD_BYTES) ? await held(file, tools) : [null, blobSource(file)];
  const digests = bytes
    ? await digestBothOf(bytes, name, sha256, tools.newDigest)
    : (await anyOfSameSize(file, targets))
      ? await digestBoth(whole, name, tools.newDigest, () => tools.signal?.throwIfAborted())
      : null;
  if (digests && isOther(digests.file, tools))
    return {
      digests,
      placed: targets.map(() => ({ state: 'failed', problem: 'source-damaged' })),
      source: whole,
      blob: file,
    };
  const there = await Promise.all(
    targets.map(({ drive, path }) =>
      alreadyThere(drive, path, file.size, digests?.file ?? null, tools).catch((error: unknown) =>
        failed(error, tools),
      ),
    ),
  );
  const stream = bytes ? null : new Stream(file, tools);
  const readers = there.map((known) => (known ? null : (stream?.reader() ?? null)));
  const write = async ({ drive, path }: Target, index: number): Promise<PlacedCopy> => {
    const known = there[index];
    if (known) return known;
    const reader = readers[index];
    const placed = await writeCopy(
      drive,
      path,
      reader?.pieces ?? once(bytes ?? new Uint8Array()),
      file,
      () => digests?.file ?? stream?.sha256 ?? '',
      tools,
    );
    reader?.leave();
    return placed;
  };
  const placed = await Promise.all(targets.map(write));
  tools.signal?.throwIfAborted();
  if (stream?.failure) throw stream.failure;
  if (bytes && digests) return { digests, placed, source: whole, blob: new Blob([bytes]) };
  const copy = (await firstPlaced(targets, placed)) ?? file;
  const source = blobSource(copy);
  const read =
    digests ??
    (stream?.sha256 ? { file: stream.sha256, image: await digestImage(source, name, tools.newDigest) } : null);
  return { digests: read, placed, source, blob: copy };
}

async function firstPlaced(targets: readonly Target[], placed: readonly PlacedCopy[]): Promise<OpenedFile | undefined> {
  const index = placed.findIndex(({ state }) => state === 'placed');
  const first = placed[index];
  return first?.state === 'placed' ? targets[index]?.drive.open(first.path) : undefined;
}

/** The whole file in memory. A file that is shorter than it says is not one that can be copied. */
async function held(file: LazyBytes, { onBytes }: CopyTools): Promise<[Uint8Array<ArrayBuffer>, ByteSource]> {
  const bytes = await bytesOf(file);
  if (bytes.length !== file.size) throw new Error(`ends at ${bytes.length} of ${file.size} bytes`);
  onBytes(bytes.length);
  return [bytes, memorySource(bytes)];
}

async function anyOfSameSize(file: LazyBytes, targets: readonly Target[]): Promise<boolean> {
  const sizes = await Promise.all(
    targets.map(({ drive, path }) =>
      openIfThere(drive, path).then(
        (there) => there?.size,
        () => undefined,
      ),
    ),
  );
  return sizes.includes(file.size);
}

/** Numbers tried behind a name before it is given up. */
const NUMBERS = 10_000;

/** The same file, under its name or a numbered one. */
async function alreadyThere(
  drive: Drive,
  wanted: string,
  sizeBytes: number,
  sha256: string | null,
  tools: CopyTools,
): Promise<PlacedCopy | null> {
  if (sha256 === null) return null;
  for (let number = 1; number < NUMBERS; number++) {
    const path = nthPath(wanted, number);
    const there = await openIfThere(drive, path);
    if (!there) return null;
    if (there.size !== sizeBytes || (await digestOf(there, tools)) !== sha256) continue;
    tools.onBytes(sizeBytes);
    return { state: 'placed', path, modifiedMs: there.lastModified, outcome: 'already-there' };
  }
  return null;
}

const isOther = (sha256: string, { expected = null }: CopyTools): boolean => expected !== null && sha256 !== expected;

async function writeCopy(
  drive: Drive,
  wanted: string,
  pieces: AsyncIterable<Uint8Array<ArrayBuffer>>,
  like: LazyBytes,
  sha256: () => string,
  tools: CopyTools,
): Promise<PlacedCopy> {
  try {
    const part = await drive.createPart(wanted, counted(pieces, tools), like);
    return await withPart(part, async () => {
      if (isOther(sha256(), tools)) throw new DriveError('source-damaged', wanted);
      if ((await digestOf(await part.open(), tools)) !== sha256()) throw new DriveError('read-back-differs', wanted);
      return drive.alone(async () => {
        const known = await alreadyThere(drive, wanted, like.size, sha256(), { ...tools, onBytes: () => undefined });
        if (known) {
          await part.remove();
          return known;
        }
        const path = await firstFree(drive, wanted);
        await part.finish(path, 'free');
        return { state: 'placed', path, modifiedMs: (await drive.open(path)).lastModified, outcome: 'copied' };
      });
    });
  } catch (error) {
    return failed(error, tools);
  }
}

async function firstFree(drive: Drive, wanted: string): Promise<string> {
  for (let number = 1; number < NUMBERS; number++)
    if (!(await openIfThere(drive, nthPath(wanted, number)))) return nthPath(wanted, number);
  throw new DriveError('exists', wanted);
}

function failed(error: unknown, { signal }: CopyTools): PlacedCopy & { state: 'failed' } {
  signal?.throwIfAborted();
  return { state: 'failed', problem: error instanceof DriveError ? error.problem : 'failed' };
}

async function* counted(
  pieces: AsyncIterable<Uint8Array<ArrayBuffer>>,
  { signal, onBytes }: CopyTools,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  for await (const piece of pieces) {
    signal?.throwIfAborted();
    yield piece;
    onBytes(piece.length / 2); // the other half when it is read back
  }
}

/** SHA-256 of what was written; by the platform where it fits into memory, which is twice as quick (measured). */
async function digestOf(
  blob: LazyBytes,
  { newDigest, signal, onBytes, heldBytes = HELD_BYTES }: CopyTools,
): Promise<string> {
  if (blob.size > heldBytes) {
    return digestWhole(blobSource(blob), await newDigest(), (bytes) => {
      signal?.throwIfAborted();
      onBytes(bytes / 2);
    });
  }
  const digest = await sha256Hex(await bytesOf(blob));
  onBytes(blob.size / 2);
  return digest;
}

interface Reader {
  pieces: AsyncIterable<Uint8Array<ArrayBuffer>>;
  /** It wants no more, or never began; the others go on without it. */
  leave(): void;
}

type Chunk = IteratorResult<Uint8Array<ArrayBuffer>, void>;

/**
 * The chunks of a long file, given to several readers in step: each chunk is read once, when all have taken the one
 * before.
 */
class Stream {
  sha256: string | null = null;
  failure: unknown = null;
  private readonly waiting: PromiseWithResolvers<Chunk>[] = [];
  private readers = 0;
  private at = 0;
  private reading = false;
  private readonly digest: Promise<RunningDigest>;

  constructor(
    private readonly file: LazyBytes,
    private readonly tools: CopyTools,
  ) {
    this.digest = tools.newDigest();
  }

  reader(): Reader {
    this.readers += 1;
    let here = true;
    const leave = () => {
      if (here) this.readers -= 1;
      here = false;
      void this.giveNext();
    };
    const next = (): Promise<Chunk> => {
      const promise = withResolvers<Chunk>();
      this.waiting.push(promise);
      void this.giveNext();
      return promise.promise;
    };
    return { leave, pieces: { [Symbol.asyncIterator]: () => ({ next }) } };
  }

  private async giveNext(): Promise<void> {
    if (this.reading || this.waiting.length === 0 || this.waiting.length < this.readers) return;
    this.reading = true;
    try {
      const chunk = await this.readNext();
      for (const { resolve } of this.waiting.splice(0)) resolve(chunk);
    } catch (error) {
      this.failure = error;
      for (const { reject } of this.waiting.splice(0)) reject(error);
    }
    this.reading = false;
  }

  private async readNext(): Promise<Chunk> {
    const digest = await this.digest;
    if (this.at >= this.file.size) {
      this.sha256 ??= digest.hex();
      return { done: true, value: undefined };
    }
    const bytes = await bytesOf(this.file.slice(this.at, this.at + DIGEST_CHUNK_BYTES));
    if (bytes.length === 0) throw new Error(`ends at ${this.at} of ${this.file.size} bytes`);
    digest.update(bytes);
    this.at += bytes.length;
    this.tools.onBytes(bytes.length);
    return { done: false, value: bytes };
  }
}

interface PromiseWithResolvers<T> {
  promise: Promise<T>;
  resolve: (value: T) => void;
  reject: (error: unknown) => void;
}

function withResolvers<T>(): PromiseWithResolvers<T> {
  let resolve: (value: T) => void = () => {};
  let reject: (error: unknown) => void = () => {};
  const promise = new Promise<T>((yes, no) => {
    resolve = yes;
    reject = no;
  });
  return { promise, resolve, reject };
}
