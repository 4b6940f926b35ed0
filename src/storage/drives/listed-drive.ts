// A folder in a browser that gives files but no handles: it can be read until the page is closed, and not written.

import {
  ARCHIVE_FOLDER,
  type Drive,
  type DriveEntry,
  DriveError,
  type ListOptions,
  isDebris,
  isHiddenBelow,
  isLeftover,
  splitPath,
} from './drive';

export class ListedDrive implements Drive {
  readonly name: string;
  private readonly files = new Map<string, File>();

  /**
   * @param files as a folder input gives them: `webkitRelativePath` begins with the folder's own name. Single files
   * have none, and go by `name`.
   */
  constructor(files: Iterable<File>, name = '') {
    for (const file of files) {
      const [root, ...rest] = file.webkitRelativePath.split('/');
      if (root) name = root;
      this.files.set(rest.length > 0 ? rest.join('/') : file.name, file);
    }
    this.name = name;
  }

  async *list({ signal, below, shallow, onArchive }: ListOptions = {}): AsyncGenerator<DriveEntry> {
    const archives = new Set<string>();
    for (const [path, file] of this.files) {
      const archive = path.lastIndexOf(`/${ARCHIVE_FOLDER}/`);
      if (archive > 0 && !below) archives.add(path.slice(0, archive));
      signal?.throwIfAborted();
      const { folders, name } = splitPath(path);
      if (below && !path.startsWith(`${below}/`)) continue;
      if (shallow && folders.join('/') !== (below ?? '')) continue;
      if (isHiddenBelow(path, below) || isDebris(name) || isLeftover(name)) continue;
      yield { path, sizeBytes: file.size, modifiedMs: file.lastModified };
    }
    for (const archive of archives) onArchive?.(archive);
  }

  async open(path: string): Promise<File> {
    const file = this.files.get(path);
    if (!file) throw new DriveError('not-found', path);
    return file;
  }

  private refuse(path: string): never {
    throw new DriveError('no-permission', path);
  }

  createPart = async (path: string) => this.refuse(path);
  remove = async (path: string) => this.refuse(path);
  move = async (path: string) => this.refuse(path);
  makeFolder = async (path: string) => this.refuse(path);
  /** Nothing here has a name to give. */
  alone = <T>(act: () => Promise<T>): Promise<T> => act();

  async confirm(): Promise<void> {
    // the files are those the browser handed over, whatever is plugged in since
  }
}
