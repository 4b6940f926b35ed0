// The browser killed in the middle of its work, as by a power cut, and opened again.

import { execFileSync } from 'node:child_process';
import { utimesSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, killerOf, openBrowser, removeProfile, usedBefore } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, photosIn, put, read, sha256, sha256sum, until } from './folders';
import {
  connectFolder,
  drivePhotos,
  drives,
  fill,
  jobEnded,
  lookThrough,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
} from './person';

const origin = inject('origin');
let browser: Browser;

beforeEach(async () => {
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
});

afterEach(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

/**
 * Opens the browser again. A laden machine may lose all that a young profile stored (`usedBefore`): then a person
 * connects the drives again, and so does this.
 * @returns whether the browser's data had to be found again on the drives
 */
async function reopen(...folders: string[]): Promise<boolean> {
  await browser.close();
  browser = await openBrowser({ origin, profile: browser.profile });
  await openApplication(browser.page, origin);
  const isLost = (await browser.page.getByRole('heading', { name: 'Begin with your own' }).count()) > 0;
  for (const folder of isLost ? folders : []) {
    await dropFolder(browser, folder);
    await browser.page.getByText('are being read back').first().waitFor();
    await openPlace(browser.page, 'Overview');
    await jobEnded(browser.page, `Catalog: ${path.basename(folder)}`);
  }
  return isLost;
}

it('killed in the middle of sidecar writes: every sidecar is old or new and whole, and the edits that were made arrive', async () => {
  const count = 60;
  const folder = await drivePhotos(browser, count);
  browser = await usedBefore(browser, origin);
  await openApplication(browser.page, origin);
  await openPlace(browser.page, 'Find');
  const sources = () =>
    filesIn(folder)
      .filter((name) => name.endsWith('.xmp') && !name.includes('wembo-part'))
      .map((name) => /<photoshop:Source>(.*)</.exec(read(folder, name).toString('utf8'))?.[1]);
  const newAtTheKill: number[] = [];
  for (const [round, moment] of [1, 8, 20, 35].entries()) {
    await selectPhoto(browser.page, 'Photo 1');
    await browser.page.keyboard.press('Control+a');
    const kill = killerOf(browser);
    await fill(browser.page, 'Source', `round ${round}`);
    while (sources().filter((source) => source === `round ${round}`).length < moment)
      await new Promise((resolve) => setTimeout(resolve, 2));
    kill();
    await new Promise((resolve) => setTimeout(resolve, 200)); // what was on its way to the disk arrives
    newAtTheKill.push(sources().filter((source) => source === `round ${round}`).length);
    for (const source of sources()) expect([`round ${round}`, `round ${round - 1}`]).toContain(source);
    execFileSync('xmllint', [
      '--noout',
      '--nonet',
      ...filesIn(folder)
        .filter((name) => name.endsWith('.xmp') && !name.includes('wembo-part'))
        .map((name) => path.join(folder, name)),
    ]);
    // what had not reached the drive when all was lost is entered again
    if (await reopen(folder)) {
      await openPlace(browser.page, 'Find');
      await selectPhoto(browser.page, 'Photo 1');
      await browser.page.keyboard.press('Control+a');
      await fill(browser.page, 'Source', `round ${round}`);
    }
    await until(
      'the edits arrive after all',
      () => sources().filter((source) => source === `round ${round}`).length === count,
    );
    await openPlace(browser.page, 'Find');
  }
  // the browser did die in the middle of the writing, more than once
  expect(
    newAtTheKill.filter((written) => written < count).length,
    `new at the kill: ${newAtTheKill.join(', ')} of ${count}`,
  ).toBeGreaterThanOrEqual(2);
  expect(exiftool(folder, 'p7.xmp')['XMP-photoshop:Headline']).toBe('Photo 7');
});

it('killed in the middle of a copy: every file on the target is whole or not there, and the copy resumes to its end', async () => {
  const folder = newFolder('Studio');
  for (let index = 0; index < 70; index++)
    put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1800, height: 1200 }));
  await connectFolder(browser, folder, 'Studio');
  const target = newFolder('Cellar');
  await connectFolder(browser, target, 'Cellar');
  browser = await usedBefore(browser, origin);
  await openApplication(browser.page, origin);
  await openPlace(browser.page, 'Safekeep');
  await drives(browser.page, 'Studio', 'Cellar');
  await browser.page.getByRole('button', { name: 'Copy and verify' }).click();
  const moments = [2, 16, 31];
  for (const moment of moments) {
    const kill = killerOf(browser);
    await until(`${moment} files are there`, () => photosIn(target).length >= moment);
    kill();
    for (const file of photosIn(target)) expect(sha256(read(target, file)), file).toBe(sha256(read(folder, file)));
    const isLost = await reopen(folder, target);
    await openPlace(browser.page, 'Safekeep');
    if (isLost) {
      await drives(browser.page, 'Studio', 'Cellar');
      await browser.page.getByRole('button', { name: 'Copy and verify' }).click();
      continue;
    }
    await browser.page.getByText('interrupted').waitFor();
    await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
  }
  await jobEnded(browser.page, 'Second copy: Studio → Cellar');
  expect(sha256sum(target).output.match(/: OK/g)).toHaveLength(70);
  // a part file younger than ten seconds may be one being written: these are of yesterday
  const yesterday = new Date(Date.now() - 86_400_000);
  for (const part of filesIn(target).filter((name) => name.includes('wembo-part')))
    utimesSync(path.join(target, part), yesterday, yesterday);
  await lookThrough(browser.page, 'Cellar');
  await until('part files are cleared away', () => filesIn(target).every((name) => !name.includes('wembo-part')));
});

it('killed in the middle of a scan: it is offered again, and goes on where it was', async () => {
  const folder = newFolder('Studio');
  for (let index = 0; index < 40; index++)
    put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1500, height: 1000 }));
  browser = await usedBefore(browser, origin);
  await openApplication(browser.page, origin);
  await dropFolder(browser, folder);
  await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
  await browser.page
    .getByText(/\b[1-9]\d* of 40 files/)
    .first()
    .waitFor();
  killerOf(browser)();
  if (!(await reopen(folder))) await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
  await jobEnded(browser.page, 'Catalog: Studio');
  await openPlace(browser.page, 'Find');
  await until('all photos', async () => (await shownCount(browser.page)) === 40);
});
