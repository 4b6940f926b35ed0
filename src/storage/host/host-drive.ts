// A drive that the host serves: the application's own server reads and writes the folder; here is only who asks it.

import { joinBytes } from '@/core/bytes/join';
import { joinedPath, nameIn } from '@/core/names/file-names';
import { alone } from '../drives/alone';
import { fromBase64, toBase64 } from '../drives/base64';
import {
  type Drive,
  type DriveEntry,
  DriveError,
  type LazyBytes,
  type ListOptions,
  type OpenedFile,
  type PartFile,
  sliceWithin,
} from '../drives/drive';
import { errorOf } from '../drives/failure';
import type { HostClient } from './host-client';
import type { Replacement } from '../drives/safe-write';
import { type ListedFolder, PIECE_BYTES, REPLACED_AT_ONCE, REPLACED_BYTES_LIMIT } from './protocol';

/** What of a file on the host can be handed to a worker, which asks for its bytes by itself. */
export interface HostFileFacts {
  folder: string;
  path: string;
  size: number;
  modifiedMs: number;
}

class HostBytes implements LazyBytes {
  /** @param held all bytes of the file, where they came along */
  constructor(
    readonly client: HostClient,
    readonly facts: HostFileFacts,
    private readonly start: number,
    private readonly end: number,
    private readonly held: Uint8Array<ArrayBuffer> | null,
  ) {}

  get size(): number {
    return this.end - this.start;
  }

  slice(from = 0, to = this.size): LazyBytes {
    return new HostBytes(this.client, this.facts, ...sliceWithin(this.start, this.end, from, to), this.held);
  }

  private get range() {
    return { ...this.facts, start: this.start, end: this.end };
  }

  async arrayBuffer(): Promise<ArrayBuffer> {
    if (this.held) return this.held.slice(this.start, this.end).buffer;
    return this.size === 0 ? new ArrayBuffer(0) : (await this.client.bytes(this.range)).buffer;
  }

  async blob(): Promise<Blob> {
    return this.held || this.size === 0 ? new Blob([await this.arrayBuffer()]) : this.client.blob(this.range);
  }
}

export class HostFile extends HostBytes implements OpenedFile {
  constructor(client: HostClient, facts: HostFileFacts, held: Uint8Array<ArrayBuffer> | null = null) {
    super(client, facts, 0, facts.size, held);
  }

  get name(): string {
    return nameIn(this.facts.path);
  }

  get lastModified(): number {
    return this.facts.modifiedMs;
  }

  /** An address under which the browser fetches it part by part, for a while. */
  async address(): Promise<string> {
    return (await this.client.ask('ticket', { file: this.facts })).address;
  }
}

interface Replacing extends Replacement {
  mark: string | null;
  resolve: () => void;
  reject: (error: unknown) => void;
}

export class HostDrive implements Drive {
  /** Each request to the host costs more than what is asked in it. */
  readonly atOnce = 96;
  /** What holds for others as long as `alone` is at it. */
  private lease: string | null = null;
  private readonly replacing: Replacing[] = [];

  /**
   * @param folder the host's id of it
   * @param id whose lock is held for what changes names: the drive's, the same in every tab and worker
   */
  constructor(
    readonly client: HostClient,
    readonly folder: string,
    readonly id: string,
  ) {}

  /** In this browser by its own locks; towards others, and the host itself, by the host's. */
  alone<T>(act: () => Promise<T>): Promise<T> {
    return alone(`wembo-names-${this.id}`, async () => {
      const lease = await this.lock();
      this.lease = lease;
      try {
        return await act();
      } finally {
        this.lease = null;
        await this.client.ask('unlock', { folder: this.folder, lease }).catch(() => undefined); // it runs out by itself
      }
    });
  }

  private async lock(): Promise<string> {
    const { folder, client } = this;
    for (;;) {
      const { lease } = await client.ask('lock', { folder, owner: client.access.owner });
      if (lease !== null) return lease;
    }
  }

  async confirm(): Promise<void> {
    // a folder has no mark by itself: `MarkedDrive` reads it
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    const { below = '', shallow = false, signal } = options;
    const folders = new Queue<ListedFolder>();
    const stop = new AbortController();
    const order = { folder: this.folder, below, shallow };
    const asked = this.client.ask('list', order, {
      signal: signal ? AbortSignal.any([signal, stop.signal]) : stop.signal,
      onPart: (folder) => folders.add(folder),
    });
    asked.then(
      () => folders.end(),
      (error: unknown) => folders.end(error),
    );
    try {
      for await (const folder of folders) yield* entriesOf(folder, options);
    } finally {
      stop.abort();
    }
  }

  openListed({ path, sizeBytes, modifiedMs }: DriveEntry): OpenedFile {
    return new HostFile(this.client, { folder: this.folder, path, size: sizeBytes, modifiedMs });
  }

  async open(path: string): Promise<OpenedFile> {
    const { folder } = this;
    const { size, modifiedMs, bytes } = await this.client.ask('open', { folder, path });
    return new HostFile(this.client, { folder, path, size, modifiedMs }, bytes === null ? null : fromBase64(bytes));
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>, like?: LazyBytes): Promise<PartFile> {
    const { client, folder } = this;
    const modifiedMs = modifiedOf(like);
    let [part, at] = ['', 0];
    const send = async (bytes: Uint8Array<ArrayBuffer>, isLast: boolean) => {
      part = await client.sendPiece({ folder, path, part, at, isLast: isLast ? '1' : '0', modifiedMs }, bytes);
      at += bytes.length;
    };
    try {
      let last: Uint8Array<ArrayBuffer> | null = null;
      for await (const piece of inPieces(pieces)) {
        if (last) await send(last, false);
        last = piece;
      }
      await send(last ?? new Uint8Array(), true);
    } catch (error) {
      if (part !== '') await this.remove(part).catch(() => undefined);
      throw error;
    }
    return this.partAt(part);
  }

  private partAt(part: string): PartFile {
    return {
      path: part,
      open: () => this.open(part),
      finish: async (path, over) => {
        await this.client.ask('finish', { folder: this.folder, part, path, over, lease: this.lease });
      },
      remove: () => this.remove(part),
    };
  }

  async remove(path: string): Promise<void> {
    await this.client.ask('remove', { folder: this.folder, path, lease: this.lease });
  }

  async move(from: string, to: string): Promise<void> {
    await this.client.ask('move', { folder: this.folder, from, to, lease: this.lease });
  }

  async makeFolder(path: string): Promise<void> {
    await this.client.ask('makeFolder', { folder: this.folder, path });
  }

  /** In one question, where it is not too long for one. */
  async replace(
    path: string,
    bytes: Uint8Array<ArrayBuffer>,
    expected: Uint8Array | null,
    mark: string | null,
  ): Promise<'replaced' | 'too-long'> {
    if (bytes.length > REPLACED_BYTES_LIMIT || (expected?.length ?? 0) > REPLACED_BYTES_LIMIT) return 'too-long';
    await new Promise<void>((resolve, reject) => {
      if (this.replacing.length === 0) setTimeout(() => this.replaceTogether());
      this.replacing.push({ path, bytes, expected, mark, resolve, reject });
    });
    return 'replaced';
  }

  /** What is asked for at the same time goes together; a drive has one mark. */
  private replaceTogether(): void {
    const waiting = this.replacing.splice(0);
    for (const mark of new Set(waiting.map((one) => one.mark))) {
      const files = waiting.filter((one) => one.mark === mark);
      for (let at = 0; at < files.length; at += REPLACED_AT_ONCE)
        void this.replaceSome(files.slice(at, at + REPLACED_AT_ONCE), mark);
    }
  }

  private async replaceSome(files: readonly Replacing[], mark: string | null): Promise<void> {
    try {
      const replaced = await this.client.ask('replace', {
        folder: this.folder,
        mark,
        files: files.map(({ path, bytes, expected }) => ({
          path,
          bytes: toBase64(bytes),
          expected: expected && toBase64(expected),
        })),
      });
      files.forEach(({ resolve, reject, path }, index) => {
        const failure = replaced[index];
        if (failure === null) resolve();
        else reject(failure ? errorOf(failure) : new DriveError('failed', path));
      });
    } catch (error) {
      for (const { reject } of files) reject(error);
    }
  }
}

/** What a listing says of one folder. */
export function* entriesOf(folder: ListedFolder, options: ListOptions): Generator<DriveEntry> {
  const at = (name: string) => joinedPath(folder.path, name);
  if (folder.isArchive && folder.path !== '') options.onArchive?.(folder.path);
  for (const { path, failure } of folder.unlisted) options.onUnlisted?.(path, asDriveError(errorOf(failure), path));
  for (const name of folder.leftovers) options.onLeftover?.(at(name));
  if (folder.path !== '') options.onFolder?.(folder.path);
  for (const [name, sizeBytes, modifiedMs] of folder.files) yield { path: at(name), sizeBytes, modifiedMs };
}

const modifiedOf = (file: LazyBytes | undefined): number | null =>
  file && 'lastModified' in file ? (file as OpenedFile).lastModified : null;

const asDriveError = (error: Error, path: string): DriveError =>
  error instanceof DriveError ? error : new DriveError('failed', path, { cause: error });

async function* inPieces(pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let held: Uint8Array<ArrayBuffer>[] = [];
  let length = 0;
  const joined = () => {
    const all = joinBytes(held);
    [held, length] = [[], 0];
    return all;
  };
  for await (const piece of pieces)
    for (let at = 0; at < piece.length; at += PIECE_BYTES) {
      const part = piece.subarray(at, at + PIECE_BYTES);
      if (length + part.length > PIECE_BYTES) yield joined();
      held.push(part);
      length += part.length;
    }
  if (length > 0) yield joined();
}

/** What was added, in its order, for one who takes it as it comes. */
class Queue<T> implements AsyncIterable<T> {
  private readonly items: T[] = [];
  private ended: { error?: unknown } | null = null;
  private wake: () => void = () => {};

  add(item: T): void {
    this.items.push(item);
    this.wake();
  }

  end(error?: unknown): void {
    this.ended = error === undefined ? {} : { error };
    this.wake();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<T> {
    for (;;) {
      while (this.items.length > 0) yield this.items.shift() as T;
      if (this.ended) {
        if ('error' in this.ended) throw this.ended.error;
        return;
      }
      await new Promise<void>((resolve) => (this.wake = resolve));
    }
  }
}
