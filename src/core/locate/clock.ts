// From what a camera's clock showed to the true instant. A clock correction is a zone in which the clock was kept, and
// a constant difference: what must be added to the clock to get true time.

import { type Captured, clockSecondsWithFraction, shiftCaptured } from '../time/captured';
import { instantOf, offsetAt, offsetSecondsOf, offsetText } from '../time/zone';

export interface ClockCorrection {
  /** An IANA name, or a fixed offset such as `+01:00`. `null`: the offset that the camera wrote, where it wrote one. */
  zone: string | null;
  /** Seconds to be added to what the clock showed. */
  differenceSeconds: number;
}

export const NO_CORRECTION: ClockCorrection = { zone: null, differenceSeconds: 0 };

export type TrueTime =
  | {
      state: 'known';
      utcSeconds: number;
      offsetSeconds: number;
      /**
       * The zone's clock shows this time twice, or never; the first, or what a clock that was not put forward would
       * mean, was taken.
       */
      doubtful: boolean;
    }
  | { state: 'unknown'; reason: 'no-time' | 'no-zone' | 'zone-unknown' };

/** When a photo was taken, in truth. A date without a time has no instant. */
export function trueTime(captured: Captured | null, { zone, differenceSeconds }: ClockCorrection): TrueTime {
  const shown = clockSecondsWithFraction(captured);
  if (shown === null || !captured) return { state: 'unknown', reason: 'no-time' };
  // the zone's rule is asked for the true time, since it is the true day that decides about summer time
  if (zone === null) {
    const offset = captured.offset === null ? null : offsetSecondsOf(captured.offset);
    return offset === null
      ? { state: 'unknown', reason: 'no-zone' }
      : known(shown + differenceSeconds - offset, offset);
  }
  const fixed = offsetSecondsOf(zone);
  if (fixed !== null) return known(shown + differenceSeconds - fixed, fixed);
  const instant = instantOf(zone, shown + differenceSeconds);
  if (instant.state === 'zone-unknown') return { state: 'unknown', reason: 'zone-unknown' };
  if (instant.state === 'two') return known(instant.utcSeconds[0], instant.offsetSeconds[0], true);
  return known(instant.utcSeconds, instant.offsetSeconds, instant.state === 'none');
}

const known = (utcSeconds: number, offsetSeconds: number, doubtful = false): TrueTime => ({
  state: 'known',
  utcSeconds,
  offsetSeconds,
  doubtful,
});

/**
 * The capture date put right: the true time on the clocks of the zone, with their offset. Without a zone only the
 * difference is added.
 */
export function rightedDate(captured: Captured, correction: ClockCorrection): string | null {
  const time = trueTime(captured, correction);
  const { written } = shiftCaptured(captured, Math.round(correction.differenceSeconds)) ?? captured;
  if (written.length < 19) return null;
  if (time.state !== 'known') return correction.zone === null ? `${written}${captured.offset ?? ''}` : null;
  return `${written}${offsetText(time.offsetSeconds)}`;
}

/** The difference that a photo of a clock shows: what the clock in the picture says, less what the camera wrote. */
export function differenceShown(captured: Captured, shown: Captured): number | null {
  const [camera, clock] = [clockSecondsWithFraction(captured), clockSecondsWithFraction(shown)];
  return camera === null || clock === null ? null : clock - camera;
}

/** The difference that a photo of a receiver shows, whose clock is in UTC, for a camera kept in a zone. */
export function differenceToUtc(captured: Captured, utcSeconds: number, zone: string | null): number | null {
  const camera = clockSecondsWithFraction(captured);
  if (camera === null) return null;
  const offset =
    zone === null
      ? captured.offset === null
        ? null
        : offsetSecondsOf(captured.offset)
      : (offsetSecondsOf(zone) ?? offsetAt(zone, utcSeconds));
  return offset === null ? null : utcSeconds + offset - camera;
}

/** `+1 h 3 min 20 s`, `−12 s`, `0 s`. */
export function differenceText(seconds: number): string {
  const whole = Math.round(Math.abs(seconds));
  const parts = [
    [Math.floor(whole / 3600), 'h'],
    [Math.floor(whole / 60) % 60, 'min'],
    [whole % 60, 's'],
  ].filter(([value]) => value !== 0);
  return parts.length === 0
    ? '0 s'
    : `${seconds < 0 ? '−' : '+'}${parts.map(([value, unit]) => `${value} ${unit}`).join(' ')}`;
}

/** Reads `+1:03:20`, `-0:12`, `1 h 3 min 20 s`, `−3800 s`, `90`; a bare number is seconds. `null` for anything else. */
export function parseDifference(text: string): number | null {
  const plain = text.trim().replace(/[\u2212\u2013]/g, '-');
  const colons = /^([-+])?(\d{1,3}):(\d{2})(?::(\d{2}))?$/.exec(plain);
  const sign = plain.startsWith('-') ? -1 : 1;
  if (colons) return sign * (Number(colons[2]) * 3600 + Number(colons[3]) * 60 + Number(colons[4] ?? 0));
  const units =
    /^[-+]?\s*(?:(\d{1,3})\s*h(?:ours?)?)?\s*(?:(\d{1,4})\s*m(?:in(?:utes?)?)?)?\s*(?:(\d{1,7})\s*(?:s(?:ec(?:onds?)?)?)?)?$/i.exec(
      plain,
    );
  if (!units || (units[1] ?? units[2] ?? units[3]) === undefined) return null;
  return sign * (Number(units[1] ?? 0) * 3600 + Number(units[2] ?? 0) * 60 + Number(units[3] ?? 0)) || 0;
}
