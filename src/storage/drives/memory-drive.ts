// A drive in memory, for tests. It can be made to fail: full after so many bytes, unreadable paths, cut off between steps.

import { type Drive, type DriveEntry, DriveError, type ListOptions, PART_ENDING, isDebris, isHiddenFolder, isLeftover, splitPath } from './drive';

export class MemoryDrive implements Drive {
  readonly files = new Map<string, { bytes: Uint8Array<ArrayBuffer>; modifiedMs: number }>();
  readonly unreadable = new Set<string>();
  /** Folders (with their `/`) that cannot be listed. */
  readonly closedFolders = new Set<string>();
  capacityBytes = Infinity;
  private clock = 1_700_000_000_000;

  put(path: string, bytes: Uint8Array<ArrayBuffer> | string): void {
    this.files.set(path, { bytes: typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes, modifiedMs: (this.clock += 1000) });
  }

  text(path: string): string | null {
    const file = this.files.get(path);
    return file ? new TextDecoder().decode(file.bytes) : null;
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    for (const folder of this.closedFolders) options.onUnlisted?.(folder, new DriveError('no-permission', folder));
    for (const [path, file] of [...this.files].sort(([a], [b]) => (a < b ? -1 : 1))) {
      options.signal?.throwIfAborted();
      const { folders, name } = splitPath(path);
      if (folders.some(isHiddenFolder) || [...this.closedFolders].some((folder) => path.startsWith(folder))) continue;
      if (isLeftover(name)) options.onLeftover?.(path);
      if (isLeftover(name) || isDebris(name)) continue;
      yield { path, sizeBytes: file.bytes.length, modifiedMs: file.modifiedMs };
    }
  }

  async open(path: string): Promise<File> {
    if (this.unreadable.has(path)) throw new DriveError('no-permission', path);
    const file = this.files.get(path);
    if (!file) throw new DriveError('not-found', path);
    return new File([file.bytes], splitPath(path).name, { lastModified: file.modifiedMs });
  }

  openPart(path: string): Promise<File> {
    return this.open(path + PART_ENDING);
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
    this.put(path + PART_ENDING, new Uint8Array(await new Blob(parts).arrayBuffer()));
  }

  async finishPart(path: string): Promise<void> {
    const part = this.files.get(path + PART_ENDING);
    if (!part) throw new DriveError('not-found', path);
    this.files.set(path, part);
    this.files.delete(path + PART_ENDING);
  }

  removePart(path: string): Promise<void> {
    return this.remove(path + PART_ENDING);
  }

  async remove(path: string): Promise<void> {
    this.files.delete(path);
  }
}
