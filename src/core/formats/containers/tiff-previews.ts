// The embedded JPEGs that TIFF directories point to, so that a raw is shown at once without decoding.

import type { ByteSource } from '../../bytes/source';
import type { EmbeddedPreview } from './blocks';
import { readFrame } from './jpeg-frame';
import { MAIN } from '../tiff/exif-tags';
import { type Tiff, isReduced, numberOf } from '../tiff/tiff';

/** With offsets from the start of the file: `base` + the structure's own. Sizes where a directory says. */
export function previewsOf(tiff: Tiff, base: number, isRaw: boolean): EmbeddedPreview[] {
  const previews: EmbeddedPreview[] = [];
  for (const { tags, kind } of tiff.directories) {
    const add = (offset: number | null, length: number | null) => {
      if (offset && length)
        previews.push({
          coding: 'jpeg',
          offset: base + offset,
          length,
          width: numberOf(tags.get(MAIN.imageWidth)),
          height: numberOf(tags.get(MAIN.imageLength)),
        });
    };
    add(numberOf(tags.get(MAIN.jpegOffset)), numberOf(tags.get(MAIN.jpegLength)));
    const whole = tags.get(MAIN.panasonicJpeg);
    if (whole && isRaw && whole.lengthBytes > 4)
      previews.push({
        coding: 'jpeg',
        offset: base + whole.offset,
        length: whole.lengthBytes,
        width: null,
        height: null,
      });
    const compression = numberOf(tags.get(MAIN.compression));
    const strips = tags.get(MAIN.stripOffsets);
    const isJpeg = compression === 6 || compression === 7;
    if (isJpeg && (isReduced(tags) || (isRaw && kind === 'main')) && strips?.count === 1)
      add(numberOf(strips), numberOf(tags.get(MAIN.stripByteCounts)));
  }
  return previews;
}

const isBaseline = (marker: number) => marker >= 0xc0 && marker <= 0xc2;

/**
 * Each JPEG is looked at and its size taken from its own frame; lossless and broken ones, which nothing shows, are left
 * out.
 */
export async function verifyPreviews(
  source: ByteSource,
  previews: readonly EmbeddedPreview[],
): Promise<EmbeddedPreview[]> {
  const verified: EmbeddedPreview[] = [];
  for (const preview of previews.slice(0, 16)) {
    const places = [preview.offset, preview.length];
    if (
      !places.every((place) => Number.isInteger(place) && place > 0) ||
      preview.offset + preview.length > source.size ||
      verified.some(({ offset }) => offset === preview.offset)
    )
      continue;
    const size = preview.coding === 'jpeg' ? await frameSize(source, preview.offset) : {};
    if (size) verified.push({ ...preview, ...size });
  }
  return verified;
}

async function frameSize(source: ByteSource, start: number): Promise<{ width: number; height: number } | null> {
  const frame = await readFrame(source, start);
  return frame && isBaseline(frame.marker) ? { width: frame.width, height: frame.height } : null;
}
