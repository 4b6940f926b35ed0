import { describe, expect, it } from 'vitest';
import { parseScope } from '@/core/query/parse-scope';
import { queryOf } from '@/core/query/query';
import { scopeProblemWords, queryWords, unheardWords } from './scope';

describe('a scope in words', () => {
  it.each([
    ['boat "old slip"', '“boat” and the words “old slip”'],
    ['boat OR ferry keyword=wool', '(“boat” or “ferry”) and Keywords is “wool”'],
    ['-camera:"Norda K4"', 'not Camera has “Norda K4”'],
    ['-(boat slip)', 'not (“boat” and “slip”)'],
    [
      'rating>=3 iso<400 f:2.8..4 focal:..35 taken:2019..',
      'Rating: at least 3 and ISO: below 400 and Aperture: 2.8 to 4 and Focal length: up to 35 and Date taken: 2019 and up',
    ],
    ['missing:caption', 'Nothing stands in: caption'],
  ])('%s', (scope, words) => expect(queryWords(queryOf(parseScope(scope)))).toBe(words));

  it.each([
    ['ratng:3', '“ratng” is no field'],
    ['rating:x', '“rating:x” has no value that can be understood'],
    ['camera:', '“camera:” waits for its value'],
    ['safe>yes', '“safe>yes” cannot be compared so'],
    ['(boat', 'A parenthesis is not closed'],
    ['()', 'There is nothing between the parentheses'],
    ['boat )', 'A closing parenthesis has no opening one'],
    ['boat OR', 'Nothing stands behind OR'],
    ['OR boat', 'Nothing stands before OR'],
    [`${'('.repeat(40)}boat`, 'More parentheses within each other than can be read'],
  ])('what is wrong with %s', (scope, words) =>
    expect(parseScope(scope).problems.map(scopeProblemWords)).toContain(words),
  );

  it('words nobody has', () => {
    expect([
      unheardWords({ start: 0, end: 1, word: 'fery', meant: { text: 'ferry', count: 2 } }),
      unheardWords({ start: 0, end: 1, word: 'xyz', meant: null }),
    ]).toEqual(['No photo has “fery”', 'No photo has “xyz”, nor a word like it']);
  });
});
