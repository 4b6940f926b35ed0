// Bends files for a minute and reads them: no exception, no wait, no flood of memory. Usage: npm run fuzz [-- SECONDS
// [SEED]] A failure prints the seed and the file, and leaves the bent bytes in `.work/`.

import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { memorySource } from '../../src/core/bytes/source';
import { planEmbed } from '../../src/core/metadata/embed/embed';
import { listProperties } from '../../src/core/metadata/reading/properties';
import { readPhoto } from '../../src/core/metadata/reading/reading';
import { XMP, avi, cr3, exif, video, gif, jxl, psd, raf } from '../fixtures/made-files';
import { newDigest } from '../../tools/node-digest';

const seconds = Number(process.argv[2] ?? 60);
const seed = Number(process.argv[3] ?? Date.now() & 0xffffff);
/** No fixture is larger than some hundred kB; a reading takes a few milliseconds. */
const SLOW_MS = 3000;
const HEAP_LIMIT_BYTES = 1.5e9;

let state = seed >>> 0 || 1;
const random = (below: number): number => {
  state ^= state << 13;
  state ^= state >>> 17;
  state ^= state << 5;
  return (state >>> 0) % below;
};

async function fixtures(): Promise<[string, Uint8Array][]> {
  const image = () =>
    sharp({ create: { width: 21, height: 13, channels: 3, background: '#567' } })
      .withExif({ IFD0: { Model: 'Norda' } })
      .withXmp(XMP);
  const encoded: [string, Uint8Array][] = [
    ['x.jpg', await image().jpeg().toBuffer()],
    ['x.webp', await image().webp().toBuffer()],
    ['x.tif', await image().tiff().toBuffer()],
    ['x.png', await image().png().toBuffer()],
    ['x.avif', await image().avif({ effort: 0 }).toBuffer()],
  ];
  const made: [string, Uint8Array][] = [
    ['x.gif', gif()],
    ['x.psd', psd()],
    ['x.mov', video()],
    ['x.cr3', cr3()],
    ['x.raf', raf()],
    ['x.jxl', jxl()],
    ['x.avi', avi()],
    ['x.nef', exif()],
    ['x.xmp', Buffer.from(XMP)],
  ];
  const folder = '.reference/libimage-exiftool-perl/t/images';
  const real: [string, Uint8Array][] = existsSync(folder)
    ? readdirSync(folder).map((name) => [name, readFileSync(path.join(folder, name))])
    : [];
  return [...encoded, ...made, ...real];
}

/** Cuts, bends, repeats or writes a length that lies, one to eight times. */
function bent(whole: Uint8Array): Uint8Array {
  let bytes = Uint8Array.from(whole);
  for (let times = 1 + random(8); times > 0 && bytes.length > 4; times--) {
    const at = random(Math.min(bytes.length, random(3) === 0 ? bytes.length : 4096));
    const kind = random(6);
    if (kind === 0) bytes = bytes.slice(0, at);
    else if (kind === 1) bytes[at] = random(256);
    else if (kind === 2) bytes.set([0xff, 0xff, 0xff, 0xff].slice(0, bytes.length - at), at);
    else if (kind === 3) bytes.set([0, 0, 0, random(3)].slice(0, bytes.length - at), at);
    else if (kind === 4) bytes.copyWithin(at, random(bytes.length), random(bytes.length));
    else bytes[at] = (bytes[at] ?? 0) ^ (1 << random(8));
  }
  return bytes;
}

const files = await fixtures();
const end = performance.now() + seconds * 1000;
let tried = 0;
let slowest = 0;
while (performance.now() < end) {
  const [name, whole] = files[random(files.length)] ?? ['', new Uint8Array()];
  const bytes = bent(whole);
  const started = performance.now();
  try {
    const reading = await readPhoto(memorySource(bytes), name);
    if (!Array.isArray(reading.problems)) throw new Error('no reading');
    if (random(4) === 0) await listProperties(memorySource(bytes), name);
    if (random(4) === 0)
      await planEmbed(memorySource(bytes), name, { ...reading.fields, title: 'x', caption: 'á' }, newDigest);
    const took = performance.now() - started;
    slowest = Math.max(slowest, took);
    if (took > SLOW_MS) throw new Error(`took ${took.toFixed(0)} ms`);
    if (process.memoryUsage().heapUsed > HEAP_LIMIT_BYTES) throw new Error('used too much memory');
  } catch (error) {
    mkdirSync('.work', { recursive: true });
    const kept = path.join('.work', `fuzz-${seed}-${tried}-${name}`);
    writeFileSync(kept, bytes);
    console.error(`seed ${seed}, file ${tried} (${name}), kept as ${kept}`);
    throw error;
  }
  tried += 1;
}
console.log(
  `${tried} bent files of ${files.length} kinds read in ${seconds} s, slowest ${slowest.toFixed(0)} ms, seed ${seed}`,
);
