// The demo, as a newcomer meets it, and what holds on every screen: it loads, every place has something to show, the
// tour does what it says, practice drives can be taken out and put in, it can be left, and axe finds nothing to complain of.

import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { isPhotoName } from '@/core/containers/formats';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { until } from './folders';
import { fill, jobEnded, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';

const origin = inject('origin');
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const index = JSON.parse(readFileSync('.demo/index.json', 'utf8')) as { drives: { name: string; folder: string; packs: { files: { path: string; bytes: number }[] }[] }[] };
/** Photos by their content: a copy is the same photo, and a damaged copy is still its photo. */
const PHOTOS = new Set(index.drives.filter(({ name }) => !name.startsWith('Copy')).flatMap(({ folder: at, packs }) => packs.flatMap(({ files }) => files.map((file) => ({ ...file, at })))).filter((file) => isPhotoName(file.path) && file.bytes > 0).map((file) => createHash('sha256').update(readFileSync(`.demo/${file.at}/${file.path}`)).digest('hex'))).size;
/** Twelve hundred files on a busy machine of two cores. */
const CATALOG_MS = 400_000;
let browser: Browser;
const folder = () => mkdtempSync(path.join(tmpdir(), 'wembo-own-'));
const outside: string[] = [];

beforeAll(async () => {
  browser = await openBrowser({ origin });
  browser.page.on('request', (request) => {
    if (!request.url().startsWith(origin) && !request.url().startsWith('blob:') && !request.url().startsWith('data:')) outside.push(request.url());
  });
  await openApplication(browser.page, origin);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

async function complaints(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    const { violations } = await (window as unknown as { axe: { run: (context: unknown, options: unknown) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> } }).axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] });
    return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).slice(0, 3).join(' | ')}`);
  });
}

describe('the demo', () => {
  it('opens with one click, on all its drives, and nothing is asked from outside', async () => {
    const { page } = browser;
    expect(await complaints(page)).toEqual([]);
    await page.getByRole('button', { name: 'Open the demo' }).click();
    for (const { name } of index.drives) await jobEnded(page, `Catalog: ${name}`, CATALOG_MS);
    await openPlace(page, 'Find');
    await until('every photo once', async () => (await shownCount(page)) === PHOTOS);
    expect(outside).toEqual([]);
  }, CATALOG_MS + 60_000);

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
    const one = await step('Search for Norðlýsið');
    await until('the photos of the boat', async () => (await page.getByRole('textbox', { name: 'Scope' }).inputValue()) === 'Norðlýsið' && (await shownCount(page)) === 11);
    await one.click();
    const two = await step('Take the first one rung up');
    const card = page.getByRole('complementary', { name: 'Record card' });
    await card.getByRole('img', { name: 'rating 4' }).waitFor();
    await two.click();
    const three = await step('Take it out and write');
    await page.getByText('1 to write').waitFor();
    await page.getByRole('button', { name: /Practice drives · 2 out/ }).waitFor();
    await three.click();
    const four = await step('Put it in');
    await until('it is written', async () => (await page.getByText('to write').count()) === 0);
    await four.click();
    const five = await step('Check the copy');
    await page.getByRole('heading', { name: 'Safekeep', level: 1 }).waitFor({ state: 'attached' });
    await until('the damage is found', () => page.getByText('NK4_3008.jpg').first().isVisible(), 120_000);
    await five.click();
    expect(await tour.count()).toBe(0);
    // what the tour changed is taken back, as anything is
    await openPlace(page, 'Find');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await until('taken back and written', async () => (await page.getByText('to write').count()) === 0);
  });

  it('each place is clean for axe, with a photo selected, several selected, and one large; by day and by night', async () => {
    const { page } = browser;
    const found: string[] = [];
    const look = async (screen: string) => found.push(...(await complaints(page)).map((complaint) => `${screen}: ${complaint}`));
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
    await look('single view');
    await page.keyboard.press('Escape');
    for (const place of ['Overview', 'Safekeep'] as const) {
      await openPlace(page, place);
      await page.waitForTimeout(400);
      await look(place);
    }
    await page.getByRole('button', { name: 'Dark room' }).click();
    for (const place of ['Overview', 'Safekeep', 'Find'] as const) {
      await openPlace(page, place);
      await page.waitForTimeout(400);
      await look(`${place} in the dark`);
    }
    await page.getByRole('button', { name: 'Light room' }).click();
    expect(found).toEqual([]);
  });

  it('is worked by keys alone: along the wall, up the ladder, into the single view and back, undo', async () => {
    const { page } = browser;
    await typeScope(page, 'taken:2019-07');
    await until('the shoot', async () => (await shownCount(page)) === 11);
    await page.getByRole('textbox', { name: 'Scope' }).press('Escape');
    const card = page.getByRole('complementary', { name: 'Record card' });
    await page.keyboard.press('d');
    await page.keyboard.press('d');
    await card.getByText('NK4_2032.jpg').first().waitFor();
    await page.keyboard.press('w');
    await card.getByRole('img', { name: 'rating 5' }).waitFor();
    await page.keyboard.press('q');
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
    await page.getByRole('img', { name: 'Photo at 100 %' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('group', { name: 'Wall' }).waitFor();
    await page.keyboard.press('t');
    await page.keyboard.press('End');
    await page.keyboard.type(' More.');
    await page.keyboard.press('Control+Enter');
    await card.getByText('NK4_2034.jpg').first().waitFor();
  });

  it('a practice drive taken out is away, its changes wait, and are written when it is put in', async () => {
    const { page } = browser;
    const studio = () => page.getByRole('listitem').filter({ hasText: 'Studio' }).first();
    await typeScope(page, '');
    await until('nothing to write', async () => (await page.getByText('to write').count()) === 0);
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Take out' }).click();
    await studio().getByRole('button', { name: 'away' }).waitFor();
    await openPlace(page, 'Find');
    await typeScope(page, '"Funningur in January"');
    await until('the away photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Funningur in January');
    await fill(page, 'Title', 'Seen while away');
    await page.getByRole('button', { name: /Studio away · 1 waiting/ }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByText('Its drive is away: this is the preview.').waitFor();
    await page.keyboard.press('Escape');
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Put in' }).click();
    await until('nothing waits', async () => (await page.getByText('waits in the outbox').count()) === 0);
  });

  it('drives and card are put in and taken out on the bench, by keys too', async () => {
    const { page } = browser;
    const bench = page.getByRole('button', { name: /^Practice drives/ });
    await bench.focus();
    await page.keyboard.press('Enter');
    const card = page.getByRole('switch', { name: 'Card HS-7 is in' });
    await card.waitFor();
    expect(await complaints(page)).toEqual([]);
    await card.focus();
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: /Practice drives · 2 out/ }).waitFor();
    await page.getByRole('switch', { name: 'Off-site 2023 is in' }).click();
    await page.getByRole('button', { name: /Practice drives · 1 out/ }).waitFor();
    await card.click();
    await until('all are in', async () => !(await bench.innerText()).includes('out'));
    await page.keyboard.press('Escape');
  });

  it('goes on where it was when the page is closed while it loads; left, it is gone from the browser', async () => {
    const { page } = browser;
    const leave = async () => {
      await page.getByRole('button', { name: /^Practice drives/ }).click();
      await page.getByRole('button', { name: 'Leave the demo' }).click();
      await page.getByRole('button', { name: 'Leave and remove' }).click();
      await page.getByRole('button', { name: 'Open the demo' }).waitFor();
      await until('it is removed', () => page.evaluate(async () => {
        const root = await navigator.storage.getDirectory();
        const drives = await root.getDirectoryHandle('practice-drives').catch(() => null);
        return drives === null && (await indexedDB.databases()).every(({ name }) => name !== 'wembo-demo');
      }));
    };
    await leave();
    await openPlace(page, 'Find');
    await page.getByText('No photos yet').waitFor();
    await page.getByRole('link', { name: 'Overview' }).click();
    await page.getByRole('button', { name: 'Open the demo' }).click();
    await page.getByText('being laid out').waitFor();
    await page.reload();
    await page.getByText('practice drives of the demo').waitFor({ timeout: 120_000 });
    for (const { name } of index.drives) await page.getByRole('listitem').filter({ hasText: `Catalog: ${name}` }).first().waitFor();
    await leave();
  });
});
