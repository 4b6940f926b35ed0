// Directory and file handles over a folder of the disk, as a browser would give them, for holding the drive adapter
// against real files without a browser. Writing goes to a swap file that takes the old one's place on close.

import {
  createWriteStream,
  existsSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  type WriteStream,
} from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';

const notFound = (name: string) => new DOMException(`${name} is not there`, 'NotFoundError');

class NodeFileHandle {
  readonly kind = 'file';

  constructor(private place: string) {}

  get name(): string {
    return path.basename(this.place);
  }

  async getFile(): Promise<File> {
    if (!existsSync(this.place)) throw notFound(this.name);
    return new File([await readFile(this.place)], this.name, {
      lastModified: Math.floor(statSync(this.place).mtimeMs),
    });
  }

  async createWritable() {
    const swap = `${this.place}.crswap`;
    const stream: WriteStream = createWriteStream(swap);
    return {
      write: (bytes: Uint8Array) =>
        new Promise<void>((resolve, reject) => stream.write(bytes, (error) => (error ? reject(error) : resolve()))),
      close: () => new Promise<void>((resolve) => stream.end(() => resolve())).then(() => renameSync(swap, this.place)),
      abort: async () => rmSync(swap, { force: true }),
    };
  }

  async move(...to: [name: string] | [folder: NodeFolderHandle, name: string]): Promise<void> {
    const [folder, name] = to.length === 2 ? [to[0].place, to[1]] : [path.dirname(this.place), to[0]];
    this.rename(path.join(folder, name));
  }

  private rename(to: string): void {
    renameSync(this.place, to);
    this.place = to;
  }
}

class NodeFolderHandle {
  readonly kind = 'directory';

  constructor(readonly place: string) {}

  get name(): string {
    return path.basename(this.place);
  }

  async *values() {
    if (!existsSync(this.place)) throw notFound(this.name);
    for (const entry of readdirSync(this.place, { withFileTypes: true })) {
      const inside = path.join(this.place, entry.name);
      yield entry.isDirectory() ? new NodeFolderHandle(inside) : new NodeFileHandle(inside);
    }
  }

  async getDirectoryHandle(name: string, { create = false } = {}) {
    const inside = path.join(this.place, name);
    if (create) mkdirSync(inside, { recursive: true });
    if (!existsSync(inside)) throw notFound(name);
    if (!statSync(inside).isDirectory()) throw new DOMException(name, 'TypeMismatchError');
    return new NodeFolderHandle(inside);
  }

  async getFileHandle(name: string, { create = false } = {}) {
    if (name.includes('/') || name === '') throw new TypeError('Name is not allowed.');
    const inside = path.join(this.place, name);
    if (!existsSync(inside)) {
      if (!create) throw notFound(name);
      createWriteStream(inside).end();
    } else if (statSync(inside).isDirectory()) throw new DOMException(name, 'TypeMismatchError');
    return new NodeFileHandle(inside);
  }

  async removeEntry(name: string): Promise<void> {
    const inside = path.join(this.place, name);
    if (!existsSync(inside)) throw notFound(name);
    rmSync(inside);
  }
}

export const nodeFolder = (place: string): FileSystemDirectoryHandle =>
  new NodeFolderHandle(place) as unknown as FileSystemDirectoryHandle;
