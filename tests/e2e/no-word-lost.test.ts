// What a person must be able to trust of words, on real folders: two browsers and two tabs on one drive, a rebuild with
// one drive behind, a clock set back, files of ours that were cut, an older tab, and the history of a photo. Judged by
// the files themselves, and by ExifTool.

import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterEach, beforeEach, expect, inject, it } from 'vitest';
import { complaints } from './axe';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { digestsOf, exiftool, filesIn, newFolder, read, sha256sum, until } from './folders';
import {
  allWritten,
  connectFolder,
  drivePhotos,
  drives,
  fill,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
} from './person';

const origin = inject('origin');
const open: Browser[] = [];

beforeEach(async () => {
  await newBrowser();
});

afterEach(async () => {
  for (const browser of open.splice(0)) {
    await browser.close();
    removeProfile(browser.profile);
  }
});

async function newBrowser(): Promise<Browser> {
  const browser = await openBrowser({ origin });
  open.push(browser);
  await openApplication(browser.page, origin);
  return browser;
}

const first = () => open[0]!;

/** Connects a folder that bears a mark already. */
async function connectAgain(browser: Browser, folder: string, name: string): Promise<void> {
  await dropFolder(browser, folder);
  await openPlace(browser.page, 'Overview');
  await jobEnded(browser.page, `Catalog: ${name}`);
}

/** Has the drive looked through, and waits until what it says has come in. */
async function scanForChanges(page: Page): Promise<void> {
  await openPlace(page, 'Overview');
  await page.getByRole('button', { name: 'Scan for changes' }).first().click();
  await page.getByText('nothing running').waitFor();
  await allWritten(page);
  await openPlace(page, 'Find');
}

const headline = (page: Page) =>
  page.getByRole('complementary', { name: 'Record card' }).getByLabel('Headline', { exact: true });
const says = (page: Page, text: string) =>
  until(`the card says ${text}`, async () => (await headline(page).inputValue()) === text);
const headlineIn = (folder: string, file: string) =>
  existsSync(path.join(folder, file)) ? exiftool(folder, file)['XMP-photoshop:Headline'] : undefined;

it('two browsers on one folder: what one says in turn the other hears; said at once, both are kept until one decides, and the other hears that', async () => {
  const one = first();
  const folder = await drivePhotos(one, 2);
  const two = await newBrowser();
  await connectAgain(two, folder, 'Studio');
  await openPlace(one.page, 'Find');
  await selectPhoto(one.page, 'Photo 1');
  await fill(one.page, 'Headline', 'said by one');
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'said by one');
  await scanForChanges(two.page);
  await selectPhoto(two.page, 'said by one');

  await fill(two.page, 'Headline', 'said by two');
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'said by two');
  await fill(one.page, 'Headline', 'said by one again');
  const versions = one.page.getByRole('region', { name: 'Two versions' });
  await versions.waitFor();
  expect(await versions.innerText()).toMatch(/Headline\s+said by one again\s+said by two/);
  expect(headlineIn(folder, 'p1.xmp')).toBe('said by two');

  await versions.getByRole('button', { name: 'Keep what is here' }).click();
  await until('the decision', () => headlineIn(folder, 'p1.xmp') === 'said by one again');
  await scanForChanges(two.page);
  await selectPhoto(two.page, 'said by one again');
  await says(two.page, 'said by one again');
  expect(await two.page.getByRole('region', { name: 'Two versions' }).count()).toBe(0);
  // the decision is taken back: both versions stand against each other again
  await one.page.keyboard.press('Control+z');
  await versions.waitFor();
});

it.each([
  [0, 1, 2],
  [1, 2, 0],
  [2, 0, 1],
])('a rebuild with one drive behind says what was said last, in the order %i, %i, %i', async (...order) => {
  const { page } = first();
  const folders = [await drivePhotos(first(), 1), newFolder('Cellar'), newFolder('Vault')];
  const names = ['Studio', 'Cellar', 'Vault'];
  for (const at of [1, 2]) {
    await connectFolder(first(), folders[at]!, names[at]!);
    await openPlace(page, 'Safekeep');
    await drives(page, 'Studio', names[at]!);
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, `Second copy: Studio → ${names[at]!}`);
  }
  await openPlace(page, 'Find');
  await selectPhoto(page, 'Photo 1');
  await fill(page, 'City', 'Gjógv');
  await fill(page, 'Headline', 'before');
  await until('all three', () => folders.every((folder) => headlineIn(folder, 'p1.xmp') === 'before'));
  await allWritten(page);
  const away = path.join(newFolder('unplugged'), 'Cellar');
  renameSync(folders[1]!, away);
  await fill(page, 'Headline', 'after');
  await fill(page, 'City', '');
  await until('the two that are there', () =>
    [0, 2].every(
      (at) =>
        headlineIn(folders[at]!, 'p1.xmp') === 'after' &&
        exiftool(folders[at]!, 'p1.xmp')['XMP-photoshop:City'] === undefined,
    ),
  );
  renameSync(away, folders[1]!);

  const again = await newBrowser();
  await first().close();
  for (const at of order) await connectAgain(again, folders[at]!, names[at]!);
  await openPlace(again.page, 'Find');
  await selectPhoto(again.page, 'after');
  await says(again.page, 'after');
  expect(
    await again.page
      .getByRole('complementary', { name: 'Record card' })
      .getByLabel('City', { exact: true })
      .inputValue(),
  ).toBe('');
  await until('the drive that was behind', () => headlineIn(folders[1]!, 'p1.xmp') === 'after');
  for (const folder of folders) expect(exiftool(folder, 'p1.xmp')['XMP-photoshop:City']).toBeUndefined();
  await allWritten(again.page);
  expect(await again.page.getByRole('region', { name: 'Two versions' }).count()).toBe(0);
});

it('a clock that is set back an hour takes back neither a word nor a collection; a name of 600 letters is refused where it is entered', async () => {
  const { page, context } = first();
  const folder = await drivePhotos(first(), 2);
  const collections = () =>
    existsSync(path.join(folder, '_wembo/collections.json'))
      ? read(folder, '_wembo/collections.json').toString('utf8')
      : '';
  await openPlace(page, 'Find');
  await selectPhoto(page, 'Photo 1');
  await fill(page, 'Headline', 'before');
  await nameCollection(page, 'x'.repeat(600));
  await page.getByText('The name has 600 letters; at most 500 can be kept').waitFor();
  await page.getByRole('textbox', { name: 'Name of the collection' }).fill('Boats');
  await page.getByRole('textbox', { name: 'Name of the collection' }).press('Enter');
  await until('the collection', () => collections().includes('Boats'));
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'before');

  await context.addInitScript(() => {
    const { now } = Date;
    Date.now = () => now() - 3_600_000;
  });
  await page.reload();
  await openPlace(page, 'Find');
  await page.getByRole('button', { name: 'Edit collection Boats' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Boats and lights');
  await page.getByLabel('Name', { exact: true }).press('Enter');
  await page.keyboard.press('Escape');
  await selectPhoto(page, 'before');
  await fill(page, 'Headline', 'after');
  await until('the collection', () => collections().includes('Boats and lights'));
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'after');
  await scanForChanges(page);
  await selectPhoto(page, 'after');
  await says(page, 'after');
  await page.getByRole('navigation', { name: 'Shelves' }).getByText('Boats and lights').waitFor();
});

async function nameCollection(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New…' }).click();
  await page.getByRole('menuitem', { name: /^Collection with the/ }).click();
  await page.getByRole('textbox', { name: 'Name of the collection' }).fill(name);
}

it('a shelf that was cut is kept aside and written anew, one of a later version is left until the person says so; Overview names both', async () => {
  const { page } = first();
  const folder = await drivePhotos(first(), 2);
  await openPlace(page, 'Find');
  await selectPhoto(page, 'Photo 1');
  await nameCollection(page, 'Boats');
  await page.getByRole('textbox', { name: 'Name of the collection' }).press('Enter');
  const shelf = path.join(folder, '_wembo/collections.json');
  await until('the collection', () => existsSync(shelf) && readFileSync(shelf, 'utf8').includes('Boats'));
  await allWritten(page);
  writeFileSync(shelf, readFileSync(shelf).subarray(0, 60));
  const newer = '{"format":"wembo-kits","version":9,"kits":[]}';
  writeFileSync(path.join(folder, '_wembo/kits.json'), newer);
  await openPlace(page, 'Overview');
  await page.getByRole('button', { name: 'Scan for changes' }).click();
  const told = page.getByRole('region', { name: 'Files of ours that could not be read' });
  await told.getByText('It is kept aside as _wembo/kept-aside/collections.json').waitFor();
  await until('it is written anew', () => readFileSync(shelf, 'utf8').includes('Boats'));
  expect(readFileSync(path.join(folder, '_wembo/kept-aside/collections.json')).length).toBe(60);
  expect(readFileSync(path.join(folder, '_wembo/kits.json'), 'utf8')).toBe(newer);
  await told.getByRole('button', { name: 'Understood' }).click();
  await told.getByRole('button', { name: 'Keep aside and write anew' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Keep aside and write anew' }).click();
  await told.getByText('It is kept aside as _wembo/kept-aside/kits.json').waitFor();
  await until('it is there', () => existsSync(path.join(folder, '_wembo/kept-aside/kits.json'))); // told first, then done
  expect(readFileSync(path.join(folder, '_wembo/kept-aside/kits.json'), 'utf8')).toBe(newer);
  await told.getByRole('button', { name: 'Understood' }).click();
  await told.waitFor({ state: 'detached' });
  expect(sha256sum(folder).ok).toBe(true);
});

it('a drive that is connected in one tab is at hand in the other; a tab of an older version stops, says so, and writes nothing any more', async () => {
  const { page, context } = first();
  const other = await context.newPage();
  await openApplication(other, origin);
  await page.bringToFront();
  const folder = await drivePhotos(first(), 2);
  await openPlace(other, 'Find');
  await until('its photos', async () => (await shownCount(other)) === 2);
  await selectPhoto(other, 'Photo 2');
  await fill(other, 'Headline', 'said in the other tab');
  await until('the sidecar', () => headlineIn(folder, 'p2.xmp') === 'said in the other tab');
  await openPlace(other, 'Overview');
  await other.getByText('connected', { exact: true }).waitFor();
  await allWritten(other);

  const newer = await context.newPage();
  await newer.goto(`${origin}/favicon.ico`);
  const openNewer = () =>
    newer.evaluate(async () => {
      for (const { name = '' } of await indexedDB.databases()) {
        await new Promise((resolve) => {
          const opening = indexedDB.open(name, 990);
          opening.onsuccess = resolve;
          opening.onerror = resolve;
        });
      }
    });
  await openNewer();
  for (const tab of [page, other])
    await tab.getByRole('heading', { name: 'A newer version of Wembo is open in another tab' }).waitFor();
  const before = digestsOf(folder);
  await other.waitForTimeout(3000); // nothing is to happen, however long one waits
  expect(digestsOf(folder)).toEqual(before);
  // reloaded, this old version still refuses
  await other.getByRole('button', { name: 'Reload this tab' }).click();
  await other.getByRole('heading', { name: 'A newer version of Wembo is open in another tab' }).waitFor();
});

it('the history of a photo says what was changed and by whom, leads back to it, and is there after a rebuild', async () => {
  const { page } = first();
  const folder = await drivePhotos(first(), 1);
  await openPlace(page, 'Find');
  await selectPhoto(page, 'Photo 1');
  await fill(page, 'Headline', 'one');
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'one');
  await fill(page, 'City', 'Gjógv');
  await fill(page, 'Headline', 'two');
  await until('the sidecar', () => headlineIn(folder, 'p1.xmp') === 'two');
  const history = page.getByRole('list', { name: 'History' });
  await page.getByRole('button', { name: 'History' }).click();
  await history.getByRole('button', { name: 'Headline back to one' }).click();
  await says(page, 'one');
  await history.getByRole('listitem').last().getByRole('button', { name: 'All words back to this (1 field)' }).click();
  await until('the city is gone', async () =>
    (await history.getByRole('listitem').first().innerText()).includes('Gjógv'),
  );
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await until('the city is back', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
  await allWritten(page);
  await until('the history on the drive', () =>
    filesIn(folder).some(
      (file) =>
        /_wembo\/history\/\d{4}\/c\w+-000000\.jsonl$/.test(file) &&
        read(folder, file).toString('utf8').split('\n').length >= 8,
    ),
  );

  const again = await newBrowser();
  await first().close();
  await connectAgain(again, folder, 'Studio');
  await openPlace(again.page, 'Find');
  await selectPhoto(again.page, 'one');
  await again.page.getByRole('button', { name: 'History' }).click();
  const events = again.page.getByRole('list', { name: 'History' }).getByRole('listitem');
  await until('all that happened', async () => (await events.count()) === 6);
  expect(await events.first().innerText()).toContain('taken back: changed, in another catalog');
});

it('a sidecar that was left behind by its photo is found, and joined to it: what both say is in the sidecar, and neither is lost', async () => {
  const { page } = first();
  const folder = await drivePhotos(first(), 2);
  await openPlace(page, 'Find');
  await page.locator('[data-photo]').first().click();
  await fill(page, 'City', 'Gjógv');
  const before = (await until('the sidecar', () => filesIn(folder).find((file) => /^p\d\.xmp$/.test(file)))) ?? '';
  const photo = before.replace('xmp', 'jpg');
  await allWritten(page);
  // another program moves the photo without it, and says something in what it left
  mkdirSync(path.join(folder, 'elsewhere'));
  const moved = `elsewhere/${path.basename(photo)}`;
  renameSync(path.join(folder, photo), path.join(folder, moved));
  execFileSync('exiftool', [
    '-q',
    '-overwrite_original',
    '-XMP-photoshop:Headline=The slip',
    path.join(folder, before),
  ]);
  await scanForChanges(page);
  const after = moved.replace(/jpg$/, 'xmp');
  await until('its words follow it', () => filesIn(folder).includes(after));
  await openPlace(page, 'Safekeep');
  const panel = page.getByRole('region', { name: 'Sidecars left behind' });
  await panel.getByText(moved).waitFor();
  expect(await complaints(page)).toEqual([]);
  await panel.getByRole('button', { name: `Put it beside its photo: ${before}` }).click();
  await panel.waitFor({ state: 'detached' });
  await until('both are there', () => exiftool(folder, after)['XMP-photoshop:Headline'] === 'The slip');
  expect(exiftool(folder, after)['XMP-photoshop:City']).toBe('Gjógv');
  expect(filesIn(folder)).not.toContain(before);
  expect(filesIn(folder).filter((file) => file.startsWith('_wembo/set-aside/') && file.endsWith(before))).toHaveLength(
    1,
  );
});
