import { clippingOf, histogramOf } from '@/core/picture/histogram';
import { type Grey, greyOf } from '@/core/picture/grey';
import { OVERLAP_PIXELS, overlapsAtEdge } from '@/core/picture/overlap';
import { measuresOf } from '@/core/picture/measuring';
import { sharpnessOf } from '@/core/picture/sharpness';
import { OF_PREVIEW } from '@/storage/file-tasks/file-tasks';
import { corrected } from './decoding/corrected';
import { drawPreview } from './draw-preview';
import { openedFile } from './handing';
import { openPicture } from './open-picture';
import { serve } from './serve';

/**
 * A frame is measured at most so large: what blurs less than one pixel here is not seen at 100 % on a screen either.
 */
const MEASURED_PIXELS = 4096;
/** The histogram is counted, and clipped areas are drawn, at this size. */
const COUNTED_PIXELS = 1024;
/** Enough for hash and colours, which look at means. */
const MEASURES_PIXELS = 128;
const CLIPPED_COLOURS = { dark: [60, 130, 255, 255], light: [255, 70, 40, 255] } as const;

serve<'show' | 'correct' | 'redraw' | 'sharpness' | 'overlap' | 'histogram' | 'measures'>(self, {
  measures: async ({ preview }) => measuresOf(await shrunk(preview, MEASURES_PIXELS)),
  show: async ({ file, reading, wanted }) => openPicture(openedFile(file), reading, wanted),
  correct: async ({ bitmap, corrections, full }) => ({ bitmap: corrected(bitmap, corrections, full) }),
  redraw: async ({ preview, corrections }) => drawPreview(preview, OF_PREVIEW, 'full', corrections),
  sharpness: async ({ file, reading }) => {
    const { bitmap } = await openPicture(openedFile(file), reading, { pixels: MEASURED_PIXELS });
    return sharpnessOf(greyOf(pixelsOf(bitmap)));
  },
  overlap: async ({ a, b }) => overlapsAtEdge(await small(a), await small(b)),
  histogram: async ({ file, reading, corrections }) => {
    const { bitmap } = await openPicture(openedFile(file), reading, { pixels: COUNTED_PIXELS, corrections });
    const pixels = pixelsOf(bitmap);
    return { histogram: histogramOf(pixels.data), clipped: clippedAreas(pixels) };
  },
});

function pixelsOf(bitmap: ImageBitmap, width = bitmap.width, height = bitmap.height): ImageData {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('no drawing context');
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  return context.getImageData(0, 0, width, height);
}

/** A preview as overlap wants it: the long edge at its size. */
const small = async (preview: Blob): Promise<Grey> => greyOf(await shrunk(preview, OVERLAP_PIXELS));

async function shrunk(preview: Blob, pixels: number): Promise<ImageData> {
  const bitmap = await createImageBitmap(preview);
  const scale = pixels / Math.max(bitmap.width, bitmap.height);
  return pixelsOf(
    bitmap,
    Math.max(1, Math.round(bitmap.width * scale)),
    Math.max(1, Math.round(bitmap.height * scale)),
  );
}

/** A picture that is clear but where the other is clipped. */
function clippedAreas({ width, height, data }: ImageData): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d');
  if (!context) throw new Error('no drawing context');
  const areas = context.createImageData(width, height);
  for (let at = 0; at < data.length; at += 4) {
    const clipped = clippingOf(data[at] ?? 0, data[at + 1] ?? 0, data[at + 2] ?? 0);
    if (clipped !== null) areas.data.set(CLIPPED_COLOURS[clipped], at);
  }
  context.putImageData(areas, 0, 0);
  return canvas.transferToImageBitmap();
}
