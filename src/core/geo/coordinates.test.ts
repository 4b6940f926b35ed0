import { describe, expect, it } from 'vitest';
import { parseCoordinates } from './coordinates';
import { parseDirection } from './direction';
import { parsePosition, positionText, samePosition } from './position';

const KLAKSVIK = { lat: 62 + 13 / 60 + 37.2 / 3600, lon: -(6 + 35 / 60 + 20.4 / 3600) }; // 62.227, -6.589
const notations: [text: string, source: string][] = [
  ['62.227, -6.589', 'common practice'],
  ['62.227,-6.589', 'common practice'],
  ['62.227 -6.589', 'common practice'],
  ['+62.227, -6.589', 'common practice'],
  ['62.227; -6.589', 'common practice'],
  ['62.227/-6.589', 'common practice'],
  ['(62.227, -6.589)', 'common practice'],
  ['62.227N 6.589W', 'common practice'],
  ['N62.227 W6.589', 'common practice'],
  ['62.227 N, 6.589 W', 'common practice'],
  ['6.589 W, 62.227 N', 'letters decide over order'],
  ['62.227° N, 6.589° W', 'SI Brochure, 9th edition, 5.4.3 (sign for degree)'],
  ['62.227°, −6.589°', 'a minus sign, U+2212'],
  ['Lat: 62.227 Lon: -6.589', 'common practice'],
  ['latitude=62.227, longitude=-6.589', 'common practice'],
  ['62.227 north, 6.589 west', 'common practice'],
  ['62,227 -6,589', 'decimal comma, ISO 80000-1, 7.3.2'],
  ['62,227; -6,589', 'decimal comma'],
  ['62,227, -6,589', 'decimal comma'],
  ['62,227,-6,589', 'decimal comma'],
  ['62,227° N 6,589° W', 'decimal comma'],
  ['62°13′37.2″N 6°35′20.4″W', 'ISO 6709:2008, annex D'],
  ['62° 13′ 37.2″ N, 6° 35′ 20.4″ W', 'ISO 6709:2008, annex D'],
  ['62°13\'37.2"N 6°35\'20.4"W', 'common practice'],
  ["62°13'37.2''N, 6°35'20.4''W", 'two single quotes'],
  ['62º13’37.2”N 6º35’20.4”W', 'typographic quotes and the ordinal sign'],
  ['62 13 37.2 N 6 35 20.4 W', 'common practice'],
  ['N 62 13 37.2, W 6 35 20.4', 'common practice'],
  ['62:13:37.2 -6:35:20.4', 'common practice'],
  ['62 13 37.2, -6 35 20.4', 'common practice'],
  ['62 deg 13\' 37.2" N, 6 deg 35\' 20.4" W', 'as ExifTool prints it'],
  ['62°13,62′ N 6°35,34′ W', 'decimal comma in the minutes'],
  ['62°13.62′N 6°35.34′W', 'charts: degrees and decimal minutes'],
  ["62° 13.62' N, 006° 35.34' W", 'charts, three digits'],
  ['N 62° 13.620 W 006° 35.340', 'common practice of receivers'],
  ['62,13.62N 6,35.34W', 'XMP specification part 2, GPSCoordinate'],
  ['62,13,37.2N, 6,35,20.4W', 'XMP specification part 2, GPSCoordinate'],
  ['6213.62,N,00635.34,W', 'NMEA 0183, RMC'],
  ['+62.227-006.589/', 'ISO 6709:2008, annex H'],
  ['+6213.62-00635.34/', 'ISO 6709:2008, annex H'],
  ['+621337.2-0063520.4/', 'ISO 6709:2008, annex H'],
  ['+62.227-006.589+12.5CRSWGS_84/', 'ISO 6709:2008, annex H'],
  ['geo:62.227,-6.589', 'RFC 5870, section 3'],
  ['geo:62.227,-6.589,12;u=10', 'RFC 5870, section 3'],
  ['geo:62.227,-6.589;crs=wgs84', 'RFC 5870, section 3'],
];

describe('coordinates', () => {
  it.each(notations)('%s (%s)', (text) => {
    const position = parseCoordinates(text);
    expect(position?.lat).toBeCloseTo(KLAKSVIK.lat, 9);
    expect(position?.lon).toBeCloseTo(KLAKSVIK.lon, 9);
  });

  it('has forty notations and more', () => expect(notations.length).toBeGreaterThanOrEqual(40));

  it('33° 44′ 56″ is 33.748889°', () => {
    expect(parseCoordinates('33° 44′ 56″ N, 84° 23′ 17″ W')?.lat).toBeCloseTo(33.748889, 6);
  });

  it.each([
    ['', 'nothing'],
    ['Klaksvík', 'a name'],
    ['62.227', 'one number'],
    ['62.227N 6.589N', 'two latitudes'],
    ['62.227N 6.589', 'one letter of two'],
    ['91, 6', 'past the pole'],
    ['62, 181', 'past the date line'],
    ['62 60 10 N 6 35 20 W', 'sixty minutes'],
    ['62.5 13 N 6.5 35 W', 'decimals before minutes'],
    ['-62.2 S, 6.5 E', 'a sign against a letter'],
    ['62.227N 6.589O', 'O is west in French and east in German'],
    ['1 2 3', 'three numbers'],
    ['geo:62.2,-6.5;crs=moon-2011', 'another body'],
    ['9'.repeat(300), 'too long'],
  ])('%s is no position: %s', (text) => expect(parseCoordinates(text)).toBeNull());

  it('62,6 is a latitude and a longitude, since one number alone is no position', () =>
    expect(parseCoordinates('62,6')).toEqual({ lat: 62, lon: 6 }));
});

describe('the text of a position', () => {
  it('comes back as it was, near zero and with an altitude too', () => {
    for (const position of [
      { lat: 62.227, lon: -6.589, altitudeM: null },
      { lat: 0.0000001, lon: -0.0000002, altitudeM: -12.5 },
      { lat: -90, lon: 180, altitudeM: 8848.86 },
      { lat: 0, lon: 0, altitudeM: 0 },
    ])
      expect(parsePosition(positionText(position))).toEqual(position);
  });

  it('is nothing else than its own form', () => {
    for (const text of ['62.227,-6.589', '62.227, -6.589 m', '95, 0', '1e2, 3', '62.227, -6.589, 12.5'])
      expect(parsePosition(text)).toBeNull();
  });

  it('is the same where formats of different fineness read one position', () => {
    expect(samePosition('62.227, -6.589', '62.2270028, -6.589, 12 m')).toBe(true);
    expect(samePosition('62.227, -6.589', '62.2271, -6.589')).toBe(false);
    expect(samePosition('62.227, -6.589, 2 m', '62.227, -6.589, 12 m')).toBe(false);
  });
});

it('a direction says from which north', () => {
  expect(parseDirection('243.5')).toEqual({ degrees: 243.5, magnetic: false });
  expect(parseDirection('243.5 magnetic')).toEqual({ degrees: 243.5, magnetic: true });
  expect(parseDirection('361')).toBeNull();
});
