// A drive over a folder of this machine's disk. What is written is synced to the disk before it gets its name, and the
// folder after; it is read back past the system's cache, from the disk itself, where the file system does that
// (docs/FORMATS.md says what that means). Everything here waits for the disk: it runs in threads of its own.

import fs from 'node:fs';
import path from 'node:path';
import { folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import {
  ARCHIVE_FOLDER,
  type DriveEntry,
  DriveError,
  type LazyBytes,
  type ListOptions,
  type OpenedFile,
  type PartFile,
  isDebris,
  isHiddenFolder,
  isLeftover,
  newPartId,
  partOf,
  sliceWithin,
} from '@/storage/drives/drive';
import { failureOf } from '@/storage/drives/failure';
import { entriesOf } from '@/storage/host/host-drive';
import type { ListedFolder } from '@/storage/host/protocol';
import type { Lock, ServedDrive } from '../served-drive';
import { ConfinedFolder, diskErrorOf, errorCode } from './confined';

const { O_CREAT, O_EXCL, O_NOFOLLOW = 0, O_RDWR, O_WRONLY } = fs.constants;
/** What reads past the cache begins and ends at whole blocks of the disk. */
const BLOCK_BYTES = 4096;
const READ_BYTES = 4 * 1024 * 1024;

const floorMs = (ns: bigint): number => Number(ns / 1_000_000n);

interface Facts {
  size: number;
  modifiedNs: bigint;
  mode: number;
}

/**
 * A file as it was when it was opened. It is opened again for each reading, and read only as long as length and time
 * are what they were.
 */
export class DiskFile implements OpenedFile {
  constructor(
    private readonly folder: ConfinedFolder,
    readonly path: string,
    readonly facts: Facts,
    private readonly start = 0,
    private readonly end = facts.size,
    private readonly direct = false,
  ) {}

  get name(): string {
    return nameIn(this.path);
  }

  get size(): number {
    return this.end - this.start;
  }

  get lastModified(): number {
    return floorMs(this.facts.modifiedNs);
  }

  slice(from = 0, to = this.size): DiskFile {
    const [start, end] = sliceWithin(this.start, this.end, from, to);
    return new DiskFile(this.folder, this.path, this.facts, start, end, this.direct);
  }

  async arrayBuffer(): Promise<ArrayBuffer> {
    const { fd, isDirect } = this.folder.openFile(this.path, this.direct);
    try {
      const now = factsOf(fd);
      if (now.size !== this.facts.size || now.modifiedNs !== this.facts.modifiedNs)
        throw new DriveError('changed-meanwhile', this.path);
      const bytes = Buffer.allocUnsafeSlow(this.size);
      if (isDirect) readDirect(fd, this.start, bytes);
      else readAt(fd, this.start, bytes);
      await othersTurn(bytes.length);
      return bytes.buffer;
    } catch (error) {
      throw diskErrorOf(error, this.path);
    } finally {
      fs.closeSync(fd);
    }
  }
}

/** Reading from memory alone would never let a thread hear that it is to stop. */
const TURN_BYTES = 4 * 1024 * 1024;
let sinceTurn = 0;

async function othersTurn(bytes: number): Promise<void> {
  sinceTurn += bytes;
  if (sinceTurn < TURN_BYTES) return;
  sinceTurn = 0;
  await new Promise<void>((resolve) => setImmediate(resolve));
}

const factsOf = (fd: number): Facts => {
  const { size, mtimeNs, mode } = fs.fstatSync(fd, { bigint: true });
  return { size: Number(size), modifiedNs: mtimeNs, mode: Number(mode & 0o777n) };
};

/** A file that is shorter than it says is not one that can be read. */
function readAt(fd: number, start: number, into: Buffer): void {
  for (let at = 0; at < into.length;) {
    const read = fs.readSync(fd, into, at, Math.min(READ_BYTES, into.length - at), start + at);
    if (read === 0) throw new Error(`ends at ${start + at} of ${start + into.length} bytes`);
    at += read;
  }
}

/** Memory that begins at a whole block, as reading past the cache wants it; a `Buffer` is refused. */
let aligned: Buffer | null = null;

function readDirect(fd: number, start: number, into: Buffer): void {
  aligned ??= Buffer.from(new WebAssembly.Memory({ initial: (READ_BYTES + BLOCK_BYTES) / 65536 + 1 }).buffer);
  for (let at = 0; at < into.length;) {
    const from = Math.floor((start + at) / BLOCK_BYTES) * BLOCK_BYTES;
    const skip = start + at - from;
    // no more than is wanted: the memory of all that is asked for is held for the disk
    const wanted = Math.ceil((skip + into.length - at) / BLOCK_BYTES) * BLOCK_BYTES;
    const read = fs.readSync(fd, aligned, 0, Math.min(READ_BYTES, wanted), from);
    const got = Math.min(read - skip, into.length - at);
    if (got <= 0) throw new Error(`ends at ${start + at} of ${start + into.length} bytes`);
    aligned.copy(into, at, skip, skip + got);
    at += got;
  }
}

export class DiskDrive implements ServedDrive {
  private readonly folder: ConfinedFolder;
  /** While this drive is alone. */
  private toSync: Set<string> | null = null;

  constructor(
    folder: ConfinedFolder | string,
    private readonly lock: Lock,
  ) {
    this.folder = typeof folder === 'string' ? new ConfinedFolder(folder) : folder;
  }

  /** Folders whose names have changed are synced once, before the lock is given back. */
  alone<T>(act: () => Promise<T>): Promise<T> {
    return this.lock(async () => {
      this.toSync = new Set();
      try {
        return await act();
      } finally {
        const folders = this.toSync;
        this.toSync = null;
        for (const folder of folders) this.syncNow(folder);
      }
    });
  }

  private sync(folder: string): void {
    if (this.toSync) this.toSync.add(folder);
    else this.syncNow(folder);
  }

  private syncNow(folder: string): void {
    const opened = this.folder.openFolder(folder);
    try {
      syncFolder(opened.at);
    } finally {
      opened.close();
    }
  }

  async confirm(): Promise<void> {
    // a folder has no mark by itself: `MarkedDrive` reads it
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    for (const folder of this.listFolders(options.below ?? '', options.shallow ?? false)) {
      options.signal?.throwIfAborted();
      yield* entriesOf(folder, options);
    }
  }

  /** A folder at a time, each before those in it. Nothing where there is no folder of that name. */
  *listFolders(below: string, shallow: boolean): Generator<ListedFolder> {
    const waiting = [below];
    for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
      const [listed, folders] = this.look(next, next === below);
      if (listed) yield listed;
      if (!shallow) for (const name of folders.reverse()) waiting.push(joinedPath(next, name));
    }
  }

  private look(asked: string, isFirst: boolean): [ListedFolder | null, folders: string[]] {
    const listed: ListedFolder = { path: asked, files: [], leftovers: [], isArchive: false, unlisted: [] };
    const folders: string[] = [];
    try {
      const opened = this.folder.openFolder(asked);
      try {
        for (const entry of fs.readdirSync(opened.at, { withFileTypes: true }))
          this.lookAt(opened.at, entry, listed, folders);
      } finally {
        opened.close();
      }
    } catch (thrown) {
      const error = diskErrorOf(thrown, asked);
      if (asked === '') throw error; // the root itself: the drive is not there
      if (error.problem === 'not-found' && isFirst) return [null, []];
      listed.unlisted.push({ path: `${asked}/`, failure: failureOf(error) });
    }
    listed.files.sort(([a], [b]) => (a < b ? -1 : 1));
    return [listed, folders.sort()];
  }

  private lookAt(at: string, entry: fs.Dirent, listed: ListedFolder, folders: string[]): void {
    const { name } = entry;
    if (entry.isDirectory()) {
      if (!isHiddenFolder(name)) folders.push(name);
      else if (name === ARCHIVE_FOLDER) listed.isArchive = true;
      return;
    }
    if (!entry.isFile() || isDebris(name)) return; // links are not followed, pipes and devices are not files
    if (isLeftover(name)) return void listed.leftovers.push(name);
    try {
      const { size, mtimeNs } = fs.lstatSync(`${at}/${name}`, { bigint: true });
      listed.files.push([name, Number(size), floorMs(mtimeNs)]);
    } catch (thrown) {
      const asked = joinedPath(listed.path, name);
      const error = diskErrorOf(thrown, asked);
      if (error.problem !== 'not-found') listed.unlisted.push({ path: asked, failure: failureOf(error) });
    }
  }

  async open(asked: string): Promise<DiskFile> {
    return this.opened(asked, isLeftover(nameIn(asked)));
  }

  async same({ path: asked, sizeBytes, modifiedMs }: DriveEntry): Promise<DiskFile> {
    const file = await this.open(asked);
    if (file.size !== sizeBytes || file.lastModified !== modifiedMs) throw new DriveError('changed-meanwhile', asked);
    return file;
  }

  private opened(asked: string, direct: boolean): DiskFile {
    const { fd } = this.folder.openFile(asked);
    try {
      const facts = factsOf(fd);
      return new DiskFile(this.folder, asked, facts, 0, facts.size, direct);
    } finally {
      fs.closeSync(fd);
    }
  }

  async createPart(asked: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>, like?: LazyBytes): Promise<PartFile> {
    const part = partOf(asked, newPartId());
    const fd = this.openPart(part, O_CREAT | O_EXCL | O_WRONLY);
    try {
      try {
        let at = 0;
        for await (const piece of pieces) {
          writeAll(fd, piece, at);
          at += piece.length;
          await othersTurn(piece.length);
        }
        settle(fd, at, part, like);
      } finally {
        fs.closeSync(fd);
      }
      return this.partAt(part);
    } catch (error) {
      this.removeNow(part);
      throw diskErrorOf(error, asked);
    }
  }

  private openPart(part: string, flags: number): number {
    if (!isLeftover(nameIn(part))) throw new DriveError('bad-name', part);
    const isNew = (flags & O_CREAT) !== 0;
    return this.folder.inFolderOf(
      part,
      ({ at }, name) => fs.openSync(`${at}/${name}`, flags | O_NOFOLLOW, 0o666),
      isNew,
    );
  }

  /**
   * A piece of a part that comes in pieces from elsewhere; of a new one where `part` is empty. Answers with where the
   * part lies.
   */
  writePiece(asked: string, part: string, at: number, piece: Uint8Array): string {
    const made = part === '' ? partOf(asked, newPartId()) : part;
    const fd = this.openPart(made, part === '' ? O_CREAT | O_EXCL | O_WRONLY : O_WRONLY);
    try {
      if (fs.fstatSync(fd).size !== at) throw new DriveError('changed-meanwhile', asked);
      writeAll(fd, piece, at);
    } catch (error) {
      if (part === '') this.removeNow(made);
      throw diskErrorOf(error, asked);
    } finally {
      fs.closeSync(fd);
    }
    return made;
  }

  /** Everything of it is on the disk after this. */
  endPart(part: string, size: number, like?: LazyBytes | { lastModified: number }): string {
    const fd = this.openPart(part, O_RDWR);
    try {
      settle(fd, size, part, like);
      return part;
    } finally {
      fs.closeSync(fd);
    }
  }

  private partAt(part: string): PartFile {
    return {
      path: part,
      open: async () => this.opened(part, true),
      finish: async (asked, over) => this.finish(part, asked, over),
      remove: async () => this.removeNow(part),
    };
  }

  /** The part gets its name, and the folder is synced. */
  finish(part: string, asked: string, over: 'free' | 'old'): void {
    if (folderIn(part) !== folderIn(asked)) throw new DriveError('bad-name', asked);
    this.folder.inFolderOf(asked, ({ at }, name) => {
      const from = `${at}/${nameIn(part)}`;
      if (over === 'free') giveFreeName(from, `${at}/${name}`, asked);
      else if (fs.lstatSync(`${at}/${name}`, { throwIfNoEntry: false })?.isDirectory())
        throw new DriveError('exists', asked);
      else fs.renameSync(from, `${at}/${name}`);
    });
    this.sync(folderIn(asked));
  }

  async remove(asked: string): Promise<void> {
    this.removeNow(asked);
  }

  private removeNow(asked: string): void {
    try {
      this.folder.inFolderOf(asked, ({ at }, name) => {
        fs.unlinkSync(`${at}/${name}`);
      });
      this.sync(folderIn(asked));
    } catch (thrown) {
      const error = diskErrorOf(thrown, asked);
      if (error.problem !== 'not-found') throw error;
    }
  }

  async move(from: string, to: string): Promise<void> {
    const { fd } = this.folder.openFile(from); // a file, and no link
    fs.closeSync(fd);
    this.folder.inFolderOf(from, (source, oldName) =>
      this.folder.inFolderOf(
        to,
        (target, name) => {
          giveFreeName(`${source.at}/${oldName}`, `${target.at}/${name}`, to);
        },
        true,
      ),
    );
    this.sync(folderIn(to));
    this.sync(folderIn(from));
  }

  async makeFolder(asked: string): Promise<void> {
    this.folder.openFolder(asked, true).close();
  }
}

function writeAll(fd: number, bytes: Uint8Array, at: number): void {
  for (let done = 0; done < bytes.length;) done += fs.writeSync(fd, bytes, done, bytes.length - done, at + done);
}

function settle(fd: number, size: number, part: string, like: LazyBytes | { lastModified: number } | undefined): void {
  if (fs.fstatSync(fd).size !== size) throw new DriveError('read-back-differs', part);
  takeAfter(fd, like);
  fs.fsyncSync(fd);
}

/** The time, to the microsecond, and what may be done with it. */
function takeAfter(fd: number, like: LazyBytes | { lastModified: number } | undefined): void {
  if (!like || !('lastModified' in like)) return;
  const seconds = like instanceof DiskFile ? Number(like.facts.modifiedNs / 1000n) / 1e6 : like.lastModified / 1000;
  fs.futimesSync(fd, seconds, seconds);
  if (!(like instanceof DiskFile)) return;
  try {
    fs.fchmodSync(fd, like.facts.mode);
  } catch (error) {
    if (!['EPERM', 'ENOTSUP', 'ENOSYS'].includes(errorCode(error))) throw error; // FAT has no such thing
  }
}

/**
 * A name that nothing has, as this file system compares names: a second name for the file, and the first one gone. Where
 * there are no second names (FAT), it is looked at first, which is as good as the lock that is held.
 */
function giveFreeName(from: string, to: string, asked: string): void {
  try {
    fs.linkSync(from, to);
  } catch (error) {
    if (!NO_SECOND_NAMES.has(errorCode(error))) throw error;
    const there = fs.lstatSync(to, { throwIfNoEntry: false });
    const moved = fs.lstatSync(from);
    // a name that differs by case alone is the file's own
    if (there && (there.ino !== moved.ino || there.dev !== moved.dev)) throw new DriveError('exists', asked);
    fs.renameSync(from, to);
    return;
  }
  fs.unlinkSync(from);
}

const NO_SECOND_NAMES = new Set(['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK', 'EXDEV']);

/** So that a name is on the disk, too; some systems do not let folders be synced. */
function syncFolder(at: string): void {
  try {
    const fd = fs.openSync(at, fs.constants.O_RDONLY);
    try {
      fs.fsyncSync(fd);
    } finally {
      fs.closeSync(fd);
    }
  } catch (error) {
    if (!['EINVAL', 'EISDIR', 'EPERM', 'EACCES', 'EBADF', 'ENOTSUP'].includes(errorCode(error))) throw error;
  }
}

/** The folder's name, for one who is shown where it lies. */
export const folderName = (root: string): string => path.basename(root) || root;
