// The columns of the picture: years, or spans of years where there are too many to stand side by side.

/** So many columns can still be told apart at 1280 pixels. */
const COLUMNS = 26;
const SPANS = [1, 2, 5, 10, 20, 50];

/** 0 stands for photos without a date. */
export interface YearColumn {
  from: number;
  to: number;
}

/** Every year from the first to the last, empty ones too, or spans of them; photos without a date at the end. */
export function yearColumns(found: readonly number[]): YearColumn[] {
  const years = found.filter((year) => year > 0);
  const columns: YearColumn[] = [];
  if (years.length > 0) {
    const [first, last] = [Math.min(...years), Math.max(...years)];
    const begin = (span: number) => Math.floor(first / span) * span;
    const span = SPANS.find((one) => (last - begin(one) + 1) / one <= COLUMNS) ?? 100;
    for (let from = begin(span); from <= last; from += span) columns.push({ from, to: from + span - 1 });
  }
  if (found.includes(0)) columns.push({ from: 0, to: 0 });
  return columns;
}

export const columnLabel = ({ from, to }: YearColumn): string =>
  from === 0 ? 'undated' : from === to ? String(from) : `${from}–${String(to).slice(-2)}`;

/** How a search asks for it. */
export const columnScope = ({ from, to }: YearColumn): string =>
  from === 0 ? 'missing:date' : from === to ? `taken:${from}` : `taken:${from}..${to}`;

/** The values of the years of a column. */
export const inColumn = <T>(values: ReadonlyMap<number, T> | undefined, { from, to }: YearColumn): T[] =>
  values ? [...values].flatMap(([year, value]) => (year >= from && year <= to ? [value] : [])) : [];
