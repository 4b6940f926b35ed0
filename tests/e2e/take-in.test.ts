// Taking in, on real folders: a card to two drives at the same time, judged by `diff -r`, `sha256sum -c`, ExifTool and
// `sort`; what interrupts it; renaming and its undo; emptying the card; a known folder that is watched.

import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, renameSync, rmSync, utimesSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, killerOf, openBrowser, removeProfile, usedBefore } from './browser';
import {
  digestsOf,
  exiftool,
  filesIn,
  newFolder,
  photoBytes,
  photosIn,
  put,
  read,
  sha256sum,
  until,
  untilStill,
} from './folders';
import {
  allWritten,
  atRest,
  choose,
  connectFolder,
  lookThrough,
  openApplication,
  openPlace,
  shownCount,
  tick,
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

const SIDECAR =
  '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:Headline="said on the card"/></rdf:RDF></x:xmpmeta>';

/** A card as a camera leaves it: two folders, a spoken note, a sidecar, a file that is no photo. */
async function newCard(count: number, width = 600): Promise<string> {
  const card = newFolder('CARD ð');
  for (let index = 1; index <= count; index++) {
    const folder = index <= count / 2 ? '100TEST' : '101TEST';
    put(
      card,
      `DCIM/${folder}/T_${String(index).padStart(4, '0')}.JPG`,
      await photoBytes({
        seed: index,
        width,
        height: (width * 2) / 3,
        captured: `2026:08:${index <= count / 2 ? 30 : 31} 10:${String(Math.floor(index / 60)).padStart(2, '0')}:${String(index % 60).padStart(2, '0')}`,
      }),
    );
  }
  put(card, 'DCIM/100TEST/T_0001.WAV', 'spoken');
  put(card, 'DCIM/100TEST/T_0002.XMP', SIDECAR);
  put(card, 'MISC/AUTPRINT.MRK', 'no photo');
  return card;
}

async function twoDrives(): Promise<[studio: string, vault: string]> {
  const [studio, vault] = [newFolder('Studio'), newFolder('Vault')];
  await connectFolder(browser, studio, 'Studio');
  await connectFolder(browser, vault, 'Vault');
  return [studio, vault];
}

/** The files of a drive but for its history, which grows with every act and is written when it has come to rest. */
const filesBesideHistory = (drive: string): string[] =>
  filesIn(drive).filter((name) => !name.startsWith('_wembo/history/'));

/** Drops a card on Take in and waits until it was looked through. */
async function dropCard(
  card: string,
  says: RegExp = /None is in the catalog|nothing new here|left out/,
): Promise<void> {
  await openPlace(browser.page, 'Take in');
  await dropFolder(browser, card);
  await browser.page.getByText(says).first().waitFor();
}

const outcome = () => browser.page.getByRole('complementary', { name: 'Outcome' });

async function fillSheet(subject: string, second: string | null): Promise<void> {
  const { page } = browser;
  await choose(page, 'Drive', 'Studio', 0);
  await page.getByRole('textbox', { name: 'Subject' }).fill(subject);
  if (second) await choose(page, 'Drive', second, 1);
}

const start = () =>
  outcome()
    .getByRole('button', { name: /^Take in \d/ })
    .click();

describe('a card', () => {
  it('goes to two drives, named and described, and comes back as one line; renamed, undone, and emptied', async () => {
    const { page } = browser;
    const card = await newCard(8);
    const onCard = digestsOf(card);
    const [studio, vault] = await twoDrives();
    await dropCard(card);
    expect(await page.getByText('1 file belongs to no photo and stays there').count()).toBe(1);
    await fillSheet('Gjógv', 'Vault');
    await page.getByRole('radio', { name: 'as on the card' }).check();
    await page.getByRole('radio', { name: 'new names' }).check();
    await page.getByRole('button', { name: 'New kit' }).click();
    await page.getByRole('textbox', { name: 'Name of the kit' }).fill('Survey');
    await page.getByRole('textbox', { name: 'Creator', exact: true }).fill('Mia Holt');
    await page.getByRole('textbox', { name: 'Copyright notice' }).fill('© 2026 Faroe Harbours Survey');
    await page.getByRole('button', { name: 'Keep the kit' }).click();
    await page.getByRole('combobox', { name: 'Keywords' }).fill('turf roof; boat,');
    const frames = page.getByRole('group', { name: 'Frames' });
    await frames.getByRole('button', { name: 'Mark T_0002.JPG' }).click();
    await frames.getByRole('button', { name: 'Mark T_0004.JPG' }).click({ modifiers: ['Shift'] });
    await page.getByRole('button', { name: 'Words for the marked run (3 frames)' }).click();
    await page.locator('#take-in-run-0').fill('slip,');
    // what will happen is said before it does
    await outcome().getByText('20260830_Gjógv_0001.JPG').waitFor();
    expect(await outcome().innerText()).toMatch(
      /8 photos and 2 files beside them.*from CARD ð to Studio into 2 folders \(2 new\), and at the same time to Vault as the card is.*kit “Survey”, 2 keywords, the words of 1 run/s,
    );
    await start();
    await outcome().getByText('8 on the card · 8 on Studio · 8 on Vault · all checksums equal').waitFor();
    await allWritten(page);
    await until('the page of the accession', () => filesIn(vault).includes('_wembo/accessions/2026.001.txt'));

    // the card is as it was; the second copy is the card, byte for byte
    expect(digestsOf(card)).toEqual(onCard);
    const [mirror = ''] = readdirSync(vault).filter((name) => name !== '_wembo');
    expect(mirror).toMatch(/^2026-08-30 CARD ð 2026\.001$/);
    const diff = spawnSync('diff', ['-rq', path.join(card, 'DCIM'), path.join(vault, mirror, 'DCIM')], {
      encoding: 'utf8',
    })
      .stdout.trim()
      .split('\n');
    expect(
      diff.filter((line) => !/^Only in .*Vault.*: T_\d+\.xmp$/.test(line) && !/T_0002\.XMP differ$/.test(line)),
    ).toEqual([]); // sidecars, and nothing else
    for (const drive of [studio, vault]) expect(sha256sum(drive), sha256sum(drive).output).toMatchObject({ ok: true });
    expect(
      sha256sum(studio)
        .output.split('\n')
        .filter((line) => line.endsWith(': OK')),
    ).toHaveLength(8);

    // names in the order of `sort` are in the order of time
    const shoots = photosIn(studio);
    const sorted = execFileSync('sort', {
      input: shoots.join('\n'),
      env: { ...process.env, LC_ALL: 'C' },
      encoding: 'utf8',
    })
      .trim()
      .split('\n');
    const times = sorted.map((name) => String(exiftool(studio, name)['ExifIFD:DateTimeOriginal']));
    expect(times).toEqual([...times].sort());
    expect(sorted[0]).toBe('2026/2026-08-30 Gjógv/20260830_Gjógv_0001.JPG');
    expect(read(studio, '2026/2026-08-30 Gjógv/20260830_Gjógv_0001.WAV').toString()).toBe('spoken');

    // what was written on arrival, by ExifTool
    const second = exiftool(studio, '2026/2026-08-30 Gjógv/20260830_Gjógv_0002.XMP');
    expect(second).toMatchObject({
      'XMP-photoshop:Headline': 'said on the card',
      'XMP-dc:Creator': ['Mia Holt'],
      'XMP-dc:Rights': '© 2026 Faroe Harbours Survey',
      'XMP-dc:Subject': ['turf roof', 'boat', 'slip'],
      'XMP-xmp:Identifier': ['2026.001.0002'],
      'XMP-xmpMM:PreservedFileName': 'T_0002.JPG',
      'XMP-photoshop:DateCreated': '2026:08:30 10:00:02',
    });
    expect(exiftool(vault, `${mirror}/DCIM/101TEST/T_0008.xmp`)).toMatchObject({
      'XMP-dc:Subject': ['turf roof', 'boat'],
      'XMP-xmp:Identifier': ['2026.001.0008'],
    });
    expect(JSON.parse(read(studio, '_wembo/accessions/2026.001.json').toString())).toMatchObject({
      format: 'wembo-accession',
      onSource: 8,
      source: 'CARD ð',
    });

    // renamed: both drives follow, the selection stays, undo brings all names back
    const [studioBefore, vaultBefore] = [filesBesideHistory(studio), filesBesideHistory(vault)];
    await outcome().getByRole('link', { name: 'See them in Find' }).click();
    await until('the accession', async () => (await shownCount(page)) === 8);
    await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
    await page.keyboard.press('Control+a');
    await page.getByRole('button', { name: 'Rename…' }).click();
    await page.getByRole('textbox', { name: 'Subject' }).fill('Slip');
    await page.getByRole('button', { name: 'Rename 8 photos' }).click();
    await until('the names are new on both drives', () =>
      [studio, vault].every(
        (drive) => filesIn(drive).filter((name) => /_Slip_000\d\.(JPG|xmp|XMP|WAV)$/.test(name)).length === 17,
      ),
    );
    expect(await page.getByText('8 photos selected').count()).toBe(1);
    await until(
      'the manifest has them',
      () => sha256sum(studio).ok && read(studio, '_wembo/manifest-sha256.txt').includes('Slip'),
    );
    await page.keyboard.press('Control+z');
    await until(
      'every name is back',
      () =>
        JSON.stringify(filesBesideHistory(studio)) === JSON.stringify(studioBefore) &&
        JSON.stringify(filesBesideHistory(vault)) === JSON.stringify(vaultBefore),
    );
    await until('and in the manifest', () => sha256sum(studio).ok && sha256sum(vault).ok);

    // the card again: nothing new; it may be emptied of what is verified
    await openPlace(page, 'Take in');
    await page.getByText('All are in the catalog: nothing new here').waitFor();
    await page.getByRole('button', { name: 'May it be emptied?' }).click();
    await page.getByRole('button', { name: 'Remove 10 files from CARD ð' }).click();
    await page.getByText('10 files removed').waitFor();
    expect(filesIn(card)).toEqual(['MISC/AUTPRINT.MRK']);
  });

  it('of which a part is taken in by one rule and the rest by another; a routine keeps a rule and is offered by name', async () => {
    const { page } = browser;
    const card = await newCard(6);
    const [studio] = await twoDrives();
    await dropCard(card);
    await fillSheet('Gjógv', null);
    await page.getByRole('group', { name: 'Routine' }).getByRole('button', { name: 'Keep as a routine' }).click();
    await page.getByRole('textbox', { name: 'Name of the routine' }).fill('Harbour days');
    await page.keyboard.press('Enter');
    const frames = page.getByRole('group', { name: 'Frames' });
    await tick(frames.getByRole('checkbox', { name: /Monday 31 August 2026/ }), false);
    await start();
    await outcome().getByText('6 on the card · 3 left out · 3 on Studio · all checksums equal').waitFor();
    await page.getByRole('button', { name: 'All that are new' }).click();
    await page.getByRole('textbox', { name: 'Subject' }).fill('Funningur');
    await page.getByRole('radio', { name: 'new names' }).check();
    await start();
    await outcome().getByText('6 on the card · 3 known from before · 3 on Studio · all checksums equal').waitFor();
    expect(photosIn(studio)).toEqual([
      ...[1, 2, 3].map((number) => `2026/2026-08-30 Gjógv/T_000${number}.JPG`),
      ...[1, 2, 3].map((number) => `2026/2026-08-31 Funningur/20260831_Funningur_000${number}.JPG`),
    ]);
    const list = page.getByRole('list', { name: 'Accessions' });
    await until('both are listed', async () => (await list.getByRole('listitem').count()) === 2);
    await typeScope(page, 'accession:2026.002');
    await until('the second one', async () => (await shownCount(page)) === 3);
    await page.reload();
    await openPlace(page, 'Take in');
    await page.getByRole('button', { name: 'Use “Harbour days”, as last time' }).click();
    await until(
      'the sheet is filled',
      async () => (await page.getByRole('textbox', { name: 'Subject' }).inputValue()) === 'Gjógv',
    );
  });
});

describe('a take-in that is interrupted', () => {
  /**
   * One take-in, killed in its middle and opened again; `null` where a laden machine lost all that the young profile
   * stored (`usedBefore`).
   */
  async function killedInTheMiddle() {
    const card = await newCard(60, 900);
    const [studio, vault] = await twoDrives();
    browser = await usedBefore(browser, origin);
    await openApplication(browser.page, origin);
    await dropCard(card);
    await fillSheet('Gjógv', 'Vault');
    const kill = killerOf(browser);
    const copies = () => photosIn(studio).length;
    await start();
    while (copies() < 12) await new Promise((resolve) => setTimeout(resolve, 2));
    kill();
    expect(await untilStill('nothing is written any more', copies, 3)).toBeLessThan(60);
    // whatever bears its name is whole
    const whole = new Set(Object.values(digestsOf(card)));
    for (const drive of [studio, vault])
      for (const [name, digest] of Object.entries(digestsOf(drive)))
        if (photosIn(drive).includes(name)) expect(whole.has(digest), name).toBe(true);
    await browser.close();
    renameSync(card, `${card} pulled`);
    browser = await openBrowser({ origin, profile: browser.profile });
    await openApplication(browser.page, origin);
    const job = browser.page.getByRole('listitem').filter({ hasText: 'Take in: CARD ð → Studio' });
    const lost = browser.page.getByRole('heading', { name: 'Begin with your own' });
    await job.or(lost).first().waitFor();
    if (await lost.isVisible()) return null;
    return { card, studio, vault, job };
  }

  it('the browser killed and the card pulled: it goes on where it was, and copies nothing twice', async () => {
    let killed = null;
    for (let tries = 0; killed === null && tries < 3; tries++) killed = await killedInTheMiddle();
    if (!killed) throw new Error('the browser lost its profile three times');
    const { card, studio, vault, job } = killed;
    const inodes = () =>
      execFileSync('sh', ['-c', `find "$0" -name '*.JPG' ! -name '*wembo-part*' -printf '%i %P\\n' | sort`, studio], {
        encoding: 'utf8',
      })
        .trim()
        .split('\n');
    const before = inodes();
    await job.getByRole('button', { name: 'Resume' }).click();
    await job.getByText('The card or folder is not there any more').waitFor();
    renameSync(`${card} pulled`, card);
    await job.getByRole('button', { name: 'Resume' }).click();
    await job.getByText('60 on the card · 60 on Studio · 60 on Vault · all checksums equal').waitFor();
    const after = inodes();
    for (const file of before) expect(after).toContain(file); // the same files, not written again
    for (const drive of [studio, vault]) expect(photosIn(drive)).toHaveLength(60);
    await until('the manifests', () => sha256sum(studio).ok && sha256sum(vault).ok);
    // what was written on arrival goes into the sidecars after the photos are verified: those writes have part files of
    // their own
    await allWritten(browser.page);
    const parts = () => filesIn(studio).filter((name) => name.includes('wembo-part') || name.endsWith('.crswap'));
    await until('no photo has a part file', () => parts().every((name) => name.startsWith('_wembo/')));
    // the kill may have hit a file of the archive folder: what it left there goes with a scan, once it is old enough not
    // to be one that is being written
    const yesterday = new Date(Date.now() - 86_400_000);
    for (const part of parts()) utimesSync(path.join(studio, part), yesterday, yesterday);
    await lookThrough(browser.page, 'Studio');
    await until('no part file', () => parts().length === 0);
  });

  it('the drive full: it stops and says so, keeps what is verified, and goes on when there is room', async ({
    skip,
  }) => {
    const small = mkdtempSync(path.join(tmpdir(), 'wembo-small-'));
    if (spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=3m', 'tmpfs', small]).status !== 0)
      skip('no small disk can be mounted here');
    const card = await newCard(20, 1500);
    await connectFolder(browser, small, 'Studio');
    await dropCard(card);
    await fillSheet('Gjógv', null);
    await start();
    await outcome().getByText('The drive is full').first().waitFor();
    const there = photosIn(small).length;
    expect(there).toBeGreaterThan(0);
    expect(there).toBeLessThan(20);
    execFileSync('mount', ['-o', 'remount,size=60m', small]);
    await outcome().getByRole('button', { name: 'Resume' }).first().click();
    await outcome().getByText('20 on the card · 20 on Studio · all checksums equal').first().waitFor();
    execFileSync('umount', ['-l', small]);
  });

  it('the second drive away: its copies wait, the card keeps everything, and both follow when it is back', async () => {
    const { page } = browser;
    const card = await newCard(4);
    const [, vault] = await twoDrives();
    renameSync(vault, `${vault} away`);
    await page.reload();
    await openPlace(page, 'Overview');
    await page
      .getByRole('listitem')
      .filter({ hasText: 'Vault' })
      .getByRole('button', { name: 'away', exact: true })
      .waitFor();
    await dropCard(card);
    await fillSheet('Gjógv', 'Vault · away');
    await page.getByText('its copies wait in the outbox until it is back').waitFor();
    await start();
    await outcome().getByText('4 on the card · 4 on Studio · 0 on Vault · 4 not on Vault yet').waitFor();
    await page.getByRole('button', { name: 'May it be emptied?' }).click();
    await page.getByText('Nothing may be removed.').waitFor();
    await page.getByText('too few verified copies: 6').waitFor();
    renameSync(`${vault} away`, vault);
    await openPlace(page, 'Overview');
    await page.getByRole('listitem').filter({ hasText: 'Vault' }).getByRole('button', { name: 'Connect' }).click();
    await until('the copies are made', () => photosIn(vault).length === 4 && sha256sum(vault).ok);
    await openPlace(page, 'Take in');
    await page.getByRole('list', { name: 'Accessions' }).getByText('4 on Vault · all checksums equal').waitFor();
  });
});

describe('what stands in the way', () => {
  it('a file that cannot be read, a clock of 1970, and names that are taken at the destination', async () => {
    const { page } = browser;
    const card = await newCard(4);
    put(card, 'DCIM/100TEST/T_9999.JPG', await photoBytes({ seed: 90, captured: '1970:01:01 00:00:07' }));
    put(card, 'DCIM/100TEST/T_0000.JPG', Buffer.alloc(0));
    const studio = newFolder('Studio');
    put(studio, '2026/2026-08-30 GJÓGV/t_0001.jpg', await photoBytes({ seed: 77 }));
    await connectFolder(browser, studio, 'Studio');
    await dropCard(card);
    await fillSheet('Gjógv', null);
    await outcome().getByText('1 name: taken already, and get a number').waitFor();
    await start();
    await outcome().getByText('6 on the card · 1 left out · 5 on Studio · all checksums equal').waitFor();
    expect(photosIn(studio)).toEqual([
      '1970/1970-01-01 Gjógv/T_9999.JPG',
      '2026/2026-08-30 GJÓGV/T_0001-2.JPG',
      '2026/2026-08-30 GJÓGV/T_0002.JPG',
      '2026/2026-08-30 GJÓGV/t_0001.jpg',
      '2026/2026-08-31 Gjógv/T_0003.JPG',
      '2026/2026-08-31 Gjógv/T_0004.JPG',
    ]);
    await page.getByRole('button', { name: 'May it be emptied?' }).click();
    await page.getByText('not taken in: 1').waitFor();
  });
});

describe('the parts of a name', () => {
  it('are added, put into another order by dragging and by keys, set, and kept under a name', async () => {
    const { page } = browser;
    await connectFolder(browser, newFolder('Studio'), 'Studio');
    await openPlace(page, 'Take in');
    await page.getByRole('radio', { name: 'new names' }).check();
    const names = page.getByRole('group', { name: 'Names' });
    const order = async () =>
      (
        await names
          .getByRole('button', { name: /^Take out: / })
          .evaluateAll((buttons) => buttons.map((button) => button.getAttribute('aria-label')?.slice(10)))
      ).join(' | ');
    expect(await order()).toBe('date | text | subject | text | sequence');
    await names.getByRole('button', { name: 'Add a part to names' }).click();
    await page.getByRole('menuitem', { name: /camera’s number/ }).click();
    // by pointer: the first part behind the last
    const from = await names.getByRole('button', { name: 'Move: date' }).boundingBox();
    const to = await names.getByRole('button', { name: 'Move: camera’s number' }).boundingBox();
    if (!from || !to) throw new Error('both must be there');
    await page.mouse.move(from.x + 8, from.y + 8);
    await page.mouse.down();
    await page.mouse.move(to.x + 60, to.y + 8, { steps: 12 });
    await page.getByText('date is at place 6 of 6').waitFor({ state: 'attached' }); // dropped where it is shown, not before
    await page.mouse.up();
    await until(
      'it is the last',
      async () => (await order()) === 'text | subject | text | sequence | camera’s number | date',
    );
    // by keys: back to the front
    await names.getByRole('button', { name: 'Move: date' }).focus();
    await page.keyboard.press('Space');
    // what was said while it was dragged is said still: it is picked up when it shows so, and keys are heard a moment after
    await names.locator('[data-dragging=true]').waitFor();
    await atRest(page);
    for (const place of [5, 4, 3, 2, 1]) {
      await page.keyboard.press('ArrowLeft');
      await page.getByText(`date is at place ${place} of 6`).waitFor({ state: 'attached' });
    }
    await page.keyboard.press('Space');
    await until(
      'it is the first',
      async () => (await order()) === 'date | text | subject | text | sequence | camera’s number',
    );
    await names.getByRole('button', { name: 'Take out: camera’s number' }).click();
    await names.getByRole('button', { name: '0001…' }).click();
    await page.getByRole('spinbutton', { name: 'Digits' }).fill('3');
    await page.getByText('names stop sorting in order past 999').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Keep this pattern' }).click();
    await page.getByRole('textbox', { name: 'Name of the pattern' }).fill('Three digits');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Remove “Three digits”' }).waitFor();
  });
});

describe('a known folder', () => {
  it('is looked through when one comes back: what appeared in it is in the catalog without anybody asking, and said to be new', async () => {
    const { page } = browser;
    const studio = newFolder('Studio');
    put(studio, 'a.jpg', await photoBytes({ seed: 1 }));
    await connectFolder(browser, studio, 'Studio');
    put(studio, 'from elsewhere/b.jpg', await photoBytes({ seed: 2, headline: 'Seen by itself' }));
    await openPlace(page, 'Take in');
    const fresh = page.getByRole('region', { name: 'New here' });
    // the person copied it there with another program, and comes back to the window; more than once, for it was scanned
    // a moment ago
    await until('it is seen', async () => {
      await page.evaluate(() => window.dispatchEvent(new Event('focus')));
      return fresh.getByText('1 photo on Studio').isVisible();
    });
    await fresh.getByRole('link', { name: 'from elsewhere' }).click();
    await until('the photo', async () => (await shownCount(page)) === 1);
    rmSync(path.join(studio, 'from elsewhere'), { recursive: true });
  });
});
