// The demo, as a newcomer meets it, and what holds on every screen: it loads, every place has something to show,
// practice drives can be taken out and put in, and axe finds nothing to complain of.

import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { until } from './folders';
import { fill, jobEnded, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';

const origin = inject('origin');
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const index = JSON.parse(readFileSync('.demo/index.json', 'utf8')) as { drives: { name: string; files: { path: string }[] }[] };
let browser: Browser;
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
    expect(await complaints(browser.page)).toEqual([]);
    await browser.page.getByRole('button', { name: 'Open the demo' }).click();
    for (const { name } of index.drives) await jobEnded(browser.page, `Catalog: ${name}`);
    await openPlace(browser.page, 'Find');
    const photos = new Set(index.drives.flatMap(({ files }) => files.map(({ path }) => path)).filter((path) => /\.(jpg|png|webp)$/i.test(path) && !path.endsWith('0216.JPG')));
    await until('every photo once', async () => (await shownCount(browser.page)) === photos.size);
    expect(outside).toEqual([]);
  });

  it('each place is clean for axe, with a photo selected, several selected, and one large; by day and by night', async () => {
    const { page } = browser;
    const found: string[] = [];
    const look = async (screen: string) => found.push(...(await complaints(page)).map((complaint) => `${screen}: ${complaint}`));
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
    await until('the shoot', async () => (await shownCount(page)) === 6);
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
    await page.getByRole('region', { name: 'Single view' }).getByText('2 of 6').waitFor();
    await page.keyboard.press('d');
    await page.getByRole('region', { name: 'Single view' }).getByText('3 of 6').waitFor();
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
    await until('nothing to write', async () => (await page.getByText('to write').count()) === 0);
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Take out' }).click();
    await studio().getByRole('button', { name: 'away' }).waitFor();
    await openPlace(page, 'Find');
    await typeScope(page, 'aurora OR "northern light"');
    await until('the away photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Northern light over the sound');
    await fill(page, 'Title', 'Seen while away');
    await page.getByRole('button', { name: /Studio away · 1 waiting/ }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByText('Its drive is away: this is the preview.').waitFor();
    await page.keyboard.press('Escape');
    await openPlace(page, 'Overview');
    await studio().getByRole('button', { name: 'Put in' }).click();
    await until('nothing waits', async () => (await page.getByText('waits in the outbox').count()) === 0);
  });
});
