// The picture of the years and the habits, against counting by hand.

import { describe, expect, it } from 'vitest';
import { searchRecord as record } from '../../../tests/fixtures/records';
import type { SearchRecord } from './search-record';
import { SearchIndex } from './search-index';

type Given = Partial<Omit<SearchRecord, 'shot'>> & { shot?: Partial<SearchRecord['shot']> };
const photo = (id: string, { shot, ...more }: Given = {}): SearchRecord => {
  const plain = record(id, more);
  return { ...plain, shot: { ...plain.shot, ...shot } };
};
function indexOf(...records: SearchRecord[]): SearchIndex {
  const index = new SearchIndex();
  for (const one of records) index.put(one);
  return index;
}

describe('the years', () => {
  const index = indexOf(
    photo('a', { day: 20190704, camera: 'Norda K4' }),
    photo('b', { day: 20190705, camera: 'norda k4' }),
    photo('c', { day: 20190000, camera: 'Holm 2' }),
    photo('d', { day: 20220101, camera: 'Norda K4' }),
    photo('e', { day: 20220101, camera: '' }),
    photo('f', { day: 0, camera: 'Norda K4' }),
  );

  it('are all there between the first and the last, empty ones too; what has no date is counted apart', () => {
    const { years, undated, series } = index.years('', null, 5);
    expect(years.map(({ year, photos }) => [year, photos])).toEqual([
      [2019, 3],
      [2020, 0],
      [2021, 0],
      [2022, 2],
    ]);
    expect([undated, series]).toEqual([1, []]);
  });

  it('divide by camera, the most used first, one series for all spellings; the rest is told', () => {
    const { years, series } = index.years('', 'camera', 1);
    expect(series).toEqual(['Norda K4']);
    expect(years.map(({ parts, rest }) => [parts, rest])).toEqual([
      [[2], 1],
      [[0], 0],
      [[0], 0],
      [[1], 1],
    ]);
    expect(index.years('', 'camera', 5).series).toEqual(['Norda K4', 'Holm 2']);
  });

  it('are those of the scope', () => {
    expect(index.years('taken:2022', 'camera', 5).years.map(({ year }) => year)).toEqual([2022]);
    expect(index.years('taken:1931', 'camera', 5)).toEqual({ series: [], years: [], undated: 0 });
  });

  it('told from today: ten years ago is that year', () => {
    index.knowTime(20291231, Date.UTC(2029, 11, 31));
    expect([
      index.count('taken:10-years-ago'),
      index.count('taken:7-years-ago'),
      index.count('taken:1-year-ago'),
    ]).toEqual([3, 2, 0]);
  });
});

describe('habits', () => {
  const taken = (id: string, shot: Given['shot'], more: Given = {}) =>
    photo(id, { day: 20190704, second: 7 * 3600 + 5, shot: { at: 1_562_223_605, ...shot }, ...more });
  const index = indexOf(
    taken('a', { focalMm: 35, fNumber: 3.9, iso: 100 }),
    taken('b', { focalMm: 49.9, fNumber: 4.5, iso: 160 }),
    taken('c', { focalMm: 50, fNumber: 5.6, iso: 25_600 }, { second: 23 * 3600 + 3599.9 }),
    taken('d', {}, { fields: { identifier: ['2026.001.0001'], rating: 3 } }),
    taken('e', {}, { fields: { identifier: ['2026.001.0002'], rating: -1 } }),
    taken('f', {}, { fields: { identifier: ['2025.012.0001'] } }),
    photo('g', { day: 20190000, second: 0, shot: { at: null } }),
  );

  it('bins have their lower edge in them, and nothing empty at the ends', () => {
    const { focal, apertures, iso } = index.habits('');
    expect(focal).toEqual([
      { from: 35, to: 50, photos: 2 },
      { from: 50, to: 70, photos: 1 },
    ]);
    // f/3.9 and f/4.5 are nearest to f/4, f/5.6 to itself
    expect(apertures.map(({ photos }) => photos)).toEqual([2, 1]);
    expect(apertures[0]?.from).toBeCloseTo(3.36, 2);
    // 100, and 160 which is nearer to 200 by factors; nothing between, and 25600
    expect(iso.filter(({ photos }) => photos > 0).map(({ from, photos }) => [Math.round(from), photos])).toEqual([
      [71, 1],
      [141, 1],
      [18_102, 1],
    ]);
  });

  it('hours are of the camera’s clock; what has a day alone has none', () => {
    const { hours } = index.habits('');
    expect([hours[7], hours[23], hours.reduce((sum, photos) => sum + photos, 0)]).toEqual([5, 1, 6]);
  });

  it('tell what was kept of each shoot, in the order of their numbers', () => {
    expect(index.habits('').shoots).toEqual([
      { accession: '2025.012', photos: 1, kept: 0, rejected: 0, unrated: 1 },
      { accession: '2026.001', photos: 2, kept: 1, rejected: 1, unrated: 0 },
    ]);
  });

  it('of nothing there are none', () => {
    expect(index.habits('taken:1931')).toMatchObject({ focal: [], apertures: [], iso: [], shoots: [] });
  });
});
