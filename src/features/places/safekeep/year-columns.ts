// The columns of the picture: years, or spans of years where there are too many to stand side by side.

import { yearsOf } from '@/features/parts/almanac/almanac-years';

/** So many columns can still be told apart at 1280 pixels. */
const COLUMNS = 34;
const SPANS = [1, 2, 5, 10, 20, 50, 100];

/** 0 stands for photos without a date. */
export interface YearColumn {
  from: number;
  to: number;
  /** Years in which nothing was taken, in one narrow column. */
  isGap?: true;
}

/** Years, or spans of them, with the empty ones between; photos without a date at the end. */
export function yearColumns(found: readonly number[]): YearColumn[] {
  const years = found.filter((year) => year > 0);
  const fitting =
    SPANS.map((span) => spansOf(years, span)).find(({ length }) => length <= COLUMNS) ?? spansOf(years, 1000);
  return found.includes(0) ? [...fitting, { from: 0, to: 0 }] : fitting;
}

const spansOf = (years: readonly number[], span: number): YearColumn[] =>
  yearsOf(years.map((year) => Math.floor(year / span))).map((one) =>
    typeof one === 'number'
      ? { from: one * span, to: one * span + span - 1 }
      : { from: one.from * span, to: one.to * span + span - 1, isGap: true },
  );

export function columnLabel({ from, to, isGap }: YearColumn): string {
  if (isGap) return '…';
  if (from === 0 && to === 0) return 'undated';
  return from === to ? String(from) : `${from}–${String(to).slice(-2)}`;
}

/** How a search asks for it. */
export const columnScope = ({ from, to }: YearColumn): string =>
  to === 0 ? 'missing:date' : from === to ? `taken:${from}` : `taken:${from}..${to}`;

/** The values of the years of a column. */
export const inColumn = <T>(values: ReadonlyMap<number, T> | undefined, { from, to }: YearColumn): T[] =>
  values ? [...values].flatMap(([year, value]) => (year >= from && year <= to ? [value] : [])) : [];
