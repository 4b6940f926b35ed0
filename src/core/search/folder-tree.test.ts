import { describe, expect, it } from 'vitest';
import { searchRecord } from '../../../tests/fixtures/records';
import { SearchIndex } from './search-index';

function indexOf(...photos: string[][]): SearchIndex {
  const index = new SearchIndex();
  photos.forEach((driveFolders, at) => index.put(searchRecord(`p${at}`, { driveFolders })));
  return index;
}

const told = (index: SearchIndex, ...open: string[]) =>
  Object.fromEntries(
    Object.entries(index.folders.open(open)).map(([value, folders]) => [
      value,
      folders.map(({ name, own, below, hasFolders }) => [name, own, below, hasFolders]),
    ]),
  );

describe('the tree of folders', () => {
  const index = indexOf(
    ['Studio:/2019/10 Gjógv', 'Attic:/old'],
    ['Studio:/2019/10 Gjógv', 'Studio:/2019/9 Eiði'],
    ['Studio:/2019/10 Gjógv/slip'],
    ['Studio:/'],
  );

  it('counts each photo once in a folder, with all that is below it, on each drive that has it', () => {
    expect(told(index, 'Studio:/', 'Studio:/2019', 'Studio:/2019/10 Gjógv')).toEqual({
      '': [
        ['Attic', 0, 1, true],
        ['Studio', 1, 4, true],
      ],
      'Studio:/': [['2019', 0, 3, true]],
      'Studio:/2019': [
        ['9 Eiði', 1, 1, false],
        ['10 Gjógv', 2, 3, true],
      ],
      'Studio:/2019/10 Gjógv': [['slip', 1, 1, false]],
    });
  });

  it('follows what changes', () => {
    const one = indexOf(['Studio:/a']);
    one.put(searchRecord('p0', { driveFolders: ['Studio:/b'] }));
    expect(told(one, 'Studio:/')).toMatchObject({ 'Studio:/': [['b', 1, 1, false]] });
    one.remove('p0');
    expect(told(one)).toEqual({ '': [] });
  });

  it('proposes folders by any part of their path', () => {
    expect(index.folders.named('gjogv', 5).map(({ value }) => value)).toEqual([
      'Studio:/2019/10 Gjógv',
      'Studio:/2019/10 Gjógv/slip',
    ]);
  });

  it('counts as the search does', () => {
    const all = ['Studio:/', 'Studio:/2019', 'Studio:/2019/10 Gjógv'];
    for (const folders of Object.values(index.folders.open(all)))
      for (const { value, own, below } of folders) {
        expect([value, index.count(`folder:"${value}"`)]).toEqual([value, below]);
        expect([value, index.count(`folder="${value}"`)]).toEqual([value, own]);
      }
  });
});

it('a folder is never a namesake: of another drive, of another depth, or one whose name begins alike', () => {
  const index = indexOf(
    ['Studio:/2019/Gjógv'],
    ['Attic:/2019/Gjógv'],
    ['Studio:/old/2019/Gjógv'],
    ['Studio:/2019/Gjógv 2'],
  );
  expect(index.count('folder:"Studio:/2019/Gjógv"')).toBe(1);
  expect(index.count('folder:"/2019/Gjógv"')).toBe(2);
  expect(index.count('folder:gjogv')).toBe(0); // of the words there are none here
});
