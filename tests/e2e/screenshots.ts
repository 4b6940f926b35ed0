// The pictures of the README, from the demo archive at 1280 × 800. Start the demo first (`npm run demo`), then:
//   npm run screenshots [-- http://127.0.0.1:9362]

import { mkdirSync } from 'node:fs';
import { openBrowser, removeProfile } from './browser';
import { until } from './folders';
import {
  allWritten,
  atRest,
  choose,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  tickDemoRun,
  typeScope,
} from './person';

const origin = process.argv[2] ?? 'http://127.0.0.1:9362';
const FOLDER = 'docs/screenshots';
/** Photos of the three years the pictures show. */
const SHOWN = 53;
mkdirSync(FOLDER, { recursive: true });

const browser = await openBrowser({ origin });
const { page } = browser;
const shoot = async (name: string) => {
  await atRest(page);
  await page.screenshot({ path: `${FOLDER}/${name}.png` });
};

/** Of what is drawn on a canvas nothing says when it is there: the finer land is 3.6 MB, and drawn part by part. */
const landDrawn = () => page.waitForTimeout(8000);

await openApplication(page, origin);
await shoot('begin');
await page.getByRole('button', { name: 'Open the demo' }).click();
const tour = page.getByRole('region', { name: 'Tour of the demo' });
await tour.waitFor();
for (const name of ['Studio', 'Harbours 2012–2019', 'Attic 2004–2011', 'Copy, Klaksvík', 'Off-site 2023'])
  await jobEnded(page, `Catalog: ${name}`);
await openPlace(page, 'Find');
await page.getByRole('button', { name: /^Practice drives/ }).click();
await shoot('practice-drives');
await page.keyboard.press('Escape');
await tour.getByRole('button', { name: 'Skip the tour' }).click();
await openPlace(page, 'Safekeep');
await page.getByRole('button', { name: 'Check Copy, Klaksvík' }).click();
await jobEnded(page, 'Check: Copy, Klaksvík');
await openPlace(page, 'Find');
await typeScope(page, 'taken:2019..2021');
await until('the years', async () => (await shownCount(page)) === SHOWN);
await selectPhoto(page, 'Launching the Kvirrulýsið after her third refit');
await page.keyboard.press('d');
const folders = page.getByRole('button', { name: 'Folders', exact: true });
await folders.click();
for (const name of ['Harbours 2012–2019', '2019'])
  await page
    .locator('.ant-tree-treenode')
    .filter({ has: page.getByText(name, { exact: true }) })
    .locator('.ant-tree-switcher')
    .click();
await shoot('find');
await folders.click();
await page.getByRole('combobox', { name: 'Search' }).fill('level frames of boats since 2016 at least three stars');
await page.getByRole('option', { name: /orientation:level/ }).waitFor();
await shoot('search-line');
await typeScope(page, '(boat OR ferry) taken:2016..2024 rating:1..');
await page.getByRole('button', { name: 'Rules…' }).click();
await page.getByRole('dialog').getByRole('button', { name: 'Add a rule' }).first().waitFor();
await shoot('rules');
await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
await page.getByRole('dialog').waitFor({ state: 'hidden' });
await typeScope(page, '');
await page.getByText('Look-alikes', { exact: true }).click();
await page.getByRole('button', { name: 'Select all but the best' }).nth(6).waitFor();
await shoot('alike');
await page.getByText('Wall', { exact: true }).click();
await typeScope(page, 'taken:2019..2021');
await until('the years', async () => (await shownCount(page)) === SHOWN);
await selectPhoto(page, 'Launching the Kvirrulýsið after her third refit');
await page.keyboard.press('d');
await page.keyboard.press('Enter');
await shoot('single-view');
await page.keyboard.press('Escape');
await page.getByRole('group', { name: 'Wall' }).waitFor();
await page.keyboard.press('Control+a');
await page.getByRole('region', { name: 'Selection' }).waitFor();
await shoot('describe-many');
await page.keyboard.press('Escape');
await typeScope(page, 'taken:2022-12-02');
await until('the lamps', async () => (await shownCount(page)) === 5);
await selectPhoto(page, 'Harbour lamps, bracket');
await page.keyboard.press('b');
await shoot('side-by-side');
await page.keyboard.press('Escape');
await typeScope(page, 'people');
await until('people', async () => (await shownCount(page)) > 3);
await openPlace(page, 'Describe');
const caption = page.getByLabel('Caption', { exact: true });
await caption.fill('[?Who] and [?whom] at the quay, waiting for jp');
await caption.press('End');
await page.keyboard.press('Shift');
await page.getByText('Jákup á Tokunesi · Jákup á Tokunesi').waitFor();
await shoot('captions');
await caption.press('Escape');
await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: 'Keywords' }).click();
await page
  .getByRole('tree', { name: 'Vocabulary' })
  .getByRole('treeitem', { name: /^smack/ })
  .click();
await shoot('words');
await openPlace(page, 'Locate');
await typeScope(page, '');
await page.getByRole('button', { name: 'Select none' }).click();
await page.getByRole('group', { name: 'Photos on the map' }).getByRole('button').first().waitFor();
await landDrawn();
await shoot('locate');
await typeScope(page, 'taken:2019-07-04');
await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: 'Tracks' }).click();
const clock = page.getByRole('listitem', { name: /^Clock of Norda K2/ }).getByRole('textbox');
await clock.fill('-1:03:20');
await clock.press('Enter');
await page.getByRole('button', { name: 'Place 5 photos' }).waitFor();
await landDrawn();
await shoot('tracks');
await typeScope(page, 'taken:2021..2022');
await openPlace(page, 'Sift');
await page.getByRole('textbox', { name: 'Name of the round' }).fill('Two years for the wall of the museum');
await page.getByRole('button', { name: /^Begin over/ }).click();
await page.getByRole('region', { name: 'Round', exact: true }).waitFor();
for (const key of 'wswqwwwsqw') await page.keyboard.press(key);
await page.keyboard.press('w');
await page.getByRole('region', { name: 'Round', exact: true }).getByText('11 of 43 done').waitFor();
await shoot('sift');
await page.getByRole('button', { name: 'Pause the round' }).click();
await openPlace(page, 'Find');
await openPlace(page, 'Take in');
await tickDemoRun(page);
await page.getByRole('button', { name: 'Words for the marked run' }).click();
await page.locator('#take-in-run-0').fill('sheep, shore,');
await page.getByRole('heading', { name: 'What is there' }).scrollIntoViewIfNeeded();
await page.mouse.wheel(0, -2000);
await shoot('take-in');
const outcome = page.getByRole('complementary', { name: 'Outcome' });
await outcome.getByRole('button', { name: 'Take in 30 photos' }).click();
await outcome.getByText('30 on Copy, Klaksvík · all checksums equal').first().waitFor();
await page.getByRole('button', { name: 'All that are new' }).click();
await page.getByRole('textbox', { name: 'Subject' }).fill('Funningur');
await outcome.getByRole('button', { name: 'Take in 48 photos' }).click();
await outcome.getByText('48 on Copy, Klaksvík · all checksums equal').first().waitFor();
await allWritten(page);
await outcome.getByRole('link', { name: 'See them in Find' }).click();
await until('the accession', async () => (await shownCount(page)) === 48);
await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
await typeScope(page, 'taken:2019..2020 -rating:-1');
await openPlace(page, 'Send out');
await choose(page, 'Profile', 'Press');
const question = page.getByRole('list', { name: 'Before it goes' }).getByRole('radiogroup');
await page.getByRole('button', { name: /^Send out \d/ }).waitFor();
for (const one of await question.all()) await one.getByText('send', { exact: true }).click();
await page.getByRole('button', { name: /^Send out \d/ }).click();
await jobEnded(page, 'Send out');
await choose(page, 'Profile', 'Exhibition prints');
await page.getByText(/TIFF, colours as they are/).waitFor();
await shoot('send-out');
await page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name: 'Contact sheet' }).click();
await page.getByRole('textbox', { name: 'Header' }).fill('Faroe Harbours Survey, 2019 and 2020');
await page.getByRole('checkbox', { name: 'rating' }).click();
await until('the page', async () => (await page.locator('svg image').count()) === 20);
await shoot('contact-sheet');
await typeScope(page, '');
await openPlace(page, 'Safekeep');
await shoot('safekeep');
await openPlace(page, 'Overview');
await shoot('overview');
await browser.close();
removeProfile(browser.profile);
