// TIFF 6.0 directories, as used by TIFF files, raws built on TIFF, and EXIF blocks.
// Reads through a ByteSource, because the directories of a raw may lie anywhere in it.
// Every offset and count is checked; a directory is read once; values have a budget.

import type { ByteSource } from '../bytes/source';
import { ByteView } from '../bytes/view';
import type { Problem } from '../problems/problem';

export type DirectoryKind = 'main' | 'next' | 'sub' | 'exif' | 'gps';

export interface Tag {
  type: number;
  count: number;
  /** The value's bytes, in the file's byte order. */
  view: ByteView;
}

export interface Directory {
  kind: DirectoryKind;
  tags: Map<number, Tag>;
}

export interface Tiff {
  littleEndian: boolean;
  directories: Directory[];
  problems: Problem[];
}

/** Bytes per value of each TIFF type 1–13 (TIFF 6.0 section 2, and IFD from TIFF Technical Note 1). */
const TYPE_BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4];
const DIRECTORIES_LIMIT = 64;
const ENTRIES_LIMIT = 4096;
const VALUE_LIMIT_BYTES = 16 * 1024 * 1024; // an XMP packet in tag 700 can be large; anything larger is not metadata
const SMALL_VALUE_BYTES = 64 * 1024;
const LARGE_TAGS = new Set([700, 33723, 34377]); // XMP, IIM, Photoshop resources

const POINTERS: Record<number, DirectoryKind> = { 0x14a: 'sub', 0x8769: 'exif', 0x8825: 'gps' };

/** Reads all directories. `null` where the bytes do not open with a TIFF header. */
export async function readTiff(source: ByteSource): Promise<Tiff | null> {
  const head = await source.read(0, 8);
  const order = String.fromCharCode(head[0] ?? 0, head[1] ?? 0);
  if (order !== 'II' && order !== 'MM') return null;
  const littleEndian = order === 'II';
  const first = new ByteView(head, littleEndian).u32(4);
  if (first === null) return null;
  const tiff: Tiff = { littleEndian, directories: [], problems: [] };
  const waiting: { offset: number; kind: DirectoryKind }[] = [{ offset: first, kind: 'main' }];
  const seen = new Set<number>();
  for (let next = waiting.shift(); next && tiff.directories.length < DIRECTORIES_LIMIT; next = waiting.shift()) {
    if (next.offset === 0) continue;
    if (seen.has(next.offset)) {
      tiff.problems.push({ code: 'tiff/directory-loop', offset: next.offset });
      continue;
    }
    seen.add(next.offset);
    waiting.push(...(await readDirectory(source, next.offset, next.kind, tiff)));
  }
  return tiff;
}

/** Reads one directory into `tiff`, and answers with the directories it points to. */
async function readDirectory(source: ByteSource, offset: number, kind: DirectoryKind, tiff: Tiff) {
  const view = (bytes: Uint8Array) => new ByteView(bytes, tiff.littleEndian);
  const count = view(await source.read(offset, 2)).u16(0);
  if (count === null) {
    tiff.problems.push({ code: 'tiff/directory-past-end', offset });
    return [];
  }
  if (count > ENTRIES_LIMIT) {
    tiff.problems.push({ code: 'tiff/too-many-entries', limit: ENTRIES_LIMIT });
    return [];
  }
  const table = view(await source.read(offset + 2, count * 12 + 4));
  const directory: Directory = { kind, tags: new Map() };
  const found: { offset: number; kind: DirectoryKind }[] = [];
  for (let index = 0; index < count; index++) {
    const at = index * 12;
    const id = table.u16(at);
    if (id === null) {
      tiff.problems.push({ code: 'tiff/directory-past-end', offset });
      break;
    }
    const tag = await readTag(source, table, at, id, tiff);
    if (!tag) continue;
    if (!directory.tags.has(id)) directory.tags.set(id, tag);
    const pointer = POINTERS[id];
    if (pointer) found.push(...numbersOf(tag).map((to) => ({ offset: to, kind: pointer })));
  }
  tiff.directories.push(directory);
  const next = table.u32(count * 12);
  if (next && kind !== 'exif' && kind !== 'gps') found.push({ offset: next, kind: kind === 'main' ? 'next' : kind });
  return found;
}

async function readTag(source: ByteSource, table: ByteView, at: number, id: number, tiff: Tiff): Promise<Tag | null> {
  const type = table.u16(at + 2) ?? 0;
  const count = table.u32(at + 4) ?? 0;
  const bytes = (TYPE_BYTES[type] ?? 0) * count;
  if (bytes === 0) return null;
  if (bytes <= 4) return { type, count, view: new ByteView(table.slice(at + 8, bytes) ?? new Uint8Array(), tiff.littleEndian) };
  if (bytes > (LARGE_TAGS.has(id) ? VALUE_LIMIT_BYTES : SMALL_VALUE_BYTES)) return null;
  const value = await source.read(table.u32(at + 8) ?? 0, bytes);
  if (value.length < bytes) {
    tiff.problems.push({ code: 'tiff/value-past-end', tag: id });
    return null;
  }
  return { type, count, view: new ByteView(value, tiff.littleEndian) };
}

/** The numbers of a tag: integers as they are, rationals divided (a zero denominator gives NaN). */
export function numbersOf(tag: Tag): number[] {
  const size = TYPE_BYTES[tag.type] ?? 0;
  const numbers: number[] = [];
  for (let index = 0; index < tag.count && index < 256; index++) {
    const value = numberAt(tag.view, tag.type, index * size);
    if (value !== null) numbers.push(value);
  }
  return numbers;
}

function numberAt(view: ByteView, type: number, at: number): number | null {
  if (type === 1 || type === 7) return view.u8(at);
  if (type === 3) return view.u16(at);
  if (type === 4 || type === 13) return view.u32(at);
  if (type === 9) return view.i32(at);
  if (type === 5) return ratio(view.u32(at), view.u32(at + 4));
  if (type === 10) return ratio(view.i32(at), view.i32(at + 4));
  return null;
}

const ratio = (top: number | null, bottom: number | null) => (top === null || !bottom ? NaN : top / bottom);
