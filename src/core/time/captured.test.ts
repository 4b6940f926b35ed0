import { describe, expect, it } from 'vitest';
import { dayNumber, parseCaptured, secondOfDay } from './captured';

describe('dates as they were written', () => {
  it.each([
    ['2019:07:04 14:03:22', { written: '2019-07-04T14:03:22', offset: null }],
    ['2019-07-04T14:03:22.50+01:00', { written: '2019-07-04T14:03:22.50', offset: '+01:00' }],
    ['2019-07-04T14:03Z', { written: '2019-07-04T14:03:00', offset: 'Z' }],
    ['2004', { written: '2004', offset: null }],
    ['2004-07', { written: '2004-07', offset: null }],
    ['1962:00:00 00:00:00', { written: '1962', offset: null }],
  ])('%s', (text, expected) => {
    expect(parseCaptured(text)).toEqual(expected);
  });

  it.each(['', '    :  :     :  :  ', '0000:00:00 00:00:00', 'yesterday', '2019-07-04 and more'])(
    '%j is no date',
    (text) => {
      expect(parseCaptured(text)).toBeNull();
    },
  );

  it('partial dates sort before the days they may be', () => {
    expect(dayNumber(parseCaptured('2004'))).toBe(20040000);
    expect(dayNumber(parseCaptured('2004-07'))).toBe(20040700);
    expect(secondOfDay(parseCaptured('2004-07-01T01:00:01.5'))).toBe(3601.5);
    expect(dayNumber(null)).toBe(0);
  });
});
