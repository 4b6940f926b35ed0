// A drive in memory, for tests. It compares names as real drives do, and can be made to fail: full after so many bytes,
// unreadable paths, closed folders, pulled out.

import { foldName } from '@/core/names/file-names';
import {
  ARCHIVE_FOLDER,
  type Drive,
  type DriveEntry,
  DriveError,
  type ListOptions,
  type PartFile,
  isDebris,
  isHiddenBelow,
  isLeftover,
  newPartId,
  partOf,
  splitPath,
} from './drive';

/**
 * How names are compared and kept: as they are; without regard to case, as on FAT, exFAT, NTFS and APFS; and with
 * accents taken apart, as on HFS+.
 */
export type NameTraits = 'exact' | 'caseless' | 'decomposed';

interface MemoryFile {
  bytes: Uint8Array<ArrayBuffer>;
  modifiedMs: number;
}

export class MemoryDrive implements Drive {
  readonly files = new Map<string, MemoryFile>();
  readonly unreadable = new Set<string>();
  /** Folders (with their `/`) that cannot be listed. */
  readonly closedFolders = new Set<string>();
  capacityBytes = Infinity;
  /** Pulled out: nothing can be listed or opened. */
  gone = false;
  /** Hears every opening of a file. */
  onOpen: (path: string) => void = () => {};
  private clock = 1_700_000_000_000;
  private queue: Promise<unknown> = Promise.resolve();

  constructor(readonly names: NameTraits = 'exact') {}

  put(path: string, bytes: Uint8Array<ArrayBuffer> | string): void {
    this.set(path, {
      bytes: typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes,
      modifiedMs: (this.clock += 1000),
    });
  }

  text(path: string): string | null {
    const file = this.files.get(path);
    return file ? new TextDecoder().decode(file.bytes) : null;
  }

  /** The path as the drive has it; where nothing has it, as it would keep it. */
  private kept(path: string): string {
    if (this.files.has(path) || this.names === 'exact') return path;
    const folded = foldName(path);
    for (const there of this.files.keys()) if (foldName(there) === folded) return there;
    return this.names === 'decomposed' ? path.normalize('NFD') : path;
  }

  private set(path: string, file: MemoryFile): void {
    this.files.set(this.kept(path), file);
  }

  private tellClosed(below: string, { onUnlisted }: ListOptions): void {
    for (const folder of this.closedFolders)
      if (folder.startsWith(below)) onUnlisted?.(folder, new DriveError('no-permission', folder));
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    const below = options.below && (this.names === 'decomposed' ? options.below.normalize('NFD') : options.below);
    this.tellClosed(below ?? '', options);
    if (this.gone && !below) throw new DriveError('not-found', '');
    const inside = below ? `${below}/` : '';
    const archives = new Set<string>();
    for (const [path, file] of [...this.files].sort(([a], [b]) => (a < b ? -1 : 1))) {
      if (!path.startsWith(inside)) continue;
      options.signal?.throwIfAborted();
      const { folders, name } = splitPath(path);
      if (options.shallow && folders.join('/') !== (below ?? '')) continue;
      const archive = path.lastIndexOf(`/${ARCHIVE_FOLDER}/`);
      if (archive >= inside.length && !archives.has(path.slice(0, archive))) {
        archives.add(path.slice(0, archive));
        options.onArchive?.(path.slice(0, archive));
      }
      if (isHiddenBelow(path, below) || [...this.closedFolders].some((folder) => path.startsWith(folder))) continue;
      if (isLeftover(name)) options.onLeftover?.(path);
      if (isLeftover(name) || isDebris(name)) continue;
      yield { path, sizeBytes: file.bytes.length, modifiedMs: file.modifiedMs };
    }
  }

  async open(path: string): Promise<File> {
    this.onOpen(path);
    if (this.gone) throw new DriveError('not-found', path);
    if (this.unreadable.has(path)) throw new DriveError('no-permission', path);
    const file = this.files.get(this.kept(path));
    if (!file) throw new DriveError('not-found', path);
    return new File([file.bytes], splitPath(path).name, { lastModified: file.modifiedMs });
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<PartFile> {
    const used = [...this.files.values()].reduce((sum, { bytes }) => sum + bytes.length, 0);
    const parts: Uint8Array<ArrayBuffer>[] = [];
    let size = 0;
    for await (const piece of pieces) {
      size += piece.length;
      if (used + size > this.capacityBytes) throw new DriveError('full', path);
      parts.push(piece.slice());
    }
    const made = partOf(path, newPartId());
    this.put(made, new Uint8Array(await new Blob(parts).arrayBuffer()));
    return {
      path: made,
      open: () => this.open(made),
      finish: async (to, over) => {
        const part = this.files.get(this.kept(made));
        if (!part || this.gone) throw new DriveError('not-found', to);
        if (over === 'free' && this.files.has(this.kept(to))) throw new DriveError('exists', to);
        this.set(to, part);
        this.files.delete(this.kept(made));
      },
      remove: () => this.remove(made),
    };
  }

  async remove(path: string): Promise<void> {
    this.files.delete(this.kept(path));
  }

  async move(from: string, to: string): Promise<void> {
    const file = this.files.get(this.kept(from));
    if (!file) throw new DriveError('not-found', from);
    if (this.files.has(this.kept(to))) throw new DriveError('exists', to);
    this.set(to, file);
    this.files.delete(this.kept(from));
  }

  async makeFolder(): Promise<void> {
    // folders are only the paths of files here
  }

  alone<T>(act: () => Promise<T>): Promise<T> {
    const mine = this.queue.then(act);
    this.queue = mine.catch(() => undefined);
    return mine;
  }

  async confirm(): Promise<void> {
    // a drive in memory has no mark by itself: `MarkedDrive` reads it
  }
}
