// A picture as the browser can show it: the image itself where it can be decoded, the largest embedded JPEG otherwise;
// upright, in the screen's colours (the browser applies the profile). A JPEG that breaks off is shown as far as it
// goes. In a worker.

import { readPhoto } from '@/core/metadata/reading/reading';
import { blobSource } from '@/storage/drives/safe-write';
import type { Previewable } from '@/storage/file-tasks/file-tasks';

/** What an image element shows by itself. */
const BROWSER_READS = new Set(['jpeg', 'png', 'webp', 'gif', 'avif']);

export const browserReads = ({ format }: Pick<Previewable, 'format'>): boolean => BROWSER_READS.has(format);

export interface OpenedPicture {
  bitmap: ImageBitmap;
  from: 'original' | 'embedded';
  /** Not where the file breaks off or is bent: then it is shown as far as it could be decoded. */
  whole: boolean;
}

/** @param pixels the long edge at most, `null` for real pixels. `null` where nothing in the file can be decoded. */
export async function openPicture(
  file: Blob,
  reading: Previewable,
  pixels: number | null,
): Promise<OpenedPicture | null> {
  if (browserReads(reading)) {
    const opened = await decoded(file, pixels);
    if (opened) return { ...opened, from: 'original' };
  }
  for (const { coding, offset, length } of reading.previews) {
    if (coding !== 'jpeg') continue;
    const blob = file.slice(offset, offset + length, 'image/jpeg');
    const opened = await decoded(blob, pixels);
    if (!opened) continue;
    // most embedded previews carry no EXIF of their own, and lie as the sensor lay
    const turn = (await turnsItself(blob)) ? 1 : reading.orientation;
    return { bitmap: turned(opened.bitmap, turn), from: 'embedded', whole: opened.whole };
  }
  return null;
}

export const turnsItself = async (blob: Blob): Promise<boolean> =>
  (await readPhoto(blobSource(blob), 'preview.jpg')).orientation !== 1;

/** The end of a JPEG (ITU-T T.81, B.1.1.3): with it, decoders give what came before. */
const END_OF_IMAGE = new Uint8Array([0xff, 0xd9]);

/** @param pixels the long edge at most. `null` where nothing can be decoded. */
export async function decoded(
  blob: Blob,
  pixels: number | null,
): Promise<{ bitmap: ImageBitmap; whole: boolean } | null> {
  for (const [source, whole] of [
    [blob, true],
    [new Blob([blob, END_OF_IMAGE], { type: 'image/jpeg' }), false],
  ] as const) {
    const bitmap = await createImageBitmap(source).catch(() => null);
    if (bitmap) return { bitmap: await shrunk(bitmap, pixels), whole };
  }
  return null;
}

async function shrunk(bitmap: ImageBitmap, pixels: number | null): Promise<ImageBitmap> {
  const scale = pixels === null ? 1 : Math.min(1, pixels / Math.max(bitmap.width, bitmap.height));
  if (scale === 1) return bitmap;
  const small = await createImageBitmap(bitmap, {
    resizeWidth: Math.max(1, Math.round(bitmap.width * scale)),
    resizeHeight: Math.max(1, Math.round(bitmap.height * scale)),
    resizeQuality: 'medium',
  });
  bitmap.close();
  return small;
}

/**
 * For each EXIF orientation, the canvas transform that shows it upright (a, b, c, d, then e and f in widths and
 * heights).
 */
const TURNS: Record<number, [number, number, number, number, number, number]> = {
  1: [1, 0, 0, 1, 0, 0],
  2: [-1, 0, 0, 1, 1, 0],
  3: [-1, 0, 0, -1, 1, 1],
  4: [1, 0, 0, -1, 0, 1],
  5: [0, 1, 1, 0, 0, 0],
  6: [0, 1, -1, 0, 1, 0],
  7: [0, -1, -1, 0, 1, 1],
  8: [0, -1, 1, 0, 0, 1],
};

/** A canvas with the picture turned upright, at most so many pixels on its long edge. */
export function drawTurned(bitmap: ImageBitmap, orientation: number, pixels: number): OffscreenCanvas {
  const scale = Math.min(1, pixels / Math.max(bitmap.width, bitmap.height));
  const width = Math.max(1, Math.round(bitmap.width * scale));
  const height = Math.max(1, Math.round(bitmap.height * scale));
  const canvas = orientation >= 5 ? new OffscreenCanvas(height, width) : new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d');
  if (!context) throw new Error('no drawing context');
  const [a, b, c, d, e, f] = TURNS[orientation] ?? [1, 0, 0, 1, 0, 0];
  context.imageSmoothingQuality = 'high';
  context.setTransform(a, b, c, d, e * canvas.width, f * canvas.height);
  context.drawImage(bitmap, 0, 0, width, height);
  return canvas;
}

function turned(bitmap: ImageBitmap, orientation: number): ImageBitmap {
  if (orientation === 1) return bitmap;
  const upright = drawTurned(bitmap, orientation, Infinity).transferToImageBitmap();
  bitmap.close();
  return upright;
}
