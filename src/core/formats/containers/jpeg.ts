// JPEG (ITU-T T.81, annex B): walks the marker segments up to the start of the scan and picks out the metadata. APP1
// EXIF as in EXIF 2.32 section 4.7.2; APP1 XMP and its extension as in XMP specification part 3, section 1.1.3; APP2
// colour profile as in ICC.1 annex B.4, and the multi-picture format of CIPA DC-007; APP13 as image resources.

import { type ByteSource, memorySource } from '../../bytes/source';
import { joinBytes } from '../../bytes/join';
import { ByteView } from '../../bytes/view';
import { readTiff } from '../tiff/tiff';
import { type Blocks, METADATA_LIMIT_BYTES, noBlocks } from './blocks';
import { isFrame } from './jpeg-frame';
import { profileName } from './profile';

export const JPEG_SIGNS = {
  exif: 'Exif\0\0',
  xmp: 'http://ns.adobe.com/xap/1.0/\0',
  extension: 'http://ns.adobe.com/xmp/extension/\0',
  profile: 'ICC_PROFILE\0',
  multiPicture: 'MPF\0',
  resources: 'Photoshop 3.0\0',
} as const;
const SEGMENTS_LIMIT = 2000; // far above any real file; a hostile one could hold millions of empty segments

const hasNoLength = (marker: number) => marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8);

/** A marker segment before the scan. `start` is where its content begins. */
export interface Segment {
  marker: number;
  offset: number;
  start: number;
  content: Uint8Array;
}

export interface Segments {
  list: Segment[];
  /** Where the scan's marker stands; `null` where none was reached. */
  scan: number | null;
  cut: { marker: number; offset: number } | null;
}

export async function readSegments(source: ByteSource): Promise<Segments> {
  const list: Segment[] = [];
  let offset = 2;
  while (list.length < SEGMENTS_LIMIT) {
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
    if (marker === 0xda) return { list, scan: offset, cut: null };
    const length = head.u16(2);
    if (marker === 0xd9 || length === null || length < 2) break;
    const content = await source.read(offset + 4, length - 2);
    if (content.length < length - 2) return { list, scan: null, cut: { marker, offset } };
    list.push({ marker, offset, start: offset + 4, content });
    offset += 2 + length;
  }
  return { list, scan: null, cut: null };
}

export const opensWith = ({ content }: Segment, sign: string): boolean => new ByteView(content).startsWith(sign);

interface Parts {
  extensions: Map<string, { total: number; parts: { at: number; bytes: Uint8Array }[] }>;
  profile: { sequence: number; bytes: Uint8Array }[];
  multiPicture: { bytes: Uint8Array; offset: number } | null;
}

export async function readJpegBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const parts: Parts = { extensions: new Map(), profile: [], multiPicture: null };
  const { list, cut } = await readSegments(source);
  for (const segment of list) readSegment(blocks, parts, segment);
  if (cut) blocks.problems.push({ code: 'jpeg/segment-past-end', ...cut });
  if (blocks.width === null) blocks.problems.push({ code: 'jpeg/no-frame' });
  readExtension(blocks, parts);
  if (parts.profile.length > 0)
    blocks.profile = profileName(
      joinBytes(parts.profile.toSorted((a, b) => a.sequence - b.sequence).map(({ bytes }) => bytes)),
    );
  if (parts.multiPicture) await readPictures(blocks, parts.multiPicture);
  return blocks;
}

function readSegment(blocks: Blocks, parts: Parts, segment: Segment): void {
  const { marker, content, start } = segment;
  const view = new ByteView(content);
  const after = (sign: string) => content.subarray(sign.length);
  if (isFrame(marker)) {
    blocks.height = view.u16(1);
    blocks.width = view.u16(3);
  } else if (marker === 0xe1 && opensWith(segment, JPEG_SIGNS.exif)) {
    if (blocks.tiffs.length === 0)
      blocks.tiffs.push({
        source: memorySource(after(JPEG_SIGNS.exif)),
        offset: start + JPEG_SIGNS.exif.length,
        kind: 'main',
      });
  } else if (marker === 0xe1 && opensWith(segment, JPEG_SIGNS.xmp)) {
    blocks.xmp.push(after(JPEG_SIGNS.xmp));
  } else if (marker === 0xe1 && opensWith(segment, JPEG_SIGNS.extension)) {
    const at = JPEG_SIGNS.extension.length;
    const guid = view.ascii(at, 32);
    const known = parts.extensions.get(guid) ?? { total: view.u32(at + 32) ?? 0, parts: [] };
    known.parts.push({ at: view.u32(at + 36) ?? 0, bytes: content.subarray(at + 40) });
    parts.extensions.set(guid, known);
  } else if (marker === 0xe2 && opensWith(segment, JPEG_SIGNS.profile)) {
    parts.profile.push({
      sequence: view.u8(JPEG_SIGNS.profile.length) ?? 0,
      bytes: content.subarray(JPEG_SIGNS.profile.length + 2),
    });
  } else if (marker === 0xe2 && opensWith(segment, JPEG_SIGNS.multiPicture)) {
    parts.multiPicture ??= { bytes: after(JPEG_SIGNS.multiPicture), offset: start + JPEG_SIGNS.multiPicture.length };
  } else if (marker === 0xed && opensWith(segment, JPEG_SIGNS.resources)) {
    blocks.resources.push(after(JPEG_SIGNS.resources));
  }
}

/** The extension belongs to the packet that names its number; one that nobody names, or with holes, is not read. */
function readExtension(blocks: Blocks, { extensions }: Parts): void {
  if (extensions.size === 0) return;
  const named = new TextDecoder('latin1').decode(joinBytes(blocks.xmp));
  for (const [guid, { total, parts }] of extensions) {
    if (!named.includes(guid) || total > METADATA_LIMIT_BYTES) {
      blocks.problems.push({ code: 'xmp/extension-astray' });
      continue;
    }
    const ordered = parts.toSorted((a, b) => a.at - b.at);
    let covered = 0;
    for (const { at, bytes } of ordered) if (at === covered) covered += bytes.length;
    if (covered === total) blocks.xmp.push(joinBytes(ordered.map(({ bytes }) => bytes)));
    else blocks.problems.push({ code: 'xmp/extension-incomplete', bytes: total, present: covered });
  }
}

const PICTURES_TAG = 0xb002;

/**
 * The further pictures in the file: sixteen bytes each, with offsets counted from the start of the block's TIFF header.
 */
async function readPictures(blocks: Blocks, { bytes, offset }: { bytes: Uint8Array; offset: number }): Promise<void> {
  const tiff = await readTiff(memorySource(bytes));
  const table = tiff?.directories[0]?.tags.get(PICTURES_TAG)?.view;
  if (!table) return;
  for (let at = 16; at + 16 <= table.length && at < 16 * 20; at += 16) {
    const length = table.u32(at + 4);
    const from = table.u32(at + 8);
    if (length && from)
      blocks.previews.push({ coding: 'jpeg', offset: offset + from, length, width: null, height: null });
  }
}
