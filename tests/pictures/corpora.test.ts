// The test pictures of libraries that read and write these formats (source packages, fetched by the set-up), opened by
// our pipeline and held against sharp, pixel by pixel, or against the PNG their makers laid beside them: each is right,
// or refused with a reason. Those that differ for a reason are named.

import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type PictureRoom, openRoom } from './room';

const CORPORA = ['pillow', 'tiff', 'kimageformats', 'golang-golang-x-image', 'libheif'];
const folders = CORPORA.map((name) => path.join('.reference', name)).filter((folder) => existsSync(folder));

function filesIn(folder: string, ending: RegExp): string[] {
  return readdirSync(folder, { withFileTypes: true })
    .flatMap((entry) => {
      const file = path.join(folder, entry.name);
      return entry.isDirectory() ? filesIn(file, ending) : ending.test(entry.name) ? [file] : [];
    })
    .sort();
}

/** Mean difference of a channel, of 255. Decoders round differently; a wrong picture is tens away. */
const RIGHT = 3;

/** Where we differ from the reference, and why. */
const OTHERWISE: Record<string, string> = {
  '16bit.s.tif': 'signed numbers: the reference cuts off those below 0, we show the least as black',
  'hopper_unknown_pixel_mode.tif': '32 bits a channel: the reference cuts off above 255, we show the most as white',
  'video-001-16bit.tiff': 'the reference takes 16 bits without a profile for another space',
  '16bit_grayscale.psd': 'its grey profile (dot gain 20 %) is left out in the PNG beside it',
  '8bit-grayscale.psd': 'its grey profile (dot gain 20 %) is left out in the PNG beside it',
  '32bit_grayscale.psd': 'the reference leaves out the linear profile of the 16-bit PNG beside it',
  'cmyka-8bits.psd': 'the PNG beside it has inks without their profile',
  'cmyka-16bits.psd': 'the PNG beside it has inks without their profile',
  'rgba.jxl': 'only where it is transparent',
};

async function reference(file: string, width: number, height: number): Promise<Buffer | null> {
  const beside = file.replace(/\.[^.]+$/, '.png');
  for (const source of beside !== file && existsSync(beside) && !/\.tiff?$/.test(file) ? [beside, file] : [file]) {
    const image = sharp(source, { limitInputPixels: false }).rotate();
    try {
      const { depth, icc, channels = 0 } = await sharp(source).metadata();
      const deep = depth === 'ushort' && !icc && channels === 3;
      const { data, info } = deep
        ? await image
            .toColourspace('rgb16')
            .ensureAlpha()
            .raw({ depth: 'ushort' })
            .toBuffer({ resolveWithObject: true })
        : await image
            .flatten({ background: '#fff' })
            .toColourspace('srgb')
            .withIccProfile('srgb')
            .ensureAlpha()
            .raw({ depth: 'uchar' })
            .toBuffer({ resolveWithObject: true });
      if (info.width !== width || info.height !== height) continue;
      const words = new Uint16Array(data.buffer, data.byteOffset, deep ? data.length / 2 : 0);
      return deep ? Buffer.from([...words].map((value) => value >> 8)) : data;
    } catch {
      // it cannot read this one
    }
  }
  return null;
}

interface Tally {
  right: string[];
  wrong: string[];
  refused: string[];
  /** Opened, with nothing to hold it against. */
  alone: string[];
}

let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

async function tallied(files: string[]): Promise<Tally> {
  const tally: Tally = { right: [], wrong: [], refused: [], alone: [] };
  for (const file of files) {
    const name = path.basename(file);
    const opened = await room.open(file, { all: true });
    if (opened.state === 'refused') {
      expect(opened.code, file).toMatch(/^picture\//);
      tally.refused.push(name);
      continue;
    }
    const expected =
      opened.from === 'original' && opened.whole ? await reference(file, opened.width, opened.height) : null;
    if (!expected) {
      tally.alone.push(name);
      continue;
    }
    const pixels = Buffer.from(opened.bytes ?? '', 'base64');
    const difference =
      expected.reduce((sum, value, at) => sum + Math.abs(value - (pixels[at] ?? 0)), 0) / expected.length;
    (difference < RIGHT || name in OTHERWISE ? tally.right : tally.wrong).push(name);
  }
  return tally;
}

describe.runIf(folders.length === CORPORA.length)('the test pictures of libraries', () => {
  it.each([
    { format: 'TIFF', ending: /\.tiff?$/i, right: 95, refusedAtMost: 30 },
    { format: 'PSD', ending: /\.ps[db]$/i, right: 20, refusedAtMost: 6 },
    { format: 'HEIC', ending: /\.(heic|heif|hif)$/i, right: 2, refusedAtMost: 31 },
    { format: 'JPEG XL', ending: /\.jxl$/i, right: 10, refusedAtMost: 0 },
    { format: 'AVIF', ending: /\.avif$/i, right: 16, refusedAtMost: 0 },
    { format: 'JPEG', ending: /\.jpe?g$/i, right: 43, refusedAtMost: 20 },
    { format: 'WebP', ending: /\.webp$/i, right: 20, refusedAtMost: 20 },
  ])('$format: none is shown wrong', async ({ ending, right, refusedAtMost }) => {
    const tally = await tallied(folders.flatMap((folder) => filesIn(folder, ending)));
    console.log(
      `right ${tally.right.length}, opened without a reference ${tally.alone.length}, refused ${tally.refused.length}, wrong ${tally.wrong.length}`,
    );
    expect(tally.wrong).toEqual([]);
    expect(tally.right.length).toBeGreaterThanOrEqual(right);
    expect(tally.refused.length).toBeLessThanOrEqual(refusedAtMost);
  });
});
