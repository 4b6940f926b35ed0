// Files that are cut, bent or lie about their size: each costs its own time and is told; the next one is seen.

import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { crc32 as crcOf, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeDng } from '@/demo/archive/raw-writer';
import { noise } from '../e2e/folders';
import { chart, jpegOf, pngOf, psdOf, rgbProfile, SPACES, tiffOf } from './charts';
import { type PictureRoom, openRoom } from './room';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-hostile-'));
const put = (name: string, bytes: Buffer): string => {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
};

let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

const seen = async (file: string) => (await room.open(file, { wanted: { pixels: 400 } })).state;

async function wholeFiles(): Promise<[string, Buffer][]> {
  const colours = chart(3);
  const profile = rgbProfile(SPACES[1]!);
  const pixels = await sharp(await noise(3, 600, 400))
    .raw()
    .toBuffer();
  return [
    ['cut.jpg', await jpegOf(colours, profile)],
    ['cut.png', await pngOf(colours, profile)],
    ['cut.tif', tiffOf(colours, profile, 16)],
    ['cut.psd', psdOf(colours, profile)],
    [
      'cut.webp',
      await sharp(await noise(4, 600, 400))
        .webp()
        .toBuffer(),
    ],
    [
      'cut.avif',
      await sharp(await noise(5, 600, 400))
        .avif({ effort: 0 })
        .toBuffer(),
    ],
    ['cut.dng', rawOf(pixels, 600, 400)],
  ];
}

/** A raw without a preview. */
const rawOf = (pixels: Buffer, width: number, height: number): Buffer =>
  writeDng({ width, height, pixels, preview: null, uniqueModel: 'Norda K4' }, new Map(), new Map());

describe('files that are cut', () => {
  it('at a tenth, a half and nine tenths: shown as far as they go, or refused with a reason; the whole one is seen', async () => {
    let asked = 0;
    for (const [name, bytes] of await wholeFiles()) {
      for (const share of [0.1, 0.5, 0.9]) {
        const answer = await room.open(put(name, bytes.subarray(0, Math.floor(bytes.length * share))), {
          wanted: { pixels: 400 },
        });
        asked += 1;
        if (answer.state === 'refused') expect(answer.code, `${name} ${share}`).toMatch(/^picture\//);
        else
          expect(answer.whole || answer.from !== 'original', `${name} ${share} is not passed off as whole`).toBe(false);
      }
      expect(await seen(put(`whole-${name}`, bytes)), name).toBe('opened');
    }
    expect(asked).toBe(21);
  });
});

describe('files that lie about their size', () => {
  it('a TIFF of a thousand million pixels in a hundred bytes', async () => {
    const file = tiffOf(chart(3), null, 8);
    const claimed = Buffer.from(file);
    const directory = claimed.readUInt32LE(4);
    claimed.writeUInt32LE(60_000, directory + 2 + 8);
    claimed.writeUInt32LE(60_000, directory + 2 + 12 + 8);
    const answer = await room.open(put('claims.tif', claimed), { wanted: { pixels: 400 } });
    expect(answer.ms).toBeLessThan(60_000);
    if (answer.state === 'opened') expect(answer.whole).toBe(false);
    expect(await seen(put('after.tif', file))).toBe('opened');
  });

  it('a PNG of 900 million pixels that unpack from a few kilobytes is refused or small, and the next one is seen', async () => {
    const rows = deflateSync(Buffer.alloc((30_000 * 30_001 * 1) / 8 + 30_000, 0), { level: 9 });
    const answer = await room.open(put('bomb.png', pngOfOneBit(30_000, rows)), { wanted: { pixels: 400 } });
    if (answer.state === 'opened') expect(Math.max(answer.width, answer.height)).toBe(400);
    else expect(answer.code).toMatch(/^picture\//);
    expect(await seen(put('after.png', await pngOf(chart(3), rgbProfile(SPACES[0]!))))).toBe('opened');
  });

  it('a raw whose sensor data are zeros is not shown as a black picture', async () => {
    const answer = await room.open(put('black.dng', rawOf(Buffer.alloc(600 * 400 * 3), 600, 400)));
    expect(answer.state).toBe('refused');
    expect(
      await seen(
        put(
          'light.dng',
          rawOf(
            await sharp(await noise(6, 600, 400))
              .raw()
              .toBuffer(),
            600,
            400,
          ),
        ),
      ),
    ).toBe('opened');
  });

  it('a JPEG of 12 bits says so', async () => {
    const bytes = Buffer.from(readFileSync(put('twelve.jpg', await jpegOf(chart(3), rgbProfile(SPACES[0]!)))));
    const frame = bytes.findIndex((byte, at) => byte === 0xff && bytes[at + 1] === 0xc0);
    bytes[frame + 1] = 0xc1;
    bytes[frame + 4] = 12;
    const answer = await room.open(put('twelve.jpg', bytes));
    expect(answer.state === 'refused' && answer.code).toBe('picture/twelve-bit');
  });
});

function pngOfOneBit(size: number, data: Buffer): Buffer {
  const u32 = (value: number) => {
    const bytes = Buffer.alloc(4);
    bytes.writeUInt32BE(value);
    return bytes;
  };
  const chunk = (name: string, body: Buffer) =>
    Buffer.concat([
      u32(body.length),
      Buffer.from(name, 'latin1'),
      body,
      u32(crcOf(Buffer.concat([Buffer.from(name, 'latin1'), body]))),
    ]);
  const head = Buffer.concat([u32(size), u32(size), Buffer.from([1, 0, 0, 0, 0])]);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', data),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
