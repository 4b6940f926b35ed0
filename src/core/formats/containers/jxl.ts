// JPEG XL (ISO/IEC 18181-2): a bare code stream, or boxes with `Exif` and `xml `. Size and orientation stand in the
// first bits of the code stream (18181-1, from memory). Boxes compressed with Brotli are named, not read.

import { type ByteSource, sectionOf } from '../../bytes/source';
import { type Blocks, exifBlock, noBlocks } from './blocks';
import { type IsoBox, contentOf, readBoxes } from './boxes';

export async function readJxlBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const bare = (await source.read(0, 2))[0] === 0xff;
  const { list, cutAt } = bare ? { list: [], cutAt: null } : await readBoxes(source, 0, source.size);
  for (const box of list) await readBox(blocks, source, box);
  if (cutAt !== null) blocks.problems.push({ code: 'boxes/past-end', offset: cutAt });
  const stream = list.find(({ type }) => type === 'jxlc' || type === 'jxlp');
  const start = bare ? 0 : stream ? stream.start + (stream.type === 'jxlp' ? 4 : 0) : null;
  const header = start === null ? null : streamHeader(await source.read(start, 16));
  if (header) Object.assign(blocks, header);
  return blocks;
}

async function readBox(blocks: Blocks, source: ByteSource, box: IsoBox): Promise<void> {
  if (box.type === 'xml ') {
    const content = await contentOf(source, box);
    if (new TextDecoder('latin1').decode(content.subarray(0, 2000)).includes('xmpmeta') || blocks.xmp.length === 0)
      blocks.xmp.push(content);
  } else if (box.type === 'Exif' && blocks.tiffs.length === 0) {
    blocks.tiffs.push(await exifItem(source, box.start, box.size));
  } else if (box.type === 'brob')
    blocks.problems.push({
      code: 'boxes/compressed',
      type: new TextDecoder('latin1').decode(await source.read(box.start, 4)),
    });
}

/** EXIF in a box or an item: four bytes that say how far the TIFF header is, then that far. */
export async function exifItem(source: ByteSource, start: number, size: number) {
  const [a = 0, b = 0, c = 0, d = 0] = await source.read(start, 4);
  const skip = 4 + a * 0x1000000 + b * 0x10000 + c * 0x100 + d;
  const at = start + (skip < size ? skip : 4);
  return exifBlock(sectionOf(source, at, start + size - at), at, await source.read(at, 6));
}

const RATIOS = [
  [0, 1],
  [1, 1],
  [12, 10],
  [4, 3],
  [3, 2],
  [16, 9],
  [5, 4],
  [2, 1],
] as const;

function streamHeader(bytes: Uint8Array): { width: number; height: number; orientation: number } | null {
  if (bytes[0] !== 0xff || bytes[1] !== 0x0a) return null;
  let at = 16;
  const bits = (count: number) => {
    let value = 0;
    for (let index = 0; index < count; index++, at++) value += (((bytes[at >> 3] ?? 0) >> (at & 7)) & 1) * 2 ** index;
    return value;
  };
  const small = bits(1) === 1;
  const side = () => (small ? (bits(5) + 1) * 8 : bits([9, 13, 18, 30][bits(2)] ?? 9) + 1);
  const height = side();
  const [top, bottom] = RATIOS[bits(3)] ?? RATIOS[0];
  const width = top === 0 ? side() : Math.floor((height * top) / bottom);
  const hasMore = bits(1) === 0 && bits(1) === 1;
  return { width, height, orientation: hasMore ? bits(3) + 1 : 1 };
}
