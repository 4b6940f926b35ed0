import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { colouredParts } from './coloured-parts';

const coloured = (text: string) =>
  colouredParts(text)
    .filter(({ as }) => as !== 'plain')
    .map(({ text: part, as }) => [part, as]);

describe('what the line colours', () => {
  it.each([
    [
      'boat rating>=3',
      [
        ['rating>=', 'field'],
        ['3', 'value'],
      ],
    ],
    [
      '-("old slip" OR keyword=x)',
      [
        ['-', 'sign'],
        ['(', 'sign'],
        ['"old slip"', 'value'],
        ['OR', 'sign'],
        ['keyword=', 'field'],
        ['x', 'value'],
        [')', 'sign'],
      ],
    ],
    ['ratng:3 boat', [['ratng:3', 'problem']]],
    ['boat OR', [['OR', 'problem']]],
    ['sort:nam', [['sort:nam', 'problem']]],
    ['(boat', [['(', 'sign']]], // said below the line; colouring all that follows would help nobody
  ])('%s', (text, parts) => expect(coloured(text)).toEqual(parts));

  it('put together again, the parts are the text, letter by letter', () => {
    let parts = 0;
    fc.assert(
      fc.property(
        fc
          .array(fc.constantFrom('boat', ' ', '  ', '(', ')', '"', 'OR', '-', 'rating:', '3', 'ratng:x', 'ð', '\t'), {
            maxLength: 30,
          })
          .map((words) => words.join('')),
        (text) => {
          const found = colouredParts(text);
          expect(found.map((part) => part.text).join('')).toBe(text);
          parts += found.length;
        },
      ),
      { numRuns: 500 },
    );
    expect(parts).toBeGreaterThan(300);
  });
});
