import { describe, expect, it } from 'vitest';
import { bytes, capturedWords, count, dayHeading, exposureWords, photos, plural, positionWords } from './format';

describe('numbers and sizes', () => {
  it.each([
    [7, '7'],
    [1284, '1\u202f284'],
    [1284000, '1\u202f284\u202f000'],
  ])('%d', (value, words) => expect(count(value)).toBe(words));
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1500, '1.5 kB'],
    [320_000, '320 kB'],
    [4_200_000, '4.2 MB'],
    [2.5e12, '2.5 TB'],
  ])('%d bytes', (value, words) => expect(bytes(value)).toBe(words));
  it('one and many', () =>
    expect([photos(1), photos(2), plural(1, 'sidecar'), plural(0, 'sidecar')]).toEqual([
      '1 photo',
      '2 photos',
      '1 sidecar',
      '0 sidecars',
    ]));
});

describe('dates, from their written digits', () => {
  it.each([
    [20190704, 'Thursday 4 July 2019'],
    [20000229, 'Tuesday 29 February 2000'],
    [19620000, '1962'],
    [20040700, 'July 2004'],
    [0, 'Without a date'],
  ])('%d', (day, words) => expect(dayHeading(day)).toBe(words));
  it.each([
    [{ written: '2019-07-04T14:03:22.07', offset: '+01:00' }, '4 Jul 2019 14:03:22 +01:00'],
    [{ written: '2004-07', offset: null }, 'Jul 2004'],
    [{ written: '1962', offset: null }, '1962'],
    [null, 'no date'],
  ])('%j', (captured, words) => expect(capturedWords(captured)).toBe(words));
});

describe('capture data', () => {
  const none = { seconds: null, fNumber: null, iso: null, focalMm: null, focal35Mm: null, biasEv: null, flash: null };
  it('short times as fractions, long ones as seconds, nothing made up', () => {
    expect(exposureWords({ ...none, seconds: 0.004, fNumber: 2.8, iso: 800, focalMm: 35 })).toEqual([
      '1/250 s',
      'f/2.8',
      'ISO 800',
      '35 mm',
    ]);
    expect(exposureWords({ ...none, seconds: 2.5, fNumber: 8 })).toEqual(['2.5 s', 'f/8']);
    expect(exposureWords(none)).toEqual([]);
  });
  it('33.748889° is 33° 44′ 56″ (common practice)', () => {
    expect(positionWords({ lat: 33.748889, lon: -6.588889 })).toBe('33°44′56″ N 6°35′20″ W');
    expect(positionWords({ lat: -0.999999, lon: 0 })).toBe('1°00′00″ S 0°00′00″ E');
  });
});
