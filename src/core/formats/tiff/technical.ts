// What a catalog needs of the technical tags of EXIF: camera, lens, exposure, size.

import { EXIF, MAIN } from './exif-tags';
import { textOf } from './exif-text';
import { makerNoteOf } from './maker-note';
import { type Tag, type Tags, type Tiff, isReduced, numberOf, tagsOf } from './tiff';

export interface Exposure {
  seconds: number | null;
  fNumber: number | null;
  iso: number | null;
  focalMm: number | null;
  focal35Mm: number | null;
  biasEv: number | null;
  flash: boolean | null;
}

export interface Technical {
  orientation: number;
  camera: { make: string | null; model: string | null; serial: string | null };
  lens: string | null;
  exposure: Exposure;
  shutterCount: number | null;
}

export const NO_TECHNICAL: Technical = {
  orientation: 1,
  camera: { make: null, model: null, serial: null },
  lens: null,
  exposure: { seconds: null, fNumber: null, iso: null, focalMm: null, focal35Mm: null, biasEv: null, flash: null },
  shutterCount: null,
};

/** Exposure values are logarithms to the base 2 (APEX, EXIF 2.32 annex C). */
const secondsOfApex = (value: number | null) => (value === null ? null : 2 ** -value);
const fNumberOfApex = (value: number | null) => (value === null ? null : 2 ** (value / 2));
const positive = (value: number | null) => (value !== null && value > 0 ? value : null);

export function technicalOf(tiffs: readonly Tiff[]): Technical {
  const main = tagsOf(tiffs, 'main');
  const exif = tagsOf(tiffs, 'exif');
  const either = (id: number) => exif.get(id) ?? main.get(id);
  const number = (id: number) => numberOf(either(id));
  const orientation = numberOf(main.get(MAIN.orientation)) ?? 1;
  const flash = number(EXIF.flash);
  const make = trimmed(main.get(MAIN.make));
  const note = makerNoteOf(tiffs, make);
  return {
    orientation: orientation >= 1 && orientation <= 8 ? orientation : 1,
    camera: {
      make,
      model: trimmed(main.get(MAIN.model)),
      serial: trimmed(exif.get(EXIF.bodySerial)) ?? trimmed(main.get(MAIN.cameraSerial)) ?? note.serial,
    },
    lens: lensOf(exif) ?? note.lens,
    exposure: {
      seconds: number(EXIF.exposureTime) ?? secondsOfApex(number(EXIF.shutterSpeed)),
      fNumber: positive(number(EXIF.fNumber)) ?? fNumberOfApex(number(EXIF.aperture)),
      iso: isoOf(main, exif) ?? note.iso,
      focalMm: positive(number(EXIF.focalLength)),
      focal35Mm: positive(number(EXIF.focalLength35mm)),
      biasEv: number(EXIF.exposureBias),
      flash: flash === null ? null : (flash & 1) === 1,
    },
    shutterCount: note.shutterCount,
  };
}

const trimmed = (tag: Tag | undefined): string | null => textOf(tag)?.trim() ?? null;

function lensOf(exif: Tags): string | null {
  const model = trimmed(exif.get(EXIF.lensModel));
  return model === null || /^-+$/.test(model) ? null : model;
}

/** 65535 in the old tag means that the number is in the newer one (EXIF 2.32, tag 0x8827). */
function isoOf(main: Tags, exif: Tags): number | null {
  const iso = numberOf(exif.get(EXIF.iso) ?? main.get(EXIF.iso)) ?? numberOf(main.get(MAIN.panasonicIso));
  const real = iso === null || iso === 65535 ? (numberOf(exif.get(EXIF.recommendedExposureIndex)) ?? iso) : iso;
  return positive(real);
}

export interface PixelSize {
  width: number;
  height: number;
}

/**
 * The size of the full image: the largest directory that is not marked as a reduced one. Raws count the masked edge of
 * the sensor too, so there the size in EXIF holds where it is nearly as large.
 */
export function fullSizeOf(tiffs: readonly Tiff[], isRaw: boolean): PixelSize | null {
  const sensor = panasonicSize(tagsOf(tiffs, 'main'));
  if (sensor) return sensor;
  let best: PixelSize | null = null;
  for (const { tags, kind } of tiffs.flatMap(({ directories }) => directories)) {
    if (kind === 'exif' || kind === 'gps' || isReduced(tags)) continue;
    const size = sizeIn(tags, MAIN.imageWidth, MAIN.imageLength);
    if (size && (!best || size.width * size.height > best.width * best.height)) best = size;
  }
  const stated = isRaw ? sizeIn(tagsOf(tiffs, 'exif'), EXIF.pixelWidth, EXIF.pixelHeight) : null;
  return stated && (!best || stated.width * stated.height > 0.8 * best.width * best.height) ? stated : best;
}

function sizeIn(tags: Tags, widthTag: number, heightTag: number): PixelSize | null {
  const width = numberOf(tags.get(widthTag));
  const height = numberOf(tags.get(heightTag));
  return width && height ? { width, height } : null;
}

function panasonicSize(main: Tags): PixelSize | null {
  const [top, left, bottom, right] = [
    MAIN.panasonicTop,
    MAIN.panasonicLeft,
    MAIN.panasonicBottom,
    MAIN.panasonicRight,
  ].map((id) => numberOf(main.get(id)));
  if (!main.has(MAIN.panasonicJpeg) || !bottom || !right) return null;
  return { width: right - (left ?? 0), height: bottom - (top ?? 0) };
}
