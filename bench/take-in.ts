// Taking in, by the built application in Chromium: files of 5 MB from one folder on the disk to two others, each copy
// proven, against `cp` twice and `sha256sum` of all three in the same run; the same between practice drives, by the
// same code in two workers; what the browser's lookup of written files costs; and how long the page keeps a frame
// waiting meanwhile.

import { spawnSync } from 'node:child_process';
import { createServer } from 'node:http';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';
import sharp from 'sharp';
import { ascii, ratio, short, withBlocks, writeExif } from '../src/demo/archive/tiff-writer';
import { ORIGIN, withApplication } from './server';
import { type Browser, dropFolder, openBrowser, removeProfile } from '../tests/e2e/browser';
import { choose, connectFolder, openApplication, openPlace } from '../tests/e2e/person';

const FILES = 200;
const FILES_WITH_LOOKUP = 40;
const BYTES = 5_000_000;

/**
 * Photos of 5 MB: a small picture with EXIF, with bytes in its scan that no two of them share, so that all of it counts
 * as picture.
 */
async function makeCard(folder: string, count: number): Promise<void> {
  mkdirSync(path.join(folder, 'DCIM/100BENCH'), { recursive: true });
  const pixels = await sharp({
    create: {
      width: 900,
      height: 600,
      channels: 3,
      background: '#456',
      noise: { type: 'gaussian', mean: 120, sigma: 40 },
    },
  })
    .jpeg({ quality: 85 })
    .toBuffer();
  for (let index = 0; index < count; index++) {
    const at = `2026:08:30 ${String(8 + Math.floor(index / 60)).padStart(2, '0')}:${String(index % 60).padStart(2, '0')}:00`;
    const exif = writeExif(
      new Map([
        [0x010f, ascii('Norda')],
        [0x0110, ascii('Norda K4')],
        [0x0112, short(1)],
      ]),
      new Map([
        [0x829a, ratio([1, 250])],
        [0x9003, ascii(at)],
      ]),
      null,
    );
    const jpeg = withBlocks(pixels, { exif });
    const filler = Buffer.alloc(BYTES - jpeg.length, index % 250); // no 0xff, which would be a marker
    filler.writeUInt32BE(index, 0);
    writeFileSync(
      path.join(folder, `DCIM/100BENCH/B_${String(index).padStart(4, '0')}.jpg`),
      Buffer.concat([jpeg.subarray(0, -2), filler, jpeg.subarray(-2)]),
    );
  }
}

interface Taken {
  seconds: number;
  /** Milliseconds between frames of the page meanwhile. */
  frames: { p50: number; p95: number; longest: number };
}

async function takeInOnDisk(work: string, count: number, { lookup = false, frames = false }): Promise<Taken> {
  const [card, studio, vault] = ['card', 'studio', 'vault'].map((name) => path.join(work, `${name}-${count}`)) as [
    string,
    string,
    string,
  ];
  await makeCard(card, count);
  for (const drive of [studio, vault]) mkdirSync(drive, { recursive: true });
  const browser = await openBrowser({ origin: ORIGIN, lookup });
  try {
    await openApplication(browser.page, ORIGIN);
    await connectFolder(browser, studio, 'Studio');
    await connectFolder(browser, vault, 'Vault');
    await openPlace(browser.page, 'Take in');
    await dropFolder(browser, card);
    await browser.page.getByText('None is in the catalog').waitFor({ timeout: 120_000 });
    await choose(browser.page, 'Drive', 'Studio', 0);
    await choose(browser.page, 'Drive', 'Vault', 1);
    return await timed(browser, count, frames);
  } finally {
    await browser.close();
    removeProfile(browser.profile);
    for (const folder of [card, studio, vault]) rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * Watching the frames makes the page draw sixty times a second, which takes a good part of a core here: so it is done
 * in a run of its own.
 */
async function timed({ page }: Browser, count: number, frames: boolean): Promise<Taken> {
  await page.evaluate((watch) => {
    const waits: number[] = [];
    let last = performance.now();
    const tick = (now: number) => {
      waits.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    if (watch) requestAnimationFrame(tick);
    Object.assign(window, { waits });
  }, frames);
  const outcome = page.getByRole('complementary', { name: 'Outcome' });
  const started = performance.now();
  await outcome.getByRole('button', { name: `Take in ${count} photos` }).click();
  await outcome.getByText(`${count} on Studio · ${count} on Vault · all checksums equal`).waitFor({ timeout: 600_000 });
  const seconds = (performance.now() - started) / 1000;
  const waits = (await page.evaluate(() => (window as unknown as { waits: number[] }).waits)).sort((a, b) => a - b);
  const at = (share: number) => waits[Math.floor(share * (waits.length - 1))] ?? NaN;
  return { seconds, frames: { p50: at(0.5), p95: at(0.95), longest: at(1) } };
}

/** `cp` twice, `sha256sum` of the source and of both copies, held against each other. */
async function byTools(work: string): Promise<number> {
  const [card, one, two] = ['card', 'one', 'two'].map((name) => path.join(work, `tools-${name}`)) as [
    string,
    string,
    string,
  ];
  await makeCard(card, FILES);
  for (const folder of [one, two]) mkdirSync(folder, { recursive: true });
  const script = `cp -r "$0"/DCIM "$1"/ && cp -r "$0"/DCIM "$2"/ && (cd "$0" && find DCIM -type f -exec sha256sum {} +) > "$3" && (cd "$1" && sha256sum -c --quiet "$3") && (cd "$2" && sha256sum -c --quiet "$3")`;
  const started = performance.now();
  const { status } = spawnSync('sh', ['-c', script, card, one, two, path.join(work, 'sums')]);
  if (status !== 0) throw new Error('the tools did not copy');
  const seconds = (performance.now() - started) / 1000;
  for (const folder of [card, one, two]) rmSync(folder, { recursive: true, force: true });
  return seconds;
}

const WORKER = `
import { HandleDrive } from './src/storage/drives/handle-drive';
import { directHands } from './src/storage/jobs/hands';
const hands = directHands();
self.onmessage = async ({ data: { card, one, two, names } }) => {
  let placed = 0;
  for (const name of names) {
    const handle = await card.getFileHandle(name);
    const taken = await hands.takeIn({ file: await handle.getFile(), name, isPhoto: true, targets: [one, two].map((root) => ({ drive: new HandleDrive(root, 'bench'), path: 'in/' + name })) }, () => undefined);
    placed += taken.placed.filter(({ state }) => state === 'placed').length;
  }
  self.postMessage(placed);
};`;

const PAGE = `<!doctype html><script>
window.run = async (count, bytes) => {
  const root = await navigator.storage.getDirectory();
  const folder = (name) => root.getDirectoryHandle(name, { create: true });
  const [card, one, two] = [await folder('card'), await folder('one'), await folder('two')];
  const names = [];
  for (let index = 0; index < count; index++) {
    const name = 'B_' + index + '.jpg';
    const handle = await card.getFileHandle(name, { create: true });
    const stream = await handle.createWritable();
    const content = new Uint8Array(bytes).fill(index);
    content.set([0xff, 0xd8, 0xff, 0xd9]);
    await stream.write(content);
    await stream.close();
    names.push(name);
  }
  const started = performance.now();
  const placed = await Promise.all([0, 1].map((worker) => new Promise((resolve, reject) => {
    const at = new Worker('/worker.js');
    at.onmessage = ({ data }) => resolve(data);
    at.onerror = (event) => reject(new Error(event.message));
    at.postMessage({ card, one, two, names: names.filter((_, index) => index % 2 === worker) });
  })));
  return { seconds: (performance.now() - started) / 1000, placed: placed[0] + placed[1] };
};</script>`;

/** The same code on practice drives, in two workers. */
async function onPracticeDrives(): Promise<number> {
  const bundle = await build({
    stdin: { contents: WORKER, resolveDir: process.cwd(), loader: 'ts' },
    alias: { '@': './src' },
    bundle: true,
    write: false,
    format: 'iife',
    minify: true,
  });
  const script = bundle.outputFiles[0]?.text ?? '';
  const server = createServer((request, response) => {
    response.setHeader('content-type', request.url === '/worker.js' ? 'text/javascript' : 'text/html');
    response.end(request.url === '/worker.js' ? script : PAGE);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const origin = `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`;
  const browser = await openBrowser({ origin });
  try {
    await browser.page.goto(origin);
    const result = await browser.page.evaluate(
      ([count, bytes]) =>
        (
          window as unknown as { run: (count: number, bytes: number) => Promise<{ seconds: number; placed: number }> }
        ).run(count, bytes),
      [FILES, BYTES] as const,
    );
    if (result.placed !== 2 * FILES) throw new Error(`${result.placed} of ${2 * FILES} copies were placed`);
    return result.seconds;
  } finally {
    await browser.close();
    removeProfile(browser.profile);
    server.close();
  }
}

export async function benchTakeIn(work: string): Promise<void> {
  await withApplication(async () => {
    const theirs = await byTools(work);
    const ours = await takeInOnDisk(work, FILES, {});
    const withLookup = await takeInOnDisk(work, FILES_WITH_LOOKUP, { lookup: true });
    const watched = await takeInOnDisk(work, FILES_WITH_LOOKUP, { frames: true });
    const practice = await onPracticeDrives();
    const speed = (seconds: number, files = FILES) => `${((files * BYTES) / 1e6 / seconds).toFixed(0)} MB/s`;
    const { p50, p95, longest } = watched.frames;
    console.log(
      `take-in ${speed(ours.seconds)} from a folder on the disk to two others, proven, described, cataloged; ${(theirs / ours.seconds).toFixed(2)} times cp twice + sha256sum three times (${speed(theirs)}); ${FILES} files of ${BYTES / 1e6} MB\n` +
        `        with the browser's lookup of written files on, and no network: ${speed(withLookup.seconds, FILES_WITH_LOOKUP)} (${FILES_WITH_LOOKUP} files)\n` +
        `        between practice drives, the same code in two workers: ${speed(practice)}, ratio ${(theirs / practice).toFixed(2)}\n` +
        `        frames of the page meanwhile, in a run of ${FILES_WITH_LOOKUP} files at ${speed(watched.seconds, FILES_WITH_LOOKUP)}: median ${p50.toFixed(0)} ms, 95 % within ${p95.toFixed(0)} ms, longest ${longest.toFixed(0)} ms`,
    );
  });
}
