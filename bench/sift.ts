// The wall, stepping and judging, in the built application with 100,000 photos in its catalog, and 24-megapixel frames
// on a folder of the disk. Each against a reference in the same browser: scrolling a plain page of the same tiles,
// decoding the same file by itself, one write into the database by itself. `MINUTES=10 npm run bench -- sift` steps for
// ten minutes.

import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { openBrowser, removeProfile } from '../tests/e2e/browser';
import { photoBytes, put, until } from '../tests/e2e/folders';
import { connectFolder, openApplication, openPlace, shownCount, typeScope } from '../tests/e2e/person';
import { ORIGIN, withApplication } from './server';

const PHOTOS = 100_000;
const FRAMES = 24;
const FRAME_SIZE = { width: 6000, height: 4000 };
const MINUTES = Number(process.env.MINUTES ?? 1);
const LATE_MS = 32;

/** Grain, as large as such frames come, each with a patch of its own. */
async function makeFrames(folder: string): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const grain = await sharp({
    create: { ...FRAME_SIZE, channels: 3, background: '#678', noise: { type: 'gaussian', mean: 110, sigma: 14 } },
  })
    .raw()
    .toBuffer();
  for (let index = 0; index < FRAMES; index++) {
    const patch = {
      create: {
        width: 600,
        height: 400,
        channels: 3 as const,
        background: { r: index * 10, g: 90, b: 200 - index * 5 },
      },
    };
    const picture = await sharp(grain, { raw: { ...FRAME_SIZE, channels: 3 } })
      .composite([{ input: patch, left: 900, top: 700 }])
      .jpeg({ quality: 88 })
      .toBuffer();
    put(
      folder,
      `F_${String(index).padStart(4, '0')}.jpg`,
      await photoBytes({
        captured: `2026:08:30 10:${String(index).padStart(2, '0')}:00`,
        headline: `Frame ${index}`,
        picture,
      }),
    );
  }
}

/** Puts records into the catalog as cataloging would have. In the page. */
async function fill({ count, preview }: { count: number; preview: number[] }): Promise<void> {
  const blob = new Blob([new Uint8Array(preview)], { type: 'image/jpeg' });
  const db = await new Promise<IDBDatabase>((resolve, reject) => {
    const open = indexedDB.open('wembo');
    open.onsuccess = () => resolve(open.result);
    open.onerror = () => reject(open.error as Error);
  });
  const STEP = 2000;
  for (let start = 0; start < count; start += STEP) {
    const transaction = db.transaction(['photos', 'files', 'previews', 'measures'], 'readwrite');
    for (let at = start; at < Math.min(count, start + STEP); at++) {
      const id = `made-${String(at).padStart(7, '0')}`;
      const day = new Date(Date.UTC(2004, 0, 1) + at * 6_500_000).toISOString();
      const captured = day.slice(0, 19);
      const exposure = { seconds: 0.004, fNumber: 8, iso: 100, focalMm: 35, focal35Mm: null, biasEv: 0, flash: null };
      transaction.objectStore('photos').put({
        id,
        format: 'jpeg',
        width: at % 5 === 0 ? 4000 : 6000,
        height: at % 5 === 0 ? 6000 : 4000,
        orientation: 1,
        camera: { make: 'Norda', model: 'Norda K4', serial: '1' },
        lens: null,
        exposure,
        shutterCount: null,
        profile: null,
        seconds: null,
        previews: [],
        problems: [],
        sources: {},
        disagreements: [],
        bytes: 1,
        embedded: {},
        sha256: null,
        imageSha256: null,
        addedAt: 0,
        fields: {
          captured,
          headline: `Made ${at}`,
          keywords: ['harbour', `word${at % 500}`],
          rating: (at % 7) - 1,
          city: `Town ${at % 90}`,
          position: `${(((at * 7919) % 140_000) / 1000 - 65).toFixed(4)}, ${(((at * 104_729) % 360_000) / 1000 - 180).toFixed(4)}`,
        },
      });
      transaction.objectStore('files').put({
        id: `made/${id}.jpg`,
        driveId: 'made',
        path: `${day.slice(0, 10)}/${id}.jpg`,
        photoId: id,
        sizeBytes: 1,
        modifiedMs: 1,
        state: 'present',
        fingerprint: id,
        sha256: null,
        imageSha256: null,
        embedded: null,
        verifiedAt: null,
        sidecar: null,
        sidecarTarget: `${id}.xmp`,
        wantedPath: null,
        problems: [],
      });
      transaction.objectStore('previews').put({ photoId: id, blob });
      const bits = Math.imul(at + 1, 0x9e3779b1) >>> 0;
      transaction.objectStore('measures').put({
        photoId: id,
        measures: {
          high: bits,
          low: Math.imul(bits, 0x85ebca6b) >>> 0,
          colours: [
            { lab: [at % 100, (at % 120) - 60, (at % 90) - 45], share: 60 },
            { lab: [50, 0, 0], share: 30 },
          ],
        },
        version: 1,
      });
    }
    await new Promise<void>((resolve, reject) => {
      transaction.oncomplete = () => resolve();
      transaction.onerror = () => reject(transaction.error as Error);
    });
  }
  db.close();
  // the kept index does not know of them: nothing of Wembo's own wrote them
  const root = await navigator.storage.getDirectory();
  await root.removeEntry('wembo-index', { recursive: true }).catch(() => undefined);
}

/** A catalog of so many made-up photos, on no drive. */
async function fillCatalog(page: Page, count: number): Promise<void> {
  const preview = await sharp({ create: { width: 480, height: 320, channels: 3, background: '#567' } })
    .composite([
      {
        input: Buffer.from(
          '<svg width="480" height="320"><circle cx="300" cy="120" r="80" fill="#c96"/><path d="M0 260L200 140 480 300V320H0z" fill="#364"/></svg>',
        ),
      },
    ])
    .jpeg({ quality: 70 })
    .toBuffer();
  await page.evaluate(fill, { count, preview: [...preview] });
}

interface Scrolled {
  frames: number;
  late: number;
  /** Tiles in sight without a picture, at each frame, in all. */
  blank: number;
}

/** Scrolls a box by steady steps for some seconds and counts. In the page. */
function scroll({ selector, seconds, px }: { selector: string; seconds: number; px: number }): Promise<Scrolled> {
  const box = document.querySelector(selector);
  if (!box) throw new Error(`no ${selector}`);
  const result: Scrolled = { frames: 0, late: 0, blank: 0 };
  return new Promise((resolve) => {
    const started = performance.now();
    let last = started;
    const tick = (now: number) => {
      result.frames += 1;
      if (now - last > 32) result.late += 1;
      last = now;
      const { top, bottom } = box.getBoundingClientRect();
      for (const tile of box.querySelectorAll('[data-photo]')) {
        const at = tile.getBoundingClientRect();
        const picture = tile.querySelector('img');
        if (at.bottom > top && at.top < bottom && !(picture?.complete && picture.naturalWidth > 0)) result.blank += 1;
      }
      if (now - started > seconds * 1000) return resolve(result);
      box.scrollTop += px;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
}

/** Time from a jump to the first full row of pictures, and until no tile in sight is blank. In the page. */
async function jump(shares: number[]): Promise<{ row: number; all: number }[]> {
  const box = document.querySelector('[aria-label="Wall"]');
  if (!box) throw new Error('no wall');
  const results: { row: number; all: number }[] = [];
  for (const share of shares) {
    box.scrollTop = share * box.scrollHeight;
    const started = performance.now();
    let row = 0;
    for (;;) {
      await new Promise(requestAnimationFrame);
      const { top, bottom } = box.getBoundingClientRect();
      const seen = [...box.querySelectorAll('[data-photo]')]
        .map((tile) => ({ at: tile.getBoundingClientRect(), picture: tile.querySelector('img') }))
        .filter(({ at }) => at.bottom > top + 4 && at.top < bottom - 4);
      const drawn = seen.filter(({ picture }) => picture?.complete && picture.naturalWidth > 0);
      const rows = new Map<number, number>();
      for (const { at } of seen) rows.set(Math.round(at.top), (rows.get(Math.round(at.top)) ?? 0) + 1);
      for (const { at } of drawn) rows.set(Math.round(at.top), (rows.get(Math.round(at.top)) ?? 0) - 1);
      if (row === 0 && seen.length > 0 && [...rows.values()].includes(0)) row = performance.now() - started;
      if (seen.length > 3 && drawn.length === seen.length) break;
      if (performance.now() - started > 10_000) break;
    }
    results.push({ row, all: performance.now() - started });
    await new Promise((resolve) => setTimeout(resolve, 300));
  }
  return results;
}

/** Milliseconds from a key to a picture of the wanted size under the wanted photo. In the page. */
async function step({
  key,
  wanted,
  same = key === ' ',
}: {
  key: string;
  wanted: string[];
  same?: boolean;
}): Promise<number> {
  const before = new URLSearchParams(location.search).get('photo');
  const started = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  for (;;) {
    await new Promise(requestAnimationFrame);
    const stage = document.querySelector<HTMLElement>('[data-photo-shown]');
    if (
      stage &&
      (same || stage.dataset.photoShown !== before) &&
      stage.dataset.photoShown !== '' &&
      wanted.includes(stage.dataset.size ?? '')
    )
      return performance.now() - started;
    if (performance.now() - started > 10_000) return Infinity;
  }
}

/** Decoding and drawing a file by itself: the reference for whatever shows it. In the page. */
async function decode(url: string): Promise<number> {
  const file = await (await fetch(url)).blob();
  const started = performance.now();
  const bitmap = await createImageBitmap(file);
  const canvas = new OffscreenCanvas(1200, 800);
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0, 1200, 800);
  bitmap.close();
  return performance.now() - started;
}

const median = (values: number[]): number => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;
const ms = (value: number): string => `${value.toFixed(value < 10 ? 1 : 0)} ms`;

/** Resident memory of all processes of this browser, in MB. */
const residentMb = (profile: string): number =>
  execFileSync(
    'sh',
    ['-c', `for p in $(pgrep -f "$0"); do cat /proc/$p/status 2>/dev/null | grep VmRSS; done`, profile],
    { encoding: 'utf8' },
  )
    .split('\n')
    .reduce((sum, line) => sum + Number(/\d+/.exec(line)?.[0] ?? 0) / 1024, 0);

async function wallFigures(page: Page): Promise<string> {
  await page.evaluate((count) => {
    const box = Object.assign(document.createElement('div'), {
      id: 'plain',
      innerHTML: Array.from(
        { length: count },
        (_, at) =>
          `<div style="position:absolute;left:${(at % 4) * 180}px;top:${Math.floor(at / 4) * 120}px;width:170px;height:110px;background:hsl(${at % 360} 30% 50%)"></div>`,
      ).join(''),
    });
    box.style.cssText = 'position:fixed;inset:0;overflow:auto;z-index:9999;background:#eee';
    document.body.append(box);
  }, 4000);
  const plain = await page.evaluate(scroll, { selector: '#plain', seconds: 5, px: 24 });
  await page.evaluate(() => document.querySelector('#plain')?.remove());
  const wall = await page.evaluate(scroll, { selector: '[aria-label="Wall"]', seconds: 10, px: 24 });
  const jumps = await page.evaluate(jump, [0.2, 0.7, 0.35, 0.9, 0.5, 0.05, 0.62, 0.81]);
  const thousandth = ({ late, frames }: Scrolled) => ((1000 * late) / frames).toFixed(0);
  return (
    `scrolling steadily at 24 px a frame: ${thousandth(wall)} of 1,000 frames over ${LATE_MS} ms (${wall.frames} frames, ${wall.blank} blank tiles seen), a plain page of coloured boxes ${thousandth(plain)} of 1,000\n` +
    `       after a jump: first full row in ${ms(median(jumps.map(({ row }) => row)))}, no blank tile in ${ms(median(jumps.map(({ all }) => all)))}, longest ${ms(Math.max(...jumps.map(({ all }) => all)))}`
  );
}

async function stepFigures(page: Page, profile: string, decoded: number): Promise<string> {
  await typeScope(page, '"Frame"');
  await until('the frames', async () => (await shownCount(page)) === FRAMES);
  await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().dblclick();
  await page.locator('[data-size=screen]').waitFor();
  await page.waitForTimeout(4000);
  const ahead: number[] = [];
  for (let at = 0; at < 8; at++) {
    ahead.push(await page.evaluate(step, { key: 'd', wanted: ['screen', 'full'] }));
    await page.waitForTimeout(2500);
  }
  const cold: number[] = [];
  const coldSharp: number[] = [];
  for (let at = 0; at < 4; at++) {
    await page.keyboard.press('Escape');
    await page.getByRole('group', { name: 'Wall' }).waitFor();
    const tile = page
      .getByRole('group', { name: 'Wall' })
      .getByRole('button')
      .nth(at * 5);
    await tile.click();
    const pressed = page.evaluate(step, { key: 'Enter', wanted: ['preview', 'screen', 'full'] });
    const sharpened = page.evaluate(step, { key: 'Shift', wanted: ['screen', 'full'], same: true });
    cold.push(await pressed);
    coldSharp.push(await sharpened);
    await page.waitForTimeout(1500);
  }
  const real: number[] = [];
  await page.mouse.move(500, 350);
  for (let at = 0; at < 4; at++) {
    real.push(await page.evaluate(step, { key: ' ', wanted: ['full'] }));
    await page.evaluate(step, { key: ' ', wanted: ['screen', 'full'] });
    await page.keyboard.press('d');
    await page.waitForTimeout(2000);
  }
  const memory = [residentMb(profile)];
  const ends = Date.now() + MINUTES * 60_000;
  let steps = 0;
  for (let way = 'd'; Date.now() < ends; steps++) {
    if (steps % (FRAMES - 1) === 0 && steps > 0) way = way === 'd' ? 'a' : 'd';
    await page.keyboard.press(way);
    await page.waitForTimeout(150);
    if (steps % 100 === 99) memory.push(residentMb(profile));
  }
  memory.push(residentMb(profile));
  const half = memory.slice(Math.floor(memory.length / 2));
  return (
    `key to next picture, 24 megapixels: decoded ahead ${ms(median(ahead))}; not ahead ${ms(median(cold))} to its preview, ${ms(median(coldSharp))} to the size of the screen, ${(median(coldSharp) / decoded).toFixed(1)} times decoding and drawing it by itself (${ms(decoded)})\n` +
    `       time to 100 %: ${ms(median(real))}, ${(median(real) / decoded).toFixed(1)} times decoding it by itself\n` +
    `       memory over ${MINUTES} min of stepping (${steps} steps): ${memory[0]?.toFixed(0)} MB at first, ${Math.min(...half).toFixed(0)} to ${Math.max(...half).toFixed(0)} MB in the second half`
  );
}

/** From the key to the sidecar in the outbox, against one write of the same database by itself. */
async function judgingFigures(page: Page): Promise<string> {
  await page.keyboard.press('Escape');
  await typeScope(page, 'city:"Town 7"');
  await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
  const figures = await page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const open = indexedDB.open('wembo');
      open.onsuccess = () => resolve(open.result);
    });
    const settled = <T>(request: IDBRequest<T>) =>
      new Promise<T>((resolve) => (request.onsuccess = () => resolve(request.result)));
    const queued: number[] = [];
    const alone: number[] = [];
    for (let at = 0; at < 12; at++) {
      const before = await settled(db.transaction('journal').objectStore('journal').count());
      const started = performance.now();
      window.dispatchEvent(new KeyboardEvent('keydown', { key: String((at % 5) + 1), bubbles: true }));
      while (
        (await settled(db.transaction('journal').objectStore('journal').count())) === before &&
        performance.now() - started < 5000
      )
        await Promise.resolve();
      queued.push(performance.now() - started);
      await new Promise((resolve) => setTimeout(resolve, 400));
      const write = performance.now();
      const transaction = db.transaction(['outbox', 'journal', 'photos'], 'readwrite');
      transaction
        .objectStore('outbox')
        .put({ id: 'bench', driveId: 'bench', task: { kind: 'manifest' }, queuedAt: 0, problem: null });
      await new Promise((resolve) => (transaction.oncomplete = resolve));
      alone.push(performance.now() - write);
      db.transaction('outbox', 'readwrite').objectStore('outbox').delete('bench');
    }
    return { queued, alone };
  });
  return `rating key to sidecar queued: ${ms(median(figures.queued))}, ${(median(figures.queued) / median(figures.alone)).toFixed(1)} times one write of that database by itself (${ms(median(figures.alone))})`;
}

export async function benchSift(work: string): Promise<void> {
  await withApplication(async () => {
    const folder = path.join(work, 'frames');
    await makeFrames(folder);
    const browser = await openBrowser({ origin: ORIGIN });
    const { page, profile } = browser;
    try {
      await openApplication(page, ORIGIN);
      await connectFolder(browser, folder, 'Frames');
      await fillCatalog(page, PHOTOS);
      const opened = performance.now();
      await page.goto(`${ORIGIN}/find`);
      await until('all photos', async () => (await shownCount(page)) === PHOTOS + FRAMES, 240_000);
      const opening = (performance.now() - opened) / 1000;
      await page.locator('[data-photo] img').first().waitFor();
      await page.waitForTimeout(4000);
      const wall = await wallFigures(page);
      await page.route('**/bench-frame.jpg', (route) =>
        route.fulfill({ path: path.join(folder, 'F_0003.jpg'), contentType: 'image/jpeg' }),
      );
      const decoded = median([
        await page.evaluate(decode, '/bench-frame.jpg'),
        await page.evaluate(decode, '/bench-frame.jpg'),
        await page.evaluate(decode, '/bench-frame.jpg'),
      ]);
      const judging = await judgingFigures(page);
      await openPlace(page, 'Find');
      const stepping = await stepFigures(page, profile, decoded);
      console.log(
        `sift   with ${PHOTOS.toLocaleString('en')} photos in the catalog, opened and indexed in ${opening.toFixed(1)} s\n       ${wall}\n       ${stepping}\n       ${judging}`,
      );
    } finally {
      await browser.close();
      removeProfile(profile);
    }
  });
}

/** The built application on a catalog of so many made-up photos and one real one, all of them shown in Find. */
export async function withFilledCatalog(
  work: string,
  count: number,
  act: (page: Page) => Promise<void>,
): Promise<void> {
  await withApplication(async () => {
    const folder = path.join(work, 'one');
    mkdirSync(folder, { recursive: true });
    put(folder, 'one.jpg', await photoBytes({ headline: 'One' }));
    const browser = await openBrowser({ origin: ORIGIN });
    const { page, profile } = browser;
    try {
      await openApplication(page, ORIGIN);
      await connectFolder(browser, folder, 'One');
      await fillCatalog(page, count);
      await page.goto(`${ORIGIN}/find`);
      await until('all photos', async () => (await shownCount(page)) === count + 1, 240_000);
      await act(page);
    } finally {
      await browser.close();
      removeProfile(profile);
    }
  });
}
