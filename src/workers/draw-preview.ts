// Previews: the largest embedded JPEG where it is large enough for a wall, else the picture itself, decoded small.
// Runs in a worker.

import { type Corrections, NO_CORRECTIONS } from '@/core/looks/corrections';
import {
  PREVIEW_PIXELS,
  WALL_PREVIEW_BYTES,
  isLarge,
  type PreviewSize,
  type Previewable,
} from '@/storage/file-tasks/file-tasks';
import type { LazyBytes } from '@/storage/drives/drive';
import { drawTurned } from './decoding/fitting';
import type { OpenedPicture } from './decoding/decoding';
import { largestEmbedded, openPicture } from './open-picture';

const QUALITY = 0.82;

export async function drawPreview(
  file: LazyBytes,
  reading: Previewable,
  size: PreviewSize,
  corrections: Corrections = NO_CORRECTIONS,
): Promise<Blob> {
  const { bitmap } = await opened(file, reading, size, corrections);
  try {
    return await drawTurned(bitmap, 1, PREVIEW_PIXELS[size], 'srgb', WHITE).convertToBlob({
      type: 'image/jpeg',
      quality: QUALITY,
    });
  } finally {
    bitmap.close();
  }
}

/** What is transparent in a picture is white in its preview. */
const WHITE = '#fff';

async function opened(
  file: LazyBytes,
  reading: Previewable,
  size: PreviewSize,
  corrections: Corrections,
): Promise<OpenedPicture> {
  const pixels = PREVIEW_PIXELS[size];
  // a large one is drawn from the picture itself
  const [largest] = reading.previews;
  if (size === 'small' && largest?.coding === 'jpeg' && largest.length >= WALL_PREVIEW_BYTES && isPlain(reading)) {
    const embedded = await largestEmbedded(file, reading, pixels);
    if (embedded) return embedded;
  }
  return openPicture(file, reading, { pixels: size === 'full' && !isLarge(reading) ? null : pixels, corrections });
}

/** Embedded JPEGs carry no profile of their own, whatever the picture has: their colours are right only in sRGB. */
const isPlain = ({ profile }: Previewable): boolean => profile === null || /srgb/i.test(profile);
