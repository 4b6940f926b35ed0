// The picture in a TIFF or a raw built on it: strips and tiles of every directory that is not marked as a reduced one,
// in the order of the directories. Previews and thumbnails are left out: programs make them anew.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { MAIN } from '../../formats/tiff/exif-tags';
import { type Tag, type Tags, isReduced, numberOf, numbersOf, readTiff } from '../../formats/tiff/tiff';
import type { Range } from './range';

/** Far above any picture; a hostile count must not fill the memory. */
const PARTS_LIMIT = 1_000_000;

export async function tiffRanges(source: ByteSource): Promise<Range[]> {
  const tiff = await readTiff(source);
  const ranges: Range[] = [];
  for (const { kind, tags } of tiff?.directories ?? []) {
    if (kind === 'exif' || kind === 'gps' || isReduced(tags)) continue;
    ranges.push(
      ...(await partsOf(source, tags, MAIN.stripOffsets, MAIN.stripByteCounts)),
      ...(await partsOf(source, tags, MAIN.tileOffsets, MAIN.tileByteCounts)),
    );
    const sensor = numberOf(tags.get(MAIN.panasonicRawOffset));
    if (sensor !== null && tags.has(MAIN.panasonicJpeg)) ranges.push({ offset: sensor, length: source.size - sensor });
  }
  return ranges;
}

async function partsOf(source: ByteSource, tags: Tags, offsetsTag: number, lengthsTag: number): Promise<Range[]> {
  const offsets = await allNumbers(source, tags.get(offsetsTag));
  const lengths = await allNumbers(source, tags.get(lengthsTag));
  return offsets.slice(0, lengths.length).map((offset, index) => ({ offset, length: lengths[index] ?? 0 }));
}

/** Also of a tag whose value was too long to be read along. */
async function allNumbers(source: ByteSource, tag: Tag | undefined): Promise<number[]> {
  if (!tag) return [];
  const read =
    tag.view.length > 0
      ? tag
      : {
          ...tag,
          view: new ByteView(
            await source.read(tag.offset, Math.min(tag.lengthBytes, PARTS_LIMIT * 4)),
            tag.view.littleEndian,
          ),
        };
  return numbersOf(read, PARTS_LIMIT);
}
