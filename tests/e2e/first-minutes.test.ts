// The first ten minutes with a folder of one's own: begin, see the wall while cataloging goes on, find, rate ten,
// describe five, place three, copy, check; and what is met on the way: menus, panels, rules, words by ticking.

import { afterAll, beforeAll, expect, inject } from 'vitest';
import { complaints } from './axe';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { exiftool, newFolder, photoBytes, put, sha256sum, until } from './folders';
import {
  addKeywords,
  allWritten,
  atRest,
  choose,
  connectFolder,
  drives,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  tick,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
const PHOTOS = 60;
const studio = newFolder('Studio');
const cellar = newFolder('Cellar');
let browser: Browser;
/** Screens that axe looked at. */
let looked = 0;

beforeAll(async () => {
  for (let index = 1; index <= PHOTOS; index++)
    put(
      studio,
      `IMG_${String(index).padStart(4, '0')}.jpg`,
      await photoBytes({
        seed: index,
        width: 1200,
        height: 800,
        captured: `${index <= 20 ? 2019 : 2020}:07:04 10:${String(index % 60).padStart(2, '0')}:00`,
        headline: `Photo ${index}`,
      }),
    );
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

const sidecar = (index: number) => exiftool(studio, `IMG_${String(index).padStart(4, '0')}.xmp`);
const words = (index: number): unknown[] => [sidecar(index)['XMP-dc:Subject'] ?? []].flat();
const wall = () => browser.page.getByRole('group', { name: 'Wall' });
const tileMenu = () => browser.page.getByRole('menu').first();

async function openKeywords(): Promise<void> {
  await openPlace(browser.page, 'Describe');
  await browser.page.getByRole('navigation', { name: 'Desks' }).getByText('Keywords').click();
}

async function clean(screen: string): Promise<void> {
  await atRest(browser.page);
  expect(await complaints(browser.page), screen).toEqual([]);
  looked += 1;
}

story('the first ten minutes', (step) => {
  step('begins in front of pictures, and sees the wall while the folder is still being cataloged', async () => {
    const { page } = browser;
    const pictures = page.locator('main img');
    expect(await pictures.count()).toBeGreaterThan(3);
    await until('the pictures are drawn', () =>
      pictures.evaluateAll((all) => all.every((one) => (one as HTMLImageElement).naturalWidth > 0)),
    );
    await clean('Begin');
    await dropFolder(browser, studio);
    await page.getByLabel('What do you call this drive?').fill('Studio');
    await page.getByRole('button', { name: 'Connect and catalog' }).click();
    await openPlace(page, 'Find');
    const first = await until('photos on the wall', () => shownCount(page));
    expect(first, 'the wall fills while the folder is read').toBeLessThan(PHOTOS);
    await until('all of them', async () => (await shownCount(page)) === PHOTOS);
    await openPlace(page, 'Overview');
    await jobEnded(page, 'Catalog: Studio');
    await connectFolder(browser, cellar, 'Cellar');
    await clean('Overview');
  });

  step('finds by a sentence: one reading, with its count, taken by Enter', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    const line = page.getByRole('combobox', { name: 'Search' });
    await line.fill('level pictures in 2019');
    await page.getByRole('option', { name: 'Read as orientation:level taken:2019 20 photos Use Enter' }).waitFor();
    expect(await page.getByRole('option').count()).toBe(1);
    await clean('Find, the line open');
    await line.press('Enter');
    expect(await line.inputValue()).toBe('orientation:level taken:2019');
    await until('those of 2019', async () => (await shownCount(page)) === 20);
    await line.press('Escape');
  });

  step('rates ten by keys, and makes one a favourite', async () => {
    const { page } = browser;
    await typeScope(page, '');
    await selectPhoto(page, 'Photo 1');
    for (let index = 1; index <= 10; index++) {
      await page.keyboard.press(String((index % 5) + 1));
      await page.keyboard.press('d');
    }
    await selectPhoto(page, 'Photo 3');
    await page.keyboard.press('v');
    await until(
      'they are in the files',
      () => sidecar(10)['XMP-xmp:Rating'] === 1 && sidecar(3)['XMP-xmp:Label'] === 'favourite',
    );
    expect([1, 2, 3, 4].map((index) => sidecar(index)['XMP-xmp:Rating'])).toEqual([2, 3, 4, 5]);
  });

  step('describes five, one after the other, and asks what belongs into a field', async () => {
    const { page } = browser;
    await selectPhoto(page, 'Photo 1');
    await page.getByLabel('Headline', { exact: true }).and(page.locator('[value="Photo 1"]')).waitFor();
    // as fast as keys can be pressed: no word goes to another photo, and none is taken for a key
    await page.keyboard.press('t');
    for (let index = 1; index <= 5; index++) {
      await page.keyboard.type(`Described ${index}`);
      await page.keyboard.press('Control+Enter');
    }
    await until('they are in the files', () => sidecar(5)['XMP-dc:Description'] === 'Described 5');
    expect([1, 2, 3, 4].map((index) => sidecar(index)['XMP-dc:Description'])).toEqual(
      [1, 2, 3, 4].map((index) => `Described ${index}`),
    );
    expect([1, 2, 3, 4].map((index) => sidecar(index)['XMP-xmp:Rating'])).toEqual([2, 3, 4, 5]);
    const headline = page.getByRole('textbox', { name: 'Headline', exact: true });
    await headline.focus();
    await headline.press('F1');
    await page.getByText('What the picture shows, in a line. Example: Launching after the third refit').waitFor();
    await headline.press('F1');
    await headline.blur();
  });

  step('gives words by ticking; one that is not in the vocabulary says so, and waits to be accepted', async () => {
    const { page } = browser;
    await openKeywords();
    await page.getByLabel('New word').fill('harbour; slip; boat');
    await page.getByLabel('New word').press('Enter');
    await page.getByRole('tree', { name: 'Vocabulary' }).getByRole('treeitem', { name: 'slip' }).waitFor();
    await openPlace(page, 'Find');
    await selectPhoto(page, 'Photo 1');
    await addKeywords(page, 'harbor');
    const card = page.getByRole('complementary', { name: 'Record card' });
    await card.getByRole('button', { name: 'new: “harbor” is not in the vocabulary' }).click();
    await page.getByRole('button', { name: '“harbour” was meant' }).click();
    await card.getByRole('button', { name: 'Take away “harbour”' }).waitFor();
    await until('the right word is in the file', () => words(1).join() === 'harbour');
    await wall()
      .getByRole('button')
      .nth(2)
      .click({ modifiers: ['Shift'] });
    await page.getByText('3 photos selected').waitFor();
    await card.getByRole('button', { name: 'Tick…' }).click();
    const tree = page.getByRole('tree', { name: 'Words to tick' });
    const box = (word: string) => tree.getByRole('treeitem', { name: word }).locator('.ant-tree-checkbox');
    await until('some have it', async () => (await box('harbour').getAttribute('aria-checked')) === 'mixed');
    await clean('Find, words by ticking');
    await box('harbour').click();
    await box('slip').click();
    await card.getByRole('button', { name: 'Take away “slip”' }).waitFor();
    await page.keyboard.press('Escape');
    await until('they are in the files', () => [1, 2, 3].every((index) => words(index).join() === 'harbour,slip'));
    await addKeywords(page, 'jolle');
    await openKeywords();
    await page.getByRole('tab', { name: 'New' }).click();
    await tick(page.getByRole('checkbox', { name: 'jolle' }), true);
    await page.getByRole('button', { name: 'It belongs to the vocabulary' }).click();
    await page.getByRole('tree', { name: 'Vocabulary' }).getByRole('treeitem', { name: 'jolle' }).waitFor();
    await page.getByText('Every keyword of a photo is in the vocabulary.').waitFor();
    await clean('Describe, Keywords');
  });

  step('places three', async () => {
    const { page } = browser;
    await openPlace(page, 'Locate');
    await page.getByText('3 photos selected').first().waitFor();
    const where = page.getByRole('combobox', { name: 'Put them at' });
    await where.fill('klaksvík');
    await page.locator('.ant-select-dropdown:visible').getByText('Klaksvík, Norðoyar, Faroe Islands').click();
    await until('their places are in the files', () =>
      String(sidecar(3)['XMP-exif:GPSLatitude']).startsWith('62 deg 13'),
    );
    await clean('Locate');
  });

  step('reaches what can be done by the right button and by the menu key', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await wall().getByRole('button').nth(7).click({ button: 'right' });
    await tileMenu().getByRole('menuitem', { name: 'Favourite' }).waitFor();
    await clean('Find, the menu of a photo');
    await tileMenu().getByRole('menuitem', { name: 'Favourite' }).click();
    await until('it is in the file', () => sidecar(8)['XMP-xmp:Label'] === 'favourite');
    await wall().getByRole('button').nth(7).focus();
    await page.keyboard.press('Shift+F10');
    await tileMenu().getByRole('menuitem', { name: 'Remove…' }).click();
    await page.getByRole('dialog').getByText('1 photo to go').waitFor();
    await page.keyboard.press('Escape');
  });

  step('puts a range together by rules, in two boxes', async () => {
    const { page } = browser;
    await typeScope(page, 'rating:2..4');
    await page.getByRole('button', { name: 'Rules…' }).click();
    const rules = page.getByRole('dialog');
    expect(await rules.getByLabel('From').inputValue()).toBe('2');
    await rules.getByLabel('To').fill('3');
    await rules.getByLabel('To').press('Tab'); // an open list of the library names a line that is not there
    await clean('Rules');
    await rules.getByRole('button', { name: 'Use these rules' }).click();
    expect(await page.getByRole('combobox', { name: 'Search' }).inputValue()).toBe('rating:2..3');
    await until('those on two rungs', async () => (await shownCount(page)) === 4);
    await typeScope(page, '');
  });

  step(
    'widens and folds a panel; it stays so; side by side makes room by itself; full screen is the picture',
    async () => {
      const { page } = browser;
      const edge = page.getByRole('separator', { name: 'Width of Record card' });
      const before = Number(await edge.getAttribute('aria-valuenow'));
      await edge.focus();
      await page.keyboard.press('ArrowLeft');
      await page.getByRole('button', { name: 'Fold Shelves' }).click();
      await page.reload();
      await page.getByRole('button', { name: 'Unfold Shelves' }).waitFor();
      expect(Number(await edge.getAttribute('aria-valuenow'))).toBeGreaterThan(before);
      await page.getByRole('button', { name: 'Unfold Shelves' }).click();
      await selectPhoto(page, 'Photo 1');
      await wall()
        .getByRole('button')
        .nth(2)
        .click({ modifiers: ['Shift'] });
      await page.keyboard.press('b');
      const beside = page.getByRole('region', { name: 'Side by side' });
      await beside.waitFor();
      const widths = await beside
        .getByRole('article')
        .evaluateAll((all) => all.map((one) => one.getBoundingClientRect().width));
      expect(Math.min(...widths), 'a third of the window each').toBeGreaterThan(370);
      expect(await page.getByRole('complementary', { name: 'Record card' }).count()).toBe(0);
      await clean('Side by side');
      await page.keyboard.press('Escape');
      await page.getByRole('complementary', { name: 'Record card' }).waitFor();
      await page.keyboard.press('Enter');
      await page.keyboard.press('Shift+Enter');
      await until('full screen', () => page.evaluate('document.fullscreenElement !== null'));
      const room = await page.locator('[data-photo-shown]').first().boundingBox();
      const screen = page.viewportSize();
      expect([room?.width, room?.height]).toEqual([screen?.width, screen?.height]);
      await page.keyboard.press('Shift+Enter');
      await page.keyboard.press('Escape');
    },
  );

  step('copies, and checks what was copied', async () => {
    const { page } = browser;
    await allWritten(page);
    await openPlace(page, 'Safekeep');
    await drives(page, 'Studio', 'Cellar');
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Studio → Cellar');
    await page.getByRole('button', { name: 'Check Cellar' }).click();
    await jobEnded(page, 'Check: Cellar');
    expect(sha256sum(cellar).output.match(/: OK/g)).toHaveLength(PHOTOS);
    expect(exiftool(cellar, 'IMG_0001.xmp')).toMatchObject({
      'XMP-xmp:Rating': 2,
      'XMP-dc:Description': 'Described 1',
      'XMP-dc:Subject': ['harbour', 'slip', 'jolle'],
    });
    await clean('Safekeep');
  });

  step('goes on from Overview the next morning: a year, what is unfinished, the menu of a drive', async () => {
    const { page } = browser;
    await openPlace(page, 'Overview');
    const years = page.getByRole('region', { name: 'Years' });
    await choose(page, 'Divide the years', 'by camera');
    await years.getByRole('figure', { name: 'Photos from 2019 to 2020; the most, 40, in 2020' }).waitFor();
    await years.locator('.recharts-bar-rectangle').first().click();
    await until('the photos of that year', async () => (await shownCount(page)) === 20);
    expect(await page.getByRole('combobox', { name: 'Search' }).inputValue()).toContain('taken:2019');
    await openPlace(page, 'Overview');
    await page
      .getByRole('region', { name: 'Unfinished' })
      .getByRole('link', { name: /^57 without a place/ })
      .click();
    await until('those without a place', async () => (await shownCount(page)) === PHOTOS - 3);
    await openPlace(page, 'Overview');
    const row = page.getByRole('region', { name: 'Drives' }).getByRole('listitem').filter({ hasText: 'Cellar' });
    await row.click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Rename…' }).click();
    await page.getByLabel('Name of the drive').press('Escape'); // its name is what is being written
    await clean('Overview, with work done');
    expect(looked).toBe(11);
  });
});
