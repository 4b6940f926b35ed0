// JPEG (ITU-T T.81, annex B): walks the marker segments up to the start of the scan and picks out the metadata.
// APP1 EXIF as in EXIF 2.32 section 4.7.2; APP1 XMP as in XMP specification part 3; APP13 as Photoshop resources.

import { type ByteSource, memorySource } from '../bytes/source';
import { ByteView } from '../bytes/view';
import { type Blocks, noBlocks } from './blocks';

const EXIF = 'Exif\0\0';
const XMP = 'http://ns.adobe.com/xap/1.0/\0';
const PHOTOSHOP = 'Photoshop 3.0\0';
const SEGMENTS_LIMIT = 2000; // far above any real file; a hostile one could hold millions of empty segments

const hasNoLength = (marker: number) => marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8);
const isFrame = (marker: number) => marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;

export async function readJpegBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  let offset = 2;
  for (let count = 0; count < SEGMENTS_LIMIT; count++) {
    const head = new ByteView(await source.read(offset, 4));
    const marker = head.u8(1);
    if (head.u8(0) !== 0xff || marker === null) break;
    if (marker === 0xff) {
      offset += 1; // fill byte
      continue;
    }
    if (hasNoLength(marker)) {
      offset += 2;
      continue;
    }
    if (marker === 0xda || marker === 0xd9) break;
    const length = head.u16(2);
    if (length === null || length < 2) break;
    const content = await source.read(offset + 4, length - 2);
    if (content.length < length - 2) {
      blocks.problems.push({ code: 'jpeg/segment-past-end', marker, offset });
      break;
    }
    takeSegment(blocks, marker, content, offset + 4);
    offset += 2 + length;
  }
  if (blocks.width === null) blocks.problems.push({ code: 'jpeg/no-frame' });
  return blocks;
}

function takeSegment(blocks: Blocks, marker: number, content: Uint8Array, start: number): void {
  const view = new ByteView(content);
  if (isFrame(marker)) {
    blocks.height = view.u16(1);
    blocks.width = view.u16(3);
  } else if (marker === 0xe1 && view.ascii(0, EXIF.length) === EXIF) {
    blocks.exif ??= { source: memorySource(content.subarray(EXIF.length)), offset: start + EXIF.length };
  } else if (marker === 0xe1 && view.ascii(0, XMP.length) === XMP) {
    blocks.xmp.push(content.subarray(XMP.length));
  } else if (marker === 0xed && view.ascii(0, PHOTOSHOP.length) === PHOTOSHOP) {
    blocks.photoshop.push(content.subarray(PHOTOSHOP.length));
  }
}
