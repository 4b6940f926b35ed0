// A picture is corrected by sliders and keys: kept beside the file, which stays as it is to the last byte; shown so on
// the wall and large, found, undone, and sent so. Judged by digests, and by the reference on the pixels that sharp reads.

import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { developByFormulas } from '@/core/looks/develop';
import { complaints } from './axe';
import { type Browser, openBrowser, removeProfile } from './browser';
import { digestsOf, exiftool, filesIn, newFolder, read, until } from './folders';
import {
  allWritten,
  choose,
  connectFolder,
  drivePhotos,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
let browser: Browser;
let studio: string;
let press: string;
let before: Record<string, string>;

beforeAll(async () => {
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  studio = await drivePhotos(browser, 3);
  press = newFolder('Press');
  await connectFolder(browser, press, 'Press');
  before = originals();
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

const originals = () => Object.fromEntries(Object.entries(digestsOf(studio)).filter(([name]) => name.endsWith('.jpg')));
const sidecar = (number: number): string =>
  filesIn(studio).includes(`p${number}.xmp`) ? read(studio, `p${number}.xmp`).toString('utf8') : '';
const said = (number: number, member: string): string | undefined =>
  new RegExp(`<wembo:${member}>([^<]*)<`).exec(sidecar(number))?.[1];
const panel = () => browser.page.getByRole('complementary', { name: 'Corrections' });
const number = (name: string) => panel().getByRole('spinbutton', { name: `${name}, as a number` });

story('a picture is corrected', (step) => {
  step('by a number and by the arrow keys of a slider; the file stays as it is', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await typeScope(page, 'drive:Studio');
    await until('the photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Photo 1');
    const tile = page.getByRole('group', { name: 'Wall' }).getByRole('button', { name: 'Photo 1' }).locator('img');
    const uncorrected = await until('its preview', () => tile.getAttribute('src'));
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).waitFor();
    await page.keyboard.press('c');
    await panel().waitFor();
    expect(await complaints(page)).toEqual([]);
    await number('Exposure, EV').fill('1');
    await number('Exposure, EV').press('Enter');
    await panel().getByRole('slider', { name: 'Contrast' }).focus();
    for (let press = 0; press < 20; press++) await page.keyboard.press('ArrowRight');
    await until('both are in the sidecar', () => said(1, 'Exposure') === '1' && said(1, 'Contrast') === '20');
    expect(said(1, 'Formulas')).toBe('1');
    expect(originals()).toEqual(before);
    // ours, in a namespace of its own: other programs read what stands beside it
    expect(
      exiftool(studio, 'p1.xmp')['XMP-photoshop:Headline'] ?? exiftool(studio, 'p1.jpg')['XMP-photoshop:Headline'],
    ).toBe('Photo 1');
    await panel().getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('Escape');
    await until('the wall shows it so', async () => {
      const now = await tile.getAttribute('src');
      return now !== null && now !== uncorrected;
    });
  });

  step('and turned: the picture stands upright on the stage, and before is as it lies in the file', async () => {
    const { page } = browser;
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).waitFor();
    await page.keyboard.press('c');
    await panel().getByRole('button', { name: 'Turn right' }).click();
    await until('it is kept', () => said(1, 'Turns') === '1');
    await page.keyboard.press('x');
    await panel()
      .getByRole('button', { name: /^Before/, pressed: true })
      .waitFor();
    await page.keyboard.press('x');
    await panel()
      .getByRole('button', { name: /^Before/, pressed: false })
      .waitFor();
    await panel().getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('Escape');
  });

  step('it is found, one undo takes one act back, and redo brings it again', async () => {
    const { page } = browser;
    await typeScope(page, 'drive:Studio corrected:yes');
    await until('it alone', async () => (await shownCount(page)) === 1);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await until('it is turned back', () => said(1, 'Turns') === undefined && said(1, 'Exposure') === '1');
    await page.getByRole('button', { name: /^Redo/ }).click();
    await until('and turned again', () => said(1, 'Turns') === '1');
    await typeScope(page, 'drive:Studio corrected:no');
    await until('the others', async () => (await shownCount(page)) === 2);
  });

  step('it is sent so, without the numbers: each pixel is what the formulas say', async () => {
    const { page } = browser;
    await allWritten(page);
    await typeScope(page, 'drive:Studio corrected:yes');
    await until('it alone', async () => (await shownCount(page)) === 1);
    await openPlace(page, 'Send out');
    await page.getByRole('button', { name: 'New…' }).click();
    await page.getByRole('textbox', { name: 'Name of the new profile' }).fill('Finished');
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Picture' }).waitFor();
    await page.keyboard.press('Escape');
    await choose(page, 'Format', 'PNG');
    await choose(page, 'Size', 'all pixels');
    await choose(page, 'Drive', 'Press');
    const start = page.getByRole('button', { name: /^Send out \d/ });
    await start.waitFor();
    for (const question of await page.getByRole('list', { name: 'Before it goes' }).getByRole('radiogroup').all())
      await question.getByText('send', { exact: true }).click();
    await until('it may begin', () => start.isEnabled());
    await start.click();
    await page.getByText('Finished: 1 of 1 arrived').first().waitFor();
    const [sent = ''] = filesIn(press).filter((name) => name.endsWith('.png'));
    expect(exiftool(press, sent)['XMP-wembo:Corrections']).toBeUndefined();
    expect(read(press, sent).toString('latin1')).not.toContain('wembo:');
    const original = await sharp(path.join(studio, 'p1.jpg')).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    const { width, height } = original.info;
    const developed = developByFormulas(
      Float32Array.from(original.data, (byte) => byte / 255),
      { width, height },
      { exposure: 1, contrast: 20 },
    );
    const wanted = await sharp(Buffer.from(developed.map((part) => Math.round(part * 255))), {
      raw: { width, height, channels: 4 },
    })
      .rotate(90)
      .removeAlpha()
      .raw()
      .toBuffer();
    const made = await sharp(path.join(press, sent)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([made.info.width, made.info.height]).toEqual([height, width]);
    const apart = wanted.map((byte, at) => Math.abs(byte - (made.data[at] ?? 0)));
    // two decoders and two roundings lie between
    expect(apart.reduce((sum, one) => sum + one, 0) / apart.length).toBeLessThan(1);
    expect(apart.reduce((most, one) => Math.max(most, one), 0)).toBeLessThan(8);
    expect(originals()).toEqual(before);
  });

  step('cropped by a shape, by hand and by keys; the whole picture comes back', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await typeScope(page, 'drive:Studio');
    await until('the photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Photo 2');
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).waitFor();
    await page.keyboard.press('c');
    await panel().getByRole('button', { name: 'Crop…' }).click();
    const frame = page.getByRole('group', { name: /^Frame of the crop/ });
    await frame.waitFor();
    expect(await complaints(page)).toEqual([]);
    await choose(page, 'Shape of the crop', '1 : 1');
    await page.getByRole('group', { name: /^Frame of the crop: 67 % by 100 %/ }).waitFor();
    await frame.focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    // 400 of 600 in the middle, and a hundredth to the right
    await until('the square is kept', () => said(2, 'CropWidth') === '0.6667' && said(2, 'CropLeft') === '0.1767');
    await panel().getByRole('button', { name: 'Crop…' }).click();
    await choose(page, 'Shape of the crop', 'any shape');
    const box = await frame.boundingBox();
    if (!box) throw new Error('no frame');
    await page.mouse.move(box.x + box.width, box.y + box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2, { steps: 4 });
    await page.mouse.up();
    await page.getByRole('group', { name: /^Frame of the crop: 3[34] % by 50 %/ }).waitFor();
    await page.keyboard.press('Escape');
    await frame.waitFor({ state: 'hidden' });
    expect(said(2, 'CropWidth')).toBe('0.6667');
    await panel().getByRole('button', { name: 'Whole picture' }).click();
    await until('nothing is cropped', () => said(2, 'CropWidth') === undefined);
    await panel().getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('Escape');
  });

  step('put on the others that are selected: tone and colour, not what each has of its own; one undo', async () => {
    const { page } = browser;
    await selectPhoto(page, 'Photo 1');
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Single view' }).waitFor();
    await page.keyboard.press('c');
    await panel().getByRole('button', { name: 'Put on 2 photos more…' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Put on 2 photos' }).click();
    await until('both have it', () => [2, 3].every((one) => said(one, 'Contrast') === '20'));
    expect([2, 3].map((one) => [said(one, 'Exposure'), said(one, 'Turns')])).toEqual([
      [undefined, undefined],
      [undefined, undefined],
    ]);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await until('neither has', () => [2, 3].every((one) => said(one, 'Contrast') === undefined));
    expect(said(1, 'Contrast')).toBe('20');
    expect(originals()).toEqual(before);
  });
});
