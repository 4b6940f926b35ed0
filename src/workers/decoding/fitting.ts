// Decoded pictures brought to the size and the way up they are wanted: for each EXIF orientation a transform of the
// canvas (a, b, c, d, then e and f in widths and heights).

import type { Region } from './decoding';

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

const sideways = (orientation: number) => orientation >= 5;

/** What of 1 the long edge must be multiplied by, so that it is at most so long. */
const scaleTo = (pixels: number | null, { width, height }: { width: number; height: number }): number =>
  pixels === null ? 1 : Math.min(1, pixels / Math.max(width, height));

/** A bitmap at most so large; the one given is closed where another one is made. */
export async function shrunk(bitmap: ImageBitmap, pixels: number | null): Promise<ImageBitmap> {
  const scale = scaleTo(pixels, bitmap);
  if (scale === 1) return bitmap;
  const small = await createImageBitmap(bitmap, {
    resizeWidth: Math.max(1, Math.round(bitmap.width * scale)),
    resizeHeight: Math.max(1, Math.round(bitmap.height * scale)),
    resizeQuality: 'medium',
  });
  bitmap.close();
  return small;
}

export async function cutOut(bitmap: ImageBitmap, { left, top, width, height }: Region): Promise<ImageBitmap> {
  const part = await createImageBitmap(bitmap, left, top, width, height);
  bitmap.close();
  return part;
}

/** A canvas with the picture turned upright, at most so many pixels on its long edge. */
export function drawTurned(
  picture: ImageBitmap,
  orientation: number,
  pixels: number | null,
  colorSpace: PredefinedColorSpace = 'srgb',
  ground: string | null = null,
): OffscreenCanvas {
  const scale = scaleTo(pixels, picture);
  const width = Math.max(1, Math.round(picture.width * scale));
  const height = Math.max(1, Math.round(picture.height * scale));
  const canvas = sideways(orientation) ? new OffscreenCanvas(height, width) : new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { colorSpace });
  if (!context) throw new Error('no drawing context');
  const [a, b, c, d, e, f] = TURNS[orientation] ?? [1, 0, 0, 1, 0, 0];
  if (ground) {
    context.fillStyle = ground;
    context.fillRect(0, 0, canvas.width, canvas.height);
  }
  context.imageSmoothingQuality = 'high';
  context.setTransform(a, b, c, d, e * canvas.width, f * canvas.height);
  context.drawImage(picture, 0, 0, width, height);
  return canvas;
}

/** Upright, with all the colours a wide screen can show; the one given is closed where another one is made. */
export function upright(bitmap: ImageBitmap, orientation: number): ImageBitmap {
  if (orientation === 1) return bitmap;
  const turned = drawTurned(bitmap, orientation, null, 'display-p3').transferToImageBitmap();
  bitmap.close();
  return turned;
}

/** Where a part of the upright picture lies in the picture as it is stored, whose size is given. */
export function regionAsStored(region: Region, orientation: number, stored: { width: number; height: number }): Region {
  const [a, b, c, d, e, f] = TURNS[orientation] ?? [1, 0, 0, 1, 0, 0];
  const [shownWidth, shownHeight] = sideways(orientation)
    ? [stored.height, stored.width]
    : [stored.width, stored.height];
  // the transform is its own kind of turn: its inverse is its transpose
  const back = (x: number, y: number): [number, number] => {
    const [fromX, fromY] = [x - e * shownWidth, y - f * shownHeight];
    return [a * fromX + b * fromY, c * fromX + d * fromY];
  };
  const [x1, y1] = back(region.left, region.top);
  const [x2, y2] = back(region.left + region.width, region.top + region.height);
  return { left: Math.min(x1, x2), top: Math.min(y1, y2), width: Math.abs(x2 - x1), height: Math.abs(y2 - y1) };
}
