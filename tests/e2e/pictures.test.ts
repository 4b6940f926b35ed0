// A folder with every kind of picture: connected, seen, sifted, compared at real pixels, measured.

import { copyFileSync, mkdirSync, readdirSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, newFolder, noise, put, until, untilStill } from './folders';
import { STILL, connectFolder, openApplication, openPlace, shownCount, typeScope } from './person';

const origin = inject('origin');
let browser: Browser;
let folder: string;

/** By name in the demo, and what its format is called in the catalog. */
const DEMO = [
  'FHS-0001.tif',
  'FHS-0011.tif',
  'NK2_5011.psd',
  'NK4_6021.jxl',
  'ALD0141.HEIC',
  'R1A0060.dng',
  'R1A2210.dng',
];
const VIDEOS = ['ALD0220.MP4', 'FJC_0275.AVI'];

beforeAll(async () => {
  folder = newFolder('Every kind');
  mkdirSync(folder, { recursive: true });
  for (const name of [...DEMO, ...VIDEOS, 'NK4_1330.jpg', 'ALD0221.jpg']) {
    const file = execFileSync('find', ['.demo', '-name', name]).toString().trim().split('\n')[0]!;
    copyFileSync(file, path.join(folder, name));
  }
  const plain = () => noise(7, 900, 600).then((jpeg) => sharp(jpeg));
  put(folder, 'press.jpg', await (await plain()).toColourspace('cmyk').withIccProfile('cmyk').jpeg().toBuffer());
  put(folder, 'deep.png', await (await plain()).toColourspace('rgb16').png().toBuffer());
  put(folder, 'web.webp', await (await plain()).webp().toBuffer());
  put(folder, 'one.avif', await (await plain()).avif({ effort: 0 }).toBuffer());
  put(folder, 'pages.tif', await pages());
  put(folder, 'cut.tif', (await (await plain()).tiff({ compression: 'lzw' }).toBuffer()).subarray(0, 3000));
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, folder, 'Every kind');
  await openPlace(browser.page, 'Find');
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

/** A TIFF of three pages. */
const pages = async (): Promise<Buffer> =>
  sharp(await Promise.all([1, 2, 3].map((seed) => noise(seed, 400, 300))), { join: { animated: true } })
    .tiff({ compression: 'lzw' })
    .toBuffer();

const wall = () => browser.page.getByRole('group', { name: 'Wall' });
/** The first photo of the wall, large. */
async function openFirst(): Promise<void> {
  await wall().locator('[data-photo]').first().dblclick();
  await browser.page.getByRole('region', { name: 'Single view' }).waitFor();
}

const KINDS = DEMO.length + VIDEOS.length + 8;

describe('a folder with every kind of picture', () => {
  it('is seen: each has its picture on the wall, behind the screens; what is cut is shown as far as it goes, or says why', async () => {
    await until('all are cataloged', async () => (await shownCount(browser.page)) === KINDS);
    const [tiles, drawn] = [wall().locator('[data-photo]'), wall().locator('[data-photo] img')];
    await until('no tile waits', async () => (await wall().getByText('no preview yet').count()) === 0);
    // but for the one that is cut
    await until('their pictures', async () => (await drawn.count()) >= (await tiles.count()) - 1);
    expect(await tiles.count()).toBeGreaterThan(8);
    expect(readdirSync(folder).length).toBeGreaterThan(KINDS);
  });

  it('is compared at 100 %: real pixels of each, stepped through by keys', async () => {
    const { page } = browser;
    await typeScope(page, '-kind:video');
    await until('pictures', async () => (await shownCount(page)) === KINDS - VIDEOS.length);
    await openFirst();
    await page.keyboard.press('Space');
    const sizes: Record<string, number> = {};
    const stage = page.locator('[data-photo-shown]');
    for (let at = 0; at < KINDS - VIDEOS.length; at++) {
      const size = await untilStill(
        'the best there is',
        async () =>
          (await stage.getAttribute('data-settled')) === 'true' ? stage.getAttribute('data-size') : Math.random(),
        STILL,
      );
      sizes[String(size)] = (sizes[String(size)] ?? 0) + 1;
      await page.keyboard.press('d');
      await until(
        'the next one',
        async () => (await page.getByText(`${at + 2} of`).count()) > 0 || at + 1 === KINDS - VIDEOS.length,
      );
    }
    expect(sizes.full).toBeGreaterThanOrEqual(KINDS - VIDEOS.length - 1);
    await page.keyboard.press('Escape');
  });

  it('is sifted and measured: rated by key, its histogram drawn, its words in the sidecar', async () => {
    const { page } = browser;
    await typeScope(page, 'format:heif');
    await until('the HEIC', async () => (await shownCount(page)) === 1);
    await openFirst();
    await page.keyboard.press('4');
    await page.keyboard.press('h');
    await page
      .getByRole('img', { name: /histogram/i })
      .first()
      .waitFor();
    await until('its rating is on the disk', () => exiftool(folder, 'ALD0141.xmp')['XMP-xmp:Rating'] === 4);
    await page.keyboard.press('h');
    await page.keyboard.press('Escape');
  });

  it('says which is developed, and the search finds pictures by their profile', async () => {
    const { page } = browser;
    await typeScope(page, 'profile:sP3C');
    await until('those in Display P3', async () => (await shownCount(page)) === 2);
    await typeScope(page, 'profile:none');
    await until('those that name none', async () => (await shownCount(page)) > 0);
    await typeScope(page, 'kind:raw');
    await until('the raws', async () => (await shownCount(page)) === 2);
    await openFirst();
    const said: (string | null)[] = [];
    for (let at = 0; at < 2; at++) {
      await until(
        'it says what it is',
        async () =>
          (await page
            .getByRole('status')
            .filter({ hasText: /Developed|the camera left/ })
            .count()) > 0,
      );
      said.push(
        await page
          .getByRole('status')
          .filter({ hasText: /Developed|the camera left/ })
          .first()
          .textContent(),
      );
      await page.keyboard.press('d');
    }
    expect(said.join(' ')).toContain('Developed from the data of the sensor');
    expect(said.join(' ')).toContain('the picture the camera left in the file');
    await page.keyboard.press('Escape');
  });

  it('the pages of a file are counted and stepped through', async () => {
    const { page } = browser;
    await typeScope(page, 'name:pages');
    await until('the file', async () => (await shownCount(page)) === 1);
    await openFirst();
    await page.getByText('page 1 of 3').waitFor();
    await page.keyboard.press('PageDown');
    await page.getByText('page 2 of 3').waitFor();
    const stage = page.locator('[data-photo-shown]');
    await until('the second page', async () => (await stage.getAttribute('data-size')) === 'screen');
    await page.getByRole('button', { name: 'Next page' }).click();
    await page.getByText('page 3 of 3').waitFor();
    expect(await page.getByRole('button', { name: 'Next page' }).isDisabled()).toBe(true);
    await page.keyboard.press('Escape');
  });

  it('a video plays by key, goes back to its poster, and one that cannot be played says so', async () => {
    const { page } = browser;
    await typeScope(page, 'format:video');
    await until('the video', async () => (await shownCount(page)) === 1);
    await openFirst();
    await page.getByRole('button', { name: /^Play/ }).waitFor();
    await page.keyboard.press('Space');
    const video = page.locator('video');
    await until('it plays', () =>
      video.evaluate((element: HTMLVideoElement) => element.videoWidth === 960 && element.currentTime > 0.1),
    );
    await page.keyboard.press('Space');
    await until('it stands', () => video.evaluate((element: HTMLVideoElement) => element.paused));
    const at = await video.evaluate((element: HTMLVideoElement) => element.currentTime);
    await page.keyboard.press('.');
    await until(
      'a frame on',
      async () => (await video.evaluate((element: HTMLVideoElement) => element.currentTime)) > at,
    );
    await page.keyboard.press('Home');
    await until('the poster', async () => (await video.count()) === 0);
    await page.keyboard.press('Escape');
    await typeScope(page, 'format=avi');
    await until('the other video', async () => (await shownCount(page)) === 1);
    await openFirst();
    await page.getByRole('button', { name: /^Play/ }).waitFor();
    await page.keyboard.press('Space');
    await page.getByText('This browser cannot play this video').waitFor();
    await page.keyboard.press('Escape');
  });
});
