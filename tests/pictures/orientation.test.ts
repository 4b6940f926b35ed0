// A picture with a colour in each corner, stored in each of the eight ways EXIF 2.32 (tag 0x0112) knows, in each
// container: whole, small, and in part, it is upright.

import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type OpenOptions, type PictureRoom, openRoom } from './room';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-turns-'));
const [WIDTH, HEIGHT] = [1200, 800];

/** Red, green, blue and white, from left to right, from top to bottom. */
const CORNERS = { red: [255, 0, 0], green: [0, 255, 0], blue: [0, 0, 255], white: [255, 255, 255] } as const;

async function uprightPicture(): Promise<Buffer> {
  const pixels = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const corner = y < HEIGHT / 2 ? (x < WIDTH / 2 ? 'red' : 'green') : x < WIDTH / 2 ? 'blue' : 'white';
      CORNERS[corner].forEach((value, channel) => (pixels[(y * WIDTH + x) * 3 + channel] = value));
    }
  return pixels;
}

/** How the upright picture is turned before it is stored, so that the orientation brings it back. */
const STORED: Record<number, ((image: Sharp) => Sharp)[]> = {
  1: [],
  2: [(image) => image.flop()],
  3: [(image) => image.rotate(180)],
  4: [(image) => image.flip()],
  5: [(image) => image.rotate(90), (image) => image.flop()],
  6: [(image) => image.rotate(270)],
  7: [(image) => image.rotate(90), (image) => image.flip()],
  8: [(image) => image.rotate(90)],
};

const ENCODERS: Record<string, (image: Sharp) => Sharp> = {
  jpg: (image) => image.jpeg({ quality: 95, chromaSubsampling: '4:4:4' }),
  png: (image) => image.png(),
  webp: (image) => image.webp({ lossless: true }),
  tif: (image) => image.tiff({ compression: 'lzw' }),
};

let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

async function stored(orientation: number, ending: string): Promise<string> {
  // one step after the other: what is asked for together is done in an order of its own
  let lying = await sharp(await uprightPicture(), { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
    .png()
    .toBuffer();
  for (const step of STORED[orientation] ?? []) lying = await step(sharp(lying)).png().toBuffer();
  const file = path.join(folder, `${orientation}.${ending}`);
  writeFileSync(file, await ENCODERS[ending]!(sharp(lying)).withMetadata({ orientation }).toBuffer());
  return file;
}

/** The names of the colours in the four corners. */
async function corners(file: string, wanted: OpenOptions['wanted'], width: number, height: number): Promise<string[]> {
  const spots: [number, number][] = [
    [0.25, 0.25],
    [0.75, 0.25],
    [0.25, 0.75],
    [0.75, 0.75],
  ].map(([x = 0, y = 0]) => [Math.floor(width * x), Math.floor(height * y)]);
  const opened = await room.open(file, { wanted: wanted ?? { pixels: null }, spots });
  if (opened.state !== 'opened') throw new Error(`${file}: ${opened.code}`);
  expect([opened.width, opened.height], file).toEqual([width, height]);
  return [0, 1, 2, 3].map((index) => {
    const colour = (opened.pixels ?? []).slice(index * 4, index * 4 + 3);
    const found = Object.entries(CORNERS).find(([, values]) =>
      values.every((value, channel) => Math.abs(value - (colour[channel] ?? -99)) < 40),
    );
    return found?.[0] ?? colour.join();
  });
}

describe.each(Object.keys(ENCODERS))('a picture that lies in a %s', (ending) => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('orientation %i: upright whole, small, and in part', async (orientation) => {
    const file = await stored(orientation, ending);
    const upright = ['red', 'green', 'blue', 'white'];
    expect(await corners(file, { pixels: null }, WIDTH, HEIGHT)).toEqual(upright);
    expect(await corners(file, { pixels: 300 }, 300, 200)).toEqual(upright);
    const region = { left: WIDTH / 4, top: HEIGHT / 4, width: WIDTH / 2, height: HEIGHT / 2 };
    expect(await corners(file, { pixels: null, region }, WIDTH / 2, HEIGHT / 2)).toEqual(upright);
    // the lower right quarter only
    const quarter = { left: WIDTH / 2, top: HEIGHT / 2, width: WIDTH / 2, height: HEIGHT / 2 };
    const white = await corners(file, { pixels: null, region: quarter }, WIDTH / 2, HEIGHT / 2);
    expect(white).toEqual(['white', 'white', 'white', 'white']);
  });
});
