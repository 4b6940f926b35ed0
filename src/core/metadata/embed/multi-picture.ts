// Further pictures after the main one (multi-picture format, CIPA DC-007): their offsets count from the block that
// lists them, so they change when something between that block and the end of the main picture grows, and so does the
// stated length of the main picture.

import { memorySource, type ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { JPEG_SIGNS, type Segment, opensWith } from '../../formats/containers/jpeg';
import { readTiff } from '../../formats/tiff/tiff';
import type { EmbedPart } from './parts';

const PICTURES_TAG = 0xb002;
const ENTRY_BYTES = 16;

/** The parts with the list of pictures brought in line; without such a list as they were. */
export async function withMovedPictures(
  source: ByteSource,
  list: readonly Segment[],
  parts: EmbedPart[],
): Promise<EmbedPart[] | 'damaged'> {
  const block = list.find((segment) => segment.marker === 0xe2 && opensWith(segment, JPEG_SIGNS.multiPicture));
  const at = block ? parts.findIndex((part) => !(part instanceof Uint8Array) && part.from === block.offset) : -1;
  if (!block || at < 0) return parts;
  const start = parts.slice(0, at).reduce((sum, part) => sum + part.length, 0);
  const grown = parts.reduce((sum, part) => sum + part.length, 0) - source.size;
  const grownAfter = grown - (start - block.offset);
  const content = Uint8Array.from(block.content);
  const header = JPEG_SIGNS.multiPicture.length;
  const tiff = await readTiff(memorySource(content.subarray(header)));
  const table = tiff?.directories[0]?.tags.get(PICTURES_TAG);
  if (!tiff || !table || table.lengthBytes % ENTRY_BYTES !== 0) return 'damaged';
  const view = new DataView(content.buffer, header + table.offset, table.lengthBytes);
  const read = new ByteView(
    content.subarray(header + table.offset, header + table.offset + table.lengthBytes),
    tiff.littleEndian,
  );
  for (let entry = 0; entry < table.lengthBytes; entry += ENTRY_BYTES) {
    const offset = read.u32(entry + 8) ?? 0;
    if (offset === 0) view.setUint32(entry + 4, (read.u32(entry + 4) ?? 0) + grown, tiff.littleEndian);
    else view.setUint32(entry + 8, offset + grownAfter, tiff.littleEndian);
  }
  const patched = new Uint8Array(content.length + 4);
  patched.set(await source.read(block.offset, 4));
  patched.set(content, 4);
  return parts.toSpliced(at, 1, patched);
}
