// Boxes of the ISO base media file format (ISO/IEC 14496-12, section 4.2): length, type, content; lengths of 64 bits,
// to the end of the file, and types of 16 bytes included.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { toHex } from '../../bytes/hex';
import { METADATA_LIMIT_BYTES } from './blocks';

export interface IsoBox {
  /** Four characters, or `uuid:` and 32 hexadecimal digits. */
  type: string;
  offset: number;
  /** Where the content begins, and how long it is. */
  start: number;
  size: number;
}

export interface Boxes {
  list: IsoBox[];
  cutAt: number | null;
}

const BOXES_LIMIT = 10_000;

export async function readBoxes(source: ByteSource, from: number, end: number): Promise<Boxes> {
  const list: IsoBox[] = [];
  let offset = from;
  while (list.length < BOXES_LIMIT && offset + 8 <= end) {
    const head = new ByteView(await source.read(offset, 32));
    const short = head.u32(0);
    let type = head.ascii(4, 4);
    let header = 8;
    let length = short;
    if (short === 1) {
      length = head.u64(8);
      header = 16;
    } else if (short === 0) length = end - offset;
    if (type === 'uuid') {
      type = `uuid:${toHex(head.slice(header, 16) ?? new Uint8Array())}`;
      header += 16;
    }
    if (length === null || length < header || offset + length > end) {
      // the terminating zero that some videos put after their user data
      return { list, cutAt: short === 0 || end - offset < 8 ? null : offset };
    }
    list.push({ type, offset, start: offset + header, size: length - header });
    offset += length;
  }
  return { list, cutAt: null };
}

export const childrenOf = async (source: ByteSource, box: IsoBox | undefined, skip = 0): Promise<IsoBox[]> =>
  box ? (await readBoxes(source, box.start + skip, box.start + box.size)).list : [];

export const boxOf = (boxes: readonly IsoBox[], type: string): IsoBox | undefined =>
  boxes.find((box) => box.type === type);

/** Follows a path of types downward, taking the first of each. */
export async function boxAt(
  source: ByteSource,
  boxes: readonly IsoBox[],
  ...path: string[]
): Promise<IsoBox | undefined> {
  let found: IsoBox | undefined;
  let level = boxes;
  for (const type of path) {
    if (found) level = await childrenOf(source, found);
    found = boxOf(level, type);
    if (!found) return undefined;
  }
  return found;
}

/** The content of a box, bounded by what metadata may be. */
export const contentOf = async (source: ByteSource, box: IsoBox | undefined): Promise<Uint8Array> =>
  box && box.size <= METADATA_LIMIT_BYTES ? source.read(box.start, box.size) : new Uint8Array();
