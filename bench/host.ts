// Folders of this machine, served by the application's own server, in Chromium: listing, reading, digests, verified
// copies and sidecars, each beside a program of the system on the same files in the same run, and beside the browser's
// own handles of the same folder; a scan that finds nothing changed, over a catalog that is filled for it; and the
// application itself with a new drive, until its first pictures.

import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { type Browser, dropFolder, openBrowser, removeProfile } from '../tests/e2e/browser';
import { chooseServed, openApplication, openPlace } from '../tests/e2e/person';
import { BENCH_KEY, ORIGIN, withApplication } from './server';

const FILES_A_FOLDER = 100;
const READ = 2000;
const COPIED = 200;
const COPIED_BYTES = 5_000_000;
const SIDECARS = 2000;
const SIDECAR_BYTES = 8192;
const ROUNDS = 3;

/** Runs in the page: what the application's own code does, by the host and by handles. */
const IN_PAGE = `
import { HostClient } from './src/storage/host/host-client';
import { HostDrive } from './src/storage/host/host-drive';
import { withHost } from './src/storage/host/host-file-tasks';
import { HandleDrive } from './src/storage/drives/handle-drive';
import { directFileTasks } from './src/storage/file-tasks/file-tasks';
import { replaceFile, bytesOf } from './src/storage/drives/safe-write';
import { newSha256 } from './src/storage/drives/sha256';
import { CatalogDatabase } from './src/storage/catalog/database';
import { scanDrive } from './src/storage/jobs/scan';
import { checkDrive } from './src/storage/jobs/checking';
import { planCopies } from './src/storage/catalog/copy-plan';
import { planRoom } from './src/storage/catalog/free-room';
import { newRestoredName, restoreBackup } from './src/storage/catalog/backup';
import { backUp } from './src/storage/jobs/backing-up';
import { driveRecord, fileRecord, photoRecord } from './tests/fixtures/records';

const tasks = withHost(directFileTasks({}, { newDigest: newSha256 }));
const wide = async (items, width, work) => {
  let at = 0;
  await Promise.all(Array.from({ length: width }, async () => { while (at < items.length) await work(items[at++]); }));
};
const timed = async (work) => { const began = performance.now(); const done = await work(); return { seconds: (performance.now() - began) / 1000, done }; };
const client = new HostClient({ origin: location.origin, token: localStorage.getItem('wembo-key'), owner: 'bench' });

globalThis.bench = {
  served: async (folder) => new HostDrive(client, (await client.ask('serve', { path: folder })).id, 'bench'),
  handles: () => new HandleDrive(globalThis.dropped, 'bench'),
  drive: (way, folder) => (way === 'host' ? bench.served(folder) : bench.handles()),
  list: (way, folder) => timed(async () => { let count = 0; for await (const _ of (await bench.drive(way, folder)).list()) count += 1; return count; }),
  entries: async (drive) => { const entries = []; for await (const entry of drive.list()) entries.push(entry); return entries; },
  open: async (drive, entry) => drive.openListed?.(entry) ?? (await drive.open(entry.path)),
  fill: async (folder) => { const db = (bench.db ??= new CatalogDatabase('bench-scan')); const entries = await bench.entries(await bench.served(folder)); const sha = (at) => at.toString(16).padStart(64, '0');
    await db.drives.put(driveRecord('bench'));
    for (let at = 0; at < entries.length; at += 5000) { const part = entries.slice(at, at + 5000);
      await db.photos.bulkPut(part.map((_, index) => photoRecord(sha(at + index), { sha256: sha(at + index) })));
      await db.files.bulkPut(part.map(({ path, sizeBytes, modifiedMs }, index) => fileRecord('bench', path, sha(at + index), { sizeBytes, modifiedMs, sha256: sha(at + index), verifiedAt: 1, measuredFrom: 'reading' }))); }
    return { seconds: 0, done: entries.length }; },
  scan: async (folder) => { const drive = await bench.served(folder); const control = { signal: new AbortController().signal, atRest: async () => {}, progress: () => {}, reporting: () => {} };
    return timed(async () => { const report = await scanDrive({ db: bench.db, fileTasks: tasks, now: Date.now, control }, 'bench', drive); return report.changed + report.added + report.missing.length + report.problems.length; }); },
  check: async (folder) => { const drive = await bench.served(folder); const db = new CatalogDatabase('bench-check-' + performance.now()); const entries = await bench.entries(drive);
    await db.drives.put(driveRecord('bench'));
    await wide(entries, drive.atOnce, async (entry) => { const { file, image } = await tasks.digest(await bench.open(drive, entry), () => {});
      await db.photos.put(photoRecord(file, { sha256: file, imageSha256: image }));
      await db.files.put(fileRecord('bench', entry.path, file, { sizeBytes: entry.sizeBytes, modifiedMs: entry.modifiedMs, sha256: file, imageSha256: image, verifiedAt: 1, measuredFrom: 'reading' })); });
    const control = { signal: new AbortController().signal, atRest: async () => {}, progress: () => {}, reporting: () => {} };
    return timed(async () => (await checkDrive({ db, fileTasks: tasks, now: Date.now, control }, 'bench', drive, false)).sound); },
  plan: async (which, count) => { const db = (bench.plans ??= new CatalogDatabase('bench-plan')); const sha = (at) => at.toString(16).padStart(64, '0');
    if ((await db.files.count()) === 0) { for (const id of ['studio', 'cellar']) await db.drives.put(driveRecord(id));
      for (let at = 0; at < count; at += 5000) { const part = Array.from({ length: 5000 }, (_, index) => at + index);
        await db.photos.bulkPut(part.map((one) => photoRecord(sha(one), { sha256: sha(one) })));
        const file = (drive, path) => (one) => fileRecord(drive, path(one), sha(one), { sha256: sha(one), verifiedAt: 1, measuredFrom: 'reading' });
        await db.files.bulkPut(part.map(file('studio', (one) => '2019/' + (one % 900) + '/' + one + '.jpg')));
        await db.files.bulkPut(part.filter((one) => one % 2 === 0).map(file('cellar', (one) => 'other/' + (one % 700) + '/' + one + '.jpg'))); } }
    if (which === 'copies') return timed(async () => { const { photos, there } = await planCopies(db, { photoIds: null, sourceIds: ['studio'], targetId: 'cellar' }); return photos + there; });
    return timed(async () => { const { leaving, staying } = await planRoom(db, { driveId: 'studio', photoIds: null, awayCounts: true, isHere: () => true, now: 2 }); return leaving.length + Object.values(staying).flat().length; }); },
  words: async (count) => { const db = (bench.kept ??= new CatalogDatabase('bench-backup')); const sha = (at) => at.toString(16).padStart(64, '0');
    await db.drives.put(driveRecord('bench'));
    for (let at = 0; at < count; at += 5000) { const part = Array.from({ length: 5000 }, (_, index) => at + index);
      await db.photos.bulkPut(part.map((one) => photoRecord(sha(one), { sha256: sha(one), fields: { headline: 'Boats at the quay ' + one, caption: 'The harbour of Gjógv at noon, ' + one + ' boats drawn up; wind from the north, the ferry late. '.repeat(2), keywords: ['boats', 'harbour', 'number ' + (one % 5000)], city: 'Gjógv', country: 'Faroe Islands', creator: ['N. K. Poulsen'], rights: 'Harbours Survey' } })));
      await db.files.bulkPut(part.map((one) => fileRecord('bench', '2019/' + (one % 900) + '/' + one + '.jpg', sha(one), { sha256: sha(one), verifiedAt: 1, measuredFrom: 'reading' }))); }
    return { seconds: 0, done: count }; },
  backUp: async (folder) => { const drive = await bench.served(folder); const control = { signal: new AbortController().signal, atRest: async () => {}, progress: () => {}, reporting: () => {} };
    return timed(async () => (await backUp({ db: bench.kept, fileTasks: tasks, now: Date.now, control }, { driveId: 'bench', drive })).rows); },
  restore: async (folder, path) => { const file = await (await (await bench.served(folder)).open(path)).blob();
    return timed(async () => (await restoreBackup(file, newRestoredName(Date.now()))).rows); },
  heads: async (way, folder) => { const drive = await bench.drive(way, folder); const entries = await bench.entries(drive); const width = drive.atOnce ?? 32;
    return timed(async () => { let bytes = 0; await wide(entries, width, async (entry) => { const file = await bench.open(drive, entry); bytes += (await bytesOf(file.slice(0, 65536))).length; }); return bytes; }); },
  read: async (way, folder) => { const drive = await bench.drive(way, folder); const entries = await bench.entries(drive); const width = drive.atOnce ?? 32;
    return timed(async () => { let read = 0; await wide(entries, width, async (entry) => { const { reading } = await tasks.read(await bench.open(drive, entry), entry.path); read += reading.width ? 1 : 0; }); return read; }); },
  digest: async (way, folder) => { const drive = await bench.drive(way, folder); const entries = await bench.entries(drive); const width = drive.atOnce ?? 32;
    return timed(async () => { const sums = new Set(); await wide(entries, width, async (entry) => sums.add((await tasks.digest(await bench.open(drive, entry), () => {})).file)); return sums.size; }); },
  copy: async (folder, target) => { const [from, to] = [await bench.served(folder), await bench.served(target)]; const entries = await bench.entries(from);
    return timed(async () => { let copied = 0; await wide(entries, from.atOnce, async (entry) => { const { path } = entry; const file = await from.open(path); const { outcome } = await tasks.copy({ drive: to, path, file, name: path, expected: null }, () => {}); copied += outcome === 'copied' ? 1 : 0; }); return copied; }); },
  sidecars: async (way, folder, count, length) => { const drive = await bench.drive(way, folder); const bytes = new Uint8Array(length).fill(32);
    return timed(async () => { await wide(Array.from({ length: count }, (_, at) => at), drive.atOnce ?? 32, (at) => replaceFile(drive, 'round-' + way + '/' + at + '.xmp', bytes, null)); return count; }); },
};`;

type Way = 'host' | 'handles';
interface Timed {
  seconds: number;
  done: number;
}
interface InPage {
  check(folder: string): Promise<Timed>;
  plan(which: 'copies' | 'room', count: number): Promise<Timed>;
  list(way: Way, folder: string): Promise<Timed>;
  words(count: number): Promise<Timed>;
  backUp(folder: string): Promise<Timed>;
  restore(folder: string, path: string): Promise<Timed>;
  heads(way: Way, folder: string): Promise<Timed>;
  read(way: Way, folder: string): Promise<Timed>;
  digest(way: Way, folder: string): Promise<Timed>;
  copy(folder: string, target: string): Promise<Timed>;
  sidecars(way: Way, folder: string, count: number, length: number): Promise<Timed>;
  fill(folder: string): Promise<Timed>;
  scan(folder: string): Promise<Timed>;
}

const middle = (seconds: number[]): number => seconds.sort((a, b) => a - b)[Math.floor(seconds.length / 2)] ?? NaN;
const rounds = async (work: (round: number) => Promise<number>): Promise<number> => {
  const seconds: number[] = [];
  for (let round = 0; round < ROUNDS; round++) seconds.push(await work(round));
  return middle(seconds);
};
const shell = async (command: string, ...args: string[]): Promise<number> => {
  const began = performance.now();
  execFileSync('sh', ['-c', command, ...args], { stdio: 'ignore' });
  return (performance.now() - began) / 1000;
};

async function makeFiles(folder: string, count: number, folders: number, bytes: (at: number) => Buffer): Promise<void> {
  for (let at = 0; at < count; at++) {
    const place = path.join(folder, `${2000 + (at % folders)}`);
    if (at < folders) mkdirSync(place, { recursive: true });
    writeFileSync(path.join(place, `B_${String(at).padStart(6, '0')}.jpg`), bytes(at));
  }
}

async function smallJpeg(): Promise<Buffer> {
  return sharp({ create: { width: 32, height: 24, channels: 3, background: '#456' } })
    .jpeg()
    .toBuffer();
}

/** The same picture, told apart by a remark behind its end. */
const numbered = (jpeg: Buffer, at: number): Buffer => Buffer.concat([jpeg, Buffer.from(`file ${at}`)]);

async function inPage(page: Page): Promise<void> {
  const bundle = await build({
    stdin: { contents: IN_PAGE, resolveDir: process.cwd(), loader: 'ts' },
    // what is evaluated from outside may do what the page's policy forbids a moment later
    banner: { js: 'globalThis.__zod_globalConfig = { jitless: true };' },
    bundle: true,
    write: false,
    format: 'iife',
    alias: { '@': './src' },
  });
  await page.evaluate(bundle.outputFiles[0]?.text ?? '');
}

const call = <K extends keyof InPage>(page: Page, name: K, ...args: Parameters<InPage[K]>): Promise<Timed> =>
  page.evaluate(
    ([which, given]) =>
      (globalThis as unknown as { bench: Record<string, (...all: unknown[]) => Promise<Timed>> }).bench[which]?.(
        ...given,
      ) as Promise<Timed>,
    [name as string, args as unknown[]] as const,
  );

/** The folder's handle, as the page gets it when it is dropped there. */
async function handleOf(browser: Browser, folder: string): Promise<void> {
  await browser.page.evaluate(() => {
    window.addEventListener(
      'drop',
      (event) => {
        event.preventDefault();
        event.stopImmediatePropagation();
        void event.dataTransfer?.items[0]?.getAsFileSystemHandle().then((handle) => {
          (globalThis as { dropped?: unknown }).dropped = handle;
        });
      },
      { capture: true, once: true },
    );
  });
  await dropFolder(browser, folder);
  await browser.page.waitForFunction(() => 'dropped' in globalThis);
}

async function withPage(work: (browser: Browser) => Promise<void>): Promise<void> {
  const browser = await openBrowser({ origin: ORIGIN });
  try {
    await openApplication(browser.page, ORIGIN, BENCH_KEY);
    await inPage(browser.page);
    await work(browser);
  } finally {
    await browser.close();
    removeProfile(browser.profile);
  }
}

const times = (other: number, ours: number): string => `${(other / ours).toFixed(1)} times`;

async function benchListing(work: string, files: number): Promise<void> {
  const folder = path.join(work, 'listed');
  const jpeg = await smallJpeg();
  await makeFiles(folder, files, Math.ceil(files / FILES_A_FOLDER), (at) => numbered(jpeg, at));
  await withPage(async (browser) => {
    const { page } = browser;
    await handleOf(browser, folder);
    const host = await rounds(async () => (await call(page, 'list', 'host', folder)).seconds);
    const handles = (await call(page, 'list', 'handles', folder)).seconds;
    const find = await rounds(() => shell(`find "$0" -type f -printf '%P %s %T@\\n'`, folder));
    console.log(
      `host   listing ${files} files: ${host.toFixed(2)} s, ${times(handles, host)} as quick as handles (${handles.toFixed(1)} s, once); find ${find.toFixed(2)} s`,
    );
    await call(page, 'fill', folder);
    const scan = await rounds(async () => {
      const { seconds, done } = await call(page, 'scan', folder);
      if (done !== 0) throw new Error(`${done} of the files were taken for changed`);
      return seconds;
    });
    console.log(
      `host   a scan that finds all ${files} files as they were: ${scan.toFixed(1)} s, ${times(scan, find)} find`,
    );
  });
  await benchFirstPictures(folder);
  rmSync(folder, { recursive: true });
}

/** A new drive of so many files, until its first pictures are in sight. */
async function benchFirstPictures(folder: string): Promise<void> {
  const browser = await openBrowser({ origin: ORIGIN });
  const { page } = browser;
  try {
    await openApplication(page, ORIGIN, BENCH_KEY);
    await chooseServed(page, folder);
    await page.getByLabel('What do you call this drive?').fill('Bench');
    const began = performance.now();
    await page.getByRole('button', { name: 'Connect and catalog' }).click();
    await openPlace(page, 'Find');
    await page.locator('[data-photo] img').first().waitFor();
    console.log(`host   a new drive: first pictures after ${((performance.now() - began) / 1000).toFixed(1)} s`);
  } finally {
    await browser.close();
    removeProfile(browser.profile);
  }
}

async function benchReading(work: string): Promise<void> {
  const folder = path.join(work, 'read');
  const jpeg = await sharp({
    create: {
      width: 1200,
      height: 800,
      channels: 3,
      background: '#456',
      noise: { type: 'gaussian', mean: 120, sigma: 40 },
    },
  })
    .withExif({ IFD0: { Make: 'Norda', Model: 'K4' } })
    .jpeg({ quality: 85 })
    .toBuffer();
  await makeFiles(folder, READ, 10, (at) => numbered(jpeg, at));
  await withPage(async (browser) => {
    const { page } = browser;
    await handleOf(browser, folder);
    for (const [name, words] of [
      ['heads', 'heads of 64 KiB'],
      ['read', 'metadata'],
    ] as const) {
      const host = await rounds(async () => (await call(page, name, 'host', folder)).seconds);
      const handles = await rounds(async () => (await call(page, name, 'handles', folder)).seconds);
      console.log(
        `host   ${words} of ${READ} files: ${(READ / host).toFixed(0)} files/s, ${times(handles, host)} as quick as handles`,
      );
    }
    const sidecars = path.join(work, 'sidecars');
    mkdirSync(sidecars);
    const written = await rounds(async () => {
      rmSync(path.join(sidecars, 'round-host'), { recursive: true, force: true });
      return (await call(page, 'sidecars', 'host', sidecars, SIDECARS, SIDECAR_BYTES)).seconds;
    });
    await page.evaluate(() => delete (globalThis as { dropped?: unknown }).dropped);
    await handleOf(browser, sidecars);
    const byHandles = (await call(page, 'sidecars', 'handles', sidecars, SIDECARS, SIDECAR_BYTES)).seconds;
    console.log(
      `host   sidecars of 8 KB, written, read back, synced and named: ${(SIDECARS / written).toFixed(0)} a second, ${times(byHandles, written)} as quick as handles, which are not synced`,
    );
  });
}

/** What a copy would do and what may go, of two drives of which one has half of the other's photos in other folders. */
async function benchPlans(work: string, files: number): Promise<void> {
  const lists = ['studio', 'cellar'].map((name, at) => {
    const list = path.join(work, `${name}.txt`);
    const all = Array.from({ length: files }, (_, one) => one).filter((one) => at === 0 || one % 2 === 0);
    const lines = all.map((one) => `${one.toString(16).padStart(64, '0')}  2019/${one % 900}/${one}.jpg`);
    writeFileSync(list, `${lines.reverse().join('\n')}\n`);
    return list;
  });
  await withPage(async ({ page }) => {
    await call(page, 'plan', 'copies', files);
    const planned = async (which: 'copies' | 'room') =>
      rounds(async () => {
        const { seconds, done } = await call(page, 'plan', which, files);
        if (done !== files) throw new Error(`${done} of ${files} were planned`);
        return seconds;
      });
    const [copies, room] = [await planned('copies'), await planned('room')];
    const joined = await rounds(() =>
      shell(
        'sort "$0" > "$0.sorted" && sort "$1" > "$1.sorted" && join -a 1 "$0.sorted" "$1.sorted" > "$0.joined"',
        ...lists,
      ),
    );
    for (const [words, seconds] of [
      ['what a copy would do', copies],
      ['what may go to free room', room],
    ] as const)
      console.log(
        `host   ${words}, ${files} photos against ${files / 2}: ${seconds.toFixed(2)} s, ${times(seconds, joined)} as long as sort and join of two lists of checksums`,
      );
  });
}

async function benchBackups(work: string, files: number): Promise<void> {
  const folder = path.join(work, 'backed-up');
  mkdirSync(folder);
  const backups = () => readdirSync(path.join(folder, '_wembo/backups')).sort();
  await withPage(async ({ page }) => {
    await call(page, 'words', files);
    const made = await rounds(async () => (await call(page, 'backUp', folder)).seconds);
    const [first = ''] = backups();
    const place = path.join(folder, '_wembo/backups', first);
    const restored = await rounds(async () => {
      const { seconds, done } = await call(page, 'restore', folder, `_wembo/backups/${first}`);
      if (done < 2 * files) throw new Error(`${done} rows were restored`);
      return seconds;
    });
    const packed = await rounds(() => shell('gunzip -c "$0" | gzip > "$1"', place, path.join(work, 'again.gz')));
    const unpacked = await rounds(() => shell('gunzip -c "$0" | sha256sum', place));
    const size = (statSync(place).size / 1e6).toFixed(1);
    console.log(
      `host   backup of ${files} photos, ${size} MB, read back: ${made.toFixed(1)} s, ${times(made, packed)} as long as gunzip and gzip`,
    );
    console.log(
      `host   restored: ${restored.toFixed(1)} s, ${times(restored, unpacked)} as long as gunzip and sha256sum`,
    );
  });
}

async function benchCopies(work: string): Promise<void> {
  const folder = path.join(work, 'copied');
  await makeFiles(folder, COPIED, 1, (at) => {
    const bytes = Buffer.alloc(COPIED_BYTES, at);
    bytes.writeUInt32BE(at, 0);
    return bytes;
  });
  const megabytes = (COPIED * COPIED_BYTES) / 1e6;
  await withPage(async ({ page }) => {
    const digest = await rounds(async () => (await call(page, 'digest', 'host', folder)).seconds);
    const sums = await rounds(() => shell('find "$0" -type f -exec sha256sum {} +', folder));
    const target = (name: string) => {
      const place = path.join(work, name);
      rmSync(place, { recursive: true, force: true });
      mkdirSync(place);
      return place;
    };
    const copy = await rounds(async () => {
      const { seconds, done } = await call(page, 'copy', folder, target('copies'));
      if (done !== COPIED) throw new Error(`${done} of ${COPIED} were copied`);
      return seconds;
    });
    const theirs = await rounds(() =>
      shell(
        'cp -rp "$0/." "$1" && sync && (cd "$0" && find . -type f -exec sha256sum {} + > "$2") && (cd "$1" && sha256sum -c --quiet "$2")',
        folder,
        target('theirs'),
        path.join(work, 'sums'),
      ),
    );
    const check = await rounds(async () => {
      const { seconds, done } = await call(page, 'check', folder);
      if (done !== COPIED) throw new Error(`${done} of ${COPIED} were found right`);
      return seconds;
    });
    console.log(
      `host   check of ${megabytes} MB: ${(megabytes / check).toFixed(0)} MB/s, ${times(sums, check)} sha256sum`,
    );
    console.log(
      `host   digests: ${(megabytes / digest).toFixed(0)} MB/s, ${times(sums, digest)} sha256sum (${(megabytes / sums).toFixed(0)} MB/s)`,
    );
    console.log(
      `host   copies, digested, synced, read back from the disk and digested again: ${(megabytes / copy).toFixed(0)} MB/s, ${times(theirs, copy)} cp, sync and twice sha256sum (${(megabytes / theirs).toFixed(0)} MB/s)`,
    );
  });
}

const PARTS = {
  plans: benchPlans,
  backups: benchBackups,
  copies: benchCopies,
  reading: benchReading,
  listing: benchListing,
};

/** @param only one of its parts @param files that are listed, cataloged and scanned */
export async function benchHost(work: string, only?: string, files = 100_000): Promise<void> {
  await withApplication(async () => {
    for (const [name, run] of Object.entries(PARTS)) if (only === undefined || only === name) await run(work, files);
  });
}
