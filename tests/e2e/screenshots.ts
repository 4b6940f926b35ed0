// The pictures of the README, from the demo archive at 1280 × 800. Start the demo first (`npm run demo`), then:
//   npm run screenshots [-- http://127.0.0.1:3000]

import { mkdirSync } from 'node:fs';
import { openBrowser, removeProfile } from './browser';
import { until } from './folders';
import { drives, jobEnded, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';

const origin = process.argv[2] ?? 'http://127.0.0.1:3000';
const FOLDER = 'docs/screenshots';
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
for (const name of ['Studio', 'Attic 2004–2011', 'Card HS-7']) await jobEnded(page, `Catalog: ${name}`);
await openPlace(page, 'Safekeep');
await drives(page, 'Studio', 'Attic 2004–2011');
await page.getByRole('button', { name: 'Copy and prove' }).click();
await jobEnded(page, 'Second copy: Studio → Attic 2004–2011');
await openPlace(page, 'Find');
for (const [scope, name] of [['rating:4..', 'Four bars and up'], ['copies:..1', 'Only one copy'], ['boat OR ferry taken:2016..', 'Boats since 2016']] as const) {
  await typeScope(page, scope);
  await page.getByRole('button', { name: 'Keep scope' }).click();
  await page.getByLabel('Name of the smart collection').fill(name);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).waitFor();
}
await typeScope(page, 'taken:2018..2021');
await until('the years', async () => (await shownCount(page)) === 19);
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
await typeScope(page, '');
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
