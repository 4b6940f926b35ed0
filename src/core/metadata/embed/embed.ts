// Writing fields into the image file itself. The result is read again before anybody may use it: every field must say
// what was wanted, and the picture's digest must be what it was. Raws are never written into, but for DNG, which is
// meant for it; nor is a file in which anything is damaged.

import { withPages, type ByteSource } from '../../bytes/source';
import { type Format, endingOf } from '../../formats/containers/formats';
import { type NewDigest, digestImage } from '../picture-digest/image-digest';
import { type FieldKey, type FieldValues, fieldOf } from '../../fields/registry';
import { differingKeys, sameValue } from '../../fields/values';
import { readFamilies } from '../reading/families';
import { openForReading, readPhoto } from '../reading/reading';
import { mergedPacket } from '../xmp/extended';
import { newPacket } from '../../formats/xmp/packet';
import { setFields } from '../xmp/sidecar';
import { embedInJpeg, type EmbedRefusal } from './jpeg-embed';
import { type EmbedPart, sourceOfParts } from './parts';
import { embedInPng } from './png-embed';
import { embedInTiff } from './tiff-embed';
import { embedInWebp } from './webp-embed';

export type EmbedPlan =
  | { state: 'planned'; parts: EmbedPart[] }
  | { state: 'nothing-to-do' }
  | { state: 'refused'; reason: EmbedRefusal | 'format' | 'picture-changed' }
  | { state: 'refused'; reason: 'not-as-planned'; keys: FieldKey[] };

const WRITERS = { jpeg: embedInJpeg, png: embedInPng, webp: embedInWebp, tiff: embedInTiff } as const;

/** Whether the format of a file takes metadata at all. */
export const takesMetadata = (format: Format, name: string): boolean =>
  format in WRITERS || (format === 'raw' && endingOf(name) === 'dng');

/** The file with `fields` in it, as parts. Everything that is not a field stays. */
export async function planEmbed(
  source: ByteSource,
  name: string,
  fields: FieldValues,
  newDigest: NewDigest,
): Promise<EmbedPlan> {
  const { source: opened, format } = await openForReading(source, name);
  if (format === 'unknown' || !takesMetadata(format, name)) return { state: 'refused', reason: 'format' };
  const before = await readPhoto(source, name);
  if (before.problems.some(({ code }) => code !== 'iim/text-undecodable'))
    return { state: 'refused', reason: 'damaged' };
  if (differingKeys(before.fields, fields).length === 0 && before.disagreements.length === 0)
    return { state: 'nothing-to-do' };
  const { packets } = await readFamilies(opened, format);
  const packet = packets.length > 0 ? mergedPacket(packets) : newPacket();
  setFields(packet, fields, () => false);
  const write = format === 'raw' ? embedInTiff : WRITERS[format as keyof typeof WRITERS];
  const parts = await write(withPages(source, 64 * 1024, 8), fields, packet);
  if (typeof parts === 'string') return { state: 'refused', reason: parts };
  return verified(source, name, fields, parts, newDigest);
}

async function verified(
  source: ByteSource,
  name: string,
  fields: FieldValues,
  parts: EmbedPart[],
  newDigest: NewDigest,
): Promise<EmbedPlan> {
  const made = sourceOfParts(source, parts);
  const after = await readPhoto(made, name);
  const keys = differingKeys(after.fields, fields).filter((key) => !sameDate(key, after.fields, fields));
  if (keys.length > 0 || after.problems.length > 0) return { state: 'refused', reason: 'not-as-planned', keys };
  const [was, is] = [await digestImage(source, name, newDigest), await digestImage(made, name, newDigest)];
  return was === is ? { state: 'planned', parts } : { state: 'refused', reason: 'picture-changed' };
}

/** EXIF writes UTC as `+00:00`. */
function sameDate(key: FieldKey, a: FieldValues, b: FieldValues): boolean {
  const utc = (value: unknown) => String(value).replace(/Z$/, '+00:00');
  return fieldOf(key).value === 'date' && sameValue(utc(a[key]), utc(b[key]));
}
