// The drive: the one interface through which bytes are read from and written to a place files live.
// Paths are relative to the drive's root, with `/`, as the drive spells them. Contract: tests/contract/drive.test.ts.

export interface DriveEntry {
  path: string;
  sizeBytes: number;
  /** Last modification, milliseconds since 1970, UTC, as the drive states it. */
  modifiedMs: number;
}

/** Bytes that are read when they are asked for, in full or in part. A browser's `Blob` is such; so is a file on the host. */
export interface LazyBytes {
  readonly size: number;
  slice(start?: number, end?: number): LazyBytes;
  arrayBuffer(): Promise<ArrayBuffer>;
  /** All of them as the browser's own, for what takes nothing else; where there is none they are read at once. */
  blob?(): Promise<Blob>;
}

/** Where `slice` begins and ends in a range of bytes; counted from its end where negative, as a `Blob` does. */
export function sliceWithin(start: number, end: number, from: number, to: number): [start: number, end: number] {
  const at = (place: number) => Math.min(end, place < 0 ? Math.max(start, end + place) : start + place);
  return [at(from), Math.max(at(from), at(to))];
}

/** A file as it was when it was opened; reading rejects where it has become another since. */
export interface OpenedFile extends LazyBytes {
  readonly name: string;
  /** Milliseconds since 1970, UTC. */
  readonly lastModified: number;
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
  /** A folder below the root that holds an archive folder: a drive of its own lies there. */
  onArchive?: (path: string) => void;
}

/** A new file in the making, under a part name of its own; it takes its real name at once, or never. */
export interface PartFile {
  /** Where it lies. */
  readonly path: string;
  /** For reading back. */
  open(): Promise<OpenedFile>;
  /**
   * Gives it the name it was made for, or another in the same folder, in one step.
   * @param over `free`: only where nothing has the name, as this drive compares names; rejects with `exists`. `old`: in
   * the place of what has it.
   */
  finish(path: string, over: 'free' | 'old'): Promise<void>;
  remove(): Promise<void>;
}

export interface Drive {
  /** Files worked on at once pay off up to so many; by default a few. */
  readonly atOnce?: number;
  /** The file as a listing told it, without looking again: reading rejects where it is another by now, or gone. */
  openListed?(entry: DriveEntry): OpenedFile;
  /** Every file below the root except the archive folder, hidden folders and other programs' debris (`._NAME`). */
  list(options?: ListOptions): AsyncIterable<DriveEntry>;
  /** The file as it is now. Rejects with `DriveError`. */
  open(path: string): Promise<OpenedFile>;
  /**
   * Makes a new file that has no name yet, folders included. Rejects with `DriveError`.
   * @param like the file it is a copy of: where the drive can, it gets its time and what may be done with it
   */
  createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>, like?: LazyBytes): Promise<PartFile>;
  remove(path: string): Promise<void>;
  /**
   * Gives a file another path, folders included, in one step. Rejects with `exists` where something has it, with
   * `not-found` where there is nothing to move.
   */
  move(from: string, to: string): Promise<void>;
  /** Makes a folder, with those above it; one that is there already is left. */
  makeFolder(path: string): Promise<void>;
  /**
   * One at a time of all that gives, takes or changes names on this drive: in every tab and worker. What was looked at
   * inside still holds when it is acted on. Not to be called inside itself.
   */
  alone<T>(act: () => Promise<T>): Promise<T>;
  /**
   * Where the drive does all of `replaceFile` by itself, in one go.
   * @param mark the id of the drive it must bear; `null` where none is asked for
   */
  replace?(
    path: string,
    bytes: Uint8Array<ArrayBuffer>,
    expected: Uint8Array | null,
    mark: string | null,
  ): Promise<'replaced' | 'too-long'>;
  /** Reads whether this still is the drive it was connected as. Rejects with `other-drive`. */
  confirm(): Promise<void>;
}

export type DriveProblem =
  | 'not-found'
  | 'no-permission'
  | 'full'
  | 'bad-name'
  | 'changed-meanwhile'
  | 'exists'
  | 'read-back-differs'
  | 'source-damaged'
  | 'not-in-manifest'
  | 'source-gone'
  | 'copies-gone'
  | 'beside-differs'
  | 'words-wait'
  | 'target-gone'
  | 'other-drive'
  | 'host-gone'
  | 'host-closed'
  | 'store-silent'
  | 'store-refuses'
  | 'no-bucket'
  | 'sealed'
  | 'share-sent'
  | 'source-is-drive'
  | 'failed';

/** What went wrong on a drive. Callers act on the problem, and show the path. */
export class DriveError extends Error {
  constructor(
    readonly problem: DriveProblem,
    readonly path: string,
    options?: ErrorOptions,
  ) {
    super(`${problem}: ${path}`, options);
    this.name = 'DriveError';
  }
}

export const ARCHIVE_FOLDER = '_wembo';

/**
 * In the name of every part file. The ending of the whole stays the last: where it changes, Chromium checks the content
 * of the file at the rename once more, which takes as long as at its closing (measured: 55 ms against 1 ms for 5 MB).
 */
const PART = '.wembo-part';
const PART_NAME = /\.wembo-part(?:-[0-9a-f]{8})?/;

/**
 * Where the part of a file lies while it is written: `x.wembo-part-3f9a2c81.jpg` of `x.jpg`. No two writers share a
 * part.
 */
export function partOf(path: string, id: string): string {
  const { folders, name } = splitPath(path);
  const dot = name.lastIndexOf('.');
  const part = `${PART}-${id}`;
  return [...folders, dot > 0 ? `${name.slice(0, dot)}${part}${name.slice(dot)}` : `${name}${part}`].join('/');
}

export const newPartId = (): string => crypto.randomUUID().slice(0, 8);

/** The file that a part, or what the browser made of it, was to become. */
export const wholeOf = (part: string): string => part.replace(/\.crswap$/, '').replace(PART_NAME, '');

/** A part; `NAME.EXT.wembo-part`, as earlier versions called it, too. */
export const isLeftover = (name: string): boolean => name.includes(PART);
/**
 * `.crswap` is the browser's own name for a file being written; `._NAME` a copy of attributes made by one system's
 * drives.
 */
export const isDebris = (name: string): boolean => name.endsWith('.crswap') || name.startsWith('._');
export const isHiddenFolder = (name: string): boolean => name.startsWith('.') || name === ARCHIVE_FOLDER;

/**
 * Whether a path lies where a listing does not look: in a hidden folder, other than the one it was asked to begin with.
 */
export const isHiddenBelow = (path: string, below = ''): boolean =>
  splitPath(path.slice(below === '' ? 0 : below.length + 1)).folders.some(isHiddenFolder);

/** Whether a path is one of these, or lies below one of them: what could not be looked at is not missing. */
export const isInFolder = (path: string, folders: string[]): boolean =>
  folders.some((folder) => path === folder || path.startsWith(folder.endsWith('/') ? folder : `${folder}/`));

export function splitPath(path: string): { folders: string[]; name: string } {
  const parts = path.split('/');
  return { folders: parts.slice(0, -1), name: parts.at(-1) ?? '' };
}
