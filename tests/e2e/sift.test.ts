// Sifting a shoot on a real folder: rounds, ladder, markers, sets, side by side, set aside and brought back, erased.
// The files are judged by ExifTool, the pictures on the screen by sharp.

import { existsSync, renameSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, filesIn, newFolder, noise, photoBytes, put, read, sha256, until } from './folders';
import {
  allWritten,
  connectFolder,
  lookThrough,
  openApplication,
  openPlace,
  shownCount,
  tick,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
let browser: Browser;
let folder: string;

const at = (minute: number, second = 0) =>
  `2026:08:30 10:${String(minute).padStart(2, '0')}:${String(second).padStart(2, '0')}`;
const rating = (name: string): unknown =>
  (exiftool(folder, `${name}.xmp`) as Record<string, unknown>)['XMP-xmp:Rating'];
const view = () => browser.page.getByRole('region', { name: 'Single view' });
const judging = () => browser.page.getByRole('complementary', { name: 'Judging' });
const sums = () => judging().getByRole('region', { name: 'Round' }).getByRole('status').innerText();
const wall = () => browser.page.getByRole('group', { name: 'Wall' });
const written = () => allWritten(browser.page);

/** What stands on the stage, once nothing better will come. */
async function settledOn(name: string): Promise<void> {
  await until(`${name} is shown`, async () => {
    const stage = browser.page.locator('[data-photo-shown]').first();
    return (
      (await stage.getAttribute('data-settled')) === 'true' && (await browser.page.getByText(name).first().isVisible())
    );
  });
}

/** The colours at spots of the picture on the stage, in shares of its width and height. */
const colorsAt = (spots: [number, number][]) =>
  browser.page
    .locator('[data-photo-shown] canvas')
    .first()
    .evaluate((canvas, wanted) => {
      const { width, height } = canvas as HTMLCanvasElement;
      const context = (canvas as HTMLCanvasElement).getContext('2d');
      const { data } = context?.getImageData(0, 0, width, height) ?? { data: [] };
      let [left, top, right, bottom] = [width, height, 0, 0];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          if ((data[4 * (y * width + x) + 3] ?? 0) > 128)
            [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
      return wanted.map(([x, y]) => {
        const spot = 4 * (Math.round(top + y * (bottom - top)) * width + Math.round(left + x * (right - left)));
        return [data[spot] ?? 0, data[spot + 1] ?? 0, data[spot + 2] ?? 0];
      });
    }, spots);

async function sharpColors(file: Buffer, spots: [number, number][]): Promise<number[][]> {
  const { data, info } = await sharp(file)
    .rotate()
    .toColourspace('srgb')
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return spots.map(([x, y]) => [
    ...data
      .subarray(3 * (Math.round(y * (info.height - 1)) * info.width + Math.round(x * (info.width - 1))))
      .subarray(0, 3),
  ]);
}

const near = (ours: number[][], theirs: number[][], within: number) =>
  ours.forEach((color, index) =>
    color.forEach((value, channel) =>
      expect(
        Math.abs(value - (theirs[index]?.[channel] ?? NaN)),
        `${index}: ${ours} against ${theirs}`,
      ).toBeLessThanOrEqual(within),
    ),
  );

beforeAll(async () => {
  folder = newFolder('Shoot ð');
  for (let frame = 1; frame <= 12; frame++)
    put(
      folder,
      `S_${String(frame).padStart(4, '0')}.jpg`,
      await photoBytes({ seed: frame, captured: at(frame), headline: `Plain ${frame}` }),
    );
  for (const [index, exposure] of (
    [
      [1, 1000],
      [1, 250],
      [1, 60],
    ] as const
  ).entries())
    put(
      folder,
      `S_002${index}.jpg`,
      await photoBytes({
        seed: 20 + index,
        captured: at(20, index),
        exposure: [...exposure],
        headline: `Bracket ${index + 1}`,
      }),
    );
  for (let index = 0; index < 4; index++)
    put(
      folder,
      `S_003${index}.jpg`,
      await photoBytes({
        seed: 30,
        captured: at(30),
        headline: `Burst ${index + 1}`,
        picture: await sharp(await noise(30, 600, 400))
          .blur(0.4 + index)
          .jpeg({ quality: 95 })
          .toBuffer(),
      }),
    );
  const wide = await sharp(await noise(40, 300, 100))
    .resize(1500, 500, { kernel: 'cubic' })
    .jpeg({ quality: 95 })
    .toBuffer();
  for (let index = 0; index < 3; index++)
    put(
      folder,
      `S_004${index}.jpg`,
      await photoBytes({
        captured: at(40, index * 5),
        headline: `Panorama ${index + 1}`,
        picture: await sharp(wide)
          .extract({ left: index * 375, top: 0, width: 750, height: 500 })
          .jpeg({ quality: 92 })
          .toBuffer(),
      }),
    );
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, folder, 'Shoot');
  await openPlace(browser.page, 'Find');
  await until('all photos', async () => (await shownCount(browser.page)) === 22);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

story('a shoot is sifted', (step) => {
  step(
    'sets: are found from what the cameras wrote, and a panorama from its pictures; each tile says so, and closed they are one tile',
    async () => {
      const { page } = browser;
      await until(
        'three sets',
        async () =>
          (await wall()
            .getByRole('button', { name: /bracket of 3/ })
            .count()) === 3 &&
          (await wall()
            .getByRole('button', { name: /burst of 4/ })
            .count()) === 4 &&
          (await wall()
            .getByRole('button', { name: /panorama of 3/ })
            .count()) === 3,
      );
      await page.getByRole('button', { name: /^View options/ }).click();
      await tick(page.getByRole('checkbox', { name: 'One tile for each set' }), true);
      await until('one tile each', async () => (await shownCount(page)) === 15);
      expect(await page.getByRole('main').innerText()).toMatch(/15 shown of 22 · 7 in closed sets/);
      await tick(page.getByRole('checkbox', { name: 'One tile for each set' }), false);
      await until('all again', async () => (await shownCount(page)) === 22);
      await page.keyboard.press('Escape');
    },
  );

  step('sets: are put together and taken apart by hand, in the files too, and undone', async () => {
    const { page } = browser;
    await page
      .getByRole('group', { name: 'Wall' })
      .getByRole('button', { name: /^Plain 1(,|$)/ })
      .click();
    await page.keyboard.press('Shift+ArrowRight');
    await page.getByRole('region', { name: 'Selection' }).getByRole('button', { name: 'More…' }).click();
    await page.getByRole('menuitem', { name: 'Put together as one set' }).click();
    await until(
      'a set of two',
      async () =>
        (await wall()
          .getByRole('button', { name: /set of 2/ })
          .count()) === 2,
    );
    await written();
    expect(JSON.stringify(exiftool(folder, 'S_0001.xmp'))).toContain('urn:wembo:set:');
    await page.keyboard.press('Control+z');
    await until(
      'no longer',
      async () =>
        (await wall()
          .getByRole('button', { name: /set of 2/ })
          .count()) === 0,
    );
    await page.keyboard.press('Escape');
  });

  step(
    'three rounds by keyboard: lift, leave and reject; are left and taken up again; the next starts from what went up; the sidecars say it all',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Sift');
      await page.getByRole('button', { name: 'Begin over 22 photos' }).click();
      await judging().getByText('0 of 22 done, 22 to do').waitFor();
      for (const key of ['w', 'w', 's', 'q', 'w']) await page.keyboard.press(key); // as quick as they come
      await judging().getByText('5 of 22 done, 17 to do · 3 up (13.6 %), 1 stay, 1 rejected').waitFor();
      await view().getByText('6 of 22').waitFor(); // nothing has vanished: the strip holds them all
      await page.keyboard.press('Control+z');
      await judging().getByText('4 of 22 done, 18 to do').waitFor();
      await page.keyboard.press('Control+Shift+z');
      await judging().getByText('5 of 22 done').waitFor();
      await judging().getByRole('button', { name: 'Pause the round' }).click();
      await written();
      expect(
        ['S_0001', 'S_0002', 'S_0003', 'S_0004', 'S_0005'].map((name) =>
          existsSync(path.join(folder, `${name}.xmp`)) ? (rating(name) ?? 0) : 0,
        ),
      ).toEqual([1, 1, 0, -1, 1]);

      await page.reload();
      await page.getByRole('button', { name: 'Take it up again' }).click();
      await view().getByText('6 of 22').waitFor(); // the first that is not decided
      for (let step = 0; step < 17; step++) {
        const before = await sums();
        await page.keyboard.press(step < 5 ? 'w' : 's');
        await until('decided', async () => (await sums()) !== before);
      }
      await judging().getByText('22 of 22 done, 0 to do · 8 up (36.4 %), 13 stay, 1 rejected').waitFor();
      await judging().getByRole('button', { name: 'Next round over the 8 that went up' }).click();
      await judging().getByText('0 of 8 done').waitFor();
      for (const key of ['w', 'w', 'w', 's', 's', 's', 's', 's']) {
        const before = await sums();
        await page.keyboard.press(key);
        await until('decided', async () => (await sums()) !== before);
      }
      await judging().getByRole('button', { name: 'Next round over the 3 that went up' }).click();
      await judging().getByText('0 of 3 done').waitFor();
      await page.keyboard.press('w');
      await judging().getByText('1 of 3 done').waitFor();
      await judging().getByRole('button', { name: 'Pause the round' }).click();
      await written();
      expect(['S_0001', 'S_0002', 'S_0005', 'S_0006'].map(rating)).toEqual([3, 2, 2, 1]);
      await until('the rounds are on the drive', () => {
        const { rounds } = JSON.parse(read(folder, '_wembo/rounds.json').toString()) as {
          rounds: { rung: number; decided: object }[];
        };
        return (
          rounds
            .map(({ rung, decided }) => `${rung} ${Object.keys(decided).length}`)
            .sort()
            .join() === '1 22,2 8,3 1'
        );
      });
    },
  );

  step(
    'the ladder and the markers: hold the person’s meanings; the photo is taken to a rung by hand, and a marker given by M and its digit',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Sift');
      await typeScope(page, 'name:S_0009');
      await page.getByRole('button', { name: 'Meanings…' }).click();
      await page.getByRole('textbox', { name: 'Meaning of rung four' }).fill('worth printing');
      await page.getByRole('textbox', { name: 'Meaning of rung four' }).press('Enter');
      await page.getByRole('button', { name: 'Done' }).click();
      await page.getByRole('region', { name: 'Markers' }).getByRole('button', { name: 'Edit…' }).click();
      await page.getByRole('textbox', { name: 'Name of the new marker' }).fill('exhibition');
      await page.getByRole('textbox', { name: 'Name of the new marker' }).press('Enter');
      await page.getByRole('group', { name: 'Marker exhibition' }).waitFor();
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Go through 1 photo' }).click();
      await settledOn('1 of 1');
      const rung = judging().getByRole('listitem').filter({ hasText: 'worth printing' });
      const token = judging().getByTitle('Take it to another rung');
      await token.hover();
      await page.mouse.down();
      const box = await rung.boundingBox();
      await page.mouse.move((box?.x ?? 0) + 120, (box?.y ?? 0) + 15, { steps: 8 });
      await page.mouse.up();
      await until('on the rung', async () => (await rung.getByRole('button', { pressed: true }).count()) === 1);
      await page.keyboard.press('m');
      await page.keyboard.press('1');
      await judging().getByRole('button', { name: 'exhibition 1', pressed: true }).waitFor();
      await written();
      expect([rating('S_0009'), (exiftool(folder, 'S_0009.xmp') as Record<string, unknown>)['XMP-xmp:Label']]).toEqual([
        4,
        'exhibition',
      ]);
      expect(JSON.parse(read(folder, '_wembo/ladder.json').toString())).toMatchObject({
        ladder: [{ meanings: { 4: 'worth printing' } }],
      });
      expect(JSON.parse(read(folder, '_wembo/markers.json').toString())).toMatchObject({
        markers: [{ name: 'exhibition' }],
      });
    },
  );

  step(
    'side by side: shows the frames of a burst with how sharp each is; one is kept and the rest rejected in one act, and undone',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await typeScope(page, 'set:burst');
      await until('the burst', async () => (await shownCount(page)) === 4);
      await wall()
        .getByRole('button', { name: /^Burst 1/ })
        .dblclick();
      await page.keyboard.press('b');
      const beside = page.getByRole('region', { name: 'Side by side' });
      await until('measured', async () => (await beside.getByText(/sharpness \d+ %/).count()) === 4);
      const percents = (await beside.getByText(/sharpness \d+ %/).allInnerTexts()).map((text) =>
        Number(/\d+/.exec(text)?.[0]),
      );
      expect(percents).toEqual([...percents].sort((a, b) => b - a)); // each blurred more than the one before
      expect(percents[0]).toBe(100);
      expect(percents[3]).toBeLessThan(70);
      await page.keyboard.press('Space');
      await until(
        'all at real pixels',
        async () => (await page.locator('[data-zoomed=true][data-size=full]').count()) === 4,
      );
      await page.keyboard.press('Space');
      await beside.getByRole('article').first().getByRole('button', { name: 'Keep, reject the other 3' }).click();
      await until(
        'rejected',
        async () =>
          (await beside
            .getByRole('article')
            .filter({ has: page.getByRole('img', { name: 'rejected' }) })
            .count()) === 3,
      );
      await written();
      expect(['S_0030', 'S_0031', 'S_0032', 'S_0033'].map(rating)).toEqual([1, -1, -1, -1]);
      await page.keyboard.press('Control+z');
      await until('taken back', async () => (await beside.getByRole('img', { name: 'rejected' }).count()) === 0);
      await page.keyboard.press('Control+Shift+z');
      await page.keyboard.press('b');
      await page.keyboard.press('Escape');
      await wall().waitFor();
    },
  );

  step(
    'rejecting, and what comes after: one frame of a bracket asks once; the set goes or the frame alone',
    async () => {
      const { page } = browser;
      await typeScope(page, 'set:bracket');
      await until('the bracket', async () => (await shownCount(page)) === 3);
      await wall()
        .getByRole('button', { name: /^Bracket 2/ })
        .click();
      await page.keyboard.press('q');
      await page.getByText('This frame belongs to a bracket of 3').waitFor();
      await page.getByRole('button', { name: 'Leave all' }).click();
      await page.keyboard.press('q');
      await page.getByRole('button', { name: 'Only this frame' }).click();
      await until(
        'one rejected',
        async () =>
          (await wall()
            .getByRole('button', { name: /rejected/ })
            .count()) === 1,
      );
      await page.keyboard.press('q');
      await until(
        'taken back',
        async () =>
          (await wall()
            .getByRole('button', { name: /rejected/ })
            .count()) === 0,
      );
      await page.keyboard.press('q'); // not asked again
      await until(
        'rejected again',
        async () =>
          (await wall()
            .getByRole('button', { name: /rejected/ })
            .count()) === 1,
      );
      for (let time = 0; time < 5; time++) await page.keyboard.press('q'); // an odd number: off again
      await until(
        'off',
        async () =>
          (await wall()
            .getByRole('button', { name: /rejected/ })
            .count()) === 0,
      );
      await page.keyboard.press('q');
      await page.keyboard.press('Control+z'); // at once behind it: that is what it takes back
      await page.getByText('Undone: Rating of one photo').first().waitFor();
      await until(
        'off again',
        async () =>
          (await wall()
            .getByRole('button', { name: /rejected/ })
            .count()) === 0,
      );
    },
  );

  step(
    'rejecting, and what comes after: a photo that no longer fits the scope stays until looked at anew, or leaves at once; the screen says which',
    async () => {
      const { page } = browser;
      await typeScope(page, 'rating:-1');
      await until('the rejected', async () => (await shownCount(page)) === 4);
      await wall().getByRole('button').first().click();
      await page.keyboard.press('q');
      const stays = page.getByRole('button', { name: '1 stay; look anew' });
      await stays.waitFor();
      expect(await shownCount(page)).toBe(4);
      await stays.click();
      await until('gone', async () => (await shownCount(page)) === 3);
      await page.keyboard.press('Control+z');
      await until('back', async () => (await shownCount(page)) === 4);
      await page.getByRole('button', { name: /^View options/ }).click();
      await page.getByText('is hidden at once').click();
      await page.keyboard.press('Escape');
      await wall().getByRole('button').first().click();
      await page.keyboard.press('q');
      await until('left at once', async () => (await shownCount(page)) === 3);
      await page.keyboard.press('Control+z');
      await until('back', async () => (await shownCount(page)) === 4);
    },
  );

  step(
    'rejecting, and what comes after: the rejected are set aside with their sidecars, restored where they lay, and erased only from there, asked twice',
    async () => {
      const { page } = browser;
      await written();
      const before = sha256(read(folder, 'S_0031.jpg'));
      await openPlace(page, 'Sift');
      await page.getByRole('button', { name: 'Remove 4 photos…' }).click();
      await page.getByText('4 files of 4 photos').waitFor();
      await page.getByRole('button', { name: 'Set 4 photos aside' }).click();
      await until(
        'moved',
        () =>
          filesIn(folder).filter((file) => file.startsWith('_wembo/set-aside/') && /\.(jpg|xmp)$/.test(file)).length ===
          8,
      );
      expect(filesIn(folder)).not.toContain('S_0031.jpg');
      await openPlace(page, 'Safekeep');
      const aside = page.getByRole('region', { name: 'Set aside' });
      await aside.getByText('4 photos, 4 files').click();
      await aside.getByRole('button', { name: 'Bring back S_0031.jpg' }).click();
      await until(
        'back where it was',
        () => filesIn(folder).includes('S_0031.jpg') && filesIn(folder).includes('S_0031.xmp'),
      );
      expect(sha256(read(folder, 'S_0031.jpg'))).toBe(before);
      await aside.getByText('3 photos, 3 files').waitFor();
      await aside.getByRole('button', { name: 'Erase…' }).click();
      await page.getByRole('button', { name: 'Erase 3 files…' }).click();
      await page.getByText('Nothing brings them back.').waitFor();
      expect(filesIn(folder).filter((file) => file.startsWith('_wembo/set-aside/'))).toHaveLength(6); // asked, not done
      await page.getByRole('button', { name: 'Erase them for good' }).click();
      await until('erased', () => filesIn(folder).filter((file) => file.startsWith('_wembo/set-aside/')).length === 0);
      await aside.getByText('Nothing is set aside').waitFor();
      await openPlace(page, 'Find');
      await typeScope(page, '');
      await until('the rest', async () => (await shownCount(page)) === 19);
    },
  );

  step(
    'rejecting, and what comes after: taken out of the catalog, a photo is no longer counted, its file stays; brought back it is',
    async () => {
      const { page } = browser;
      await wall()
        .getByRole('button', { name: /^Plain 11/ })
        .click();
      await page.keyboard.press('Shift+ArrowRight');
      await page.getByRole('region', { name: 'Selection' }).getByRole('button', { name: 'Remove…' }).click();
      await page.getByRole('button', { name: 'Take 2 photos out of the catalog' }).click();
      await until('not counted', async () => (await shownCount(page)) === 17);
      expect(filesIn(folder)).toEqual(expect.arrayContaining(['S_0011.jpg', 'S_0012.jpg']));
      await openPlace(page, 'Safekeep');
      await page.getByText('Out of the catalog: 2 photos').click();
      await page.getByRole('button', { name: 'Bring back 2 photos' }).click();
      await openPlace(page, 'Find');
      await until('counted', async () => (await shownCount(page)) === 19);
    },
  );

  step(
    'the picture: stands upright in all eight orientations, and in the colours its profile means, as sharp shows it',
    async () => {
      const { page } = browser;
      const quarters = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c02020' } })
        .composite([
          { input: { create: { width: 150, height: 100, channels: 3, background: '#20a040' } }, left: 150, top: 0 },
          { input: { create: { width: 150, height: 100, channels: 3, background: '#2040c0' } }, left: 0, top: 100 },
          { input: { create: { width: 150, height: 100, channels: 3, background: '#e0c020' } }, left: 150, top: 100 },
        ])
        .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
        .toBuffer();
      for (let orientation = 1; orientation <= 8; orientation++)
        put(
          folder,
          `turned/T_${orientation}.jpg`,
          await photoBytes({
            picture: quarters,
            orientation,
            captured: `2025:01:0${orientation} 10:00:00`,
            headline: `Turned ${orientation}`,
          }),
        );
      const profiled = await sharp({
        create: { width: 200, height: 200, channels: 3, background: { r: 60, g: 200, b: 90 } },
      })
        .withIccProfile('p3')
        .jpeg({ quality: 95 })
        .toBuffer();
      put(folder, 'turned/P3.jpg', profiled);
      await lookThrough(page, 'Shoot');
      await openPlace(page, 'Find');
      await typeScope(page, 'folder:turned');
      await until('them', async () => (await shownCount(page)) === 9);
      await typeScope(page, 'folder:turned Turned');
      await until('the eight', async () => (await shownCount(page)) === 8);
      const spots: [number, number][] = [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ];
      await wall()
        .getByRole('button', { name: /^Turned 1/ })
        .dblclick();
      for (let orientation = 1; orientation <= 8; orientation++) {
        await settledOn(`${orientation} of 8`);
        near(await colorsAt(spots), await sharpColors(read(folder, `turned/T_${orientation}.jpg`), spots), 6);
        await page.keyboard.press('d');
      }
      await page.keyboard.press('Escape');
      await typeScope(page, 'folder:turned name:P3');
      await until('it', async () => (await shownCount(page)) === 1);
      await wall().getByRole('button').first().dblclick();
      await settledOn('1 of 1');
      const [ours] = await colorsAt([[0.5, 0.5]]);
      near([ours ?? []], await sharpColors(read(folder, 'turned/P3.jpg'), [[0.5, 0.5]]), 4);
      const { data } = await sharp(read(folder, 'turned/P3.jpg'), { ignoreIcc: true })
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(Math.abs((ours?.[0] ?? 0) - (data[0] ?? 0))).toBeGreaterThan(10); // not the numbers in the file, but what they mean
      near([ours ?? []], [[60, 200, 90]], 4);
      await page.keyboard.press('Escape');
    },
  );

  step(
    'the picture: that breaks off is shown as far as it goes, one of which nothing can be shown says so, and an away drive shows the preview',
    async () => {
      const { page } = browser;
      const whole = await photoBytes({
        seed: 77,
        width: 1500,
        height: 1000,
        captured: '2024:05:01 10:00:00',
        headline: 'Broken off',
      });
      put(folder, 'odd/B.jpg', whole.subarray(0, Math.round(whole.length * 0.6)));
      const tiff = await sharp(await noise(79, 60, 40))
        .tiff({ compression: 'none' })
        .toBuffer();
      // its tag 259 (TIFF 6.0, Compression) says that it is packed as nothing here unpacks
      const entry = tiff.indexOf(Buffer.from([0x03, 0x01, 0x03, 0x00, 0x01, 0x00, 0x00, 0x00]));
      tiff.writeUInt16LE(50_001, entry + 8);
      put(folder, 'odd/N.tif', tiff);
      put(
        folder,
        'odd/W.jpg',
        await photoBytes({ seed: 78, width: 1500, height: 1000, captured: '2024:05:02 10:00:00', headline: 'Whole' }),
      );
      await lookThrough(page, 'Shoot');
      await openPlace(page, 'Find');
      await typeScope(page, 'folder:odd');
      await until('all three', async () => (await shownCount(page)) === 3);
      await wall()
        .getByRole('button', { name: /not decoded here: TIFF packed as WebP/ })
        .dblclick();
      await view().getByText('There is nothing to show of this photo').waitFor();
      await page.keyboard.press('d');
      await view().getByText('The file breaks off: it is shown as far as it goes.').waitFor();
      await page.keyboard.press('d');
      await settledOn('3 of 3');
      expect(await view().getByRole('status').count()).toBe(0);
      renameSync(folder, `${folder} away`);
      await page.evaluate(() => window.dispatchEvent(new Event('focus')));
      await page.keyboard.press('Escape');
      await wall()
        .getByRole('button', { name: /^Whole/ })
        .dblclick();
      await view().getByText('Its drive is away: this is the small preview.').waitFor();
      await page.keyboard.press('2');
      await until(
        'judged all the same',
        async () => (await view().getByRole('img', { name: 'rating 2' }).count()) === 1,
      );
      renameSync(`${folder} away`, folder);
      await page.evaluate(() => window.dispatchEvent(new Event('focus')));
      await settledOn('3 of 3');
      await until('the original again', async () => (await view().getByRole('status').count()) === 0);
      await until('written when it is back', () => existsSync(path.join(folder, 'odd/W.xmp')) && rating('odd/W') === 2);
      await page.keyboard.press('Escape');
    },
  );

  step('the picture: of sixty megapixels is shown at 100 %', async () => {
    const { page } = browser;
    put(
      folder,
      'large/P.jpg',
      await photoBytes({
        captured: '2023:05:01 10:00:00',
        headline: 'Sixty',
        picture: await sharp({ create: { width: 12_000, height: 5000, channels: 3, background: '#507060' } })
          .jpeg({ quality: 70 })
          .toBuffer(),
      }),
    );
    await lookThrough(page, 'Shoot');
    await openPlace(page, 'Find');
    await typeScope(page, 'folder:large');
    await until('it', async () => (await shownCount(page)) === 1);
    await wall().getByRole('button').first().dblclick();
    await settledOn('1 of 1');
    await page.keyboard.press('Space');
    await page.locator('[data-zoomed=true][data-size=full]').waitFor();
    near(await colorsAt([[0.5, 0.5]]), [[0x50, 0x70, 0x60]], 3);
    await page.keyboard.press('Escape');
  });

  step(
    'the picture: is leafed through by a finger that wipes, and a finger that rests on the wall adds to the selection',
    async () => {
      const { page } = browser;
      await typeScope(page, 'Plain');
      await until('the frames', async () => (await shownCount(page)) === 11);
      await wall()
        .getByRole('button', { name: /^Plain 2/ })
        .click();
      await wall()
        .getByRole('button', { name: /^Plain 3/ })
        .evaluate(async (tile) => {
          tile.dispatchEvent(new PointerEvent('pointerdown', { pointerType: 'touch', bubbles: true }));
          await new Promise((resolve) => setTimeout(resolve, 700));
          tile.dispatchEvent(new PointerEvent('pointerup', { pointerType: 'touch', bubbles: true }));
        });
      await page.getByRole('region', { name: 'Selection' }).getByText('2 photos selected').waitFor();
      await page.keyboard.press('Escape');
      await wall()
        .getByRole('button', { name: /^Plain 2/ })
        .dblclick();
      await settledOn('2 of 11');
      const stage = page.locator('[data-photo-shown]').first();
      const swipe = (from: number, to: number) =>
        stage.evaluate(
          (element, [start, end]) => {
            const at = (type: string, x: number) =>
              element.dispatchEvent(
                new PointerEvent(type, {
                  pointerType: 'touch',
                  pointerId: 7,
                  clientX: x,
                  clientY: 300,
                  button: 0,
                  bubbles: true,
                }),
              );
            element.setPointerCapture = () => undefined; // there is no real finger to capture
            at('pointerdown', start ?? 0);
            at('pointermove', ((start ?? 0) + (end ?? 0)) / 2);
            at('pointerup', end ?? 0);
          },
          [from, to],
        );
      await swipe(600, 420);
      await view().getByText('3 of 11').waitFor();
      await swipe(420, 600);
      await view().getByText('2 of 11').waitFor();
      await page.keyboard.press('Escape');
    },
  );

  step(
    'the picture: at 100 % stays on the same spot from frame to frame; a key held down never shows a picture under the name of another',
    async () => {
      const { page } = browser;
      await typeScope(page, 'Plain');
      await until('the frames', async () => (await shownCount(page)) === 11);
      await wall()
        .getByRole('button', { name: /^Plain 1(,|$)/ })
        .dblclick();
      await settledOn('1 of 11');
      await page.mouse.move(500, 320);
      await page.keyboard.press('Space');
      await page.locator('[data-zoomed=true][data-size=full]').waitFor();
      await page.keyboard.press('d');
      await view().getByText('2 of 11').waitFor();
      await page.locator('[data-zoomed=true][data-size=full]').waitFor();
      await page.keyboard.press('Space');
      const seen = await page.evaluate(async () => {
        const wrong: string[] = [];
        let steps = 0;
        for (const key of [...'dddddddddaaaaaaadddd']) {
          window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, repeat: true }));
          await new Promise(requestAnimationFrame);
          const stage = document.querySelector<HTMLElement>('[data-photo-shown]');
          const shown = stage?.dataset.photoShown ?? '';
          const asked = new URLSearchParams(location.search).get('photo');
          if (shown !== '' && shown !== asked) wrong.push(`${shown} for ${asked}`);
          steps += 1;
        }
        return { wrong, steps };
      });
      expect(seen).toEqual({ wrong: [], steps: 20 });
      await page.keyboard.press('Escape');
    },
  );

  step('on the wall: a drawn rectangle selects, a sort keeps the selection, and the list reads the same', async () => {
    const { page } = browser;
    await typeScope(page, 'Plain');
    await until('the frames', async () => (await shownCount(page)) === 11);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.keyboard.press('Escape'); // a photo that is selected is dragged along; a rectangle begins on one that is not
    const first = await wall().getByRole('button').nth(0).boundingBox();
    const third = await wall().getByRole('button').nth(2).boundingBox();
    await page.mouse.move((first?.x ?? 0) + 20, (first?.y ?? 0) + 20);
    await page.mouse.down();
    await page.mouse.move((third?.x ?? 0) + 20, (third?.y ?? 0) + 40, { steps: 6 });
    await page.mouse.up();
    const selection = page.getByRole('region', { name: 'Selection' });
    await selection.getByText('3 photos selected').waitFor();
    await typeScope(page, 'Plain sort:-taken');
    await until(
      'the other way round',
      async () =>
        (await wall().getByRole('button').first().getAttribute('aria-label'))?.startsWith('Plain 12') === true,
    );
    await selection.getByText('3 photos selected').waitFor();
    await page.getByText('List', { exact: true }).click();
    const list = page.getByRole('grid', { name: 'List' });
    await list.getByRole('row', { name: /S_0012\.jpg/ }).waitFor();
    expect(await list.getByRole('row', { selected: true }).count()).toBe(3);
    await list.getByRole('button', { name: 'Rating' }).click();
    await until('by rating', async () => (await list.getByRole('row').nth(1).innerText()).includes('S_0009'));
    await selection.getByText('3 photos selected').waitFor();
    await page.getByText('Wall', { exact: true }).click();
    await page.keyboard.press('Escape');
    await typeScope(page, '');
  });

  step('on the wall: the almanac is drawn over, taken by a month of every year, and opened to days', async () => {
    const { page } = browser;
    await typeScope(page, '');
    const cell = (name: RegExp) => page.getByRole('button', { name });
    await cell(/^May 2024/).waitFor();
    const [from, to] = [await cell(/^May 2024/).boundingBox(), await cell(/^Jan 2025/).boundingBox()];
    await page.mouse.move((from?.x ?? 0) + 8, (from?.y ?? 0) + 1);
    await page.mouse.down();
    await page.mouse.move((to?.x ?? 0) + 8, (to?.y ?? 0) + 1, { steps: 5 });
    await page.mouse.up();
    await until(
      'the run',
      async () => (await page.getByRole('combobox', { name: 'Search' }).inputValue()) === 'taken:2024-05..2025-01',
    );
    await until('its photos', async () => (await shownCount(page)) === 10);
    await typeScope(page, '');
    await page.getByRole('button', { name: 'A month of every year' }).click();
    await page.getByRole('button', { name: /^Aug/ }).last().click();
    await until(
      'every August',
      async () => (await page.getByRole('combobox', { name: 'Search' }).inputValue()) === 'month:8',
    );
    await page.keyboard.press('Escape');
    await typeScope(page, 'taken:2025');
    await page.getByRole('button', { name: 'A month of every year' }).click();
    await page.getByRole('button', { name: /^Days of 2025/ }).click();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: '3 Jan 2025: 1 photos' }).click();
    await until(
      'the day',
      async () => (await page.getByRole('combobox', { name: 'Search' }).inputValue()) === 'taken:2025-01-03',
    );
  });

  step('two tabs judge the same photo: both see it, and the sidecar has the last word', async () => {
    const { page, context } = browser;
    await typeScope(page, 'name:S_0008');
    await until('it', async () => (await shownCount(page)) === 1);
    await wall().getByRole('button').first().click();
    const other = await context.newPage();
    await other.goto(`${origin}/find?q=name:S_0008`);
    await other.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
    await page.keyboard.press('5');
    await other
      .getByRole('group', { name: 'Wall' })
      .getByRole('button', { name: /rating 5/ })
      .waitFor();
    await other.keyboard.press('q');
    await wall()
      .getByRole('button', { name: /rejected/ })
      .waitFor();
    await other.close();
    await written();
    expect(rating('S_0008')).toBe(-1);
  });
});
