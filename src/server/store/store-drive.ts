// A drive over an S3-compatible store: objects under the names a drive has, so that a stranger who has the bucket has
// the tree. A store gives no name to what is already there, so a part is an object of its own, read back as any part,
// and then copied by the store to its name, whose ETag is held against that of the part (decision 19).
//
// Sealed, each object has `.age` behind its name. The time of a file is when it was stored.

import { folderIn, nameIn } from '@/core/names/file-names';
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
import type { StorePlace } from './place';
import type { NameSealing } from './name-sealing';
import { Sealing, openSize, sealedSize } from './sealing';
import { Store, type StoredObject } from './store';
import { StoreUpload, StoreUploads } from './upload';

/** Behind the name of a sealed object. */
const SEALED_ENDING = '.age';
/** S3: a key has at most 1,024 bytes. */
const KEY_BYTES = 1024;

class StoreFile implements OpenedFile {
  constructor(
    private readonly read: (start: number, end: number) => Promise<Uint8Array<ArrayBuffer>>,
    readonly path: string,
    readonly lastModified: number,
    private readonly start: number,
    private readonly end: number,
  ) {}

  get name(): string {
    return nameIn(this.path);
  }

  get size(): number {
    return this.end - this.start;
  }

  slice(from = 0, to = this.size): LazyBytes {
    const [start, end] = sliceWithin(this.start, this.end, from, to);
    return new StoreFile(this.read, this.path, this.lastModified, start, end);
  }

  async arrayBuffer(): Promise<ArrayBuffer> {
    return this.size === 0 ? new ArrayBuffer(0) : (await this.read(this.start, this.end)).buffer;
  }
}

/** Behind the key of the object that says a sealed name to strangers. */
const NAME_ENDING = '.name.age';

const sealings = new Map<string, Sealing>();

/** One for all drives with this key: it remembers what it opened, and what it made of the key. */
function sealingOf(identity: string | null): Sealing | null {
  if (identity === null) return null;
  const known = sealings.get(identity) ?? new Sealing(identity);
  sealings.set(identity, known);
  return known;
}

/** Files that come in pieces, in this process. */
const uploads = new StoreUploads();

export class StoreDrive implements ServedDrive {
  private readonly store: Store;
  private readonly sealing: Sealing | null;
  private readonly names: NameSealing | null;
  /** What all keys begin with. */
  private readonly all: string;

  constructor(
    place: StorePlace,
    private readonly lock: Lock,
  ) {
    this.store = new Store(place);
    this.sealing = sealingOf(place.identity);
    this.names = this.sealing && place.sealsNames ? this.sealing.names : null;
    this.all = place.prefix === '' ? '' : `${place.prefix}/`;
  }

  alone<T>(act: () => Promise<T>): Promise<T> {
    return this.lock(act);
  }

  async confirm(): Promise<void> {
    // a bucket has no mark by itself: `MarkedDrive` reads it
  }

  private keyOf(path: string): string {
    const key = `${this.all}${this.spelled(path)}${this.sealing ? SEALED_ENDING : ''}`;
    if (!isPath(path) || Buffer.byteLength(key) > KEY_BYTES) throw new DriveError('bad-name', path);
    return key;
  }

  private spelled(path: string): string {
    return this.names && path !== '' ? this.names.sealPath(path) : path;
  }

  /** `null`: nothing of the drive, but what stands beside it for strangers. A folder has its `/`. */
  private readonly pathOf = (key: string): string | null => {
    const path = key.slice(this.all.length);
    if (!this.sealing) return path;
    const ending = path.endsWith('/') ? '/' : SEALED_ENDING;
    if (!path.endsWith(ending) || path === KEY_OBJECT) return null;
    const bare = path.slice(0, -ending.length);
    const opened = this.names ? this.names.openPath(bare) : bare;
    return opened === null ? null : opened + (ending === '/' ? '/' : '');
  };

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    for await (const folder of this.listFolders(options.below ?? '', options.shallow ?? false)) {
      options.signal?.throwIfAborted();
      yield* entriesOf(folder, options);
    }
  }

  /** In the order of the keys: what lies in a folder itself may come in several parts. */
  async *listFolders(below: string, shallow: boolean): AsyncGenerator<ListedFolder> {
    const base = below === '' ? '' : `${below}/`;
    let listed = emptyFolder(below);
    let told = 0;
    const archives = new Set<string>();
    const prefix = below === '' ? '' : `${this.spelled(below)}/`;
    for await (const object of this.store.list(`${this.all}${prefix}`, shallow)) {
      const path = this.pathOf(object.key);
      if (path === null || path === base) continue;
      const folder = folderIn(path);
      if (folder !== listed.path || told >= TOLD_AT_ONCE) {
        if (told > 0) yield listed;
        [listed, told] = [emptyFolder(folder), 0];
      }
      const hidden = hiddenAt(folder, below);
      if (hidden === null) this.lookAt(object, path, listed);
      else if (nameIn(hidden) === ARCHIVE_FOLDER && !archives.has(hidden)) {
        archives.add(hidden);
        yield { ...emptyFolder(folderIn(hidden)), isArchive: true };
      }
      if (hidden === null) told += 1;
    }
    if (told > 0) yield listed;
  }

  private lookAt({ sizeBytes, modifiedMs }: StoredObject, path: string, listed: ListedFolder): void {
    const name = nameIn(path);
    const size = this.sealing ? openSize(sizeBytes) : sizeBytes;
    if (name === '' || isDebris(name)) return; // the mark of a folder
    if (isLeftover(name)) listed.leftovers.push(name);
    else if (!isPath(path) || size === null)
      listed.unlisted.push({ path, failure: failureOf(new DriveError(size === null ? 'sealed' : 'bad-name', path)) });
    else listed.files.push([name, size, modifiedMs]);
  }

  async open(path: string): Promise<OpenedFile> {
    const { sizeBytes, modifiedMs } = await at(path, () => this.store.head(this.keyOf(path)));
    const size = this.sealing ? openSize(sizeBytes) : sizeBytes;
    if (size === null) throw new DriveError('sealed', path);
    return this.fileOf({ path, sizeBytes: size, modifiedMs }, sizeBytes);
  }

  /** Reading finds out whether it is that still. */
  async same(entry: DriveEntry): Promise<OpenedFile> {
    return this.fileOf(entry, this.sealing ? sealedSize(entry.sizeBytes) : entry.sizeBytes);
  }

  private fileOf({ path, sizeBytes, modifiedMs }: DriveEntry, storedBytes: number): OpenedFile {
    const key = this.keyOf(path);
    const { sealing } = this;
    const stored = (start: number, end: number) =>
      this.store.read({ key, sizeBytes: storedBytes, modifiedMs }, start, end);
    const read = sealing
      ? (start: number, end: number) =>
          sealing.open(`${key} ${storedBytes} ${modifiedMs}`, storedBytes, stored, start, end)
      : stored;
    return new StoreFile((start, end) => at(path, () => read(start, end)), path, modifiedMs, 0, sizeBytes);
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<PartFile> {
    const part = await at(path, () => this.send(partOf(path, newPartId()), pieces));
    return {
      path: part,
      open: () => this.open(part),
      finish: (asked, over) => this.finish(part, asked, over),
      remove: () => this.remove(part),
    };
  }

  /** Answers with where the part lies. What breaks off stays in the store for a while, to be gone on with. */
  private async send(part: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<string> {
    const upload = new StoreUpload(this.store, this.keyOf(part), this.all, this.pathOf);
    for await (const piece of this.sealing ? this.sealing.seal(pieces) : pieces) await upload.push(piece);
    await upload.end();
    return this.pathOf(upload.key) ?? part;
  }

  async writePiece(path: string, part: string, at: number, piece: Uint8Array<ArrayBuffer>): Promise<string> {
    const name = part === '' ? partOf(path, newPartId()) : part;
    if (part === '') uploads.begin(name, (pieces) => this.send(name, pieces));
    await uploads.push(name, at, piece);
    return name;
  }

  endPart(part: string, size: number): Promise<string> {
    return uploads.end(part, size);
  }

  async finish(part: string, path: string, over: 'free' | 'old'): Promise<void> {
    if (folderIn(part) !== folderIn(path) || !isLeftover(nameIn(part))) throw new DriveError('bad-name', path);
    const { key } = await at(path, () => this.giveName(part, path, over));
    await this.store.remove(key).catch(() => undefined); // the file has its name; a part that stays is a leftover
  }

  /** A store copies, and then the file loses its former name. One that was interrupted between the two goes on there. */
  async move(from: string, to: string): Promise<void> {
    const isThere = await at(to, () => this.hasMoved(from, to));
    if (!isThere) await at(to, () => this.giveName(from, to, 'free'));
    await this.remove(from);
  }

  /** Whether the very bytes lie under both names. */
  private async hasMoved(from: string, to: string): Promise<boolean> {
    if (this.keyOf(from) === this.keyOf(to)) throw new DriveError('exists', to);
    const made = await this.store.headIfThere(this.keyOf(to));
    if (!made) return false;
    return this.store.isSame(await this.store.head(this.keyOf(from)), made);
  }

  /** What has the name so far has it still. Answers with that. */
  private async giveName(from: string, to: string, over: 'free' | 'old'): Promise<StoredObject> {
    const source = await this.store.head(this.keyOf(from));
    if (over === 'free' && (await this.store.headIfThere(this.keyOf(to)))) throw new DriveError('exists', to);
    await this.sayName(to);
    await this.store.copy(source, this.keyOf(to));
    return source;
  }

  /** For strangers, where names are sealed. */
  private async sayName(path: string): Promise<void> {
    if (this.names && this.sealing) await this.store.put(this.nameKey(path), await this.sealing.sealText(path));
  }

  private nameKey(path: string): string {
    return `${this.keyOf(path).slice(0, -SEALED_ENDING.length)}${NAME_ENDING}`;
  }

  async remove(path: string): Promise<void> {
    await at(path, async () => {
      await this.store.remove(this.keyOf(path));
      if (this.names) await this.store.remove(this.nameKey(path));
    });
  }

  /** As an object with no bytes whose key ends with `/`. */
  async makeFolder(path: string): Promise<void> {
    if (!isPath(path)) throw new DriveError('bad-name', path);
    const key = `${this.all}${this.spelled(path)}/`;
    if (!(await this.store.headIfThere(key))) await this.store.put(key, new Uint8Array());
  }
}

/** The key that opens all others, sealed by a passphrase; beside the drive, and no file of it. */
export const KEY_OBJECT = 'wembo-key.age';

/** What goes wrong is told of the path that was asked for, not of a key of the bucket. */
async function at<T>(path: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    throw error instanceof DriveError ? new DriveError(error.problem, path, { cause: error }) : error;
  }
}

/** Files told of a folder in one go. */
const TOLD_AT_ONCE = 1000;

const emptyFolder = (path: string): ListedFolder => ({
  path,
  files: [],
  leftovers: [],
  isArchive: false,
  unlisted: [],
});

const isPath = (path: string): boolean =>
  // keys with control characters cannot be listed as XML
  !/\p{Cc}/u.test(path) && path.split('/').every((name) => name !== '' && name !== '.' && name !== '..');

/** The hidden folder a folder is, or lies in, below the one that was asked for. */
function hiddenAt(folder: string, below: string): string | null {
  const names = folder.slice(below === '' ? 0 : below.length + 1).split('/');
  const at = names.findIndex((name) => name !== '' && isHiddenFolder(name));
  return at < 0 ? null : [...(below === '' ? [] : [below]), ...names.slice(0, at + 1)].join('/');
}
