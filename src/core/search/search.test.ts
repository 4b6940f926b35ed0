import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldValues } from '../fields/registry';
import { parseScope } from '../query/parse-scope';
import { queryOf, termsOf } from '../query/query';
import { areaText } from '../query/terms';
import { quoted, termOf, withTerm } from '../query/write-scope';
import { searchRecord as record } from '../../../tests/fixtures/records';
import { foldText, wordsOf } from '../text/fold';
import { PhotoOrder } from './photo-order';
import { SearchIndex } from './search-index';
import { Strings } from './strings';
import type { SearchOrder, SearchRecord } from './search-record';

/** Which photo has which slot, as the page keeps it. */
const slots = new WeakMap<SearchIndex, Map<number, string>>();

function put(index: SearchIndex, one: SearchRecord): void {
  const known = slots.get(index) ?? new Map<number, string>();
  slots.set(index, known.set(index.put(one), one.id));
}

function indexOf(...records: SearchRecord[]): SearchIndex {
  const index = new SearchIndex();
  for (const one of records) put(index, one);
  return index;
}

const problemsIn = (scope: string): string[] => parseScope(scope).problems.map(({ text }) => text);

const asked = (scope: string, more: Partial<SearchOrder> = {}): SearchOrder => ({
  scope,
  closed: false,
  opened: [],
  stay: null,
  ...more,
});

function find(index: SearchIndex, scope: string, more: Partial<SearchOrder> = {}): string[] {
  return Array.from(index.search(asked(scope, more)).slots, (slot) => slots.get(index)?.get(slot) ?? '?');
}

describe('folding', () => {
  it.each([
    ['Viðareiði', 'vidareidi'],
    ['TRØLLANES', 'trollanes'],
    ['Klaksvík', 'klaksvik'],
    ['Ærø', 'aero'],
    ['ﬁne', 'fine'],
    ['北', '北'],
  ])('%s is compared as %s', (text, folded) => {
    expect(foldText(text)).toBe(folded);
  });
});

describe('an accession', () => {
  const numbered = (id: string, number: string) => record(id, { fields: { identifier: ['urn:other:7', number] } });
  const index = indexOf(
    numbered('a', '2026.001.0001'),
    numbered('b', '2026.001.0012'),
    numbered('c', '2026.0012.0001'),
    record('d', { fields: { caption: '2026.001' } }),
  );

  it.each([
    ['accession:2026.001.0012', ['b']],
    ['accession:2026', ['a', 'b', 'c']],
    ['-accession:2026', ['d']],
  ])('%s', (scope, ids) => {
    expect(find(index, scope).sort()).toEqual(ids);
  });

  it('is found by its number, and so is each of its photos', () => {
    expect(find(index, 'accession:2026.001').sort()).toEqual(['a', 'b']); // not 2026.0012: it is a number, not the beginning of one
    expect(problemsIn('accession:harbour')).toEqual(['accession:harbour']);
  });
});

describe('finding', () => {
  const index = indexOf(
    record('a', {
      day: 20190704,
      fields: { caption: 'Launching the Kvirrulýsið at the old slip', keywords: ['boat', 'turf roof'], rating: 3 },
      camera: 'Norda K4',
      folders: ['2019/Klaksvík slip'],
    }),
    record('b', {
      day: 20200110,
      fields: { headline: 'Slip in snow', rating: -1, label: 'exhibition' },
      drives: ['Attic 2004'],
      copies: 2,
    }),
    record('c', { day: 19620000, fields: { title: '007' }, names: ['print_0001.png'], copies: 0 }),
    record('d', { day: 0 }),
  );

  it.each([
    ['', ['d', 'c', 'a', 'b']],
    ['kvirrulysid', ['a']],
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
    expect(problemsIn('boat rating:x nonsense:1 taken:2019..2020..2021')).toEqual([
      'rating:x',
      'nonsense:1',
      'taken:2019..2020..2021',
    ]);
    expect(find(index, 'boat rating:x')).toEqual(['a']);
  });

  it('counts months, cameras, drives and rungs of what it found; shown and hidden make all', () => {
    const result = index.search(asked('slip'));
    expect(result.all).toBe(4);
    expect(result.months).toEqual(
      new Map([
        [201907, 1],
        [202001, 1],
      ]),
    );
    expect(new Map(result.ladder.map(({ value, count }) => [value, count]))).toEqual(
      new Map([
        ['-1', 1],
        ['3', 1],
      ]),
    );
    expect(index.facets('slip', ['drive', 'rating'], 10)).toEqual({
      drive: [
        { value: 'Attic 2004', count: 1 },
        { value: 'Studio', count: 1 },
      ],
      rating: [
        { value: '3', count: 1 },
        { value: '-1', count: 1 },
      ],
    });
  });

  it('gives the same answer as reading every text, through adding, changing and removing', () => {
    const word = fc.constantFrom('boat', 'boats', 'slip', 'Ørn', 'old', 'wool');
    const step = fc.record({
      id: fc.constantFrom('1', '2', '3', '4', '5'),
      caption: fc.array(word, { maxLength: 4 }),
      gone: fc.boolean(),
    });
    let compared = 0;
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 1, maxLength: 20 }),
        fc.array(word, { minLength: 1, maxLength: 2 }),
        (steps, query) => {
          const tested = new SearchIndex();
          const plain = new Map<string, string>();
          for (const { id, caption, gone } of steps) {
            if (gone) {
              tested.remove(id);
              plain.delete(id);
            } else {
              put(tested, record(id, { fields: { caption: caption.join(' ') }, names: [] }));
              plain.set(id, caption.join(' '));
            }
          }
          const expected = [...plain]
            .filter(([, text]) => query.every((asked) => wordsOf(text).some((has) => has.startsWith(foldText(asked)))))
            .map(([id]) => id);
          expect(find(tested, query.join(' ')).sort()).toEqual(expected.sort());
          compared += 1;
        },
      ),
    );
    expect(compared).toBe(100);
  });
});

describe('orders', () => {
  const index = indexOf(
    record('a', {
      names: ['IMG_10.jpg'],
      day: 20190704,
      second: 5,
      addedAt: 86_400_000 * 2,
      format: 'jpeg',
      fields: { rating: 2, label: 'print', identifier: ['2019.002.0001'], city: 'Vágur' },
    }),
    record('b', {
      names: ['IMG_2.jpg'],
      day: 20190704,
      second: 5,
      addedAt: 86_400_000,
      format: 'dng',
      fields: { rating: 5, identifier: ['2019.001.0002'], city: 'Gjógv' },
    }),
    record('c', {
      names: ['img_1.jpg'],
      day: 20180101,
      second: 0,
      addedAt: 86_400_000 * 2 + 5,
      format: 'jpeg',
      fields: { rating: -1, label: 'album' },
    }),
    record('d', { names: ['z.jpg'], day: 0, addedAt: 0, format: 'jpeg', fields: {} }),
  );

  it.each([
    ['', ['d', 'c', 'b', 'a']], // the same second: by name, as numbered
    ['sort:-taken', ['a', 'b', 'c', 'd']],
    ['sort:name', ['c', 'b', 'a', 'd']],
    ['sort:rating', ['b', 'a', 'd', 'c']],
    ['sort:-rating', ['c', 'd', 'a', 'b']],
    ['sort:marker', ['c', 'a', 'd', 'b']],
    ['sort:type', ['b', 'd', 'c', 'a']],
    ['sort:added', ['c', 'a', 'b', 'd']],
    ['sort:accession', ['b', 'a', 'd', 'c']],
    ['sort:place', ['b', 'a', 'd', 'c']],
    ['rating:1.. sort:name', ['b', 'a']],
  ])('%s', (scope, ids) => {
    expect(find(index, scope)).toEqual(ids);
  });

  it('each falls into groups under what it sorts by', () => {
    expect(index.search(asked('')).heads).toEqual([
      { start: 0, value: 0 },
      { start: 1, value: 20180101 },
      { start: 2, value: 20190704 },
    ]);
    expect(index.search(asked('sort:rating')).heads.map(({ value }) => value)).toEqual([5, 2, 0, -1]);
    expect(index.search(asked('sort:added')).heads).toEqual([
      { start: 0, value: 19700103 },
      { start: 2, value: 19700102 },
      { start: 3, value: 19700101 },
    ]);
    expect(index.search(asked('sort:accession')).heads.map(({ value }) => value)).toEqual(['2019.001', '2019.002', '']);
    expect(index.search(asked('sort:name')).heads).toHaveLength(1);
  });

  it('an order that is none is not understood; a month is of every year', () => {
    expect(problemsIn('sort:colour')).toEqual(['sort:colour']);
    expect(problemsIn('month:13')).toEqual(['month:13']);
    expect(find(index, 'month:7')).toEqual(['b', 'a']);
    expect(find(index, 'month:01')).toEqual(['c']);
    expect(index.days('rating:1..', 2019)).toEqual(new Map([[20190704, 2]]));
  });
});

it('any scope in any order gives what filtering and sorting every photo gives', () => {
  const photo = fc.record({
    day: fc.constantFrom(0, 20180101, 20190704, 20190705, 20200000),
    second: fc.integer({ min: 0, max: 3 }),
    rating: fc.integer({ min: -1, max: 5 }),
    label: fc.constantFrom(undefined, 'print', 'album'),
    name: fc.constantFrom('IMG_1', 'IMG_10', 'img_2', 'ð'),
    addedAt: fc.constantFrom(0, 86_400_000, 172_800_000),
  });
  const scopes: [string, (one: SearchRecord) => boolean][] = [
    ['', () => true],
    ['rating:3..', (one) => Number(one.fields.rating) >= 3],
    ['-rating:..0', (one) => Number(one.fields.rating) > 0],
    ['taken:2019', (one) => Math.floor(one.day / 10_000) === 2019],
    ['month:7 rating:1..', (one) => Math.floor(one.day / 100) % 100 === 7 && Number(one.fields.rating) >= 1],
    ['marker:print OR marker:album', (one) => one.fields.label !== undefined],
  ];
  const plainName = (one: SearchRecord) =>
    foldText(one.names[0] ?? '').replace(/\d+/g, (digits) => digits.padStart(9, '0'));
  const compare = (a: string | number, b: string | number) => (a < b ? -1 : a > b ? 1 : 0);
  const byTime = (a: SearchRecord, b: SearchRecord) =>
    a.day - b.day || a.second - b.second || compare(plainName(a), plainName(b)) || compare(Number(a.id), Number(b.id));
  const orders: [string, (a: SearchRecord, b: SearchRecord) => number][] = [
    ['', () => 0],
    ['sort:rating', (a, b) => Number(b.fields.rating) - Number(a.fields.rating)],
    ['sort:name', (a, b) => compare(plainName(a), plainName(b))],
    ['sort:added', (a, b) => b.addedAt - a.addedAt],
    ['sort:marker', (a, b) => compare(String(a.fields.label ?? '\uffff'), String(b.fields.label ?? '\uffff'))],
  ];
  let compared = 0;
  fc.assert(
    fc.property(
      fc.array(photo, { minLength: 5, maxLength: 25 }),
      fc.nat(scopes.length - 1),
      fc.nat(orders.length - 1),
      (photos, scopeAt, orderAt) => {
        const records = photos.map(({ name, rating, label, ...more }, id) =>
          record(String(id), {
            ...more,
            names: [`${name}.jpg`],
            fields: { rating, ...(label !== undefined && { label }) },
          }),
        );
        const [scope, fits] = scopes[scopeAt] ?? ['', () => true];
        const [sort, order] = orders[orderAt] ?? ['', () => 0];
        const expected = records
          .filter(fits)
          .sort((a, b) => order(a, b) || byTime(a, b))
          .map(({ id }) => id);
        expect(find(indexOf(...records), `${scope} ${sort}`)).toEqual(expected);
        compared += expected.length;
      },
    ),
  );
  expect(compared).toBeGreaterThan(300);
});

describe('sets in a scope', () => {
  const shot = (at: number, seconds: number) => ({
    ...record('').shot,
    body: 'K4',
    at,
    seconds,
    fNumber: 8,
    iso: 100,
    focalMm: 35,
  });
  const bracket = ['u', 'v', 'w'].map((id, step) =>
    record(id, { second: 100 + step, shot: shot(100 + step, 4 ** -step), fields: { rating: step } }),
  );
  const index = indexOf(...bracket, record('x', { second: 900, shot: shot(900, 1) }));

  it('are told with each photo, and searched for', () => {
    const found = index.search(asked(''));
    expect([...found.setSizes]).toEqual([3, 3, 3, 0]);
    expect(new Set(found.sets.slice(0, 3)).size).toBe(1);
    expect(find(index, 'set:bracket')).toEqual(['u', 'v', 'w']);
    expect(find(index, '-set:any')).toEqual(['x']);
    expect([find(index, 'set:V.jpg'), find(index, 'set:v'), find(index, 'set:x')]).toEqual([
      ['u', 'v', 'w'],
      ['u', 'v', 'w'],
      [],
    ]);
    expect(index.setOf('v')).toEqual({ kind: 'bracket', ids: ['u', 'v', 'w'] });
    expect(index.setOf('x')).toEqual({ kind: null, ids: ['x'] });
  });

  it('closed show their highest rung, and what is behind it is counted; one can be open', () => {
    expect(find(index, '', { closed: true })).toEqual(['w', 'x']);
    expect(index.search(asked('', { closed: true }))).toMatchObject({ fitting: 4, behind: 2, staying: 0, all: 4 });
    expect(find(index, '', { closed: true, opened: ['u'] })).toEqual(['u', 'v', 'w', 'x']);
    expect(find(index, 'rating:..1', { closed: true })).toEqual(['v', 'x']); // of what fits
  });

  it('photos that no longer fit stay when asked to, and are counted apart', () => {
    const first = index.search(asked('rating:1..'));
    put(index, { ...bracket[1], fields: { rating: 0 } } as SearchRecord);
    expect(find(index, 'rating:1..')).toEqual(['w']);
    expect(find(index, 'rating:1..', { stay: first.slots })).toEqual(['v', 'w']);
    expect(index.search(asked('rating:1..', { stay: first.slots }))).toMatchObject({ fitting: 1, staying: 1 });
    index.remove('v');
    expect(find(index, 'rating:1..', { stay: first.slots })).toEqual(['w']); // gone from the catalog, not only from the scope
    put(index, bracket[1] as SearchRecord);
  });
});

describe('the order on the page', () => {
  it('knows photo and place both ways, and copies only what is asked for', () => {
    const ids = ['a', 'b', 'c', 'd'];
    const known = new Strings();
    for (const id of ids) known.number(id);
    const order = new PhotoOrder(Uint32Array.of(2, 0, 3), known);
    expect([
      order.length,
      order.at(0),
      order.at(3),
      order.indexOf('d'),
      order.indexOf('b'),
      order.indexOf('nobody'),
      order.indexOf(null),
    ]).toEqual([3, 'c', undefined, 2, -1, -1, -1]);
    expect([order.slice(1, 9), order.all()]).toEqual([
      ['a', 'd'],
      ['c', 'a', 'd'],
    ]);
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

describe('places', () => {
  const at = (id: string, position: string | null, more: Partial<SearchRecord> = {}) =>
    record(id, { ...more, fields: position === null ? {} : { position } });
  const index = indexOf(
    at('slip', '62.227, -6.589'),
    at('near', '62.2285, -6.589'),
    at('far', '61.4, -6.7, 12 m'),
    at('date line', '-16.5, 179.9'),
    at('nowhere', null),
  );

  it.each([
    ['near:62.227,-6.589,100m', ['slip']],
    ['near:62.227,-6.589,0.2km', ['slip', 'near']],
    ['area:62,-7,63,-6', ['slip', 'near']],
    ['area:-17,179,-16,-179', ['date line']],
    ['without:position', ['nowhere']],
    ['-without:position -area:60,-7,63,-6', ['date line']],
  ])('%s', (scope, ids) => expect(find(index, scope).sort()).toEqual([...ids].sort()));

  it.each(['near:62.227,-6.589', 'near:95,0,1m', 'area:63,-7,62,-6', 'area:1,2,3', 'area:a,b,c,d'])(
    '%s is not understood, and narrows nothing',
    (scope) => {
      expect(problemsIn(scope)).toEqual([scope]);
      expect(find(index, scope)).toHaveLength(5);
    },
  );

  it('an area reads back as it was written', () => {
    const box = { south: -17.123456, west: 179, north: -16, east: -179.5 };
    expect(termsOf(queryOf(parseScope(`area:${areaText(box)}`))).map(({ test }) => test)).toEqual([
      { kind: 'area', box: { ...box, south: -17.12346 } },
    ]);
  });

  it('clusters stand for every placed photo, each by its highest rung', () => {
    const rated = indexOf(
      record('low', { fields: { position: '62.227, -6.589', rating: 1 } }),
      record('high', { fields: { position: '62.2271, -6.5891', rating: 4 } }),
      at('far', '10, 10'),
      at('nowhere', null),
    );
    const map = rated.mapOf('');
    expect([map.placed, map.bounds]).toEqual([3, { south: 10, north: 62.2271, west: -6.5891, east: 10 }]);
    const world = map.in({ south: -90, west: -180, north: 90, east: 180 }, 1);
    expect(world.map(({ count, photoId }) => [count, photoId]).sort()).toEqual(
      [
        [1, 'far'],
        [2, 'high'],
      ].sort(),
    );
    expect(
      map
        .in({ south: 62, west: -7, north: 63, east: -6 }, 19)
        .map(({ photoId }) => photoId)
        .sort(),
    ).toEqual(['high', 'low']);
    expect(rated.mapOf('rating:9').in({ south: -90, west: -180, north: 90, east: 180 }, 1)).toEqual([]);
  });

  it('photos are told to Locate in the order taken, by body and shoot', () => {
    const taken = (id: string, captured: string, body: string, more: FieldValues = {}) =>
      record(id, {
        day: Number(captured.slice(0, 10).replaceAll('-', '')),
        second: Number(captured.slice(11, 13)) * 3600,
        folders: ['2019/day'],
        shot: { ...record(id, {}).shot, body },
        fields: { captured, ...more },
      });
    const placing = indexOf(
      taken('b', '2019-07-05T10:00:00', 'K4 1'),
      taken('a', '2019-07-04T10:00:00+01:00', 'K4 1'),
      taken('c', '2019-07-06T10:00:00', 'K4 1', { identifier: ['2019.001.0007'], position: '1, 2' }),
      taken('d', '2019-07-07T11:00:00', 'K4 2'),
    ).placing('');
    expect(placing.ids).toEqual(['a', 'b', 'c', 'd']);
    expect(placing.captured[0]).toBe('2019-07-04T10:00:00+01:00');
    expect([...placing.groupOf]).toEqual([0, 0, 1, 2]);
    expect(placing.groups.map(({ shoot }) => shoot)).toEqual(['2019/day', '2019.001', '2019/day']);
    expect([...placing.lat]).toEqual([NaN, NaN, 1, NaN]);
  });
});
