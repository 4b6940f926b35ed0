import { describe, expect, it } from 'vitest';
import { searchRecord as record } from '../../../tests/fixtures/records';
import { SearchIndex } from '../search/search-index';
import { compared, comparingsOf, comparisonOf, ruleOf } from './comparisons';
import { type Rule, ruleText, rulesOf } from './rules';

const ruleIn = (text: string): Rule => {
  const [rule] = rulesOf(text).rules.of;
  if (rule?.kind !== 'rule') throw new Error(text);
  return rule;
};
const shown = (text: string) => {
  const { key, how, not, values } = comparisonOf(ruleIn(text));
  return [key, `${not ? 'not ' : ''}${how}`, ...values];
};

describe('a rule as a comparison', () => {
  it.each([
    ['rating:3', ['rating', 'is', '3']],
    ['rating:3..5', ['rating', 'between', '3', '5']],
    ['rating:3..', ['rating', 'at-least', '3']],
    ['-rating:..0', ['rating', 'not at-most', '0']],
    ['iso>=1600', ['iso', 'at-least', '1600']],
    ['taken:2016-05..2018', ['taken', 'between', '2016-05', '2018']],
    ['taken:last-july', ['taken', 'is', 'last-july']],
    ['caption:slip', ['caption', 'has', 'slip']],
    ['-caption=slip', ['caption', 'not is', 'slip']],
    ['missing:caption', ['caption', 'missing']],
    ['-missing:caption', ['caption', 'not missing']],
    ['has:caption', ['caption', 'not missing']],
    ['safe:yes', ['safe', 'is', 'yes']],
    ['boat', [null, 'has', 'boat']],
  ])('%s', (text, expected) => {
    expect(shown(text).map((part) => part)).toEqual(expected);
  });

  it('finds the same when it is written again', () => {
    const index = new SearchIndex();
    const fields = (at: number) => ({
      ...(at % 2 === 0 && { caption: 'old slip' }),
      ...(at % 3 !== 0 && { rating: at % 7 }),
    });
    for (let at = 0; at < 60; at++)
      index.put(
        record(`p${at}`, {
          day: 20100101 + (at % 12) * 10_000,
          format: at % 5 === 0 ? 'tiff' : 'jpeg',
          fields: fields(at),
        }),
      );
    for (const text of [
      'rating:3',
      'rating:3..5',
      'rating:3..',
      'rating:..2',
      '-rating:..0',
      '-rating:1..2',
      'rating>2',
      '-rating<3',
      'taken:2012..2014',
      '-taken:..2015',
      'taken:2016..',
      'caption:slip',
      '-caption:slip',
      'caption="old slip"',
      'missing:caption',
      '-has:caption',
      'has:caption',
      '-missing:caption',
      'format:tiff',
      '-format:tiff',
      'slip',
    ]) {
      const rule = ruleIn(text);
      const again = ruleText(ruleOf(comparisonOf(rule), rule.quoted));
      expect([text, index.count(again)]).toEqual([text, index.count(text)]);
      expect(index.count(text)).toBeGreaterThan(0);
    }
  });

  it('offers what a term can be held against; a range half filled in is no condition yet', () => {
    expect(comparingsOf('rating')).toContain('between');
    expect(comparingsOf('caption')).toEqual(['has', 'is', 'missing']);
    expect(comparingsOf('safe')).toEqual(['is']);
    expect(comparingsOf(null)).toEqual(['has']);
    const half = compared(comparisonOf(ruleIn('rating:3')), 'rating', 'between', false);
    expect(half.values).toEqual(['3', '']);
    expect(ruleText(ruleOf(half, false))).toBe('');
    expect(ruleText(ruleOf({ ...half, values: ['3', '5'] }, false))).toBe('rating:3..5');
    // another field keeps no value of the one before
    expect(compared(half, 'iso', 'is', false).values).toEqual(['']);
  });
});
