// The two raw families that are not TIFF: one keeps TIFF directories in boxes, the other a whole JPEG behind a short
// header (both from common knowledge of these files).

import { type ByteSource, sectionOf } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { type Blocks, noBlocks } from './blocks';
import { type IsoBox, boxAt, boxOf, childrenOf, contentOf, readBoxes } from './boxes';
import { XMP_UUID } from './video';
import { readJpegBlocks } from './jpeg';

const METADATA_UUID = 'uuid:85c0b687820f11e08111f4ce462b6a48';
const PREVIEW_UUID = 'uuid:eaf42b5e1c984b88b9fbb7dc406e4d16';
const DIRECTORIES = [
  ['CMT1', 'main'],
  ['CMT2', 'exif'],
  ['CMT4', 'gps'],
] as const;

export async function readCr3Blocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const { list, cutAt } = await readBoxes(source, 0, source.size);
  if (cutAt !== null) blocks.problems.push({ code: 'boxes/past-end', offset: cutAt });
  const movie = await childrenOf(source, boxOf(list, 'moov'));
  const own = await childrenOf(source, boxOf(movie, METADATA_UUID));
  for (const [type, kind] of DIRECTORIES) {
    const box = boxOf(own, type);
    if (box) blocks.tiffs.push({ source: sectionOf(source, box.start, box.size), offset: box.start, kind });
  }
  const xmp = boxOf(list, XMP_UUID);
  if (xmp) blocks.xmp.push(await contentOf(source, xmp));
  await readJpeg(blocks, source, boxOf(own, 'THMB'), 4, 8, 16);
  await readJpeg(blocks, source, boxOf(await childrenOf(source, boxOf(list, PREVIEW_UUID), 8), 'PRVW'), 6, 12, 16);
  await readFullPicture(blocks, source, boxOf(movie, 'trak'));
  return blocks;
}

/** Width and height, the length, then the JPEG itself. */
async function readJpeg(
  blocks: Blocks,
  source: ByteSource,
  box: IsoBox | undefined,
  sizeAt: number,
  lengthAt: number,
  jpegAt: number,
): Promise<void> {
  if (!box) return;
  const view = new ByteView(await source.read(box.start, 16));
  const length = view.u32(lengthAt);
  if (length)
    blocks.previews.push({
      coding: 'jpeg',
      offset: box.start + jpegAt,
      length,
      width: view.u16(sizeAt),
      height: view.u16(sizeAt + 2),
    });
}

/** The first track is one sample: the whole picture as JPEG. */
async function readFullPicture(blocks: Blocks, source: ByteSource, track: IsoBox | undefined): Promise<void> {
  const table = await childrenOf(source, await boxAt(source, await childrenOf(source, track), 'mdia', 'minf', 'stbl'));
  const sizes = new ByteView(await contentOf(source, boxOf(table, 'stsz')));
  const places = new ByteView(await contentOf(source, boxOf(table, 'co64')));
  const length = sizes.u32(4) || sizes.u32(12);
  const offset = places.u64(8);
  if (length && offset) blocks.previews.push({ coding: 'jpeg', offset, length, width: null, height: null });
}

/** The camera's own JPEG holds the metadata. */
export async function readRafBlocks(source: ByteSource): Promise<Blocks> {
  const head = new ByteView(await source.read(0, 0x5c));
  const offset = head.u32(0x54) ?? 0;
  const length = head.u32(0x58) ?? 0;
  const jpeg = await readJpegBlocks(sectionOf(source, offset, length));
  const moved = <T extends { offset: number }>(item: T): T => ({ ...item, offset: item.offset + offset });
  return {
    ...jpeg,
    width: null,
    height: null,
    tiffs: jpeg.tiffs.map(moved),
    previews: [{ coding: 'jpeg', offset, length, width: jpeg.width, height: jpeg.height }, ...jpeg.previews.map(moved)],
    problems: jpeg.problems,
  };
}
