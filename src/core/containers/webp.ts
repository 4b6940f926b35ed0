// WebP (RFC 9649): RIFF chunks; VP8X, VP8 and VP8L for the size, EXIF and XMP as chunks of their own.

import { type ByteSource, memorySource } from '../bytes/source';
import { ByteView } from '../bytes/view';
import { type Blocks, noBlocks } from './blocks';

const CHUNKS_LIMIT = 10_000;
const METADATA_LIMIT_BYTES = 16 * 1024 * 1024;

export async function readWebpBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  let offset = 12;
  for (let count = 0; count < CHUNKS_LIMIT && offset + 8 <= source.size; count++) {
    const head = new ByteView(await source.read(offset, 8), true);
    const type = head.ascii(0, 4);
    const length = head.u32(4);
    if (length === null || offset + 8 + length > source.size) {
      blocks.problems.push({ code: 'webp/chunk-past-end', offset });
      break;
    }
    await takeChunk(blocks, source, type, offset + 8, length);
    offset += 8 + length + (length % 2);
  }
  return blocks;
}

async function takeChunk(blocks: Blocks, source: ByteSource, type: string, start: number, length: number): Promise<void> {
  if (type === 'EXIF' || type === 'XMP ') {
    const content = await source.read(start, Math.min(length, METADATA_LIMIT_BYTES));
    if (type === 'XMP ') blocks.xmp.push(content);
    else blocks.exif ??= exifOf(content, start);
    return;
  }
  if (blocks.width !== null) return;
  const view = new ByteView(await source.read(start, Math.min(length, 10)), true);
  if (type === 'VP8X') {
    const packed = (at: number) => (view.u16(at) ?? 0) + ((view.u8(at + 2) ?? 0) << 16) + 1;
    blocks.width = packed(4);
    blocks.height = packed(7);
  } else if (type === 'VP8 ') {
    blocks.width = (view.u16(6) ?? 0) & 0x3fff;
    blocks.height = (view.u16(8) ?? 0) & 0x3fff;
  } else if (type === 'VP8L') {
    const bits = view.u32(1) ?? 0;
    blocks.width = (bits & 0x3fff) + 1;
    blocks.height = ((bits >>> 14) & 0x3fff) + 1;
  }
}

/** Some writers put JPEG's `Exif\0\0` before the TIFF header here too. */
function exifOf(content: Uint8Array, start: number): { source: ByteSource; offset: number } {
  const skip = new ByteView(content).ascii(0, 6) === 'Exif\0\0' ? 6 : 0;
  return { source: memorySource(content.subarray(skip)), offset: start + skip };
}
