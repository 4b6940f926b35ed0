import { expect, it } from 'vitest';
import { columnLabel, columnScope, inColumn, yearColumns } from './year-columns';

const labels = (years: number[]) => yearColumns(years).map(columnLabel);

it('every year has a column, an empty one too, and photos without a date come last', () => {
  expect(labels([2006, 0, 2004])).toEqual(['2004', '2005', '2006', 'undated']);
  expect(labels([])).toEqual([]);
  expect(labels([0])).toEqual(['undated']);
});

it('many years stand in spans that begin at a round year', () => {
  expect(labels([1987, 2026])).toEqual(
    Array.from({ length: 21 }, (_, at) => `${1986 + 2 * at}–${String(1987 + 2 * at).slice(-2)}`),
  );
  expect(labels([1890, 2026]).slice(0, 3)).toEqual(['1890–99', '1900–09', '1910–19']);
});

it('each is a search, and gathers its years', () => {
  expect(
    yearColumns([1890, 2026, 0])
      .map(columnScope)
      .filter((_, at) => at % 13 === 0),
  ).toEqual(['taken:1890..1899', 'taken:2020..2029']);
  expect(yearColumns([2004, 0]).map(columnScope)).toEqual(['taken:2004', 'missing:date']);
  expect(
    inColumn(
      new Map([
        [2003, 'a'],
        [2004, 'b'],
        [2005, 'c'],
        [0, 'd'],
      ]),
      { from: 2004, to: 2005 },
    ),
  ).toEqual(['b', 'c']);
  expect(inColumn(undefined, { from: 1, to: 2 })).toEqual([]);
});
