// Fields into a PNG: XMP as an uncompressed `iTXt` chunk before the pixels, EXIF's words where there is an `eXIf`
// chunk.

import { crc32 } from '../../bytes/crc32';
import { asciiBytes, joinBytes, u32Bytes } from '../../bytes/join';
import { type ByteSource, sectionOf } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { XMP_KEYWORD, readChunks } from '../../formats/containers/png';
import type { FieldValues } from '../../fields/registry';
import { type Packet, writePacket } from '../../formats/xmp/packet';
import { editedExif } from './exif-block';
import type { EmbedRefusal } from './jpeg-embed';
import type { EmbedPart } from './parts';

export async function embedInPng(
  source: ByteSource,
  fields: FieldValues,
  packet: Packet,
): Promise<EmbedPart[] | EmbedRefusal> {
  const { list, cutAt } = await readChunks(source);
  if (cutAt !== null || !list.some(({ type }) => type === 'IEND')) return 'damaged';
  const content = joinBytes([asciiBytes(`${XMP_KEYWORD}\0\0\0\0\0`), writePacket(packet)]);
  const parts: EmbedPart[] = [{ from: 0, length: 8 }];
  let placed = false;
  for (const { type, offset, length } of list) {
    const isXmp =
      type === 'iTXt' &&
      new ByteView(await source.read(offset + 8, XMP_KEYWORD.length + 1)).startsWith(`${XMP_KEYWORD}\0`);
    if (!placed && (isXmp || type === 'IDAT')) {
      parts.push(chunk('iTXt', content));
      placed = true;
    }
    if (isXmp) continue;
    if (type !== 'eXIf') {
      parts.push({ from: offset, length: length + 12 });
      continue;
    }
    const exif = await editedExif(sectionOf(source, offset + 8, length), fields);
    if (exif === null) return 'damaged';
    parts.push(chunk('eXIf', exif));
  }
  const last = list.at(-1);
  const end = last ? last.offset + last.length + 12 : source.size;
  if (end < source.size) parts.push({ from: end, length: source.size - end });
  return parts;
}

function chunk(type: string, content: Uint8Array): Uint8Array<ArrayBuffer> {
  const body = joinBytes([asciiBytes(type), content]);
  return joinBytes([u32Bytes(content.length), body, u32Bytes(crc32(body))]);
}
