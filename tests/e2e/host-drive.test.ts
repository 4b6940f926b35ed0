// Folders of this machine, served to the page: what other pages get of them (nothing), what the page itself may do, and
// what becomes of files when the server is killed, when another program puts files there, and when two browsers write.

import { type ChildProcess, execFileSync } from 'node:child_process';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest';
import { complaints } from './axe';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, photosIn, put, read, sha256sum, until } from './folders';
import {
  allWritten,
  choose,
  chooseServed,
  connectFolder,
  drives,
  fill,
  jobEnded,
  openApplication,
  openPlace,
  pickServed,
  selectPhoto,
  shownCount,
} from './person';
import { startServer } from './start-server';
import { WAYS, connectBy } from './ways';

const origin = inject('origin');
const key = inject('key');
let browser: Browser;
const SERVED = WAYS['served by this machine']!;

async function photosOn(count: number, name = 'Studio'): Promise<string> {
  const folder = newFolder(name);
  for (let index = 1; index <= count; index++)
    put(
      folder,
      `p${index}.jpg`,
      await photoBytes({
        seed: index,
        captured: `2020:01:01 10:${String(index % 60).padStart(2, '0')}:00`,
        headline: `Photo ${index}`,
      }),
    );
  return folder;
}

const connectServed = (folder: string, name: string) => connectBy(SERVED, browser, folder, name);

beforeEach(async () => {
  browser = await openBrowser({ origin });
});

afterEach(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

describe('a page of another program on this machine', () => {
  let foreign: Server;
  let address: string;
  const heard: IncomingHttpHeaders[] = [];

  beforeAll(async () => {
    foreign = createServer((request, response) => {
      heard.push(request.headers);
      response.setHeader('content-type', 'text/html');
      response.end('<!doctype html><title>another program</title>');
    });
    await new Promise<void>((resolve) => foreign.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(foreign.address() as AddressInfo).port}`;
  });
  afterAll(() => void foreign.close());

  it('gets nothing of a folder, cannot ask for one, cannot show the page inside its own, and is never sent the token', async () => {
    const { page } = browser;
    await openApplication(page, origin, key);
    expect(page.url()).not.toContain('key');
    await page.goto(address);
    const order = JSON.stringify({ asks: [{ id: 'a-1', kind: 'serve', order: { path: '/etc' } }] });
    const tried = await page.evaluate(
      async ([target, body]) => {
        const outcome = (sent: Promise<Response>) =>
          sent.then(
            (response) => `${response.type} ${response.status}`,
            () => 'refused',
          );
        const frame = document.createElement('iframe');
        frame.src = target;
        document.body.append(frame);
        await new Promise((resolve) => (frame.onload = resolve));
        const picture = await new Promise((resolve) => {
          const image = new Image();
          image.onload = () => resolve('shown');
          image.onerror = () => resolve('refused');
          image.src = `${target}/icon.svg`;
        });
        return {
          read: await outcome(fetch(`${target}/api/host/ask`, { method: 'POST', body, credentials: 'include' })),
          headers: await outcome(
            fetch(`${target}/api/host/ask`, { method: 'POST', body, headers: { 'x-wembo-token': 'guessed' } }),
          ),
          simple: await outcome(fetch(`${target}/api/host/ask`, { method: 'POST', body, mode: 'no-cors' })),
          places: await outcome(fetch(`${target}/api/places/search?q=a`)),
          picture,
          stored: localStorage.length,
          framed: frame.contentWindow?.length ?? 0,
        };
      },
      [origin, order] as const,
    );
    // what the browser itself lets pass without a look inside, the server has refused: the folder is not served
    expect(tried).toEqual({
      read: 'refused',
      headers: 'refused',
      simple: expect.stringMatching(/opaque|refused/) as string,
      places: 'refused',
      picture: 'refused',
      stored: 0,
      framed: 0,
    });
    await openApplication(page, origin);
    const served = await page.evaluate(
      async (token) =>
        (
          await fetch('/api/host/ask', {
            method: 'POST',
            headers: { 'x-wembo-token': token },
            body: JSON.stringify({ asks: [{ id: 'a-1', kind: 'folders', order: {} }] }),
          })
        ).text(),
      key,
    );
    expect(served).not.toContain('"/etc"');
    expect(JSON.stringify(heard)).not.toContain(key);
    expect(heard.every(({ cookie }) => cookie === undefined)).toBe(true);
  });

  it('hears nothing from the page, whatever a script in it might try', async () => {
    const { page } = browser;
    await openApplication(page, origin, key);
    heard.length = 0;
    const tried = await page.evaluate(async (target) => {
      const refused = (sent: Promise<unknown>) =>
        sent.then(
          () => 'sent',
          () => 'refused',
        );
      const script = document.createElement('script');
      script.textContent = 'globalThis.broughtIn = true';
      document.body.append(script);
      const image = new Image();
      image.src = `${target}/beacon`;
      return {
        fetch: await refused(fetch(target, { mode: 'no-cors' })),
        socket: await refused(
          new Promise((resolve, reject) => {
            const socket = new WebSocket(target.replace('http', 'ws'));
            socket.onopen = resolve;
            socket.onerror = reject;
          }),
        ),
        eval: (() => {
          try {
            return String((0, eval)('1'));
          } catch {
            return 'refused';
          }
        })(),
        script: 'broughtIn' in globalThis,
      };
    }, address);
    expect(tried).toEqual({ fetch: 'refused', socket: 'refused', eval: 'refused', script: false });
    expect(heard).toEqual([]);
  });
});

it('folders are browsed by keyboard, a new one is made, and axe has nothing against it', async () => {
  const { page } = browser;
  const above = newFolder('Above');
  put(above, 'Ørn & co/x.jpg', await photoBytes({ seed: 1 }));
  await openApplication(page, origin, key);
  await page.getByRole('button', { name: 'Connect a drive…' }).click();
  const typed = page.getByLabel('Path of a folder');
  await typed.fill('not/whole');
  await page.keyboard.press('Enter');
  await page.getByText('Type the whole path').waitFor();
  await typed.fill(`${above}/nothing here`);
  await page.keyboard.press('Enter');
  await page.getByText('There is no such folder.').waitFor();
  await typed.fill(above);
  await page.keyboard.press('Enter');
  await page.getByText('1 folder ·').waitFor();
  expect(await complaints(page)).toEqual([]);
  await page.getByRole('button', { name: 'New folder in it…' }).click();
  await page.getByLabel('Name of the new folder').fill('2027 Gjógv');
  await page.keyboard.press('Enter');
  await page.getByText(`${above}/2027 Gjógv`, { exact: true }).waitFor();
  await page.getByRole('tree', { name: 'Folders' }).focus();
  for (const pressed of ['ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter']) await page.keyboard.press(pressed);
  await page
    .getByText(/1 photo right in it|free/)
    .first()
    .waitFor();
});

it('a drive that was dropped on the page changes its way of connection, and keeps all that is known and waits', async () => {
  const { page } = browser;
  const folder = await photosOn(6);
  await openApplication(page, origin, key);
  await connectFolder(browser, folder, 'Studio');
  await openPlace(page, 'Find');
  await selectPhoto(page, 'Photo 1');
  await fill(page, 'City', 'Gjógv');
  await openPlace(page, 'Overview');
  await chooseServed(page, folder);
  await page.getByText('From now on it is reached through this machine.').waitFor();
  await openPlace(page, 'Find');
  expect(await shownCount(page)).toBe(6);
  await until('what was entered', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
  // by the host alone now: the browser that is opened anew has leave for no folder
  const other = await openBrowser({ origin });
  try {
    await openApplication(other.page, origin, key);
    await chooseServed(other.page, folder);
    await other.page.getByText('This is the drive “Studio”').waitFor();
    await jobEnded(other.page, 'Catalog: Studio');
  } finally {
    await other.close();
    removeProfile(other.profile);
  }
  await selectPhoto(page, 'Photo 2');
  await fill(page, 'City', 'Viðareiði');
  await until('what was entered after', () => exiftool(folder, 'p2.xmp')['XMP-photoshop:City'] === 'Viðareiði');
});

it('what another program puts into a folder, new folders and all, is in the catalog without anybody asking', async () => {
  const { page } = browser;
  const folder = await photosOn(2);
  await openApplication(page, origin, key);
  await connectServed(folder, 'Studio');
  await openPlace(page, 'Find');
  put(folder, 'p3.jpg', await photoBytes({ seed: 3 }));
  await until('the one that appeared', async () => (await shownCount(page)) === 3);
  put(folder, 'new/deep/er/p4.jpg', await photoBytes({ seed: 4 }));
  await until('the one in new folders', async () => (await shownCount(page)) === 4);
});

it('two browsers on one folder, each saying something else, keep both', async () => {
  const folder = await photosOn(8);
  const other = await openBrowser({ origin });
  try {
    for (const one of [browser, other]) await openApplication(one.page, origin, key);
    await connectServed(folder, 'Studio');
    await chooseServed(other.page, folder);
    await jobEnded(other.page, 'Catalog: Studio');
    for (const [at, one] of [browser, other].entries()) {
      await openPlace(one.page, 'Find');
      await until('all', async () => (await shownCount(one.page)) === 8);
      await selectPhoto(one.page, 'Photo 1');
      await one.page.keyboard.press('Control+a');
      await fill(one.page, at === 0 ? 'City' : 'Country', at === 0 ? 'Gjógv' : 'Faroe Islands');
    }
    await until('the word of each in every sidecar', () =>
      Array.from({ length: 8 }, (_, at) => exiftool(folder, `p${at + 1}.xmp`)).every(
        (said) => said['XMP-photoshop:City'] === 'Gjógv' && said['XMP-photoshop:Country'] === 'Faroe Islands',
      ),
    );
  } finally {
    await other.close();
    removeProfile(other.profile);
  }
});

describe('a server of its own', () => {
  const port = 1 + Number(new URL(origin).port);
  const own = `http://127.0.0.1:${port}`;
  let server: ChildProcess | null = null;
  let starts = 0;
  let atStart: string[] = [];
  const state = newFolder('state');

  /** A new start has a new key. */
  async function start(): Promise<string> {
    const token = `key-of-start-number-${(starts += 1)}`;
    server = await startServer(port, { WEMBO_TOKEN: token, WEMBO_STATE: state, WEMBO_DRIVES: JSON.stringify(atStart) });
    return token;
  }
  /** `next start` is one process; nothing is asked, as by a power cut. */
  const kill = () => void execFileSync('kill', ['-9', String(server?.pid)]);

  beforeEach(() => {
    atStart = [];
  });
  afterEach(() => void server?.kill('SIGKILL'));

  it('killed in the middle of sidecar writes and of a copy: every file is old or new and whole, and all arrives after the next start', async () => {
    const { page } = browser;
    const folder = await photosOn(60);
    const cellar = newFolder('Cellar');
    await openApplication(page, own, await start());
    await connectServed(folder, 'Studio');
    await connectServed(cellar, 'Cellar');
    const sources = () =>
      filesIn(folder)
        .filter((name) => name.endsWith('.xmp') && !name.includes('wembo-part'))
        .map((name) => /<photoshop:Source>(.*)</.exec(read(folder, name).toString('utf8'))?.[1]);
    for (const [round, moment] of [1, 20].entries()) {
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Photo 1');
      await page.keyboard.press('Control+a');
      await fill(page, 'Source', `round ${round}`);
      while (sources().filter((source) => source === `round ${round}`).length < moment)
        await new Promise((resolve) => setTimeout(resolve, 1));
      kill();
      for (const source of sources()) expect([`round ${round}`, `round ${round - 1}`]).toContain(source);
      await openApplication(page, own, await start());
      await until('all arrives', () => sources().filter((source) => source === `round ${round}`).length === 60);
    }
    await allWritten(page);
    await openPlace(page, 'Safekeep');
    await drives(page, 'Studio', 'Cellar');
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await until('some are there', () => photosIn(cellar).length >= 5);
    kill();
    for (const file of photosIn(cellar)) expect(read(cellar, file).equals(read(folder, file)), file).toBe(true);
    await page.getByText('The server of this application does not answer').first().waitFor();
    await openApplication(page, own, await start());
    await openPlace(page, 'Safekeep');
    await page
      .getByRole('listitem')
      .filter({ hasText: 'Second copy: Studio → Cellar' })
      .getByRole('button', { name: 'Resume' })
      .click();
    await until('the copy is done', () => photosIn(cellar).length === 60);
    for (const file of photosIn(folder)) expect(read(cellar, file).equals(read(folder, file)), file).toBe(true);
    await until('the manifest says so', () => {
      const { ok, output } = sha256sum(cellar);
      return ok && output.match(/: OK/g)?.length === 60;
    });
  });

  it('a folder named at the start is asked about by itself; a page opened without the link says where its drive is', async () => {
    const { page } = browser;
    const folder = await photosOn(3, 'Named at the start');
    atStart = [folder];
    await openApplication(page, own, await start());
    await page.getByText('Found 3 photos').waitFor();
    await page.getByRole('button', { name: 'Connect and catalog' }).click();
    await jobEnded(page, `Catalog: ${path.basename(folder)}`);
    kill();
    await start();
    await openApplication(page, own); // with the key of the start before
    await page.getByText('open Wembo by the link').first().waitFor();
    await openApplication(page, own, `key-of-start-number-${starts}`);
    await openPlace(page, 'Find');
    await until('its photos', async () => (await shownCount(page)) === 3);
    await selectPhoto(page, 'Photo 1');
    await fill(page, 'City', 'Gjógv');
    await until('is written', () => exiftool(folder, 'p1.xmp')['XMP-photoshop:City'] === 'Gjógv');
  });
});

it('a card that is served is taken in to a drive that is served, verified, on the host alone', async () => {
  const { page } = browser;
  const card = newFolder('Card');
  for (let at = 1; at <= 5; at++)
    put(card, `DCIM/100FAROE/F00${at}.jpg`, await photoBytes({ seed: 50 + at, captured: `2021:03:0${at} 10:00:00` }));
  put(card, 'MISC/INDEX.DAT', 'no photo');
  put(card, 'DCIM/100FAROE/F001.WAV', 'spoken');
  const studio = newFolder('Studio');
  await openApplication(page, origin, key);
  await connectServed(studio, 'Studio');
  await openPlace(page, 'Take in');
  await page.getByRole('button', { name: 'Choose a card or folder…' }).click();
  await pickServed(page, card);
  await page.getByText(/5 photos and 1 file beside them, .* go from Card/).waitFor();
  await choose(page, 'Drive', 'Studio', 0);
  // its folder is prepared before it is taken in, for a day of the person's choice
  await page.getByRole('button', { name: 'Prepare a shoot…' }).click();
  const shoot = page.getByRole('dialog');
  await shoot.getByLabel('Day').fill('soon');
  await shoot.getByText('Write the day as').waitFor();
  await shoot.getByLabel('Day').fill('2021-02-28');
  await shoot.getByLabel('Subject').fill('Gjógv');
  await shoot.getByText('2021/2021-02-28 Gjógv').waitFor();
  await shoot.getByRole('button', { name: 'Make the folder' }).click();
  await until('it is there, empty', () => existsSync(path.join(studio, '2021/2021-02-28 Gjógv')));
  await page.getByRole('button', { name: '2021/2021-02-28 Gjógv', exact: true }).waitFor();
  await choose(page, 'The card as it is', 'Studio');
  await page.getByText('every file of the card as it is to Studio').waitFor();
  await page.getByRole('button', { name: /^Take in 5/ }).click();
  await until(
    'all are there',
    () => photosIn(studio).filter((file) => file.startsWith('2021/2021-02-28 Gjógv/')).length === 5,
  );
  await until('and in the catalog, by their measures', () => sha256sum(studio).ok);
  // the card as it is, by diff, and by its own list
  const cards = path.join(studio, '_wembo/cards');
  const list = (await until('its list', () => readdirSync(cards).find((name) => name.endsWith('.sha256')))) ?? '';
  execFileSync('diff', ['-r', card, path.join(cards, list.replace('.sha256', ''))]);
  execFileSync('sha256sum', ['--strict', '-c', list], { cwd: cards });
  expect(readFileSync(path.join(cards, list), 'utf8').trim().split('\n')).toHaveLength(7);
});
