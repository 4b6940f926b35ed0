// What a person must be able to trust on real folders: another disk in the same place, a rebuild with damage in it, and
// a card that lies beside or in a drive of the catalog. Judged by the files themselves, and by `sha256sum -c`.

import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { digestsOf, filesIn, newFolder, photoBytes, put, read, rot, sha256sum, until } from './folders';
import {
  allWritten,
  connectFolder,
  drivePhotos,
  drives,
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

/** A new browser, in which only the folders are left. */
async function anew(): Promise<void> {
  await browser.close();
  removeProfile(browser.profile);
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
}

it('another disk under the same path is told by its mark: nothing of it is read or written, nothing counts as missing, what is entered waits', async () => {
  const { page } = browser;
  const studio = await drivePhotos(browser, 3);
  const away = path.join(newFolder('unplugged'), 'Studio');
  renameSync(studio, away);
  mkdirSync(path.join(studio, '_wembo'), { recursive: true });
  writeFileSync(
    path.join(studio, '_wembo/drive.json'),
    JSON.stringify({ format: 'wembo-drive', version: 1, id: 'somebody-elses-disk', name: 'Theirs', createdAt: 1 }),
  );
  put(studio, 'p1.jpg', await photoBytes({ seed: 90 }));
  const before = digestsOf(studio);
  await page.reload();
  await openPlace(page, 'Overview');
  await page.getByText('What is there now is another drive, “Theirs”').waitFor();
  await openPlace(page, 'Find');
  await until('all photos stay', async () => (await shownCount(page)) === 3);
  await selectPhoto(page, 'Photo 1');
  await fill(page, 'City', 'Gjógv');
  await page.getByText('1 to write').first().waitFor();
  expect(digestsOf(studio)).toEqual(before);

  // an empty mount point is no drive of ours either
  rmSync(studio, { recursive: true });
  mkdirSync(studio);
  await page.reload();
  await openPlace(page, 'Overview');
  await page.getByText('What is there now bears no mark').waitFor();
  expect(filesIn(studio)).toEqual([]);
  await openPlace(page, 'Safekeep');
  await page.getByText('No file is damaged, in doubt or missing').waitFor();

  // the disk itself is back: what waited is written
  rmSync(studio, { recursive: true });
  renameSync(away, studio);
  await page.reload();
  await until('the word that waited', () => read(studio, 'p1.xmp').toString('utf8').includes('Gjógv'));
});

it('a rebuild with the bent copy first forgets no damage; it is brought back from the good copy, and sha256sum agrees on both', async () => {
  const studio = await drivePhotos(browser, 3);
  const cellar = newFolder('Cellar');
  await connectFolder(browser, cellar, 'Cellar');
  await openPlace(browser.page, 'Safekeep');
  await drives(browser.page, 'Studio', 'Cellar');
  await browser.page.getByRole('button', { name: 'Copy and verify' }).click();
  await jobEnded(browser.page, 'Second copy: Studio → Cellar');
  rot(cellar, 'p2.jpg');
  await browser.page.getByRole('button', { name: 'Check Cellar' }).click();
  await jobEnded(browser.page, 'Check: Cellar');
  await browser.page.getByRole('heading', { name: 'To settle: 1' }).waitFor();
  await allWritten(browser.page);
  rmSync(path.join(cellar, 'p3.jpg'));

  await anew();
  for (const [folder, name] of [
    [cellar, 'Cellar'],
    [studio, 'Studio'],
  ] as const) {
    await dropFolder(browser, folder);
    await openPlace(browser.page, 'Overview');
    await jobEnded(browser.page, `Catalog: ${name}`);
  }
  const { page } = browser;
  await openPlace(page, 'Find');
  await typeScope(page, 'state:damaged');
  await until('the damaged photo', async () => (await shownCount(page)) === 1);
  await typeScope(page, 'state:any');
  await until('the damaged and the missing', async () => (await shownCount(page)) === 2);
  await openPlace(page, 'Safekeep');
  await page.getByRole('heading', { name: 'To settle: 2' }).waitFor();
  await page.getByRole('link', { name: '2 damaged, missing or in doubt', exact: true }).waitFor();
  for (const name of ['p2.jpg', 'p3.jpg']) {
    await page.getByRole('button', { name: `Bring back from Studio: ${name}` }).click();
    await page.getByText(`${name}: brought back`).waitFor();
  }
  await page.getByRole('heading', { name: 'To settle', exact: true }).waitFor();
  for (const name of ['p1.jpg', 'p2.jpg', 'p3.jpg'])
    expect(read(cellar, name).equals(read(studio, name)), name).toBe(true);
  expect(filesIn(cellar).filter((name) => name.includes('set-aside') && name.endsWith('.jpg'))).toHaveLength(1);
  await page.getByRole('button', { name: 'Check Studio' }).click();
  await jobEnded(page, 'Check: Studio');
  await allWritten(page);
  expect(sha256sum(studio)).toMatchObject({ ok: true });
  // the damaged one, set aside, keeps its line: it is named until it is erased
  await until(
    'its line',
    () =>
      sha256sum(cellar)
        .output.split('\n')
        .filter((line) => line.endsWith('FAILED')).length === 1,
  );
  await page.getByRole('heading', { name: /^Set aside: 1/ }).waitFor();
});

it('a card that is a folder of a drive is not emptied: the file is not its own copy', async () => {
  const { page } = browser;
  const studio = newFolder('Studio');
  for (const index of [1, 2])
    put(studio, `DCIM/100/p${index}.jpg`, await photoBytes({ seed: index, headline: `Photo ${index}` }));
  await connectFolder(browser, studio, 'Studio');
  await openPlace(page, 'Take in');
  await dropFolder(browser, path.join(studio, 'DCIM'));
  await page.getByRole('button', { name: 'May it be emptied?' }).click();
  await page.getByText('Nothing may be removed.').waitFor();
  await page.getByText('too few verified copies: 2').waitFor();
  // and it is no drive beside the one it lies in
  await openPlace(page, 'Overview');
  await dropFolder(browser, path.join(studio, 'DCIM'));
  await page.getByText('This folder lies in the drive “Studio”, at DCIM').waitFor();
  expect(filesIn(studio).filter((name) => name.endsWith('.jpg'))).toEqual(['DCIM/100/p1.jpg', 'DCIM/100/p2.jpg']);
});

it('a folder around a drive takes its place, with what waits and what was verified', async () => {
  const { page } = browser;
  const disk = newFolder('Disk');
  const inner = path.join(disk, '2019');
  put(disk, '2019/a.jpg', await photoBytes({ seed: 1, headline: 'Photo 1' }));
  put(disk, '2020/b.jpg', await photoBytes({ seed: 2, headline: 'Photo 2' }));
  await connectFolder(browser, inner, 'Year');
  await dropFolder(browser, disk);
  await page.getByText('“Year” (2019) lies in this folder').waitFor();
  await page.getByLabel('What do you call this drive?').fill('Whole disk');
  await page.getByRole('button', { name: 'Join and catalog' }).click();
  await jobEnded(page, 'Catalog: Whole disk');
  await page.getByText('2 photos found, 1 added, 0 changed, 0 moved, 0 missing.').first().waitFor();
  await openPlace(page, 'Find');
  await until('each photo once', async () => (await shownCount(page)) === 2);
  await allWritten(page);
  await until('its own manifest', () => sha256sum(disk).output.match(/: OK/g)?.length === 2);
});
