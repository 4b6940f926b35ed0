// What a catalog needs from EXIF: capture data, position, the few descriptive tags, and where the embedded previews lie.

import type { Preview } from '../containers/blocks';
import { decodeUtf8OrWindows1252 } from '../bytes/text';
import { type Captured, parseCaptured } from '../time/captured';
import { EXIF, GPS, MAIN } from './exif-tags';
import { type Directory, type Tag, type Tiff, numbersOf } from './tiff';

export interface Exposure {
  seconds: number | null;
  fNumber: number | null;
  iso: number | null;
  focalMm: number | null;
  focal35Mm: number | null;
  biasEv: number | null;
  flash: boolean | null;
}

export interface Position {
  lat: number;
  lon: number;
  altitudeM: number | null;
}

export interface Technical {
  orientation: number;
  captured: Captured | null;
  camera: { make: string | null; model: string | null; serial: string | null };
  lens: string | null;
  exposure: Exposure;
  gps: Position | null;
}

export const NO_TECHNICAL: Technical = {
  orientation: 1,
  captured: null,
  camera: { make: null, model: null, serial: null },
  lens: null,
  exposure: { seconds: null, fNumber: null, iso: null, focalMm: null, focal35Mm: null, biasEv: null, flash: null },
  gps: null,
};

/** Text of an ASCII tag, ended at its first zero, with outer blanks (cameras pad) taken off. `null` when nothing is left. */
export function textOf(tag: Tag | undefined): string | null {
  if (!tag) return null;
  const zero = tag.view.bytes.indexOf(0);
  const text = decodeUtf8OrWindows1252(zero < 0 ? tag.view.bytes : tag.view.bytes.subarray(0, zero)).trim();
  return text === '' ? null : text;
}

function numberOf(tag: Tag | undefined): number | null {
  const value = tag ? numbersOf(tag)[0] : undefined;
  return value !== undefined && Number.isFinite(value) ? value : null;
}

export function technicalOf(tiff: Tiff): Technical {
  const of = (kind: Directory['kind']) => tiff.directories.find((directory) => directory.kind === kind)?.tags ?? new Map<number, Tag>();
  const main = of('main');
  const exif = of('exif');
  const orientation = numberOf(main.get(MAIN.orientation)) ?? 1;
  const flash = numberOf(exif.get(EXIF.flash));
  return {
    orientation: orientation >= 1 && orientation <= 8 ? orientation : 1,
    captured: capturedOf(exif),
    camera: { make: textOf(main.get(MAIN.make)), model: textOf(main.get(MAIN.model)), serial: textOf(exif.get(EXIF.bodySerial)) },
    lens: textOf(exif.get(EXIF.lensModel)),
    exposure: {
      seconds: numberOf(exif.get(EXIF.exposureTime)),
      fNumber: numberOf(exif.get(EXIF.fNumber)),
      iso: numberOf(exif.get(EXIF.iso)),
      focalMm: numberOf(exif.get(EXIF.focalLength)),
      focal35Mm: numberOf(exif.get(EXIF.focalLength35mm)),
      biasEv: numberOf(exif.get(EXIF.exposureBias)),
      flash: flash === null ? null : (flash & 1) === 1,
    },
    gps: positionOf(of('gps')),
  };
}

function capturedOf(exif: Map<number, Tag>): Captured | null {
  const written = textOf(exif.get(EXIF.dateTimeOriginal));
  if (!written) return null;
  const captured = parseCaptured(written, textOf(exif.get(EXIF.offsetTimeOriginal)));
  const fraction = textOf(exif.get(EXIF.subSecTimeOriginal));
  if (captured && fraction && /^\d{1,9}$/.test(fraction) && captured.written.length === 19) captured.written += `.${fraction}`;
  return captured;
}

function positionOf(gps: Map<number, Tag>): Position | null {
  const degrees = (tag: Tag | undefined, ref: string | null, negative: string) => {
    const [whole, minutes = 0, seconds = 0] = tag ? numbersOf(tag) : [];
    if (whole === undefined || !Number.isFinite(whole)) return null;
    const value = whole + (Number.isFinite(minutes) ? minutes : 0) / 60 + (Number.isFinite(seconds) ? seconds : 0) / 3600;
    return ref === negative ? -value : value;
  };
  const lat = degrees(gps.get(GPS.lat), textOf(gps.get(GPS.latRef)), 'S');
  const lon = degrees(gps.get(GPS.lon), textOf(gps.get(GPS.lonRef)), 'W');
  if (lat === null || lon === null || Math.abs(lat) > 90 || Math.abs(lon) > 180) return null;
  const altitude = numberOf(gps.get(GPS.altitude));
  const below = numberOf(gps.get(GPS.altitudeRef)) === 1;
  return { lat, lon, altitudeM: altitude === null ? null : below ? -altitude : altitude };
}

/** The embedded JPEGs, with offsets from the start of the file (`base` + the TIFF's own offsets). */
export function previewsOf(tiff: Tiff, base: number): Preview[] {
  const previews: Preview[] = [];
  for (const { tags } of tiff.directories) {
    const add = (offset: number | null, length: number | null) => {
      if (!offset || !length) return;
      previews.push({ offset: base + offset, length, width: numberOf(tags.get(MAIN.imageWidth)), height: numberOf(tags.get(MAIN.imageLength)) });
    };
    add(numberOf(tags.get(MAIN.jpegOffset)), numberOf(tags.get(MAIN.jpegLength)));
    const reduced = ((numberOf(tags.get(MAIN.subfileType)) ?? 0) & 1) === 1;
    const compression = numberOf(tags.get(MAIN.compression));
    const strips = tags.get(MAIN.stripOffsets);
    const isJpeg = compression === 6 || compression === 7;
    if (isJpeg && reduced && strips?.count === 1) add(numberOf(strips), numberOf(tags.get(MAIN.stripByteCounts)));
  }
  return previews;
}

/** The size of the full image: the largest directory that is not marked as a reduced one. */
export function fullSizeOf(tiff: Tiff): { width: number; height: number } | null {
  let best: { width: number; height: number } | null = null;
  for (const { tags, kind } of tiff.directories) {
    if (kind === 'exif' || kind === 'gps') continue;
    const width = numberOf(tags.get(MAIN.imageWidth));
    const height = numberOf(tags.get(MAIN.imageLength));
    if (width && height && (!best || width * height > best.width * best.height)) best = { width, height };
  }
  return best;
}
