// Dates as a scope writes them: `2019`, `2019-07`, `2019-07-04`, ranges of them, and dates told from today. Day numbers
// are 20190704; a month or day that is not known is 00, so that a photo of "1968" lies in 1968 and in no month of it.

import { isoOfSeconds, secondsOfIso } from '../time/civil';

export interface DaySpan {
  from: number;
  to: number;
}

const MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
];

/** A date told from today; `this-day` is the day and month of today in every year. */
export type When =
  | { kind: 'days'; count: number }
  | { kind: 'unit'; unit: 'day' | 'week' | 'month' | 'year'; back: number }
  | { kind: 'month'; month: number; back: number }
  | { kind: 'day-of-year'; monthDay: number | null };

const UNITS: Record<string, When> = {
  today: { kind: 'unit', unit: 'day', back: 0 },
  yesterday: { kind: 'unit', unit: 'day', back: 1 },
  'this-week': { kind: 'unit', unit: 'week', back: 0 },
  'last-week': { kind: 'unit', unit: 'week', back: 1 },
  'this-month': { kind: 'unit', unit: 'month', back: 0 },
  'last-month': { kind: 'unit', unit: 'month', back: 1 },
  'this-year': { kind: 'unit', unit: 'year', back: 0 },
  'last-year': { kind: 'unit', unit: 'year', back: 1 },
  'this-day': { kind: 'day-of-year', monthDay: null },
};

/** The words for dates told from today, for completion. */
export const WHEN_WORDS: readonly string[] = [
  ...Object.keys(UNITS),
  'last-7-days',
  'last-30-days',
  '10-years-ago',
  ...MONTHS.map((month) => `last-${month}`),
  ...MONTHS.map((month) => `this-${month}`),
];

/**
 * `today`, `last-month`, `last-30-days`, `10-years-ago`, `last-july` (the July before the present or coming one), `this-july` (that of
 * this year), `this-day` (today's day and month in every year), `--07-04` (the fourth of July of every year, as in ISO
 * 8601:2000).
 */
export function parseWhen(text: string): When | null {
  const word = text.toLowerCase();
  const unit = Object.hasOwn(UNITS, word) ? UNITS[word] : undefined;
  if (unit) return unit;
  const days = /^last-(\d{1,5})-days$/.exec(word);
  if (days) return Number(days[1]) > 0 ? { kind: 'days', count: Number(days[1]) } : null;
  const ago = /^(\d{1,3})-years?-ago$/.exec(word);
  if (ago) return Number(ago[1]) > 0 ? { kind: 'unit', unit: 'year', back: Number(ago[1]) } : null;
  const ofYear = /^--(\d{2})-(\d{2})$/.exec(word);
  if (ofYear)
    return Number(ofYear[1]) >= 1 && Number(ofYear[1]) <= 12 && Number(ofYear[2]) >= 1 && Number(ofYear[2]) <= 31
      ? { kind: 'day-of-year', monthDay: Number(ofYear[1]) * 100 + Number(ofYear[2]) }
      : null;
  const named = /^(last|this)-([a-z]+)$/.exec(word);
  const month = MONTHS.indexOf(named?.[2] ?? '');
  return named && month >= 0 ? { kind: 'month', month: month + 1, back: named[1] === 'last' ? 1 : 0 } : null;
}

/** The days meant, when today is this day number; `monthDay` where it is a day of every year. */
export function daysOfWhen(when: When, today: number): DaySpan | { monthDay: number } {
  const [year, month] = [Math.floor(today / 10_000), Math.floor(today / 100) % 100];
  switch (when.kind) {
    case 'day-of-year':
      return { monthDay: when.monthDay ?? today % 10_000 };
    case 'days':
      return { from: dayBefore(today, when.count - 1), to: today };
    case 'month': {
      // in July, "last July" is that of the year before; in November it is this year's
      const its = when.back === 0 || when.month < month ? year : year - 1;
      return { from: its * 10_000 + when.month * 100, to: its * 10_000 + when.month * 100 + 99 };
    }
    case 'unit':
      if (when.unit === 'day') return { from: dayBefore(today, when.back), to: dayBefore(today, when.back) };
      if (when.unit === 'year') return { from: (year - when.back) * 10_000, to: (year - when.back) * 10_000 + 9999 };
      if (when.unit === 'month') {
        const first = month - when.back < 1 ? (year - 1) * 10_000 + 1200 : today - (today % 100) - when.back * 100;
        return { from: first, to: first + 99 };
      }
      return weekOf(today, when.back);
  }
}

const secondsOf = (day: number): number =>
  secondsOfIso(
    `${String(Math.floor(day / 10_000)).padStart(4, '0')}-${String(Math.floor(day / 100) % 100).padStart(2, '0')}-${String(day % 100).padStart(2, '0')}T00:00:00`,
  );
const DAY_SECONDS = 86_400;
const numberOf = (seconds: number): number => Number(isoOfSeconds(seconds).slice(0, 10).replaceAll('-', ''));
const dayBefore = (day: number, days: number): number => numberOf(secondsOf(day) - days * DAY_SECONDS);

/** Weeks begin on Monday (ISO 8601). */
function weekOf(today: number, back: number): DaySpan {
  const weekday = (((Math.floor(secondsOf(today) / DAY_SECONDS) + 3) % 7) + 7) % 7; // 1970-01-01 was a Thursday
  const monday = dayBefore(today, weekday + 7 * back);
  return { from: monday, to: dayBefore(monday, -6) };
}

/** `2019`, `2019-07` or `2019-07-04` as the day numbers it covers, partial dates included. */
export function daysOfDate(text: string): DaySpan | null {
  const found = /^(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?$/.exec(text);
  if (!found) return null;
  const [, year, month, day] = found;
  if (
    (month !== undefined && (Number(month) < 1 || Number(month) > 12)) ||
    (day !== undefined && (Number(day) < 1 || Number(day) > 31))
  )
    return null;
  const from = Number(year) * 10_000 + Number(month ?? 0) * 100 + Number(day ?? 0);
  return { from, to: day ? from : month ? from + 99 : from + 9999 };
}
