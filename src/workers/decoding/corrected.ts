// Corrections put on a decoded picture: what remains of it is drawn by the canvas, its light developed by tables.

import { type ColourSpace } from '@/core/looks/colour-science';
import { type Corrections, changesColour } from '@/core/looks/corrections';
import { developQuickly } from '@/core/looks/develop-quickly';
import { cutOf, scaledCut } from '@/core/looks/geometry';
import type { Edges } from '@/core/picture/print-size';

/** The widest that a canvas holds. */
const SPACE: ColourSpace & PredefinedColorSpace = 'display-p3';

/**
 * The picture as it is corrected; the bitmap that was given is closed.
 * @param full the size of the picture the bitmap is all of, perhaps smaller
 */
export function corrected(bitmap: ImageBitmap, corrections: Corrections, full: Edges): ImageBitmap {
  const scale = bitmap.width / full.width;
  const { width, height, transform } = scaledCut(cutOf(full, corrections), scale, scale);
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { colorSpace: SPACE, willReadFrequently: true });
  if (!context) throw new Error('no drawing context');
  context.imageSmoothingQuality = 'high';
  context.setTransform(...transform);
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  if (changesColour(corrections)) {
    const pixels = context.getImageData(0, 0, width, height, { colorSpace: SPACE });
    developQuickly(pixels, corrections, SPACE);
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.putImageData(pixels, 0, 0);
  }
  return canvas.transferToImageBitmap();
}
