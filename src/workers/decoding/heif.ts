// HEIC by libheif, compiled to run here. It turns the picture itself as the file says, and gives 8 bits a channel; the
// profile comes apart from the pixels.

import { bitmapOf } from './bitmap-of';
import { cutOut, shrunk } from './fitting';
import { Undecodable } from '@/core/problems/undecodable';
import type { DecodeOrder, Decoded } from './decoding';

/** Larger ones would not fit the memory of 32-bit code. */
const PIXELS_LIMIT = 200_000_000;
/** Primaries of Display P3 in a colour description by numbers (ITU-T H.273, table 2). */
const PRIMARIES_P3 = 12;

interface Handle {
  $$: { ptr: number };
}

interface HeifImage {
  handle: Handle;
  get_width(): number;
  get_height(): number;
  is_primary(): boolean;
  display(target: ImageData, done: (shown: ImageData | null) => void): void;
  free(): void;
}

export interface HeifLibrary {
  ready: Promise<unknown>;
  HeifDecoder: new () => { decode(bytes: Uint8Array): HeifImage[] };
  HEAPU8: Uint8Array;
  _malloc(bytes: number): number;
  _free(address: number): void;
  _heif_image_handle_get_raw_color_profile_size(handle: number): number;
  _heif_image_handle_get_raw_color_profile(error: number, handle: number, target: number): void;
  heif_image_handle_get_nclx_color_profile?(handle: Handle): { color_primaries?: { value: number } } | null;
}

let library: Promise<HeifLibrary> | null = null;

async function open(): Promise<HeifLibrary> {
  const { default: create } = await import('libheif-js/libheif-wasm/libheif-bundle.mjs');
  const heif = create({ print: () => {}, printErr: () => {} });
  await heif.ready;
  return heif;
}

export async function decodeHeif({ file, pixels, region }: DecodeOrder): Promise<Decoded> {
  const heif = await (library ??= open());
  const images = new heif.HeifDecoder().decode(new Uint8Array(await file.arrayBuffer()));
  try {
    const image = images.find((one) => one.is_primary()) ?? images[0];
    if (!image) throw new Undecodable({ code: 'picture/refused', reason: 'no picture in it can be read' });
    const [width, height] = [image.get_width(), image.get_height()];
    if (!width || !height) throw new Undecodable({ code: 'picture/refused', reason: 'it has no size' });
    if (width * height > PIXELS_LIMIT) throw new Undecodable({ code: 'picture/too-large', width, height });
    const target = new ImageData(width, height);
    const shown = await new Promise<ImageData | null>((resolve) => image.display(target, resolve));
    if (!shown)
      throw new Undecodable({
        code: 'picture/refused',
        reason: 'its picture data are damaged, or of a coding that is not known',
      });
    const bitmap = await bitmapOf(shown.data, width, height, profileOf(heif, image.handle));
    return {
      bitmap: region ? await cutOut(bitmap, region) : await shrunk(bitmap, pixels),
      full: { width, height },
      upright: true,
      pages: 1,
      whole: true,
    };
  } finally {
    for (const image of images) image.free();
  }
}

function profileOf(heif: HeifLibrary, handle: Handle): Uint8Array<ArrayBuffer> | PredefinedColorSpace | null {
  const pointer = handle.$$.ptr;
  const length = heif._heif_image_handle_get_raw_color_profile_size(pointer);
  if (length === 0)
    return heif.heif_image_handle_get_nclx_color_profile?.(handle)?.color_primaries?.value === PRIMARIES_P3
      ? 'display-p3'
      : null;
  const [error, target] = [heif._malloc(16), heif._malloc(length)];
  heif._heif_image_handle_get_raw_color_profile(error, pointer, target);
  const profile = heif.HEAPU8.slice(target, target + length) as Uint8Array<ArrayBuffer>;
  heif._free(error);
  heif._free(target);
  return profile;
}
