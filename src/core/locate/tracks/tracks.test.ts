import { describe, expect, it } from 'vitest';
import { encodeUtf8 } from '../../bytes/text';
import { readTrack } from './read-track';
import { factsOf, segmentsOf } from './track';
import { parseTrackTime } from './times';

const read = (text: string) => readTrack(encodeUtf8(text));
function points(text: string): { utc: number; lat: number; lon: number; altitude: number | null }[] {
  const file = read(text);
  if (file.state !== 'read') throw new Error(JSON.stringify(file.problem));
  const { utc, lat, lon, altitude } = file.reading.track;
  return Array.from(utc, (at, index) => ({
    utc: at,
    lat: lat[index]!,
    lon: lon[index]!,
    altitude: Number.isNaN(altitude[index]) ? null : altitude[index]!,
  }));
}
const AT = Date.UTC(2019, 6, 4, 13, 3, 21) / 1000;
const TWO = [
  { utc: AT, lat: 62.227, lon: -6.589, altitude: 12.5 },
  { utc: AT + 10, lat: 62.2271, lon: -6.5891, altitude: null },
];

const gpx = (inside: string, version = '1.1') =>
  `<?xml version="1.0" encoding="UTF-8"?><gpx version="${version}" creator="x" xmlns="http://www.topografix.com/GPX/${version.replace('.', '/')}"><trk><name>Slip ð</name>${inside}</trk></gpx>`;
const trkpt = (time: string, lat = '62.227', lon = '-6.589', ele = '') =>
  `<trkpt lat="${lat}" lon="${lon}">${ele && `<ele>${ele}</ele>`}<time>${time}</time></trkpt>`;
const ONE = trkpt('2019-07-04T13:03:21Z', '62.227', '-6.589', '12.5');
const NEXT = trkpt('2019-07-04T14:03:31+01:00', '62.2271', '-6.5891');

describe('the same two points', () => {
  it.each([
    ['GPX 1.1', gpx(`<trkseg>${ONE}${NEXT}</trkseg>`)],
    ['GPX 1.0', gpx(`<trkseg>${ONE}${NEXT}</trkseg>`, '1.0')],
    [
      'GPX with a prefix',
      `<g:gpx xmlns:g="http://www.topografix.com/GPX/1/1"><g:trk><g:trkseg>${(ONE + NEXT).replaceAll('</', '</g:').replaceAll(/<(?!\/)/g, '<g:')}</g:trkseg></g:trk></g:gpx>`,
    ],
    [
      'KML gx:Track',
      '<kml xmlns="http://www.opengis.net/kml/2.2" xmlns:gx="http://www.google.com/kml/ext/2.2"><Placemark><gx:Track><when>2019-07-04T13:03:21Z</when><when>2019-07-04T13:03:31Z</when><gx:coord>-6.589 62.227 12.5</gx:coord><gx:coord>-6.5891 62.2271</gx:coord></gx:Track></Placemark></kml>',
    ],
    [
      'KML placemarks',
      '<kml><Document><Placemark><TimeStamp><when>2019-07-04T13:03:21Z</when></TimeStamp><Point><coordinates>-6.589,62.227,12.5</coordinates></Point></Placemark><Placemark><TimeStamp><when>2019-07-04T13:03:31Z</when></TimeStamp><Point><coordinates>-6.5891,62.2271</coordinates></Point></Placemark></Document></kml>',
    ],
    [
      'GeoJSON line',
      JSON.stringify({
        type: 'FeatureCollection',
        features: [
          {
            type: 'Feature',
            properties: { coordTimes: ['2019-07-04T13:03:21Z', '2019-07-04T13:03:31Z'] },
            geometry: {
              type: 'LineString',
              coordinates: [
                [-6.589, 62.227, 12.5],
                [-6.5891, 62.2271],
              ],
            },
          },
        ],
      }),
    ],
    [
      'GeoJSON points',
      JSON.stringify({
        type: 'FeatureCollection',
        features: [
          [-6.589, 62.227, 12.5],
          [-6.5891, 62.2271],
        ].map((coordinates, at) => ({
          type: 'Feature',
          properties: { time: AT + at * 10 },
          geometry: { type: 'Point', coordinates },
        })),
      }),
    ],
    [
      'CSV',
      'time,latitude,longitude,ele\r\n2019-07-04T13:03:21Z,62.227,-6.589,12.5\r\n2019-07-04 13:03:31,62.2271,-6.5891,\r\n',
    ],
    [
      'a table with decimal commas',
      'Date;Time;Lat;Lon;Altitude (m)\n2019/07/04;13:03:21;62,227;-6,589;12,5\n2019/07/04;13:03:31;62,2271;-6,5891;\n',
    ],
  ])('from %s', (_, text) => expect(points(text)).toEqual(TWO));

  it('from NMEA 0183, RMC and GGA, with the altitude of GGA and checksums', () => {
    const sentence = (body: string) =>
      `$${body}*${[...body]
        .reduce((sum, letter) => sum ^ letter.charCodeAt(0), 0)
        .toString(16)
        .toUpperCase()
        .padStart(2, '0')}`;
    const lines = [
      sentence('GPGGA,130321,6213.6200,N,00635.3400,W,1,08,0.9,12.5,M,49.0,M,,'),
      sentence('GPRMC,130321,A,6213.6200,N,00635.3400,W,0.1,84.4,040719,,'),
      sentence('GNRMC,130331,A,6213.6260,N,00635.3460,W,0.1,84.4,040719,,'),
    ];
    expect(points(lines.join('\r\n')).map(({ utc, altitude }) => ({ utc, altitude }))).toEqual(
      TWO.map(({ utc, altitude }) => ({ utc, altitude })),
    );
    expect(points(lines.join('\n'))[1]!.lat).toBeCloseTo(62.2271, 9);
    const bent = read([...lines, lines[2]!.replace('6213.6260', '6213.9260').replace('130331', '130341')].join('\n'));
    expect(bent.state === 'read' && bent.reading.dropped.unreadable).toBe(1);
  });

  it('NMEA’s own worked example: 4807.038,N is 48° 07.038′ (description of RMC in receivers’ manuals; from memory)', () => {
    const [point] = points('$GPRMC,123519,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W*6A');
    expect(point).toEqual({
      utc: Date.UTC(1994, 2, 23, 12, 35, 19) / 1000,
      lat: 48 + 7.038 / 60,
      lon: 11 + 31 / 60,
      altitude: null,
    });
  });

  it('NMEA goes over midnight before RMC says the new date', () => {
    expect(
      points('$GPRMC,235959,A,6213.62,N,00635.34,W,0,0,040719,,\n$GPGGA,000001,6213.62,N,00635.34,W,1,8,1,5,M,,,,').map(
        ({ utc }) => utc,
      ),
    ).toEqual([Date.UTC(2019, 6, 4, 23, 59, 59) / 1000, Date.UTC(2019, 6, 5, 0, 0, 1) / 1000]);
  });
});

describe('what is wrong with a file', () => {
  it('a document type is refused, and no entity is expanded', () => {
    expect(
      read('<!DOCTYPE gpx [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gpx><trk><name>&b;</name></trk></gpx>'),
    ).toEqual({ state: 'unreadable', problem: { code: 'doctype' } });
    expect(read('<!DOCTYPE gpx SYSTEM "file:///etc/passwd"><gpx/>')).toEqual({
      state: 'unreadable',
      problem: { code: 'doctype' },
    });
  });

  it('a file cut short gives the points before the cut, and says so', () => {
    const file = read(gpx(`<trkseg>${ONE}${NEXT}</trkseg>`).slice(0, -60));
    expect(file).toMatchObject({ state: 'read', problem: { code: 'not-well-formed' } });
    expect(file.state === 'read' && file.reading.track.utc.length).toBeGreaterThanOrEqual(1);
  });

  it.each([
    ['other XML', '<svg xmlns="http://www.w3.org/2000/svg"/>', 'not-a-track'],
    ['other JSON', '{"a":1}', 'not-a-track'],
    ['words', 'hello there', 'not-a-track'],
    ['nothing', '', 'not-a-track'],
    ['a table without places', 'time,name\n2019-07-04T13:03:21Z,x', 'not-a-track'],
    ['a track without times', gpx('<trkseg><trkpt lat="1" lon="2"/></trkseg>'), 'no-timed-points'],
  ])('%s', (_, text, code) => expect(read(text)).toMatchObject({ state: 'unreadable', problem: { code } }));

  it('points off the earth and times that are none are left out and counted', () => {
    const file = read(
      gpx(
        `<trkseg>${ONE}${trkpt('yesterday')}${trkpt('2019-07-04T13:04:00Z', '95', '0')}${trkpt('2019-07-04T13:05:00Z', 'x', '0')}<trkpt lat="1" lon="2"/></trkseg>`,
      ),
    );
    expect(file.state === 'read' && { points: file.reading.track.utc.length, ...file.reading.dropped }).toEqual({
      points: 1,
      unreadable: 3,
      withoutTime: 1,
      zoneless: 0,
    });
  });
});

describe('segments and facts', () => {
  it('a segment ends where the file says so, and where time goes back', () => {
    const file = read(
      gpx(
        `<trkseg>${ONE}${NEXT}</trkseg><trkseg>${trkpt('2019-07-04T13:20:00Z')}${trkpt('2019-07-04T13:10:00Z')}${trkpt('2019-07-04T13:10:00Z')}</trkseg>`,
      ),
    );
    if (file.state !== 'read') throw new Error('must be read');
    expect(segmentsOf(file.reading.track)).toEqual([
      [0, 2],
      [2, 3],
      [3, 4],
    ]);
    expect(factsOf(file.reading.track, 300)).toMatchObject({
      points: 4,
      firstUtc: AT,
      lastUtc: AT + 999,
      gaps: [
        { fromUtc: AT + 10, toUtc: AT + 399 },
        { fromUtc: AT + 399, toUtc: AT + 999 },
      ],
    });
  });

  it('times are read in the forms files have', () => {
    for (const text of [
      '2019-07-04T13:03:21Z',
      '2019-07-04T14:03:21+01:00',
      '2019-07-04T14:03:21+0100',
      '2019-07-04 13:03:21 UTC',
      String(AT),
      `${AT}000`,
    ])
      expect(parseTrackTime(text)).toEqual({ utc: AT, zoneless: false });
    expect(parseTrackTime('2019-07-04T13:03:21.500')).toEqual({ utc: AT + 0.5, zoneless: true });
    for (const text of ['2019-13-04T13:03:21Z', '13:03:21', '', '2019-07-04']) expect(parseTrackTime(text)).toBeNull();
  });
});
