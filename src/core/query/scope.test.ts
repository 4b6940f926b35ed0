import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chosenIn, withChosen } from './facet-terms';
import { pieces } from './lex';
import { parseScope } from './parse-scope';
import { readPlainWords } from './plain-words';
import { type Query, queryOf, termsOf } from './query';
import { rulesOf, textOfRules } from './rules';
import { TERMS } from './terms';
import { daysOfWhen, parseWhen } from './when';
import { queryText, termOf, termText, withTerm, without } from './write-scope';

/** A tree without the tests of its terms, which follow from their words. */
const shape = (query: Query): unknown =>
  query.kind === 'term'
    ? `${query.key ?? ''}${query.key === null ? '' : query.operator}${query.value}`
    : query.kind === 'not'
      ? { not: shape(query.of) }
      : { [query.kind]: query.of.map(shape) };
const read = (text: string) => shape(queryOf(parseScope(text)));
const problems = (text: string) => parseScope(text).problems.map(({ code, text: at, repair }) => [code, at, repair]);

describe('the grammar', () => {
  it.each([
    ['boat slip', { all: ['boat', 'slip'] }],
    ['boat OR slip ferry', { all: [{ any: ['boat', 'slip'] }, 'ferry'] }],
    ['boat OR slip OR quay', { all: [{ any: ['boat', 'slip', 'quay'] }] }],
    ['-boat', { all: [{ not: 'boat' }] }],
    ['NOT boat', { all: [{ not: 'boat' }] }],
    ['NOT -boat', { all: [{ not: { not: 'boat' } }] }],
    ['-(boat slip)', { all: [{ not: { all: ['boat', 'slip'] } }] }],
    ['(boat slip) OR ferry', { all: [{ any: [{ all: ['boat', 'slip'] }, 'ferry'] }] }],
    ['(boat)', { all: ['boat'] }],
    ['((boat OR slip) quay)', { all: [{ all: [{ any: ['boat', 'slip'] }, 'quay'] }] }],
    ['"old slip"', { all: ['old slip'] }],
    ['keyword:"old slip" rating>=3', { all: ['keyword:old slip', 'rating>=3'] }],
    ['iso:<400', { all: ['iso:<400'] }],
    ['IMG(2)', { all: ['IMG(2)'] }],
    ['(IMG(2) x)', { all: [{ all: ['IMG(2)', 'x'] }] }],
    ['or not', { all: ['or', 'not'] }], // only in capitals do they mean something
    ['well-kept -', { all: ['well-kept', '-'] }],
    ['without:caption', { all: ['missing:caption'] }], // as it was called before
    ['sort:name boat', { all: ['boat'] }],
    ['near:62.01,-6.77~5km', { all: ['near:62.01,-6.77~5km'] }],
    ['', { all: [] }],
  ])('%s', (text, tree) => {
    expect(read(text)).toEqual(tree);
    expect(parseScope(text).problems).toEqual([]);
  });

  it.each([
    ['ratng:3', [['unknown-field', 'ratng:3', 'rating:3']]],
    ['http://x.fo', [['unknown-field', 'http://x.fo', '"http://x.fo"']]],
    ['rating:x', [['bad-value', 'rating:x', null]]],
    ['rating:3+', [['bad-value', 'rating:3+', 'rating:3..']]],
    ['taken:2019/7/4', [['bad-value', 'taken:2019/7/4', 'taken:2019-07-04']]],
    ['taken:2019-2021', [['bad-value', 'taken:2019-2021', 'taken:2019..2021']]],
    ['taken:2019-13', [['bad-value', 'taken:2019-13', null]]],
    ['orientation:uprigt', [['bad-value', 'orientation:uprigt', 'orientation:upright']]],
    ['safe>yes', [['no-operator', 'safe>yes', 'safe:yes']]],
    ['camera:', [['bad-value', 'camera:', null]]],
    ['sort:nam', [['bad-value', 'sort:nam', 'sort:name']]],
    ['(boat', [['group-open', '(boat', '(boat)']]],
    ['boat)', []], // the parenthesis is part of the word where none is open
    ['boat )', [['stray-close', ')', '']]],
    ['()', [['group-empty', '()', '']]],
    ['boat OR', [['nothing-after', 'OR', '']]],
    ['OR boat', [['nothing-before', 'OR', '']]],
    ['boat OR OR slip', [['nothing-after', 'OR', '']]],
    ['NOT', [['nothing-after', 'NOT', '']]],
  ])('%s is said to be wrong, with its place and what could be meant', (text, found) => {
    expect(problems(text)).toEqual(found);
  });

  it('what is not understood narrows nothing', () => {
    expect(read('boat rating:x OR slip -nonsense:1')).toEqual({ all: ['boat', 'slip'] });
    expect(read('boat (OR) slip')).toEqual({ all: ['boat', 'slip'] });
  });

  it('a thousand parentheses are refused, not followed', () => {
    const deep = `${'('.repeat(1000)}boat${')'.repeat(1000)} slip`;
    expect(problems(deep).map(([code]) => code)).toContain('too-deep');
    expect(read(deep)).toEqual({ all: ['slip'] });
  });

  it('any text at all is read, soon, and its pieces cover it in order', () => {
    let seen = 0;
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'grapheme', maxLength: 60 }),
          fc
            .array(
              fc.constantFrom('(', ')', '"', '-', ' ', 'OR', 'NOT', 'rating:', '>=', '3', 'boat', ':', '..', 'ð'),
              { maxLength: 25 },
            )
            .map((parts) => parts.join('')),
        ),
        (text) => {
          const { items } = parseScope(text);
          let at = 0;
          for (const piece of pieces(text)) {
            expect(text.slice(at, piece.start).trim()).toBe('');
            expect(piece.end).toBeGreaterThan(piece.start);
            at = piece.end;
          }
          for (const item of items) expect(item.end).toBeLessThanOrEqual(text.length);
          seen += 1;
        },
      ),
      { numRuns: 2000 },
    );
    expect(seen).toBe(2000);
  });
});

/** Trees as the parser makes them: groups of two and more. */
const term = fc.constantFrom(
  'boat',
  '"old slip"',
  'rating:3..',
  'iso<400',
  'keyword="wool fair"',
  'taken:2019',
  '-ferry',
  'has:caption',
  'camera:K4',
);
const tree = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    term,
    fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' ')})`),
    fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' OR ')})`),
    tie('node').map((part) => `-${part}`),
  ),
})).node;

describe('text, tree and rules', () => {
  it('are one: what is written reads as what was read', () => {
    let groups = 0;
    fc.assert(
      fc.property(fc.array(tree, { maxLength: 4 }), (parts) => {
        const text = parts.join(' ');
        const before = parseScope(text);
        expect(before.problems).toEqual([]);
        expect(read(queryText(queryOf(before)))).toEqual(shape(queryOf(before)));
        if (text.includes('(')) groups += 1;
      }),
      { numRuns: 1500 },
    );
    expect(groups).toBeGreaterThan(300);
  });

  it('rules and text go over into each other, as the same conditions', () => {
    /** Without groups of one, and without two minuses. */
    const plain = (query: Query): unknown => {
      if (query.kind === 'term') return shape(query);
      if (query.kind === 'not') return query.of.kind === 'not' ? plain(query.of.of) : { not: plain(query.of) };
      const of = query.of
        .map(plain)
        .flatMap((one) =>
          typeof one === 'object' && one !== null && query.kind in one
            ? ((one as Record<string, unknown[]>)[query.kind] ?? [])
            : [one],
        );
      return of.length === 1 ? of[0] : { [query.kind]: of };
    };
    fc.assert(
      fc.property(fc.array(tree, { minLength: 1, maxLength: 3 }), (parts) => {
        const text = `${parts.join(' ')} sort:-rating`;
        const { rules, sort } = rulesOf(text);
        const again = textOfRules(rules, sort);
        expect(plain(queryOf(parseScope(again)))).toEqual(plain(queryOf(parseScope(text))));
        expect(parseScope(again).sort).toEqual({ by: 'rating', reversed: true });
      }),
      { numRuns: 1500 },
    );
  });
});

describe('a value in quotes', () => {
  it.each([
    ['lens="10"" plate"', { all: ['lens=10" plate'] }],
    ['"say ""slip"" twice"', { all: ['say "slip" twice'] }],
    ['""""', { all: ['"'] }],
    ['"old slip" "boat"', { all: ['old slip', 'boat'] }],
  ])('%s', (text, tree) => {
    expect(read(text)).toEqual(tree);
    expect(read(queryText(queryOf(parseScope(text))))).toEqual(tree);
    expect(problems(text)).toEqual([]);
  });

  it('may be any text, quotation marks and all: what is written reads as it was meant', () => {
    let marks = 0;
    fc.assert(
      fc.property(
        fc
          .string({
            unit: fc.constantFrom('"', '"', ' ', 'a', 'ð', '(', ')', '-', ':', '\\', 'OR'),
            minLength: 1,
            maxLength: 12,
          })
          .filter((value) => value.trim() !== ''),
        (value) => {
          const { any } = chosenIn(withChosen('boat', 'keyword', '=', { any: [value], not: [] }), 'keyword');
          expect(any).toEqual([value]);
          expect(read(`${termText({ key: null, operator: ':', value, quoted: true })} boat`)).toEqual({
            all: [value, 'boat'],
          });
          if (value.includes('"')) marks += 1;
        },
      ),
      { numRuns: 1000 },
    );
    expect(marks).toBeGreaterThan(300);
  });
});

describe('the text changed term by term', () => {
  it('one condition goes or comes, the others stay as they are typed', () => {
    expect(withTerm('boat  taken:2019 OR taken:2020 "old  slip" taken:2018', 'taken', '2021')).toBe(
      'boat  taken:2019 OR taken:2020 "old  slip" taken:2021',
    ); // joined ones are the person's own
    expect(withTerm('(taken:2019) -taken:2020', 'taken', null)).toBe('(taken:2019) -taken:2020');
    expect(withTerm('boat rating>=3', 'rating', '>4')).toBe('boat rating>4');
    expect([termOf('camera:"Norda K4"', 'camera'), termOf('-camera:x', 'camera')]).toEqual(['Norda K4', null]);
    expect(without('boat slip quay', { start: 5, end: 9 })).toBe('boat quay');
  });

  it('a facet asks for any of its values, leaves others out, and does not touch what it is mixed with', () => {
    const text = withChosen('boat', 'camera', '=', { any: ['Norda K4', 'K2'], not: ['Phone'] });
    expect(text).toBe('boat camera="Norda K4" OR camera=K2 -camera=Phone');
    expect(chosenIn(text, 'camera')).toEqual({ any: ['Norda K4', 'K2'], not: ['Phone'] });
    expect(withChosen(text, 'camera', '=', { any: [], not: [] })).toBe('boat');
    expect(withChosen('camera=K2 OR ferry', 'camera', '=', { any: ['K4'], not: [] })).toBe(
      'camera=K2 OR ferry camera=K4',
    );
  });
});

describe('dates told from today', () => {
  const span = (text: string, today: number) => {
    const when = parseWhen(text);
    return when && daysOfWhen(when, today);
  };
  it.each([
    ['today', 20261126, { from: 20261126, to: 20261126 }],
    ['yesterday', 20260301, { from: 20260228, to: 20260228 }],
    ['yesterday', 20240301, { from: 20240229, to: 20240229 }],
    ['this-week', 20261126, { from: 20261123, to: 20261129 }], // a Thursday; weeks begin on Monday (ISO 8601)
    ['last-week', 20270103, { from: 20261221, to: 20261227 }], // a Sunday
    ['last-month', 20260105, { from: 20251200, to: 20251299 }],
    ['this-year', 20260105, { from: 20260000, to: 20269999 }],
    ['last-7-days', 20260103, { from: 20251228, to: 20260103 }],
    ['last-july', 20261126, { from: 20260700, to: 20260799 }],
    ['last-july', 20260715, { from: 20250700, to: 20250799 }],
    ['last-december', 20260105, { from: 20251200, to: 20251299 }],
    ['this-july', 20260105, { from: 20260700, to: 20260799 }],
    ['this-day', 20240229, { monthDay: 229 }],
    ['--07-04', 20240229, { monthDay: 704 }],
    ['last-julember', 20240229, null],
    ['last-0-days', 20240229, null],
    ['--13-01', 20240229, null],
  ])('%s on %s', (text, today, expected) => expect(span(text, today)).toEqual(expected));
});

describe('plain words', () => {
  const known = new Set(['ferry', 'boats', 'ferries', 'old', 'slip', 'tripod']);
  const said = (text: string) => readPlainWords(text, (word) => known.has(word.toLowerCase()));
  it.each([
    ['upright frames from the ferry last July with four stars', 'orientation:upright ferry taken:last-july rating:4'],
    [
      'Show me boats or ferries in winter without a caption, by Rói á Skarvagerði',
      'boats OR ferry OR ferries month:12..2 missing:caption creator:"Rói á Skarvagerði"',
    ],
    ['the old slip from 2010 to 2015, at least 3 stars', 'old slip taken:2010..2015 rating:3..'],
    ['raws over the slip at ISO above 800, not rejected', 'kind:raw slip iso>800 -rating:-1'],
    ['panoramas on 4 July 2019', 'kind:panorama taken:2019-07-04'],
    ['mostly blue, fewer than two copies', 'colour:blue copies<2'],
    ['this day in other years', 'taken:this-day'],
    ['before 2010 or since 2020', 'taken:<2010 OR taken:2020..'],
    ['unrated, with keywords, sent to Museum Print', 'rating:0 has:keyword sent:"Museum Print"'],
    ['old slips in 2019', 'old slip taken:2019'],
    ['"old slip" at f/2.8 with 35 mm', '"old slip" f:2.8 focal:35'],
  ])('%s', (text, scope) => {
    expect(said(text).scope).toBe(scope);
    expect(parseScope(scope).problems).toEqual([]);
  });

  it('what no rule reads and no photo has is said, not guessed', () => {
    expect(said('gloomy ferries quickly')).toEqual({
      scope: 'ferry OR ferries',
      read: [{ text: 'ferries', term: 'ferry OR ferries' }],
      notUnderstood: ['gloomy', 'quickly'],
    });
    expect(said('on 31 July')).toMatchObject({ notUnderstood: expect.arrayContaining(['31']) });
  });
});

it('every term reads its own example', () => {
  for (const { key, example } of TERMS)
    if (!example.endsWith('…')) expect(parseScope(example).problems, key).toEqual([]);
  expect(TERMS.filter(({ example }) => !example.endsWith('…')).length).toBeGreaterThan(30);
  expect(new Set(TERMS.map(({ key }) => key)).size).toBe(TERMS.length);
  expect(termsOf(queryOf(parseScope('a OR -(b c)'))).map(({ value }) => value)).toEqual(['a', 'b', 'c']);
});
