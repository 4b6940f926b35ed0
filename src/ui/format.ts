// How numbers, sizes, dates and exposures are shown. Dates are shown from their written digits, never through a local
// zone.

import type { Exposure } from '@/core/formats/tiff/technical';
import type { Direction } from '@/core/geo/direction';
import type { SortBy } from '@/core/query/query';
import type { Captured } from '@/core/time/captured';
import { MONTHS } from '@/core/time/date-words';

const THIN = '\u202f';

export const count = (value: number): string => String(value).replace(/\B(?=(\d{3})+$)/g, THIN);

export const photos = (value: number): string => (value === 1 ? '1 photo' : `${count(value)} photos`);

export const plural = (value: number, one: string, many = `${one}s`): string =>
  `${count(value)} ${value === 1 ? one : many}`;

/** Decimal units, as drives are sold. */
export function bytes(value: number): string {
  for (const [unit, size] of [
    ['TB', 1e12],
    ['GB', 1e9],
    ['MB', 1e6],
    ['kB', 1e3],
  ] as const) {
    if (value >= size) return `${(value / size).toFixed(value >= 100 * size ? 0 : 1)} ${unit}`;
  }
  return `${value} B`;
}

const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

/** Day number 20190704 → `Thursday 4 July 2019`; partial dates as far as they are known. */
export function dayHeading(day: number): string {
  if (day === 0) return 'Without a date';
  const [year, month, date] = [Math.floor(day / 10_000), Math.floor(day / 100) % 100, day % 100];
  if (month === 0) return String(year);
  if (date === 0) return `${MONTHS[month - 1]} ${year}`;
  const weekday = WEEKDAYS[new Date(Date.UTC(year, month - 1, date)).getUTCDay()];
  return `${weekday} ${date} ${MONTHS[month - 1]} ${year}`;
}

/** What stands above a group of the wall, by what it is sorted by. */
export function headingWords(by: SortBy, value: number | string): string {
  if (by === 'taken') return dayHeading(Number(value));
  if (by === 'added') return `Into the catalog ${dayHeading(Number(value))}`;
  if (by === 'rating') return value === -1 ? 'Rejected' : value === 0 ? 'Unrated' : `Rung ${value}`;
  if (by === 'name') return 'By name';
  if (by === 'hand') return 'By hand';
  if (by === 'type') return String(value).toUpperCase();
  return value === ''
    ? { marker: 'Without a marker', accession: 'Not of an accession', place: 'Without a place' }[by]
    : String(value);
}

/** `4 Jul 2019 14:03:22 +01:00` */
export function capturedWords(captured: Captured | null): string {
  if (!captured) return 'no date';
  const [date = '', time] = captured.written.split('T');
  const [year, month, day] = date.split('-');
  const words = [
    day ? Number(day) : null,
    month ? MONTHS[Number(month) - 1]?.slice(0, 3) : null,
    year,
    time?.slice(0, 8),
    captured.offset,
  ];
  return words.filter((word) => word !== null && word !== undefined).join(' ');
}

/** Today by the person's calendar, as an ISO date. */
export const today = (): string => isoDay();

/** ISO date of a moment, by this computer's calendar. */
export function isoDay(at: number = Date.now()): string {
  const day = new Date(at);
  return `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, '0')}-${String(day.getDate()).padStart(2, '0')}`;
}

/** `8 Mar 2026`, by this computer's calendar. */
export function dayWords(milliseconds: number): string {
  const date = new Date(milliseconds);
  return `${date.getDate()} ${MONTHS[date.getMonth()]?.slice(0, 3)} ${date.getFullYear()}`;
}

export function dateTime(milliseconds: number): string {
  const date = new Date(milliseconds);
  const two = (value: number) => String(value).padStart(2, '0');
  return `${date.getDate()} ${MONTHS[date.getMonth()]?.slice(0, 3)} ${date.getFullYear()} ${two(date.getHours())}:${two(date.getMinutes())}`;
}

export function exposureWords({ seconds, fNumber, iso, focalMm }: Exposure): string[] {
  const words: string[] = [];
  if (seconds !== null)
    words.push(seconds < 0.4 ? `1/${Math.round(1 / seconds)} s` : `${Number(seconds.toFixed(1))} s`);
  if (fNumber !== null) words.push(`f/${Number(fNumber.toFixed(1))}`);
  if (iso !== null) words.push(`ISO ${iso}`);
  if (focalMm !== null) words.push(`${Number(focalMm.toFixed(1))} mm`);
  return words;
}

/** `north-west, 315°`; of the compass's north where that is meant. */
export function directionWords({ degrees, magnetic }: Direction): string {
  const names = ['north', 'north-east', 'east', 'south-east', 'south', 'south-west', 'west', 'north-west'];
  return `${names[Math.round(degrees / 45) % 8]}, ${Math.round(degrees)}°${magnetic ? ' magnetic' : ''}`;
}

/** `850 m`, `2.4 km`, `31 km` */
export const awayWords = (metres: number): string =>
  metres < 1000
    ? `${Math.round(metres)} m`
    : `${metres < 10_000 ? (metres / 1000).toFixed(1) : count(Math.round(metres / 1000))} km`;

export function positionWords({ lat, lon }: { lat: number; lon: number }): string {
  const part = (value: number, positive: string, negative: string) => {
    const seconds = Math.round(Math.abs(value) * 3600);
    return `${Math.floor(seconds / 3600)}°${String(Math.floor(seconds / 60) % 60).padStart(2, '0')}′${String(seconds % 60).padStart(2, '0')}″ ${value < 0 ? negative : positive}`;
  };
  return `${part(lat, 'N', 'S')} ${part(lon, 'E', 'W')}`;
}
