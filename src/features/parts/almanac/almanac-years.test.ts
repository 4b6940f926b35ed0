import { describe, expect, it } from 'vitest';
import { parseScope } from '@/core/query/parse-scope';
import { spanOf, rangeText, yearsOf } from './almanac-years';

describe('the years of the almanac', () => {
  it('are all between the first and the last; long ranges without a photo are one narrow column', () => {
    expect(yearsOf([2004, 2006, 2006, 1931])).toEqual([1931, { from: 1932, to: 2003 }, 2004, 2005, 2006]);
    expect(yearsOf([2000, 2004])).toEqual([2000, 2001, 2002, 2003, 2004]); // three years are not folded
    expect(yearsOf([])).toEqual([]);
  });
});

describe('a drawn range', () => {
  it.each([
    [20190700, 20200200, '2019-07..2020-02'],
    [20200200, 20190700, '2019-07..2020-02'],
    [20190700, 20190800, '2019-07..2019-08'],
    [20190100, 20191200, '2019'],
    [20190100, 20211200, '2019..2021'],
  ])('from %s to %s is %s, and means just that', (a, b, text) => {
    const span = spanOf(a, b);
    expect(rangeText(span)).toBe(text);
    const query = parseScope(`taken:${text}`).items[0]?.query;
    const read = query?.kind === 'term' && query.test.kind === 'taken' ? query.test.span : null;
    expect(read !== null && Math.floor(read.from / 100) <= Math.floor(span.from / 100) && read.to >= span.to).toBe(
      true,
    );
  });
});
