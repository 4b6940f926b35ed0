// Image resource blocks, in which IIM lies in JPEG (APP13), TIFF (tag 34377) and PSD: a signature, an id, a padded
// name, a length, the data padded to even. (File format specification of Photoshop, "Image Resources"; numbers from
// memory.)

import { joinBytes, u16Bytes, u32Bytes, asciiBytes } from '../../bytes/join';
import { ByteView } from '../../bytes/view';

export const RESOURCE = {
  iim: 0x0404,
  thumbnail: 0x040c,
  iccProfile: 0x040f,
  exif: 0x0422,
  xmp: 0x0424,
  iimDigest: 0x0425,
} as const;

export interface Resource {
  signature: string;
  id: number;
  /** The Pascal string with its length byte and padding, as it stood. */
  name: Uint8Array;
  data: Uint8Array;
  /** Where the data began in the bytes that were read. */
  start: number;
}

export interface Resources {
  blocks: Resource[];
  /** Whether all bytes were understood. What was not is never written over. */
  whole: boolean;
}

const SIGNATURES = new Set(['8BIM', 'PHUT', 'DCSR', 'AgHg', 'MeSa']);
const RESOURCES_LIMIT = 10_000;

export function parseResources(bytes: Uint8Array): Resources {
  const view = new ByteView(bytes);
  const blocks: Resource[] = [];
  let at = 0;
  while (blocks.length < RESOURCES_LIMIT && SIGNATURES.has(view.ascii(at, 4))) {
    const nameBytes = (view.u8(at + 6) ?? 0) + 1;
    const lengthAt = at + 6 + nameBytes + (nameBytes % 2);
    const length = view.u32(lengthAt);
    const data = length === null ? null : view.slice(lengthAt + 4, length);
    if (length === null || data === null) return { blocks, whole: false };
    blocks.push({
      signature: view.ascii(at, 4),
      id: view.u16(at + 4) ?? 0,
      name: bytes.subarray(at + 6, lengthAt),
      data,
      start: lengthAt + 4,
    });
    at = lengthAt + 4 + length + (length % 2);
  }
  return { blocks, whole: bytes.subarray(at).every((byte) => byte === 0) };
}

/** A long run of resources is cut over several segments, anywhere; other writers put whole ones into each. */
export function parseResourceSegments(segments: readonly Uint8Array[]): Resources {
  const [first, ...others] = segments;
  if (!first) return { blocks: [], whole: true };
  if (others.length === 0) return parseResources(first);
  const joined = parseResources(joinBytes(segments));
  if (joined.whole) return joined;
  const apart = segments.map(parseResources);
  return { blocks: apart.flatMap(({ blocks }) => blocks), whole: apart.every(({ whole }) => whole) };
}

export const resourceData = ({ blocks }: Resources, id: number): Uint8Array | null =>
  blocks.find((block) => block.id === id)?.data ?? null;

export function writeResources(
  blocks: readonly Pick<Resource, 'signature' | 'id' | 'name' | 'data'>[],
): Uint8Array<ArrayBuffer> {
  return joinBytes(
    blocks.flatMap(({ signature, id, name, data }) => [
      asciiBytes(signature),
      u16Bytes(id),
      name,
      u32Bytes(data.length),
      data,
      new Uint8Array(data.length % 2),
    ]),
  );
}

/** The blocks with the data of one id put in place, at the end where there is none; `null` takes it out. */
export function withResource(blocks: readonly Resource[], id: number, data: Uint8Array | null): Resource[] {
  const at = blocks.findIndex((block) => block.id === id);
  const others = blocks.filter((block) => block.id !== id);
  if (data === null) return others;
  const known = blocks[at];
  const block: Resource = { signature: '8BIM', id, name: known?.name ?? new Uint8Array(2), data, start: 0 };
  return at < 0 ? [...others, block] : [...others.slice(0, at), block, ...others.slice(at)];
}
