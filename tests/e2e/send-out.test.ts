// Sending out from a real folder to another one: three profiles, interrupted and resumed; contact sheets; what is
// private. Judged by ExifTool, unzip, sharp, axe, and the PDF tools of poppler.

import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { complaints } from './axe';
import { type Browser, killerOf, openBrowser, removeProfile, usedBefore } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, photosIn, put, read, sha256, until } from './folders';
import {
  addKeywords,
  allWritten,
  choose,
  connectFolder,
  drivePhotos,
  fill,
  lookThrough,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  typeScope,
} from './person';

const origin = inject('origin');
const PHOTOS = 8;
let browser: Browser;
let studio: string;
let press: string;
const page = (): Page => browser.page;

beforeAll(async () => {
  browser = await openBrowser({ origin });
  await openApplication(page(), origin);
  studio = await drivePhotos(browser, PHOTOS);
  press = newFolder('Press');
  put(press, 'here-before.jpg', await photoBytes({ seed: 99, headline: 'Here before' }));
  await connectFolder(browser, press, 'Press');
  await openPlace(page(), 'Find');
  await typeScope(page(), '');
  await selectPhoto(page(), 'Photo 1');
  await fill(page(), 'Caption', 'Óli at the slip, ð ø á.');
  await fill(page(), 'City', 'Klaksvík');
  await fill(page(), 'Copyright notice', '© 2026 Survey');
  await addKeywords(page(), 'boat; hush');
  await allWritten(page());
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

const desk = (name: string) =>
  page().getByRole('navigation', { name: 'Desks' }).getByRole('button', { name, exact: true }).click();

/** A profile of this name, of what it says when it is new. */
async function newProfile(name: string): Promise<void> {
  await page().getByRole('button', { name: 'New…' }).click();
  await page().getByRole('textbox', { name: 'Name of the new profile' }).fill(name);
  await page().keyboard.press('Enter');
  await page().getByRole('region', { name: 'Picture' }).waitFor();
  await page().keyboard.press('Escape');
}

/** Every question is answered with “send”, and the delivery begins. */
async function begin(): Promise<void> {
  const start = page().getByRole('button', { name: /^Send out \d/ });
  await start.waitFor();
  for (const question of await page().getByRole('list', { name: 'Before it goes' }).getByRole('radiogroup').all())
    await question.getByText('send', { exact: true }).click();
  await until('it may begin', () => start.isEnabled());
  await start.click();
}

const arrived = (profile: string, number = PHOTOS) =>
  page().getByText(`${profile}: ${number} of ${PHOTOS} arrived`).first().waitFor();
const out = (folder: string) => photosIn(path.join(press, folder)).sort();

describe('sending out', () => {
  it('opens with no profile chosen, and sends nothing without one', async () => {
    await openPlace(page(), 'Send out');
    await page().getByText('No profile is chosen.').waitFor();
    expect(
      await page()
        .getByRole('button', { name: /^Send out \d/ })
        .count(),
    ).toBe(0);
  });

  it('a word is made private', async () => {
    await openPlace(page(), 'Describe');
    await desk('Keywords');
    await page().getByRole('textbox', { name: 'New word' }).fill('hush');
    await page().keyboard.press('Enter');
    await page().getByRole('treeitem', { name: /^hush/ }).click();
    await page()
      .getByRole('checkbox', { name: /^Private/ })
      .click();
    await until('it is', () =>
      page()
        .getByRole('checkbox', { name: /^Private/ })
        .isChecked(),
    );
  });

  it('the first profile: JPEG with words, to a folder on another drive; ExifTool reads them there', async () => {
    await openPlace(page(), 'Find');
    await typeScope(page(), 'drive:Studio');
    await until('the photos', async () => (await shownCount(page())) === PHOTOS);
    await openPlace(page(), 'Send out');
    await newProfile('Papers');
    await page().getByRole('spinbutton', { name: 'Edge in pixels' }).fill('300');
    await choose(page(), 'Drive', 'Press');
    await page()
      .getByText(/JPEG, sRGB, long edge 300 px, quality 92/)
      .waitFor();
    await page()
      .getByText(/captions and rights in, places out, to Press \/ delivered/)
      .waitFor();
    await page()
      .getByRole('button', { name: /^Keep in/ })
      .click();
    await begin();
    await arrived('Papers');
    expect(out('delivered')).toHaveLength(PHOTOS);
    const said = exiftool(press, 'delivered/p1.jpg');
    expect(said).toMatchObject({ 'XMP-dc:Description': 'Óli at the slip, ð ø á.', 'IPTC:Headline': 'Photo 1' });
    expect(JSON.stringify(said)).not.toMatch(/Klaksvík|Norda|hush/);
    expect(JSON.stringify(said)).toContain('boat');
    expect((await sharp(read(press, 'delivered/p1.jpg')).metadata()).width).toBe(300);
    expect(sha256(read(press, 'delivered/p1.jpg'))).not.toBe(sha256(read(studio, 'p1.jpg')));
  });

  it('what went is found by `sent:`, told on the card, asked about the next time, and is no photo of its own', async () => {
    await openPlace(page(), 'Find');
    await typeScope(page(), 'sent:Papers');
    await until('those that were sent', async () => (await shownCount(page())) === PHOTOS);
    await selectPhoto(page(), 'Photo 1');
    await page().getByRole('region', { name: 'Sent out' }).getByText('delivered/p1.jpg').waitFor();
    await openPlace(page(), 'Send out');
    await choose(page(), 'Profile', 'Papers');
    await page().getByText(`${PHOTOS} photos were sent there before.`).waitFor();
    await lookThrough(page(), 'Press');
    await page()
      .getByText(new RegExp(`${PHOTOS} files sent from here`))
      .first()
      .waitFor();
    await openPlace(page(), 'Find');
    await typeScope(page(), 'drive:Press');
    await until('the one that was there', async () => (await shownCount(page())) === 1);
  });

  it('the second: killed in the middle and taken up again, every picture is there once and whole', async () => {
    browser = await usedBefore(browser, origin);
    await openApplication(page(), origin);
    await openPlace(page(), 'Find');
    await typeScope(page(), 'drive:Studio');
    await until('the photos', async () => (await shownCount(page())) === PHOTOS);
    await openPlace(page(), 'Send out');
    await newProfile('Web');
    await choose(page(), 'Format', 'WebP');
    await page().getByRole('radio', { name: 'beside each original' }).click();
    await page().getByRole('checkbox', { name: 'Lay a watermark over each picture' }).click();
    await page().getByRole('textbox', { name: 'Words' }).fill('© Survey');
    await page()
      .getByRole('button', { name: /^Keep in/ })
      .click();
    await begin();
    const kill = killerOf(browser);
    await until(
      'some arrived',
      () => filesIn(path.join(studio, 'delivered')).filter((name) => !name.includes('.wembo-part')).length >= 2,
    );
    kill();
    await browser.close();
    browser = await openBrowser({ origin, profile: browser.profile });
    await openApplication(page(), origin);
    await openPlace(page(), 'Send out');
    const main = page().getByRole('main');
    const resume = main.getByRole('button', { name: 'Resume' });
    const over = main.getByText(`Web: ${PHOTOS} of ${PHOTOS} arrived`);
    await resume.or(over).first().waitFor();
    if ((await resume.count()) > 0) await resume.click();
    await over.waitFor();
    const files = filesIn(path.join(studio, 'delivered')).sort();
    expect(files).toEqual(Array.from({ length: PHOTOS }, (_, index) => `p${index + 1}.webp`));
    for (const file of files) expect((await sharp(read(studio, `delivered/${file}`)).metadata()).width).toBe(600);
    // the mark is light, and the same picture without it is darker there
    const corner = await sharp(read(studio, 'delivered/p1.webp'))
      .extract({ left: 520, top: 370, width: 70, height: 20 })
      .stats();
    const plain = await sharp(read(studio, 'p1.jpg')).extract({ left: 520, top: 370, width: 70, height: 20 }).stats();
    expect(corner.channels[0]?.mean ?? 0).toBeGreaterThan(plain.channels[0]?.mean ?? 0);
  });

  it('the third: a ZIP with a page and a table; unzip finds it whole, and axe has nothing against the page', async () => {
    await openPlace(page(), 'Find');
    await typeScope(page(), 'drive:Studio');
    await until('the photos', async () => (await shownCount(page())) === PHOTOS);
    await openPlace(page(), 'Send out');
    await newProfile('Client');
    await page().getByRole('radio', { name: 'a ZIP on a drive' }).click();
    await choose(page(), 'Drive', 'Press');
    await page()
      .getByRole('checkbox', { name: /^A page of the pictures/ })
      .click();
    await page()
      .getByRole('checkbox', { name: /^A table of the captions/ })
      .click();
    await begin();
    await arrived('Client');
    const zip = path.join(press, 'delivered', 'photos.zip');
    expect(execFileSync('unzip', ['-t', zip], { encoding: 'utf8' })).toContain('No errors detected');
    const unpacked = newFolder('Unpacked');
    execFileSync('unzip', ['-q', zip, '-d', unpacked]);
    expect(filesIn(unpacked).sort()).toEqual([
      'captions.csv',
      'index.html',
      ...Array.from({ length: PHOTOS }, (_, index) => `p${index + 1}.jpg`),
    ]);
    expect(read(unpacked, 'captions.csv').toString()).toContain('Photo 3');
    const tab = await browser.context.newPage();
    await tab.goto(pathToFileURL(path.join(unpacked, 'index.html')).href);
    await until('its pictures', () =>
      tab.evaluate(() => [...document.images].every(({ complete, naturalWidth }) => complete && naturalWidth > 0)),
    );
    expect(await tab.getByRole('heading', { level: 2 }).count()).toBe(PHOTOS);
    expect(await complaints(tab)).toEqual([]);
    await tab.close();
    rmSync(unpacked, { recursive: true });
  });

  it('the selection goes with its search, and a search typed here stays here', async () => {
    await openPlace(page(), 'Find');
    await typeScope(page(), 'drive:Studio');
    await selectPhoto(page(), 'Photo 2');
    await page().keyboard.press('Shift+d');
    await page().getByRole('region', { name: 'Selection' }).getByRole('button', { name: 'Send out…' }).click();
    await page().getByRole('heading', { name: 'Send out', level: 1 }).waitFor();
    await choose(page(), 'Profile', 'Papers');
    await page().getByRole('button', { name: 'Send out 2 photos' }).waitFor();
    await typeScope(page(), 'Photo');
    await page().getByRole('radio', { name: 'the search (8)' }).click();
    expect(new URL(page().url()).pathname).toBe('/send-out');
  });

  it('the original that is damaged is not sent in silence', async () => {
    put(studio, 'p2.jpg', bent(read(studio, 'p2.jpg')));
    await openPlace(page(), 'Send out');
    await choose(page(), 'Profile', 'Papers');
    await begin();
    await arrived('Papers', PHOTOS - 1);
    await page()
      .getByText(/Not sent: damaged: 1/)
      .first()
      .waitFor();
  });
});

/** One bit turned near the end; its length and time stay. */
function bent(bytes: Buffer): Buffer {
  const other = Buffer.from(bytes);
  other[bytes.length - 40] = (other[bytes.length - 40] ?? 0) ^ 1;
  return other;
}

describe('contact sheets', () => {
  it('is a PDF of all pictures with their texts, its face embedded, as the screen shows it', async () => {
    await openPlace(page(), 'Send out');
    await desk('Contact sheet');
    await page().getByRole('spinbutton', { name: 'Columns' }).fill('3');
    await page().getByRole('spinbutton', { name: 'Rows' }).fill('2');
    await page().getByRole('textbox', { name: 'Under each picture' }).fill('[=file]\n[=caption]');
    await page().getByRole('textbox', { name: 'Header' }).fill('Slip og sjógvur');
    const shown = page().getByRole('img', { name: 'Page 1 of 2' });
    await until('the page', async () => (await shown.locator('image').count()) === 6);
    const download = page().waitForEvent('download');
    await page().getByRole('button', { name: 'Save as PDF' }).click();
    const file = path.join(newFolder('Sheet'), 'sheet.pdf');
    await (await download).saveAs(file);
    const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
    for (let index = 1; index <= PHOTOS; index++) expect(text).toContain(`p${index}.jpg`);
    for (const words of ['Óli at the slip, ð ø á.', 'Slip og sjógvur']) expect(text).toContain(words);
    // the spaces of the page number are narrow: poppler leaves them out
    expect(text).toMatch(/1 ?\/ ?2[\s\S]*2 ?\/ ?2/);
    const images = execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' })
      .split('\n')
      .filter((line) => line.includes(' image '));
    expect(images).toHaveLength(PHOTOS);
    const fonts = execFileSync('pdffonts', [file], { encoding: 'utf8' })
      .split('\n')
      .slice(2)
      .filter((line) => line !== '');
    expect(fonts.length).toBeGreaterThan(0);
    for (const font of fonts) expect(font).toMatch(/IBMPlexSans.*\byes yes yes\b/);
    expect(execFileSync('pdfinfo', [file], { encoding: 'utf8' })).toMatch(
      /Pages:\s+2\n[\s\S]*595\.\d+ x 841\.\d+ pts \(A4\)/,
    );
    // the same texts on the screen, as they are cut there
    const onScreen = await shown.locator('text').allTextContents();
    const plain = (words: string) => words.replace(/\s+/g, '');
    expect(onScreen.length).toBeGreaterThan(6);
    for (const words of onScreen) expect(plain(text)).toContain(plain(words));
  });

  it('labels have the texts alone', async () => {
    await desk('Labels');
    await page().getByRole('textbox', { name: 'On each label' }).fill('[=headline]\n[=copyright]');
    const download = page().waitForEvent('download');
    await page().getByRole('button', { name: 'Save as PDF' }).click();
    const file = path.join(newFolder('Labels'), 'labels.pdf');
    await (await download).saveAs(file);
    const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
    expect(text).toContain('Photo 8');
    expect(text).toContain('© 2026 Survey');
    expect(execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' })).not.toContain(' image ');
  });
});
