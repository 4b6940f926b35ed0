// Charts of colour patches, their numbers written as they are into files that carry a profile: the profile says what
// colour they are. Profiles of three primaries and a curve (ICC.1:2010, section 8.3.3, `rXYZ` and `rTRC`), written here
// from the published primaries.

import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';

type Matrix = readonly [readonly number[], readonly number[], readonly number[]];

export interface RgbSpace {
  name: string;
  /** As the colour library calls it. */
  mode: 'rgb' | 'a98' | 'p3' | 'prophoto';
  /** Chromaticities x, y of red, green, blue and white. */
  primaries: readonly [number, number][];
  /** The curve, from numbers to light. */
  toLight: (value: number) => number;
}

const srgbCurve = (value: number) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);
const D65: [number, number] = [0.3127, 0.329];
const D50: [number, number] = [0.3457, 0.3585];

export const SPACES: readonly RgbSpace[] = [
  // IEC 61966-2-1
  { name: 'sRGB', mode: 'rgb', primaries: [[0.64, 0.33], [0.3, 0.6], [0.15, 0.06], D65], toLight: srgbCurve },
  // Adobe RGB (1998) colour image encoding, section 4.3: gamma 2 51/256
  {
    name: 'Adobe RGB',
    mode: 'a98',
    primaries: [[0.64, 0.33], [0.21, 0.71], [0.15, 0.06], D65],
    toLight: (v) => v ** (563 / 256),
  },
  // SMPTE EG 432-1 primaries with the curve of sRGB
  { name: 'Display P3', mode: 'p3', primaries: [[0.68, 0.32], [0.265, 0.69], [0.15, 0.06], D65], toLight: srgbCurve },
  // ISO 22028-2 (ROMM RGB)
  {
    name: 'ProPhoto',
    mode: 'prophoto',
    primaries: [[0.7347, 0.2653], [0.1596, 0.8404], [0.0366, 0.0001], D50],
    toLight: (v) => (v < 16 / 512 ? v / 16 : v ** 1.8),
  },
];

const xyzOf = ([x, y]: [number, number]): [number, number, number] => [x / y, 1, (1 - x - y) / y];

function invert([[a, b, c], [d, e, f], [g, h, i]]: Matrix): Matrix {
  const n = (value: number | undefined) => value ?? 0;
  const [A, B, C] = [n(e) * n(i) - n(f) * n(h), n(f) * n(g) - n(d) * n(i), n(d) * n(h) - n(e) * n(g)];
  const whole = n(a) * A + n(b) * B + n(c) * C;
  return [
    [A / whole, (n(c) * n(h) - n(b) * n(i)) / whole, (n(b) * n(f) - n(c) * n(e)) / whole],
    [B / whole, (n(a) * n(i) - n(c) * n(g)) / whole, (n(c) * n(d) - n(a) * n(f)) / whole],
    [C / whole, (n(b) * n(g) - n(a) * n(h)) / whole, (n(a) * n(e) - n(b) * n(d)) / whole],
  ];
}

const times = (matrix: Matrix, vector: readonly number[]): number[] =>
  matrix.map((row) => row.reduce((sum, value, index) => sum + value * (vector[index] ?? 0), 0));
const product = (a: Matrix, b: Matrix): Matrix => {
  const columns = [0, 1, 2].map((index) =>
    times(
      a,
      b.map((row) => row[index] ?? 0),
    ),
  );
  return [0, 1, 2].map((row) => columns.map((column) => column[row] ?? 0)) as unknown as Matrix;
};

/** Bradford's matrix, by which white is adapted to D50 (ICC.1:2010, annex E). */
const BRADFORD: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

/** The colorants of a space as ICC has them: XYZ of red, green and blue under D50. */
function colorants({ primaries }: RgbSpace): number[][] {
  const [red, green, blue, white] = primaries.map(xyzOf);
  const columns: Matrix = [0, 1, 2].map((row) => [red![row]!, green![row]!, blue![row]!]) as unknown as Matrix;
  const share = times(invert(columns), white!);
  const [from, to] = [times(BRADFORD, white!), times(BRADFORD, xyzOf(D50))];
  const scale: Matrix = [0, 1, 2].map((row) =>
    [0, 1, 2].map((column) => (row === column ? to[row]! / from[row]! : 0)),
  ) as unknown as Matrix;
  const adapt = product(invert(BRADFORD), product(scale, BRADFORD));
  return [red, green, blue].map((one, index) => times(adapt, one!).map((value) => value * share[index]!));
}

const ascii = (text: string) => Buffer.from(text, 'latin1');
const u32 = (value: number) => {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(Math.round(value));
  return bytes;
};
const fixed = (value: number) => u32(value * 65536);

function tagged(signature: string, ...parts: Buffer[]): Buffer {
  const whole = Buffer.concat([ascii(signature), u32(0), ...parts]);
  return Buffer.concat([whole, Buffer.alloc((4 - (whole.length % 4)) % 4)]);
}

const curveTag = (toLight: (value: number) => number): Buffer => {
  const steps = 1024;
  const values = Buffer.alloc(steps * 2);
  for (let step = 0; step < steps; step++)
    values.writeUInt16BE(Math.round(toLight(step / (steps - 1)) * 65535), step * 2);
  return tagged('curv', u32(steps), values);
};
const xyzTag = (xyz: readonly number[]) => tagged('XYZ ', ...xyz.map(fixed));

/** A profile of version 2: header, tag table, tags. */
function profileOf(space: 'RGB ' | 'GRAY', name: string, tags: [string, Buffer][]): Buffer {
  const all: [string, Buffer][] = [
    ['desc', tagged('desc', u32(name.length + 1), ascii(`${name}\0`), Buffer.alloc(4 + 4 + 2 + 1 + 67))],
    ['cprt', tagged('text', ascii('none\0'))],
    ['wtpt', xyzTag(xyzOf(D50))],
    ...tags,
  ];
  let offset = 128 + 4 + all.length * 12;
  const table = all.map(([signature, tag]) => {
    const row = Buffer.concat([ascii(signature), u32(offset), u32(tag.length)]);
    offset += tag.length;
    return row;
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(offset, 0);
  header.writeUInt32BE(0x02400000, 8);
  header.write(`mntr${space}XYZ `, 12, 'latin1');
  header.write('acsp', 36, 'latin1');
  Buffer.concat([0.9642, 1, 0.8249].map(fixed)).copy(header, 68);
  return Buffer.concat([header, u32(all.length), ...table, ...all.map(([, tag]) => tag)]);
}

export function rgbProfile(space: RgbSpace): Buffer {
  const [red, green, blue] = colorants(space);
  const curve = curveTag(space.toLight);
  return profileOf('RGB ', space.name, [
    ['rXYZ', xyzTag(red!)],
    ['gXYZ', xyzTag(green!)],
    ['bXYZ', xyzTag(blue!)],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ]);
}

export const greyProfile = (gamma: number): Buffer =>
  profileOf('GRAY', `Grey ${gamma}`, [['kTRC', curveTag((value) => value ** gamma)]]);

export interface Chart {
  width: number;
  height: number;
  channels: 1 | 3;
  /** 8 bits a channel. */
  pixels: Buffer;
  patches: { numbers: number[]; spot: [number, number] }[];
}

const PATCH = 16;
const LEVELS = [0, 64, 128, 191, 255];

/** Every mixture of five levels, or the levels of grey, each a square of 16 pixels. */
export function chart(channels: 1 | 3): Chart {
  const numbers =
    channels === 1
      ? Array.from({ length: 25 }, (_, step) => [Math.round((step * 255) / 24)])
      : LEVELS.flatMap((red) => LEVELS.flatMap((green) => LEVELS.map((blue) => [red, green, blue])));
  const across = channels === 1 ? 5 : 25;
  const [width, height] = [across * PATCH, (numbers.length / across) * PATCH];
  const pixels = Buffer.alloc(width * height * channels);
  const patches = numbers.map((values, index) => {
    const [left, top] = [(index % across) * PATCH, Math.floor(index / across) * PATCH];
    for (let y = top; y < top + PATCH; y++)
      for (let x = left; x < left + PATCH; x++)
        values.forEach((value, channel) => (pixels[(y * width + x) * channels + channel] = value));
    return { numbers: values, spot: [left + PATCH / 2, top + PATCH / 2] as [number, number] };
  });
  return { width, height, channels, pixels, patches };
}

/** Uncompressed TIFF 6.0, little-endian, of 8 or 16 bits. */
export function tiffOf({ width, height, channels, pixels }: Chart, profile: Buffer | null, bits: 8 | 16): Buffer {
  const data = bits === 8 ? pixels : Buffer.from(new Uint16Array([...pixels].map((value) => value * 257)).buffer);
  const head = 8;
  const entries: [tag: number, type: number, values: number[] | Buffer][] = [
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, Array.from({ length: channels }, () => bits)],
    [259, 3, [1]],
    [262, 3, [channels === 1 ? 1 : 2]],
    [273, 4, [head]],
    [277, 3, [channels]],
    [278, 4, [height]],
    [279, 4, [data.length]],
    ...(profile ? [[34675, 7, profile] as [number, number, Buffer]] : []),
  ];
  const directoryAt = head + data.length + (data.length % 2);
  let free = directoryAt + 2 + entries.length * 12 + 4;
  const rows: Buffer[] = [];
  const far: Buffer[] = [];
  for (const [tag, type, values] of entries) {
    const size = type === 3 ? 2 : 4;
    const bytes = Buffer.isBuffer(values) ? values : Buffer.alloc(values.length * size);
    if (!Buffer.isBuffer(values)) values.forEach((value, index) => bytes.writeUIntLE(value, index * size, size));
    const row = Buffer.alloc(12);
    row.writeUInt16LE(tag, 0);
    row.writeUInt16LE(type, 2);
    row.writeUInt32LE(Buffer.isBuffer(values) ? values.length : values.length, 4);
    if (bytes.length <= 4) bytes.copy(row, 8);
    else {
      row.writeUInt32LE(free, 8);
      const padded = Buffer.concat([bytes, Buffer.alloc(bytes.length % 2)]);
      far.push(padded);
      free += padded.length;
    }
    rows.push(row);
  }
  const count = Buffer.alloc(2);
  count.writeUInt16LE(entries.length);
  const header = Buffer.from([0x49, 0x49, 42, 0, 0, 0, 0, 0]);
  header.writeUInt32LE(directoryAt, 4);
  return Buffer.concat([header, data, Buffer.alloc(data.length % 2), count, ...rows, Buffer.alloc(4), ...far]);
}

/** A PNG with its profile in an `iCCP` chunk (PNG, third edition, section 11.3.2.3). */
export async function pngOf({ width, height, channels, pixels }: Chart, profile: Buffer): Promise<Buffer> {
  const plain = await sharp(pixels, { raw: { width, height, channels } }).png().toBuffer();
  const body = Buffer.concat([ascii('iCCPprofile\0\0'), deflateSync(profile)]);
  const sum = Buffer.alloc(4);
  sum.writeUInt32BE(crc32(body));
  const chunk = Buffer.concat([u32(body.length - 4), body, sum]);
  const afterHeader = 8 + 25;
  return Buffer.concat([plain.subarray(0, afterHeader), chunk, plain.subarray(afterHeader)]);
}

/** A JPEG with its profile in APP2 (ICC.1:2010, annex B.4). */
export async function jpegOf({ width, height, channels, pixels }: Chart, profile: Buffer): Promise<Buffer> {
  const plain = await sharp(pixels, { raw: { width, height, channels } })
    .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const body = Buffer.concat([ascii('ICC_PROFILE\0'), Buffer.from([1, 1]), profile]);
  const segment = Buffer.alloc(4);
  segment.writeUInt16BE(0xffe2, 0);
  segment.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([plain.subarray(0, 2), segment, body, plain.subarray(2)]);
}

/** A PSD of one flat picture, its planes as they are, its profile as resource 1039. */
export function psdOf({ width, height, channels, pixels }: Chart, profile: Buffer): Buffer {
  const head = Buffer.alloc(26);
  head.write('8BPS', 0, 'latin1');
  head.writeUInt16BE(1, 4);
  head.writeUInt16BE(channels, 12);
  head.writeUInt32BE(height, 14);
  head.writeUInt32BE(width, 18);
  head.writeUInt16BE(8, 22);
  head.writeUInt16BE(channels === 1 ? 1 : 3, 24);
  const resource = Buffer.concat([
    ascii('8BIM'),
    Buffer.from([0x04, 0x0f, 0, 0]),
    u32(profile.length),
    profile,
    Buffer.alloc(profile.length % 2),
  ]);
  const planes = Array.from({ length: channels }, (_, channel) =>
    Buffer.from(pixels.filter((_value, index) => index % channels === channel)),
  );
  return Buffer.concat([head, u32(0), u32(resource.length), resource, u32(0), Buffer.from([0, 0]), ...planes]);
}
