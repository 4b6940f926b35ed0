import { describe, expect, it } from 'vitest';
import { folderValue, foldersAbove, parseFolder } from './folder-value';

describe('a folder as a value of the search', () => {
  it.each([
    ['Studio:/2019/Klaksvík', { drive: 'Studio', path: '2019/Klaksvík' }],
    ['/2019/Klaksvík', { drive: null, path: '2019/Klaksvík' }],
    ['Studio:/', { drive: 'Studio', path: '' }],
    ['A: the old one:/2019', { drive: 'A: the old one', path: '2019' }],
    ['/2019: harbours:/x', { drive: null, path: '2019: harbours:/x' }],
    ['Studio:/2019/', { drive: 'Studio', path: '2019' }],
  ])('%s', (value, folder) => {
    expect(parseFolder(value)).toEqual(folder);
    expect(parseFolder(folderValue(folder))).toEqual(folder);
  });

  it.each(['klaksvík', '2019/Klaksvík', 'Studio:', ''])('“%s” names none: its words are looked for', (value) => {
    expect(parseFolder(value)).toBeNull();
  });

  it('has those above it, up to the drive', () => {
    expect(foldersAbove('2019/Klaksvík/slip')).toEqual(['2019/Klaksvík/slip', '2019/Klaksvík', '2019', '']);
    expect(foldersAbove('')).toEqual(['']);
  });
});
