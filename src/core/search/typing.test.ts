import { describe, expect, it } from 'vitest';
import { searchRecord as record } from '../../../tests/fixtures/records';
import { complete } from './complete';
import { explainScope } from './explain';
import { SearchIndex } from './search-index';

const index = new SearchIndex();
for (const [at, word] of ['ferry', 'ferry', 'fern', 'slip', 'Tórshavn', 'boathouse'].entries())
  index.put(
    record(String(at), {
      names: [],
      camera: at < 4 ? 'Norda K4' : 'Norda K2',
      fields: { keywords: [word], rating: at % 3, ...(at > 3 && { label: 'to print' }) },
    }),
  );
index.knowCollections([{ id: 'c', name: 'Best of all', parentId: null, kind: 'hand', photoIds: ['1'] }]);
const offered = (text: string, cursor = text.length) =>
  complete(text, cursor, 20, index).map(({ kind, text: taken, count }) => [kind, taken, count]);

describe('completion', () => {
  it('offers fields by key and by label, and words with their photos, the most frequent first', () => {
    expect(offered('fer')).toEqual([
      ['word', 'ferry', 2],
      ['word', 'fern', 1],
    ]);
    expect(offered('cam')[0]).toEqual(['field', 'camera:', null]);
    expect(offered('aperture')[0]).toEqual(['field', 'f:', null]);
    expect(offered('tors')).toEqual([['word', 'torshavn', 1]]);
  });

  it('offers values behind the colon with counts, whole ones where the field has such; and where the cursor is', () => {
    expect(offered('camera:')).toEqual([
      ['value', 'camera="Norda K4"', 4],
      ['value', 'camera="Norda K2"', 2],
    ]);
    expect(offered('rating:')).toEqual([
      ['value', 'rating:2', 2],
      ['value', 'rating:1', 2],
      ['value', 'rating:0', 2],
    ]);
    expect(offered('marker:pri')).toEqual([['value', 'marker="to print"', 2]]);
    expect(offered('in:be')).toEqual([['value', 'in:"Best of all"', null]]);
    expect(offered('missing:capt').map(([, text]) => text)).toEqual(['missing:caption']);
    expect(offered('taken:last-ju').map(([, text]) => text)).toEqual(['taken:last-june', 'taken:last-july']);
    expect(offered('set:b').map(([, text]) => text)).toContain('set:bracket');
    expect(offered('fer slip', 3).map(([, text]) => text)).toEqual(['ferry', 'fern']);
    expect([offered('"fer'), offered('nonsense:x'), offered('')]).toEqual([[], [], []]);
  });
});

describe('what a scope does', () => {
  it('is told condition by condition', () => {
    expect(explainScope('ferry rating:2 -slip', index).items.map(({ alone, without }) => [alone, without])).toEqual([
      [2, 2],
      [2, 2],
      [5, 0],
    ]);
  });

  it('words no photo has are named, with the nearest that some have', () => {
    expect(explainScope('fery keyword:slipp "the ferrys" xyz torshafn in:gone', index)).toMatchObject({
      unheard: [
        { word: 'fery', meant: { text: 'ferry', count: 2 } },
        { word: 'slipp', meant: { text: 'keyword:slip', count: 1 } },
        { word: 'the', meant: null },
        { word: 'ferrys', meant: { text: '"the ferry"', count: 2 } },
        { word: 'xyz', meant: null },
        { word: 'torshafn', meant: { text: 'torshavn' } },
      ],
      noCollection: ['gone'],
    });
  });
});

describe('much of it', () => {
  it('three hundred thousand different keywords are found, completed and explained', () => {
    const many = new SearchIndex();
    for (let photo = 0; photo < 6000; photo++)
      many.put(
        record(String(photo), {
          names: [],
          fields: { keywords: Array.from({ length: 50 }, (_, at) => `word${photo * 50 + at} ð`) },
        }),
      );
    many.settle();
    expect(many.columns.list('keywords').words.size).toBe(300_000);
    expect([
      many.count('keyword="word123456 ð"'),
      many.count('word12345'),
      many.count('-word1') + many.count('word1'),
    ]).toEqual([1, 2, 6000]); // 12345 and 123450 to 123459 are of two photos
    expect(many.facets('', ['keyword'], 20).keyword).toHaveLength(20);
    expect(complete('word12345', 9, 20, many).length).toBeGreaterThan(5);
    expect(explainScope('wrod123456', many).unheard).toHaveLength(1);
    const opened = SearchIndex.fromBytes(many.toBytes());
    expect(opened?.count('keyword="word123456 ð"')).toBe(1);
  });

  it('a caption of a hundred kilobytes is found by its last word, and as a phrase', () => {
    const long = new SearchIndex();
    const caption = `${'harbour wind and rain '.repeat(5000)}kvirrulýsið at last`;
    expect(caption.length).toBeGreaterThan(100_000);
    long.put(record('a', { fields: { caption } }));
    long.put(record('b', { fields: { caption: 'at first' } }));
    expect([
      long.count('kvirrulysid'),
      long.count('"kvirrulýsið at la"'),
      long.count('"at kvirrulýsið"'),
      long.count('at'),
    ]).toEqual([1, 1, 0, 2]);
    long.put(record('a', { fields: { caption: 'short' } }));
    expect(long.count('kvirrulysid')).toBe(0);
  });
});
