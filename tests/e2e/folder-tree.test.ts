// The folders of all drives as a tree: searched in, moved into, renamed; the files follow on the disk, and undo brings
// them back.

import { mkdirSync, statSync } from 'node:fs';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { complaints } from './axe';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, put, until } from './folders';
import { allWritten, connectFolder, fill, openApplication, openPlace, selectPhoto, shownCount } from './person';
import { story } from './story';

const origin = inject('origin');
const studio = newFolder('Studio');
const cellar = newFolder('Cellar');
let browser: Browser;

const photosOn = (drive: string) =>
  filesIn(drive).filter((file) => /\.(jpg|xmp)$/.test(file) && !file.startsWith('_wembo'));

beforeAll(async () => {
  for (const [at, file] of [
    '2019/Gjógv/a.jpg',
    '2019/Gjógv/slip/b.jpg',
    '2019/Gjógv 2/c.jpg',
    '2020/d.jpg',
  ].entries()) {
    const bytes = await photoBytes({ seed: at + 1, headline: `Photo ${at + 1}` });
    put(studio, file, bytes);
    if (at < 2) put(cellar, file, bytes);
  }
  mkdirSync(`${studio}/empty`);
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, studio, 'Studio');
  await connectFolder(browser, cellar, 'Cellar');
  await openPlace(browser.page, 'Find');
  await until('all', async () => (await shownCount(browser.page)) === 4);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

const shelf = () => browser.page.getByRole('region', { name: 'Shelf: Folders' });
const row = (name: string) =>
  shelf()
    .locator('.ant-tree-treenode')
    .filter({ has: browser.page.getByText(name, { exact: true }) });
const openRow = (name: string) => row(name).first().locator('.ant-tree-switcher').click();
const shows = (count: number) => until(`${count} photos`, async () => (await shownCount(browser.page)) === count);

story('a person who sorts by folders', (step) => {
  step('walks the tree, with counts of what is in a folder and below', async () => {
    await browser.page.getByRole('button', { name: 'Folders', exact: true }).click();
    await row('Studio').waitFor();
    expect(await row('Studio').innerText()).toMatch(/Studio\s*4/);
    await openRow('Studio');
    await openRow('2019');
    expect(await row('Gjógv').innerText()).toMatch(/Gjógv\s*2/);
    expect(await complaints(browser.page)).toEqual([]);
  });

  step('searches in a folder, with what is below it or by itself, and never in a namesake', async () => {
    await row('Gjógv').getByText('Gjógv').click();
    await shows(2);
    expect(browser.page.url()).toContain('folder');
    await shelf().getByText('with what is below').click();
    await shows(1);
    await shelf().getByText('with what is below').click();
    await shows(2);
  });

  step(
    'moves photos into a folder that is new: files, sidecars and the copies on the other drive go there',
    async () => {
      const { page } = browser;
      await selectPhoto(page, 'Photo 1');
      await fill(page, 'City', 'Gjógv');
      await until('the sidecars', () => photosOn(studio).length === 5 && photosOn(cellar).length === 3);
      await shelf().getByRole('button', { name: 'Move the 1 selected here…' }).click();
      await page.getByLabel('Folder on “Studio”, which may be a new one').fill('2019/Harbours/North');
      await page.getByText('1 photo goes there').waitFor();
      await page.getByText('The copies on “Cellar” follow.').waitFor();
      await page.getByText('No photo is left then in').waitFor({ state: 'detached' });
      expect(await complaints(page)).toEqual([]);
      await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
      for (const drive of [studio, cellar])
        await until(
          'it is there, with its sidecar',
          () =>
            ['jpg', 'xmp'].every((ending) => filesIn(drive).includes(`2019/Harbours/North/a.${ending}`)) &&
            !filesIn(drive).includes('2019/Gjógv/a.jpg'),
        );
      expect(exiftool(studio, '2019/Harbours/North/a.xmp')['XMP-photoshop:City']).toBe('Gjógv');
      await row('Harbours').waitFor();
    },
  );

  step('takes it back', async () => {
    await browser.page.getByRole('button', { name: 'Undo' }).click();
    await until('all lie where they lay', () =>
      [studio, cellar].every((drive) => filesIn(drive).includes('2019/Gjógv/a.xmp')),
    );
    await allWritten(browser.page);
  });

  step('renames a folder with all below it, on both drives; the search goes along', async () => {
    const { page } = browser;
    await row('Gjógv').getByText('Gjógv').waitFor();
    await shelf().getByRole('button', { name: 'Rename or move it…' }).click();
    const path = page.getByLabel('Folder on “Studio”, which may be a new one');
    await path.fill('2019/Gjógv/inside');
    await page.getByText('A folder cannot be moved into itself.').waitFor();
    await path.fill('2019/Eiði');
    await page.getByText('2 photos go there').waitFor();
    await page.keyboard.press('Enter');
    for (const drive of [studio, cellar])
      await until('all is there', () =>
        ['a.jpg', 'a.xmp', 'slip/b.jpg'].every((file) => filesIn(drive).includes(`2019/Eiði/${file}`)),
      );
    expect(filesIn(studio)).toContain('2019/Gjógv 2/c.jpg');
    await shows(2);
    await until('the search says so', () => decodeURIComponent(browser.page.url()).includes('2019/Eiði'));
  });

  step('drags a photo from the wall onto a folder', async () => {
    const { page } = browser;
    await row('Studio').getByText('Studio').click();
    await shows(4);
    await selectPhoto(page, 'Photo 4'); // what is selected is dragged
    await page
      .locator('[data-photo][aria-pressed="true"]')
      .dragTo(row('Gjógv 2').getByText('Gjógv 2', { exact: true }));
    await page.getByText('1 photo goes there').waitFor();
    await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
    await until('it is there', () => filesIn(studio).includes('2019/Gjógv 2/d.jpg'));
  });

  step('moves a photo to the other drive: verified there, set aside here, and back by undo', async () => {
    const { page } = browser;
    await row('Cellar').getByText('Cellar').click();
    await shows(2);
    await openRow('Cellar');
    await row('Studio').getByText('Studio').click();
    await shows(4);
    await selectPhoto(page, 'Photo 3');
    await row('Cellar').getByText('Cellar').click();
    await shelf().getByRole('button', { name: 'Move the 1 selected here…' }).click();
    await page.getByLabel('Folder on “Cellar”, which may be a new one').fill('from Studio');
    await page.getByText('1 photo has no file on this drive.').waitFor();
    await page.getByText('move them here').click();
    await page.getByText('Then what lies on “Studio” is set aside there').waitFor();
    expect(await complaints(page)).toEqual([]);
    await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
    const aside = () =>
      filesIn(studio).filter((file) => /^_wembo\/set-aside\/[^/]*\/2019\/Gjógv 2\/c\.jpg$/.test(file));
    await until(
      'it is there, and set aside here',
      () => filesIn(cellar).includes('from Studio/c.jpg') && aside().length === 1,
    );
    expect(filesIn(studio)).not.toContain('2019/Gjógv 2/c.jpg');
    await row('from Studio').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('as before', () => filesIn(studio).includes('2019/Gjógv 2/c.jpg') && aside().length === 0);
    await until('and not there', () => !filesIn(cellar).includes('from Studio/c.jpg'));
    await allWritten(page);
  });

  step('copies a whole folder to the other drive, with the tree below it', async () => {
    const { page } = browser;
    await row('Studio').getByText('Studio').click();
    await row('Gjógv 2').getByText('Gjógv 2', { exact: true }).click();
    await shows(2);
    await shelf().getByRole('button', { name: 'Rename or move it…' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Drive', { exact: true }).click();
    await page.getByRole('option', { name: 'Cellar' }).or(page.getByTitle('Cellar')).last().click();
    await page.getByLabel('Folder on “Cellar”, which may be a new one').waitFor();
    await dialog.getByText('copy it there').click();
    await dialog.getByRole('button', { name: 'Copy and verify' }).click();
    await until('it is there', () =>
      ['c.jpg', 'd.jpg'].every((file) => filesIn(cellar).includes(`2019/Gjógv 2/${file}`)),
    );
    expect(filesIn(studio)).toContain('2019/Gjógv 2/c.jpg');
    await until('counted there', async () => (await row('Cellar').innerText()).includes('4'));
  });

  step('makes a folder, which is pinned until it is wanted there no longer', async () => {
    const { page } = browser;
    await shelf().getByRole('button', { name: 'New folder in it…' }).click();
    await page.getByLabel('Folder on “Studio”, which may be a new one').fill('2019/Gjógv 2/chosen');
    await page.getByRole('button', { name: 'Make the folder' }).click();
    const pinned = shelf().getByRole('group', { name: 'Pinned folders' }).getByRole('button');
    await pinned.waitFor();
    expect(await pinned.innerText()).toMatch(/chosen\s*Studio\s*0/);
    expect(statSync(`${studio}/2019/Gjógv 2/chosen`).isDirectory()).toBe(true);
    await selectPhoto(page, 'Photo 4');
    await page.locator('[data-photo][aria-pressed="true"]').dragTo(pinned);
    await page.getByText('1 photo goes there').waitFor();
    await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
    await until('it is there', () => filesIn(studio).includes('2019/Gjógv 2/chosen/d.jpg'));
    await until('and counted', async () => /chosen\s*Studio\s*1/.test(await pinned.innerText()));
    await pinned.click();
    await shows(1);
    expect(await complaints(page)).toEqual([]);
    await shelf().getByRole('button', { name: 'Unpin' }).click();
    await pinned.waitFor({ state: 'detached' });
  });
});
