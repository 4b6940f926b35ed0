// The demo, as a newcomer meets it, and what holds on every screen: it loads, every place has something to show, the
// tour does what it says, practice drives can be unplugged and plugged in, it can be left, and axe finds nothing to
// complain of.

import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { isPhotoName } from '@/core/formats/containers/formats';
import { parsePosition } from '@/core/geo/position';
import { distanceM } from '@/core/geo/sphere';
import { positionOf } from '@/demo/archive/exif-block';
import { takenAt, viewsOf } from '@/demo/archive/shoot';
import { SHOOTS } from '@/demo/archive/shoots';
import { tracks } from '@/demo/archive/tracks';
import { CAMERAS } from '@/demo/archive/world';
import { parseScope } from '@/core/query/parse-scope';
import { queryOf } from '@/core/query/query';
import { vocabularyOf } from '@/core/vocabulary/vocabulary';
import type { SearchRecord } from '@/core/search/search-record';
import { CatalogDatabase } from '@/storage/catalog/database';
import { allSearchRecords } from '@/storage/catalog/search-feed';
import { PLAIN_CONTEXT, fits } from '../fixtures/plain-filter';
import { complaints } from './axe';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { exiftool, until } from './folders';
import {
  addKeywords,
  allWritten,
  atRest,
  choose,
  fill,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  tick,
  tickDemoRun,
  typeScope,
} from './person';

const origin = inject('origin');
const index = JSON.parse(readFileSync('.demo/index.json', 'utf8')) as {
  drives: { name: string; folder: string; card: boolean; packs: { files: { path: string; bytes: number }[] }[] }[];
};
const DRIVES = index.drives.filter(({ card }) => !card).map(({ name }) => name);
/**
 * Photos by their content: a copy is the same photo, and a damaged copy is still its photo. What is only on the card is
 * not in the catalog.
 */
const PHOTOS = new Set(
  index.drives
    .filter(({ name, card }) => !card && !name.startsWith('Copy'))
    .flatMap(({ folder: at, packs }) => packs.flatMap(({ files }) => files.map((file) => ({ ...file, at }))))
    .filter((file) => isPhotoName(file.path) && file.bytes > 0)
    .map((file) =>
      createHash('sha256')
        .update(readFileSync(`.demo/${file.at}/${file.path}`))
        .digest('hex'),
    ),
).size;
let browser: Browser;
const folder = () => mkdtempSync(path.join(tmpdir(), 'wembo-own-'));
const outside: string[] = [];

beforeAll(async () => {
  browser = await openBrowser({ origin });
  browser.page.on('request', (request) => {
    if (!request.url().startsWith(origin) && !request.url().startsWith('blob:') && !request.url().startsWith('data:'))
      outside.push(request.url());
  });
  await openApplication(browser.page, origin);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

/** All rows of these tables of the demo's catalog, without what is no plain value. In the page. */
async function readTables(names: string[]): Promise<Record<string, unknown[]>> {
  const db = await new Promise<IDBDatabase>((resolve, reject) => {
    const request = indexedDB.open('wembo-demo');
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error ?? new Error('not opened'));
  });
  const rows = (name: string) =>
    new Promise<unknown[]>((resolve) => {
      const request = db.transaction(name).objectStore(name).getAll();
      request.onsuccess = () => resolve(JSON.parse(JSON.stringify(request.result)) as unknown[]);
    });
  const found: Record<string, unknown[]> = {};
  for (const name of names) found[name] = await rows(name);
  db.close();
  return found;
}

/** Sidecars of these names on all practice drives. In the page. */
async function sidecarsNamed(names: string[]): Promise<Record<string, { path: string; text: string }[]>> {
  const found: Record<string, { path: string; text: string }[]> = {};
  const walk = async (folder: FileSystemDirectoryHandle, at: string) => {
    for await (const [name, handle] of folder as unknown as AsyncIterable<[string, FileSystemHandle]>) {
      if (handle.kind === 'directory') await walk(handle as FileSystemDirectoryHandle, `${at}/${name}`);
      else if (names.includes(name))
        (found[name] ??= []).push({
          path: `${at}/${name}`,
          text: await (await (handle as FileSystemFileHandle).getFile()).text(),
        });
    }
  };
  await walk(await navigator.storage.getDirectory(), '');
  return found;
}

/**
 * Photos of the days with a track, by camera and what its clock showed: where the script had the photographer stand.
 */
const SIX_DAYS = SHOOTS.flatMap((shoot) => {
  const day = shoot.at.slice(0, 10);
  if (shoot.at.length < 19 || !tracks().some(({ path: name }) => name.endsWith(`${day}.gpx`))) return [];
  return viewsOf(shoot).flatMap((view) =>
    view.frames.map((frame) => ({
      day,
      key: `${CAMERAS[shoot.camera].model} ${takenAt(shoot, view, frame)?.shown}`,
      ...positionOf(shoot, view),
    })),
  );
});

/** Positions and places of the camera of all photos, by camera and what its clock showed. In the page. */
async function positionsByClock(): Promise<Record<string, { position: string; created: string }>> {
  const [{ name = '' } = {}] = (await indexedDB.databases()).filter((one) => one.name?.includes('demo'));
  const db = await new Promise<IDBDatabase>((resolve) => {
    const opening = indexedDB.open(name);
    opening.onsuccess = () => resolve(opening.result);
  });
  const photos = await new Promise<{ camera: { model: string | null }; fields: Record<string, unknown> }[]>(
    (resolve) => {
      const asked = db.transaction('photos').objectStore('photos').getAll();
      asked.onsuccess = () =>
        resolve(asked.result as { camera: { model: string | null }; fields: Record<string, unknown> }[]);
    },
  );
  db.close();
  return Object.fromEntries(
    photos.map(({ camera, fields }) => [
      `${camera.model} ${String(fields.captured).slice(0, 19)}`,
      { position: String(fields.position), created: JSON.stringify(fields.locationCreated ?? '') },
    ]),
  );
}

/** Places and words the photos of a day, their clocks put right; says how many found no place on the track. */
async function placeDay(
  page: Page,
  day: string,
  {
    clock,
    gapMinutes = 10,
    notFound = 0,
  }: { clock?: [camera: string, difference: string]; gapMinutes?: number; notFound?: number } = {},
): Promise<void> {
  const desk = (name: string) =>
    page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name, exact: true }).click();
  await openPlace(page, 'Locate');
  await typeScope(page, `taken:${day}`);
  await desk('Tracks');
  await page.getByRole('region', { name: 'Tracks' }).getByText(`${day}.gpx`).waitFor();
  if (clock) {
    const box = page.getByRole('listitem', { name: new RegExp(`^Clock of ${clock[0]}`) }).getByRole('textbox');
    await box.fill(clock[1]);
    await box.press('Enter');
  }
  const found = page.getByRole('complementary', { name: 'What was found' });
  await page.getByRole('spinbutton', { name: 'Accepted gap in minutes' }).fill(String(gapMinutes));
  await tick(page.getByRole('checkbox', { name: 'also those that have a position' }), true);
  await found.getByText(`${notFound} not found`, { exact: true }).waitFor();
  await found.getByRole('button', { name: /^Place \d+ photos$/ }).click();
  await page
    .getByText(/^\d+ photos placed$/)
    .first()
    .waitFor();
  await tick(page.getByRole('checkbox', { name: 'also those that have a position' }), false);
  await found.getByText('0 found', { exact: true }).waitFor();
  await desk('Place names');
  const look = page.getByRole('button', { name: 'Look them up' });
  await look.waitFor();
  const whole = page.getByRole('button', { name: 'For the whole search instead' });
  if (await whole.isVisible()) await whole.click(); // a photo is selected from before
  await look.click();
  await page.getByRole('button', { name: 'Write them' }).click();
  await page
    .getByText(/^Place names of \d+ photos$/)
    .first()
    .waitFor();
  const placed = await page.evaluate(positionsByClock);
  const planned = SIX_DAYS.filter((one) => one.day === day);
  expect(planned.length).toBeGreaterThan(2);
  for (const { key, lat, lon } of planned) {
    const { position, created } = placed[key]!;
    const there = parsePosition(position);
    expect(there && distanceM(there, { lat, lon }), `${key}: ${position}`).toBeLessThan(2);
    expect(created, key).toContain('FRO');
  }
}

/** As ExifTool reads it. */
function inSidecar(sidecar: string): Record<string, unknown> {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'wembo-sidecar-')), 'x.xmp');
  writeFileSync(file, sidecar);
  return exiftool(path.dirname(file), 'x.xmp');
}

const ratingIn = (sidecar: string): number => Number(inSidecar(sidecar)['XMP-xmp:Rating'] ?? 0);

describe('the demo', () => {
  it('opens with one click, on all its drives, and nothing is asked from outside', async () => {
    const { page } = browser;
    expect(await complaints(page)).toEqual([]);
    await page.getByRole('button', { name: 'Open the demo' }).click();
    for (const name of DRIVES) await jobEnded(page, `Catalog: ${name}`);
    await openPlace(page, 'Find');
    await until('every photo once', async () => (await shownCount(page)) === PHOTOS);
    expect(outside).toEqual([]);
  });

  it('is apart from the person’s own photos: a folder dropped on it is not taken', async () => {
    await dropFolder(browser, folder());
    await browser.page.getByText('Leave the demo, then drop the folder again').waitFor();
    expect(await browser.page.getByLabel('What do you call this drive?').count()).toBe(0);
  });

  it('has a tour of five steps that do real things', async () => {
    const { page } = browser;
    const tour = page.getByRole('region', { name: 'Tour of the demo' });
    const step = async (act: string) => {
      await tour.getByRole('button', { name: act }).click();
      return tour.getByRole('button', { name: /^(Next|Done)$/ });
    };
    await tour.getByText('1 of 5').waitFor();
    const one = await step('Take the first one rung up');
    const card = page.getByRole('complementary', { name: 'Record card' });
    await card.getByRole('img', { name: 'rating 4' }).waitFor();
    await one.click();
    const two = await step('Unplug it and write');
    await page.getByText('1 to write').waitFor();
    await page.getByRole('button', { name: /Practice drives · 2 unplugged/ }).waitFor();
    await two.click();
    const three = await step('Plug it in');
    await allWritten(page);
    await three.click();
    const four = await step('Check the copy');
    await page.getByRole('heading', { name: 'Safekeep', level: 1 }).waitFor({ state: 'attached' });
    await until('the damage is found', () => page.getByText('NK4_3008.jpg').first().isVisible());
    await four.click();
    const five = await step('Search for Kvirrulýsið');
    await until(
      'the photos of the boat',
      async () =>
        (await page.getByRole('combobox', { name: 'Search' }).inputValue()) === 'Kvirrulýsið' &&
        (await shownCount(page)) === 11,
    );
    await five.click();
    expect(await tour.count()).toBe(0);
    // it leaves one in front of photos; what it changed is taken back, as anything is
    await page.getByRole('group', { name: 'Wall' }).waitFor();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await allWritten(page);
  });

  it('each place is clean for axe, with a photo selected, several selected, and one large; by day and by night', async () => {
    const { page } = browser;
    const found: string[] = [];
    let screens = 0;
    const look = async (screen: string) => {
      found.push(...(await complaints(page)).map((complaint) => `${screen}: ${complaint}`));
      screens += 1;
    };
    await typeScope(page, 'taken:2004');
    await selectPhoto(page, 'Fishing boats at Klaksvík');
    await page.getByRole('heading', { name: /Copies/ }).waitFor();
    await look('one photo');
    await page.keyboard.press('Control+a');
    await page.getByRole('region', { name: 'Selection' }).waitFor();
    await look('several photos');
    await selectPhoto(page, 'Fishing boats at Klaksvík');
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).waitFor();
    for (const surround of ['Paper', 'Mid-grey', 'Dark']) {
      await page.getByRole('radiogroup', { name: 'Surround' }).getByRole('img', { name: surround }).click();
      await page.keyboard.press('h');
      await page.getByRole('figure', { name: /^Histogram/ }).waitFor();
      await look(`single view on ${surround}`);
      await page.keyboard.press('h');
    }
    await page.keyboard.press('Escape');
    await page.getByText('List', { exact: true }).click();
    await page.getByRole('grid', { name: 'List' }).waitFor();
    await look('list');
    await typeScope(page, '');
    await page.getByText('Look-alikes', { exact: true }).click();
    await page.getByRole('button', { name: 'Select all but the best' }).first().waitFor();
    await look('look-alikes');
    await page.getByText('Wall', { exact: true }).click();
    await page.getByRole('combobox', { name: 'Search' }).fill('boat ratng:3 keyword:');
    await page.getByRole('listbox', { name: 'What can be typed' }).getByRole('option').first().waitFor();
    await look('the line with what it offers');
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.getByRole('button', { name: 'Rules…' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Add a group' }).click();
    await look('rules');
    await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
    await typeScope(page, 'nothing fits this');
    await page.getByRole('button', { name: 'Show all photos' }).waitFor();
    await look('nothing found');
    await typeScope(page, 'set:panorama taken:2020');
    await until('a panorama', async () => (await shownCount(page)) === 4);
    await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
    await page.keyboard.press('b');
    await page.getByRole('region', { name: 'Side by side' }).waitFor();
    await look('side by side');
    await page.keyboard.press('Escape');
    await openPlace(page, 'Sift');
    await look('sift');
    await page.getByRole('button', { name: 'Go through 4 photos' }).click();
    await page.getByRole('complementary', { name: 'Judging' }).waitFor();
    await look('sifting');
    await page.keyboard.press('Escape');
    await openPlace(page, 'Describe');
    for (const desk of ['Captions', 'Keywords', 'Kits', 'Shorthand', 'Table']) {
      await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: desk, exact: true }).click();
      await atRest(page);
      if (desk === 'Keywords') await page.getByRole('treeitem', { name: /^rowing boat/ }).click();
      await look(`Describe, ${desk}`);
    }
    await openPlace(page, 'Locate');
    await typeScope(page, 'taken:2019-07-04');
    for (const desk of ['Map', 'Tracks', 'Place names', 'Spots of your own']) {
      await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: desk, exact: true }).click();
      await atRest(page);
      await look(`Locate, ${desk}`);
    }
    await openPlace(page, 'Send out');
    await choose(page, 'Profile', 'Website');
    await page.getByRole('list', { name: 'Before it goes' }).waitFor();
    for (const desk of ['Deliver', 'Contact sheet', 'Labels']) {
      await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: desk, exact: true }).click();
      await atRest(page);
      await look(`Send out, ${desk}`);
    }
    await typeScope(page, '');
    for (const place of ['Overview', 'Take in', 'Safekeep'] as const) {
      await openPlace(page, place);
      await atRest(page);
      await look(place);
    }
    await page.getByRole('button', { name: 'Dark', exact: true }).click();
    for (const place of [
      'Overview',
      'Take in',
      'Sift',
      'Describe',
      'Locate',
      'Safekeep',
      'Send out',
      'Find',
    ] as const) {
      await openPlace(page, place);
      await atRest(page);
      await look(`${place} in the dark`);
    }
    await page.getByRole('button', { name: 'Light', exact: true }).click();
    expect({ found, screens }).toEqual({ found: [], screens: 36 });
  });

  it('every smart collection finds what a plain filter finds in the catalog’s own records', async () => {
    const { page } = browser;
    const db = new CatalogDatabase('demo-read-back');
    const tables = await page.evaluate(readTables, [
      'photos',
      'files',
      'drives',
      'leftOut',
      'overlaps',
      'deliveries',
      'collections',
      'vocabulary',
    ]);
    for (const [name, rows] of Object.entries(tables)) await db.table(name).bulkPut(rows as object[]);
    const records: SearchRecord[] = [];
    for await (const some of allSearchRecords(db)) records.push(...some);
    const collections = (await db.collections.toArray()).filter(({ kind, deleted }) => kind === 'smart' && !deleted);
    const context = { ...PLAIN_CONTEXT, vocabulary: vocabularyOf(await db.vocabulary.toArray()), nowMs: Date.now() };
    await openPlace(page, 'Find');
    await typeScope(page, '');
    const said: Record<string, number> = {};
    for (const { name } of collections) {
      const line = page
        .getByRole('region', { name: 'Shelf: Collections' })
        .getByRole('button', { name: new RegExp(`^${name}`) });
      said[name] = Number((await line.innerText()).split('\n').at(-1));
    }
    expect(said).toEqual(
      Object.fromEntries(
        collections.map(({ name, scope }) => [
          name,
          records.filter((record) => fits(record, queryOf(parseScope(scope)), context)).length,
        ]),
      ),
    );
    expect(collections.length).toBeGreaterThanOrEqual(8);
    expect(Math.min(...Object.values(said))).toBeGreaterThan(0);
    db.close();
  });

  it('five days with a track are put right, placed and worded: every photo is within two metres of where the script stood', async () => {
    const { page } = browser;
    await placeDay(page, '2019-07-04', { clock: ['Norda K2', '-1:03:20'] });
    await placeDay(page, '2021-06-18');
    await placeDay(page, '2023-03-25');
    await placeDay(page, '2023-03-26', { clock: ['Brim R1', '+1:00:00'] });
    await placeDay(page, '2025-06-14');
    await typeScope(page, '');
    await openPlace(page, 'Find');
  });

  it('is worked by keys alone: along the wall, up the ladder, into the single view and back, undo', async () => {
    const { page } = browser;
    await typeScope(page, 'taken:2019-07');
    await until('the shoot', async () => (await shownCount(page)) === 11);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    const card = page.getByRole('complementary', { name: 'Record card' });
    await page.keyboard.press('d');
    await page.keyboard.press('d');
    await card.getByText('NK4_2032.jpg').first().waitFor();
    await page.keyboard.press('w');
    await card.getByRole('img', { name: 'rating 5' }).waitFor();
    await page.keyboard.press('q');
    await page.getByText('This frame belongs to a bracket of 3').waitFor();
    await page.keyboard.press('Shift+Tab'); // from the whole bracket to this frame alone
    await page.keyboard.press('Enter');
    await card.getByRole('img', { name: 'rejected' }).waitFor();
    await page.keyboard.press('Control+z');
    await card.getByRole('img', { name: 'rating 5' }).waitFor();
    await page.keyboard.press('Control+z');
    await card.getByRole('img', { name: 'rating 4' }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).getByText('2 of 11').waitFor();
    await page.keyboard.press('d');
    await page.getByRole('region', { name: 'Single view' }).getByText('3 of 11').waitFor();
    await page.keyboard.press('Space');
    await page.locator('[data-zoomed=true][data-size=full]').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('group', { name: 'Wall' }).waitFor();
    await page.keyboard.press('t');
    await page.keyboard.press('End');
    await page.keyboard.type(' More.');
    await page.keyboard.press('Control+Enter');
    await card.getByText('NK4_2034.jpg').first().waitFor();
  });

  it('a shoot goes through three rounds by keyboard, with its sets, side by side; what is rejected is set aside and restored, and the files say so', async () => {
    const { page } = browser;
    await typeScope(page, 'taken:2026-05-09');
    await until('the shoot', async () => (await shownCount(page)) === 8);
    await openPlace(page, 'Sift');
    const judging = page.getByRole('complementary', { name: 'Judging' });
    await page.getByRole('button', { name: 'Begin over 8 photos' }).click();
    await judging.getByText('0 of 8 done').waitFor();
    for (const key of 'wwwwwwqs') await page.keyboard.press(key);
    await judging.getByText('8 of 8 done, 0 to do · 6 up (75.0 %), 1 stay, 1 rejected').waitFor();
    await judging.getByRole('button', { name: 'Next round over the 6 that went up' }).click();
    await judging.getByText('0 of 6 done').waitFor();
    for (const key of 'wwwssw') await page.keyboard.press(key);
    await judging.getByRole('button', { name: 'Next round over the 4 that went up' }).click();
    await judging.getByText('0 of 4 done').waitFor();
    await page.keyboard.press('d');
    await page.keyboard.press('b'); // the bracket the second one is of
    await until(
      'three beside each other',
      async () => (await page.getByRole('region', { name: 'Side by side' }).getByRole('article').count()) === 3,
    );
    await page.keyboard.press('Escape');
    await page.getByRole('region', { name: 'Single view' }).getByText('2 of 4').waitFor();
    await page.keyboard.press('a');
    for (const key of 'wwss') await page.keyboard.press(key);
    await judging.getByText('4 of 4 done, 0 to do · 2 up (50.0 %), 2 stay, 0 rejected').waitFor();
    await judging.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Remove 1 photo…' }).click();
    await page.getByRole('button', { name: 'Set 1 photo aside' }).click();
    await allWritten(page);
    const ratings = async (...names: string[]) => {
      const found = await page.evaluate(
        sidecarsNamed,
        names.map((name) => `${name}.xmp`),
      );
      return names.map((name) =>
        found[`${name}.xmp`]?.map(
          ({ path: at, text }) => `${ratingIn(text)} ${at.includes('_wembo/set-aside/') ? 'aside' : 'there'}`,
        ),
      );
    };
    expect(await ratings('NK4_5020', 'NK4_5021', 'NK4_5022', 'NK4_5023', 'NK4_5025', 'R1A4105')).toEqual(
      [['3 there'], ['3 there'], ['4 there'], ['1 there'], ['2 there'], ['-1 aside']].map((one) =>
        expect.arrayContaining(one),
      ),
    );
    await openPlace(page, 'Safekeep');
    await page.getByRole('region', { name: 'Set aside' }).getByText('1 photo,').click();
    await page.getByRole('button', { name: 'Bring back 1 photo' }).click();
    await until('back where it was', async () => (await ratings('R1A4105'))[0]?.includes('-1 there'));
    await openPlace(page, 'Find');
    await until('eight again', async () => (await shownCount(page)) === 8);
  });

  it('a practice drive that is unplugged is away, its changes wait, and are written when it is plugged in', async () => {
    const { page } = browser;
    const studio = () =>
      page.getByRole('region', { name: 'Drives' }).getByRole('listitem').filter({ hasText: 'Studio' }).first();
    await typeScope(page, '');
    await allWritten(page);
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Unplug' }).click();
    await studio().getByRole('button', { name: 'away' }).waitFor();
    await openPlace(page, 'Find');
    await typeScope(page, '"Funningur in January"');
    await until('the away photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Funningur in January');
    await fill(page, 'Title', 'Seen while away');
    await page.getByRole('button', { name: /Studio away · 1 waiting/ }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByText('Its drive is away: this is the small preview.').waitFor();
    await page.keyboard.press('Escape');
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Plug in' }).click();
    await until('nothing waits', async () => (await page.getByText('waits in the outbox').count()) === 0);
  });

  it('drives and card are plugged in and unplugged on the bench, by keys too; a card that appears opens its sheet', async () => {
    const { page } = browser;
    const bench = page.getByRole('button', { name: /^Practice drives/ });
    await bench.focus();
    await page.keyboard.press('Enter');
    const card = page.getByRole('switch', { name: 'Card HS-7 is plugged in' });
    await card.waitFor();
    expect(await complaints(page)).toEqual([]);
    await card.focus();
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: /Practice drives · 2 unplugged/ }).waitFor();
    await page.getByRole('switch', { name: 'Off-site 2023 is plugged in' }).click();
    await page.getByRole('button', { name: /Practice drives · 1 unplugged/ }).waitFor();
    await card.click();
    await until('all are in', async () => !(await bench.innerText()).includes('unplugged'));
    await page.getByText('82 frames on Card HS-7').waitFor();
  });

  it('the card is taken in twice over, by two rules, interrupted and resumed; the frames known from before are left out', async () => {
    const { page } = browser;
    await openPlace(page, 'Take in');
    await tickDemoRun(page);
    const outcome = page.getByRole('complementary', { name: 'Outcome' });
    await outcome.getByText('2026-08-30 Gjógv 0001.jpg').waitFor();
    expect(await complaints(page)).toEqual([]);
    await outcome.getByRole('button', { name: 'Take in 30 photos' }).click();
    await outcome.getByRole('button', { name: 'Cancel' }).click();
    await outcome.getByRole('button', { name: 'Resume' }).first().click();
    await outcome
      .getByText(
        '82 on the card · 4 known from before · 48 left out · 30 on Studio · 30 on Copy, Klaksvík · all checksums equal',
      )
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'All that are new' }).click();
    await page.getByRole('textbox', { name: 'Subject' }).fill('Funningur');
    await page.getByRole('radio', { name: 'as the camera gave them' }).check();
    await page.getByRole('radio', { name: 'as on the card' }).check();
    await outcome.getByRole('button', { name: 'Take in 48 photos' }).click();
    await outcome
      .getByText('82 on the card · 34 known from before · 48 on Studio · 48 on Copy, Klaksvík · all checksums equal')
      .first()
      .waitFor();
    await allWritten(page);
    await page.getByRole('button', { name: 'May it be emptied?' }).click();
    await page.getByText('78 files have 2 verified copies on different drives and may go').waitFor();
    await page.getByText('too few verified copies: 4').waitFor();
    expect(await complaints(page)).toEqual([]);
    await typeScope(page, 'accession:2026.003');
    await until('the second accession', async () => (await shownCount(page)) === 48);
    await typeScope(page, 'accession:2026.001');
    await until('that of before', async () => (await shownCount(page)) === 4);
    await typeScope(page, '');
  });

  it('the shoot that came in is described by kit, runs and captions until nothing is left to do, and the files say what was typed', async () => {
    const { page } = browser;
    const card = page.getByRole('complementary', { name: 'Record card' });
    const all = async () => {
      await page.keyboard.press('Control+a');
      await page.getByText('30 photos selected').waitFor();
    };
    await openPlace(page, 'Find');
    await typeScope(page, 'accession:2026.002');
    await until('the shoot', async () => (await shownCount(page)) === 30);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await all();
    await page.keyboard.press('p');
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /^Gjógv/ })
      .click();
    await page.getByRole('button', { name: 'Put it on 30 photos' }).click();
    await page.getByRole('dialog').waitFor({ state: 'hidden' });
    await fill(page, 'Headline', 'Gjógv, [=date]');
    const tiles = page.getByRole('group', { name: 'Wall' }).getByRole('button');
    await tiles.first().click();
    await tiles.nth(5).click({ modifiers: ['Shift'] });
    await page.getByText('6 photos selected').waitFor();
    await addKeywords(page, 'slip; rowing boat');
    await all();
    await card.getByRole('button', { name: '24 lack it: select the photos without “slip”' }).click();
    await page.getByText('24 photos selected').waitFor();
    await addKeywords(page, 'village');
    await tiles.first().click();
    await openPlace(page, 'Describe');
    await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: 'Captions' }).click();
    const caption = page.getByLabel('Caption', { exact: true });
    for (let number = 1; number <= 30; number++) {
      await page.getByText(`${number} of 30`, { exact: true }).waitFor();
      await until('the blank is chosen', () =>
        caption.evaluate(
          (area: HTMLTextAreaElement) =>
            document.activeElement === area && area.value.slice(area.selectionStart, area.selectionEnd) === '[?Who]',
        ),
      );
      await page.keyboard.type('jp');
      await page.keyboard.press('Tab');
      await page.keyboard.type(` on frame ${number}`);
      await page.keyboard.press('Control+Enter');
    }
    await page.keyboard.press('Escape');
    await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: 'Keywords' }).click();
    await page.getByLabel('New word').fill('Faroe Islands; Gjógv; Eysturoy');
    await page.keyboard.press('Enter');
    const left = page.getByRole('region', { name: 'Left to do' });
    await until('nothing is left to do', async () =>
      (await left.locator('.mono').allInnerTexts()).every((number) => number === '0'),
    );
    await allWritten(page);
    const [copies] = Object.values(await page.evaluate(sidecarsNamed, ['2026-08-30 Gjógv 0004.xmp']));
    expect(copies).toHaveLength(2);
    for (const { text } of copies ?? []) {
      const said = inSidecar(text);
      expect(said['XMP-dc:Description']).toMatch(
        /^Jákup á Tokunesi on frame 4 at the gorge harbour, Gjógv, Eysturoy, Faroe Islands, 30 August 2026\.$/,
      );
      expect(said['XMP-photoshop:Headline']).toBe('Gjógv, 30 August 2026');
      expect(said['XMP-dc:Subject']).toEqual(['Faroe Islands', 'harbour', 'Gjógv', 'Eysturoy', 'slip', 'rowing boat']);
    }
    await openPlace(page, 'Find');
    await typeScope(page, '');
  });

  it('so is the sixth day, which came from the card: nine photos that the receiver did not see keep what the camera says', async () => {
    const { page } = browser;
    await placeDay(page, '2026-08-30', { gapMinutes: 1, notFound: 9 });
    await typeScope(page, '');
    await openPlace(page, 'Find');
  });

  it('its three delivery profiles run: all that was to go arrives, is found by where it went, and no photo is added', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await typeScope(page, '');
    await until('all of them', async () => (await shownCount(page)) > 400);
    const all = await shownCount(page);
    await typeScope(page, 'drive:Studio taken:2020 -rating:-1');
    await until('those of a year', async () => (await shownCount(page)) > 0 && (await shownCount(page)) < all);
    await atRest(page);
    const number = await shownCount(page);
    await openPlace(page, 'Send out');
    const start = page.getByRole('button', { name: `Send out ${number} photos` });
    for (const profile of ['Press', 'Website', 'Exhibition prints']) {
      await choose(page, 'Profile', profile);
      await start.waitFor();
      for (const one of await page.getByRole('list', { name: 'Before it goes' }).getByRole('radiogroup').all())
        await one.getByText('send', { exact: true }).click();
      await until('it may begin', () => start.isEnabled());
      await start.click();
      await page.getByRole('main').getByText(`${profile}: ${number} of ${number} arrived`).waitFor();
    }
    await openPlace(page, 'Find');
    await typeScope(page, 'sent:Website sent:"Press list" sent:"Exhibition prints"');
    await until('what went three times', async () => (await shownCount(page)) === number);
    await typeScope(page, '');
    await until('as many as before', async () => (await shownCount(page)) === all);
  });

  it('goes on where it was when the page is closed while it loads; left, it is gone from the browser', async () => {
    const { page } = browser;
    const leave = async () => {
      await page.getByRole('button', { name: /^Practice drives/ }).click();
      await page.getByRole('button', { name: 'Leave the demo' }).click();
      await page.getByRole('button', { name: 'Leave and remove' }).click();
      await page.getByRole('button', { name: 'Open the demo' }).waitFor();
      await until('it is removed', () =>
        page.evaluate(async () => {
          const root = await navigator.storage.getDirectory();
          const drives = await root.getDirectoryHandle('practice-drives').catch(() => null);
          return drives === null && (await indexedDB.databases()).every(({ name }) => name !== 'wembo-demo');
        }),
      );
    };
    await leave();
    await openPlace(page, 'Find');
    await page.getByText('No photos yet').waitFor();
    await page.getByRole('link', { name: 'Overview' }).click();
    await page.getByRole('button', { name: 'Open the demo' }).click();
    await page.getByText('being laid out').waitFor();
    await page.reload();
    await page.getByText('practice drives of the demo').waitFor();
    for (const name of DRIVES)
      await page
        .getByRole('listitem')
        .filter({ hasText: `Catalog: ${name}` })
        .first()
        .waitFor();
    await leave();
  });
});
