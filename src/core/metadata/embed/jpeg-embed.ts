// Fields into a JPEG: XMP with its extension, IIM among the other image resources, and what EXIF says of the same
// facts. The three stand together where the first of them stood, else after the JFIF header; all other segments keep
// their order.

import { md5 } from '@noble/hashes/legacy.js';
import { asciiBytes, joinBytes, sameBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { type ByteSource, memorySource } from '../../bytes/source';
import { JPEG_SIGNS, type Segment, opensWith, readSegments } from '../../formats/containers/jpeg';
import { MAIN } from '../../formats/tiff/exif-tags';
import type { FieldValues } from '../../fields/registry';
import { parseIimBlocks } from '../../formats/iim/iim';
import { planIim } from './iim-edit';
import {
  RESOURCE,
  parseResourceSegments,
  resourceData,
  withResource,
  writeResources,
} from '../../formats/iim/resources';
import { splitPacket } from '../xmp/extended';
import type { Packet } from '../../formats/xmp/packet';
import { EMPTY_TIFF, type TagValue, appendDirectories, readOriginal } from './exif-edit';
import { exifEdits } from './exif-values';
import { type EmbedPart, sourceOfParts } from './parts';
import { withMovedPictures } from './multi-picture';

const CONTENT_LIMIT_BYTES = 65_533;

/**
 * What a first directory in a JPEG must have, with the values EXIF gives where nothing is known (EXIF 2.32, table 17
 * and section 4.6.4).
 */
const REQUIRED: readonly [number, TagValue][] = [
  [MAIN.xResolution, { type: 5, count: 1, bytes: joinBytes([u32Bytes(72), u32Bytes(1)]) }],
  [MAIN.yResolution, { type: 5, count: 1, bytes: joinBytes([u32Bytes(72), u32Bytes(1)]) }],
  [MAIN.resolutionUnit, { type: 3, count: 1, bytes: u16Bytes(2) }],
  [MAIN.chromaPositioning, { type: 3, count: 1, bytes: u16Bytes(1) }],
];

export type EmbedRefusal = 'damaged' | 'too-large' | 'big-tiff';

/** `packet` has the fields already; it is used up. */
export async function embedInJpeg(
  source: ByteSource,
  fields: FieldValues,
  packet: Packet,
): Promise<EmbedPart[] | EmbedRefusal> {
  const { list, scan } = await readSegments(source);
  if (scan === null) return 'damaged';
  const firstExif = list.find(isExif); // a further one is not read, and stays
  const isOurs = (segment: Segment) => segment === firstExif || isXmp(segment) || isResources(segment);
  const exif = await exifSegment(firstExif, fields);
  const xmp = xmpSegments(packet);
  const resources = resourceSegments(list.filter(isResources), fields);
  if (typeof exif === 'string') return exif;
  if (xmp === null || resources === null) return resources === null ? 'damaged' : 'too-large';
  const first = list.findIndex(isOurs);
  const at = first >= 0 ? first : list.findLastIndex(({ marker }) => marker === 0xe0) + 1;
  const others = (segments: Segment[]) => segments.filter((segment) => !isOurs(segment)).map(whole);
  const ordered: EmbedPart[] = [
    asciiBytes('\xff\xd8'),
    ...others(list.slice(0, at)),
    ...exif,
    ...xmp,
    ...resources,
    ...others(list.slice(at)),
    { from: scan, length: source.size - scan },
  ];
  return withMovedPictures(source, list, ordered);
}

const isExif = (segment: Segment) => segment.marker === 0xe1 && opensWith(segment, JPEG_SIGNS.exif);
const isXmp = (segment: Segment) =>
  segment.marker === 0xe1 && (opensWith(segment, JPEG_SIGNS.xmp) || opensWith(segment, JPEG_SIGNS.extension));
const isResources = (segment: Segment) => segment.marker === 0xed && opensWith(segment, JPEG_SIGNS.resources);
const whole = ({ offset, content }: Segment): EmbedPart => ({ from: offset, length: content.length + 4 });

const segment = (marker: number, content: Uint8Array): Uint8Array<ArrayBuffer> =>
  joinBytes([Uint8Array.of(0xff, marker), u16Bytes(content.length + 2), content]);

async function exifSegment(
  existing: Segment | undefined,
  fields: FieldValues,
): Promise<Uint8Array<ArrayBuffer>[] | EmbedRefusal> {
  const source = memorySource(existing ? existing.content.subarray(JPEG_SIGNS.exif.length) : EMPTY_TIFF);
  const read = await readOriginal(source);
  if (!read) return 'damaged';
  const { original, tiff } = read;
  const edits = exifEdits(tiff, fields);
  const isNew = original.length === EMPTY_TIFF.length && original.firstDirectory === 0;
  if (
    isNew &&
    ![edits.main, edits.exif, edits.gps].flatMap((inside) => [...inside.values()]).some((value) => value !== null)
  )
    return [];
  if (isNew) for (const [tag, value] of REQUIRED) edits.main.set(tag, value);
  const parts = await appendDirectories(source, edits);
  if (!parts) return 'damaged';
  const plan = sourceOfParts(source, parts);
  if (plan.size + JPEG_SIGNS.exif.length > CONTENT_LIMIT_BYTES) return 'too-large';
  return [segment(0xe1, joinBytes([asciiBytes(JPEG_SIGNS.exif), await plan.read(0, plan.size)]))];
}

function xmpSegments(packet: Packet): Uint8Array<ArrayBuffer>[] | null {
  const split = splitPacket(packet, CONTENT_LIMIT_BYTES - JPEG_SIGNS.xmp.length);
  if (!split) return null;
  const segments = [segment(0xe1, joinBytes([asciiBytes(JPEG_SIGNS.xmp), split.main]))];
  if (!split.extension) return segments;
  const { bytes, guid } = split.extension;
  const sign = asciiBytes(JPEG_SIGNS.extension + guid);
  const room = CONTENT_LIMIT_BYTES - sign.length - 8;
  for (let at = 0; at < bytes.length; at += room)
    segments.push(
      segment(0xe1, joinBytes([sign, u32Bytes(bytes.length), u32Bytes(at), bytes.subarray(at, at + room)])),
    );
  return segments;
}

/**
 * The image resources with IIM and its digest in place. Segments that need no change come back as they were. `null`
 * where they are damaged.
 */
function resourceSegments(existing: readonly Segment[], fields: FieldValues): Uint8Array<ArrayBuffer>[] | null {
  const contents = existing.map(({ content }) => content.subarray(JPEG_SIGNS.resources.length));
  const resources = parseResourceSegments(contents);
  if (!resources.whole) return null;
  const inFile = resources.blocks.filter(({ id }) => id === RESOURCE.iim).map(({ data }) => data);
  const before = joinBytes(inFile);
  const parsed = parseIimBlocks(inFile);
  if (!parsed.whole) return null;
  const iim = planIim(parsed.datasets, fields);
  const digest = iim ? md5(iim) : null;
  const same =
    inFile.length <= 1 &&
    sameBytes(before, iim ?? new Uint8Array()) &&
    sameBytes(resourceData(resources, RESOURCE.iimDigest) ?? new Uint8Array(), digest ?? new Uint8Array());
  if (same) return existing.map(({ content }) => segment(0xed, content));
  const written = writeResources(
    withResource(withResource(resources.blocks, RESOURCE.iim, iim), RESOURCE.iimDigest, digest),
  );
  const sign = asciiBytes(JPEG_SIGNS.resources);
  const room = CONTENT_LIMIT_BYTES - sign.length;
  const segments: Uint8Array<ArrayBuffer>[] = [];
  for (let at = 0; at < written.length; at += room)
    segments.push(segment(0xed, joinBytes([sign, written.subarray(at, at + room)])));
  return segments;
}
