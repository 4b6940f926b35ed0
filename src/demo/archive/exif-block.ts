// The EXIF block a camera writes: who, what, when, with which exposure for the light there was, and where if it can.

import { EXIF, GPS, MAIN } from '@/core/formats/tiff/exif-tags';
import { clamp } from '../paint/noise';
import type { Shoot, ShootView } from './shoot';
import { takenAt, weatherOf } from './shoot';
import { type Entries, ascii, byte, raw, ratio, short, signedRatio, writeExif } from './tiff-writer';
import { CAMERAS, LENSES, PLACES } from './world';

export interface MeteredExposure {
  fNumber: number;
  seconds: number;
  iso: number;
  /** Stops from what the meter said. */
  bias: number;
}

/** Stops of a bracket, in the order cameras take it. */
export const bracketStops = (place: number, of: number): number => (place - Math.floor(of / 2)) * 2;

const STOPS: Partial<Record<ShootView['kind'], number>> = { dark: -2.6, light: 2.2 };
export const stopsOf = ({ kind, frames }: ShootView, frame: number): number =>
  kind === 'bracket' ? bracketStops(frames.indexOf(frame), frames.length) : (STOPS[kind] ?? 0);

/**
 * What a photographer would set for the light: exposure values at ISO 100 are 15 in full sun, less for cloud and a low
 * sun, about 2 for a lit harbour at night and −4 for northern light (common practice, no source).
 */
export function exposureOf(shoot: Shoot, view: ShootView, frame: number): MeteredExposure {
  const weather = weatherOf(shoot);
  const lens = LENSES[shoot.lens];
  const stops = stopsOf(view, frame);
  const night = shoot.motif === 'night' || shoot.motif === 'aurora';
  const value =
    shoot.motif === 'aurora'
      ? -4
      : night
        ? 2
        : clamp(
            15 + Math.log2(Math.max(0.04, Math.sin((weather.sunHeight * Math.PI) / 180)) * 1.8) - weather.cloud * 2.8,
            5,
            15.3,
          );
  const fNumber = night
    ? lens.widestF
    : shoot.lens === 'telephone'
      ? 1.7
      : Math.max(lens.widestF, shoot.lens === 'macro' || shoot.lens === 'tele' ? 5.6 : shoot.lens === 'fixed' ? 4 : 8);
  const slowest = night
    ? shoot.motif === 'aurora'
      ? 8
      : 1
    : shoot.lens === 'tele' || shoot.motif === 'ferry' || shoot.motif === 'bird-cliff'
      ? 1 / 800
      : 1 / 80;
  const at100 = (fNumber * fNumber) / Math.pow(2, value);
  const iso = clamp(100 * Math.pow(2, Math.ceil(Math.log2(at100 / slowest))), 100, 6400);
  return {
    fNumber,
    iso,
    seconds: ((at100 * 100) / iso) * Math.pow(2, view.kind === 'bracket' ? stops : 0),
    bias: view.kind === 'bracket' ? stops : 0,
  };
}

export interface Turned {
  width: number;
  height: number;
  orientation: number;
}

const exifTime = (shown: string) => shown.replace('T', ' ').replaceAll('-', ':');

/** Metres walked between views, so that positions differ as they would. */
export function positionOf(shoot: Shoot, view: ShootView): { lat: number; lon: number } {
  const { lat, lon } = PLACES[shoot.place];
  const along = view.index * 0.00034;
  return {
    lat: lat + Math.sin(view.index * 1.7 + shoot.first) * 0.0002 + along,
    lon: lon + Math.cos(view.index * 2.3 + shoot.first) * 0.0004 - along * 0.6,
  };
}

export function exifEntries(
  shoot: Shoot,
  view: ShootView,
  frame: number,
  size: Turned,
): { main: Entries; exif: Entries; gps: Entries | null } {
  const camera = CAMERAS[shoot.camera];
  const lens = LENSES[shoot.lens];
  const taken = takenAt(shoot, view, frame);
  const digitised = `2013:0${1 + (shoot.first % 9)}:1${frame % 9} 10:2${frame % 10}:00`;
  const shown = taken ? exifTime(taken.shown) : digitised;
  const main: Entries = new Map([
    [MAIN.make, ascii(camera.make)],
    [MAIN.model, ascii(camera.model)],
    [MAIN.orientation, short(size.orientation)],
    [0x011a, ratio([300, 1])],
    [0x011b, ratio([300, 1])],
    [0x0128, short(2)],
    [0x0132, ascii(shown)],
    [0x0213, short(1)],
  ]);
  const exif: Entries = new Map([
    [0x9000, raw(0x30, 0x32, 0x33, 0x32)],
    [0x9004, ascii(shown)],
    [0x9101, raw(1, 2, 3, 0)],
    [0xa000, raw(0x30, 0x31, 0x30, 0x30)],
    [0xa001, short(1)],
    [EXIF.pixelWidth, short(size.width)],
    [EXIF.pixelHeight, short(size.height)],
  ]);
  if (!taken) return { main, exif, gps: null };
  const { fNumber, seconds, iso, bias } = exposureOf(shoot, view, frame);
  exif.set(EXIF.dateTimeOriginal, ascii(shown));
  exif.set(
    EXIF.exposureTime,
    seconds >= 0.4 ? ratio([Math.round(seconds * 10), 10]) : ratio([1, Math.max(1, Math.round(1 / seconds))]),
  );
  exif
    .set(EXIF.fNumber, ratio([Math.round(fNumber * 10), 10]))
    .set(EXIF.iso, short(iso))
    .set(EXIF.exposureBias, signedRatio([bias * 10, 10]))
    .set(EXIF.flash, short(16))
    .set(EXIF.focalLength, ratio([Math.round(lens.focalMm * 10), 10]));
  if (view.kind === 'bracket') exif.set(0xa402, short(2));
  if (view.kind === 'burst')
    exif.set(
      0x9291,
      ascii(
        String(Math.round((view.frames.indexOf(frame) * 400) % 1000))
          .padStart(3, '0')
          .slice(0, 2),
      ),
    );
  if (camera.serial) exif.set(EXIF.bodySerial, ascii(camera.serial));
  if (lens.name) exif.set(EXIF.lensModel, ascii(lens.name));
  if (camera.offsets) for (const tag of [0x9010, EXIF.offsetTimeOriginal, 0x9012]) exif.set(tag, ascii(taken.offset));
  return { main, exif, gps: camera.gps ? gpsOf(shoot, view, taken.utc) : null };
}

function gpsOf(shoot: Shoot, view: ShootView, utc: Date): Entries {
  const { lat, lon } = positionOf(shoot, view);
  return new Map([
    [0, byte(2, 3, 0, 0)],
    [GPS.latRef, ascii('N')],
    [GPS.lat, degrees(lat)],
    [GPS.lonRef, ascii('W')],
    [GPS.lon, degrees(-lon)],
    [GPS.altitudeRef, byte(0)],
    [GPS.altitude, ratio([60 + view.index * 12, 10])],
    [GPS.timeStamp, ratio([utc.getUTCHours(), 1], [utc.getUTCMinutes(), 1], [utc.getUTCSeconds(), 1])],
    [16, ascii('T')],
    [17, ratio([Math.round((((shoot.facing ?? 20) + 360) % 360) * 10), 10])],
    [GPS.dateStamp, ascii(utc.toISOString().slice(0, 10).replaceAll('-', ':'))],
  ]);
}

function degrees(value: number) {
  const seconds = Math.round(value * 3600 * 100);
  return ratio([Math.floor(seconds / 360_000), 1], [Math.floor(seconds / 6000) % 60, 1], [seconds % 6000, 100]);
}

export function demoExifBlock(shoot: Shoot, view: ShootView, frame: number, size: Turned): Buffer {
  const { main, exif, gps } = exifEntries(shoot, view, frame, size);
  return writeExif(main, exif, gps);
}
