import { describe, expect, it } from 'vitest';
import { type DateAct, parseShift, planDates } from './dates';

const photos = [
  { id: 'a', fields: { captured: '2019-03-31T00:30:00.25+00:00' } },
  { id: 'b', fields: { captured: '2019-03-31T23:10:05', digitised: '2019-04-01' } },
  { id: 'c', fields: { captured: '1968' } },
  { id: 'd', fields: {} },
];
const dates = (act: DateAct) => {
  const plan = planDates(photos, act);
  return (
    plan && {
      without: plan.without,
      ...Object.fromEntries(
        plan.edits.filter(({ key }) => key === 'captured').map(({ photoId, after }) => [photoId, after]),
      ),
    }
  );
};

describe('dates put right', () => {
  it('by a shift, over midnight and the turn of months, fractions and zones kept; what has no time stays', () => {
    expect(dates({ kind: 'shift', seconds: 3600 + 25 })).toEqual({
      without: 2,
      a: '2019-03-31T01:30:25.25+00:00',
      b: '2019-04-01T00:10:30',
    });
    expect(dates({ kind: 'shift', seconds: -86_400 * 31 })).toMatchObject({ a: '2019-02-28T00:30:00.25+00:00' });
  });
  it('the first set, the others follow in the order and at the distance they had', () => {
    expect(dates({ kind: 'first', at: '2020-02-28T23:59:00' })).toEqual({
      without: 2,
      a: '2020-02-28T23:59:00.25+00:00',
      b: '2020-02-29T22:39:05',
    });
  });
  it('set for all, in part too', () => {
    expect(dates({ kind: 'set', to: '1968-07' })).toEqual({
      without: 0,
      a: '1968-07',
      b: '1968-07',
      c: '1968-07',
      d: '1968-07',
    });
  });
  it('given a zone, or said in another one', () => {
    expect(dates({ kind: 'zone', offset: '+01:00' })).toEqual({
      without: 2,
      a: '2019-03-31T00:30:00.25+01:00',
      b: '2019-03-31T23:10:05+01:00',
    });
    expect(dates({ kind: 'zone', offset: null })).toMatchObject({ a: '2019-03-31T00:30:00.25' });
    expect(dates({ kind: 'in-zone', offset: '-05:00' })).toEqual({ without: 3, a: '2019-03-30T19:30:00.25-05:00' });
  });
  it('keep what was written at first as the date digitised, unless something stands there', () => {
    expect(planDates(photos, { kind: 'shift', seconds: 60 })?.edits.filter(({ key }) => key === 'digitised')).toEqual([
      { photoId: 'a', key: 'digitised', after: '2019-03-31T00:30:00.25+00:00' },
    ]);
  });
  it('what is no date, zone or shift is refused', () => {
    expect([
      dates({ kind: 'set', to: 'soon' }),
      dates({ kind: 'first', at: '1968' }),
      dates({ kind: 'zone', offset: '+25:00' }),
      dates({ kind: 'shift', seconds: NaN }),
    ]).toEqual([null, null, null, null]);
    expect(['+1:30', '-0:00:45', '−2 h', '1 day 3 h 5 min', '90 s', '1:5', 'x', '', '5'].map(parseShift)).toEqual([
      5400,
      -45,
      -7200,
      97_500,
      90,
      null,
      null,
      null,
      null,
    ]);
  });
});
