// Zones and summer time, from the zone database of the system (through `Intl`). Seconds everywhere; a *clock time* is
// what a clock in the zone shows, counted as if it were UTC (see `secondsOfIso`).

import { secondsOfIso } from './civil';

const formats = new Map<string, Intl.DateTimeFormat | null>();

function formatOf(zone: string): Intl.DateTimeFormat | null {
  let format = formats.get(zone);
  if (format === undefined) {
    try {
      format = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        calendar: 'gregory',
        numberingSystem: 'latn',
        year: 'numeric',
        month: '2-digit',
        day: '2-digit',
        hour: '2-digit',
        minute: '2-digit',
        second: '2-digit',
        hourCycle: 'h23',
        era: 'short',
      });
    } catch {
      format = null; // the system does not know the zone
    }
    formats.set(zone, format);
  }
  return format;
}

export const isZone = (zone: string): boolean => formatOf(zone) !== null;

/** Seconds that clocks in the zone are ahead of UTC at an instant; `null` where the system does not know the zone. */
export function offsetAt(zone: string, utcSeconds: number): number | null {
  const format = formatOf(zone);
  if (!format) return null;
  const whole = Math.floor(utcSeconds);
  const part: Record<string, string> = {};
  for (const { type, value } of format.formatToParts(whole * 1000)) part[type] = value;
  const year = String(part.year).padStart(4, '0');
  return secondsOfIso(`${year}-${part.month}-${part.day}T${part.hour}:${part.minute}:${part.second}`) - whole;
}

export type Instant =
  | { state: 'one'; utcSeconds: number; offsetSeconds: number }
  /** The hour that comes twice when clocks are put back: both instants, the first one first. */
  | { state: 'two'; utcSeconds: [number, number]; offsetSeconds: [number, number] }
  /**
   * The hour that clocks leave out when they are put forward; the instant a clock that was not put forward would mean.
   */
  | { state: 'none'; utcSeconds: number; offsetSeconds: number }
  | { state: 'zone-unknown' };

/** A day on either side holds every offset that can be meant. */
const AROUND_SECONDS = 86_400;

/** Which instant a clock time in a zone is. */
export function instantOf(zone: string, clockSeconds: number): Instant {
  const [before, after] = [
    offsetAt(zone, clockSeconds - AROUND_SECONDS),
    offsetAt(zone, clockSeconds + AROUND_SECONDS),
  ];
  if (before === null || after === null) return { state: 'zone-unknown' };
  const candidates = [...new Set([before, after])].filter((offset) => offsetAt(zone, clockSeconds - offset) === offset);
  const [first, second] = candidates.sort((a, b) => b - a); // the greater offset is the earlier instant
  if (first === undefined) return { state: 'none', utcSeconds: clockSeconds - before, offsetSeconds: before };
  if (second === undefined) return { state: 'one', utcSeconds: clockSeconds - first, offsetSeconds: first };
  return { state: 'two', utcSeconds: [clockSeconds - first, clockSeconds - second], offsetSeconds: [first, second] };
}

/** `+01:00`, `-03:30`, `Z`; seconds, which only zones before standard time had, are left out. */
export function offsetText(offsetSeconds: number): string {
  if (offsetSeconds === 0) return 'Z';
  const minutes = Math.round(Math.abs(offsetSeconds) / 60);
  return `${offsetSeconds < 0 ? '-' : '+'}${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}

/** Seconds of `+01:00` or `Z`; `null` for anything else. */
export function offsetSecondsOf(text: string): number | null {
  if (text === 'Z') return 0;
  const found = /^([+-])(\d{2}):(\d{2})$/.exec(text);
  return found ? (found[1] === '-' ? -1 : 1) * (Number(found[2]) * 3600 + Number(found[3]) * 60) : null;
}
