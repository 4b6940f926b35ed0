// RIFF (Microsoft and IBM, 1991) in its two uses here: WebP (RFC 9649) and AVI. Chunks of a name, a length and content
// padded to even; lists hold chunks of their own.

import type { ByteSource } from '../../bytes/source';
import { memorySource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { type Blocks, type Video, METADATA_LIMIT_BYTES, exifBlock, noBlocks } from './blocks';
import { profileName } from './profile';

const CHUNKS_LIMIT = 10_000;

/** `offset` is where the chunk's name stands; its content begins eight bytes later. */
export interface RiffChunk {
  type: string;
  offset: number;
  length: number;
}

export interface RiffChunks {
  list: RiffChunk[];
  cutAt: number | null;
}

export async function readRiff(source: ByteSource, from = 12, end = source.size): Promise<RiffChunks> {
  const list: RiffChunk[] = [];
  let offset = from;
  while (list.length < CHUNKS_LIMIT && offset + 8 <= end) {
    const head = new ByteView(await source.read(offset, 8), true);
    const type = head.ascii(0, 4);
    const length = head.u32(4);
    if (length === null || offset + 8 + length > end) return { list, cutAt: offset };
    list.push({ type, offset, length });
    offset += 8 + length + (length % 2);
  }
  return { list, cutAt: null };
}

export async function readWebpBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const { list, cutAt } = await readRiff(source);
  for (const chunk of list) await readWebpChunk(blocks, source, chunk);
  if (cutAt !== null) blocks.problems.push({ code: 'webp/chunk-past-end', offset: cutAt });
  return blocks;
}

async function readWebpChunk(blocks: Blocks, source: ByteSource, { type, offset, length }: RiffChunk): Promise<void> {
  const start = offset + 8;
  if (type === 'EXIF' || type === 'XMP ' || type === 'ICCP') {
    if (length > METADATA_LIMIT_BYTES) return;
    const content = await source.read(start, length);
    if (type === 'XMP ') blocks.xmp.push(content);
    else if (type === 'ICCP') blocks.profile = profileName(content);
    else if (blocks.tiffs.length === 0) blocks.tiffs.push(exifBlock(memorySource(content), start, content));
    return;
  }
  if (blocks.width !== null || !type.startsWith('VP8')) return;
  const size = webpSize(type, new ByteView(await source.read(start, Math.min(length, 10)), true));
  blocks.width = size?.width ?? null;
  blocks.height = size?.height ?? null;
}

/** The canvas of an extended file, the frame of a lossy one, the image of a lossless one (RFC 9649, 2.5 to 2.7). */
export function webpSize(type: string, view: ByteView): { width: number; height: number } | null {
  const packed = (at: number) => (view.u16(at) ?? 0) + ((view.u8(at + 2) ?? 0) << 16) + 1;
  if (type === 'VP8X') return { width: packed(4), height: packed(7) };
  if (type === 'VP8 ') return { width: (view.u16(6) ?? 0) & 0x3fff, height: (view.u16(8) ?? 0) & 0x3fff };
  if (type !== 'VP8L') return null;
  const bits = view.u32(1) ?? 0;
  return { width: (bits & 0x3fff) + 1, height: ((bits >>> 14) & 0x3fff) + 1 };
}

const MONTHS = ['JAN', 'FEB', 'MAR', 'APR', 'MAY', 'JUN', 'JUL', 'AUG', 'SEP', 'OCT', 'NOV', 'DEC'];

/**
 * AVI: the main header for length and size, `IDIT` for the date, `_PMX` for XMP, `strd` with EXIF from cameras is left.
 */
export async function readAviBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const video: Video = {
    seconds: null,
    created: null,
    make: null,
    model: null,
    gps: null,
    codec: null,
    sound: null,
  };
  blocks.video = video;
  const walk = async (from: number, end: number, depth: number): Promise<void> => {
    const { list, cutAt } = await readRiff(source, from, end);
    for (const { type, offset, length } of list) {
      const start = offset + 8;
      if (type === 'LIST' && depth < 3) {
        const kind = new ByteView(await source.read(start, 4)).ascii(0, 4);
        if (kind !== 'movi') await walk(start + 4, start + length, depth + 1);
      } else if (type === 'avih') {
        const view = new ByteView(await source.read(start, 40), true);
        video.seconds = ((view.u32(0) ?? 0) * (view.u32(16) ?? 0)) / 1_000_000 || null;
        blocks.width = view.u32(32);
        blocks.height = view.u32(36);
      } else if (type === 'strh') {
        const view = new ByteView(await source.read(start, 8), true);
        if (view.ascii(0, 4) === 'vids') video.codec ??= view.ascii(4, 4).replace(/\0+$/, '').trim();
        else if (view.ascii(0, 4) === 'auds') video.sound ??= 'PCM';
      } else if (type === 'IDIT' || type === 'ICRD') {
        video.created ??= aviDate(
          new ByteView(await source.read(start, Math.min(length, 64))).ascii(0, Math.min(length, 64)),
        );
      } else if (type === '_PMX' && length <= METADATA_LIMIT_BYTES) blocks.xmp.push(await source.read(start, length));
    }
    if (cutAt !== null && depth === 0) blocks.problems.push({ code: 'video/cut-short' });
  };
  await walk(12, source.size, 0);
  return blocks;
}

/** `Thu Jul 04 14:03:22 2019`, or digits from the year on. */
function aviDate(text: string): string | null {
  const words = /^\w{3} (\w{3}) +(\d{1,2}) (\d{2}:\d{2}:\d{2}) (\d{4})/.exec(text);
  const month = words ? MONTHS.indexOf((words[1] ?? '').toUpperCase()) + 1 : 0;
  if (words && month > 0)
    return `${words[4]}-${String(month).padStart(2, '0')}-${(words[2] ?? '').padStart(2, '0')}T${words[3]}`;
  const digits = /^(\d{4})[-:/](\d{2})[-:/](\d{2})(?:[ T](\d{2}:\d{2}:\d{2}))?/.exec(text);
  return digits ? `${digits[1]}-${digits[2]}-${digits[3]}${digits[4] ? `T${digits[4]}` : ''}` : null;
}
