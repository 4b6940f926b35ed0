// Fields into a TIFF or a DNG: directories appended at the end, with XMP (tag 700), IIM (33723), the image resources
// that hold its digest (34377), and EXIF's own words. Nothing else in the file moves.

import { md5 } from '@noble/hashes/legacy.js';
import { joinBytes, sameBytes } from '../../bytes/join';
import type { ByteSource } from '../../bytes/source';
import { MAIN } from '../../formats/tiff/exif-tags';
import { isBigTiff, tagsOf } from '../../formats/tiff/tiff';
import type { FieldValues } from '../../fields/registry';
import { parseIim } from '../../formats/iim/iim';
import { planIim } from './iim-edit';
import { RESOURCE, parseResources, withResource, writeResources } from '../../formats/iim/resources';
import { type Packet, writePacket } from '../../formats/xmp/packet';
import { type TagEdits, type TagValue, appendDirectories, readOriginal } from './exif-edit';
import { exifEdits } from './exif-values';
import type { EmbedRefusal } from './jpeg-embed';
import type { EmbedPart } from './parts';

/** Offsets of TIFF have 32 bits. */
const TIFF_LIMIT_BYTES = 0xffff_ffff;

const bytesValue = (type: number, bytes: Uint8Array): TagValue => ({ type, count: bytes.length, bytes });

export async function embedInTiff(
  source: ByteSource,
  fields: FieldValues,
  packet: Packet,
): Promise<EmbedPart[] | EmbedRefusal> {
  if (isBigTiff(await source.read(0, 4))) return 'big-tiff';
  const read = await readOriginal(source);
  if (!read || read.tiff.problems.length > 0) return 'damaged';
  const { tiff } = read;
  const edits = exifEdits(tiff, fields);
  const tags = tagsOf([tiff], 'main');
  const xmp = writePacket(packet);
  if (!sameAs(tags.get(MAIN.xmp)?.view.bytes, xmp)) edits.main.set(MAIN.xmp, bytesValue(1, xmp));
  const refusal = putIim(edits.main, fields, tags.get(MAIN.iim)?.view.bytes, tags.get(MAIN.photoshop)?.view.bytes);
  if (refusal) return refusal;
  const parts = await appendDirectories(source, edits);
  if (!parts) return 'damaged';
  return parts.reduce((sum, part) => sum + part.length, 0) > TIFF_LIMIT_BYTES ? 'too-large' : parts;
}

const sameAs = (a: Uint8Array | undefined, b: Uint8Array): boolean => a !== undefined && sameBytes(a, b);

const withoutFilling = (bytes: Uint8Array, length: number): Uint8Array =>
  bytes.length - length < 4 && bytes.subarray(length).every((byte) => byte === 0) ? bytes.subarray(0, length) : bytes;

/** IIM goes to its own tag; where the file has image resources, those hold it as well and get its digest. */
function putIim(
  main: TagEdits,
  fields: FieldValues,
  loose: Uint8Array | undefined,
  resourceBytes: Uint8Array | undefined,
): EmbedRefusal | null {
  const resources = parseResources(resourceBytes ?? new Uint8Array());
  if (!resources.whole) return 'damaged';
  const inResources = resources.blocks.find(({ id }) => id === RESOURCE.iim)?.data;
  const existing = parseIim(loose ?? inResources ?? new Uint8Array());
  if (!existing.whole) return 'damaged';
  const iim = planIim(existing.datasets, fields);
  if (iim === null || sameAs(loose ? withoutFilling(loose, iim.length) : inResources, iim)) return null;
  // by custom 32-bit numbers, filled up with zeros
  const padded = joinBytes([iim, new Uint8Array((4 - (iim.length % 4)) % 4)]);
  main.set(MAIN.iim, { type: 4, count: padded.length / 4, bytes: padded });
  const blocks = withResource(
    inResources ? withResource(resources.blocks, RESOURCE.iim, iim) : resources.blocks,
    RESOURCE.iimDigest,
    md5(padded),
  );
  main.set(MAIN.photoshop, bytesValue(1, writeResources(blocks)));
  return null;
}
