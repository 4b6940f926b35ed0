import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { joinBytes } from '../../bytes/join';
import { encodeUtf8 } from '../../bytes/text';
import { IIM, type IimDataset } from '../../formats/iim/datasets';
import { type Dataset, iimOfIso, iimStrings, parseIim, parseIimBlocks } from '../../formats/iim/iim';
import { cutByIim, cutToBytes, planIim } from './iim-edit';
import {
  RESOURCE,
  parseResourceSegments,
  parseResources,
  resourceData,
  withResource,
  writeResources,
} from '../../formats/iim/resources';
import { fieldOf } from '../../fields/registry';

const latin1 = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
const dataset = (number: number, value: Uint8Array, record = 2): Dataset => ({ record, dataset: number, value });
const bytesOf = (...datasets: Dataset[]) =>
  joinBytes(
    datasets.flatMap(({ record, dataset: number, value }) => [
      Uint8Array.of(0x1c, record, number, value.length >> 8, value.length & 255),
      value,
    ]),
  );
const strings = (bytes: Uint8Array | null, row: IimDataset) => iimStrings(parseIim(bytes ?? new Uint8Array()), row);

describe('IIM', () => {
  it.each([
    ['UTF-8 that says so', bytesOf(dataset(90, latin1('\x1b%G'), 1), dataset(105, encodeUtf8('Bátur'))), 'Bátur'],
    ['UTF-8 that does not say so', bytesOf(dataset(105, encodeUtf8('Bátur'))), 'Bátur'],
    ['Latin-1, as old files have it', bytesOf(dataset(105, latin1('Bátur'))), 'Bátur'],
    ['zeros at the end', bytesOf(dataset(105, latin1('Boat\0\0'))), 'Boat'],
  ])('reads %s', (_, bytes, words) => {
    expect(strings(bytes, IIM.headline)).toEqual([words]);
    expect(parseIim(bytes)).toMatchObject({ whole: true, problems: [] });
  });

  it('text that is not the UTF-8 it is said to be is read as Windows-1252, and named', () => {
    const reading = parseIim(bytesOf(dataset(90, latin1('\x1b%G'), 1), dataset(105, latin1('Bátur'))));
    expect(iimStrings(reading, IIM.headline)).toEqual(['Bátur']);
    expect(reading.problems).toEqual([{ code: 'iim/text-undecodable', record: 2, dataset: 105 }]);
  });

  it.each([
    ['20190704', '140322+0100', '2019-07-04T14:03:22+01:00'],
    ['20190704', undefined, '2019-07-04'],
    ['20190700', undefined, '2019-07'],
    ['20190000', undefined, '2019'],
    ['2019-07-04', '14:03:22', '2019-07-04T14:03:22'],
    ['00000000', undefined, undefined],
  ])('a date %s and a time %s are %s', (date, time, iso) => {
    const bytes = bytesOf(dataset(55, latin1(date)), ...(time ? [dataset(60, latin1(time))] : []));
    expect(strings(bytes, IIM.dateCreated)).toEqual(iso ? [iso] : []);
  });

  it('a date goes back into the datasets it came from; a time without a zone has no place there', () => {
    expect(iimOfIso('2019-07-04T14:03:22.5+01:00')).toEqual({ date: '20190704', time: '140322+0100' });
    expect(iimOfIso('2019-07-04T14:03:22')).toEqual({ date: '20190704', time: null });
    expect(iimOfIso('2019')).toEqual({ date: '20190000', time: null });
    expect(iimOfIso('soon')).toBeNull();
  });

  it.each([
    ['too long', 4, ['boat', 'slip']],
    ['too short', 1, ['boat', 'slip']],
    ['beyond the block', 3000, ['boat', 'slip']],
  ])('a dataset whose length is %s costs itself, not its neighbours on either side', (_, length, keywords) => {
    const bytes = bytesOf(dataset(25, latin1('boat')), dataset(105, latin1('xy')), dataset(25, latin1('slip')));
    const lying = Uint8Array.from(bytes);
    lying.set([length >> 8, length & 255], 5 + 4 + 3);
    const reading = parseIim(lying);
    expect(iimStrings(reading, IIM.keywords)).toEqual(keywords);
    expect(reading.whole).toBe(false);
    expect(reading.problems).toEqual([
      { code: length > 1000 ? 'iim/length-past-end' : 'iim/length-wrong', record: 2, dataset: 105 },
    ]);
  });

  it('several blocks, each filled up with zeros, are read one after the other', () => {
    const padded = (bytes: Uint8Array) => joinBytes([bytes, new Uint8Array(3)]);
    const reading = parseIimBlocks([
      padded(bytesOf(dataset(25, latin1('boat')))),
      new Uint8Array(),
      padded(bytesOf(dataset(25, latin1('slip')))),
    ]);
    expect([iimStrings(reading, IIM.keywords), reading.whole]).toEqual([['boat', 'slip'], true]);
  });

  it('a block whose four-byte numbers were turned round is read all the same', () => {
    const bytes = bytesOf(dataset(105, latin1('Boats!!')));
    const turned = Uint8Array.from(bytes, (_, at) => bytes[(at & ~3) + 3 - (at & 3)] ?? 0);
    expect(strings(turned, IIM.headline)).toEqual(['Boats!!']);
  });
});

describe('writing IIM', () => {
  it('changes what differs, in its place, and keeps all else, byte for byte', () => {
    const before = [
      dataset(0, Uint8Array.of(0, 4)),
      dataset(5, latin1('Title')),
      dataset(25, latin1('boat')),
      dataset(25, latin1('slip')),
      dataset(118, latin1('someone')),
      dataset(120, latin1('Old')),
    ];
    const fields = { title: 'Title', keywords: ['boat', 'slip'], caption: 'New' };
    expect(planIim(before, fields)).toEqual(bytesOf(...before.slice(0, 5), dataset(120, latin1('New'))));
    expect(planIim(before, { ...fields, caption: 'Old' })).toEqual(bytesOf(...before));
  });

  it('carries Latin-1 over to UTF-8 and says so; the meaning of what it does not know stays', () => {
    const written = planIim([dataset(118, latin1('Á Reyn')), dataset(105, latin1('Bátur'))], { headline: '北' });
    expect(
      parseIim(written ?? new Uint8Array()).datasets.map(({ record, dataset: number }) => `${record}:${number}`),
    ).toEqual(['1:90', '2:0', '2:118', '2:105']);
    expect(strings(written, IIM.headline)).toEqual(['北']);
    expect(strings(written, { ...IIM.headline, dataset: 118 })).toEqual(['Á Reyn']);
  });

  it('gives nothing where there is nothing to say', () => expect(planIim([], { rating: 3 })).toBeNull());

  it('cuts at a whole letter within the limit, whatever the text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), fc.integer({ min: 1, max: 40 }), (text, limit) => {
        const cut = cutToBytes(text, limit);
        expect(encodeUtf8(cut).length).toBeLessThanOrEqual(limit);
        expect(text.startsWith(cut)).toBe(true);
        const next = [...text.slice(cut.length)][0];
        if (next !== undefined) expect(encodeUtf8(cut + next).length).toBeGreaterThan(limit);
      }),
    );
    expect([
      cutByIim(fieldOf('title'), { title: 'ð'.repeat(33) }),
      cutByIim(fieldOf('title'), { title: 'ð'.repeat(32) }),
    ]).toEqual([true, false]);
  });

  it('what it wrote it reads, for any words', () => {
    const words = fc.array(
      fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).filter((text) => !text.includes('\0')),
      { minLength: 1, maxLength: 4 },
    );
    fc.assert(
      fc.property(words, (keywords) => {
        const held = keywords.map((word) => cutToBytes(word, 64)).filter((word) => word !== '');
        expect(strings(planIim([], { keywords: [...new Set(held)] }), IIM.keywords)).toEqual([...new Set(held)]);
      }),
    );
  });
});

describe('image resources', () => {
  const resource = (id: number, data: Uint8Array, name = new Uint8Array(2)) => ({
    signature: '8BIM',
    id,
    name,
    data,
    start: 0,
  });
  const whole = writeResources([
    resource(0x03ed, Uint8Array.of(1, 2, 3)),
    resource(RESOURCE.iim, latin1('iim'), latin1('\x03abc')),
    resource(0x2000, new Uint8Array(300).fill(7)),
  ]);

  it('are read with their names and padding, and written back byte for byte', () => {
    const { blocks, whole: understood } = parseResources(whole);
    expect([blocks.map(({ id, data }) => [id, data.length]), understood]).toEqual([
      [
        [0x03ed, 3],
        [RESOURCE.iim, 3],
        [0x2000, 300],
      ],
      true,
    ]);
    expect(writeResources(blocks)).toEqual(whole);
  });

  it('cut over segments anywhere are put together; whole ones in each segment are read too', () => {
    for (const at of [5, 17, 40, 200])
      expect(parseResourceSegments([whole.subarray(0, at), whole.subarray(at)]).blocks).toHaveLength(3);
    expect(parseResourceSegments([whole.subarray(0, whole.length - 1), whole]).whole).toBe(false);
  });

  it('one is put in the place of its forerunner, or at the end; a damaged run is said to be so', () => {
    const changed = withResource(parseResources(whole).blocks, RESOURCE.iim, latin1('new'));
    expect(changed.map(({ id }) => id)).toEqual([0x03ed, RESOURCE.iim, 0x2000]);
    expect(
      resourceData({ blocks: withResource(changed, RESOURCE.iimDigest, latin1('d')), whole: true }, RESOURCE.iimDigest),
    ).toEqual(latin1('d'));
    expect(parseResources(whole.subarray(0, whole.length - 9)).whole).toBe(false);
  });
});
