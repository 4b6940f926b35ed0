// A folder in a browser that gives files but no handles: it can be read until the page is closed, and not written.

import { type Drive, type DriveEntry, DriveError, type ListOptions, isDebris, isHiddenBelow, isLeftover, splitPath } from './drive';

export class ListedDrive implements Drive {
  readonly name: string;
  private readonly files = new Map<string, File>();

  /** @param files as a folder input gives them: `webkitRelativePath` begins with the folder's own name. Single files have none, and go by `name`. */
  constructor(files: Iterable<File>, name = '') {
    for (const file of files) {
      const [root, ...rest] = file.webkitRelativePath.split('/');
      if (root) name = root;
      this.files.set(rest.length > 0 ? rest.join('/') : file.name, file);
    }
    this.name = name;
  }

  async *list({ signal, below, shallow }: ListOptions = {}): AsyncGenerator<DriveEntry> {
    for (const [path, file] of this.files) {
      signal?.throwIfAborted();
      const { folders, name } = splitPath(path);
      if (below && !path.startsWith(`${below}/`)) continue;
      if (shallow && folders.join('/') !== (below ?? '')) continue;
      if (isHiddenBelow(path, below) || isDebris(name) || isLeftover(name)) continue;
      yield { path, sizeBytes: file.size, modifiedMs: file.lastModified };
    }
  }

  async open(path: string): Promise<File> {
    const file = this.files.get(path);
    if (!file) throw new DriveError('not-found', path);
    return file;
  }

  private refuse(path: string): never {
    throw new DriveError('no-permission', path);
  }

  openPart = async (path: string) => this.refuse(path);
  createPart = async (path: string) => this.refuse(path);
  finishPart = async (path: string) => this.refuse(path);
  removePart = async (path: string) => this.refuse(path);
  remove = async (path: string) => this.refuse(path);
  move = async (path: string) => this.refuse(path);
  makeFolder = async (path: string) => this.refuse(path);
}
