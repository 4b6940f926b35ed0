// Living with a library of some size: the wall holds only what is seen, drives and collections are renamed and the
// names are in the files, several photos are described and undone together.

import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, newFolder, photoBytes, put, read, until } from './folders';
import {
  addKeywords,
  allWritten,
  connectFolder,
  ofDrive,
  openApplication,
  openPlace,
  shownCount,
  typeScope,
} from './person';

const origin = inject('origin');
const PHOTOS = 400;
/** The one of the latest month and minute, so the last on the wall. */
const LATEST = 'Photo 398';
let browser: Browser;
let folder: string;

const tiles = () => browser.page.getByRole('group', { name: 'Wall' }).getByRole('button');
const collectionsFile = () =>
  JSON.parse(read(folder, '_wembo/collections.json').toString('utf8')) as {
    collections: { name: string; scope: string; deleted: boolean }[];
  };

beforeAll(async () => {
  folder = newFolder('Library');
  const captured = (index: number) =>
    `20${String(10 + Math.floor(index / 40)).padStart(2, '0')}:0${1 + (index % 3)}:11 10:${String(index % 60).padStart(2, '0')}:00`;
  for (let index = 0; index < PHOTOS; index++)
    put(
      folder,
      `shoot ${Math.floor(index / 20)}/p${index}.jpg`,
      await photoBytes({
        seed: index + 1,
        width: 240,
        height: index % 7 === 0 ? 360 : 160,
        captured: captured(index),
        headline: `Photo ${index}`,
      }),
    );
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, folder, 'Library');
  await openPlace(browser.page, 'Find');
  await until('all photos', async () => (await shownCount(browser.page)) === PHOTOS);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

describe('the wall', () => {
  it('holds only the photos near the window, and other ones further down', async () => {
    const { page } = browser;
    await until('tiles', async () => (await tiles().count()) > 5);
    expect(await tiles().count()).toBeLessThan(PHOTOS / 2);
    const top = await tiles().first().getAttribute('aria-label');
    await page.getByRole('group', { name: 'Wall' }).evaluate((wall) => wall.scrollTo(0, wall.scrollHeight));
    await until('the last photo', () => page.getByRole('button', { name: LATEST }).isVisible());
    expect(await tiles().first().getAttribute('aria-label')).not.toBe(top);
  });

  it('shows more photos when they are made smaller, by keyboard too', async () => {
    const { page } = browser;
    await page.getByRole('group', { name: 'Wall' }).evaluate((wall) => wall.scrollTo(0, 0));
    const before = await tiles().count();
    const slider = page.getByRole('slider', { name: 'Size of the photos' });
    await slider.focus();
    await slider.press('Home');
    await until('more tiles', async () => (await tiles().count()) > before);
    expect(await page.getByRole('complementary', { name: 'Record card' }).innerText()).toContain('Select a photo');
  });

  it('the almanac narrows to a year and to a month, and widens again', async () => {
    const { page } = browser;
    await page.getByRole('button', { name: 'Year 2012' }).click();
    await until('the photos of 2012', async () => (await shownCount(page)) === 40);
    expect(await page.getByRole('combobox', { name: 'Search' }).inputValue()).toBe('taken:2012');
    await page.getByRole('button', { name: /^Feb 2012/ }).click();
    await until('those of its February', async () => (await shownCount(page)) === 13);
    expect(page.url()).toContain('q=taken');
    await page.reload();
    await until('the scope is in the address', async () => (await shownCount(page)) === 13);
    await page.getByRole('button', { name: /^Feb 2012/ }).click();
    await until('all again', async () => (await shownCount(page)) === PHOTOS);
  });

  it('says plainly when nothing fits, and shows all again at once', async () => {
    await typeScope(browser.page, 'nothing like this rating:x');
    await browser.page.getByText(`None of the ${PHOTOS} photos fits`).waitFor();
    await browser.page.getByText('Not understood, so left out: rating:x').waitFor();
    await browser.page.getByRole('button', { name: 'Show all photos' }).click();
    await until('all again', async () => (await shownCount(browser.page)) === PHOTOS);
  });
});

describe('names', () => {
  it('a drive is renamed; the name is on the drive, in the scope, and undone', async () => {
    const { page } = browser;
    await openPlace(page, 'Overview');
    await ofDrive(page, 'Library', 'Rename…');
    await page.getByRole('textbox', { name: 'Name of the drive' }).fill('Attic ð');
    await page.keyboard.press('Enter');
    await until('the mark on the drive', () =>
      read(folder, '_wembo/drive.json').toString('utf8').includes('"Attic ð"'),
    );
    await openPlace(page, 'Find');
    await typeScope(page, 'drive:"attic d"');
    await until('its photos by the new name', async () => (await shownCount(page)) === PHOTOS);
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('the old name on the drive', () =>
      read(folder, '_wembo/drive.json').toString('utf8').includes('"Library"'),
    );
    await typeScope(page, '');
  });

  it('a smart collection is made, renamed, removed, and brought back by undo', async () => {
    const { page } = browser;
    await typeScope(page, 'taken:2011');
    await page.getByRole('button', { name: 'Save search…' }).click();
    await page.getByLabel('Name of the smart collection').fill('Eleven');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /^Eleven\s*40/ }).waitFor();
    await page.getByRole('button', { name: 'Edit smart collection Eleven' }).click();
    await page.getByRole('tooltip').getByLabel('Name').fill('The year eleven');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /^The year eleven\s*40/ }).waitFor();
    await until('the name on the drive', () => collectionsFile().collections[0]?.name === 'The year eleven');
    await page.getByRole('button', { name: /Remove/ }).click();
    await until('a tombstone on the drive', () => collectionsFile().collections[0]?.deleted === true);
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: /^The year eleven\s*40/ }).waitFor();
    await until('it is back on the drive', () => collectionsFile().collections[0]?.deleted === false);
  });
});

describe('many at once', () => {
  it('keywords are added to and taken from forty photos, counted, and one undo takes each back', async () => {
    const { page } = browser;
    // the search of the case before has forty photos, too: which forty these are must be seen
    await typeScope(page, '');
    await until('all', async () => (await shownCount(page)) === PHOTOS);
    await typeScope(page, 'taken:2013');
    await until('forty', async () => (await shownCount(page)) === 40);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.keyboard.press('Control+a');
    await addKeywords(page, 'wool; turf roof');
    await page.getByRole('button', { name: 'Take away “turf roof”' }).waitFor();
    const subject = (index: number) =>
      exiftool(folder, `shoot ${Math.floor(index / 20)}/p${index}.xmp`)['XMP-dc:Subject'];
    await until('the last of the forty has both', () => JSON.stringify(subject(159)) === '["wool","turf roof"]');
    await page.getByRole('button', { name: 'Take away “wool”' }).click();
    await until(
      'one is gone from each',
      () => JSON.stringify(subject(120)) === '["turf roof"]' && JSON.stringify(subject(159)) === '["turf roof"]',
    );
    await page.getByRole('region', { name: 'Selection' }).getByText('40 photos selected').waitFor();
    await page.keyboard.press('Control+z');
    await until('it is back', () => JSON.stringify(subject(120)) === '["wool","turf roof"]');
    await page.keyboard.press('Control+z');
    await until('both are gone', () => subject(120) === undefined && subject(159) === undefined);
  });

  it('four hundred rejected at once are one change, and one undo takes it back', async () => {
    const { page } = browser;
    await typeScope(page, '');
    await until('all', async () => (await shownCount(page)) === PHOTOS);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.keyboard.press('Control+a');
    await page.keyboard.press('q');
    await page.getByRole('region', { name: 'Selection' }).getByText('400 rejected').waitFor();
    await allWritten(page);
    expect(exiftool(folder, 'shoot 3/p61.xmp')['XMP-xmp:Rating']).toBe(-1);
    await page.keyboard.press('Control+z');
    await page.getByRole('region', { name: 'Selection' }).getByText('400 unrated').waitFor();
    await allWritten(page);
    expect(exiftool(folder, 'shoot 3/p61.xmp')['XMP-xmp:Rating']).toBeUndefined();
  });
});
