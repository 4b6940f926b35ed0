import { describe, expect, it } from 'vitest';
import { blankAfter, blanksIn, hasOpenBlank } from './blanks';
import { fillIn, filledIn, hasFillIn, unknownFillIns } from './fill-ins';
import { type ShorthandList, indexShorthand, offerAt, readShorthand, shorthandConflicts } from './shorthand';

describe('blanks', () => {
  const text = 'At Gjógv, [?who] is [?does what] near [a boat].';
  it('are found with their hints and places, one after the other and round again', () => {
    expect(blanksIn(text).map(({ hint }) => hint)).toEqual(['who', 'does what']);
    const first = blankAfter(text, 0);
    expect(first && text.slice(first.start, first.end)).toBe('[?who]');
    expect(blankAfter(text, 12)?.hint).toBe('does what');
    expect(blankAfter(text, 40)?.hint).toBe('who');
    expect(blankAfter('nothing [?open', 0)).toBeNull();
  });
  it('are open in a headline as in a caption', () => {
    expect([hasOpenBlank({ headline: 'x [?y]' }), hasOpenBlank({ caption: 'x [y]' }), hasOpenBlank({})]).toEqual([
      true,
      false,
      false,
    ]);
  });
});

describe('fill-ins', () => {
  const facts = {
    path: 'survey/2026/NK4_2032.jpg',
    fields: {
      captured: '2026-08-30T10:05:00+01:00',
      city: 'Gjógv',
      country: 'Faroe Islands',
      creator: ['R. Joensen'],
      identifier: ['2026.014.0007'],
      headline: 'The slip',
    },
  };
  it('stand for what the photo says, by the name of any field', () => {
    expect(
      fillIn('© [=year] [=creator]. [=headline], [=place], [=date] [=time]. [=file], no. [=accession]', facts),
    ).toBe('© 2026 R. Joensen. The slip, Gjógv, Faroe Islands, 30 August 2026 10:05. NK4_2032.jpg, no. 2026.014.0007');
  });
  it('become a blank where the photo says nothing, and stay where the name means nothing', () => {
    expect(fillIn('[=Province], [=weather]', facts)).toBe('[?province], [=weather]');
    expect(unknownFillIns('[=Province], [=weather]')).toEqual(['weather']);
  });
  it('of a date that is known in part say that part', () => {
    expect(
      ['2026-08', '1968', undefined].map((captured) =>
        fillIn('[=date]', { path: '', fields: captured ? { captured } : {} }),
      ),
    ).toEqual(['August 2026', '1968', '[?date]']);
  });
  it('are filled in lists too, and nothing that was filled in is looked at again', () => {
    expect(filledIn(['boats', '[=city]', 'Gjógv'], facts)).toEqual(['boats', 'Gjógv']);
    expect(fillIn('[=headline]', { path: '', fields: { headline: '[=caption]' } })).toBe('[=caption]');
    expect([
      hasFillIn('[=x]'),
      hasFillIn(['a', '[=b]']),
      hasFillIn('[?x]'),
      hasFillIn(4),
      hasFillIn(undefined),
    ]).toEqual([true, true, false, false, false]);
  });
});

describe('shorthand', () => {
  const list = (name: string, active: boolean, ...entries: [string, ...string[]][]): ShorthandList => ({
    id: name,
    name,
    active,
    updatedAt: 1,
    deleted: false,
    entries: entries.map(([code, ...expansions]) => ({ code, expansions })),
  });
  const lists = [
    list(
      'Crew',
      true,
      ['jp', 'Jákup á Tokunesi', 'Jákup á Tokunesi, skipper of the Kvirrulýsið'],
      ['sól', 'Sólja við Slippin'],
    ),
    list('Places', true, ['JP', 'Jansagerði pier'], ['gj', 'Gjógv']),
    list('Old', false, ['xx', 'never']),
  ];
  const index = indexShorthand(lists);
  const offered = (text: string, cursor = text.length) =>
    offerAt(text, cursor, index)?.expansions.map((one) => one.text) ?? null;

  it('is offered for a code that stands as a word of its own right before the cursor', () => {
    expect(offered('The skipper jp')).toEqual([
      'Jákup á Tokunesi',
      'Jákup á Tokunesi, skipper of the Kvirrulýsið',
      'Jansagerði pier',
    ]);
    expect(offered('gj')).toEqual(['Gjógv']);
    expect(offered('(gj, at dawn', 3)).toEqual(['Gjógv']);
    expect(offered('with so\u0301l')).toEqual(['Sólja við Slippin']);
  });
  it('is never offered inside a word, behind a blank, or from a list that is put away', () => {
    for (const text of ['agj', 'gj ', 'gj,', 'x-gj', 'gj\n', 'xx', '', 'sol', `${'a'.repeat(40)}gj`])
      expect(offered(text), text).toBeNull();
    expect(offered('gjá', 2)).toBeNull();
    expect(offered('gj-bay', 2)).toBeNull();
  });
  it('of two lists that differ both are said', () => {
    expect(shorthandConflicts(lists).map(({ code }) => code)).toEqual(['jp']);
  });
  it('is read from rows; what is no code is named with its row', () => {
    expect(
      readShorthand([
        ['jp', 'Jákup á Tokunesi', ''],
        ['', ''],
        ['two words', 'x'],
        ['', 'x'],
        ['kd'],
        ['JP', 'Jákup P.'],
        ['q'.repeat(30), 'x'],
      ]),
    ).toEqual({
      entries: [{ code: 'JP', expansions: ['Jákup á Tokunesi', 'Jákup P.'] }],
      refused: [
        { row: 3, code: 'two words', why: 'not-one-word' },
        { row: 4, code: '', why: 'no-code' },
        { row: 5, code: 'kd', why: 'no-expansion' },
        { row: 7, code: 'q'.repeat(30), why: 'too-long' },
      ],
    });
  });
});
