// A folder out of which no path leads. Names are walked one by one, each opened in the folder that was opened before
// it, and no link is followed anywhere: a path that was looked at and opened afterwards would lose the race against a
// link that takes its place in between (measured: 3 times in 4,000; this way never). Where the system gives opened
// folders no name under /proc, each folder is looked at instead, and what was opened is held against its path after it
// was opened. What is opened is never waited for: a pipe would hold up the server for ever.
//
// Everything here waits for the disk: it runs in threads of its own.

import fs from 'node:fs';
import path from 'node:path';
import { foldName } from '@/core/names/file-names';
import { DriveError, type DriveProblem } from '@/storage/drives/drive';

const { O_RDONLY, O_DIRECTORY = 0, O_NOFOLLOW = 0, O_NONBLOCK = 0, O_DIRECT = 0 } = fs.constants;

const OPENED = '/proc/self/fd';

const PROBLEMS: Record<string, DriveProblem> = {
  ENOENT: 'not-found',
  ENOTDIR: 'not-found',
  EISDIR: 'not-found',
  // a link: nothing of the folder
  ELOOP: 'not-found',
  EMLINK: 'not-found',
  EACCES: 'no-permission',
  EPERM: 'no-permission',
  EROFS: 'no-permission',
  ENOSPC: 'full',
  EDQUOT: 'full',
  EFBIG: 'full',
  ENAMETOOLONG: 'bad-name',
  EINVAL: 'bad-name',
  EEXIST: 'exists',
  ENOTEMPTY: 'exists',
};

export const errorCode = (error: unknown): string =>
  error instanceof Error && 'code' in error ? String(error.code) : '';

/** The path is the one that was asked for, below the folder: nothing is told of where that lies. */
export const diskErrorOf = (error: unknown, asked: string): DriveError =>
  error instanceof DriveError ? error : new DriveError(PROBLEMS[errorCode(error)] ?? 'failed', asked, { cause: error });

/** The names of a path. @throws DriveError `bad-name` where one of them leads anywhere but down */
export function namesOf(asked: string): string[] {
  if (asked === '') return [];
  const names = asked.split('/');
  for (const name of names)
    if (
      name === '' ||
      name === '.' ||
      name === '..' ||
      name.includes('\0') ||
      (path.sep === '\\' && /[\\:]/.test(name))
    )
      throw new DriveError('bad-name', asked);
  return names;
}

export interface OpenedFolder {
  /** What is in it has this before its name. */
  readonly at: string;
  close(): void;
}

/** How folders are walked; both hold the same tests. */
export type Walk = 'by-opened' | 'by-path';

export const walkHere: Walk = fs.existsSync(OPENED) ? 'by-opened' : 'by-path';

export class ConfinedFolder {
  /** @param root absolute, with every link in it followed when it was chosen */
  constructor(
    readonly root: string,
    private readonly walk: Walk = walkHere,
  ) {}

  /** @throws DriveError `not-found` where it, or what leads there, is not there or is a link */
  openFolder(asked: string, make = false): OpenedFolder {
    const names = namesOf(asked);
    try {
      return this.walk === 'by-opened' ? this.openByOpened(names, make) : this.openByPath(names, make);
    } catch (error) {
      throw diskErrorOf(error, asked);
    }
  }

  private openByOpened(names: readonly string[], make: boolean): OpenedFolder {
    let folder = fs.openSync(this.root, O_RDONLY | O_DIRECTORY | O_NOFOLLOW);
    try {
      if (fs.readlinkSync(`${OPENED}/${folder}`) !== this.root) throw new DriveError('not-found', '');
      for (const name of names) {
        const place = `${OPENED}/${folder}/${name}`;
        if (make) makeIfMissing(place);
        const next = fs.openSync(place, O_RDONLY | O_DIRECTORY | O_NOFOLLOW);
        fs.closeSync(folder);
        folder = next;
      }
    } catch (error) {
      fs.closeSync(folder);
      throw error;
    }
    return { at: `${OPENED}/${folder}`, close: () => fs.closeSync(folder) };
  }

  private openByPath(names: readonly string[], make: boolean): OpenedFolder {
    let at = this.root;
    if (!fs.lstatSync(at).isDirectory()) throw new DriveError('not-found', '');
    for (const name of names) {
      at = path.join(at, name);
      if (make) makeIfMissing(at);
      if (!fs.lstatSync(at).isDirectory()) throw new DriveError('not-found', '');
    }
    if (!isSamePath(fs.realpathSync.native(at), path.join(this.root, ...names))) throw new DriveError('not-found', '');
    return { at, close: () => undefined };
  }

  /** Works in the folder that holds the path; `name` is its last part. */
  inFolderOf<T>(asked: string, work: (folder: OpenedFolder, name: string) => T, make = false): T {
    const names = namesOf(asked);
    const name = names.pop();
    if (name === undefined) throw new DriveError('bad-name', asked);
    const folder = this.openFolder(names.join('/'), make);
    try {
      return work(folder, name);
    } catch (error) {
      throw diskErrorOf(error, asked);
    } finally {
      folder.close();
    }
  }

  /**
   * A file that is opened for reading, past the system's cache where `direct` is asked for and the file system does it.
   * @throws DriveError `not-found` for a folder, a link, a pipe, a device
   */
  openFile(asked: string, direct = false): { fd: number; isDirect: boolean } {
    return this.inFolderOf(asked, (folder, name) => {
      const place = `${folder.at}/${name}`;
      const open = (flags: number) => fs.openSync(place, O_RDONLY | O_NOFOLLOW | O_NONBLOCK | flags);
      const opened = direct && O_DIRECT !== 0 ? openDirect(open) : { fd: open(0), isDirect: false };
      try {
        this.holdAgainst(opened.fd, asked);
        return opened;
      } catch (error) {
        fs.closeSync(opened.fd);
        throw error;
      }
    });
  }

  private holdAgainst(fd: number, asked: string): void {
    const opened = fs.fstatSync(fd);
    if (!opened.isFile()) throw new DriveError('not-found', asked);
    if (this.walk === 'by-opened') return;
    const wanted = path.join(this.root, ...namesOf(asked));
    const there = fs.lstatSync(wanted);
    if (there.ino !== opened.ino || there.dev !== opened.dev || !isSamePath(fs.realpathSync.native(wanted), wanted))
      throw new DriveError('not-found', asked);
  }
}

/** Some file systems (those in memory, some over the network) do not read past the cache. */
function openDirect(open: (flags: number) => number): { fd: number; isDirect: boolean } {
  try {
    return { fd: open(O_DIRECT), isDirect: true };
  } catch (error) {
    if (errorCode(error) !== 'EINVAL') throw error;
    return { fd: open(0), isDirect: false };
  }
}

function makeIfMissing(place: string): void {
  try {
    fs.mkdirSync(place);
  } catch (error) {
    if (errorCode(error) !== 'EEXIST') throw error;
  }
}

/** Drives that take no notice of case give a name back as they keep it. */
const isSamePath = (a: string, b: string): boolean => foldName(a) === foldName(b);
