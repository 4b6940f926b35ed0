// What goes wrong in real life: the unplugged drive, two programs at one sidecar, two tabs, no leave to write.

import { execFileSync } from 'node:child_process';
import { renameSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { digestsOf, exiftool, newFolder, photoBytes, put, read, until, untilStill } from './folders';
import {
  STILL,
  drivePhotos,
  fill,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  typeScope,
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

describe('a drive that is away', () => {
  it('keeps its photos visible and describable; changes wait, counted, and are written when it is back elsewhere', async () => {
    const folder = await drivePhotos(browser, 2);
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
    await drivePhotos(browser, 1);
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
    const folder = await drivePhotos(browser, 2);
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await until('the sidecar', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
    // the other program writes two fields; here one of them is edited before it was noticed
    execFileSync('exiftool', [
      '-q',
      '-overwrite_original',
      '-XMP-photoshop:City=Tórshavn',
      '-XMP-photoshop:Source=theirs',
      path.join(folder, 'p1.xmp'),
    ]);
    await fill(browser.page, 'City', 'Klaksvík');
    const conflict = browser.page.getByRole('region', { name: 'Two versions' });
    await conflict.waitFor();
    expect(await conflict.innerText()).toMatch(/City\s+Klaksvík\s+Tórshavn/);
    expect(exiftool(folder, 'p1.xmp')['XMP-photoshop:City']).toBe('Tórshavn');
    await until(
      'the field only they changed',
      async () =>
        (await browser.page
          .getByRole('complementary', { name: 'Record card' })
          .getByLabel('Source', { exact: true })
          .inputValue()) === 'theirs',
    );
    await conflict.getByRole('button', { name: 'Keep what is here' }).click();
    await until('the decision is written', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Klaksvík');
    expect(exiftool(folder, 'p1.xmp')['XMP-photoshop:Source']).toBe('theirs');
  });

  it('and made unreadable is not written over; the person is told', async () => {
    const folder = await drivePhotos(browser, 1);
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
    const folder = await drivePhotos(browser, 2);
    const second = await browser.context.newPage();
    await second.goto(`${origin}/find`);
    await openPlace(browser.page, 'Find');
    await selectPhoto(browser.page, 'Photo 1');
    await selectPhoto(second, 'Photo 1');
    await fill(browser.page, 'City', 'Gjógv');
    await until(
      'the other tab shows it',
      async () =>
        (await second
          .getByRole('complementary', { name: 'Record card' })
          .getByLabel('City', { exact: true })
          .inputValue()) === 'Gjógv',
    );
    await fill(second, 'Source', 'second tab');
    await until(
      'both in the sidecar',
      () =>
        exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv' &&
        exiftool(folder, 'p1.xmp')['XMP-photoshop:Source'] === 'second tab',
    );
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

describe('a job', () => {
  it('pauses, goes on, and is cancelled without harm', async () => {
    const folder = newFolder('Studio');
    for (let index = 0; index < 60; index++)
      put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1500, height: 1000 }));
    await dropFolder(browser, folder);
    await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
    const job = browser.page.getByRole('listitem').filter({ hasText: 'Catalog: ' });
    await job.getByText(/ of 60 files/).waitFor();
    await job.getByRole('button', { name: 'Pause' }).click();
    await job.getByText('paused').waitFor();
    // the files in work come to their end, and then it stands still
    const held = await untilStill('it stands still', () => job.innerText(), STILL);
    expect(held).toMatch(/\b\d+ of 60 files/);
    await browser.page.getByRole('button', { name: 'Cancel' }).click();
    await browser.page.getByText('cancelled').waitFor();
    await browser.page.getByRole('button', { name: 'Resume', exact: true }).click();
    await jobEnded(browser.page, 'Catalog: Studio');
    await openPlace(browser.page, 'Find');
    await until('all photos', async () => (await shownCount(browser.page)) === 60);
  });
});
