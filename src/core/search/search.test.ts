import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseScope, quoted, termOf, withTerm } from '../scope/scope';
import { foldText, wordsOf } from './fold';
import { SearchIndex, type SearchRecord } from './search-index';

const record = (id: string, more: Partial<SearchRecord> = {}): SearchRecord => ({ id, names: [`${id}.jpg`], folders: [''], drives: ['Studio'], camera: '', day: 20190704, second: 0, aspect: 1.5, copies: 1, fields: {}, ...more });

function indexOf(...records: SearchRecord[]): SearchIndex {
  const index = new SearchIndex();
  for (const one of records) index.put(one);
  return index;
}

const find = (index: SearchIndex, scope: string) => index.search(parseScope(scope)).ids;

describe('folding', () => {
  it.each([['Viðareiði', 'vidareidi'], ['TRØLLANES', 'trollanes'], ['Klaksvík', 'klaksvik'], ['Ærø', 'aero'], ['ﬁne', 'fine'], ['北', '北']])('%s is compared as %s', (text, folded) => {
    expect(foldText(text)).toBe(folded);
  });
});

describe('finding', () => {
  const index = indexOf(
    record('a', { day: 20190704, fields: { caption: 'Launching the Norðlýsið at the old slip', keywords: ['boat', 'turf roof'], rating: 3 }, camera: 'Norda K4', folders: ['2019/Klaksvík slip'] }),
    record('b', { day: 20200110, fields: { headline: 'Slip in snow', rating: -1, label: 'exhibition' }, drives: ['Attic 2004'], copies: 2 }),
    record('c', { day: 19620000, fields: { title: '007' }, names: ['print_0001.png'], copies: 0 }),
    record('d', { day: 0 }),
  );

  it.each([
    ['', ['d', 'c', 'a', 'b']],
    ['nordlysid', ['a']],
    ['SLIP', ['a', 'b']],
    ['slip boat', ['a']],
    ['slip -boat', ['b']],
    ['boat OR snow', ['a', 'b']],
    ['"old slip"', ['a']],
    ['"slip old"', []],
    ['roof', ['a']],
    ['007', ['c']],
    ['print', ['c']],
    ['klaksvik', []],
    ['folder:klaksvík', ['a']],
    ['keyword:boat', ['a']],
    ['caption:boat', []],
    ['marker:exhib', ['b']],
    ['rating:3', ['a']],
    ['rating:-1', ['b']],
    ['rating:0..', ['d', 'c', 'a']],
    ['taken:2019', ['a']],
    ['taken:2019-07..2020', ['a', 'b']],
    ['taken:1962', ['c']],
    ['taken:..1999', ['c']],
    ['camera:"Norda K4"', ['a']],
    ['drive:"Attic 2004"', ['b']],
    ['copies:..0', ['c']],
    ['copies:2..', ['b']],
  ])('%s', (scope, ids) => {
    expect(find(index, scope)).toEqual(ids);
  });

  it('says which terms it does not understand, and narrows by the others', () => {
    expect(parseScope('boat rating:x nonsense:1 taken:2019..2020..2021').notUnderstood).toEqual(['rating:x', 'nonsense:1', 'taken:2019..2020..2021']);
    expect(find(index, 'boat rating:x')).toEqual(['a']);
  });

  it('counts months, cameras, drives and rungs of what it found; shown and hidden make all', () => {
    const result = index.search(parseScope('slip'));
    expect(result.all).toBe(4);
    expect(result.months).toEqual(new Map([[201907, 1], [202001, 1]]));
    expect(result.drives).toEqual([{ value: 'Attic 2004', count: 1 }, { value: 'Studio', count: 1 }]);
    expect(result.ladder).toEqual([{ value: '-1', count: 1 }, { value: '3', count: 1 }]);
  });

  it('gives the same answer as reading every text, through adding, changing and removing', () => {
    const word = fc.constantFrom('boat', 'boats', 'slip', 'Ørn', 'old', 'wool');
    const step = fc.record({ id: fc.constantFrom('1', '2', '3', '4', '5'), caption: fc.array(word, { maxLength: 4 }), gone: fc.boolean() });
    let compared = 0;
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 20 }), fc.array(word, { minLength: 1, maxLength: 2 }), (steps, query) => {
        const tested = new SearchIndex();
        const plain = new Map<string, string>();
        for (const { id, caption, gone } of steps) {
          if (gone) {
            tested.remove(id);
            plain.delete(id);
          } else {
            tested.put(record(id, { fields: { caption: caption.join(' ') }, names: [] }));
            plain.set(id, caption.join(' '));
          }
        }
        const expected = [...plain].filter(([, text]) => query.every((asked) => wordsOf(text).some((has) => has.startsWith(foldText(asked))))).map(([id]) => id);
        expect(find(tested, query.join(' ')).sort()).toEqual(expected.sort());
        compared += 1;
      }),
    );
    expect(compared).toBe(100);
  });
});

describe('the scope as text', () => {
  it('terms are set, read and taken out without touching the others', () => {
    expect(withTerm('boat taken:2019 "old slip"', 'taken', '2020')).toBe('boat "old slip" taken:2020');
    expect(withTerm('boat taken:2019', 'taken', null)).toBe('boat');
    expect(termOf('boat camera:"Norda K4"', 'camera')).toBe('Norda K4');
    expect(termOf('boat', 'camera')).toBeNull();
    expect(quoted('Norda K4')).toBe('"Norda K4"');
  });
});
