import { describe, expect, it } from 'vitest';
import { bearing, between, destination, distanceM } from '../geo/sphere';
import { type Fix, TrackBuilder } from './tracks/track';
import { secondsOfIso } from '../time/civil';
import { instantOf, offsetAt } from '../time/zone';
import { differenceShown, differenceText, differenceToUtc, parseDifference, rightedDate, trueTime } from './clock';
import { fitByPositions, fitByStops } from './fit';
import { TrackMatcher } from './match';

const track = (...segments: [utc: number, lat: number, lon: number, altitudeM?: number][][]) => {
  const builder = new TrackBuilder();
  for (const segment of segments) {
    builder.newSegment();
    for (const [utc, lat, lon, altitudeM = null] of segment) builder.add({ utc, lat, lon, altitudeM } as Fix);
  }
  return builder.reading().track;
};
const at = (written: string, offset: string | null = null) => ({ written, offset });

describe('matching', () => {
  const matcher = new TrackMatcher([
    track(
      [
        [1000, 62, -6, 10],
        [1100, 62.001, -6.002, 20],
        [2000, 62.01, -6],
      ],
      [
        [5000, 63, -7],
        [5010, 63.0001, -7],
      ],
    ),
  ]);

  it('interpolates between two points of a segment, altitude too', () => {
    expect(matcher.at(1025, 300)).toMatchObject({
      state: 'matched',
      how: 'between',
      position: { altitudeM: 12.5 },
      beforeSeconds: 25,
      afterSeconds: 75,
    });
    const found = matcher.at(1050, 300);
    expect(found.state === 'matched' && found.position.lat).toBeCloseTo(62.0005, 6);
  });

  it('does not bridge a gap longer than the accepted one, but takes its rim within it', () => {
    expect(matcher.at(1300, 300)).toMatchObject({
      state: 'matched',
      how: 'nearest',
      position: { lat: 62.001 },
      beforeSeconds: 200,
      afterSeconds: 700,
    });
    expect(matcher.at(1900, 300)).toMatchObject({ state: 'matched', how: 'nearest', position: { lat: 62.01 } });
    expect(matcher.at(1550, 300)).toEqual({ state: 'unmatched', nearestSeconds: 450 });
    expect(matcher.at(1550, 900)).toMatchObject({ how: 'between' });
  });

  it('does not bridge between segments, and says how far the nearest point is', () => {
    expect(matcher.at(3500, 4000)).toMatchObject({ how: 'nearest' });
    expect(matcher.at(3500, 600)).toEqual({ state: 'unmatched', nearestSeconds: 1500 });
    expect(matcher.at(0, 600)).toEqual({ state: 'unmatched', nearestSeconds: 1000 });
    expect(matcher.at(9000, 600)).toEqual({ state: 'unmatched', nearestSeconds: 3990 });
    expect(new TrackMatcher([]).at(1, 600)).toEqual({ state: 'unmatched', nearestSeconds: null });
  });

  it('of several tracks the better match wins: between before nearest, then nearer in time', () => {
    const two = new TrackMatcher([
      track([
        [1000, 1, 1],
        [1200, 1, 1],
      ]),
      track([
        [1090, 2, 2],
        [1110, 2, 2],
      ]),
      track([[1101, 3, 3]]),
    ]);
    expect(two.at(1100, 300)).toMatchObject({ track: 1, how: 'between' });
    expect(two.at(1201, 300)).toMatchObject({ track: 0, how: 'nearest' });
  });

  it('a long track that began before others is still found behind them', () => {
    const many = new TrackMatcher([
      track([
        [0, 10, 10],
        [100_000, 10, 10.5],
      ]),
      ...Array.from({ length: 50 }, (_, index) =>
        track([
          [index * 100, 1, 1],
          [index * 100 + 5, 1, 1],
        ]),
      ),
    ]);
    expect(many.at(90_000, 200_000)).toMatchObject({ track: 0, how: 'between' });
  });

  it('the antimeridian and the poles do not break it', () => {
    const over = new TrackMatcher([
      track([
        [0, 10, 179.9],
        [100, 10, -179.9],
      ]),
      track([
        [1000, 89.9, 0],
        [1100, 89.9, 180],
      ]),
    ]);
    const mid = over.at(50, 300);
    expect(mid.state === 'matched' && Math.abs(mid.position.lon)).toBeCloseTo(180, 5);
    const pole = over.at(1050, 300);
    expect(pole.state === 'matched' && pole.position.lat).toBeCloseTo(90, 5);
  });

  it('agrees with a slow and obvious reading of ten thousand random instants', () => {
    let state = 7;
    const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    const segments = Array.from({ length: 40 }, (): [number, number, number][] => {
      let utc = Math.floor(random() * 50_000);
      return Array.from({ length: 1 + Math.floor(random() * 30) }, () => [
        (utc += 1 + Math.floor(random() * 400)),
        random() * 10,
        random() * 10,
      ]);
    });
    const fast = new TrackMatcher(segments.map((segment) => track(segment)));
    let matched = 0;
    for (let turn = 0; turn < 10_000; turn++) {
      const utc = Math.floor(random() * 70_000);
      const found = fast.at(utc, 300);
      const inside = segments.flatMap((segment) =>
        segment
          .slice(1)
          .flatMap((point, index) =>
            segment[index]![0] <= utc &&
            point[0] >= utc &&
            (point[0] - segment[index]![0] <= 300 || segment[index]![0] === utc || point[0] === utc)
              ? [Math.min(utc - segment[index]![0], point[0] - utc)]
              : [],
          ),
      );
      const exact = segments.flat().some(([when]) => when === utc);
      const nearest = Math.min(...segments.flat().map(([when]) => Math.abs(when - utc)));
      if (found.state === 'unmatched') {
        expect([inside.length, exact]).toEqual([0, false]);
        expect(found.nearestSeconds).toBe(nearest);
      } else {
        matched += 1;
        expect(nearest).toBeLessThanOrEqual(300);
        expect(found.how === 'between').toBe(inside.length > 0 || exact);
        expect(Math.min(found.beforeSeconds ?? Infinity, found.afterSeconds ?? Infinity)).toBe(
          exact ? 0 : inside.length > 0 ? Math.min(...inside) : nearest,
        );
      }
    }
    expect(matched).toBeGreaterThan(3000);
  });
});

describe('the clock', () => {
  const SUMMER = at('2019-07-04T14:03:22');
  const UTC = secondsOfIso('2019-07-04T13:03:22');

  it('is put right by zone and difference', () => {
    expect(trueTime(SUMMER, { zone: 'Atlantic/Faroe', differenceSeconds: 0 })).toEqual({
      state: 'known',
      utcSeconds: UTC,
      offsetSeconds: 3600,
      doubtful: false,
    });
    expect(trueTime(SUMMER, { zone: '+02:00', differenceSeconds: 3800 })).toMatchObject({
      utcSeconds: UTC - 3600 + 3800,
    });
    expect(trueTime(at('2019-07-04T14:03:22', '+01:00'), { zone: null, differenceSeconds: 0 })).toMatchObject({
      utcSeconds: UTC,
    });
  });

  it('says why an instant is not known', () => {
    expect(trueTime(at('2019-07-04'), { zone: 'UTC', differenceSeconds: 0 })).toEqual({
      state: 'unknown',
      reason: 'no-time',
    });
    expect(trueTime(SUMMER, { zone: null, differenceSeconds: 0 })).toEqual({ state: 'unknown', reason: 'no-zone' });
    expect(trueTime(SUMMER, { zone: 'Mars/Base', differenceSeconds: 0 })).toEqual({
      state: 'unknown',
      reason: 'zone-unknown',
    });
  });

  it('the date put right is the true time with its offset, also where the difference goes over a change of summer time', () => {
    expect(rightedDate(SUMMER, { zone: 'Atlantic/Faroe', differenceSeconds: -3800 })).toBe('2019-07-04T13:00:02+01:00');
    expect(rightedDate(at('2023-03-26T00:30:00'), { zone: 'Atlantic/Faroe', differenceSeconds: 3600 + 1800 })).toBe(
      '2023-03-26T02:00:00+01:00',
    );
    expect(rightedDate(at('2019-07'), { zone: 'UTC', differenceSeconds: 5 })).toBeNull();
  });

  it('differences come from a picture of a clock or of a receiver', () => {
    expect(differenceShown(at('2026-08-30T10:00:00'), at('2026-08-30T11:03:20'))).toBe(3800);
    expect(differenceToUtc(at('2026-08-30T10:00:00'), secondsOfIso('2026-08-30T10:03:20'), 'Atlantic/Faroe')).toBe(
      3800,
    );
  });

  it('differences are written and read', () => {
    for (const seconds of [3800, -3800, 0, 12, -7200, 93_784])
      expect(parseDifference(differenceText(seconds))).toBe(seconds);
    expect(parseDifference('+1:03:20')).toBe(3800);
    expect(parseDifference('-0:12')).toBe(-720);
    expect(parseDifference('90')).toBe(90);
    for (const text of ['', 'soon', '1:2', 'h', '+']) expect(parseDifference(text)).toBeNull();
  });
});

describe('zones', () => {
  it('the hour that comes twice, and the hour that never comes, in Atlantic/Faroe (EU rule: last Sundays of March and October, 01:00 UTC)', () => {
    expect(instantOf('Atlantic/Faroe', secondsOfIso('2023-10-29T01:30:00'))).toEqual({
      state: 'two',
      utcSeconds: [secondsOfIso('2023-10-29T00:30:00'), secondsOfIso('2023-10-29T01:30:00')],
      offsetSeconds: [3600, 0],
    });
    expect(instantOf('Atlantic/Faroe', secondsOfIso('2023-03-26T01:30:00'))).toEqual({
      state: 'none',
      utcSeconds: secondsOfIso('2023-03-26T01:30:00'),
      offsetSeconds: 0,
    });
    expect(instantOf('Atlantic/Faroe', secondsOfIso('2023-03-26T02:00:00'))).toMatchObject({
      state: 'one',
      offsetSeconds: 3600,
    });
    expect(instantOf('Nowhere/At_All', 0)).toEqual({ state: 'zone-unknown' });
  });

  it('zones of quarter hours and of the other side of the date line', () => {
    expect(offsetAt('Asia/Kathmandu', secondsOfIso('2020-01-01T00:00:00'))).toBe(20_700);
    expect(offsetAt('Pacific/Kiritimati', secondsOfIso('2020-01-01T00:00:00'))).toBe(50_400);
    expect(offsetAt('America/St_Johns', secondsOfIso('2020-07-01T00:00:00'))).toBe(-9000);
  });
});

describe('the sphere', () => {
  it('a way out and back, and the middle between', () => {
    const start = { lat: 62.227, lon: -6.589 };
    const end = destination(start, 243, 25_000);
    expect(distanceM(start, end)).toBeCloseTo(25_000, 4);
    expect(bearing(start, end)).toBeCloseTo(243, 6);
    expect(distanceM(start, between(start, end, 0.25))).toBeCloseTo(6250, 4);
  });
});

describe('fitting the clock', () => {
  // a walk of three hours: twelve legs of ten minutes, with five minutes standing at the end of each
  const fixes: [number, number, number][] = [];
  const stops: { utc: number; lat: number; lon: number }[] = [];
  for (let leg = 0, utc = 100_000, lat = 62, lon = -7; leg < 12; leg++) {
    for (let step = 0; step < 50; step++, utc += 12)
      fixes.push([utc, (lat += 0.0001 + 0.00002 * (leg % 3)), (lon += 0.0001 * (((leg * 7) % 5) - 2))]);
    for (let step = 0; step < 25 + leg; step++, utc += 12) fixes.push([utc, lat, lon]);
    stops.push({ utc: utc - 150, lat, lon });
  }
  const walk = track(fixes);

  it('finds the difference from photos that are placed, to the second', () => {
    const matcher = new TrackMatcher([walk]);
    const photos = fixes
      .filter((_, index) => index % 37 === 5)
      .map(([utc]) => {
        const found = matcher.at(utc, 60);
        if (found.state !== 'matched') throw new Error('must be matched');
        return { ...found.position, utcSeconds: utc - 3800 };
      });
    const fit = fitByPositions(photos, [walk]);
    expect(Math.abs(fit!.differenceSeconds - 3800)).toBeLessThanOrEqual(1);
    expect(fit).toMatchObject({ by: 'positions', explained: photos.length });
    expect(fit!.sureness).toBeGreaterThan(0.9);
  });

  it('finds it from the stops, within the length of a stop', () => {
    const fit = fitByStops(
      stops.flatMap(({ utc }) => [utc - 3800, utc - 3790]),
      [walk],
    );
    expect(Math.abs(fit!.differenceSeconds - 3800)).toBeLessThan(150);
    expect(fit!.sureness).toBeGreaterThan(0.3);
  });

  it('says nothing where there is nothing to say', () => {
    expect(fitByPositions([{ lat: 62, lon: -7, utcSeconds: 100_000 }], [walk])).toBeNull();
    expect(
      fitByPositions(
        [
          { lat: 10, lon: 10, utcSeconds: 100_000 },
          { lat: 11, lon: 11, utcSeconds: 100_100 },
        ],
        [walk],
      ),
    ).toBeNull();
    expect(fitByStops([100_000], [walk])).toBeNull();
  });
});
