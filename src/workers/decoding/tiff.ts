// TIFF: by libvips, told what it does not see for itself.

import { MAIN } from '@/core/formats/tiff/exif-tags';
import { type Tag, numberOf, readTiff } from '@/core/formats/tiff/tiff';
import { Undecodable } from '@/core/problems/undecodable';
import { blobSource } from '@/storage/drives/safe-write';
import type { DecodeOrder, Decoded, Numbers } from './decoding';
import { decodeWithVips } from './vips';

/** Ways of packing it unpacks (TIFF 6.0; deflate by both its numbers): of others it makes a picture that is wrong. */
const UNPACKED = new Set([1, 2, 3, 4, 7, 8, 32773, 32946, 5]);
/** Names of those that are met all the same, from the registry of tags. */
const PACKINGS: Readonly<Record<number, string>> = {
  6: 'JPEG of the old kind',
  34676: 'SGI Log',
  34677: 'SGI Log',
  34712: 'JPEG 2000',
  34925: 'LZMA',
  50000: 'Zstandard',
  50001: 'WebP',
  50002: 'JPEG XL',
  52546: 'JPEG XL',
};
/** Photometric interpretations (TIFF 6.0, section 23; ICC.1 annex B) of Lab, here told as three plain channels. */
const LAB: Readonly<Record<number, Numbers>> = { 8: 'lab-signed', 9: 'lab' };
const RGB = 2;

export async function decodeTiff(order: DecodeOrder): Promise<Decoded> {
  const tiff = await readTiff(blobSource(order.file));
  const pages = tiff?.directories.filter(({ kind }) => kind === 'main' || kind === 'next') ?? [];
  const tags = pages[order.page]?.tags;
  if (!tiff || !tags) return decodeWithVips(order);
  const packing = numberOf(tags.get(MAIN.compression)) ?? 1;
  if (!UNPACKED.has(packing))
    throw new Undecodable({
      code: 'picture/refused',
      reason: `it is packed as ${PACKINGS[packing] ?? `TIFF method ${packing}`}`,
    });
  const photometric = tags.get(MAIN.photometric);
  const numbers = LAB[numberOf(photometric) ?? -1];
  const bits = numberOf(tags.get(MAIN.bitsPerSample));
  if (!photometric || !numbers || bits !== 8) return decodeWithVips(order);
  return decodeWithVips({ ...order, file: retold(order.file, photometric, RGB, tiff.littleEndian), numbers });
}

/** The same file with another number in a tag. */
function retold(file: Blob, { offset }: Tag, value: number, littleEndian: boolean): Blob {
  const bytes = new DataView(new ArrayBuffer(2));
  bytes.setUint16(0, value, littleEndian);
  return new Blob([file.slice(0, offset), bytes.buffer, file.slice(offset + 2)]);
}
