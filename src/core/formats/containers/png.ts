// PNG (ISO/IEC 15948, third edition): IHDR for the size, `eXIf` for EXIF, `iTXt` with the keyword XML:com.adobe.xmp for
// XMP, `iCCP` for the profile's name. Older programs wrote EXIF, IIM and XMP as hexadecimal text into `tEXt` or `zTXt`
// under "Raw profile type …" (common practice); those are read too.

import { Inflate } from 'fflate';
import { type ByteSource, memorySource } from '../../bytes/source';
import { joinBytes } from '../../bytes/join';
import { ByteView } from '../../bytes/view';
import { JPEG_SIGNS } from './jpeg';
import { profileName } from './profile';
import { type Blocks, METADATA_LIMIT_BYTES, exifBlock, noBlocks } from './blocks';

export const XMP_KEYWORD = 'XML:com.adobe.xmp';
const CHUNKS_LIMIT = 10_000;
const TAKEN = new Set(['IHDR', 'eXIf', 'iTXt', 'tEXt', 'zTXt', 'iCCP', 'sRGB']);

/** `offset` is where the chunk's length stands. */
export interface Chunk {
  type: string;
  offset: number;
  length: number;
}

export interface Chunks {
  list: Chunk[];
  cutAt: number | null;
}

/** The chunks up to IEND. */
export async function readChunks(source: ByteSource): Promise<Chunks> {
  const list: Chunk[] = [];
  let offset = 8;
  while (list.length < CHUNKS_LIMIT && offset < source.size) {
    const head = new ByteView(await source.read(offset, 8));
    const length = head.u32(0);
    const type = head.ascii(4, 4);
    if (length === null || offset + 12 + length > source.size) return { list, cutAt: offset };
    list.push({ type, offset, length });
    if (type === 'IEND') break;
    offset += 12 + length;
  }
  return { list, cutAt: null };
}

export async function readPngBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const { list, cutAt } = await readChunks(source);
  for (const { type, offset, length } of list) {
    if (TAKEN.has(type) && length <= METADATA_LIMIT_BYTES)
      readChunk(blocks, type, await source.read(offset + 8, length), offset + 8);
  }
  if (cutAt !== null) blocks.problems.push({ code: 'png/chunk-past-end', offset: cutAt });
  return blocks;
}

function readChunk(blocks: Blocks, type: string, content: Uint8Array, start: number): void {
  const view = new ByteView(content);
  if (type === 'IHDR') {
    blocks.width = view.u32(0);
    blocks.height = view.u32(4);
    return;
  }
  if (type === 'eXIf') {
    blocks.tiffs.push(exifBlock(memorySource(content), start, content));
    return;
  }
  const end = content.indexOf(0);
  if (end < 0) return;
  const keyword = view.ascii(0, end);
  if (type === 'sRGB') blocks.profile ??= 'sRGB';
  if (type === 'iCCP') {
    blocks.profile = profileName(inflateBounded(content.subarray(end + 4)) ?? new Uint8Array()) ?? keyword;
    return;
  }
  const words =
    type === 'iTXt'
      ? internationalText(content, end, blocks)
      : type === 'zTXt'
        ? inflated(content.subarray(end + 2), blocks)
        : content.subarray(end + 1);
  if (!words) return;
  if (keyword === XMP_KEYWORD) blocks.xmp.push(words);
  else if (keyword.startsWith('Raw profile type '))
    readRawProfile(blocks, keyword.slice('Raw profile type '.length), words);
}

/** After the keyword: compression flag and method, then language and translated keyword, each ended by a zero. */
function internationalText(content: Uint8Array, end: number, blocks: Blocks): Uint8Array | null {
  const compressed = content[end + 1] === 1;
  let at = end + 3;
  for (let ended = 0; ended < 2 && at < content.length; at++) if (content[at] === 0) ended++;
  return compressed ? inflated(content.subarray(at), blocks) : content.subarray(at);
}

function inflated(bytes: Uint8Array, blocks: Blocks): Uint8Array | null {
  const value = inflateBounded(bytes.subarray(2)); // after the two bytes of the zlib header
  if (!value) blocks.problems.push({ code: 'png/text-not-readable' });
  return value;
}

/** Deflate, stopped where it grows beyond what metadata may be. `null` where it does not end well. */
export function inflateBounded(bytes: Uint8Array): Uint8Array | null {
  const parts: Uint8Array[] = [];
  let total = 0;
  const stream = new Inflate((part) => {
    total += part.length;
    if (total <= METADATA_LIMIT_BYTES) parts.push(part);
  });
  try {
    for (let at = 0; at < bytes.length && total <= METADATA_LIMIT_BYTES; at += 65_536)
      stream.push(bytes.subarray(at, at + 65_536), at + 65_536 >= bytes.length);
  } catch {
    return null;
  }
  return total > 0 && total <= METADATA_LIMIT_BYTES ? joinBytes(parts) : null;
}

/** A line with the profile's name, a line with its length, then hexadecimal digits. */
function readRawProfile(blocks: Blocks, kind: string, words: Uint8Array): void {
  const text = new TextDecoder('latin1').decode(words);
  const found = /^\s*(\S+)\s+(\d+)\s+/.exec(text);
  if (!found) return;
  const digits = text.slice(found[0].length).replace(/[^0-9a-fA-F]/g, '');
  const bytes = new Uint8Array(Math.min(digits.length >> 1, Number(found[2])));
  for (let index = 0; index < bytes.length; index++)
    bytes[index] = parseInt(digits.slice(index * 2, index * 2 + 2), 16);
  const view = new ByteView(bytes);
  if (kind === 'xmp') blocks.xmp.push(bytes);
  else if (kind === 'iptc' || kind === '8bim') (view.startsWith('8BIM') ? blocks.resources : blocks.iim).push(bytes);
  else if ((kind === 'exif' || kind === 'APP1') && blocks.tiffs.length === 0) {
    if (view.startsWith(JPEG_SIGNS.xmp)) blocks.xmp.push(bytes.subarray(JPEG_SIGNS.xmp.length));
    else blocks.tiffs.push(exifBlock(memorySource(bytes), 0, bytes));
  }
}
