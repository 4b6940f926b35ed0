import { expect, it } from 'vitest';
import { columnLabel, columnScope, inColumn, yearColumns } from './year-columns';

const labels = (years: number[]) => yearColumns(years).map(columnLabel);
const range = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, at) => from + at);

it('every year has a column, an empty one too, and photos without a date come last', () => {
  expect(labels([2006, 0, 2004])).toEqual(['2004', '2005', '2006', 'undated']);
  expect(labels([])).toEqual([]);
  expect(labels([0])).toEqual(['undated']);
});

it('many empty years are one narrow column', () => {
  expect(labels([1934, 2004, 2005])).toEqual(['1934', '…', '2004', '2005']);
  expect(labels([1934, 1938, ...range(2004, 2026)])).toHaveLength(29);
});

it('many years stand in spans that begin at a round year', () => {
  expect(labels(range(1987, 2026)).slice(0, 2)).toEqual(['1986–87', '1988–89']);
  expect(labels(range(1890, 2026)).slice(0, 2)).toEqual(['1890–94', '1895–99']);
  expect(labels(range(1, 2026)).length).toBeLessThanOrEqual(34);
});

it('each is a search, and gathers its years', () => {
  expect(yearColumns(range(1890, 2026)).map(columnScope)[0]).toBe('taken:1890..1894');
  expect(yearColumns([2004, 0]).map(columnScope)).toEqual(['taken:2004', 'missing:date']);
  const values = new Map([2003, 2004, 2005, 0].map((year) => [year, `of ${year}`]));
  expect(inColumn(values, { from: 2004, to: 2005 })).toEqual(['of 2004', 'of 2005']);
  expect(inColumn(undefined, { from: 1, to: 2 })).toEqual([]);
});
