// From any photo to a picture that is sent out. What libvips reads is read by it, in all its bits and its own colours;
// of all else, and of what is corrected, the pixels come the way they come to the screen, in 8 bits of Display P3, which
// holds more than sRGB. In a worker.

import { NO_CORRECTIONS, isIdentity } from '@/core/looks/corrections';
import type { Format } from '@/core/formats/containers/formats';
import { readPhoto } from '@/core/metadata/reading/reading';
import { Undecodable } from '@/core/problems/undecodable';
import { outputPixels } from '@/core/send-out/output-size';
import type { LazyBytes } from '@/storage/drives/drive';
import { blobOf, blobSource } from '@/storage/drives/safe-write';
import type { DecodeMade, MadeBlob, MakePicture, MakeSettings, Makeable } from '@/storage/file-tasks/deliver';
import { makeForeign } from './decoding/foreign';
import { openPicture } from './open-picture';

const READ_BY_VIPS: ReadonlySet<Format> = new Set<Format>(['jpeg', 'png', 'webp', 'tiff', 'psd']);

/** As the makers of profiles call IEC 61966-2-1; `sRGB v4 ICC preference` is another space. */
const SRGB = /^(c2|sRGB|sRGB IEC61966-2[.-]1|sRGB built-in|sRGB \(by EXIF\))$/i;

export const makePicture: MakePicture = async (file, photo, settings) => {
  if (!READ_BY_VIPS.has(photo.format) || !settings.pixels || !isIdentity(photo.corrections ?? NO_CORRECTIONS))
    return makeOfPixels(file, photo, settings);
  try {
    return await makeForeign({
      ...settings,
      ...settings.pixels,
      from: { kind: 'file', file: await blobOf(file), format: photo.format, isSrgb: SRGB.test(photo.profile ?? '') },
      orientation: photo.orientation,
    });
  } catch (error) {
    // a few JPEGs are read by the browser alone; one that is broken is refused there as well
    if (photo.format !== 'jpeg' || !(error instanceof Undecodable)) throw error;
    return makeOfPixels(file, photo, settings).catch(() => Promise.reject(error));
  }
};

async function makeOfPixels(file: LazyBytes, photo: Makeable, settings: MakeSettings): Promise<MadeBlob> {
  const { bitmap, whole } = await openPicture(file, photo, { pixels: null, corrections: photo.corrections });
  try {
    if (!whole) throw new Undecodable({ code: 'picture/refused', reason: 'its picture ends before it should' });
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    const context = canvas.getContext('2d', { colorSpace: 'display-p3', willReadFrequently: true });
    if (!context) throw new Error('no drawing context');
    context.drawImage(bitmap, 0, 0);
    const pixels = context.getImageData(0, 0, bitmap.width, bitmap.height, { colorSpace: 'display-p3' });
    const { size, ppi, enlarge } = settings.picture;
    const { width, height } = settings.pixels ?? outputPixels(bitmap, size, ppi, enlarge);
    return await makeForeign({ ...settings, width, height, from: { kind: 'pixels', pixels }, orientation: 1 });
  } finally {
    bitmap.close();
  }
}

export const decodeMade: DecodeMade = async (file, name) => {
  const reading = await readPhoto(blobSource(file), name);
  const { bitmap, whole, full } = await openPicture(file, reading, { pixels: null });
  const size = full ?? { width: bitmap.width, height: bitmap.height };
  bitmap.close();
  if (!whole) throw new Undecodable({ code: 'picture/refused', reason: 'what was made of it ends too early' });
  return size;
};
