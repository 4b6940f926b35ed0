// A person whose archive lies elsewhere too: a store is set up and sealed, filled, looked at by another client and the
// age tool, bent from behind, checked and mended; the disk at home is lost, and everything comes back from the store, by
// its passphrase, into a browser that knows nothing.

import { spawnSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Client } from 'minio';
import { expect, inject } from 'vitest';
import { complaints } from './axe';
import { type Browser, openBrowser, removeProfile } from './browser';
import { filesIn, newFolder, read, sha256, sha256sum, until } from './folders';
import {
  allWritten,
  choose,
  connectFolder,
  drivePhotos,
  fill,
  jobEnded,
  openApplication,
  openPlace,
  selectPhoto,
  typeScope,
} from './person';
import { STORE_KEYS } from './store-keys';
import { story } from './story';

const origin = inject('origin');
const key = inject('key');
const PASSPHRASE = 'twelve herrings swim';

const { hostname, port } = new URL(inject('store'));
const client = new Client({
  endPoint: hostname,
  port: Number(port),
  useSSL: false,
  accessKey: STORE_KEYS.accessKeyId,
  secretKey: STORE_KEYS.secretAccessKey,
  region: 'faroe-1',
});

async function keysInStore(): Promise<string[]> {
  const keys: string[] = [];
  for await (const { name } of client.listObjectsV2(STORE_KEYS.bucket, '', true) as AsyncIterable<{ name: string }>)
    keys.push(name);
  return keys.sort();
}

async function objectBytes(name: string): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of await client.getObject(STORE_KEYS.bucket, name)) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

story('a person keeps an archive elsewhere, and gets it back', (step) => {
  let browser: Browser;
  let studio: string;
  let originals: Record<string, string>;
  let identity = '';
  const again = newFolder('Again');

  step('sets up a store, sealed by a passphrase, and prints the sheet with its key', async () => {
    browser = await openBrowser({ origin });
    const { page } = browser;
    await openApplication(page, origin, key);
    studio = await drivePhotos(browser, 4);
    await openPlace(page, 'Find');
    await selectPhoto(page, 'Photo 2');
    await fill(page, 'Caption', 'The ferry Smyril, seen from Tvøroyri');
    await allWritten(page);
    await openPlace(page, 'Safekeep');
    await page.getByRole('button', { name: 'Connect a store elsewhere…' }).click();
    const dialog = page.getByRole('dialog', { name: 'A store elsewhere' });
    await dialog.getByRole('button', { name: 'Use it' }).click();
    expect(await complaints(page)).toEqual([]);
    await dialog.getByLabel('secret key').fill('a wrong one');
    await dialog.getByRole('button', { name: 'Look what lies there' }).click();
    await dialog.getByText('The store refuses these keys.').waitFor();
    await dialog.getByLabel('secret key').fill(STORE_KEYS.secretAccessKey);
    await dialog.getByRole('button', { name: 'Look what lies there' }).click();
    await dialog.getByText('The store answers. Nothing lies there yet.').waitFor();
    await dialog.getByLabel('passphrase', { exact: true }).fill(PASSPHRASE);
    await dialog.getByLabel('once more').fill('twelve herrings swam');
    await dialog.getByText('The two are not the same yet.').waitFor();
    await dialog.getByLabel('once more').fill(PASSPHRASE);
    expect(await complaints(page)).toEqual([]);
    await dialog.getByRole('button', { name: 'Set it up' }).click();
    const sheet = page.frameLocator('iframe[title="The sheet with the key"]').locator('pre');
    identity = /AGE-SECRET-KEY-1[0-9A-Z]{58}/.exec(await sheet.innerText())?.[0] ?? '';
    expect(identity).not.toBe('');
    await dialog.getByText('The sheet is printed or written down').click();
    await dialog.getByRole('button', { name: 'Go on' }).click();
    await page.getByLabel('What do you call this drive?').fill('Provider');
    await page.getByRole('button', { name: 'Connect and catalog' }).click();
    await page.getByRole('button', { name: 'Provider', exact: true }).click();
    const store = page.getByRole('region', { name: 'The store' });
    await store.getByText('sealed with age').waitFor();
    await store.getByText('harbours/survey').waitFor();
    expect(await page.getByRole('checkbox', { name: /^elsewhere/ }).isChecked()).toBe(true);
    expect(await complaints(page)).toEqual([]);
    await page.keyboard.press('Escape');
  });

  step('fills it: all of it is there for any client that has the key, and for no other', async () => {
    const { page } = browser;
    await choose(page, 'from', 'Studio');
    await choose(page, 'to', 'Provider');
    await page.getByText('4 photos, ').waitFor();
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Studio → Provider');
    await allWritten(page);
    await page.getByRole('button', { name: 'Your rule…' }).click();
    await page.getByRole('spinbutton', { name: 'Verified copies, on different drives' }).fill('2');
    await page.getByRole('button', { name: 'Keep the rule' }).click();
    await page.getByRole('heading', { name: 'All 4 photos are safe' }).waitFor();
    originals = Object.fromEntries(
      filesIn(studio)
        .filter((name) => /^p\d\.(jpg|xmp)$/.test(name))
        .map((name) => [name, sha256(read(studio, name))]),
    );
    expect(Object.keys(originals)).toEqual(['p1.jpg', 'p2.jpg', 'p2.xmp', 'p3.jpg', 'p4.jpg']);
    const keys = await keysInStore();
    expect(keys).toContain('survey/READ-ME.txt');
    expect(keys.filter((name) => name.includes('wembo-part'))).toEqual([]);
    const folder = newFolder('stranger');
    writeFileSync(path.join(folder, 'key.txt'), `${identity}\n`);
    for (const [name, digest] of Object.entries(originals)) {
      const sealed = await objectBytes(`survey/${name}.age`);
      expect(sealed.includes('Tvøroyri')).toBe(false);
      const opened = spawnSync('age', ['-d', '-i', 'key.txt'], { cwd: folder, input: sealed, maxBuffer: 2 ** 26 });
      expect(sha256(opened.stdout)).toBe(digest);
    }
  });

  step('checks it: what was put there by somebody else in place of a photo is found, and mended', async () => {
    const { page } = browser;
    // the very same length, by the very same key: only the measure tells
    const bent = read(studio, 'p3.jpg');
    bent[bent.length >> 1] = (bent[bent.length >> 1] ?? 0) ^ 1;
    const recipient = spawnSync('age-keygen', ['-y'], { input: identity, encoding: 'utf8' }).stdout.trim();
    const sealed = spawnSync('age', ['-r', recipient], { input: bent, maxBuffer: 2 ** 26 }).stdout;
    await client.putObject(STORE_KEYS.bucket, 'survey/p3.jpg.age', sealed);
    await page.getByRole('button', { name: 'Check Provider' }).click();
    await jobEnded(page, 'Check: Provider');
    await page.getByRole('heading', { name: '3 of 4 photos are safe' }).waitFor();
    await page.getByRole('button', { name: 'Look closer… p3.jpg' }).click();
    await page.getByText('1 byte differs, in 1 place').waitFor();
    await page.getByRole('dialog').getByRole('button', { name: 'Bring back from Studio' }).click();
    await page.getByText('p3.jpg: brought back').waitFor();
    await page.getByRole('heading', { name: 'All 4 photos are safe' }).waitFor();
    await allWritten(page);
    await browser.close();
    removeProfile(browser.profile);
  });

  step('loses house, disk and computer, and gets everything back by the passphrase', async () => {
    rmSync(studio, { recursive: true });
    browser = await openBrowser({ origin });
    const { page } = browser;
    await openApplication(page, origin, key);
    await page.getByRole('button', { name: 'Connect a drive…' }).click();
    await page.getByRole('button', { name: 'A store elsewhere…' }).click();
    const dialog = page.getByRole('dialog', { name: 'A store elsewhere' });
    await dialog.getByRole('button', { name: 'Use it' }).click();
    await dialog.getByRole('button', { name: 'Look what lies there' }).click();
    await dialog.getByText('A sealed archive lies there. Its passphrase opens it').waitFor();
    await dialog.getByLabel('passphrase').fill('twelve herrings sank');
    await dialog.getByRole('button', { name: 'Open it' }).click();
    await dialog.getByText('That does not open it').waitFor();
    await dialog.getByLabel('passphrase').fill(PASSPHRASE);
    await dialog.getByRole('button', { name: 'Open it' }).click();
    await jobEnded(page, 'Catalog: Provider');
    await openPlace(page, 'Find');
    await typeScope(page, 'Tvøroyri');
    await selectPhoto(page, 'Photo 2');
    await typeScope(page, '');
    await connectFolder(browser, again, 'Again');
    await openPlace(page, 'Safekeep');
    await choose(page, 'from', 'Provider');
    await choose(page, 'to', 'Again');
    await page.getByText('4 photos, ').waitFor();
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Provider → Again');
    await allWritten(page);
    await until('sidecar and all are back', () =>
      Object.entries(originals).every(([name, digest]) => sha256(read(again, name)) === digest),
    );
    expect(sha256sum(again)).toMatchObject({ ok: true });
    await browser.close();
    removeProfile(browser.profile);
  });
});
