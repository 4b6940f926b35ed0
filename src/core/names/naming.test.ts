import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foldName, joinedPath } from './file-names';
import { type NameGroup, giveNames } from './naming';
import { type NameFacts, type Pattern, fillFolder, fillName } from './pattern';

const facts = (some: Partial<NameFacts> = {}): NameFacts => ({
  captured: { written: '2026-08-30T08:14:02', offset: null },
  oldBase: 'NK4_9966',
  camera: 'Norda K4',
  accession: '2026.001',
  photoNumber: '2026.001.0001',
  blanks: { kind: '', client: 'Hav & Land', subject: 'Gjógv' },
  source: 'Card HS-7',
  role: 'originals',
  ...some,
});
const group = (folder: string | null, some: Partial<NameFacts> = {}): NameGroup => ({ facts: facts(some), folder });
const COUNTED: Pattern = [
  { kind: 'blank', of: 'subject' },
  { kind: 'text', text: '_' },
  { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
];

describe('what a pattern gives', () => {
  it.each([
    [[{ kind: 'date', form: 'YYYY-MM-DD hhmmss' }], '2026-08-30 081402'],
    [[{ kind: 'date', form: 'YYMMDD' }, { kind: 'text', text: '_' }, { kind: 'camera-number' }], '260830_9966'],
    [[{ kind: 'date', form: 'DD Month YYYY' }], '30 August 2026'],
    [[{ kind: 'photo-number' }], '2026.001.0001'],
    [
      [
        { kind: 'accession' },
        { kind: 'text', text: ' ' },
        { kind: 'camera' },
        { kind: 'text', text: ' ' },
        { kind: 'old-name' },
      ],
      '2026.001 Norda K4 NK4_9966',
    ],
    [[{ kind: 'blank', of: 'client' }, { kind: 'text', text: '/' }, { kind: 'source' }], 'Hav & Land-Card HS-7'],
    [[{ kind: 'blank', of: 'kind' }], ''],
  ] as [Pattern, string][])('%j', (pattern, name) => expect(fillName(pattern, facts(), 1)).toBe(name));

  it('a part that gives nothing takes the separator behind it along', () => {
    const pattern: Pattern = [
      { kind: 'date', form: 'YYYY' },
      { kind: 'text', text: '_' },
      { kind: 'blank', of: 'kind' },
      { kind: 'text', text: '_' },
      { kind: 'sequence', start: 1, digits: 3, over: 'day' },
    ];
    expect(fillName(pattern, facts(), 7)).toBe('2026_007');
    expect(
      fillName(
        pattern.map((part) => (part.kind === 'text' ? { ...part, text: ' at ' } : part)),
        facts(),
        7,
      ),
    ).toBe('2026 at at 007'); // words are no separator
  });

  it('folders by level; a level of which nothing is left is left out', () => {
    const pattern: Pattern = [
      { kind: 'blank', of: 'kind' },
      { kind: 'level' },
      { kind: 'blank', of: 'client' },
      { kind: 'level' },
      { kind: 'date', form: 'YYYY' },
      { kind: 'level' },
      { kind: 'date', form: 'YYYY-MM-DD' },
      { kind: 'level' },
      { kind: 'role' },
    ];
    expect(fillFolder(pattern, facts())).toBe('Hav & Land/2026/2026-08-30/originals');
    expect(
      fillFolder([{ kind: 'text', text: '../..' }, { kind: 'level' }, { kind: 'text', text: 'a/b' }], facts()),
    ).toBe('a-b');
  });

  it('a date known in part has zeros, none is undated', () => {
    expect(
      fillName([{ kind: 'date', form: 'YYYY-MM-DD' }], facts({ captured: { written: '1968-07', offset: null } }), 0),
    ).toBe('1968-07-00');
    expect(fillName([{ kind: 'date', form: 'YYYY-MM-DD' }], facts({ captured: null }), 0)).toBe('undated');
  });
});

describe('giving names', () => {
  it('counts over the folder, the day or the accession', () => {
    const groups = [group('a'), group('a', { captured: { written: '2026-08-31', offset: null } }), group('b')];
    const bases = (over: 'folder' | 'day' | 'accession') =>
      giveNames(groups, {
        folder: null,
        names: [{ kind: 'sequence', start: 1, digits: 3, over }],
        taken: new Set(),
      }).map(({ base }) => base);
    expect(bases('folder')).toEqual(['001', '002', '001']);
    expect(bases('day')).toEqual(['001', '002', '002']); // the second begins its day at 1, which its folder has already
    expect(bases('accession')).toEqual(['001', '002', '003']);
  });

  it('passes over numbers that are taken, whatever their case and spelling', () => {
    const taken = new Set(['a/gjógv_0001', 'a/gjógv_0003'].map(foldName));
    expect(
      giveNames([group('a'), group('a')], { folder: null, names: COUNTED, taken }).map(({ base, remarks }) => [
        base,
        remarks,
      ]),
    ).toEqual([
      ['Gjógv_0002', []],
      ['Gjógv_0004', []],
    ]);
  });

  it('without a number, a taken name gets one and the plan says so: two cards with the same numbers', () => {
    const given = giveNames([group('a'), group('a'), group('a', { oldBase: 'nk4_9966' })], {
      folder: null,
      names: null,
      taken: new Set(['a/nk4_9966-2']),
    });
    expect(given.map(({ base }) => base)).toEqual(['NK4_9966', 'NK4_9966-3', 'nk4_9966-4']);
    expect(given.map(({ remarks }) => remarks)).toEqual([[], ['taken'], ['taken']]);
  });

  it('a pattern that gives nothing still gives a name, and one whose number is cut off comes to an end', () => {
    expect(
      giveNames([group('a')], { folder: null, names: [{ kind: 'blank', of: 'kind' }], taken: new Set() })[0]?.base,
    ).toBe('photo');
    const long: Pattern = [
      { kind: 'text', text: 'x'.repeat(300) },
      { kind: 'sequence', start: 1, digits: 4, over: 'accession' },
    ];
    const bases = giveNames([group('a'), group('a')], { folder: null, names: long, taken: new Set() });
    expect(bases[1]).toMatchObject({ base: `${bases[0]?.base}-2`, remarks: ['taken', 'long'] });
  });

  it('names are one for each frame and none that is taken, whatever the old names are', () => {
    const name = fc.constantFrom('A', 'a', 'Ä', 'A\u0308', 'B', 'b-2', 'B-2', 'CON', '');
    fc.assert(
      fc.property(fc.array(name, { maxLength: 12 }), fc.array(name), (oldBases, taken) => {
        const given = giveNames(
          oldBases.map((oldBase) => group('f', { oldBase })),
          { folder: null, names: null, taken: new Set(taken.map((one) => foldName(joinedPath('f', one)))) },
        );
        const all = [...given.map(({ base }) => foldName(base)), ...new Set(taken.map(foldName))];
        expect(new Set(all).size).toBe(all.length);
      }),
    );
  });

  it('numbered names stand in the order of `sort`, past a thousand too (GNU coreutils, C locale)', () => {
    const given = giveNames(
      Array.from({ length: 1203 }, () => group('a')),
      { folder: null, names: COUNTED, taken: new Set() },
    ).map(({ base }) => base);
    const sorted = execFileSync('sort', {
      input: given.toReversed().join('\n'),
      env: { ...process.env, LC_ALL: 'C' },
      encoding: 'utf8',
    })
      .trim()
      .split('\n');
    expect(sorted).toEqual(given);
    const short = giveNames(
      Array.from({ length: 11 }, () => group('a')),
      { folder: null, names: [{ kind: 'sequence', start: 1, digits: 1, over: 'folder' }], taken: new Set() },
    ).map(({ base }) => base);
    expect(
      execFileSync('sort', { input: short.join('\n'), encoding: 'utf8' })
        .trim()
        .split('\n'),
    ).not.toEqual(short); // 1, 10, 11, 2: common practice
  });
});
