// The whole way of a person on real folders: connect, scan, see, describe, undo, find, copy, check, rebuild.
// The files are then judged by other people's programs.

import { execFileSync } from 'node:child_process';
import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, inject } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import {
  digestsOf,
  exiftool,
  filesIn,
  isWellFormed,
  newFolder,
  photoBytes,
  put,
  read,
  sha256sum,
  until,
} from './folders';
import {
  addKeywords,
  drives,
  fill,
  jobEnded,
  lookThrough,
  openPlace,
  selectPhoto,
  shownCount,
  typeScope,
} from './person';
import { story } from './story';
import { WAYS } from './ways';

const origin = inject('origin');

const FOREIGN = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
  <rdf:Description rdf:about="" xmlns:q="urn:another:program" xmlns:xmp="http://ns.adobe.com/xap/1.0/" q:setting="7" xmp:Rating="2">
    <q:steps><rdf:Seq><rdf:li rdf:parseType="Resource"><q:name>crop</q:name></rdf:li></rdf:Seq></q:steps>
  </rdf:Description></rdf:RDF></x:xmpmeta>`;

describe.each(Object.entries(WAYS))('folders %s', (way, { open, offer }) => {
  const studio = newFolder(`Studio ${way}`);
  const cellar = newFolder(`Cellar ${way}`);
  let browser: Browser;
  let untouched: Record<string, string>;

  beforeAll(async () => {
    put(studio, '2019/klaksvík 🐑/á.jpg', await photoBytes({ seed: 1, headline: 'Bátar í havn', keywords: ['boat'] }));
    put(studio, '2019/klaksvík 🐑/b.jpg', await photoBytes({ seed: 2, captured: '2019:07:04 15:00:00' }));
    put(studio, '2019/klaksvík 🐑/b.xmp', FOREIGN);
    put(
      studio,
      '2020/c with blanks.jpg',
      await photoBytes({ seed: 3, captured: '2020:01:10 10:00:00', camera: 'Fjell C5' }),
    );
    put(studio, '2020/.dot.jpg', await photoBytes({ seed: 4, captured: '2020:01:10 10:05:00' }));
    put(studio, '2020/pair.jpg', await photoBytes({ seed: 5, captured: '2020:01:11 09:00:00' }));
    put(studio, '2020/pair.png', await photoBytes({ seed: 6, captured: '2020:01:11 09:00:01' })); // a JPEG that says it is a PNG
    put(studio, '2020/empty.jpg', '');
    put(studio, '2020/not a photo.jpg', 'just words');
    put(studio, 'notes.txt', 'left alone');
    untouched = digestsOf(studio);
    browser = await openBrowser({ origin });
    await open(browser.page);
  });

  afterAll(async () => {
    await browser.close();
    removeProfile(browser.profile);
  });

  story('a person and two folders', (step) => {
    step(
      'connects a dropped folder: it says what is there, and catalogs without writing anything into it but its mark',
      async () => {
        await offer(browser, studio);
        await browser.page.getByText('Found 8 photos, 1 sidecar, 1 other file').waitFor();
        await browser.page.getByLabel('What do you call this drive?').fill('Studio');
        await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
        await jobEnded(browser.page, 'Catalog: Studio');
        await browser.page.getByText('8 photos found, 6 added').first().waitFor();
        await browser.page.getByText('empty.jpg').first().waitFor();
        const now = digestsOf(studio);
        for (const [file, digest] of Object.entries(untouched)) expect(now[file], file).toBe(digest);
        expect(Object.keys(now).filter((file) => !(file in untouched) && !file.startsWith('_wembo/'))).toEqual([]);
      },
    );

    step('finds as typed, accents and case ignored, and counts what is hidden', async () => {
      await openPlace(browser.page, 'Find');
      expect(await shownCount(browser.page)).toBe(6);
      await typeScope(browser.page, 'BATAR');
      await until('one photo', async () => (await shownCount(browser.page)) === 1);
      await browser.page.getByText('5 not in this search').waitFor();
      await typeScope(browser.page, 'taken:2020 camera:Fjell');
      await until('the Fjell of 2020', async () => (await shownCount(browser.page)) === 1);
      await typeScope(browser.page, 'rating:2');
      await until('the rating another program gave', async () => (await shownCount(browser.page)) === 1);
      await typeScope(browser.page, '');
      await until('all again', async () => (await shownCount(browser.page)) === 6);
    });

    step(
      'describes one photo: the sidecar is there within seconds, other programs read it, the photo is untouched',
      async () => {
        await selectPhoto(browser.page, 'Bátar í havn');
        await fill(browser.page, 'Caption', 'Two boats, “Ørn” & <Ritan>,\nat the quay. 北 🐑');
        await fill(browser.page, 'City', 'Klaksvík');
        await addKeywords(browser.page, 'slip, turf roof;Ørn');
        await browser.page.keyboard.press('4');
        const sidecar = '2019/klaksvík 🐑/á.xmp';
        await until(
          'all edits in the sidecar',
          () =>
            exiftool(studio, sidecar)['XMP-xmp:Rating'] === 4 &&
            exiftool(studio, sidecar)['XMP-photoshop:City'] === 'Klaksvík',
        );
        expect(isWellFormed(studio, sidecar)).toBe(true);
        expect(exiftool(studio, sidecar)).toMatchObject({
          'XMP-dc:Subject': ['boat', 'slip', 'turf roof', 'Ørn'],
          'XMP-dc:Description': 'Two boats, “Ørn” & <Ritan>,\nat the quay. 北 🐑',
          'XMP-photoshop:Headline': 'Bátar í havn',
        });
        const byExiv2 = execFileSync('exiv2', ['-PXkt', path.join(studio, sidecar)], { encoding: 'utf8' });
        expect(byExiv2).toMatch(/Xmp\.photoshop\.City\s+Klaksvík/);
        expect(digestsOf(studio)['2019/klaksvík 🐑/á.jpg']).toBe(untouched['2019/klaksvík 🐑/á.jpg']);
      },
    );

    step('describes many: differing fields say so, only what is edited changes, and foreign XMP stays', async () => {
      await browser.page.keyboard.press('Control+a');
      await browser.page.getByText('6 photos selected').waitFor();
      await until(
        'the differing headline',
        async () =>
          (await browser.page.getByLabel('Headline', { exact: true }).getAttribute('placeholder')) ===
          '2 different values',
      );
      await fill(browser.page, 'Credit line', 'Faroe Harbours Survey');
      const sidecar = '2019/klaksvík 🐑/b.xmp';
      await until(
        'the credit in the sidecar of another program',
        () => exiftool(studio, sidecar)['XMP-photoshop:Credit'] === 'Faroe Harbours Survey',
      );
      const text = read(studio, sidecar).toString('utf8');
      expect(text).toContain('q:setting="7"');
      expect(text).toContain(
        '<q:steps><rdf:Seq><rdf:li rdf:parseType="Resource"><q:name>crop</q:name></rdf:li></rdf:Seq></q:steps>',
      );
      expect(exiftool(studio, sidecar)['XMP-photoshop:Headline']).toBeUndefined();
      await until(
        'both of a pair have sidecars of their own',
        () => filesIn(studio).includes('2020/pair.xmp') && filesIn(studio).includes('2020/pair.png.xmp'),
      );
    });

    step('undoes and redoes, also after a reload', async () => {
      await browser.page.reload();
      await until('undo is offered again', () => browser.page.getByRole('button', { name: 'Undo' }).isEnabled());
      const credit = () => exiftool(studio, '2019/klaksvík 🐑/b.xmp')['XMP-photoshop:Credit'];
      await browser.page.getByRole('button', { name: 'Undo' }).click();
      await until('the credit is gone', () => credit() === undefined);
      await browser.page.getByRole('button', { name: 'Redo' }).click();
      await until('the credit is back', () => credit() === 'Faroe Harbours Survey');
    });

    step('keeps a scope as a smart collection with a live count', async () => {
      await typeScope(browser.page, 'keyword:slip');
      await until('the scope holds', async () => (await shownCount(browser.page)) === 1);
      await browser.page.getByRole('button', { name: 'Save search…' }).click();
      await browser.page.getByLabel('Name of the smart collection').fill('On the slip');
      await browser.page.keyboard.press('Enter');
      await browser.page.getByRole('button', { name: /On the slip\s*1/ }).waitFor();
      await until('it is on the drive', () =>
        read(studio, '_wembo/collections.json').toString('utf8').includes('On the slip'),
      );
    });

    step('makes a second copy and verifies it; sha256sum agrees on both drives', async () => {
      await offer(browser, cellar);
      await browser.page.getByLabel('What do you call this drive?').fill('Cellar');
      await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
      await openPlace(browser.page, 'Safekeep');
      await drives(browser.page, 'Studio', 'Cellar');
      await browser.page.getByText('6 photos, ').waitFor();
      await browser.page.getByRole('button', { name: 'Copy and verify' }).click();
      await jobEnded(browser.page, 'Second copy: Studio → Cellar');
      await browser.page.getByText('6 photos copied and verified').first().waitFor();
      for (const file of filesIn(studio).filter((name) => /\.(jpg|png|xmp)$/.test(name) && !/empty|not a/.test(name)))
        expect(read(cellar, file).equals(read(studio, file)), file).toBe(true);
      expect(sha256sum(studio)).toMatchObject({ ok: true });
      expect(sha256sum(cellar)).toMatchObject({ ok: true });
      expect(sha256sum(cellar).output.match(/: OK/g)).toHaveLength(6);
      // two copies, none of them elsewhere
      await browser.page.getByRole('heading', { name: '0 of 6 photos are safe' }).waitFor();
      await browser.page.getByRole('link', { name: '6 too few copies by your rule' }).waitFor();
      expect(await browser.page.getByText('one verified copy only').count()).toBe(0);
    });

    step('an edit reaches the sidecars on both drives', async () => {
      await openPlace(browser.page, 'Find');
      await typeScope(browser.page, 'batar');
      await until('the photo', async () => (await shownCount(browser.page)) === 1);
      await selectPhoto(browser.page, 'Bátar í havn');
      await browser.page.getByText('2 verified copies').waitFor();
      await fill(browser.page, 'City', 'Gjógv');
      for (const drive of [studio, cellar])
        await until(
          'the city on each drive',
          () => exiftool(drive, '2019/klaksvík 🐑/á.xmp')['XMP-photoshop:City'] === 'Gjógv',
        );
    });

    step('a check names what is damaged, missing and new', async () => {
      const bent = read(cellar, '2020/c with blanks.jpg');
      bent[Math.floor(bent.length / 2)] = (bent[Math.floor(bent.length / 2)] ?? 0) ^ 1;
      writeFileSync(path.join(cellar, '2020/c with blanks.jpg'), bent);
      rmSync(path.join(cellar, '2020/.dot.jpg'));
      put(cellar, 'new one.jpg', await photoBytes({ seed: 9 }));
      await openPlace(browser.page, 'Safekeep');
      await browser.page.getByRole('button', { name: 'Check Cellar' }).click();
      await jobEnded(browser.page, 'Check: Cellar');
      const report = browser.page.getByRole('listitem').filter({ hasText: 'Check: Cellar' }).first();
      expect(await report.innerText()).toMatch(
        /Not what its checksum says: 1\s+2020\/c with blanks\.jpg\s+Missing: 1\s+2020\/\.dot\.jpg\s+New, not cataloged yet: 1/,
      );
      expect(sha256sum(cellar)).toMatchObject({ ok: false });
    });

    step('a second scan tells moved, missing, new files, and those that are not what they were apart', async () => {
      mkdirSync(path.join(studio, 'moved here'));
      renameSync(path.join(studio, '2019/klaksvík 🐑/b.jpg'), path.join(studio, 'moved here/b.jpg'));
      renameSync(path.join(studio, '2019/klaksvík 🐑/b.xmp'), path.join(studio, 'moved here/b.xmp'));
      rmSync(path.join(studio, '2020/pair.png'));
      put(
        studio,
        '2020/c with blanks.jpg',
        await photoBytes({ seed: 33, captured: '2020:01:10 10:00:00', camera: 'Fjell C5' }),
      );
      put(studio, '2021/late.jpg', await photoBytes({ seed: 8, captured: '2021:05:05 10:00:00' }));
      await lookThrough(browser.page, 'Studio');
      await browser.page
        .getByText(
          '8 photos found, 1 added, 0 changed, 1 moved, 1 missing, 1 damaged, 1 sidecar without a photo beside, listed in Safekeep.',
        )
        .first()
        .waitFor();
      await openPlace(browser.page, 'Find');
      await typeScope(browser.page, 'folder:"moved here"');
      await until('the moved photo is known by its new place', async () => (await shownCount(browser.page)) === 1);
    });

    step('rebuild drill: a new browser, the same folders, and everything is back', async () => {
      await browser.close();
      removeProfile(browser.profile);
      browser = await openBrowser({ origin });
      await open(browser.page);
      await offer(browser, studio);
      await browser.page.getByText('This is the drive “Studio”').waitFor();
      await offer(browser, cellar);
      await browser.page.getByText('This is the drive “Cellar”').waitFor();
      await jobEnded(browser.page, 'Catalog: Studio');
      await jobEnded(browser.page, 'Catalog: Cellar');
      await openPlace(browser.page, 'Find');
      await browser.page.getByRole('button', { name: /On the slip\s*1/ }).click();
      await until('the collection’s photo', async () => (await shownCount(browser.page)) === 1);
      await selectPhoto(browser.page, 'Bátar í havn');
      await until(
        'its fields',
        async () => (await browser.page.getByLabel('City', { exact: true }).inputValue()) === 'Gjógv',
      );
      await browser.page.getByRole('button', { name: 'Take away “turf roof”' }).waitFor();
      await browser.page
        .getByRole('button', { name: 'Rating 4' })
        .and(browser.page.locator('.ant-btn-primary'))
        .waitFor();
      await browser.page.getByText('2 verified copies').waitFor();
    });
  });
});
