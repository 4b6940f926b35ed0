// The pictures of the README, from the demo archive at 1280 × 800. Start the demo first (`npm run demo`), then:
//   npm run screenshots [-- http://127.0.0.1:3000]

import { mkdirSync } from 'node:fs';
import { openBrowser, removeProfile } from './browser';
import { until } from './folders';
import { jobEnded, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';

const origin = process.argv[2] ?? 'http://127.0.0.1:3000';
const FOLDER = 'docs/screenshots';
/** Photos of the three years the pictures show. */
const SHOWN = 53;
mkdirSync(FOLDER, { recursive: true });

const browser = await openBrowser({ origin });
const { page } = browser;
const shoot = async (name: string) => {
  await page.waitForTimeout(900);
  await page.screenshot({ path: `${FOLDER}/${name}.png` });
};

await openApplication(page, origin);
await shoot('begin');
await page.getByRole('button', { name: 'Open the demo' }).click();
const tour = page.getByRole('region', { name: 'Tour of the demo' });
await tour.waitFor();
for (const name of ['Studio', 'Harbours 2012–2019', 'Attic 2004–2011', 'Copy, Klaksvík', 'Card HS-7', 'Off-site 2023']) await jobEnded(page, `Catalog: ${name}`, 400_000);
await openPlace(page, 'Find');
await page.getByRole('button', { name: /^Practice drives/ }).click();
await shoot('practice-drives');
await page.keyboard.press('Escape');
await tour.getByRole('button', { name: 'Skip the tour' }).click();
await openPlace(page, 'Safekeep');
await page.getByRole('button', { name: 'Check Copy, Klaksvík' }).click();
await jobEnded(page, 'Check: Copy, Klaksvík', 400_000);
await openPlace(page, 'Find');
await typeScope(page, 'taken:2019..2021');
await until('the years', async () => (await shownCount(page)) === SHOWN);
await selectPhoto(page, 'Launching the Norðlýsið after her third refit');
await page.keyboard.press('d');
await shoot('find');
const card = page.getByRole('complementary', { name: 'Record card' });
await card.getByRole('button', { name: /^Where Caption comes from/ }).click({ force: true });
await card.getByLabel('Caption', { exact: true }).scrollIntoViewIfNeeded();
await shoot('where-from');
await page.keyboard.press('Escape');
await card.getByRole('button', { name: 'All properties' }).click();
await shoot('properties');
await page.keyboard.press('Escape');
await page.getByRole('dialog').waitFor({ state: 'hidden' });
await selectPhoto(page, 'Launching the Norðlýsið after her third refit');
await page.keyboard.press('d');
await page.keyboard.press('Enter');
await shoot('single-view');
await page.keyboard.press('Escape');
await page.keyboard.press('Control+a');
await shoot('describe-many');
await page.keyboard.press('Escape');
await typeScope(page, 'keyword:"black and white"');
await selectPhoto(page, 'Boats in the eastern harbour, Tórshavn');
await page.getByRole('button', { name: 'Dark room' }).click();
await shoot('find-dark');
await page.getByRole('button', { name: 'Light room' }).click();
await openPlace(page, 'Safekeep');
await shoot('safekeep');
await openPlace(page, 'Overview');
await shoot('overview');
await browser.close();
removeProfile(browser.profile);
