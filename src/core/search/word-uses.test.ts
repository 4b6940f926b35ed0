import { describe, expect, it } from 'vitest';
import { searchRecord } from '../../../tests/fixtures/records';
import type { FieldValues } from '../fields/registry';
import { Columns } from './columns';
import { SearchIndex } from './search-index';
import { plainly, type SearchRecord } from './search-record';
import { carriersOf, countKeywords, peopleNear, replaceInText, suggestWords, textWords } from './word-uses';

function factsOf(...records: SearchRecord[]): Columns {
  const columns = new Columns();
  for (const one of records) columns.put(one);
  return columns;
}

const record = (id: string, day: number, hour: number, fields: FieldValues) =>
  searchRecord(id, { day, second: hour * 3600, fields });

const RECORDS = [
  record('a', 20260830, 10, {
    keywords: ['boat', 'slip'],
    identifier: ['2026.001.0001'],
    personShown: ['Sólja við Slippin'],
    caption: 'The slip’s boat, [?who] and [=city]',
  }),
  record('b', 20260830, 10.5, {
    keywords: ['boat', 'quay'],
    identifier: ['2026.001.0002'],
    personShown: ['Sólja við Slippin', 'Rói á Skarvagerði'],
  }),
  record('c', 20260830, 18, { keywords: ['night'], identifier: ['2026.001.0003'] }),
  record('d', 20190101, 10, { keywords: ['Boat', 'winter'], personShown: ['Elin á Vitabrekku'] }),
  record('e', 20190101, 10, { keywords: ['boat', 'winter'] }),
  record('f', 20190102, 10, { keywords: ['boat', 'winter'] }),
];
const COLUMNS = factsOf(...RECORDS);

describe('which words the photos use', () => {
  it('is counted as they are written; carriers are found however it is written', () => {
    expect(new Map(countKeywords(COLUMNS).map(({ word, count }) => [word, count]))).toEqual(
      new Map([
        ['boat', 4],
        ['slip', 1],
        ['quay', 1],
        ['night', 1],
        ['Boat', 1],
        ['winter', 3],
      ]),
    );
    expect(carriersOf(COLUMNS, ['BOAT'])).toEqual(['a', 'b', 'd', 'e', 'f']);
  });

  it('what is likely comes from photos within the hour, the accession, and words that go together; what all have is left out', () => {
    const found = suggestWords(COLUMNS, ['a'], 9);
    expect(found.map(({ word, because }) => [word, because.kind])).toEqual([
      ['quay', 'near'],
      ['night', 'accession'],
      ['winter', 'with'],
    ]);
    expect(suggestWords(COLUMNS, [], 9)).toEqual([]);
    expect(suggestWords(COLUMNS, ['a', 'b'], 9).map(({ word }) => word)).not.toContain('boat');
  });

  it('people of the day and the accession come before those of the catalog', () => {
    expect(peopleNear(COLUMNS, 'c', 9)).toEqual(['Sólja við Slippin', 'Rói á Skarvagerði', 'Elin á Vitabrekku']);
    expect(peopleNear(COLUMNS, 'nobody', 9)).toEqual([]);
  });

  it('words of texts are counted once a photo, without blanks and fill-ins; one is replaced only where it stands whole', () => {
    const words = new Map(textWords(COLUMNS).map(({ word, count }) => [word, count]));
    expect(words.get("slip's")).toBe(1);
    expect(words.has('who')).toBe(false);
    expect(words.has('city')).toBe(false);
    expect(replaceInText('Slip slips slip, slip’s', 'slip', 'quay')).toBe('Slip slips quay, slip’s');
  });
});

describe('what is left to do', () => {
  const index = new SearchIndex();
  for (const one of RECORDS) index.put(one);
  index.put(record('g', 0, 0, { sceneCode: ['12'], countryCode: 'FRO', keywords: ['boat'], caption: 'x' }));
  const found = (scope: string) => index.search(plainly(scope)).fitting;
  it('is a scope: nothing in a field, no date, blanks open, a wrong code, a word that is not in the vocabulary', () => {
    expect([
      found('without:caption'),
      found('-without:caption'),
      found('without:date'),
      found('without:place'),
      found('left:blanks'),
      found('left:codes'),
    ]).toEqual([5, 2, 1, 7, 1, 1]);
    expect(found('left:words')).toBe(0); // without a vocabulary none is missed
    index.knowWords([
      { word: 'boat', also: [] },
      { word: 'winter', also: ['slip'] },
      { word: 'quay', also: [] },
    ]);
    expect(found('left:words')).toBe(1);
  });
});
