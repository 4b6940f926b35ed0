// A drive in memory, for tests. It can be made to fail: full after so many bytes, unreadable paths, cut off between steps.

import { type Drive, type DriveEntry, DriveError, type ListOptions, isDebris, isHiddenBelow, isLeftover, partOf, splitPath } from './drive';

export class MemoryDrive implements Drive {
  readonly files = new Map<string, { bytes: Uint8Array<ArrayBuffer>; modifiedMs: number }>();
  readonly unreadable = new Set<string>();
  /** Folders (with their `/`) that cannot be listed. */
  readonly closedFolders = new Set<string>();
  capacityBytes = Infinity;
  /** Pulled out: nothing can be listed or opened. */
  gone = false;
  /** Hears every opening of a file. */
  onOpen: (path: string) => void = () => {};
  private clock = 1_700_000_000_000;

  put(path: string, bytes: Uint8Array<ArrayBuffer> | string): void {
    this.files.set(path, { bytes: typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes, modifiedMs: (this.clock += 1000) });
  }

  text(path: string): string | null {
    const file = this.files.get(path);
    return file ? new TextDecoder().decode(file.bytes) : null;
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    for (const folder of this.closedFolders) if (folder.startsWith(options.below ?? '')) options.onUnlisted?.(folder, new DriveError('no-permission', folder));
    if (this.gone && !options.below) throw new DriveError('not-found', '');
    for (const [path, file] of [...this.files].sort(([a], [b]) => (a < b ? -1 : 1))) {
      if (options.below && !path.startsWith(`${options.below}/`)) continue;
      options.signal?.throwIfAborted();
      const { folders, name } = splitPath(path);
      if (options.shallow && folders.join('/') !== (options.below ?? '')) continue;
      if (isHiddenBelow(path, options.below) || [...this.closedFolders].some((folder) => path.startsWith(folder))) continue;
      if (isLeftover(name)) options.onLeftover?.(path);
      if (isLeftover(name) || isDebris(name)) continue;
      yield { path, sizeBytes: file.bytes.length, modifiedMs: file.modifiedMs };
    }
  }

  async open(path: string): Promise<File> {
    this.onOpen(path);
    if (this.gone) throw new DriveError('not-found', path);
    if (this.unreadable.has(path)) throw new DriveError('no-permission', path);
    const file = this.files.get(path);
    if (!file) throw new DriveError('not-found', path);
    return new File([file.bytes], splitPath(path).name, { lastModified: file.modifiedMs });
  }

  openPart(path: string): Promise<File> {
    return this.open(partOf(path));
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<void> {
    const used = [...this.files.values()].reduce((sum, { bytes }) => sum + bytes.length, 0);
    const parts: Uint8Array<ArrayBuffer>[] = [];
    let size = 0;
    for await (const piece of pieces) {
      size += piece.length;
      if (used + size > this.capacityBytes) throw new DriveError('full', path);
      parts.push(piece.slice());
    }
    this.put(partOf(path), new Uint8Array(await new Blob(parts).arrayBuffer()));
  }

  async finishPart(path: string): Promise<void> {
    const part = this.files.get(partOf(path));
    if (!part) throw new DriveError('not-found', path);
    this.files.set(path, part);
    this.files.delete(partOf(path));
  }

  removePart(path: string): Promise<void> {
    return this.remove(partOf(path));
  }

  async remove(path: string): Promise<void> {
    this.files.delete(path);
  }

  async move(from: string, to: string): Promise<void> {
    const file = this.files.get(from);
    if (!file) throw new DriveError('not-found', from);
    if (this.files.has(to)) throw new DriveError('exists', to);
    this.files.set(to, file);
    this.files.delete(from);
  }

  async makeFolder(): Promise<void> {
    // folders are only the paths of files here
  }
}
