// TIFF 6.0 directories, as used by TIFF files, raws built on TIFF, and EXIF blocks; and those of BigTIFF, which differ
// in nothing but their lengths (libtiff's description of it).
// Reads through a ByteSource, because the directories of a raw may lie anywhere in it.
// Every offset and count is checked; a directory is read once; values have a budget.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { MAIN } from './exif-tags';
import type { Problem } from '../../problems/problem';

export type DirectoryKind = 'main' | 'next' | 'sub' | 'exif' | 'gps';

export interface Tag {
  type: number;
  count: number;
  /** Where the value lies, counted like all offsets of the structure. */
  offset: number;
  lengthBytes: number;
  /** The value's bytes, in the file's byte order. Empty where the value is too long to be metadata. */
  view: ByteView;
}

export type Tags = Map<number, Tag>;

export interface Directory {
  kind: DirectoryKind;
  tags: Tags;
}

export interface Tiff {
  littleEndian: boolean;
  directories: Directory[];
  problems: Problem[];
}

/** Bytes per value of each TIFF type 1–13 (TIFF 6.0 section 2, and IFD from TIFF Technical Note 1), and BigTIFF's 16–18. */
const TYPE_BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4, 0, 0, 8, 8, 8];

/** How long the parts of a directory are: the count of its entries, and an offset or a count of values. */
interface Layout {
  countBytes: 2 | 8;
  wordBytes: 4 | 8;
}
const CLASSIC: Layout = { countBytes: 2, wordBytes: 4 };
const BIG: Layout = { countBytes: 8, wordBytes: 8 };
const BIG_NUMBER = 43;
const DIRECTORIES_LIMIT = 64;
const ENTRIES_LIMIT = 4096;
const VALUE_LIMIT_BYTES = 16 * 1024 * 1024; // an XMP packet in tag 700 can be large; anything larger is not metadata
const SMALL_VALUE_BYTES = 64 * 1024;
const LARGE_TAGS = new Set([700, 33723, 34377, 34675]); // XMP, IIM, Photoshop resources, ICC profile
/** A hostile file can point thousands of tags at the same bytes; all values together stay below this. */
const ALL_VALUES_BYTES = 64 * 1024 * 1024;

const POINTERS: Readonly<Record<number, DirectoryKind>> = { 0x14a: 'sub', 0x8769: 'exif', 0x8825: 'gps' };

interface Waiting {
  offset: number;
  kind: DirectoryKind;
}

export const isBigTiff = (head: Uint8Array): boolean => new ByteView(head, head[0] === 0x49).u16(2) === BIG_NUMBER;

/** Reads all directories; the first counts as `kind`. `null` where the bytes do not open with a TIFF header. */
export async function readTiff(source: ByteSource, kind: DirectoryKind = 'main'): Promise<Tiff | null> {
  const head = await source.read(0, 16);
  const order = String.fromCharCode(head[0] ?? 0, head[1] ?? 0);
  if (order !== 'II' && order !== 'MM') return null;
  const littleEndian = order === 'II';
  const view = new ByteView(head, littleEndian);
  const big = isBigTiff(head);
  const first = big ? view.u64(8) : view.u32(4);
  if (first === null) return null;
  return new TiffReader(source, littleEndian, big ? BIG : CLASSIC).read({ offset: first, kind });
}

class TiffReader {
  private readonly tiff: Tiff;
  private bytesLeft = ALL_VALUES_BYTES;

  constructor(
    private readonly source: ByteSource,
    private readonly littleEndian: boolean,
    private readonly layout: Layout,
  ) {
    this.tiff = { littleEndian, directories: [], problems: [] };
  }

  async read(first: Waiting): Promise<Tiff> {
    const { tiff } = this;
    const waiting = [first];
    const seen = new Set<number>();
    for (let next = waiting.shift(); next && tiff.directories.length < DIRECTORIES_LIMIT; next = waiting.shift()) {
      if (next.offset === 0) continue;
      if (seen.has(next.offset)) {
        tiff.problems.push({ code: 'tiff/directory-loop', offset: next.offset });
        continue;
      }
      seen.add(next.offset);
      waiting.push(...(await this.directory(next)));
    }
    return tiff;
  }

  private view(bytes: Uint8Array): ByteView {
    return new ByteView(bytes, this.littleEndian);
  }

  private word(view: ByteView, at: number): number | null {
    return this.layout.wordBytes === 4 ? view.u32(at) : view.u64(at);
  }

  /** Reads one directory, and answers with the directories it points to. */
  private async directory({ offset, kind }: Waiting): Promise<Waiting[]> {
    const { problems } = this.tiff;
    const { countBytes, wordBytes } = this.layout;
    const entryBytes = 4 + 2 * wordBytes;
    const counted = this.view(await this.source.read(offset, countBytes));
    const count = countBytes === 2 ? counted.u16(0) : counted.u64(0);
    if (count === null) {
      problems.push({ code: 'tiff/directory-past-end', offset });
      return [];
    }
    if (count > ENTRIES_LIMIT) {
      problems.push({ code: 'tiff/too-many-entries', limit: ENTRIES_LIMIT });
      return [];
    }
    const table = this.view(await this.source.read(offset + countBytes, count * entryBytes + wordBytes));
    const tags: Tags = new Map();
    const found: Waiting[] = [];
    for (let index = 0; index < count; index++) {
      const id = table.u16(index * entryBytes);
      if (id === null) {
        problems.push({ code: 'tiff/directory-past-end', offset });
        break;
      }
      const tag = await this.tag(table, index * entryBytes, id, offset + countBytes);
      if (!tag) continue;
      if (!tags.has(id)) tags.set(id, tag);
      const pointer = POINTERS[id];
      if (pointer)
        found.push(
          ...numbersOf(tag)
            .filter(Number.isInteger)
            .map((to) => ({ offset: to, kind: pointer })),
        );
    }
    this.tiff.directories.push({ kind, tags });
    const next = this.word(table, count * entryBytes);
    if (next && kind !== 'exif' && kind !== 'gps') found.push({ offset: next, kind: kind === 'main' ? 'next' : kind });
    return found;
  }

  private async tag(table: ByteView, at: number, id: number, tableOffset: number): Promise<Tag | null> {
    const type = table.u16(at + 2) ?? 0;
    const count = this.word(table, at + 4) ?? 0;
    const valueAt = at + 4 + this.layout.wordBytes;
    const lengthBytes = (TYPE_BYTES[type] ?? 0) * count;
    if (lengthBytes === 0) return null;
    if (lengthBytes <= this.layout.wordBytes)
      return {
        type,
        count,
        lengthBytes,
        offset: tableOffset + valueAt,
        view: this.view(table.slice(valueAt, lengthBytes) ?? new Uint8Array()),
      };
    const offset = this.word(table, valueAt) ?? 0;
    const tooLong =
      lengthBytes > (LARGE_TAGS.has(id) ? VALUE_LIMIT_BYTES : SMALL_VALUE_BYTES) || lengthBytes > this.bytesLeft;
    if (tooLong) return { type, count, lengthBytes, offset, view: this.view(new Uint8Array()) };
    this.bytesLeft -= lengthBytes;
    const value = await this.source.read(offset, lengthBytes);
    if (value.length < lengthBytes) {
      this.tiff.problems.push({ code: 'tiff/value-past-end', tag: id });
      return null;
    }
    return { type, count, lengthBytes, offset, view: this.view(value) };
  }
}

/** The tags of the first directory of a kind, in any of the structures. */
export function tagsOf(tiffs: readonly Tiff[], kind: DirectoryKind): Tags {
  for (const { directories } of tiffs) {
    const found = directories.find((directory) => directory.kind === kind);
    if (found) return found.tags;
  }
  return new Map();
}

/** Whether a directory is marked as a smaller version of another picture (TIFF 6.0, NewSubfileType, bit 0). */
export const isReduced = (tags: Tags): boolean => ((numberOf(tags.get(MAIN.subfileType)) ?? 0) & 1) === 1;

/** The numbers of a tag, `limit` at most: integers as they are, rationals divided (a zero denominator gives NaN). */
export function numbersOf(tag: Tag, limit = 256): number[] {
  const size = TYPE_BYTES[tag.type] ?? 0;
  const numbers: number[] = [];
  for (let index = 0; index < tag.count && index < limit; index++) {
    const value = numberAt(tag.view, tag.type, index * size);
    if (value === null) break;
    numbers.push(value);
  }
  return numbers;
}

/** The first number of a tag; `null` where there is none. */
export function numberOf(tag: Tag | undefined): number | null {
  const value = tag ? numbersOf(tag, 1)[0] : undefined;
  return value !== undefined && Number.isFinite(value) ? value : null;
}

function numberAt(view: ByteView, type: number, at: number): number | null {
  if (type === 1 || type === 7) return view.u8(at);
  if (type === 6) return view.i8(at);
  if (type === 3) return view.u16(at);
  if (type === 8) return view.i16(at);
  if (type === 4 || type === 13) return view.u32(at);
  if (type === 16 || type === 18) return view.u64(at);
  if (type === 9) return view.i32(at);
  if (type === 11) return view.f32(at);
  if (type === 12) return view.f64(at);
  if (type === 5) return ratio(view.u32(at), view.u32(at + 4));
  if (type === 10) return ratio(view.i32(at), view.i32(at + 4));
  return null;
}

const ratio = (top: number | null, bottom: number | null) =>
  top === null || bottom === null ? null : bottom === 0 ? NaN : top / bottom;
