// What goes wrong in real life: the unplugged drive, two programs at one sidecar, two tabs, no leave to write,
// the browser killed in the middle.

import { execFileSync } from 'node:child_process';
import { renameSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, killerOf, openBrowser, removeProfile, usedBefore } from './browser';
import { digestsOf, exiftool, filesIn, newFolder, photoBytes, photosIn, put, read, sha256, sha256sum, until } from './folders';
import { connectFolder, drives, fill, jobEnded, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';

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

async function oneDrive(count: number): Promise<string> {
  const folder = newFolder('Studio');
  for (let index = 1; index <= count; index++) put(folder, `p${index}.jpg`, await photoBytes({ seed: index, captured: `2020:01:01 10:${String(index).padStart(2, '0')}:00`, headline: `Photo ${index}` }));
  await connectFolder(browser, folder, 'Studio');
  return folder;
}

describe('a drive that is away', () => {
  it('keeps its photos visible and describable; changes wait, counted, and are written when it is back elsewhere', async () => {
    const folder = await oneDrive(2);
    const elsewhere = path.join(newFolder('other mount'), 'Studio');
    renameSync(folder, elsewhere);
    await browser.page.reload();
    await browser.page.getByRole('button', { name: 'away', exact: true }).waitFor();
    await openPlace(browser.page, 'Find');
    await until('both photos', async () => (await shownCount(browser.page)) === 2);
    await selectPhoto(browser.page, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await browser.page.getByRole('button', { name: /Studio away · 1 waiting/ }).waitFor();
    await dropFolder(browser, elsewhere);
    await browser.page.getByText('“Studio” is back').waitFor();
    await until('the waiting change is written', () => exiftool(elsewhere, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
    await until('nothing waits', async () => (await browser.page.getByText('waiting').count()) === 0);
  });
});

describe('a browser that asks anew after a reload', () => {
  it('says so at the drive, and one click does it', async () => {
    await oneDrive(1);
    await browser.context.addInitScript(() => {
      let asked = false;
      FileSystemHandle.prototype.queryPermission = async () => (asked ? 'granted' : 'prompt');
      FileSystemHandle.prototype.requestPermission = async () => {
        asked = true;
        return 'granted';
      };
    });
    await browser.page.reload();
    await browser.page.getByRole('button', { name: 'click to let the browser open it' }).click();
    await browser.page.getByRole('button', { name: 'connected', exact: true }).waitFor();
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
  });
});

describe('a sidecar that another program changed', () => {
  it('is taken over where only it changed, and both versions are kept for the person where both did', async () => {
    const folder = await oneDrive(2);
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await until('the sidecar', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
    // the other program writes two fields; here one of them is edited before it was noticed
    execFileSync('exiftool', ['-q', '-overwrite_original', '-XMP-photoshop:City=Tórshavn', '-XMP-photoshop:Source=theirs', path.join(folder, 'p1.xmp')]);
    await fill(browser.page, 'City', 'Klaksvík');
    const conflict = browser.page.getByRole('region', { name: 'Two versions' });
    await conflict.waitFor();
    expect(await conflict.innerText()).toMatch(/City\s+Klaksvík\s+Tórshavn/);
    expect(exiftool(folder, 'p1.xmp')['XMP-photoshop:City']).toBe('Tórshavn');
    await until('the field only they changed', async () => (await browser.page.getByRole('complementary', { name: 'Record card' }).getByLabel('Source', { exact: true }).inputValue()) === 'theirs');
    await conflict.getByRole('button', { name: 'Keep what is here' }).click();
    await until('the decision is written', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Klaksvík');
    expect(exiftool(folder, 'p1.xmp')['XMP-photoshop:Source']).toBe('theirs');
  });

  it('and made unreadable is not written over; the person is told', async () => {
    const folder = await oneDrive(1);
    put(folder, 'p1.xmp', 'half a side');
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await browser.page.getByText('The sidecar cannot be understood').waitFor();
    expect(read(folder, 'p1.xmp').toString()).toBe('half a side');
  });
});

describe('two tabs of one catalog', () => {
  it('see each other’s edits, and the sidecar has both', async () => {
    const folder = await oneDrive(2);
    const second = await browser.context.newPage();
    await second.goto(`${origin}/find`);
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
    await selectPhoto(second, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await until('the other tab shows it', async () => (await second.getByRole('complementary', { name: 'Record card' }).getByLabel('City', { exact: true }).inputValue()) === 'Gjógv');
    await fill(second, 'Source', 'second tab');
    await until('both in the sidecar', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv' && exiftool(folder, 'p1.xmp')['XMP-photoshop:Source'] === 'second tab');
    await typeScope(second, 'city:gjogv');
    await until('the other tab finds it', async () => (await shownCount(second)) === 1);
  });
});

describe('a browser that may not write', () => {
  it('gets a read-only drive, is told so in a sentence, and what is entered waits', async () => {
    const folder = newFolder('Borrowed');
    put(folder, 'in/p.jpg', await photoBytes({ headline: 'Lent photo' }));
    const before = digestsOf(folder);
    await browser.page.evaluate(() => Reflect.deleteProperty(window, 'showDirectoryPicker'));
    const chooser = browser.page.waitForEvent('filechooser');
    await browser.page.getByRole('button', { name: 'Connect a drive…' }).click();
    await (await chooser).setFiles(folder);
    await browser.page.getByText('This browser gives read-only access').first().waitFor();
    await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
    await jobEnded(browser.page, 'Catalog: Borrowed');
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Lent photo');
    await fill(browser.page, 'City', 'Gjógv');
    await browser.page.getByRole('button', { name: /Borrowed 1 waiting/ }).waitFor();
    expect(digestsOf(folder)).toEqual(before);
  });
});

describe('the browser killed in the middle', () => {
  async function reopen(): Promise<void> {
    await browser.close();
    browser = await openBrowser({ origin, profile: browser.profile });
    await openApplication(browser.page, origin);
  }

  it('of sidecar writes: every sidecar is old or new and whole, and the edits that were made arrive', async () => {
    const count = 60;
    const folder = await oneDrive(count);
    browser = await usedBefore(browser, origin);
    await openApplication(browser.page, origin);
    await openPlace(browser.page, 'Find');
    const sources = () => filesIn(folder).filter((name) => name.endsWith('.xmp') && !name.includes('wembo-part')).map((name) => /<photoshop:Source>(.*)</.exec(read(folder, name).toString('utf8'))?.[1]);
    const newAtTheKill: number[] = [];
    for (const [round, moment] of [1, 8, 20, 35].entries()) {
      await selectPhoto(browser.page, 'Photo 1');
      await browser.page.keyboard.press('Control+a');
      const kill = killerOf(browser);
      await fill(browser.page, 'Source', `round ${round}`);
      while (sources().filter((source) => source === `round ${round}`).length < moment) await new Promise((resolve) => setTimeout(resolve, 2));
      kill();
      await new Promise((resolve) => setTimeout(resolve, 200)); // what was on its way to the disk arrives
      newAtTheKill.push(sources().filter((source) => source === `round ${round}`).length);
      for (const source of sources()) expect([`round ${round}`, `round ${round - 1}`]).toContain(source);
      execFileSync('xmllint', ['--noout', '--nonet', ...filesIn(folder).filter((name) => name.endsWith('.xmp') && !name.includes('wembo-part')).map((name) => path.join(folder, name))]);
      await reopen();
      await until('the edits arrive after all', () => sources().filter((source) => source === `round ${round}`).length === count);
      await openPlace(browser.page, 'Find');
    }
    // the browser did die in the middle of the writing, more than once
    expect(newAtTheKill.filter((written) => written < count).length, `new at the kill: ${newAtTheKill.join(', ')} of ${count}`).toBeGreaterThanOrEqual(2);
    expect(exiftool(folder, 'p7.xmp')['XMP-photoshop:Headline']).toBe('Photo 7');
  });

  it('of a copy: every file on the target is whole or not there, and the copy resumes to its end', async () => {
    const folder = newFolder('Studio');
    for (let index = 0; index < 70; index++) put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1800, height: 1200 }));
    await connectFolder(browser, folder, 'Studio');
    const target = newFolder('Cellar');
    await connectFolder(browser, target, 'Cellar');
    browser = await usedBefore(browser, origin);
    await openApplication(browser.page, origin);
    await openPlace(browser.page, 'Safekeep');
    await drives(browser.page, 'Studio', 'Cellar');
    await browser.page.getByRole('button', { name: 'Copy and prove' }).click();
    const moments = [2, 16, 31];
    for (const moment of moments) {
      const kill = killerOf(browser);
      await until(`${moment} files are there`, () => photosIn(target).length >= moment);
      kill();
      for (const file of photosIn(target)) expect(sha256(read(target, file)), file).toBe(sha256(read(folder, file)));
      await reopen();
      await openPlace(browser.page, 'Safekeep');
      await browser.page.getByText('interrupted').waitFor();
      await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
    }
    await jobEnded(browser.page, 'Second copy: Studio → Cellar');
    expect(sha256sum(target).output.match(/: OK/g)).toHaveLength(70);
    await openPlace(browser.page, 'Overview');
    await browser.page.waitForTimeout(10_500); // a part file younger than ten seconds may be one being written
    await browser.page.getByRole('listitem').filter({ hasText: 'Cellar' }).getByRole('button', { name: 'Look through again' }).first().click();
    await until('part files are cleared away', () => filesIn(target).every((name) => !name.includes('wembo-part')));
  });

  it('of a scan: it is offered again, and goes on where it was', async () => {
    const folder = newFolder('Studio');
    for (let index = 0; index < 40; index++) put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1500, height: 1000 }));
    browser = await usedBefore(browser, origin);
    await openApplication(browser.page, origin);
    await dropFolder(browser, folder);
    await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
    await browser.page.waitForTimeout(900);
    killerOf(browser)();
    await reopen();
    await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
    await jobEnded(browser.page, 'Catalog: Studio');
    await openPlace(browser.page, 'Find');
    await until('all photos', async () => (await shownCount(browser.page)) === 40);
  });
});

describe('a job', () => {
  it('pauses, goes on, and is cancelled without harm', async () => {
    const folder = newFolder('Studio');
    for (let index = 0; index < 60; index++) put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1500, height: 1000 }));
    await dropFolder(browser, folder);
    await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
    const job = browser.page.getByRole('listitem').filter({ hasText: 'Catalog: ' });
    await job.getByText(/ of 60 files/).waitFor();
    await job.getByRole('button', { name: 'Pause' }).click();
    await job.getByText('paused').waitFor();
    await browser.page.waitForTimeout(800); // the files in work come to their end
    const held = await job.innerText();
    expect(held).toMatch(/\b\d+ of 60 files/);
    await browser.page.waitForTimeout(800);
    expect(await job.innerText()).toBe(held);
    await browser.page.getByRole('button', { name: 'Cancel' }).click();
    await browser.page.getByText('cancelled').waitFor();
    await browser.page.getByRole('button', { name: 'Resume', exact: true }).click();
    await jobEnded(browser.page, 'Catalog: Studio');
    await openPlace(browser.page, 'Find');
    await until('all photos', async () => (await shownCount(browser.page)) === 60);
  });
});
