// Which years the almanac has columns for, and ranges of months as the scope writes them. Day numbers: 20190700 is
// July 2019.

export interface MonthSpan {
  from: number;
  to: number;
}

export interface YearGap {
  from: number;
  to: number;
}

/** So many years without a photo are folded into one narrow column, which says so. */
const FOLDED_YEARS = 4;

export function yearsOf(found: readonly number[]): (number | YearGap)[] {
  const years = [...new Set(found)].sort((a, b) => a - b);
  return years.flatMap((year, index) => {
    const before = years[index - 1] ?? year - 1;
    const between = year - before - 1;
    if (between >= FOLDED_YEARS) return [{ from: before + 1, to: year - 1 }, year];
    return [...Array.from({ length: between }, (_, step) => before + 1 + step), year];
  });
}

/** From the month drawn first to the one drawn last, either way. */
export const spanOf = (a: number, b: number): MonthSpan => ({ from: Math.min(a, b), to: Math.max(a, b) + 99 });

const monthText = (day: number): string =>
  `${Math.floor(day / 10_000)}-${String(Math.floor(day / 100) % 100).padStart(2, '0')}`;

/** `2019-07..2020-02`; whole years without their months. */
export function rangeText({ from, to }: MonthSpan): string {
  const wholeYears = Math.floor(from / 100) % 100 === 1 && Math.floor(to / 100) % 100 === 12;
  const text = wholeYears ? (day: number) => String(Math.floor(day / 10_000)) : monthText;
  return text(from) === text(to) ? text(from) : `${text(from)}..${text(to)}`;
}
