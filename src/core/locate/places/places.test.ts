import { describe, expect, it } from 'vitest';
import type { FieldValues } from '../../fields/registry';
import { type Spot, clockId, privateAreaAt, spotAt } from '../kept';
import { planPosition, planShown } from '../place-edits';
import { clockProposed, matchPhotos } from '../plan-matches';
import { TrackMatcher } from '../match';
import { TrackBuilder } from '../tracks/track';
import { Gazetteer } from './gazetteer';
import { planPlaceWords } from './place-words';

const photo = (fields: FieldValues = {}) => ({ id: 'p', fields });
const spot = (more: Partial<Spot>): Spot => ({
  id: 's',
  name: 's',
  lat: 62.227,
  lon: -6.589,
  radiusM: 100,
  isPrivate: false,
  words: {},
  updatedAt: 1,
  deleted: false,
  ...more,
});
const HERE = { lat: 62.227, lon: -6.589, altitudeM: null };
const KLAKSVIK = {
  city: 'Klaksvík',
  province: 'Norðoyar',
  country: 'Faroe Islands',
  countryCode: 'FRO',
  distanceM: 50,
};

describe('spots', () => {
  it('of several that hold a position the smallest with words counts, and none that was removed', () => {
    const [wide, small, wordless, gone] = [
      spot({ id: 'wide', radiusM: 5000, words: { city: 'A' } }),
      spot({ id: 'small', words: { city: 'B' } }),
      spot({ id: 'wordless', radiusM: 5 }),
      spot({ id: 'gone', radiusM: 1, words: { city: 'C' }, deleted: true }),
    ];
    expect(spotAt(HERE, [wide, small, wordless, gone])?.id).toBe('small');
    expect(spotAt({ lat: 62.24, lon: -6.589 }, [wide, small])?.id).toBe('wide');
    expect(spotAt({ lat: 63, lon: -6.589 }, [wide, small])).toBeNull();
  });

  it('a private area holds what is within its radius', () => {
    expect(privateAreaAt(HERE, [spot({ isPrivate: true })])?.id).toBe('s');
    expect(privateAreaAt({ lat: 62.2281, lon: -6.589 }, [spot({ isPrivate: true })])).toBeNull(); // 122 m
    expect(privateAreaAt(HERE, [spot({ isPrivate: false })])).toBeNull();
  });

  it('a clock is of one body in one shoot', () =>
    expect(clockId('Norda K4 7', '2026.001')).not.toBe(clockId('Norda K4 8', '2026.001')));
});

describe('words for a position', () => {
  const words = (fields: FieldValues, spots: Spot[], mode: 'fill' | 'replace') =>
    Object.fromEntries(
      planPlaceWords(photo(fields), HERE, KLAKSVIK, spots, mode).edits.map(({ key, after }) => [key, after]),
    );

  it('fill what is empty and leave what stands', () => {
    expect(words({ city: 'written', locationCreated: [{ city: 'x' }] }, [], 'fill')).toEqual({
      province: 'Norðoyar',
      country: 'Faroe Islands',
      countryCode: 'FRO',
    });
  });

  it('replace what stands, and say where the camera was', () => {
    expect(words({ city: 'written' }, [], 'replace')).toEqual({
      city: 'Klaksvík',
      province: 'Norðoyar',
      country: 'Faroe Islands',
      countryCode: 'FRO',
      locationCreated: [
        {
          city: 'Klaksvík',
          province: 'Norðoyar',
          country: 'Faroe Islands',
          countryCode: 'FRO',
          lat: '62,13.62N',
          lon: '6,35.34W',
        },
      ],
    });
  });

  it('a spot goes before the gazetteer in what it says, and the gazetteer fills the rest', () => {
    expect(
      words(
        { locationCreated: [{ city: 'x' }] },
        [spot({ words: { sublocation: 'the old slip', city: 'Vágur' } })],
        'fill',
      ),
    ).toMatchObject({ sublocation: 'the old slip', city: 'Vágur', country: 'Faroe Islands' });
    expect(planPlaceWords(photo(), HERE, null, [], 'fill').edits.map(({ key }) => key)).toEqual(['locationCreated']);
  });
});

describe('positions given', () => {
  it('say how and when they were found; taken away, nothing of them stays', () => {
    const given = planPosition(photo({ positionTime: 'old' }), {
      position: { lat: 1, lon: 2, altitudeM: 3 },
      method: 'GPS',
      utcSeconds: 1_562_245_402.4,
    });
    expect(given.map(({ key, after }) => [key, after])).toEqual([
      ['position', '1, 2, 3 m'],
      ['positionTime', '2019-07-04T13:03:22Z'],
      ['positionMethod', 'GPS'],
    ]);
    expect(
      planPosition(photo({ position: '1, 2', positionMethod: 'GPS', positionTime: 'x' }), {
        position: null,
        method: 'MANUAL',
        utcSeconds: null,
      }).map(({ key, after }) => [key, after]),
    ).toEqual([
      ['position', undefined],
      ['positionTime', undefined],
      ['positionMethod', undefined],
    ]);
  });

  it('a place shown is added to those that stand there, once', () => {
    const [edit] = planShown(photo({ locationShown: [{ city: 'A' }] }), { lat: 62.227, lon: -6.589, city: 'Klaksvík' });
    expect(edit?.after).toEqual([{ city: 'A' }, { city: 'Klaksvík', lat: '62,13.62N', lon: '6,35.34W' }]);
    expect(planShown(photo({ locationShown: edit!.after! }), { lat: 62.227, lon: -6.589, city: 'Klaksvík' })).toEqual(
      [],
    );
  });
});

describe('photos against tracks', () => {
  const builder = new TrackBuilder();
  for (const utc of [1000, 1010]) builder.add({ utc, lat: 1, lon: 1, altitudeM: null });
  const matcher = new TrackMatcher([builder.reading().track]);
  const one = (captured: string, isPlaced = false) => ({ captured, group: 0, isPlaced });

  it('each has an outcome, and those that have a place keep it unless asked otherwise', () => {
    const photos = [
      one('1970-01-01T00:16:45Z'),
      one('1970-01-01T00:16:45Z', true),
      one(''),
      one('1970-01-01T05:00:00Z'),
      one('1970-01-01T00:16:45'),
    ];
    const outcomes = (replace: boolean, zone: string | null) =>
      matchPhotos(photos, [{ zone, differenceSeconds: 0 }], matcher, { gapSeconds: 60, replace }).map((outcome) =>
        outcome.state === 'unmatched' ? outcome.reason : outcome.state,
      );
    expect(outcomes(false, null)).toEqual(['matched', 'keeps', 'no-time', 'no-point', 'no-zone']);
    expect(outcomes(true, 'UTC')).toEqual(['matched', 'matched', 'no-time', 'no-point', 'matched']);
    expect(outcomes(true, 'No/Where')[0]).toBe('zone-unknown');
  });

  it('a clock nobody has set is as the camera wrote it, or in the zone of the track', () => {
    expect(clockProposed(['2019-07-04T14:03:22+01:00', ''], 'Atlantic/Faroe')).toEqual({
      zone: null,
      differenceSeconds: 0,
    });
    expect(clockProposed(['2019-07-04T14:03:22+01:00', '2019-07-04T14:03:22'], 'Atlantic/Faroe').zone).toBe(
      'Atlantic/Faroe',
    );
  });
});

describe('a gazetteer', () => {
  const rows = [
    ['Seat', '10', '10', 'A'],
    ['Village', '10.1', '10.1', 'A'],
    ['Over the line', '0', '-179.9', 'B'],
    ['Seaton', '50', '0', 'B'],
  ].map(([name = '', lat = '', lng = '', admin1 = '']) => ({ name, lat, lng, country: 'GB', admin1, admin2: '' }));
  const gazetteer = new Gazetteer(rows, [{ code: 'GB.A', name: 'Seat' }], []);

  it('has those that name their province first on a map, and looks over the antimeridian', () => {
    expect(gazetteer.within({ south: 0, west: 0, north: 20, east: 20 }, 9).map(({ city }) => city)).toEqual([
      'Seat',
      'Village',
    ]);
    expect(gazetteer.within({ south: -5, west: 170, north: 5, east: -170 }, 9).map(({ city }) => city)).toEqual([
      'Over the line',
    ]);
    expect(gazetteer.nearest({ lat: 0, lon: 179.9 })[0]?.city).toBe('Over the line');
    expect(gazetteer.nearest({ lat: 0, lon: 90 }, 1, 1000)).toEqual([]);
    expect(new Gazetteer([], [], []).nearest({ lat: 0, lon: 0 })).toEqual([]);
  });

  it('finds whole names before beginnings, and by region behind a comma', () => {
    expect(gazetteer.search('seat').map(({ city }) => city)).toEqual(['Seat', 'Seaton']);
    expect(gazetteer.search('sea, seat').map(({ city }) => city)).toEqual(['Seat']);
    expect(gazetteer.search('line')).toHaveLength(1);
  });
});
