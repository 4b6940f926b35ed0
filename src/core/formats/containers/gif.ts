// GIF 89a: the screen size, and XMP in an application extension (XMP specification part 3, section 1.1.2), which stands
// there without being cut into sub-blocks and ends in a trailer of 257 bytes that catches every reader of sub-blocks.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { type Blocks, METADATA_LIMIT_BYTES, noBlocks } from './blocks';

/** A frame, or an extension with its label; `end` is behind the last of its sub-blocks. */
export interface GifPart {
  kind: 'frame' | 'extension';
  label: number;
  offset: number;
  end: number;
}

export interface GifParts {
  /** Where the screen's own colour table ends. */
  screenEnd: number;
  list: GifPart[];
  /** Whether the file ends with its trailer. */
  whole: boolean;
}

const TRAILER_BYTES = 257;
const PARTS_LIMIT = 100_000;
const XMP_SIGN = 'XMP DataXMP';
const APPLICATION = 0xff;

const tableBytes = (packed: number) => (packed & 0x80 ? 3 * 2 ** ((packed & 7) + 1) : 0);

export async function readGifParts(source: ByteSource): Promise<GifParts> {
  const head = new ByteView(await source.read(0, 13));
  const screenEnd = 13 + tableBytes(head.u8(10) ?? 0);
  const list: GifPart[] = [];
  for (let at = screenEnd; list.length < PARTS_LIMIT;) {
    const block = new ByteView(await source.read(at, 14));
    const sign = block.u8(0);
    if (sign !== 0x2c && sign !== 0x21) return { screenEnd, list, whole: sign === 0x3b };
    const label = sign === 0x21 ? (block.u8(1) ?? 0) : 0;
    const isXmp = label === APPLICATION && block.startsWith(XMP_SIGN, 3);
    const end = await afterSubBlocks(
      source,
      at + (sign === 0x2c ? 11 + tableBytes(block.u8(9) ?? 0) : isXmp ? 3 + XMP_SIGN.length : 2),
    );
    list.push({ kind: sign === 0x2c ? 'frame' : 'extension', label, offset: at, end });
    at = end;
  }
  return { screenEnd, list, whole: false };
}

/** Where the run of sub-blocks that begins at `at` is over. */
async function afterSubBlocks(source: ByteSource, at: number): Promise<number> {
  let next = at;
  for (;;) {
    const length = (await source.read(next, 1))[0];
    if (!length) return next + 1;
    next += 1 + length;
  }
}

export async function readGifBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const head = new ByteView(await source.read(0, 13), true);
  blocks.width = head.u16(6);
  blocks.height = head.u16(8);
  const { list, whole } = await readGifParts(source);
  for (const { label, offset, end } of list) {
    const start = offset + 3 + XMP_SIGN.length;
    const length = end - 1 - TRAILER_BYTES - start;
    const isXmp =
      label === APPLICATION && new ByteView(await source.read(offset + 3, XMP_SIGN.length)).startsWith(XMP_SIGN);
    if (isXmp && length > 0 && length <= METADATA_LIMIT_BYTES) blocks.xmp.push(await source.read(start, length));
  }
  if (!whole) blocks.problems.push({ code: 'gif/cut-short' });
  return blocks;
}
