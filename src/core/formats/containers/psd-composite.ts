// The picture of all layers together that ends a PSD or PSB, told as a TIFF: its planes are kept there as TIFF keeps
// separate ones, plain or in PackBits, so that a head in front of the file's own bytes makes it one. PSD: file format
// specification, "Image Data Section" (from memory, tried on test files of other programs). TIFF 6.0 and BigTIFF.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { MAIN } from '../tiff/exif-tags';
import { RESOURCE, parseResources, resourceData } from '../iim/resources';

export interface PsdComposite {
  /** A TIFF's head, behind which these bytes of the file follow. */
  head: Uint8Array<ArrayBuffer>;
  from: number;
  end: number;
  /** Inks are kept as what is left white; Lab in unsigned numbers. */
  numbers: 'as-written' | 'inverted' | 'lab';
}

export type PsdReading =
  | { state: 'read'; composite: PsdComposite }
  | { state: 'refused'; reason: 'not-psd' | 'cut-short' | 'mode' | 'compression' | 'too-large' };

/** What each of its modes is in TIFF: planes that are colour, and the photometric interpretation. */
const MODES: Readonly<Record<number, { planes: number; photometric: number; numbers?: PsdComposite['numbers'] }>> = {
  0: { planes: 1, photometric: 0 }, // bitmap: 1 is black
  1: { planes: 1, photometric: 1 },
  2: { planes: 1, photometric: 3 }, // indexed
  3: { planes: 3, photometric: 2 },
  4: { planes: 4, photometric: 5, numbers: 'inverted' },
  8: { planes: 1, photometric: 1 }, // duotone: its grey
  9: { planes: 3, photometric: 2, numbers: 'lab' },
};
const PALETTE = 3;
const DEPTHS = [1, 8, 16, 32];
const RAW = 0;
const PACKBITS = 1;
const TIFF_PACKBITS = 32773;
const DIMENSION_LIMIT = 300_000;
const RESOURCES_LIMIT_BYTES = 64 * 1024 * 1024;
/** Rows to a strip, so that there are few strips and none is large. */
const STRIP_BYTES = 1024 * 1024;

type Refusal = Extract<PsdReading, { state: 'refused' }>;
const refused = (reason: Refusal['reason']): Refusal => ({ state: 'refused', reason });

export async function readPsdComposite(source: ByteSource): Promise<PsdReading> {
  const head = new ByteView(await source.read(0, 30));
  if (head.ascii(0, 4) !== '8BPS') return refused('not-psd');
  const size = sizeOf(head);
  if (!size) return refused('mode');
  if (!size.width || !size.height || size.width > DIMENSION_LIMIT || size.height > DIMENSION_LIMIT)
    return refused('too-large');
  const isLarge = head.u16(4) === 2;
  const paletteLength = head.u32(26) ?? 0;
  const palette = size.photometric === PALETTE ? await source.read(30, Math.min(paletteLength, 768)) : null;
  const resourcesAt = 30 + paletteLength;
  const resourcesLength = new ByteView(await source.read(resourcesAt, 4)).u32(0) ?? 0;
  const dataAt = await dataAfter(source, resourcesAt + 4 + resourcesLength, isLarge);
  const compression = dataAt === null ? null : new ByteView(await source.read(dataAt, 2)).u16(0);
  if (dataAt === null || compression === null) return refused('cut-short');
  if (compression !== RAW && compression !== PACKBITS) return refused('compression');
  const strips =
    compression === RAW ? plainStrips(size, dataAt + 2) : await packedStrips(source, size, dataAt + 2, isLarge ? 4 : 2);
  if (!strips) return refused('cut-short');
  const profile = await profileOf(source, resourcesAt + 4, resourcesLength);
  return {
    state: 'read',
    composite: {
      head: tiffHead(size, compression === RAW ? 1 : TIFF_PACKBITS, strips, palette, profile),
      from: strips.from,
      end: Math.min(source.size, strips.end),
      numbers: size.numbers,
    },
  };
}

/** `null` where its mode or depth is not known. */
function sizeOf(head: ByteView): PlaneSize | null {
  const [channels = 0, depth] = [head.u16(12) ?? 0, head.u16(22) ?? 0];
  const mode = MODES[head.u16(24) ?? -1];
  if (!mode || channels < mode.planes || !DEPTHS.includes(depth)) return null;
  const { planes, photometric, numbers = 'as-written' } = mode;
  return { width: head.u32(18) ?? 0, height: head.u32(14) ?? 0, depth, channels, planes, photometric, numbers };
}

/** Layers and masks stand before the picture, their length in 32 bits or, in a large document, in 64. */
async function dataAfter(source: ByteSource, layersAt: number, isLarge: boolean): Promise<number | null> {
  const view = new ByteView(await source.read(layersAt, 8));
  const length = isLarge ? view.u64(0) : view.u32(0);
  return length === null ? null : layersAt + (isLarge ? 8 : 4) + length;
}

interface PlaneSize {
  width: number;
  height: number;
  depth: number;
  channels: number;
  planes: number;
  photometric: number;
  numbers: PsdComposite['numbers'];
}

interface Strips {
  rows: number;
  /** Offsets from the first byte of picture data. */
  offsets: number[];
  lengths: number[];
  from: number;
  end: number;
}

const rowBytes = ({ width, depth }: PlaneSize) => Math.ceil((width * depth) / 8);
const rowsOf = (size: PlaneSize) => Math.max(1, Math.min(size.height, Math.floor(STRIP_BYTES / rowBytes(size))));

function plainStrips(size: PlaneSize, from: number): Strips {
  const rows = rowsOf(size);
  const [offsets, lengths]: [number[], number[]] = [[], []];
  const planeBytes = rowBytes(size) * size.height;
  for (let plane = 0; plane < size.planes; plane++)
    for (let row = 0; row < size.height; row += rows) {
      offsets.push(plane * planeBytes + row * rowBytes(size));
      lengths.push(Math.min(rows, size.height - row) * rowBytes(size));
    }
  return { rows, offsets, lengths, from, end: from + planeBytes * size.planes };
}

/** Each row's length stands before the rows, of all channels. */
async function packedStrips(
  source: ByteSource,
  size: PlaneSize,
  at: number,
  lengthBytes: 2 | 4,
): Promise<Strips | null> {
  const tableBytes = size.channels * size.height * lengthBytes;
  const bytes = await source.read(at, size.planes * size.height * lengthBytes);
  if (bytes.length < size.planes * size.height * lengthBytes) return null;
  const table = new ByteView(bytes);
  const rows = rowsOf(size);
  const [offsets, lengths]: [number[], number[]] = [[], []];
  let offset = 0;
  for (let plane = 0; plane < size.planes; plane++)
    for (let row = 0; row < size.height; row += rows) {
      let length = 0;
      for (let one = row; one < Math.min(row + rows, size.height); one++) {
        const entry = (plane * size.height + one) * lengthBytes;
        length += (lengthBytes === 2 ? table.u16(entry) : table.u32(entry)) ?? 0;
      }
      offsets.push(offset);
      lengths.push(length);
      offset += length;
    }
  return { rows, offsets, lengths, from: at + tableBytes, end: at + tableBytes + offset };
}

async function profileOf(source: ByteSource, at: number, length: number): Promise<Uint8Array | null> {
  if (length > RESOURCES_LIMIT_BYTES) return null;
  return resourceData(parseResources(await source.read(at, length)), RESOURCE.iccProfile) ?? null;
}

const [SHORT, LONG8, UNDEFINED] = [3, 16, 7];

/** A BigTIFF in the byte order of PSD, its offsets moved behind itself. */
function tiffHead(
  size: PlaneSize,
  compression: number,
  strips: Strips,
  palette: Uint8Array | null,
  profile: Uint8Array | null,
): Uint8Array<ArrayBuffer> {
  const shorts = (values: number[]) => ({ type: SHORT, count: values.length, bytes: bigEndian(values, 2) });
  const longs = (values: number[]) => ({ type: LONG8, count: values.length, bytes: bigEndian(values, 8) });
  const entries: { tag: number; type: number; count: number; bytes: Uint8Array }[] = [
    { tag: MAIN.imageWidth, ...longs([size.width]) },
    { tag: MAIN.imageLength, ...longs([size.height]) },
    { tag: MAIN.bitsPerSample, ...shorts(Array.from({ length: size.planes }, () => size.depth)) },
    { tag: MAIN.compression, ...shorts([compression]) },
    { tag: MAIN.photometric, ...shorts([size.photometric]) },
    { tag: MAIN.stripOffsets, ...longs(strips.offsets) },
    { tag: MAIN.samplesPerPixel, ...shorts([size.planes]) },
    { tag: MAIN.rowsPerStrip, ...longs([strips.rows]) },
    { tag: MAIN.stripByteCounts, ...longs(strips.lengths) },
    { tag: MAIN.planarConfiguration, ...shorts([size.planes > 1 ? 2 : 1]) },
    ...(palette ? [{ tag: MAIN.colorMap, ...shorts([...palette].map((value) => value * 257)) }] : []),
    { tag: SAMPLE_FORMAT, ...shorts(Array.from({ length: size.planes }, () => (size.depth === 32 ? 3 : 1))) },
    ...(profile ? [{ tag: MAIN.iccProfile, type: UNDEFINED, count: profile.length, bytes: profile }] : []),
  ];
  const outside = 16 + 8 + entries.length * 20 + 8;
  const whole = entries.reduce((length, { bytes }) => length + (bytes.length > 8 ? even(bytes.length) : 0), outside);
  const head = new Uint8Array(whole);
  head.set([0x4d, 0x4d, 0, 43, 0, 8, 0, 0]);
  head.set(bigEndian([16], 8), 8);
  head.set(bigEndian([entries.length], 8), 16);
  let free = outside;
  entries.forEach(({ tag, type, count, bytes }, index) => {
    const at = 24 + index * 20;
    head.set(bigEndian([tag, type], 2), at);
    head.set(bigEndian([count], 8), at + 4);
    const value =
      tag === MAIN.stripOffsets
        ? bigEndian(
            strips.offsets.map((offset) => whole + offset),
            8,
          )
        : bytes;
    if (value.length <= 8) return head.set(value, at + 12);
    head.set(bigEndian([free], 8), at + 12);
    head.set(value, free);
    free += even(value.length);
  });
  return head;
}

const SAMPLE_FORMAT = 0x0153;
const even = (length: number) => length + (length % 2);

function bigEndian(values: readonly number[], width: 2 | 8): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(values.length * width);
  const view = new DataView(bytes.buffer);
  values.forEach((value, index) =>
    width === 2 ? view.setUint16(index * 2, value) : view.setBigUint64(index * 8, BigInt(value)),
  );
  return bytes;
}
