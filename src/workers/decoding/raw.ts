// Raws developed by LibRaw, compiled to run here: white as the camera measured it, colours to sRGB, brightness by the
// picture itself. Half size where less is wanted: each pixel of the sensor's pattern of four becomes one.

import { bitmapOf } from './bitmap-of';
import { Undecodable } from '@/core/problems/undecodable';
import type { DecodeOrder, Decoded } from './decoding';
import { cutOut, shrunk } from './fitting';

interface RawImage {
  width: number;
  height: number;
  colors: number;
  bits: number;
  data: Uint8Array;
}

interface LibRaw {
  open(bytes: Uint8Array, settings: object): void;
  metadata(full: boolean): { width: number; height: number; flip?: number };
  imageData(): RawImage | undefined;
  delete?(): void;
}

const ADDRESS = '/decoders/libraw.js';
/** Its way of telling that it failed is a black picture: one whose brightest value is not above this. */
const BLACK = 2;

export async function decodeRaw({ file, pixels, region }: DecodeOrder): Promise<Decoded> {
  const { default: create } = (await import(/* webpackIgnore: true */ /* turbopackIgnore: true */ ADDRESS)) as {
    default: (options: object) => Promise<{ LibRaw: new () => LibRaw }>;
  };
  // anew for each file: a broken one leaves it unfit for the next
  const { LibRaw } = await create({
    locateFile: (name: string) => `/decoders/${name}`,
    print: () => {},
    printErr: () => {},
  });
  const raw = new LibRaw();
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const { image, full } = developed(raw, bytes, pixels !== null && !region ? pixels : null);
    const rgba = withAlpha(image);
    const bitmap = await bitmapOf(rgba, image.width, image.height, null);
    return {
      bitmap: region ? await cutOut(bitmap, region) : await shrunk(bitmap, pixels),
      full,
      upright: true,
      pages: 1,
      whole: true,
    };
  } catch (error) {
    if (error instanceof Undecodable) throw error;
    throw new Undecodable({
      code: 'picture/refused',
      reason: error instanceof Error ? error.message : 'the decoder gave no reason',
    });
  } finally {
    raw.delete?.();
  }
}

const SETTINGS = { useCameraWb: true, outputColor: 1, outputBps: 8, userQual: 3 };

function developed(raw: LibRaw, bytes: Uint8Array, pixels: number | null) {
  raw.open(bytes, SETTINGS);
  const { width, height } = raw.metadata(false);
  if (!width || !height) throw new Undecodable({ code: 'picture/refused', reason: 'no picture of a sensor in it' });
  const halfSize = pixels !== null && pixels <= Math.max(width, height) / 2;
  if (halfSize) raw.open(bytes, { ...SETTINGS, halfSize });
  const image = raw.imageData();
  if (!image?.data || image.data.length < image.width * image.height * image.colors)
    throw new Undecodable({ code: 'picture/refused', reason: 'its picture data are damaged or missing' });
  const scale = halfSize ? 2 : 1;
  return { image, full: { width: image.width * scale, height: image.height * scale } };
}

/** Grey or red, green, blue, with nothing transparent. */
function withAlpha({ width, height, colors, data }: RawImage): Uint8ClampedArray<ArrayBuffer> {
  const rgba = new Uint8ClampedArray(width * height * 4);
  let brightest = 0;
  for (let from = 0, to = 0; to < rgba.length; from += colors, to += 4) {
    const red = data[from] ?? 0;
    rgba[to] = red;
    rgba[to + 1] = colors >= 3 ? (data[from + 1] ?? 0) : red;
    rgba[to + 2] = colors >= 3 ? (data[from + 2] ?? 0) : red;
    rgba[to + 3] = 255;
    brightest = Math.max(brightest, red, rgba[to + 1] ?? 0, rgba[to + 2] ?? 0);
  }
  if (brightest <= BLACK)
    throw new Undecodable({
      code: 'picture/refused',
      reason: 'it developed to black: its picture data are damaged or missing',
    });
  return rgba;
}
