// The plan of the archive: sun and clocks against published values, names, views, fields and the vocabulary.

import { describe, expect, it } from 'vitest';
import { exposureOf, exifEntries } from './exif-block';
import { EXIF } from '@/core/formats/tiff/exif-tags';
import { PLANTED } from './drives';
import { paintingName } from './paintings';
import { type Shoot, fieldsOf, frameCount, frameName, takenAt, viewsOf, weatherOf } from './shoot';
import { PHOTOS, SHOOTS, VIEWS } from './shoots';
import { tracks } from './tracks';
import { VOCABULARY, treeOf } from './vocabulary';
import { CAMERAS, LENSES, summerTime, sunAt } from './world';

const shootOf = (headline: string): Shoot => {
  const found = SHOOTS.find((shoot) => shoot.headline === headline);
  if (!found) throw new Error(`no shoot ${headline}`);
  return found;
};

describe('the sun', () => {
  it('stands in the zenith where Meeus’ worked example has it (Astronomical Algorithms, 2nd ed., example 25.a; values from memory)', () => {
    // 1992 October 13, 0h: right ascension 13h 13m 31.4s, declination −7° 47′ 06″
    const at = new Date('1992-10-13T00:00:00Z');
    const days = at.getTime() / 86_400_000 - 10_957.5;
    const sidereal = ((18.697374558 + 24.06570982441908 * days) * 15) % 360;
    const lon = (13 + 13 / 60 + 31.4 / 3600) * 15 - sidereal;
    expect(sunAt(at, -7.785, lon).height).toBeGreaterThan(89.9);
  });

  it('at noon of the solstices it stands as high over Tórshavn as latitude and the tilt of the axis say, in the south', () => {
    // the tilt of the ecliptic, 23.44°: a constant of the IAU
    for (const [day, height] of [
      ['2026-06-21', 90 - 62.01 + 23.44],
      ['2026-12-21', 90 - 62.01 - 23.44],
    ] as const) {
      const highest = Array.from({ length: 240 }, (_, at) =>
        sunAt(new Date(Date.parse(`${day}T11:00:00Z`) + at * 60_000), 62.01, -6.77),
      ).reduce((a, b) => (a.height > b.height ? a : b));
      expect(highest.height).toBeCloseTo(height, 0);
      expect(Math.abs(highest.azimuth - 180)).toBeLessThan(1);
    }
  });

  it('rises in the east and sets in the west at the equinox, six hours before and after noon', () => {
    const rise = sunAt(new Date('2026-03-20T06:30:00Z'), 62.01, -6.77);
    expect(rise.azimuth).toBeGreaterThan(80);
    expect(rise.azimuth).toBeLessThan(100);
    expect(Math.abs(rise.height)).toBeLessThan(2);
  });
});

describe('clocks', () => {
  it('summer time begins and ends at 01:00 UTC of the last Sundays of March and October (Directive 2000/84/EC, from memory; the islands follow it)', () => {
    expect(summerTime(new Date('2023-03-26T00:59:00Z'))).toBe(false);
    expect(summerTime(new Date('2023-03-26T01:00:00Z'))).toBe(true);
    expect(summerTime(new Date('2026-10-25T00:59:00Z'))).toBe(true);
    expect(summerTime(new Date('2026-10-25T01:00:00Z'))).toBe(false);
  });

  it('two cameras at the launch disagree by an hour, three minutes and twenty seconds', () => {
    const other = shootOf('On the cradle');
    const [view] = viewsOf(other);
    const taken = takenAt(other, view!, 0);
    expect(Date.parse(`${taken?.shown}Z`) - taken!.utc.getTime() - 3_600_000).toBe(3_800_000);
    const first = shootOf('Launching the Kvirrulýsið after her third refit');
    const at = takenAt(first, viewsOf(first)[0]!, 0);
    expect(at?.shown).toBe('2019-07-04T14:03:22');
    expect(at?.utc.toISOString()).toBe('2019-07-04T13:03:22.000Z');
  });

  it('summer time began in the middle of one trip, and one camera did not follow', () => {
    const [before, after] = [shootOf('Boathouses at Froðba'), shootOf('Akraberg in a southerly')];
    expect(takenAt(before, viewsOf(before)[0]!, 0)?.offset).toBe('+00:00');
    const taken = takenAt(after, viewsOf(after)[0]!, 0);
    expect(taken?.offset).toBe('+01:00');
    expect(taken?.shown.slice(11, 16)).toBe('10:25');
    expect(taken?.utc.toISOString().slice(11, 16)).toBe('10:25');
  });
});

describe('frames', () => {
  it('views unfold into frames in their order', () => {
    expect(viewsOf({ views: '3b 1 2n 1p' }).map(({ kind, frames }) => [kind, frames])).toEqual([
      ['bracket', [0, 1, 2]],
      ['plain', [3]],
      ['near', [4, 5]],
      ['upright', [6]],
    ]);
    expect(() => viewsOf({ views: '3z' })).toThrow('"3z"');
  });

  it('the camera counts on from 9999 to 0001', () => {
    expect([9998, 9999, 10_000].map((first) => frameName({ ...SHOOTS[0]!, camera: 'k4', first }, 0))).toEqual([
      'NK4_9998',
      'NK4_9999',
      'NK4_0001',
    ]);
    const over = SHOOTS.filter(({ first, views }) => first + frameCount({ views }) > 9999);
    expect(over.length).toBeGreaterThanOrEqual(3);
  });

  it('there are 420 to 600 photos, each with a picture of its own name on its drive', () => {
    expect(PHOTOS).toBeGreaterThanOrEqual(420);
    expect(PHOTOS).toBeLessThanOrEqual(600);
    const names = VIEWS.flatMap(({ number, frames }) =>
      frames.map((frame) => `${SHOOTS[number]!.drive}/${paintingName(SHOOTS[number]!, frame)}`),
    );
    expect(new Set(names).size).toBe(PHOTOS);
  });

  it('at least sixteen motifs, six cameras and nine lenses are in it, brackets, bursts, panoramas, near-duplicates and failures', () => {
    expect(new Set(SHOOTS.map(({ motif }) => motif)).size).toBeGreaterThanOrEqual(16);
    expect(new Set(SHOOTS.map(({ camera }) => camera)).size).toBe(Object.keys(CAMERAS).length);
    expect(new Set(SHOOTS.map(({ lens }) => LENSES[lens].name)).size).toBeGreaterThanOrEqual(9);
    const kinds = new Set(SHOOTS.flatMap((shoot) => viewsOf(shoot).map(({ kind }) => kind)));
    expect([...kinds].sort()).toEqual([
      'bracket',
      'burst',
      'dark',
      'focus',
      'light',
      'near',
      'panorama',
      'plain',
      'shaken',
      'upright',
    ]);
  });

  it('exposures fit the light: less of it wants more time or more sensitivity, and a bracket is two stops apart', () => {
    const stops = (shoot: Shoot, frame = 0) => {
      const view = viewsOf(shoot).find(({ frames }) => frames.includes(frame))!;
      const { fNumber, seconds, iso } = exposureOf(shoot, view, frame);
      return Math.log2((fNumber * fNumber) / seconds) - Math.log2(iso / 100);
    };
    expect(stops(shootOf('Harbour lamps'))).toBeLessThan(stops(shootOf('Rain on the sound')) - 3);
    expect(stops(shootOf('Northern light over the sound'))).toBeLessThan(stops(shootOf('Harbour lamps')) - 3);
    const launch = shootOf('Launching the Kvirrulýsið after her third refit');
    expect(stops(launch, 0) - stops(launch, 1)).toBeCloseTo(2, 5);
    expect(stops(launch, 1) - stops(launch, 2)).toBeCloseTo(2, 5);
    const written = exifEntries(launch, viewsOf(launch)[0]!, 2, { width: 1200, height: 800, orientation: 1 }).exif.get(
      EXIF.exposureBias,
    );
    expect(written).toEqual({ type: 10, ratios: [[20, 10]] });
  });

  it('photos said to be taken by day have the sun up, those at night have not', () => {
    for (const shoot of SHOOTS) {
      if (shoot.at.length < 19) continue;
      const { sunHeight } = weatherOf(shoot);
      if (shoot.motif === 'night' || shoot.motif === 'aurora') expect(sunHeight, shoot.folder).toBeLessThan(0);
      else expect(sunHeight, `${shoot.folder} ${shoot.at}`).toBeGreaterThan(-4.5);
    }
  });
});

describe('descriptions', () => {
  const all = SHOOTS.flatMap((shoot) =>
    Array.from({ length: frameCount(shoot) }, (_, frame) => fieldsOf(shoot, frame)),
  );

  it('are uneven, as archives are: some photos have no caption, some no keyword, some no rating', () => {
    for (const key of ['caption', 'keywords', 'rating'] as const) {
      const having = all.filter((fields) => fields[key] !== undefined).length;
      expect(having, key).toBeGreaterThan(all.length / 4);
      expect(having, key).toBeLessThan(all.length * 0.9);
    }
  });

  it('use the vocabulary, but for the words misspelt on the old drive', () => {
    const names = new Set(VOCABULARY.map(({ name }) => name));
    expect(names.size).toBe(VOCABULARY.length);
    expect(VOCABULARY.length).toBeGreaterThan(170);
    const unknown = new Map<string, string>(
      SHOOTS.flatMap(({ keywords = [], drive }) =>
        keywords.filter((word) => !names.has(word)).map((word): [string, string] => [word, drive]),
      ),
    );
    expect([...unknown.keys()].sort()).toEqual(['Klaksvik', 'Torshaven', 'gillemot', 'harbor', 'kittywake']);
    expect(new Set(unknown.values())).toEqual(new Set(['attic']));
  });

  it('a keyword tree has the words above each keyword, and marks those that were applied', () => {
    expect(treeOf(['rib', 'keel', 'no such word'])).toEqual({
      hierarchy: [
        {
          keyword: 'parts of a boat',
          children: [
            {
              keyword: 'hull',
              children: [
                { keyword: 'rib', applied: true },
                { keyword: 'keel', applied: true },
              ],
            },
          ],
        },
      ],
    });
    expect(treeOf(['no such word'])).toBeUndefined();
  });

  it('scans have dates as exact as they are known', () => {
    const dates = SHOOTS.filter(({ camera }) => camera === 'scanner').map((shoot) => fieldsOf(shoot, 0).captured);
    expect(dates).toEqual(['1931', '1938-07', '1954', '1962', '1962-08', '1971']);
  });
});

describe('tracks', () => {
  it('are six, in UTC, go forward in time, and pass where that day’s photos were taken', () => {
    const all = tracks();
    expect(all).toHaveLength(6);
    for (const { gpx } of all) {
      const times = [...gpx.matchAll(/<time>([^<]+)<\/time>/g)].map(([, time]) => Date.parse(time!));
      expect(times.length).toBeGreaterThan(100);
      expect(times.every((time, at) => at === 0 || time > times[at - 1]!)).toBe(true);
    }
    expect(all.filter(({ gpx }) => gpx.split('<trkseg>').length > 2)).toHaveLength(3);
  });

  it('hold the moment of each photo of the day, but for the gaps', () => {
    for (const { gpx, path } of tracks()) {
      const day = /(\d{4}-\d\d-\d\d)\.gpx$/.exec(path)![1]!;
      const times = [...gpx.matchAll(/<time>([^<]+)<\/time>/g)].map(([, time]) => Date.parse(time!));
      const photos = SHOOTS.filter(({ at }) => at.startsWith(day)).flatMap((shoot) =>
        viewsOf(shoot).map((view) => takenAt(shoot, view, view.frames[0]!)!.utc.getTime()),
      );
      const close = photos.filter((photo) => times.some((time) => Math.abs(time - photo) <= 13_000)).length;
      expect(close / photos.length, day).toBeGreaterThan(0.7);
    }
  });
});

describe('what is wrong on purpose', () => {
  it('is planted on files the plan has', () => {
    const paths = new Set(
      SHOOTS.flatMap((shoot) =>
        Array.from(
          { length: frameCount(shoot) },
          (_, frame) => `${shoot.folder}/${frameName(shoot, frame)}.${CAMERAS[shoot.camera].ending}`,
        ),
      ),
    );
    for (const path of [
      PLANTED.damaged.path,
      ...PLANTED.missing,
      ...Object.keys(PLANTED.moved),
      ...PLANTED.takenIn.frames.map((name) => `DCIM/104NORDA/${name}`),
    ])
      expect(paths.has(path), path).toBe(true);
  });
});
