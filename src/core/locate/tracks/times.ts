// Times in track files: ISO 8601, or seconds or milliseconds since 1970.

import { secondsOfIso } from '../../time/civil';
import { offsetSecondsOf } from '../../time/zone';

export interface TrackTime {
  utc: number;
  /** It said neither `Z` nor an offset, and was taken as UTC. */
  zoneless: boolean;
}

const ISO =
  /^(\d{4})[-/](\d{2})[-/](\d{2})[T ](\d{2}):(\d{2})(?::(\d{2})([.,]\d{1,9})?)?\s*(Z|UTC|[+-]\d{2}:?\d{2})?$/i;

export function parseTrackTime(text: string): TrackTime | null {
  const trimmed = text.trim();
  if (/^\d{9,10}(\.\d+)?$/.test(trimmed)) return { utc: Number(trimmed), zoneless: false };
  if (/^\d{12,13}$/.test(trimmed)) return { utc: Number(trimmed) / 1000, zoneless: false };
  const found = ISO.exec(trimmed);
  if (!found) return null;
  const [, year, month, day, hour, minute, second = '00', fraction = '', zone] = found;
  if (
    Number(month) < 1 ||
    Number(month) > 12 ||
    Number(day) < 1 ||
    Number(day) > 31 ||
    Number(hour) > 24 ||
    Number(minute) > 59 ||
    Number(second) > 60
  )
    return null;
  const clock =
    secondsOfIso(`${year}-${month}-${day}T${hour}:${minute}:${second}`) +
    Number(`0${fraction.replace(',', '.') || '.0'}`);
  const offset =
    zone === undefined
      ? null
      : /^(Z|UTC)$/i.test(zone)
        ? 0
        : offsetSecondsOf(zone.includes(':') ? zone : `${zone.slice(0, 3)}:${zone.slice(3)}`);
  return { utc: clock - (offset ?? 0), zoneless: offset === null };
}
