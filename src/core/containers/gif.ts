// GIF 89a: the screen size, and XMP in an application extension (XMP specification part 3, section 1.1.2), which stands
// there without being cut into sub-blocks and ends in a trailer of 257 bytes that catches every reader of sub-blocks.

import type { ByteSource } from '../bytes/source';
import { ByteView } from '../bytes/view';
import { type Blocks, METADATA_LIMIT_BYTES, noBlocks } from './blocks';

const TRAILER_BYTES = 257;
const BLOCKS_LIMIT = 100_000;

export async function readGifBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const head = new ByteView(await source.read(0, 13), true);
  blocks.width = head.u16(6);
  blocks.height = head.u16(8);
  const tableBytes = (packed: number) => (packed & 0x80 ? 3 * 2 ** ((packed & 7) + 1) : 0);
  let at = 13 + tableBytes(head.u8(10) ?? 0);
  for (let count = 0; count < BLOCKS_LIMIT; count++) {
    const block = new ByteView(await source.read(at, 14), true);
    const kind = block.u8(0);
    if (kind === 0x3b) return blocks;
    if (kind === 0x2c) {
      at = await afterSubBlocks(source, at + 11 + tableBytes(block.u8(9) ?? 0));
    } else if (kind === 0x21) {
      const isXmp = block.u8(1) === 0xff && block.ascii(3, 11) === 'XMP DataXMP';
      const end = await afterSubBlocks(source, at + (isXmp ? 14 : 2));
      const length = end - 1 - TRAILER_BYTES - (at + 14);
      if (isXmp && length > 0 && length <= METADATA_LIMIT_BYTES) blocks.xmp.push(await source.read(at + 14, length));
      at = end;
    } else break;
  }
  blocks.problems.push({ code: 'gif/cut-short' });
  return blocks;
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
