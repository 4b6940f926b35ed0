// New values in TIFF directories by appending: the changed values, a new copy of each changed directory and a closing
// note go to the end, and the header points to the new first directory. No existing offset moves, so makers' notes and
// all other data stay valid. The note holds where the original ended and what it pointed to: the next edit starts from
// the original again, and an edit taken back gives its very bytes. A checksum in the note tells when another program
// has changed something in what was appended; then it counts as the original.

import { crc32 } from '../../bytes/crc32';
import { asciiBytes, joinBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { type ByteSource, sectionOf } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { EXIF, GPS, MAIN } from '../../formats/tiff/exif-tags';
import { type Tiff, readTiff } from '../../formats/tiff/tiff';
import type { EmbedPart } from './parts';

export interface TagValue {
  type: number;
  count: number;
  /** In the byte order of the structure. */
  bytes: Uint8Array;
}

/** By tag; `null` takes the tag out. */
export type TagEdits = Map<number, TagValue | null>;

export interface DirectoryEdits {
  main: TagEdits;
  exif: TagEdits;
  gps: TagEdits;
}

/** A structure without a directory yet. */
export const EMPTY_TIFF = joinBytes([asciiBytes('MM'), u16Bytes(42), u32Bytes(0)]);

export const noEdits = (): DirectoryEdits => ({ main: new Map(), exif: new Map(), gps: new Map() });

interface Original {
  littleEndian: boolean;
  length: number;
  firstDirectory: number;
}

const NOTE_SIGN = 'wembo-appended\0\x01';
const NOTE_BYTES = NOTE_SIGN.length + 12;
const ENTRIES_LIMIT = 4096;

/** The structure as it was before we appended to it: where it ends, and where its first directory lies. */
async function originalOf(source: ByteSource): Promise<Original | null> {
  const head = await source.read(0, 8);
  const littleEndian = head[0] === 0x49;
  const firstDirectory = new ByteView(head, littleEndian).u32(4);
  if (firstDirectory === null) return null;
  const note = new ByteView(await source.read(Math.max(0, source.size - NOTE_BYTES), NOTE_BYTES));
  const at = NOTE_SIGN.length;
  const length = note.u32(at);
  const before = note.u32(at + 4);
  if (
    note.startsWith(NOTE_SIGN) &&
    length !== null &&
    before !== null &&
    length >= 8 &&
    length <= source.size - NOTE_BYTES
  ) {
    const appended = await source.read(length, source.size - NOTE_BYTES - length);
    if (crc32(appended) === note.u32(at + 8)) return { littleEndian, length, firstDirectory: before };
  }
  return { littleEndian, length: source.size, firstDirectory };
}

/** The original structure as a source, with its header as it was. */
function originalSource(source: ByteSource, original: Original): ByteSource {
  const body = sectionOf(source, 0, original.length);
  const pointer = u32Bytes(original.firstDirectory, original.littleEndian);
  return {
    size: original.length,
    read: async (offset, lengthBytes) => {
      const bytes = await body.read(offset, lengthBytes);
      if (offset >= 8 || offset + bytes.length <= 4) return bytes;
      const patched = Uint8Array.from(bytes);
      for (let at = 4; at < 8; at++)
        if (at >= offset && at < offset + bytes.length) patched[at - offset] = pointer[at - 4] ?? 0;
      return patched;
    },
  };
}

/** The structure as it was before we appended to it, with its directories; `null` where there is no TIFF header. */
export async function readOriginal(source: ByteSource): Promise<{ original: Original; tiff: Tiff } | null> {
  const original = await originalOf(source);
  const tiff = original && (await readTiff(originalSource(source, original)));
  return original && tiff ? { original, tiff } : null;
}

interface Entry extends TagValue {
  tag: number;
  /** The four bytes of an entry that stays as it is; `null` for a new value. */
  field: Uint8Array | null;
}

/** The parts of the edited structure; `null` where a directory cannot be read whole. */
export async function appendDirectories(source: ByteSource, edits: DirectoryEdits): Promise<EmbedPart[] | null> {
  const original = await originalOf(source);
  if (!original) return null;
  const { littleEndian, length, firstDirectory } = original;
  const restored = await originalSource(source, original).read(0, 8);
  if (edits.main.size === 0 && edits.exif.size === 0 && edits.gps.size === 0)
    return [Uint8Array.from(restored), { from: 8, length: length - 8 }];
  const main = await readEntries(source, firstDirectory, littleEndian);
  if (!main) return null;
  const tail = new Tail(length, littleEndian);
  const mainEdits = new Map(edits.main);
  for (const [pointerTag, inside, stateVersion] of [
    [MAIN.exifPointer, edits.exif, stateExifVersion],
    [MAIN.gpsPointer, edits.gps, stateGpsVersion],
  ] as const) {
    if (inside.size === 0) continue;
    const pointer = main.entries.find(({ tag }) => tag === pointerTag);
    const below = await readEntries(
      source,
      pointer?.field ? (new ByteView(pointer.field, littleEndian).u32(0) ?? 0) : 0,
      littleEndian,
    );
    if (!below) return null;
    const entries = edited(below.entries, inside);
    stateVersion(entries);
    mainEdits.set(
      pointerTag,
      entries.length > 0 ? { type: 4, count: 1, bytes: u32Bytes(tail.directory(entries, 0), littleEndian) } : null,
    );
  }
  const first = tail.directory(edited(main.entries, mainEdits), main.next);
  const appended = tail.bytes();
  const note = joinBytes([
    asciiBytes(NOTE_SIGN),
    u32Bytes(length),
    u32Bytes(firstDirectory),
    u32Bytes(crc32(appended)),
  ]);
  const header = joinBytes([restored.subarray(0, 4), u32Bytes(first, littleEndian)]);
  return [header, { from: 8, length: length - 8 }, appended, note];
}

/** The raw entries of a directory. An offset of 0 is a directory that is not there: no entries. */
async function readEntries(
  source: ByteSource,
  offset: number,
  littleEndian: boolean,
): Promise<{ entries: Entry[]; next: number } | null> {
  if (offset === 0) return { entries: [], next: 0 };
  const count = new ByteView(await source.read(offset, 2), littleEndian).u16(0);
  if (count === null || count > ENTRIES_LIMIT) return null;
  const table = new ByteView(await source.read(offset + 2, count * 12 + 4), littleEndian);
  if (table.length < count * 12) return null;
  const entries = Array.from({ length: count }, (_, index): Entry => {
    const at = index * 12;
    return {
      tag: table.u16(at) ?? 0,
      type: table.u16(at + 2) ?? 0,
      count: table.u32(at + 4) ?? 0,
      bytes: new Uint8Array(),
      field: table.slice(at + 8, 4),
    };
  });
  return { entries, next: table.u32(count * 12) ?? 0 };
}

function edited(entries: readonly Entry[], edits: TagEdits): Entry[] {
  const kept = entries.filter(({ tag }) => !edits.has(tag));
  for (const [tag, value] of edits) if (value) kept.push({ ...value, tag, field: null });
  return kept.sort((a, b) => a.tag - b.tag);
}

/**
 * A directory says which version of EXIF its tags belong to; the offsets of times came with 2.31 (EXIF 2.31, section
 * 4.6.6).
 */
function stateExifVersion(entries: Entry[]): void {
  if (entries.length === 0) return;
  const at = entries.findIndex(({ tag }) => tag === EXIF.version);
  const now = String.fromCharCode(...(entries[at]?.field ?? []));
  const needed = entries.some(
    ({ tag, field }) => field === null && (tag === EXIF.offsetTimeOriginal || tag === EXIF.offsetTimeDigitized),
  );
  if (at >= 0 && (!needed || now >= '0231')) return;
  const version: Entry = {
    tag: EXIF.version,
    type: 7,
    count: 4,
    bytes: asciiBytes(at < 0 ? '0232' : '0231'),
    field: null,
  };
  entries.splice(Math.max(at, 0), at < 0 ? 0 : 1, version);
  entries.sort((a, b) => a.tag - b.tag);
}

/** The GPS directory must say its version (EXIF 2.32, tag 0x0000). One that says nothing else goes. */
function stateGpsVersion(entries: Entry[]): void {
  const at = entries.findIndex(({ tag }) => tag === GPS.version);
  if (at >= 0 && entries.every(({ tag }) => tag === GPS.version || tag === GPS.datum)) entries.length = 0;
  if (at >= 0 || entries.length === 0) return;
  entries.unshift({ tag: GPS.version, type: 1, count: 4, bytes: Uint8Array.from([2, 3, 0, 0]), field: null });
}

/** What is appended: values and directories, each at an even offset. */
class Tail {
  private readonly pieces: Uint8Array[] = [];
  private at: number;

  constructor(
    start: number,
    private readonly littleEndian: boolean,
  ) {
    this.at = start;
  }

  private add(bytes: Uint8Array): number {
    if (this.at % 2 === 1) this.push(new Uint8Array(1));
    const offset = this.at;
    this.push(bytes);
    return offset;
  }

  private push(bytes: Uint8Array): void {
    this.pieces.push(bytes);
    this.at += bytes.length;
  }

  /** Adds a directory with its values, and answers where it lies. */
  directory(entries: readonly Entry[], next: number): number {
    const fields = entries.map((entry) => entry.field ?? this.fieldOf(entry.bytes));
    const rows = entries.flatMap(({ tag, type, count }, index) => [
      u16Bytes(tag, this.littleEndian),
      u16Bytes(type, this.littleEndian),
      u32Bytes(count, this.littleEndian),
      fields[index] ?? new Uint8Array(4),
    ]);
    return this.add(
      joinBytes([u16Bytes(entries.length, this.littleEndian), ...rows, u32Bytes(next, this.littleEndian)]),
    );
  }

  private fieldOf(bytes: Uint8Array): Uint8Array {
    return bytes.length <= 4
      ? joinBytes([bytes, new Uint8Array(4 - bytes.length)])
      : u32Bytes(this.add(bytes), this.littleEndian);
  }

  bytes(): Uint8Array<ArrayBuffer> {
    return joinBytes(this.pieces);
  }
}
