// Speed as ratios against a named reference in the same run. Usage: npm run bench
//
//   scan   reading JPEGs with EXIF, XMP and IIM (container, fields, fingerprint; no preview) in one Node thread,
//          against ExifTool's fast mode in one process over the same files
//   copy   copying with SHA-256 while reading, part file, read back and digested again, against `cp` and `sha256sum`
//          of source and target, over the same files
//
// Times are medians of three rounds; the machine's noise is in both sides of a ratio.

import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { ByteSource } from '../src/core/bytes/source';
import { fingerprint } from '../src/core/fixity/digest';
import { readPhoto } from '../src/core/reading/reading';
import { ascii, ratio, short, withBlocks, writeExif, writeIim } from '../src/demo/archive/tiff-writer';
import { HandleDrive } from '../src/storage/drives/handle-drive';
import { copyInto } from '../src/storage/drives/safe-write';
import { newSha256, sha256 } from '../src/storage/drives/sha256';
import { nodeFolder } from '../tests/contract/node-handles';

const SCAN_FILES = 600;
const COPY_FILES = 40;
const COPY_BYTES = 5_000_000;
const ROUNDS = 3;

const work = mkdtempSync(path.join(tmpdir(), 'wembo-bench-'));

async function median(run: () => Promise<void> | void): Promise<number> {
  const seconds: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now();
    await run();
    seconds.push((performance.now() - start) / 1000);
  }
  return seconds.sort((a, b) => a - b)[Math.floor(ROUNDS / 2)] ?? NaN;
}

async function fileSource(file: string): Promise<{ source: ByteSource; close: () => Promise<void> }> {
  const handle = await open(file);
  const { size } = await handle.stat();
  const read = async (offset: number, lengthBytes: number) => {
    const { buffer, bytesRead } = await handle.read(new Uint8Array(lengthBytes), 0, lengthBytes, offset);
    return buffer.subarray(0, bytesRead);
  };
  return { source: { size, read }, close: () => handle.close() };
}

async function benchScan(): Promise<void> {
  const folder = path.join(work, 'scan');
  mkdirSync(folder);
  const pixels = await sharp({ create: { width: 1200, height: 800, channels: 3, background: '#456', noise: { type: 'gaussian', mean: 120, sigma: 40 } } }).jpeg({ quality: 85 }).toBuffer();
  for (let index = 0; index < SCAN_FILES; index++) {
    const exif = writeExif(new Map([[0x010f, ascii('Norda')], [0x0110, ascii('Norda K4')], [0x0112, short(1)]]), new Map([[0x829a, ratio([1, 250])], [0x829d, ratio([8, 1])], [0x9003, ascii('2020:01:01 10:00:00')]]), null);
    const xmp = Buffer.from(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:Headline="Photo ${index}"><dc:subject><rdf:Bag><rdf:li>boat</rdf:li><rdf:li>slip</rdf:li></rdf:Bag></dc:subject></rdf:Description></rdf:RDF></x:xmpmeta>`);
    writeFileSync(path.join(folder, `p${index}.jpg`), withBlocks(pixels, { exif, xmp, photoshop: writeIim([[105, `Photo ${index}`], [120, 'A caption'], [25, 'boat']], 'utf8') }));
  }
  const files = readdirSync(folder).map((name) => path.join(folder, name));
  let read = 0;
  const ours = await median(async () => {
    for (const file of files) {
      const { source, close } = await fileSource(file);
      const reading = await readPhoto(source, file);
      await fingerprint(source, sha256);
      if (reading.fields.headline) read += 1;
      await close();
    }
  });
  if (read !== ROUNDS * SCAN_FILES) throw new Error('not every file was read');
  const theirs = await median(() => void execFileSync('exiftool', ['-fast2', '-json', '-q', folder], { maxBuffer: 1 << 28 }));
  console.log(`scan   ${(SCAN_FILES / ours).toFixed(0)} files/s, ${(theirs / ours).toFixed(1)} times ExifTool -fast2 (${(SCAN_FILES / theirs).toFixed(0)} files/s); ${SCAN_FILES} JPEGs of ${(statSync(files[0] ?? '').size / 1000).toFixed(0)} kB`);
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
    const drive = new HandleDrive(nodeFolder(fresh('ours')));
    for (const name of names) await copyInto(drive, name, new Blob([readFileSync(path.join(from, name))]), { newDigest: newSha256, onBytes: () => undefined, expected: null });
  });
  const theirs = await median(() => {
    const to = fresh('theirs');
    execFileSync('sh', ['-c', `cp "$0"/* "$1"/ && (cd "$0" && sha256sum -- *) > "$2" && (cd "$1" && sha256sum -c --quiet "$2")`, from, to, path.join(work, 'sums')]);
  });
  const megabytes = (COPY_FILES * COPY_BYTES) / 1e6;
  console.log(`copy   ${(megabytes / ours).toFixed(0)} MB/s proven, ${(theirs / ours).toFixed(2)} times cp + sha256sum of both sides (${(megabytes / theirs).toFixed(0)} MB/s); ${COPY_FILES} files of ${COPY_BYTES / 1e6} MB`);
}

try {
  await benchScan();
  await benchCopy();
} finally {
  rmSync(work, { recursive: true, force: true });
}
