// PNG (ISO/IEC 15948): IHDR for the size, `eXIf` for EXIF, `iTXt` with the keyword XML:com.adobe.xmp for XMP.

import { type ByteSource, memorySource } from '../bytes/source';
import { ByteView } from '../bytes/view';
import { type Blocks, noBlocks } from './blocks';

const XMP_KEYWORD = 'XML:com.adobe.xmp\0';
const CHUNKS_LIMIT = 10_000;
const METADATA_LIMIT_BYTES = 16 * 1024 * 1024;

export async function readPngBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  let offset = 8;
  for (let count = 0; count < CHUNKS_LIMIT && offset < source.size; count++) {
    const head = new ByteView(await source.read(offset, 8));
    const length = head.u32(0);
    const type = head.ascii(4, 4);
    if (length === null || offset + 12 + length > source.size) {
      blocks.problems.push({ code: 'png/chunk-past-end', offset });
      break;
    }
    if (type === 'IEND') break;
    if ((type === 'IHDR' || type === 'eXIf' || type === 'iTXt') && length <= METADATA_LIMIT_BYTES) {
      takeChunk(blocks, type, await source.read(offset + 8, length), offset + 8);
    }
    offset += 12 + length;
  }
  return blocks;
}

function takeChunk(blocks: Blocks, type: string, content: Uint8Array, start: number): void {
  const view = new ByteView(content);
  if (type === 'IHDR') {
    blocks.width = view.u32(0);
    blocks.height = view.u32(4);
  } else if (type === 'eXIf') {
    blocks.exif ??= { source: memorySource(content), offset: start };
  } else if (view.ascii(0, XMP_KEYWORD.length) === XMP_KEYWORD && view.u8(XMP_KEYWORD.length) === 0) {
    // compression flag, method, then language and translated keyword, each ended by a zero
    let at = XMP_KEYWORD.length + 2;
    for (let ended = 0; ended < 2 && at < content.length; at++) if (content[at] === 0) ended++;
    blocks.xmp.push(content.subarray(at));
  }
}
