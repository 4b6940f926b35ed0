// Previews: the largest embedded JPEG where it is large enough, else the image itself decoded at a small size.
// Runs in a worker. Measured (24 MP): embedded 28 images/s, decoder with a desired size 6, plain bitmap 2.5.

import { PREVIEW_PIXELS, type PreviewSize, type Previewable } from '@/storage/file-tasks/file-tasks';
import { browserReads, decoded, drawTurned, turnsItself } from './open-picture';

/** An embedded JPEG shorter than this is a thumbnail of 160 pixels, too small for the wall. */
const EMBEDDED_MIN_BYTES = 24 * 1024;
const QUALITY = 0.82;

export async function drawPreview(file: Blob, reading: Previewable, size: PreviewSize): Promise<Blob | null> {
  const ofItself = browserReads(reading);
  // a large one is drawn from the picture itself wherever that can be read
  const embedded =
    size === 'large' && ofItself
      ? undefined
      : reading.previews.find(({ coding, length }) => coding === 'jpeg' && length >= EMBEDDED_MIN_BYTES);
  const blob = embedded
    ? file.slice(embedded.offset, embedded.offset + embedded.length, 'image/jpeg')
    : ofItself
      ? file
      : null;
  if (!blob) return null;
  const opened = await decoded(blob, null); // turned by the browser as its own EXIF says; broken off, as far as it goes
  if (!opened) throw new Error('it cannot be decoded');
  const { bitmap } = opened;
  try {
    const orientation = embedded && !(await turnsItself(blob)) ? reading.orientation : 1;
    return await drawTurned(bitmap, orientation, PREVIEW_PIXELS[size]).convertToBlob({
      type: 'image/jpeg',
      quality: QUALITY,
    });
  } finally {
    bitmap.close();
  }
}
