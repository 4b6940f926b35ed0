// What the host can serve: a drive of which a page is told folder by folder, and to which files come in pieces.

import type { Drive, DriveEntry, LazyBytes, OpenedFile } from '@/storage/drives/drive';
import type { ListedFolder } from '@/storage/host/protocol';

/** One in work on a drive at a time of what changes names. */
export type Lock = <T>(act: () => Promise<T>) => Promise<T>;

export interface ServedDrive extends Drive {
  /** A folder at a time, or a part of one. Nothing where there is no folder of that name. */
  listFolders(below: string, shallow: boolean): Iterable<ListedFolder> | AsyncIterable<ListedFolder>;
  /** The file as it was told; rejects where it is another by now. */
  same(entry: DriveEntry): Promise<OpenedFile>;
  /** A piece of a part; of a new one where `part` is empty. Answers with what the next piece says for `part`. */
  writePiece(path: string, part: string, at: number, piece: Uint8Array<ArrayBuffer>): string | Promise<string>;
  /** All of it was sent, and is kept after this. Answers with where the part lies. */
  endPart(part: string, size: number, like?: LazyBytes | { lastModified: number }): string | Promise<string>;
  finish(part: string, path: string, over: 'free' | 'old'): void | Promise<void>;
}
