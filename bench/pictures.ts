// Previews of every format, through the workers of the application in Chromium, against sharp in Node on the same files
// where it reads them. Pictures of 24 megapixels; the raw, as the demo writes it.

import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { writePsd } from '../src/demo/archive/psd-writer';
import { writeDng } from '../src/demo/archive/raw-writer';
import { asJpegXl, endEncoders } from '../src/demo/archive/wide-formats';
import { openRoom } from '../tests/pictures/room';

const [WIDTH, HEIGHT] = [6000, 4000];
const ROUNDS = 5;
const PREVIEW = 640;

async function makeFiles(folder: string): Promise<string[]> {
  mkdirSync(folder);
  const raw = await sharp({
    create: {
      width: WIDTH,
      height: HEIGHT,
      channels: 3,
      background: '#678',
      noise: { type: 'gaussian', mean: 110, sigma: 14 },
    },
  })
    .raw()
    .toBuffer();
  const image = () => sharp(raw, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
  const jpeg = await image().jpeg({ quality: 90 }).toBuffer();
  const files: Record<string, Buffer> = {
    'x.jpg': jpeg,
    'cmyk.jpg': await image().toColourspace('cmyk').withIccProfile('cmyk').jpeg({ quality: 90 }).toBuffer(),
    'x.png': await image().png({ compressionLevel: 3 }).toBuffer(),
    'x.webp': await image().webp({ effort: 0 }).toBuffer(),
    'x.avif': await image().avif({ effort: 0 }).toBuffer(),
    'x.jxl': await asJpegXl(jpeg, Buffer.from('II*\0\x08\0\0\0\0\0\0\0\0\0', 'latin1')),
    'x.tif': await image().tiff({ compression: 'lzw' }).toBuffer(),
    'deep.tif': await image().toColourspace('rgb16').withIccProfile('p3').tiff({ compression: 'deflate' }).toBuffer(),
    'x.psd': writePsd(raw, WIDTH, HEIGHT, Buffer.alloc(0)),
    'x.dng': writeDng(
      { width: WIDTH, height: HEIGHT, pixels: raw, preview: null, uniqueModel: 'Norda K4' },
      new Map(),
      new Map(),
    ),
  };
  await endEncoders();
  for (const [name, bytes] of Object.entries(files)) writeFileSync(path.join(folder, name), bytes);
  try {
    execFileSync('heif-enc', ['-q', '50', '-o', path.join(folder, 'x.heic'), path.join(folder, 'x.jpg')]);
    return [...Object.keys(files), 'x.heic'];
  } catch {
    return Object.keys(files); // no encoder of it here
  }
}

const median = (values: number[]): number => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

async function bySharp(file: string): Promise<number | null> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const started = performance.now();
    try {
      await sharp(file).resize({ width: PREVIEW }).jpeg({ quality: 82 }).toBuffer();
    } catch {
      return null;
    }
    times.push(performance.now() - started);
  }
  return median(times);
}

export async function benchPictures(work: string): Promise<void> {
  const folder = path.join(work, 'pictures');
  const names = await makeFiles(folder);
  const room = await openRoom();
  try {
    for (const name of names) {
      const file = path.join(folder, name);
      const times: number[] = [];
      for (let round = 0; round < ROUNDS; round++) {
        const drawn = await room.preview(file, 'small');
        if (drawn.bytes === 0) throw new Error(`${name}: ${JSON.stringify(drawn.problem)}`);
        times.push(drawn.ms);
      }
      const [ours, theirs] = [median(times), await bySharp(file)];
      const ratio =
        theirs === null
          ? 'sharp does not read it'
          : `${(ours / theirs).toFixed(1)} times sharp’s ${theirs.toFixed(0)} ms`;
      console.log(
        `pictures  ${name.padEnd(9)} a preview in ${ours.toFixed(0)} ms (${(1000 / ours).toFixed(1)} a second by one worker), ${ratio}`,
      );
    }
  } finally {
    await room.close();
  }
}
