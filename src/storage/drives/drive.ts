// The drive: the one interface through which bytes are read from and written to a place files live.
// Paths are relative to the drive's root, with `/`, as the drive spells them. Contract: tests/contract/drive.test.ts.

export interface DriveEntry {
  path: string;
  sizeBytes: number;
  /** Last modification, milliseconds since 1970, UTC, as the drive states it. */
  modifiedMs: number;
}

export interface ListOptions {
  signal?: AbortSignal;
  /** Only what lies below this folder; nothing where there is no such folder. */
  below?: string;
  /** Only the files of that folder itself. */
  shallow?: boolean;
  /** A folder that is there, with or without files. */
  onFolder?: (path: string) => void;
  /** A folder or file that could not be looked at; the listing goes on. */
  onUnlisted?: (path: string, error: DriveError) => void;
  /** A part file of ours that an interruption left behind. */
  onLeftover?: (path: string) => void;
}

export interface Drive {
  /** Every file below the root except the archive folder, hidden folders and other programs' debris (`._NAME`). */
  list(options?: ListOptions): AsyncIterable<DriveEntry>;
  /** The file as it is now. Rejects with `DriveError`. */
  open(path: string): Promise<File>;
  /** Makes a new file under its part name, folders included; any older part is replaced. Rejects with `DriveError`. */
  createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): Promise<void>;
  /** Opens the part of `path` for reading back. */
  openPart(path: string): Promise<File>;
  /** Gives the part its real name, taking the place of what had it, in one step. */
  finishPart(path: string): Promise<void>;
  removePart(path: string): Promise<void>;
  remove(path: string): Promise<void>;
  /** Gives a file another path, folders included, in one step. Rejects with `exists` where something has it, with `not-found` where there is nothing to move. */
  move(from: string, to: string): Promise<void>;
  /** Makes a folder, with those above it; one that is there already is left. */
  makeFolder(path: string): Promise<void>;
}

export type DriveFault = 'not-found' | 'no-permission' | 'full' | 'bad-name' | 'changed-meanwhile' | 'exists' | 'read-back-differs' | 'source-damaged' | 'source-gone' | 'copies-gone' | 'target-gone' | 'failed';

/** What went wrong on a drive. Callers act on the fault, and show the path. */
export class DriveError extends Error {
  constructor(
    readonly fault: DriveFault,
    readonly path: string,
    options?: ErrorOptions,
  ) {
    super(`${fault}: ${path}`, options);
    this.name = 'DriveError';
  }
}

export const ARCHIVE_FOLDER = '_wembo';

/** In the name of every part file. The ending of the whole stays the last: where it changes, Chromium checks the content of the file at the rename once more, which takes as long as at its closing (measured: 55 ms against 1 ms for 5 MB). */
const PART = '.wembo-part';

/** Where the part of a file lies while it is written: `x.wembo-part.jpg` of `x.jpg`. */
export function partOf(path: string): string {
  const { folders, name } = splitPath(path);
  const dot = name.lastIndexOf('.');
  return [...folders, dot > 0 ? `${name.slice(0, dot)}${PART}${name.slice(dot)}` : `${name}${PART}`].join('/');
}

/** The file that a part, or what the browser made of it, was to become. */
export const wholeOf = (part: string): string => part.replace(/\.crswap$/, '').replace(PART, '');

/** A part; `NAME.EXT.wembo-part`, as earlier versions called it, too. */
export const isLeftover = (name: string): boolean => name.includes(PART);
/** `.crswap` is the browser's own name for a file being written; `._NAME` a copy of attributes made by one system's drives. */
export const isDebris = (name: string): boolean => name.endsWith('.crswap') || name.startsWith('._');
export const isHiddenFolder = (name: string): boolean => name.startsWith('.') || name === ARCHIVE_FOLDER;

/** Whether a path lies where a listing does not look: in a hidden folder, other than the one it was asked to begin with. */
export const isHiddenBelow = (path: string, below = ''): boolean => splitPath(path.slice(below === '' ? 0 : below.length + 1)).folders.some(isHiddenFolder);

/** Whether a path is one of these, or lies below one of them: what could not be looked at is not missing. */
export const isBelow = (path: string, folders: string[]): boolean => folders.some((folder) => path === folder || path.startsWith(folder.endsWith('/') ? folder : `${folder}/`));

export function splitPath(path: string): { folders: string[]; name: string } {
  const parts = path.split('/');
  return { folders: parts.slice(0, -1), name: parts.at(-1) ?? '' };
}
