// A drive over a directory handle: a folder the person picked or dropped, or a practice drive in the browser's private
// file system. Both give the same handles; only what they cost differs (see shared measurements in
// docs/ARCHITECTURE.md).

import { alone } from './alone';
import {
  ARCHIVE_FOLDER,
  type Drive,
  type DriveEntry,
  DriveError,
  type DriveProblem,
  type ListOptions,
  type PartFile,
  isDebris,
  isHiddenFolder,
  isLeftover,
  newPartId,
  partOf,
  splitPath,
} from './drive';

/** Looking at files one at a time leaves the disk idle; more than this in flight gains nothing. */
const LOOKS_IN_FLIGHT = 16;

const PROBLEMS: Record<string, DriveProblem> = {
  NotFoundError: 'not-found',
  TypeMismatchError: 'not-found',
  NotAllowedError: 'no-permission',
  SecurityError: 'no-permission',
  NoModificationAllowedError: 'no-permission',
  QuotaExceededError: 'full',
  TypeError: 'bad-name',
};

export function driveErrorOf(error: unknown, path: string): DriveError {
  if (error instanceof DriveError) return error;
  const name = error instanceof Error || error instanceof DOMException ? error.name : '';
  return new DriveError(PROBLEMS[name] ?? 'failed', path, { cause: error });
}

export class HandleDrive implements Drive {
  /** @param id whose lock is held for what changes names: the drive's, the same in every tab and worker */
  constructor(
    readonly root: FileSystemDirectoryHandle,
    readonly id: string,
  ) {}

  alone<T>(act: () => Promise<T>): Promise<T> {
    return alone(`wembo-names-${this.id}`, act);
  }

  async confirm(): Promise<void> {
    // a folder has no mark by itself: `MarkedDrive` reads it
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    // a stack, not recursion: folders may be nested as deep as a drive allows
    const start = options.below ? await this.folderAt(options.below.split('/'), false).catch(() => null) : this.root;
    const waiting = start ? [{ folder: start, prefix: options.below ? `${options.below}/` : '' }] : [];
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      const { files, folders } = await this.look(next.folder, next.prefix, options);
      if (next.prefix !== '') options.onFolder?.(next.prefix.slice(0, -1));
      for (let start = 0; start < files.length; start += LOOKS_IN_FLIGHT) {
        options.signal?.throwIfAborted();
        const { prefix } = next;
        const looked = await Promise.all(
          files.slice(start, start + LOOKS_IN_FLIGHT).map((file) => this.lookAtFile(file, prefix, options)),
        );
        for (const entry of looked) if (entry) yield entry;
      }
      if (!options.shallow)
        for (const folder of folders.reverse()) waiting.push({ folder, prefix: `${next.prefix}${folder.name}/` });
    }
  }

  /** What a folder holds, each kind by name. */
  private async look(folder: FileSystemDirectoryHandle, prefix: string, options: ListOptions) {
    const files: FileSystemFileHandle[] = [];
    const folders: FileSystemDirectoryHandle[] = [];
    try {
      for await (const child of folder.values()) {
        options.signal?.throwIfAborted();
        if (child.kind === 'file') files.push(child as FileSystemFileHandle);
        else if (!isHiddenFolder(child.name)) folders.push(child as FileSystemDirectoryHandle);
        else if (child.name === ARCHIVE_FOLDER && prefix !== '') options.onArchive?.(prefix.slice(0, -1));
      }
    } catch (error) {
      options.signal?.throwIfAborted();
      if (prefix === '') throw driveErrorOf(error, prefix); // the root itself: the drive is not there
      options.onUnlisted?.(prefix, driveErrorOf(error, prefix));
    }
    files.sort((a, b) => (a.name < b.name ? -1 : 1));
    folders.sort((a, b) => (a.name < b.name ? -1 : 1));
    return { files, folders };
  }

  private async lookAtFile(
    handle: FileSystemFileHandle,
    prefix: string,
    options: ListOptions,
  ): Promise<DriveEntry | null> {
    const path = prefix + handle.name;
    if (isLeftover(handle.name)) options.onLeftover?.(path);
    if (isLeftover(handle.name) || isDebris(handle.name)) return null;
    try {
      const file = await handle.getFile();
      return { path, sizeBytes: file.size, modifiedMs: file.lastModified };
    } catch (error) {
      options.onUnlisted?.(path, driveErrorOf(error, path));
      return null;
    }
  }

  private async folderAt(names: string[], create: boolean): Promise<FileSystemDirectoryHandle> {
    let folder = this.root;
    for (const name of names) folder = await folder.getDirectoryHandle(name, { create });
    return folder;
  }

  private folderOf(path: string, create: boolean): Promise<FileSystemDirectoryHandle> {
    return this.folderAt(splitPath(path).folders, create);
  }

  private async fileOf(path: string, create = false): Promise<FileSystemFileHandle> {
    const folder = await this.folderOf(path, create);
    return folder.getFileHandle(splitPath(path).name, { create });
  }

  async open(path: string): Promise<File> {
    try {
      const handle = await this.fileOf(path);
      return await handle.getFile();
    } catch (error) {
      throw driveErrorOf(error, path);
    }
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<PartFile> {
    try {
      const made = partOf(path, newPartId());
      const handle = await this.fileOf(made, true);
      const stream = await handle.createWritable();
      try {
        for await (const piece of pieces) await stream.write(piece);
        await stream.close();
      } catch (error) {
        await stream.abort().catch(() => undefined);
        await this.removeEntry(await this.folderOf(path, false), handle.name).catch(() => undefined);
        throw error;
      }
      return this.part(made, handle as MovableHandle);
    } catch (error) {
      throw driveErrorOf(error, path);
    }
  }

  private part(made: string, handle: MovableHandle): PartFile {
    const translating = async <T>(path: string, act: () => Promise<T>): Promise<T> => {
      try {
        return await act();
      } catch (error) {
        throw driveErrorOf(error, path);
      }
    };
    return {
      path: made,
      open: () => translating(made, () => handle.getFile()),
      finish: (path, over) =>
        translating(path, async () => {
          const { name } = splitPath(path);
          if (over === 'free' && (await isThere(await this.folderOf(path, false), name)))
            throw new DriveError('exists', path);
          await handle.move(name);
        }),
      remove: () =>
        translating(made, async () => this.removeEntry(await this.folderOf(made, false), splitPath(made).name)),
    };
  }

  private async removeEntry(folder: FileSystemDirectoryHandle, name: string): Promise<void> {
    await folder.removeEntry(name).catch((error: unknown) => {
      if (driveErrorOf(error, name).problem !== 'not-found') throw error;
    });
  }

  async move(from: string, to: string): Promise<void> {
    try {
      const handle = await this.fileOf(from);
      const folder = await this.folderOf(to, true);
      const { name } = splitPath(to);
      // the browser's own move takes the place of what is there
      if (await isThere(folder, name)) throw new DriveError('exists', to);
      await (handle as MovableHandle).move(folder, name);
    } catch (error) {
      throw driveErrorOf(error, from);
    }
  }

  async makeFolder(path: string): Promise<void> {
    try {
      await this.folderAt(path.split('/'), true);
    } catch (error) {
      throw driveErrorOf(error, path);
    }
  }

  async remove(path: string): Promise<void> {
    try {
      await this.removeEntry(await this.folderOf(path, false), splitPath(path).name);
    } catch (thrown) {
      const error = driveErrorOf(thrown, path);
      if (error.problem !== 'not-found') throw error;
    }
  }
}

/** `move` is in the File System standard's editors' draft and in Chromium; the type library does not know it yet. */
interface MovableHandle extends FileSystemFileHandle {
  move(name: string): Promise<void>;
  move(folder: FileSystemDirectoryHandle, name: string): Promise<void>;
}

async function isThere(folder: FileSystemDirectoryHandle, name: string): Promise<boolean> {
  try {
    await folder.getFileHandle(name);
    return true;
  } catch (error) {
    return error instanceof DOMException && error.name === 'TypeMismatchError'; // a folder has the name
  }
}
