// Files on the plan of TIFF 6.0: a small raw, a DNG with the camera's JPEG as its preview and one byte a photosite
// behind a linearisation table (DNG 1.4, tags from memory); and a scanner's grey TIFF with a small preview. ExifTool
// and exiv2 read them in tests/reference.

import { toLinear } from '@/core/looks/colour-science';
import { type Entries, ascii, byte, directory, long, ratio, raw, short, signedRatio } from './tiff-writer';

const HEADER = 8;

export interface RawPicture {
  width: number;
  height: number;
  /** sRGB, three bytes a pixel. */
  pixels: Uint8Array;
  /** `null` for a raw without one: its main directory is the sensor's. */
  preview: Buffer | null;
  uniqueModel: string;
}

export function writeDng(
  { width, height, pixels, preview, uniqueModel }: RawPicture,
  main: Entries,
  exif: Entries,
): Buffer {
  const sites = photosites(pixels, width, height);
  const drawn = ({ previewAt, subAt }: Offsets): Entries =>
    new Map([
      [0x00fe, long(1)],
      [0x0100, long(width)],
      [0x0101, long(height)],
      [0x0102, short(8, 8, 8)],
      [0x0103, short(7)],
      [0x0106, short(6)],
      [0x0111, long(previewAt)],
      [0x0115, short(3)],
      [0x0116, long(height)],
      [0x0117, long(preview?.length ?? 0)],
      [0x011c, short(1)],
      [0x014a, long(subAt)],
    ]);
  const common = ({ exifAt }: Offsets): Entries =>
    new Map([
      ...main,
      [0x8769, long(exifAt)],
      [0xc612, byte(1, 4, 0, 0)],
      [0xc613, byte(1, 1, 0, 0)],
      [0xc614, ascii(uniqueModel)],
      // XYZ to camera for a camera whose primaries are those of sRGB (IEC 61966-2-1), daylight D65
      [
        0xc621,
        signedRatio(
          [32406, 10_000],
          [-15372, 10_000],
          [-4986, 10_000],
          [-9689, 10_000],
          [18758, 10_000],
          [415, 10_000],
          [557, 10_000],
          [-2040, 10_000],
          [10570, 10_000],
        ),
      ],
      [0xc628, ratio([1, 1], [1, 1], [1, 1])],
      [0xc65a, short(21)],
    ]);
  const sensor = ({ dataAt }: Offsets): Entries =>
    new Map([
      [0x00fe, long(0)],
      [0x0100, long(width)],
      [0x0101, long(height)],
      [0x0102, short(8)],
      [0x0103, short(1)],
      [0x0106, short(32803)],
      [0x0111, long(dataAt)],
      [0x0115, short(1)],
      [0x0116, long(height)],
      [0x0117, long(sites.length)],
      [0x011c, short(1)],
      [0x828d, short(2, 2)],
      [0x828e, byte(0, 1, 1, 2)],
      [0xc618, short(...linearise())],
      [0xc61a, long(0)],
      [0xc61d, long(65_535)],
    ]);
  const inMain = preview ? drawn : sensor;
  return laidOut(
    (at) => new Map([...common(at), ...inMain(at)]),
    preview ? sensor : () => new Map(),
    exif,
    preview ?? Buffer.alloc(0),
    sites,
  );
}

export interface ScanPicture {
  width: number;
  height: number;
  /** Grey or three channels, of 8 bits or of 16, big-endian. */
  channels: 1 | 3;
  bits: 8 | 16;
  pixels: Buffer;
  profile: Buffer | null;
  /** A JPEG in a directory below the main one. */
  preview: { jpeg: Buffer; width: number; height: number } | null;
}

/** What a scanner writes, unpacked. */
export function writeScan(
  { width, height, channels, bits, pixels, profile, preview }: ScanPicture,
  main: Entries,
  exif: Entries,
): Buffer {
  const whole = ({ dataAt, subAt, exifAt }: Offsets): Entries =>
    new Map([
      ...main,
      [0x00fe, long(0)],
      [0x0100, long(width)],
      [0x0101, long(height)],
      [0x0102, short(...Array.from({ length: channels }, () => bits))],
      [0x0103, short(1)],
      [0x0106, short(channels === 1 ? 1 : 2)],
      [0x0111, long(dataAt)],
      [0x0115, short(channels)],
      [0x0116, long(height)],
      [0x0117, long(pixels.length)],
      ...(preview ? [[0x014a, long(subAt)] as const] : []),
      [0x8769, long(exifAt)],
      ...(profile ? [[0x8773, raw(...profile)] as const] : []),
    ]);
  const small = ({ previewAt }: Offsets): Entries =>
    new Map(
      preview
        ? [
            [0x00fe, long(1)],
            [0x0100, long(preview.width)],
            [0x0101, long(preview.height)],
            [0x0102, short(8, 8, 8)],
            [0x0103, short(7)],
            [0x0106, short(6)],
            [0x0111, long(previewAt)],
            [0x0115, short(3)],
            [0x0116, long(preview.height)],
            [0x0117, long(preview.jpeg.length)],
          ]
        : [],
    );
  return laidOut(whole, small, exif, preview?.jpeg ?? Buffer.alloc(0), pixels);
}

interface Offsets {
  subAt: number;
  exifAt: number;
  previewAt: number;
  dataAt: number;
}

/**
 * Main directory, the one below it, EXIF, preview and data, one behind the other. A directory is as long whatever its
 * offsets are.
 */
function laidOut(
  main: (at: Offsets) => Entries,
  sub: (at: Offsets) => Entries,
  exif: Entries,
  preview: Buffer,
  data: Buffer,
): Buffer {
  const unknown: Offsets = { subAt: 0, exifAt: 0, previewAt: 0, dataAt: 0 };
  const subAt = HEADER + directory(main(unknown), HEADER).length;
  const exifAt = subAt + directory(sub(unknown), subAt).length;
  const previewAt = exifAt + directory(exif, exifAt).length;
  const padded = Buffer.concat([preview, Buffer.alloc(preview.length % 2)]);
  const at: Offsets = { subAt, exifAt, previewAt, dataAt: previewAt + padded.length };
  return Buffer.concat([
    Buffer.from([0x4d, 0x4d, 0, 42, 0, 0, 0, HEADER]),
    directory(main(at), HEADER),
    directory(sub(at), subAt),
    directory(exif, exifAt),
    padded,
    data,
  ]);
}

/** Red and green in even rows, green and blue in odd ones. */
function photosites(pixels: Uint8Array, width: number, height: number): Buffer {
  const sites = Buffer.alloc(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) sites[y * width + x] = pixels[(y * width + x) * 3 + (y & 1) + (x & 1)]!;
  return sites;
}

/** The light of each byte, sRGB's curve turned round, in 1/65535. */
const linearise = (): number[] =>
  Array.from({ length: 256 }, (_, value) => {
    const encoded = value / 255;
    return Math.round(65_535 * toLinear(encoded));
  });
