import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_CONTEXT, type PlainContext, fits } from '../../../tests/fixtures/plain-filter';
import { searchRecord as record } from '../../../tests/fixtures/records';
import { FILE_MARKS } from '../fixity/copies';
import { LACKS } from '../fixity/safe';
import { parseScope } from '../query/parse-scope';
import { queryOf } from '../query/query';
import { type VocabularyWord, vocabularyOf } from '../vocabulary/vocabulary';
import { slotsIn } from './bit-set';
import { withChosen } from '../query/facet-terms';
import { FACETS, FACET_NAMES } from './facets';
import { foldText } from '../text/fold';
import { SearchIndex } from './search-index';
import { type SearchRecord, plainly } from './search-record';
import { knownWords } from './vocabulary-words';

const TODAY = 20261126;
const NOW = PLAIN_CONTEXT.nowMs;

const word = (id: string, text: string, parentId: string | null, ...synonyms: string[]): VocabularyWord => ({
  id,
  word: text,
  parentId,
  synonyms,
  note: '',
  updatedAt: 0,
  deleted: false,
});
const VOCABULARY = vocabularyOf([
  word('1', 'vessel', null, 'watercraft'),
  word('2', 'rowing boat', '1', 'færoe boat'),
  word('3', 'ferry', '1'),
  word('4', 'wool', null),
  word('5', 'ferry', '4'),
]);

const found = (index: SearchIndex, scope: string): string[] =>
  Array.from(slotsIn(index.hitsOf(parseScope(scope))), (slot) => index.columns.ids.text(slot)).sort();

function indexWith(records: readonly SearchRecord[]): SearchIndex {
  const index = new SearchIndex();
  index.knowTime(TODAY, NOW);
  index.knowWords(knownWords(VOCABULARY));
  index.knowCollections([{ id: 'c1', name: 'Best', parentId: null, kind: 'hand', photoIds: ['1', '3', '5'] }]);
  for (const one of records) index.put(one);
  return index;
}

const GROUND: PlainContext = {
  vocabulary: VOCABULARY,
  today: TODAY,
  nowMs: NOW,
  collections: new Map([['best', new Set(['1', '3', '5'])]]),
};

const text = fc.constantFrom(
  'Launching the Kvirrulýsið at the old slip',
  'old wool and a rowing boat',
  'SLIP',
  'the slip, old',
  '港の船',
  'が船',
  'ĲSSELMEER straße',
  'STRASSE',
  'İstanbul ısı',
  'Ærø',
  '[?who] at the quay',
  'a',
  '',
);
const optional = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined });
const photo = fc.record({
  day: fc.constantFrom(0, 19680000, 20190704, 20190700, 20250704, 20261126, 20261125, 20241231),
  second: fc.integer({ min: 0, max: 3 }),
  addedAt: fc.constantFrom(0, Date.UTC(2026, 10, 26, 5), Date.UTC(2019, 0, 1)),
  copies: fc.integer({ min: 0, max: 3 }),
  aspect: fc.constantFrom(1.5, 0.667, 1, 1.005, 1.778, 2.5),
  megapixels: fc.constantFrom(0, 12.2, 24),
  marks: fc.subarray([...FILE_MARKS]).map((some) => [...some]),
  lacks: fc.subarray([...LACKS]).map((some) => [...some]),
  safeUntil: fc.constantFrom(0, NOW - 1, NOW + 1),
  edited: fc.boolean(),
  video: fc.boolean(),
  placed: fc.boolean(),
  camera: fc.constantFrom('', 'Norda K4', 'Norda K2'),
  lens: fc.constantFrom('', '35 mm f/2'),
  format: fc.constantFrom('jpeg', 'dng'),
  sent: fc.subarray(['Museum', 'Print Fair']),
  drives: fc.subarray(['Studio', 'Attic 2004']),
  onlyOn: fc.subarray(['Studio', 'Attic drive']),
  driveFolders: fc.subarray([
    'Studio:/',
    'Studio:/2019',
    'Studio:/2019/Gjógv',
    'Studio:/2019/gjógv',
    'Studio:/20190',
    'Attic 2004:/2019/Gjógv/slip',
  ]),
  shot: fc.record({
    iso: fc.constantFrom(null, 100, 400, 6400),
    fNumber: fc.constantFrom(null, 2.8, 8),
    focalMm: fc.constantFrom(null, 35),
    seconds: fc.constantFrom(null, 1 / 250, 0.5),
    raw: fc.boolean(),
    at: fc.constantFrom(null, 1_562_248_980, 1_562_249_000.5),
  }),
  fields: fc.record({
    rating: optional(fc.integer({ min: -1, max: 5 })),
    caption: optional(text),
    headline: optional(text),
    title: optional(fc.constantFrom('007', 'a')),
    keywords: optional(
      fc.uniqueArray(fc.constantFrom('rowing boat', 'Ferry', 'ferry', 'wool', 'Wóol', 'unheard'), {
        minLength: 1,
        maxLength: 3,
      }),
    ),
    label: optional(fc.constantFrom('print', 'printed')),
    city: optional(fc.constantFrom('Gjógv', 'Tórshavn')),
    personShown: optional(fc.constant(['Sólja við Slippin'])),
    position: optional(fc.constantFrom('62.227, -6.589', '-16.5, 179.9')),
    urgency: optional(fc.integer({ min: 1, max: 8 })),
    digitised: optional(fc.constantFrom('2019-07-04T14:00:00', '2020')),
    identifier: optional(fc.constantFrom(['2026.001.0001'], ['x', '2026.0012.0003'])),
    countryCode: optional(fc.constantFrom('FO', 'XX')),
    corrections: optional(fc.constant({ formulas: 1, exposure: 0.5 })),
    digitalSourceType: optional(fc.constant('http://cv.iptc.org/newscodes/digitalsourcetype/print')),
  }),
});

const term = fc.constantFrom(
  'slip',
  'sli',
  'old',
  'kvirrulýsið',
  'KVIRRULYSID',
  '"old slip"',
  '"slip old"',
  'strasse',
  'istanbul',
  'isi',
  '船',
  '港の',
  'が',
  'か',
  'aero',
  '007',
  'watercraft',
  'vessel',
  'vess',
  '"rowing bo"',
  'keyword:vessel',
  'keyword:"færoe boat"',
  'keyword=ferry',
  'keyword="Rowing Boat"',
  'keyword=wool',
  'caption:slip',
  'caption="slip"',
  'caption="the slip, old"',
  'headline:"at the"',
  'title=a',
  'city=gjogv',
  'city:tor',
  'person="Sólja við Slippin"',
  'marker:print',
  'marker=print',
  'camera="Norda K4"',
  'camera:norda',
  'lens:35',
  'format=dng',
  'drive="Attic 2004"',
  'drive:studio',
  'folder:"/2019"',
  'folder="/2019"',
  'folder:"Studio:/2019/Gjógv"',
  'folder="studio:/2019/Gjógv"',
  'folder:"Attic 2004:/"',
  'folder:"/"',
  'folder="Studio:/"',
  'folder:"/elsewhere"',
  'name:1',
  'name=3.jpg',
  'scanned',
  'sourcetype:print',
  'rating:3..',
  'rating>=3',
  'rating:<0',
  'rating:0',
  'copies<2',
  'state:damaged',
  'state:doubt',
  'state:any',
  'state:unread',
  'state:twice',
  'unsafe:copies',
  'unsafe:elsewhere',
  'unsafe:check',
  'only:studio',
  'only="Attic drive"',
  'iso:<400',
  'iso>100',
  'f:2.8',
  'f<=2.8',
  'focal:35mm',
  'shutter:1/250',
  'shutter>=0.1',
  'aspect:3:2',
  'aspect:16:9',
  'megapixels:>20',
  'urgency:1..3',
  'digitised:2019',
  'digitised:2020..',
  'taken:2019',
  'taken:2019-07..2025',
  'taken:<2019-07',
  'taken:>2019',
  'taken:1968',
  'taken:today',
  'taken:this-day',
  'taken:last-month',
  'taken:last-2-days',
  'taken:--07-04',
  'month:7',
  'month:12..2',
  'added:today',
  'added:2019',
  'around:2019-07-04T14:03~30s',
  'accession:2026.001',
  'accession:2026',
  'has:caption',
  'missing:caption',
  'has:keyword',
  'missing:place',
  'has:date',
  'missing:urgency',
  'has:sourcetype',
  'near:62.22,-6.58~2km',
  'area:62,-7,63,-6',
  'area:-17,179,-16,-179',
  'left:words',
  'left:codes',
  'left:notices',
  'left:names',
  'blank:open',
  'safe:no',
  'safe:yes',
  'edited:yes',
  'corrected:yes',
  'corrected:no',
  'orientation:upright',
  'orientation:square',
  'kind:raw',
  'kind:video',
  'kind:picture',
  'sent:any',
  'sent:museum',
  'in:best',
  'in:nowhere',
);
const tree = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small' },
    term,
    term,
    fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' ')})`),
    fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' OR ')})`),
    tie('node').map((part) => `-${part}`),
  ),
})).node;

type Drawn = ReturnType<typeof photo.generate>['value'];
const recordOf = (drawn: Drawn, id: number): SearchRecord => {
  const fields = Object.fromEntries(Object.entries(drawn.fields).filter(([, value]) => value !== undefined));
  return record(String(id), { ...drawn, shot: { ...record('').shot, ...drawn.shot }, fields });
};

describe('the facet of aspect ratios', () => {
  it('counts what the term finds, and leaves out what has no usual ratio', () => {
    const index = new SearchIndex();
    for (const [at, aspect] of [1.5, 1.5, 0.667, 1, 2.45, 1.778].entries()) index.put(record(`p${at}`, { aspect }));
    const counts = index.facets('', ['aspect'], 99).aspect;
    expect(new Map(counts?.map(({ value, count }) => [value, count]))).toEqual(
      new Map([
        ['1:1', 1],
        ['16:9', 1],
        ['2:3', 1],
        ['3:2', 2],
      ]),
    );
    for (const { value, count } of counts ?? []) expect(index.search(plainly(`aspect:${value}`)).fitting).toBe(count);
  });
});

describe('the index against a plain filter', () => {
  it('any tree finds what reading every record finds', () => {
    const seen = new Set<string>();
    let [trees, hits] = [0, 0];
    fc.assert(
      fc.property(
        fc.array(photo, { minLength: 4, maxLength: 14 }),
        fc.array(fc.array(tree, { minLength: 1, maxLength: 3 }), { minLength: 10, maxLength: 10 }),
        (drawn, scopes) => {
          const records = drawn.map(recordOf);
          const index = indexWith(records);
          for (const parts of scopes) {
            const scope = parts.join(' ');
            const parsed = parseScope(scope);
            expect(parsed.problems, scope).toEqual([]);
            const expected = records
              .filter((one) => fits(one, queryOf(parsed), GROUND))
              .map(({ id }) => id)
              .sort();
            expect(found(index, scope), scope).toEqual(expected);
            trees += 1;
            hits += expected.length;
            for (const part of parts) seen.add(part);
          }
        },
      ),
      { numRuns: 400 },
    );
    expect(trees).toBe(4000);
    expect(hits).toBeGreaterThan(2000);
    expect(seen.size).toBeGreaterThan(300);
  });

  it('each term by itself finds some and not all of enough photos, and the same as the filter', () => {
    const records = fc.sample(photo, { numRuns: 300, seed: 9 }).map(recordOf);
    const index = indexWith(records);
    let told = 0;
    for (const one of new Set(fc.sample(term, { numRuns: 4000, seed: 5 }))) {
      const expected = records
        .filter((each) => fits(each, queryOf(parseScope(one)), GROUND))
        .map(({ id }) => id)
        .sort();
      expect(found(index, one), one).toEqual(expected);
      if (expected.length > 0 && expected.length < records.length) told += 1;
    }
    expect(told).toBeGreaterThan(95);
  });

  it('stays right through changes, removals, being settled, kept and opened again', () => {
    const step = fc.record({
      id: fc.nat(9),
      drawn: photo,
      act: fc.constantFrom('put', 'put', 'put', 'remove', 'settle', 'reopen'),
    });
    let compared = 0;
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 5, maxLength: 30 }),
        fc.array(tree, { minLength: 4, maxLength: 4 }),
        (steps, scopes) => {
          let index = indexWith([]);
          const now = new Map<string, SearchRecord>();
          for (const { id, drawn, act } of steps) {
            if (act === 'put') {
              const one = recordOf(drawn, id);
              index.put(one);
              now.set(one.id, one);
            } else if (act === 'remove') {
              index.remove(String(id));
              now.delete(String(id));
            } else if (act === 'settle') index.settle();
            else {
              const opened = SearchIndex.fromBytes(index.toBytes());
              if (!opened) throw new Error('must open');
              index = opened;
              index.knowTime(TODAY, NOW);
              index.knowWords(knownWords(VOCABULARY));
              index.knowCollections([
                { id: 'c1', name: 'Best', parentId: null, kind: 'hand', photoIds: ['1', '3', '5'] },
              ]);
            }
            for (const scope of scopes) {
              expect(found(index, scope), scope).toEqual(
                [...now.values()]
                  .filter((one) => fits(one, queryOf(parseScope(scope)), GROUND))
                  .map((one) => one.id)
                  .sort(),
              );
              compared += 1;
            }
          }
          expect(index.size).toBe(now.size);
        },
      ),
      { numRuns: 60 },
    );
    expect(compared).toBeGreaterThan(1000);
  });
});

describe('the index as a file', () => {
  const records = fc.sample(photo, { numRuns: 40, seed: 3 }).map(recordOf);
  const bytes = indexWith(records).toBytes();

  it('that is cut, damaged anywhere, or something else is no index', () => {
    expect(SearchIndex.fromBytes(bytes.slice())).not.toBeNull();
    expect(SearchIndex.fromBytes(new Uint8Array(0))).toBeNull();
    expect(SearchIndex.fromBytes(bytes.slice(0, bytes.length - 8))).toBeNull();
    expect(SearchIndex.fromBytes(bytes.slice(0, 20))).toBeNull();
    let refused = 0;
    for (let at = 0; at < bytes.length; at += 97) {
      const damaged = bytes.slice();
      damaged[at] = (damaged[at] ?? 0) ^ 0x10;
      if (SearchIndex.fromBytes(damaged) === null) refused += 1;
    }
    expect(refused).toBe(Math.ceil(bytes.length / 97));
  });

  it('written later than it was taken has nothing of what changed between', () => {
    const index = indexWith(records.slice(0, 25));
    const [taken, at] = [index.snapshot(), index.toBytes()];
    for (const record of records)
      index.put({
        ...record,
        fields: { ...record.fields, caption: `another ${record.id}`, keywords: [`word ${record.id}`] },
      });
    index.remove(records[3]?.id ?? '');
    index.settle();
    expect(Buffer.compare(index.toBytes(), at)).not.toBe(0);
    expect(Buffer.compare(taken.toBytes(), at)).toBe(0);
  });

  it('opened, says everything it said before', () => {
    const [one, other] = [indexWith(records), SearchIndex.fromBytes(bytes.slice())];
    if (!other) throw new Error('must open');
    other.knowTime(TODAY, NOW);
    const order = (scope: string) => ({ scope, closed: false, opened: [], stay: null });
    for (const scope of ['', 'sort:rating', 'sort:name', 'rating:2..', 'slip sort:-added'])
      expect(other.search(order(scope))).toEqual(one.search(order(scope)));
    expect(other.facets('', ['year', 'camera', 'keyword', 'drive', 'orientation'], 99)).toEqual(
      one.facets('', ['year', 'camera', 'keyword', 'drive', 'orientation'], 99),
    );
  });
});

describe('facets', () => {
  it('say beside each value as many photos as choosing it finds', () => {
    const records = fc.sample(photo, { numRuns: 300, seed: 6 }).map(recordOf);
    const index = indexWith(records);
    let values = 0;
    for (const name of FACET_NAMES) {
      const { key, operator } = FACETS[name];
      for (const { value, count } of index.facets('has:date', [name], 99)[name] ?? []) {
        const chosen = withChosen('has:date', key, operator, { any: [value], not: [] });
        expect([chosen, index.count(chosen)]).toEqual([chosen, count]);
        values += 1;
      }
    }
    expect(values).toBeGreaterThan(40);
  });

  it('count spellings of one word together, under the one most photos have, and a photo with two of them once', () => {
    const index = indexWith(
      [['Harbour', 'harbour'], ['harbour'], ['harbour', 'wool'], ['HÁRBOUR']].map((keywords, at) =>
        record(String(at), { fields: { keywords } }),
      ),
    );
    expect(index.facets('', ['keyword'], 9).keyword).toEqual([
      { value: 'harbour', count: 4 },
      { value: 'wool', count: 1 },
    ]);
    expect(index.facets('', ['keyword'], 1).keyword).toEqual([{ value: 'harbour', count: 4 }]);
    expect(SearchIndex.fromBytes(index.toBytes())?.facets('-wool', ['keyword'], 9).keyword).toEqual([
      { value: 'harbour', count: 3 },
    ]);
  });

  it('count what a plain count counts, in the scope without their own condition', () => {
    const records = fc.sample(photo, { numRuns: 200, seed: 4 }).map(recordOf);
    const index = indexWith(records);
    const count = (values: (string | number)[]) =>
      Object.fromEntries(
        [...new Set(values)].map((value) => [String(value), values.filter((other) => other === value).length]),
      );
    const said = (scope: string, name: 'camera' | 'keyword' | 'rating' | 'year' | 'iso') =>
      Object.fromEntries(
        (index.facets(scope, [name], 99)[name] ?? []).map(({ value, count: photos }) => [value, photos]),
      );
    const rated = records.filter(({ fields }) => Number(fields.rating ?? 0) >= 1);
    expect(said('rating:1.. camera="Norda K4"', 'camera')).toEqual(
      count(rated.map(({ camera }) => camera).filter((camera) => camera !== '')),
    );
    const plainly = Object.fromEntries(
      Object.entries(said('rating:1..', 'keyword')).map(([word, photos]) => [foldText(word), photos]),
    );
    expect(plainly).toEqual(
      count(rated.flatMap(({ fields }) => [...new Set(((fields.keywords ?? []) as string[]).map(foldText))])),
    );
    expect(said('rating:1.. camera="Norda K4"', 'rating')).toEqual(
      count(records.filter(({ camera }) => camera === 'Norda K4').map(({ fields }) => Number(fields.rating ?? 0))),
    );
    expect(said('', 'year')).toEqual(
      count(records.map(({ day }) => Math.floor(day / 10_000)).filter((year) => year > 0)),
    );
    expect(said('', 'iso')).toEqual(count(records.flatMap(({ shot }) => shot.iso ?? [])));
    expect(index.facets('', ['rating'], 2).rating?.map(({ value }) => value)).toEqual(['5', '4']);
  });
});

describe('collections', () => {
  const records = ['a', 'b', 'c', 'd'].map((id, at) => record(id, { fields: { rating: at, keywords: [id] } }));
  const index = new SearchIndex();
  for (const one of records) index.put(one);
  const smart = (id: string, name: string, scope: string, parentId: string | null = null) => ({
    id,
    name,
    parentId,
    kind: 'smart' as const,
    scope,
  });
  index.knowCollections([
    { id: 'f', name: 'Harbours', parentId: null, kind: 'folder' },
    { id: 'h', name: 'Best', parentId: 'f', kind: 'hand', photoIds: ['d', 'b', 'gone'] },
    smart('s', 'Rated', 'rating:1..', 'f'),
    smart('t', 'Of both', 'in:Best in:rated'),
    smart('x', 'Itself', 'in:itself OR keyword:a'),
    smart('y', 'Round', 'in:about'),
    smart('z', 'About', 'in:round'),
    smart('g', 'Broken', 'in:"no such"'),
    { id: 'b2', name: 'Best', parentId: null, kind: 'hand', photoIds: ['a'] },
  ]);

  it.each([
    ['in:harbours', ['b', 'c', 'd']],
    ['in:"Harbours/Best"', ['b', 'd']],
    ['in:best', ['a', 'b', 'd']],
    ['in:rated', ['b', 'c', 'd']],
    ['in:"of both"', ['b', 'd']],
    ['-in:harbours', ['a']],
    ['in:itself', ['a']],
    ['in:round', []],
    ['in:broken', []],
    ['in:"no such"', []],
  ])('%s', (scope, ids) => expect(found(index, scope)).toEqual(ids));

  it('are looked at anew when photos change, and sorted by hand', () => {
    index.put(record('a', { fields: { rating: 5, keywords: ['a'] } }));
    expect(found(index, 'in:rated')).toEqual(['a', 'b', 'c', 'd']);
    const order = index.search({ scope: 'in:"Harbours/Best" sort:hand', closed: false, opened: [], stay: null });
    expect(Array.from(order.slots, (slot) => index.columns.ids.text(slot))).toEqual(['d', 'b']);
  });

  it('that are told from today hold other photos on another day', () => {
    const daily = new SearchIndex();
    daily.knowCollections([smart('d', 'Of today', 'taken:today')]);
    for (const [id, day] of [
      ['a', 20261126],
      ['b', 20261127],
    ] as const)
      daily.put(record(id, { day }));
    daily.knowTime(20261126, NOW);
    expect(found(daily, 'in:"of today"')).toEqual(['a']);
    daily.knowTime(20261127, NOW + 86_400_000);
    expect(found(daily, 'in:"of today"')).toEqual(['b']);
  });
});
