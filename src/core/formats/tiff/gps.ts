// The GPS directory of EXIF (EXIF 2.32, section 4.6.6): what its tags say about the fields, in the fields' own form.

import { directionText } from '../../geo/direction';
import { onEarth, positionText } from '../../geo/position';
import { textOf } from './exif-text';
import { GPS } from './exif-tags';
import { type Tag, type Tags, numberOf, numbersOf } from './tiff';

const trimmed = (tag: Tag | undefined): string | null => textOf(tag)?.trim() ?? null;

/** Half a position is none. */
export function positionOfTags(gps: Tags): string | null {
  const lat = degreesOf(gps.get(GPS.lat), trimmed(gps.get(GPS.latRef)), 'S');
  const lon = degreesOf(gps.get(GPS.lon), trimmed(gps.get(GPS.lonRef)), 'W');
  if (lat === null || lon === null || !onEarth({ lat, lon })) return null;
  const altitude = numberOf(gps.get(GPS.altitude));
  const below = (numberOf(gps.get(GPS.altitudeRef)) ?? 0) % 2 === 1;
  return positionText({
    lat,
    lon,
    altitudeM: altitude === null || !Number.isFinite(altitude) ? null : below ? -altitude : altitude,
  });
}

function degreesOf(tag: Tag | undefined, ref: string | null, negative: string): number | null {
  const [whole, minutes = 0, seconds = 0] = tag ? numbersOf(tag) : [];
  if (whole === undefined || !Number.isFinite(whole)) return null;
  const value = whole + (Number.isFinite(minutes) ? minutes : 0) / 60 + (Number.isFinite(seconds) ? seconds : 0) / 3600;
  return ref?.startsWith(negative) ? -value : value;
}

export function directionOfTags(gps: Tags): string | null {
  const degrees = numberOf(gps.get(GPS.direction));
  return degrees === null || !(degrees >= 0 && degrees <= 360)
    ? null
    : directionText(degrees, trimmed(gps.get(GPS.directionRef)) === 'M');
}

/** Date and time of the satellites, in UTC, to the second. */
export function timeOfTags(gps: Tags): string | null {
  const date = /^(\d{4})[:-](\d{2})[:-](\d{2})$/.exec(trimmed(gps.get(GPS.dateStamp)) ?? '');
  const time = gps.get(GPS.timeStamp);
  const [hour, minute, second] = time ? numbersOf(time) : [];
  if (
    !date ||
    hour === undefined ||
    minute === undefined ||
    second === undefined ||
    !(hour < 24 && minute < 60 && second < 61)
  )
    return null;
  const two = (value: number) => String(Math.floor(value)).padStart(2, '0');
  return `${date[1]}-${date[2]}-${date[3]}T${two(hour)}:${two(minute)}:${two(second)}Z`;
}
