import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeTable, readTable, separatorOf, writeTable } from '../text/delimited';
import { photoRows, readPhotoRows } from './photo-table';

const cell = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 8 }),
  fc.constantFrom('a,b', 'x;y', 'tab\there', 'say "so"', 'two\nlines', '', ' ', '=1+1', '007'),
);

describe('tables as text', () => {
  it('come back as they went, whatever stands in a cell', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
        fc.constantFrom(',' as const, ';' as const, '\t' as const),
        (rows, separator) => {
          const expected = rows
            .map((cells) => cells.map((text) => text.replace(/\r\n?/g, '\n')))
            .filter((cells) => cells.some((text) => text !== ''));
          expect(readTable(writeTable(rows, separator), separator)).toEqual(expected);
        },
      ),
    );
  });

  it('are read in the encodings of spreadsheets', () => {
    const text = 'photo,city\r\na,Gjógv\r\n';
    const utf16 = (little: boolean) =>
      Uint8Array.from([
        ...(little ? [0xff, 0xfe] : [0xfe, 0xff]),
        ...[...text].flatMap((letter) =>
          little
            ? [letter.charCodeAt(0) & 255, letter.charCodeAt(0) >> 8]
            : [letter.charCodeAt(0) >> 8, letter.charCodeAt(0) & 255],
        ),
      ]);
    const utf8 = new TextEncoder().encode(text);
    const latin = Uint8Array.from(text, (letter) => letter.charCodeAt(0));
    for (const bytes of [utf8, Uint8Array.from([0xef, 0xbb, 0xbf, ...utf8]), utf16(true), utf16(false), latin])
      expect(decodeTable(bytes)).toBe(text);
  });

  it('are parted by what parts them', () => {
    expect([
      separatorOf('a;b;c\n1,5;2;3'),
      separatorOf('a\tb, c\td'),
      separatorOf('"x;y;z",b\n'),
      separatorOf('sep=;\na,b'),
      separatorOf('alone'),
    ]).toEqual([';', '\t', ',', ';', ',']);
    expect(readTable('sep=;\r\na;b\r\n\r\n1;"x\r\ny"\r\n')).toEqual([
      ['a', 'b'],
      ['1', 'x\r\ny'],
    ]);
  });
});

const photos = [
  {
    id: 'p1',
    path: 'a/1.jpg',
    fields: {
      caption: 'Two\nlines, "so"',
      keywords: ['boat', 'wool; raw', 'say "so"'],
      sceneCode: ['011200'],
      rating: -1,
      captured: '2019-07-04T14:03:22+01:00',
      copyrightStatus: true,
      headline: '=SUM(A1)',
    },
  },
  { id: 'p2', path: 'a/2.jpg', fields: { headline: '+45' } },
];
const byId = new Map(photos.map((photo) => [photo.id, photo]));
const KEYS = ['caption', 'keywords', 'sceneCode', 'rating', 'captured', 'copyrightStatus', 'headline'] as const;
const read = (rows: string[][], emptying = false) => {
  const reading = readPhotoRows(rows, byId, emptying);
  if ('refused' in reading) throw new Error(reading.refused);
  return reading;
};

describe('photos as a table', () => {
  const rows = photoRows(photos, KEYS);

  it('out and in again change nothing, also with empty cells taking away', () => {
    expect(read(readTable(writeTable(rows, ';')))).toEqual({ edits: [], rows: 2, unknownColumns: [], problems: [] });
    expect(read(rows, true).edits).toEqual([]);
  });

  it('no cell is a formula', () => {
    for (const text of rows.slice(1).flat()) expect(text).not.toMatch(/^[=+@]/);
    expect(rows[1]).toContain('-1');
  });

  it('survive what a spreadsheet does to them', () => {
    const spoilt = rows.map((cells) =>
      cells
        .map((text) =>
          text
            .replace(/^011200$/, '11200')
            .replace(/^True$/, 'TRUE')
            .replaceAll('\n', '\r\n'),
        )
        .concat(''),
    );
    expect(read(spoilt).edits).toEqual([]);
  });

  it('give the edits that were made, and name what does not fit with its row', () => {
    const table = [
      ['Photo', 'Headline', 'Rating', 'Weather', 'taken', 'keyword'],
      ['p1', 'New', '6', 'fair', 'yesterday', '"wool; raw"; new'],
      ['p2', '', '4', '', '1968'],
      ['p9', 'x', '1', '', '', ''],
      ['p2', 'x', '1', '', '', ''],
    ];
    const reading = read(table);
    expect(reading.edits.map(({ photoId, key, after }) => [photoId, key, after])).toEqual([
      ['p1', 'headline', 'New'],
      ['p1', 'keywords', ['wool; raw', 'new']],
      ['p2', 'rating', 4],
      ['p2', 'captured', '1968'],
    ]);
    expect(reading.problems).toEqual([
      { row: 2, why: 'does-not-fit', what: 'Rating: 6' },
      { row: 2, why: 'does-not-fit', what: 'Date taken: yesterday' },
      { row: 3, why: 'too-short', what: 'Keywords' },
      { row: 4, why: 'no-photo', what: 'p9' },
      { row: 5, why: 'twice', what: 'p2' },
    ]);
    expect(reading.unknownColumns).toEqual(['Weather']);
    expect(
      read(
        [
          ['photo', 'headline'],
          ['p2', ''],
        ],
        true,
      ).edits,
    ).toEqual([{ photoId: 'p2', key: 'headline', before: '+45' }]);
  });

  it('is refused without the column that says which photo, or without a field', () => {
    expect(readPhotoRows([['file', 'headline']], byId, false)).toEqual({ refused: 'no-head' });
    expect(readPhotoRows([['photo', 'weather']], byId, false)).toEqual({ refused: 'no-fields' });
  });
});
