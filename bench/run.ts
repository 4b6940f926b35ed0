// Speed as ratios against named references in the same run. Usage: npm run bench, or of these by name (npm run bench --
// read):
//
//   read      metadata of 2,000 JPEGs with EXIF, XMP and IIM: every field and all technical data, in one Node thread,
// against
//             ExifTool's fast mode in one process, exiv2 in one process, and exifr, the quickest general JavaScript
// reader
//             known to us, reading all families; all from the same files. Then in the browser's workers.
//   sidecar   writing sidecars with twenty fields, in memory, against JSON.stringify of the same fields
//   copy      copying with SHA-256 while reading, part file, read back and digested again, against `cp` and `sha256sum`
//             of source and target, over the same files
//   sift      the wall, stepping and judging with 100,000 photos in the catalog and 24-megapixel frames (bench/sift.ts)
//   find      the index of 100,000 (or as many as a number says) photos: building, opening, four queries
// (bench/find.ts)
//   safekeep  drives against years, and what is lost with a drive, over 100,000 photos (bench/safekeep.ts), against SQLite
//   locate    photos matched to tracks, 100,000 positions on a map, names for places (bench/locate.ts)
//   describe  words, kits and merges with 100,000 photos (bench/describe.ts)
//   pictures  previews of every format, 24 megapixels each (bench/pictures.ts), against sharp in Node
//   send-out  100 photos of 24 megapixels sent as JPEGs, a contact sheet of 500 (bench/send-out.ts), against sharp in Node
//   host      folders served by the application's server (bench/host.ts), against find, sha256sum, cp and the browser's
//             own handles
//   take-in   the whole of it in the built application (bench/take-in.ts), against `cp` twice and `sha256sum` three
// times
//
// Times are medians of three rounds; the machine's noise is in both sides of a ratio.

import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import exifr from 'exifr';
import type { FieldValues } from '../src/core/fields/registry';
import { HEAD_BYTES, readPhoto } from '../src/core/metadata/reading/reading';
import { planSidecar } from '../src/core/metadata/xmp/sidecar';
import { ascii, ratio, short, withBlocks, writeExif, writeIim } from '../src/demo/archive/tiff-writer';
import { HandleDrive } from '../src/storage/drives/handle-drive';
import { copyVerified } from '../src/storage/file-tasks/verified-copy';
import { newSha256 } from '../src/storage/drives/sha256';
import { nodeFolder } from '../tests/contract/node-handles';
import { fileSource } from '../tools/node-source';
import { benchInBrowser } from './browser';
import { benchDescribe } from './describe';
import { benchFind, benchFindInBrowser } from './find';
import { benchHost } from './host';
import { benchLocate } from './locate';
import { benchPictures } from './pictures';
import { benchSafekeep } from './safekeep';
import { benchSendOut } from './send-out';
import { benchSift } from './sift';
import { benchTakeIn } from './take-in';

const FILES = 2000;
const COPY_FILES = 40;
const COPY_BYTES = 5_000_000;
const ROUNDS = 3;

const work = mkdtempSync(path.join(tmpdir(), 'wembo-bench-'));

async function median(run: () => Promise<void> | void, rounds = ROUNDS): Promise<number> {
  const seconds: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    await run();
    seconds.push((performance.now() - start) / 1000);
  }
  return seconds.sort((a, b) => a - b)[Math.floor(rounds / 2)] ?? NaN;
}

/** JPEGs as an agency leaves them: camera data, a described XMP packet, IIM, and pixels behind. */
async function makeJpegs(folder: string): Promise<string[]> {
  mkdirSync(folder);
  const pixels = await sharp({
    create: {
      width: 1200,
      height: 800,
      channels: 3,
      background: '#456',
      noise: { type: 'gaussian', mean: 120, sigma: 40 },
    },
  })
    .jpeg({ quality: 85 })
    .toBuffer();
  return Array.from({ length: FILES }, (_, index) => {
    const fields = fieldsOf(index);
    const exif = writeExif(
      new Map([
        [0x010e, ascii(String(fields.caption))],
        [0x010f, ascii('Norda')],
        [0x0110, ascii('Norda K4')],
        [0x0112, short(1)],
        [0x013b, ascii('Mia Holt')],
        [0x8298, ascii(String(fields.copyrightNotice))],
      ]),
      new Map([
        [0x829a, ratio([1, 250])],
        [0x829d, ratio([8, 1])],
        [0x8827, short(200)],
        [0x9003, ascii('2020:01:01 10:00:00')],
        [0x9011, ascii('+00:00')],
        [0x920a, ratio([35, 1])],
        [0xa434, ascii('Norda 35mm f/2')],
      ]),
      new Map([
        [1, ascii('N')],
        [2, ratio([62, 1], [13, 1], [36, 1])],
        [3, ascii('W')],
        [4, ratio([6, 1], [35, 1], [20, 1])],
      ]),
    );
    const plan = planSidecar({ existing: null, fields, embedded: {}, ending: 'jpg' });
    if (!('bytes' in plan)) throw new Error('must be planned');
    const photoshop = writeIim(
      [
        [5, String(fields.title)],
        [25, 'boat'],
        [25, 'slip'],
        [25, 'Klaksvík'],
        [80, 'Mia Holt'],
        [90, 'Klaksvík'],
        [101, 'Faroe Islands'],
        [105, String(fields.headline)],
        [116, String(fields.copyrightNotice)],
        [120, String(fields.caption)],
      ],
      'utf8',
    );
    const file = path.join(folder, `p${index}.jpg`);
    writeFileSync(file, withBlocks(pixels, { exif, xmp: Buffer.from(plan.bytes), photoshop }));
    return file;
  });
}

const fieldsOf = (index: number): FieldValues => ({
  rating: 3,
  label: 'exhibition',
  title: `Photo ${index}`,
  headline: `Launching number ${index}`,
  caption: `Shipwrights ease the cradle at the old slip in Klaksvík, frame ${index}.`,
  captionWriter: 'MH',
  keywords: ['boat', 'slip', 'Klaksvík', 'refit', 'shipwright'],
  creator: ['Mia Holt'],
  creatorTitle: 'staff photographer',
  contact: { city: 'Tórshavn', country: 'Faroe Islands', email: 'mia@survey.example' },
  copyrightNotice: '© 2020 Faroe Harbours Survey',
  credit: 'Mia Holt / Faroe Harbours Survey',
  source: 'Faroe Harbours Survey',
  city: 'Klaksvík',
  province: 'Norðoyar',
  country: 'Faroe Islands',
  countryCode: 'FO',
  sublocation: 'the old slip',
  captured: '2020-01-01T10:00:00+00:00',
  usageTerms: 'Editorial use only.',
});

async function benchRead(): Promise<void> {
  const files = await makeJpegs(path.join(work, 'read'));
  let read = 0;
  const ours = await median(async () => {
    for (const file of files) {
      const source = fileSource(file);
      const reading = await readPhoto(source, file);
      if (reading.fields.headline && reading.fields.position) read += 1;
      source.close();
    }
  });
  if (read !== ROUNDS * FILES) throw new Error('not every file was read');
  const list = path.join(work, 'files.txt');
  writeFileSync(list, files.join('\n'));
  const byExiftool = await median(
    () => void execFileSync('exiftool', ['-fast2', '-json', '-q', '-@', list], { maxBuffer: 1 << 28 }),
    1,
  );
  const byExiv2 = await median(() => void execFileSync('exiv2', ['-q', '-PEIXkt', ...files], { maxBuffer: 1 << 28 }));
  const byExifr = await median(async () => {
    for (const file of files) {
      const source = fileSource(file);
      await exifr.parse(Buffer.from(await source.read(0, HEAD_BYTES)), {
        tiff: true,
        exif: true,
        gps: true,
        ifd1: true,
        xmp: true,
        iptc: true,
        icc: true,
        jfif: true,
      });
      source.close();
    }
  });
  const inBrowser = await benchInBrowser(files, HEAD_BYTES);
  const line = (what: string, seconds: number) =>
    `${(FILES / seconds).toFixed(0)} files/s (${what}), ratio ${(seconds / ours).toFixed(2)}`;
  console.log(
    `read    ${(FILES / ours).toFixed(0)} files/s in one Node thread; ${FILES} JPEGs of ${(statSync(files[0] ?? '').size / 1000).toFixed(0)} kB\n        against ${line('ExifTool -fast2 in one process', byExiftool)}\n        against ${line('exiv2', byExiv2)}\n        against ${line('exifr, all families', byExifr)}\n        in ${inBrowser.workers} workers of the browser ${(FILES / inBrowser.seconds).toFixed(0)} files/s, ratio ${(inBrowser.onlyBytesSeconds / inBrowser.seconds).toFixed(2)} to only fetching the head of each file there (${(FILES / inBrowser.onlyBytesSeconds).toFixed(0)} files/s)`,
  );
}

async function benchSidecar(): Promise<void> {
  const written = await median(() => {
    for (let index = 0; index < FILES; index++)
      if (!('bytes' in planSidecar({ existing: null, fields: fieldsOf(index), embedded: {}, ending: 'jpg' })))
        throw new Error('must be planned');
  });
  const existing = Array.from({ length: FILES }, (_, index) =>
    planSidecar({ existing: null, fields: fieldsOf(index), embedded: {}, ending: 'jpg' }),
  );
  const changed = await median(() => {
    for (const [index, plan] of existing.entries())
      if ('bytes' in plan)
        planSidecar({
          existing: plan.bytes,
          fields: { ...fieldsOf(index), city: 'Gjógv' },
          embedded: {},
          ending: 'jpg',
        });
  });
  const plain = await median(() => {
    for (let index = 0; index < FILES; index++) JSON.stringify(fieldsOf(index));
  });
  console.log(
    `sidecar ${(FILES / written).toFixed(0)} new and ${(FILES / changed).toFixed(0)} changed a second; a new one costs ${(written / plain).toFixed(0)} times JSON.stringify of its fields`,
  );
}

async function benchCopy(): Promise<void> {
  const from = path.join(work, 'from');
  mkdirSync(from);
  const bytes = Buffer.alloc(COPY_BYTES);
  for (let index = 0; index < COPY_FILES; index++) {
    bytes.writeUInt32BE(index, 0);
    writeFileSync(path.join(from, `p${index}.bin`), bytes);
  }
  const names = readdirSync(from);
  const fresh = (name: string) => {
    const folder = path.join(work, name);
    rmSync(folder, { recursive: true, force: true });
    mkdirSync(folder);
    return folder;
  };
  const ours = await median(async () => {
    const drive = new HandleDrive(nodeFolder(fresh('ours')), 'bench');
    for (const name of names)
      await copyVerified(new Blob([readFileSync(path.join(from, name))]), name, [{ drive, path: name }], {
        newDigest: newSha256,
        onBytes: () => undefined,
      });
  });
  const theirs = await median(() => {
    const to = fresh('theirs');
    execFileSync('sh', [
      '-c',
      `cp "$0"/* "$1"/ && (cd "$0" && sha256sum -- *) > "$2" && (cd "$1" && sha256sum -c --quiet "$2")`,
      from,
      to,
      path.join(work, 'sums'),
    ]);
  });
  const megabytes = (COPY_FILES * COPY_BYTES) / 1e6;
  console.log(
    `copy   ${(megabytes / ours).toFixed(0)} MB/s proven, ${(theirs / ours).toFixed(2)} times cp + sha256sum of both sides (${(megabytes / theirs).toFixed(0)} MB/s); ${COPY_FILES} files of ${COPY_BYTES / 1e6} MB`,
  );
}

/** With another number of photos only in Node. */
async function findBoth(photos: number): Promise<void> {
  await benchFind(photos);
  if (photos === 100_000) await benchFindInBrowser(work);
}

const chosen = process.argv[2];
const parts: Record<string, () => unknown> = {
  read: benchRead,
  sidecar: benchSidecar,
  copy: benchCopy,
  sift: () => benchSift(work),
  describe: () => benchDescribe(work),
  locate: () => benchLocate(work),
  safekeep: benchSafekeep,
  find: () => findBoth(Number(process.argv[3] ?? 100_000)),
  pictures: () => benchPictures(work),
  'send-out': () => benchSendOut(work),
  host: () => benchHost(work, process.argv[3], Number(process.argv[4] ?? 100_000)),
  'take-in': () => benchTakeIn(work),
};
try {
  for (const [name, run] of Object.entries(parts)) {
    if (chosen !== undefined && chosen !== name) continue;
    try {
      await run();
    } catch (error) {
      // one that fails says so, and the rest runs
      console.error(`${name} failed: ${error instanceof Error ? error.message : String(error)}`);
      process.exitCode = 1;
    }
  }
} finally {
  rmSync(work, { recursive: true, force: true });
}
