// What a person does at the screen, by role and visible name.

import type { Locator, Page } from 'playwright-core';
import { type Browser, dropFolder } from './browser';
import { newFolder, photoBytes, put, until, untilStill } from './folders';

/** Opens the application and waits until it answers. */
/** @param key of the link that the server prints: then folders of this machine can be chosen */
export async function openApplication(page: Page, origin: string, key?: string): Promise<void> {
  await page.goto(key ? `${origin}/#key=${key}` : origin);
  await page.getByRole('button', { name: 'Connect a drive…' }).waitFor();
}

/** Chooses a folder of this machine by its path. */
export async function chooseServed(page: Page, folder: string): Promise<void> {
  if (!(await page.getByRole('button', { name: 'Connect a drive…' }).isVisible())) await openPlace(page, 'Overview');
  await page.getByRole('button', { name: 'Connect a drive…' }).click();
  await pickServed(page, folder);
}

/** In the browser of folders. */
export async function pickServed(page: Page, folder: string): Promise<void> {
  await page.getByLabel('Path of a folder').fill(folder);
  await page.keyboard.press('Enter');
  await page.getByText(folder, { exact: true }).last().waitFor();
  await page.getByRole('button', { name: 'Choose this folder' }).click();
}

export async function openPlace(
  page: Page,
  name: 'Overview' | 'Take in' | 'Sift' | 'Describe' | 'Locate' | 'Find' | 'Safekeep' | 'Send out',
): Promise<void> {
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name }).click();
  const landmark =
    name === 'Find' ? page.getByRole('navigation', { name: 'Shelves' }) : page.getByRole('heading', { name, level: 1 });
  await landmark.waitFor({ state: 'attached' });
}

export async function connectFolder(browser: Browser, folder: string, name: string): Promise<void> {
  await dropFolder(browser, folder);
  await nameAndCatalog(browser.page, name);
}

/** Answers what an offered folder is called, and waits until it is cataloged. */
export async function nameAndCatalog(page: Page, name: string): Promise<void> {
  await page.getByLabel('What do you call this drive?').fill(name);
  await page.getByRole('button', { name: 'Connect and catalog' }).click();
  await openPlace(page, 'Overview');
  await jobEnded(page, `Catalog: ${name}`);
}

/** Connects a drive “Studio” with so many photos, “Photo 1” and on, a minute apart. Returns its folder. */
export async function drivePhotos(browser: Browser, count: number): Promise<string> {
  const folder = newFolder('Studio');
  for (let index = 1; index <= count; index++)
    put(
      folder,
      `p${index}.jpg`,
      await photoBytes({
        seed: index,
        captured: `2020:01:01 10:${String(index).padStart(2, '0')}:00`,
        headline: `Photo ${index}`,
      }),
    );
  await connectFolder(browser, folder, 'Studio');
  return folder;
}

/** An entry of a drive's menu in Overview. */
export async function ofDrive(page: Page, drive: string, entry: string): Promise<void> {
  await page.getByRole('button', { name: `More: ${drive}` }).click();
  await page.getByRole('menuitem', { name: entry }).click();
}

/** Has a drive looked through for changes; does not wait for the end. */
export async function lookThrough(page: Page, drive: string): Promise<void> {
  await openPlace(page, 'Overview');
  const row = page.getByRole('listitem').filter({ hasText: drive });
  await row.getByRole('button', { name: 'Scan for changes' }).first().click();
}

/**
 * Waits for the newest job of this title to be finished: as long as it moves, however slowly. One that stands still for
 * as long as anything is waited for is told with what it says.
 */
export async function jobEnded(page: Page, title: string): Promise<void> {
  const rows = page.getByRole('listitem', { includeHidden: true }); // it may be folded away with others
  const row = rows.filter({ hasText: title }).first();
  const finished = rows.filter({ hasText: title }).filter({ hasText: 'finished' }).first();
  const saying = async () => ((await row.count()) === 0 ? 'no such job' : await row.innerText());
  for (let said = ''; ;) {
    const ended = await finished.waitFor({ state: 'attached' }).then(
      () => true,
      () => false,
    );
    if (ended) return;
    const says = await saying();
    if (says === said || page.isClosed()) throw new Error(`“${title}” did not finish: ${says}`);
    said = says;
  }
}

/**
 * Looks without anything to write, a tenth of a second apart, after which what was just done is counted, if it was
 * anything.
 */
export const STILL = 10;

/**
 * Waits until nothing moves on the screen and nothing more comes onto it: what is judged then is what a person sees.
 */
export async function atRest(page: Page): Promise<void> {
  const shown = () =>
    page.evaluate(() => {
      const moving = document
        .getAnimations()
        .filter(
          ({ playState, effect }) => playState === 'running' && effect?.getComputedTiming().iterations !== Infinity,
        );
      return moving.length > 0 ? Math.random() : document.body.innerHTML;
    });
  await untilStill('the screen is at rest', shown, 2);
}

/** Waits until all that was entered is on the drives. */
export async function allWritten(page: Page): Promise<void> {
  const waiting = async () => ((await page.getByText('to write').count()) === 0 ? 'none' : Math.random());
  await untilStill('all is written', waiting, STILL);
}

/** Ticks a box, or clears it. What it stands for is kept first and shown then: that may take a moment. */
export async function tick(box: Locator, on: boolean): Promise<void> {
  if ((await box.isChecked()) !== on) await box.click();
  await until(on ? 'it is ticked' : 'it is cleared', async () => (await box.isChecked()) === on);
}

/** Types a scope and closes what the line offers. */
export async function typeScope(page: Page, scope: string): Promise<void> {
  const line = page.getByRole('combobox', { name: 'Search' });
  await line.fill(scope);
  await line.press('Enter');
}

export async function shownCount(page: Page): Promise<number> {
  const text = await page.getByRole('main').innerText();
  return Number(/([\d\u202f]+) shown/.exec(text)?.[1]?.replace(/\D/g, '') ?? NaN);
}

export async function selectPhoto(page: Page, name: string): Promise<void> {
  await page.getByRole('group', { name: 'Wall' }).getByRole('button', { name }).first().click();
}

/** Fills a field of the record card and leaves it. */
export async function fill(page: Page, field: string, text: string): Promise<void> {
  const box = page.getByRole('complementary', { name: 'Record card' }).getByLabel(field, { exact: true });
  await box.fill(text);
  await box.blur();
}

export async function addKeywords(page: Page, typed: string): Promise<void> {
  const box = page.getByLabel('Add keywords');
  await box.fill(typed);
  await box.press('Enter');
  await box.blur();
}

/**
 * Answers what is asked, and waits until the question is gone: as long as it is there it keeps what is typed to itself.
 */
export async function agree(page: Page, answer: string): Promise<void> {
  await page.getByRole('dialog').getByRole('button', { name: answer }).click();
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
}

/**
 * Chooses an option of a list by its label; of several lists of that label the one at `nth`. A list that is put up anew
 * while it is open closes; then it is opened again.
 */
export async function choose(page: Page, label: string, option: string, nth = 0): Promise<void> {
  const item = page.locator('.ant-select-dropdown:visible').getByTitle(option, { exact: true });
  await until(`${option} is offered`, async () => {
    if (!(await item.isVisible())) await page.getByRole('combobox', { name: label, exact: true }).nth(nth).click();
    return item.click({ timeout: 10_000 }).then(() => true);
  });
  await until(`${option} is chosen`, () => page.locator('.ant-select').filter({ hasText: option }).first().isVisible());
}

/** Chooses the drives of the second copy. */
export async function drives(page: Page, from: string, to: string): Promise<void> {
  await choose(page, 'from', from);
  await choose(page, 'to', to);
}

/** In Take in: the demo's card by its routine, with only the thirty frames of the first run at Gjógv ticked. */
export async function tickDemoRun(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Card HS-7' }).click();
  await page.getByText('4 are in the catalog already and left out').waitFor();
  await page.getByRole('combobox', { name: 'Routine' }).click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('Survey card, two copies').click();
  await page.getByRole('textbox', { name: 'Subject' }).fill('Gjógv');
  const frames = page.getByRole('group', { name: 'Frames' });
  await frames.getByRole('button', { name: 'Mark NK4_9966.jpg' }).click();
  await frames.hover();
  await page.mouse.wheel(0, 520);
  await frames.getByRole('button', { name: 'Mark NK4_9995.jpg' }).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Only the marked run (30)' }).click();
}
