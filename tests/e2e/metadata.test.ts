// The record card on real files: where values come from, what disagrees, structures and codes, everything a file says,
// and a drive that is set to be written into. The files are judged by ExifTool and by their pixels.

import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { digestsOf, exiftool, newFolder, photoBytes, put, read, sha256sum, until } from './folders';
import {
  connectFolder,
  fill,
  jobEnded,
  ofDrive,
  openApplication,
  openPlace,
  selectPhoto,
  tick,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
const archive = newFolder('Archive');
let browser: Browser;

const card = () => browser.page.getByRole('complementary', { name: 'Record card' });
const onDisk = (...args: string[]) => execFileSync('exiftool', ['-q', '-overwrite_original', ...args]);

beforeAll(async () => {
  put(archive, 'a.jpg', await photoBytes({ seed: 1, headline: 'from IIM', keywords: ['boat'] }));
  onDisk(
    '-XMP-photoshop:Headline=from XMP',
    '-XMP-photoshop:City=Gjógv',
    '-EXIF:ImageDescription=from EXIF',
    path.join(archive, 'a.jpg'),
  );
  put(archive, 'b.jpg', await photoBytes({ seed: 2, headline: 'second', captured: '2020:01:01 10:00:00' }));
  put(archive, 'damaged.jpg', await photoBytes({ seed: 3, headline: 'damaged', captured: '2021:01:01 10:00:00' }));
  const damaged = readFileSync(path.join(archive, 'damaged.jpg'));
  damaged[damaged.indexOf('damaged') - 1] = 200; // a dataset that says it is longer than its block
  writeFileSync(path.join(archive, 'damaged.jpg'), damaged);
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, archive, 'Archive');
  await openPlace(browser.page, 'Find');
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

describe('the record card', () => {
  it('says where a value comes from, shows what disagrees, and takes the other on a click; undo brings the first back', async () => {
    const { page } = browser;
    await selectPhoto(page, 'from XMP');
    const origin = card().getByRole('button', {
      name: /Where Headline comes from: from XMP in the image file; the file says different things/,
    });
    await origin.click();
    const statements = page.getByRole('table', { name: 'What the file says for Headline' });
    expect(await statements.innerText()).toMatch(/XMP\s+from XMP\s+in force\s+IIM\s+from IIM\s+Take this/);
    await statements.getByRole('button', { name: 'Take this' }).click();
    await until(
      'the headline is taken',
      async () => (await card().getByLabel('Headline', { exact: true }).inputValue()) === 'from IIM',
    );
    await until('the sidecar', () => read(archive, 'a.xmp').includes('from IIM'));
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
    await until(
      'the headline is back',
      async () => (await card().getByLabel('Headline', { exact: true }).inputValue()) === 'from XMP',
    );
    expect(
      await card().getByRole('button', { name: 'Where Caption comes from: from EXIF in the image file' }).count(),
    ).toBe(1);
  });

  it('takes a structure, a code and a date, which land in the sidecar as other programs read them', async () => {
    const { page } = browser;
    await selectPhoto(page, 'second');
    await card()
      .getByRole('button', { name: /Choose groups/ })
      .click();
    await tick(page.getByRole('checkbox', { name: 'Licences and releases' }), true);
    await tick(page.getByRole('checkbox', { name: 'Date and origin' }), true);
    await page.keyboard.press('Escape');
    await card().getByRole('button', { name: 'Add to Creator’s contact' }).click();
    await card().getByLabel('E-mail').fill('mia@survey.example');
    const contact = card().getByRole('group', { name: 'Creator’s contact' });
    await contact.getByLabel('City').fill('Tórshavn');
    await card().getByLabel('Title', { exact: true }).focus();
    await card().getByRole('combobox', { name: 'Model release' }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle('Unlimited model releases').click();
    await fill(page, 'Date taken', 'last summer');
    await card().getByText('A date is written').waitFor();
    await fill(page, 'Date taken', '1968-07');
    await until('the sidecar says it all', () => {
      const theirs = exiftool(archive, 'b.xmp');
      expect(theirs).toMatchObject({
        'XMP-iptcCore:CreatorContactInfo': { CiEmailWork: 'mia@survey.example', CiAdrCity: 'Tórshavn' },
        'XMP-plus:ModelReleaseStatus': 'Unlimited Model Releases',
        'XMP-photoshop:DateCreated': '1968:07',
      });
      return true;
    });
    await typeScope(page, 'taken:1968');
    await until('the scope by date', async () => (await page.getByRole('main').innerText()).includes('1 shown'));
    await typeScope(page, '');
    await page.reload();
    await selectPhoto(page, 'second');
    await card()
      .getByRole('button', { name: /Tórshavn, mia@survey.example/ })
      .waitFor();
  });

  it('lists everything the file says, searchable', async () => {
    const { page } = browser;
    await card().getByRole('button', { name: 'All properties' }).click();
    const drawer = page.getByRole('dialog', { name: 'Everything the file says' });
    await drawer.getByRole('cell', { name: 'DateTimeOriginal' }).waitFor();
    await drawer.getByLabel('Search the properties').fill('headline');
    await until('narrowed', async () => (await drawer.getByRole('row').count()) === 2);
    expect(await drawer.getByRole('row').last().innerText()).toMatch(/IIM\s+2:105\s+Headline\s+second/);
    await page.keyboard.press('Escape');
  });
});

story('a drive that is set to be written into', (step) => {
  step(
    'brings its files in line: other programs read it, the pixels are what they were, a damaged file is left and named',
    async () => {
      const { page } = browser;
      const pixels = await sharp(read(archive, 'b.jpg')).raw().toBuffer();
      const before = digestsOf(archive);
      await openPlace(page, 'Overview');
      await ofDrive(page, 'Archive', 'Write into the files as well');
      await page.getByText('written into the files', { exact: true }).waitFor();
      await until('b.jpg says it all', () => {
        expect(exiftool(archive, 'b.jpg')).toMatchObject({
          'XMP-iptcCore:CreatorContactInfo': { CiAdrCity: 'Tórshavn' },
          'XMP-photoshop:DateCreated': '1968:07',
          'IFD0:Model': 'Norda K4',
        });
        return true;
      });
      expect((await sharp(read(archive, 'b.jpg')).raw().toBuffer()).equals(pixels)).toBe(true);
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Photo of 2021');
      await fill(page, 'Title', 'cannot be written into');
      await card().getByText('a damaged block is never added to').waitFor();
      expect(digestsOf(archive)['damaged.jpg']).toBe(before['damaged.jpg']);
      expect(read(archive, 'damaged.xmp').toString()).toContain('cannot be written into');
    },
  );

  step(
    'an edit goes into sidecar and file; the photo stays one photo, and a look through finds nothing new',
    async () => {
      const { page } = browser;
      await selectPhoto(page, 'second');
      await fill(page, 'Caption', 'Bátur 北\nsecond line');
      await until(
        'the file has it',
        () =>
          exiftool(archive, 'b.jpg')['IFD0:ImageDescription'] !== undefined &&
          read(archive, 'b.jpg').includes('Bátur 北'),
      );
      await openPlace(page, 'Overview');
      await page.getByRole('button', { name: 'Scan for changes' }).click();
      await page.getByText('3 photos found, 0 added, 0 changed').first().waitFor();
    },
  );

  step(
    'what another program writes into a file meanwhile comes in as a change that the history names, and is the person’s to take away',
    async () => {
      const { page } = browser;
      onDisk('-XMP-dc:Title=theirs', '-IPTC:ObjectName=theirs', path.join(archive, 'b.jpg'));
      await page.getByRole('button', { name: 'Scan for changes' }).click();
      await page.getByText('3 photos found, 0 added, 1 changed').first().waitFor();
      await openPlace(page, 'Find');
      await selectPhoto(page, 'second');
      await until(
        'their title',
        async () => (await card().getByLabel('Title', { exact: true }).inputValue()) === 'theirs',
      );
      await card().getByRole('button', { name: 'History' }).click();
      await page.getByRole('list', { name: 'History' }).getByText('read from the image file: changed').waitFor();
      await page.keyboard.press('Escape');
      await fill(page, 'Title', '');
      await until('taken away, in the file as well', () => exiftool(archive, 'b.jpg')['XMP-dc:Title'] === undefined);
    },
  );

  step(
    'when the writing rests the manifest is that of the files as they are, and another browser knows each photo by the name collections call it by',
    async () => {
      const idsIn = ({ page }: Browser) =>
        page.evaluate(async () => {
          const db = await new Promise<IDBDatabase>((resolve) => {
            const open = indexedDB.open('wembo');
            open.onsuccess = () => resolve(open.result);
          });
          return new Promise<string[]>((resolve) => {
            const all = db.transaction('photos').objectStore('photos').getAllKeys();
            all.onsuccess = () => resolve(all.result.map(String).sort());
          });
        });
      await until(
        'the manifest',
        () => existsSync(path.join(archive, '_wembo/identities.json')) && sha256sum(archive).ok,
      );
      const other = await openBrowser({ origin });
      try {
        await openApplication(other.page, origin);
        await dropFolder(other, archive); // known by its mark: nothing is asked
        await openPlace(other.page, 'Overview');
        await jobEnded(other.page, 'Catalog: Archive');
        expect(await idsIn(other)).toEqual(await idsIn(browser));
      } finally {
        await other.close();
        removeProfile(other.profile);
      }
    },
  );
});
