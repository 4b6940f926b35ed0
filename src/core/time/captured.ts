// Dates as they were written. A date here is its digits, with its offset from UTC or without one; never an instant
// guessed from the machine's own zone. EXIF writes `2019:07:04 14:03:22`, XMP and IIM ISO 8601 forms, often in part.

import { isoOfSeconds, secondsOfIso } from './civil';

export interface Captured {
  /** ISO 8601 digits as far as they were written: `2019`, `2019-07`, `2019-07-04`, `2019-07-04T14:03:22[.fff]`. */
  written: string;
  /** `+01:00`, `Z`, or `null` where nothing was written. */
  offset: string | null;
}

const FORM =
  /^(\d{4})(?:[-:](\d{2})(?:[-:](\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2})(\.\d{1,9})?)?)?)?)?\s*(Z|[+-]\d{2}:\d{2})?$/;

/**
 * Parses EXIF and ISO 8601 forms, whole or partial. `null` for anything else, and for EXIF's all-blank and all-zero
 * dates.
 */
export function parseCaptured(text: string, offset: string | null = null): Captured | null {
  const found = FORM.exec(text.replaceAll('\0', '').trim());
  if (!found) return null;
  const [, year, month, day, hour, minute, second, fraction, zone] = found;
  if (year === '0000') return null;
  const known = (part: string | undefined, low: number, high: number) =>
    part !== undefined && Number(part) >= low && Number(part) <= high;
  let written = year ?? '';
  if (known(month, 1, 12)) {
    written += `-${month}`;
    if (known(day, 1, 31)) {
      written += `-${day}`;
      if (known(hour, 0, 23) && known(minute, 0, 59))
        written += `T${hour}:${minute}:${second ?? '00'}${fraction ?? ''}`;
    }
  }
  return { written, offset: zone ?? offset };
}

/** The date as a clock shows it that goes `seconds` ahead of this one. A date without a time stays as it is. */
export function shiftCaptured(captured: Captured | null, seconds: number): Captured | null {
  if (!captured || seconds === 0 || captured.written.length < 19) return captured;
  return { ...captured, written: isoOfSeconds(secondsOfIso(captured.written) + seconds) + captured.written.slice(19) };
}

/**
 * Seconds since 1970 of the written digits, for telling how far photos of one clock lie apart; `null` without a time.
 */
export const clockSeconds = (captured: Captured | null): number | null =>
  captured && captured.written.length >= 19 ? secondsOfIso(captured.written) : null;

/** The same with the fraction of the second, where one was written. */
export const clockSecondsWithFraction = (captured: Captured | null): number | null => {
  const whole = clockSeconds(captured);
  return whole === null ? null : whole + Number(`0${captured?.written.slice(19) || '.0'}`);
};

/**
 * `2019-07-04T14:03:22` → 20190704; missing parts are 00, so that partial dates sort before the days they may be. 0 for
 * none.
 */
export function dayNumber(captured: Captured | null): number {
  if (!captured) return 0;
  const [year = '0', month = '00', day = '00'] = captured.written.slice(0, 10).split('-');
  return Number(year) * 10_000 + Number(month) * 100 + Number(day);
}

export const DAY_MS = 86_400_000;
/** Whole days since 1970-01-01, UTC. */
export const daysOfMs = (milliseconds: number): number => Math.floor(milliseconds / DAY_MS);

/** The day number (20190704) of so many days since 1970-01-01. */
export const dayNumberOf = (days: number): number => dayNumber(parseCaptured(isoOfSeconds(days * 86_400)));

/** Seconds into the written day, with its fraction; 0 where no time was written. */
export function secondOfDay(captured: Captured | null): number {
  const time = captured?.written.slice(11);
  if (!time) return 0;
  const [hour = '0', minute = '0', second = '0'] = time.split(':');
  return Number(hour) * 3600 + Number(minute) * 60 + Number(second);
}
