// The three families of metadata in a file, parsed but not yet weighed against each other: EXIF directories, XMP
// packets, IIM datasets.

import { md5 } from '@noble/hashes/legacy.js';
import { sameBytes } from '../../bytes/join';
import type { ByteSource } from '../../bytes/source';
import type { Blocks } from '../../formats/containers/blocks';
import { readBlocks } from '../../formats/containers/container';
import type { Format } from '../../formats/containers/formats';
import { profileName } from '../../formats/containers/profile';
import { MAIN } from '../../formats/tiff/exif-tags';
import { type Tiff, readTiff, tagsOf } from '../../formats/tiff/tiff';
import { type Iim, parseIimBlocks } from '../../formats/iim/iim';
import { RESOURCE, type Resources, parseResourceSegments, resourceData } from '../../formats/iim/resources';
import type { Problem } from '../../problems/problem';
import { type Packet, type PropertyMap, parsePacket, propertyMap } from '../../formats/xmp/packet';

export interface Families {
  blocks: Blocks;
  tiffs: Tiff[];
  packets: Packet[];
  /** What the packets say, by name. */
  properties: PropertyMap;
  iim: Iim | null;
  /** Whether IIM was changed behind XMP's back: what the stored digest says. `none` where no digest is stored. */
  iimDigest: 'none' | 'same' | 'differs';
  resources: Resources;
  problems: Problem[];
}

export async function readFamilies(source: ByteSource, format: Exclude<Format, 'unknown'>): Promise<Families> {
  const blocks = await readBlocks(source, format);
  const problems = [...blocks.problems];
  const tiffs = await tiffsOf(blocks, problems);
  const main = tagsOf(tiffs, 'main');
  const bytesOf = (tag: number) => main.get(tag)?.view.bytes;
  if (bytesOf(MAIN.iccProfile)) blocks.profile ??= profileName(bytesOf(MAIN.iccProfile) ?? new Uint8Array());
  const resources = parseResourceSegments([...blocks.resources, ...present(bytesOf(MAIN.photoshop))]);
  if (!resources.whole) problems.push({ code: 'iim/resources-damaged' });
  const packets = packetsOf([...blocks.xmp, ...present(bytesOf(MAIN.xmp))], problems);
  // TIFF may hold IIM twice; the tag of its own is the one that other programs keep
  const loose = [...present(bytesOf(MAIN.iim)), ...blocks.iim];
  const inResources = resources.blocks.filter(({ id }) => id === RESOURCE.iim).map(({ data }) => data);
  const iimBytes = loose.length > 0 ? loose : inResources;
  const iim = iimBytes.length > 0 ? parseIimBlocks(iimBytes) : null;
  if (iim) problems.push(...iim.problems);
  return {
    blocks,
    tiffs,
    packets,
    properties: propertyMap(packets),
    iim,
    iimDigest: digestOf(resources, iimBytes[0]),
    resources,
    problems,
  };
}

const present = (bytes: Uint8Array | undefined): Uint8Array[] => (bytes && bytes.length > 0 ? [bytes] : []);

async function tiffsOf(blocks: Blocks, problems: Problem[]): Promise<Tiff[]> {
  const tiffs: Tiff[] = [];
  for (const { source, kind } of blocks.tiffs) {
    const tiff = await readTiff(source, kind);
    if (tiff) problems.push(...tiff.problems);
    else problems.push({ code: 'tiff/bad-header' });
    if (tiff) tiffs.push(tiff);
  }
  return tiffs;
}

function packetsOf(blocks: readonly Uint8Array[], problems: Problem[]): Packet[] {
  const packets: Packet[] = [];
  for (const bytes of blocks) {
    const packet = parsePacket(bytes);
    if (packet.state === 'read') packets.push(packet.value);
    else if (packet.state === 'unreadable') problems.push(...packet.problems);
  }
  return packets;
}

/**
 * MD5 over the IIM datasets as they were when XMP was last brought in line with them (MWG guidelines 2.0, section
 * 3.3.1).
 */
function digestOf(resources: Resources, iim: Uint8Array | undefined): Families['iimDigest'] {
  const stored = resourceData(resources, RESOURCE.iimDigest);
  if (!stored || stored.length !== 16 || stored.every((byte) => byte === 0)) return 'none';
  const bytes = iim ?? new Uint8Array();
  // a TIFF tag of 32-bit numbers is filled up with zeros that are not part of it
  let end = bytes.length;
  while (end > 0 && bytes[end - 1] === 0 && bytes.length - end < 3) end -= 1;
  return sameBytes(md5(bytes), stored) || sameBytes(md5(bytes.subarray(0, end)), stored) ? 'same' : 'differs';
}
