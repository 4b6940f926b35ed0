// Each format of the demo, opened as the application opens it: what it is drawn from, how large, and whether it is the
// picture that was put in.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeDng } from '@/demo/archive/raw-writer';
import { noise } from '../e2e/folders';
import { type OpenOptions, type PictureRoom, type RoomOpened, openRoom } from './room';

let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

const demo = (name: string): string => {
  const found = execFileSync('find', ['.demo', '-name', name]).toString().trim().split('\n')[0];
  if (!found) throw new Error(`${name} is not in the demo`);
  return found;
};

async function opened(name: string, wanted: Parameters<PictureRoom['open']>[1]): Promise<RoomOpened> {
  const answer = await room.open(demo(name), wanted);
  if (answer.state !== 'opened') throw new Error(`${name}: ${answer.code} ${answer.reason}`);
  return answer;
}

/** Mean difference to a painting, of 255, at 48 × 48 pixels; brightness made equal where `levelled`. */
async function difference(seen: RoomOpened, painting: string, levelled = false): Promise<number> {
  const { data } = await sharp(painting)
    .resize(48, 48, { fit: 'fill' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const pixels = seen.pixels ?? [];
  const mean = (values: ArrayLike<number>) => Array.from(values).reduce((sum, value) => sum + value, 0) / values.length;
  const scale = levelled ? mean(data) / mean(pixels) : 1;
  return data.reduce((sum, value, at) => sum + Math.abs(value - (pixels[at] ?? 0) * scale), 0) / data.length;
}
const painted = (drive: string, name: string) => `src/demo/pictures/${drive}/${name}`;
const SMALL = { wanted: { pixels: null }, to: 48 };

describe('the formats of the demo', () => {
  it('a scan of 16 bits with a wide profile, and a flattened PSD, are the paintings they were made of', async () => {
    const scan = await opened('FHS-0011.tif', SMALL);
    const { width, height } = await sharp(painted('harbour', 'FHS-0011.jpg')).metadata();
    expect([scan.from, scan.full]).toEqual(['original', { width, height }]);
    expect(await difference(scan, painted('harbour', 'FHS-0011.jpg'))).toBeLessThan(4);
    const psd = await opened('NK2_5011.psd', SMALL);
    expect(await difference(psd, painted('harbour', 'NK2_5011.jpg'))).toBeLessThan(4);
  });

  it('a JPEG in Display P3, a JPEG XL', async () => {
    expect(await difference(await opened('ALD0221.jpg', SMALL), painted('studio', 'ALD0221.jpg'))).toBeLessThan(4);
    expect(await difference(await opened('NK4_6021.jxl', SMALL), painted('studio', 'NK4_6021.jpg'))).toBeLessThan(6);
  });

  it('a HEIC is decoded and lies upright', async () => {
    const heic = await opened('ALD0142.HEIC', SMALL);
    expect([heic.from, heic.width < heic.height]).toEqual(['original', true]);
  });

  it('a raw without a preview is developed; one with a preview of its size shows that, at once', async () => {
    const bare = await opened('R1A0060.dng', SMALL);
    expect([bare.from, bare.full]).toEqual(['developed', { width: 1200, height: 800 }]);
    expect(await difference(bare, painted('studio', 'R1A0060.jpg'), true)).toBeLessThan(16);
    expect((await opened('R1A2210.dng', SMALL)).from).toBe('embedded');
    const half = await opened('R1A0060.dng', { wanted: { pixels: 500 }, to: 48 });
    expect(Math.max(half.width, half.height)).toBeLessThanOrEqual(600);
    expect(await difference(half, painted('studio', 'R1A0060.jpg'), true)).toBeLessThan(16);
  });

  it('a raw whose preview is smaller than the screen shows it at once, and is developed for real pixels', async () => {
    const [width, height] = [3000, 2000];
    const grain = await noise(8, width, height);
    const pixels = await sharp(grain).raw().toBuffer();
    const preview = await sharp(grain).resize(1200).jpeg().toBuffer();
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'wembo-raw-')), 'x.dng');
    writeFileSync(file, writeDng({ width, height, pixels, preview, uniqueModel: 'Norda K4' }, new Map(), new Map()));
    const from = async (wanted: NonNullable<OpenOptions['wanted']>) => {
      const answer = await room.open(file, { wanted });
      return answer.state === 'opened' ? [answer.from, answer.width] : answer.code;
    };
    expect(await from({ pixels: 2560, quick: true })).toEqual(['embedded', 1200]);
    expect(await from({ pixels: null })).toEqual(['developed', 3000]);
    expect((await from({ pixels: 2560 }))[0]).toBe('developed');
  });

  it('videos have a poster: by their codec, or of a frame that is a JPEG', async () => {
    const mp4 = await opened('ALD0220.MP4', SMALL);
    expect([mp4.full, mp4.format]).toEqual([{ width: 960, height: 540 }, 'video']);
    const spread = Math.max(...(mp4.pixels ?? [])) - Math.min(...(mp4.pixels ?? []).filter((_, at) => at % 4 !== 3));
    expect(spread).toBeGreaterThan(100); // not a black one
    const avi = await opened('FJC_0275.AVI', SMALL);
    expect([avi.full, avi.format]).toEqual([{ width: 640, height: 480 }, 'avi']);
  });

  it('of a hundred megapixels, a part at real pixels is that part of the picture', async () => {
    const region = { left: 6144, top: 4096, width: 2048, height: 1024 };
    const part = await opened('NK4_1330.jpg', { wanted: { pixels: null, region }, to: 48 });
    expect([part.width, part.height, part.full]).toEqual([2048, 1024, { width: 12_288, height: 8192 }]);
    const file = demo('NK4_1330.jpg');
    const { data } = await sharp(file, { limitInputPixels: false })
      .extract(region)
      .resize(48, 48, { fit: 'fill' })
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const off = data.reduce((sum, value, at) => sum + Math.abs(value - (part.pixels?.[at] ?? 0)), 0) / data.length;
    expect(off).toBeLessThan(3);
  });
});
