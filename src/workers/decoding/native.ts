// What the browser decodes by itself, with its profile and its orientation applied.

import type { Format } from '@/core/formats/containers/formats';
import { shrunk } from './fitting';

const TYPES: Partial<Record<Format, string>> = {
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  gif: 'image/gif',
  avif: 'image/avif',
  jxl: 'image/jxl',
};

export const isNative = (format: Format): boolean => TYPES[format] !== undefined;

/** The end of a JPEG (ITU-T T.81, B.1.1.3): with it, decoders give what came before. */
const END_OF_IMAGE = new Uint8Array([0xff, 0xd9]);

export interface NativelyDecoded {
  bitmap: ImageBitmap;
  /** Not where the file breaks off or is bent: then it is as far as it could be decoded. */
  whole: boolean;
}

/** @param pixels the long edge at most. `null` where nothing can be decoded. */
export async function decodeNatively(
  file: Blob,
  format: Format,
  pixels: number | null,
  size: { width: number; height: number } | null,
): Promise<NativelyDecoded | null> {
  if (format === 'jpeg' && pixels !== null && size) {
    const bitmap = await decodedSmall(file, pixels, size).catch(() => null);
    if (bitmap) return { bitmap: await shrunk(bitmap, pixels), whole: true };
  }
  const typed = new Blob([file], { type: TYPES[format] ?? '' });
  const bitmap = await createImageBitmap(typed).catch(() => null);
  if (bitmap) return { bitmap: await shrunk(bitmap, pixels), whole: true };
  if (format !== 'jpeg') return null;
  const mended = await createImageBitmap(new Blob([file, END_OF_IMAGE], { type: 'image/jpeg' })).catch(() => null);
  return mended && { bitmap: await shrunk(mended, pixels), whole: false };
}

/** JPEGs are made of blocks of eight pixels, and can be decoded to as many eighths of their size as are wanted. */
const EIGHTHS = 8;

/** In a third of the time and memory of the whole picture. `size` is as stored. */
async function decodedSmall(
  file: Blob,
  pixels: number,
  { width, height }: { width: number; height: number },
): Promise<ImageBitmap | null> {
  const eighths = Math.ceil((pixels * EIGHTHS) / Math.max(width, height));
  if (eighths >= EIGHTHS || typeof ImageDecoder === 'undefined') return null;
  const decoder = new ImageDecoder({
    data: file.stream(),
    type: 'image/jpeg',
    desiredWidth: Math.ceil((width * eighths) / EIGHTHS),
    desiredHeight: Math.ceil((height * eighths) / EIGHTHS),
  });
  try {
    const { image, complete } = await decoder.decode({ completeFramesOnly: true });
    if (!complete) return null;
    const bitmap = await createImageBitmap(image);
    image.close();
    return bitmap;
  } finally {
    decoder.close();
  }
}
