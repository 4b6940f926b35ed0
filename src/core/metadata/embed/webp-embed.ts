// Fields into a WebP (RFC 9649): the extended header with its flags, XMP as the last chunk, EXIF's words where there is
// EXIF.

import { asciiBytes, joinBytes, u32Bytes } from '../../bytes/join';
import { type ByteSource, sectionOf } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { type RiffChunk, readRiff, webpSize } from '../../formats/containers/riff';
import type { FieldValues } from '../../fields/registry';
import { type Packet, writePacket } from '../../formats/xmp/packet';
import { editedExif } from './exif-block';
import type { EmbedRefusal } from './jpeg-embed';
import type { EmbedPart } from './parts';

const FLAG = { xmp: 0x04, alpha: 0x10 } as const;

export async function embedInWebp(
  source: ByteSource,
  fields: FieldValues,
  packet: Packet,
): Promise<EmbedPart[] | EmbedRefusal> {
  const { list, cutAt } = await readRiff(source);
  const [first] = list;
  const riffEnd = 8 + (new ByteView(await source.read(0, 8), true).u32(4) ?? 0);
  if (cutAt !== null || !first || riffEnd < source.size - 1) return 'damaged';
  const header = await extendedHeader(source, first);
  if (!header) return 'damaged';
  const chunks: EmbedPart[] = [chunk('VP8X', header)];
  const xmp = chunk('XMP ', writePacket(packet));
  let placed = false;
  for (const { type, offset, length } of list) {
    if (type === 'VP8X' || (type === 'XMP ' && placed)) continue;
    if (type === 'XMP ') {
      chunks.push(xmp);
      placed = true;
    } else if (type === 'EXIF') {
      const exif = await editedExif(sectionOf(source, offset + 8, length), fields);
      if (exif === null) return 'damaged';
      chunks.push(chunk('EXIF', exif));
    } else {
      chunks.push({ from: offset, length: Math.min(8 + length + (length % 2), source.size - offset) });
      if (offset + 8 + length + (length % 2) > source.size) chunks.push(new Uint8Array(1));
    }
  }
  if (!placed) chunks.push(xmp);
  const size = 4 + chunks.reduce((sum, part) => sum + part.length, 0);
  return [joinBytes([asciiBytes('RIFF'), u32Bytes(size, true), asciiBytes('WEBP')]), ...chunks];
}

const chunk = (type: string, content: Uint8Array): Uint8Array<ArrayBuffer> =>
  joinBytes([asciiBytes(type), u32Bytes(content.length, true), content, new Uint8Array(content.length % 2)]);

/**
 * The ten bytes of the extended header, with the flag for XMP set; made from the picture itself where the file had
 * none.
 */
async function extendedHeader(source: ByteSource, first: RiffChunk): Promise<Uint8Array | null> {
  const content = await source.read(first.offset + 8, Math.min(first.length, 10));
  const view = new ByteView(content, true);
  if (first.type === 'VP8X')
    return content.length === 10
      ? Uint8Array.from(content, (byte, index) => (index === 0 ? byte | FLAG.xmp : byte))
      : null;
  const size = webpSize(first.type, view);
  if (!size) return null;
  const hasAlpha = first.type === 'VP8L' && ((view.u32(1) ?? 0) & 0x1000_0000) !== 0;
  const side = (pixels: number) => u32Bytes(pixels - 1, true).subarray(0, 3);
  return joinBytes([
    Uint8Array.of(FLAG.xmp | (hasAlpha ? FLAG.alpha : 0), 0, 0, 0),
    side(size.width),
    side(size.height),
  ]);
}
