// TIFF: by libvips, told what it does not see for itself.

import { MAIN } from '@/core/formats/tiff/exif-tags';
import { type Tag, type Tags, type Tiff, numberOf, readTiff } from '@/core/formats/tiff/tiff';
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
  const { whole, ...told } = await toldTiff(order.file, order.page);
  const decoded = await decodeWithVips({ ...order, ...told });
  return { ...decoded, whole: decoded.whole && whole };
}

/** The file as libvips understands it, and what its numbers mean. Rejects with `Undecodable` where it has no way. */
export async function toldTiff(file: Blob, page: number): Promise<{ file: Blob; numbers: Numbers; whole: boolean }> {
  const tiff = await readTiff(blobSource(file));
  const pages = tiff?.directories.filter(({ kind }) => kind === 'main' || kind === 'next') ?? [];
  const tags = pages[page]?.tags;
  if (!tiff || !tags) return { file, numbers: 'as-written', whole: true };
  const coding = undecodedCoding(tags);
  if (coding) throw new Undecodable({ code: 'picture/coding', coding });
  return { ...asTold(file, tiff, tags), whole: hasAllStrips(tags) };
}

function asTold(file: Blob, tiff: Tiff, tags: Tags): { file: Blob; numbers: Numbers } {
  const photometric = tags.get(MAIN.photometric);
  const numbers = LAB[numberOf(photometric) ?? -1];
  const bits = numberOf(tags.get(MAIN.bitsPerSample));
  if (!photometric || !numbers || bits !== 8) return { file, numbers: 'as-written' };
  return { file: retold(file, photometric, RGB, tiff.littleEndian), numbers };
}

/** Whether there are as many strips as its height asks for; libvips leaves the rest black without a word. */
function hasAllStrips(tags: Tags): boolean {
  const strips = tags.get(MAIN.stripOffsets)?.count;
  const height = numberOf(tags.get(MAIN.imageLength));
  if (strips === undefined || height === null) return true;
  const rows = Math.min(height, numberOf(tags.get(MAIN.rowsPerStrip)) ?? height);
  return rows > 0 && strips >= Math.ceil(height / rows);
}

const DEPTHS = new Set([1, 2, 4, 8, 16, 32, 64]);
const SEPARATE_PLANES = 2;

/** What it is that libvips has no way for, in words; `null` where there is nothing. */
function undecodedCoding(tags: Tags): string | null {
  const packing = numberOf(tags.get(MAIN.compression)) ?? 1;
  if (!UNPACKED.has(packing)) return `TIFF packed as ${PACKINGS[packing] ?? `method ${packing}`}`;
  const bits = numberOf(tags.get(MAIN.bitsPerSample)) ?? 1;
  if (!DEPTHS.has(bits)) return `TIFF of ${bits} bits a channel`;
  const planes = numberOf(tags.get(MAIN.planarConfiguration));
  const samples = numberOf(tags.get(MAIN.samplesPerPixel)) ?? 1;
  return planes === SEPARATE_PLANES && samples > 1 && tags.has(MAIN.tileWidth)
    ? 'TIFF with a tile for each channel'
    : null;
}

/** The same file with another number in a tag. */
function retold(file: Blob, { offset }: Tag, value: number, littleEndian: boolean): Blob {
  const bytes = new DataView(new ArrayBuffer(2));
  bytes.setUint16(0, value, littleEndian);
  return new Blob([file.slice(0, offset), bytes.buffer, file.slice(offset + 2)]);
}
