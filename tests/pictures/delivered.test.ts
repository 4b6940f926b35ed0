// What is sent out, against other programs: pixels against sharp, colours against a colour library, words and
// resolution against ExifTool.

import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MadePicture } from '@/core/send-out/delivery-profile';
import { type PictureRoom, type RoomDelivery, openRoom } from './room';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-delivered-'));
let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

const PICTURE: MadePicture = {
  kind: 'made',
  format: 'png',
  quality: 90,
  bytesLimit: null,
  size: { kind: 'full' },
  enlarge: false,
  ppi: 300,
  colour: 'srgb',
  sharpening: 'none',
};
let number = 0;

/** Sends a file and answers with what came out, in a file of this machine. */
async function sent(file: string, picture: Partial<MadePicture>, more: Partial<RoomDelivery> = {}) {
  const whole = { ...PICTURE, ...picture };
  const to = `${(number += 1)}.${{ jpeg: 'jpg', png: 'png', webp: 'webp', avif: 'avif', tiff: 'tif' }[whole.format]}`;
  const answer = await room.deliver(file, { to, picture: whole, ...more });
  if (answer.state !== 'placed') throw new Error(JSON.stringify(answer));
  const target = path.join(folder, to);
  writeFileSync(target, Buffer.from(answer.bytes, 'base64'));
  return { ...answer, file: target };
}

const kept = (name: string, bytes: Buffer): string => {
  const target = path.join(folder, name);
  writeFileSync(target, bytes);
  return target;
};

const pixelsOf = (file: string | sharp.Sharp) => (typeof file === 'string' ? sharp(file) : file).raw().toBuffer();

const meanDifference = (a: Buffer, b: Buffer): number => {
  expect(a.length).toBe(b.length);
  let sum = 0;
  for (let at = 0; at < a.length; at++) sum += Math.abs((a[at] ?? 0) - (b[at] ?? 0));
  return sum / a.length;
};

/** Fine patterns and colours, which show how it was resampled. */
const pattern = (width: number, height: number) => {
  const pixels = Buffer.alloc(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 3;
      const wave = Math.sin((x * x + y * y) / 9000);
      pixels[at] = 127 + 120 * wave;
      pixels[at + 1] = (x * 255) / width;
      pixels[at + 2] = (x + y) % 2 === 0 ? 255 : 0;
    }
  return sharp(pixels, { raw: { width, height, channels: 3 } });
};

describe('pixels', () => {
  it('are resampled in linear light as sharp does it', async () => {
    const file = kept('pattern.png', await pattern(1500, 1000).png().toBuffer());
    const size = { kind: 'long-edge', pixels: 700 } as const;
    const out = await sent(file, { size });
    expect([out.width, out.height]).toEqual([700, 467]);
    const linear = await pixelsOf(
      sharp(file)
        .pipelineColourspace('scrgb')
        .resize(700, 467, { fit: 'fill', kernel: 'lanczos3' })
        .toColourspace('srgb'),
    );
    const gamma = await pixelsOf(sharp(file).resize(700, 467, { fit: 'fill', kernel: 'lanczos3' }));
    const ours = await pixelsOf(out.file);
    console.log(meanDifference(ours, linear), meanDifference(ours, gamma));
    expect(meanDifference(ours, linear)).toBeLessThan(0.5);
    expect(meanDifference(ours, gamma)).toBeGreaterThan(5);
  });
  for (const format of ['jpeg', 'webp', 'tiff', 'avif'] as const)
    it(format, async () => {
      const file = kept('pattern.png', await pattern(1500, 1000).png().toBuffer());
      const out = await sent(
        file,
        { format, size: { kind: 'long-edge', pixels: 700 } },
        { fields: { caption: 'Á slip', keywords: ['boat'], creator: ['Mia Holt'] }, technical: true },
      );
      console.log(format, out.ms, out.sizeBytes, await sharp(out.file).metadata());
    });
});
