// From any file to right pixels: one way for all that needs them. Decoded whole, small or in part, by the browser where
// it can, else by a decoder of ours; upright; its colours brought by its profile to what the screen shows. In a worker.

import { memorySource } from '@/core/bytes/source';
import { type Format, isRawFormat } from '@/core/formats/containers/formats';
import { isIdentity } from '@/core/looks/corrections';
import { cutOf } from '@/core/looks/geometry';
import { type JpegFrame, readFrame } from '@/core/formats/containers/jpeg-frame';
import { readPhoto } from '@/core/metadata/reading/reading';
import type { LazyBytes } from '@/storage/drives/drive';
import { blobOf, blobSource, bytesOf } from '@/storage/drives/safe-write';
import { type Previewable, isLarge } from '@/storage/file-tasks/file-tasks';
import { Undecodable } from '@/core/problems/undecodable';
import { corrected } from './decoding/corrected';
import type { OpenedPicture, PictureWanted } from './decoding/decoding';
import { cutOut, regionAsStored, upright } from './decoding/fitting';
import { decodeForeign } from './decoding/foreign';
import { type NativelyDecoded, decodeNatively, isNative } from './decoding/native';

/** The frame header of most JPEGs lies within it. */
const HEAD_BYTES = 128 * 1024;
const INKS = 4;

/** Rejects with `Undecodable`, which says why, where nothing in the file can be shown. */
export async function openPicture(
  file: LazyBytes,
  reading: Previewable,
  wanted: PictureWanted,
): Promise<OpenedPicture> {
  const { corrections } = wanted;
  const opened = await openAsItIs(file, reading, wanted);
  if (!corrections || isIdentity(corrections) || wanted.region) return opened;
  const full = opened.full ?? { width: opened.bitmap.width, height: opened.bitmap.height };
  const { width, height } = cutOf(full, corrections);
  return {
    ...opened,
    bitmap: corrected(opened.bitmap, corrections, full),
    full: opened.full && { width, height },
  };
}

async function openAsItIs(file: LazyBytes, reading: Previewable, wanted: PictureWanted): Promise<OpenedPicture> {
  try {
    return await (isRawFormat(reading.format) ? openRaw : openOriginal)(file, reading, wanted);
  } catch (error) {
    const embedded = await largestEmbedded(file, reading, wanted.pixels);
    if (embedded) return embedded;
    throw error;
  }
}

/** Of these a part, and a small picture of a large one, is decoded without the rest being held. */
const BY_PARTS = new Set<Format>(['jpeg', 'png', 'webp', 'tiff', 'psd']);

async function openOriginal(file: LazyBytes, reading: Previewable, wanted: PictureWanted): Promise<OpenedPicture> {
  const { format } = reading;
  const frame = format === 'jpeg' ? await frameOf(file) : null;
  if (frame && frame.bits > 8) throw new Undecodable({ code: 'picture/twelve-bit' });
  const byParts = BY_PARTS.has(format) && (wanted.region !== undefined || (isLarge(reading) && format !== 'jpeg'));
  if (isNative(format) && !byParts && frame?.components !== INKS) {
    const opened = await decodeNatively(await blobOf(file), format, wanted.pixels, frame);
    if (opened) return natively(opened, reading, wanted);
    if (format !== 'jpeg') throw new Undecodable({ code: 'picture/refused', reason: NOT_DECODED });
  }
  return { ...(await openByOwn(file, reading, wanted)), from: 'original' };
}

const NOT_DECODED = 'the browser cannot decode it; it is damaged, or of a kind it does not know';

const natively = async (
  { bitmap: decoded, whole }: NativelyDecoded,
  reading: Previewable,
  { region }: PictureWanted,
): Promise<OpenedPicture> => {
  // browsers turn what they decode, but for WebP, whose EXIF they do not ask
  const bitmap = upright(decoded, reading.format === 'webp' ? reading.orientation : 1);
  return {
    bitmap: region ? await cutOut(bitmap, region) : bitmap,
    whole,
    from: 'original',
    full: sizeOf(reading),
    pages: 1,
  };
};

async function openByOwn(
  file: LazyBytes,
  reading: Previewable,
  { pixels, region, page = 0 }: PictureWanted,
): Promise<Omit<OpenedPicture, 'from'>> {
  const { format, orientation } = reading;
  const stored = storedSize(reading);
  const decoded = await decodeForeign({
    file: await blobOf(file),
    format,
    pixels,
    region: region && stored ? regionAsStored(region, orientation, stored) : null,
    page,
  });
  const turn = decoded.upright ? 1 : orientation;
  const { width, height } = decoded.full;
  return {
    bitmap: upright(decoded.bitmap, turn),
    whole: decoded.whole,
    full: turn >= 5 ? { width: height, height: width } : { width, height },
    pages: decoded.pages,
  };
}

/** What the camera drew at once where it is large enough; the sensor's data where it is not, or there is none. */
async function openRaw(file: LazyBytes, reading: Previewable, wanted: PictureWanted): Promise<OpenedPicture> {
  const largest = reading.previews.find(({ coding }) => coding === 'jpeg');
  const longEdge = Math.max(reading.width ?? 0, reading.height ?? 0);
  const asked = wanted.pixels === null ? longEdge : Math.min(wanted.pixels, longEdge || Infinity);
  const enough = Math.min(asked * NEARLY, wanted.quick ? QUICK_PIXELS : Infinity);
  const large = Math.max(largest?.width ?? 0, largest?.height ?? 0);
  if (large > 0 && large >= enough) {
    const embedded = await largestEmbedded(file, reading, wanted.pixels);
    if (embedded)
      return wanted.region ? { ...embedded, bitmap: await cutOut(embedded.bitmap, wanted.region) } : embedded;
  }
  return { ...(await openByOwn(file, reading, wanted)), from: 'developed' };
}

/** Cameras draw a little less than the sensor has. */
const NEARLY = 0.95;
/** Long edge of what is shown at once instead of waiting for a better one. */
const QUICK_PIXELS = 1000;

export async function largestEmbedded(
  file: LazyBytes,
  reading: Previewable,
  pixels: number | null,
): Promise<OpenedPicture | null> {
  for (const preview of reading.previews) {
    if (preview.coding !== 'jpeg') continue;
    const blob = await blobOf(file.slice(preview.offset, preview.offset + preview.length));
    const size = preview.width && preview.height ? { width: preview.width, height: preview.height } : null;
    const opened = await decodeNatively(blob, 'jpeg', pixels, size);
    if (!opened) continue;
    // most embedded previews carry no EXIF of their own, and lie as the sensor lay
    const turn = (await turnsItself(blob)) ? 1 : reading.orientation;
    return {
      bitmap: upright(opened.bitmap, turn),
      from: 'embedded',
      whole: opened.whole,
      full: sizeOf(reading),
      pages: 1,
    };
  }
  return null;
}

const turnsItself = async (blob: Blob): Promise<boolean> =>
  (await readPhoto(blobSource(blob), 'preview.jpg')).orientation !== 1;

const frameOf = async (file: LazyBytes): Promise<JpegFrame | null> =>
  (await readFrame(memorySource(await bytesOf(file.slice(0, HEAD_BYTES))), 0)) ?? readFrame(blobSource(file), 0);

const sizeOf = ({ width, height }: Previewable) => (width && height ? { width, height } : null);
const storedSize = (reading: Previewable) => {
  const size = sizeOf(reading);
  return size && reading.orientation >= 5 ? { width: size.height, height: size.width } : size;
};
