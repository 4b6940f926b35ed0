// The demo's own small writers, read back by the application's readers.

import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { readPhoto } from '@/core/metadata/reading/reading';
import { MAIN, EXIF } from '@/core/formats/tiff/exif-tags';
import { writeClip } from './clip-writer';
import { writeDng, writeScan } from './raw-writer';
import { type Entries, ascii, directory, long, ratio, short, writeExif, writeIim } from './tiff-writer';

const MAIN_TAGS: Entries = new Map([
  [MAIN.make, ascii('Brim')],
  [MAIN.model, ascii('Brim R1')],
]);
const EXIF_TAGS: Entries = new Map([
  [EXIF.dateTimeOriginal, ascii('2024:11:16 13:40:00')],
  [EXIF.iso, short(400)],
  [EXIF.fNumber, ratio([28, 10])],
]);
const JPEG = await sharp({
  create: {
    width: 400,
    height: 300,
    channels: 3,
    background: '#456',
    noise: { type: 'gaussian', mean: 120, sigma: 60 },
  },
})
  .jpeg({ quality: 80 })
  .toBuffer();
const read = (bytes: Buffer, name: string) => readPhoto(memorySource(bytes), name);

describe('directories', () => {
  it('are sorted by tag, keep short values in themselves and put long ones behind, at even places', () => {
    const bytes = directory(
      new Map([
        [0x0200, ascii('a long text')],
        [0x0100, short(7)],
        [0x0101, ascii('odd')],
      ]),
      100,
    );
    expect(bytes.readUInt16BE(0)).toBe(3);
    expect([0, 1, 2].map((at) => bytes.readUInt16BE(2 + at * 12))).toEqual([0x0100, 0x0101, 0x0200]);
    expect(bytes.readUInt16BE(2 + 8)).toBe(7);
    const at = bytes.readUInt32BE(2 + 2 * 12 + 8) - 100;
    expect(at % 2).toBe(0);
    expect(bytes.subarray(at, at + 11).toString()).toBe('a long text');
  });

  it('take as much room with any values of the same kind, so that offsets can be filled in afterwards', () => {
    const size = (value: number) =>
      directory(
        new Map([
          [1, long(value)],
          [2, ratio([value, 1])],
        ]),
        8,
      ).length;
    expect(size(0)).toBe(size(4_000_000_000));
  });
});

describe('a raw', () => {
  const [width, height] = [8, 4];
  const pixels = Uint8Array.from({ length: width * height * 3 }, (_, at) => (at * 5) % 256);
  const dng = writeDng({ width, height, pixels, preview: JPEG, uniqueModel: 'Brim R1' }, MAIN_TAGS, EXIF_TAGS);

  it('is read as a DNG with its camera, time and exposure', async () => {
    const reading = await read(dng, 'R1A2210.dng');
    expect(reading.problems).toEqual([]);
    expect(reading).toMatchObject({
      format: 'raw',
      camera: { make: 'Brim', model: 'Brim R1' },
      captured: { written: '2024-11-16T13:40:00' },
    });
  });

  it('holds the camera’s JPEG to the byte, and says where', async () => {
    const { previews } = await read(dng, 'R1A2210.dng');
    const [preview] = previews;
    expect(preview && dng.subarray(preview.offset, preview.offset + preview.length).equals(JPEG)).toBe(true);
  });

  it('its photosites are red and green, then green and blue', () => {
    const sites = dng.subarray(dng.length - width * height);
    const channel = (x: number, y: number) =>
      pixels.indexOf(sites[y * width + x]!, (y * width + x) * 3) - (y * width + x) * 3;
    expect([channel(0, 0), channel(1, 0), channel(0, 1), channel(1, 1)]).toEqual([0, 1, 1, 2]);
  });
});

describe('a scan', () => {
  it('is read as a TIFF with its size, and has a preview', async () => {
    const grey = Buffer.alloc(20 * 10, 90);
    const picture = { width: 20, height: 10, channels: 1 as const, bits: 8 as const, pixels: grey, profile: null };
    const tiff = writeScan({ ...picture, preview: { jpeg: JPEG, width: 10, height: 5 } }, MAIN_TAGS, EXIF_TAGS);
    const reading = await read(tiff, 'FHS-0001.tif');
    expect(reading).toMatchObject({ format: 'tiff', width: 20, height: 10, problems: [] });
    const [preview] = reading.previews;
    expect(preview && tiff.subarray(preview.offset, preview.offset + preview.length).equals(JPEG)).toBe(true);
    expect(tiff.subarray(tiff.length - grey.length).equals(grey)).toBe(true);
  });
});

describe('a video', () => {
  const clip = writeClip([JPEG, JPEG.subarray(0, 10_001)], {
    width: 640,
    height: 480,
    perSecond: 10,
    taken: new Date('2004-08-03T20:31:00Z'),
    maker: 'Fjell',
    model: 'Fjell C5',
  });

  it('is read as an AVI with its size and its time', async () => {
    expect(await read(clip, 'FJC_0275.AVI')).toMatchObject({ format: 'avi', width: 640, height: 480 });
    expect(clip.includes('Tue Aug 03 20:31:00 2004')).toBe(true);
  });

  it('says its own length, and its index points at each picture', () => {
    expect(clip.readUInt32LE(4)).toBe(clip.length - 8);
    const movi = clip.indexOf('movi');
    const index = clip.indexOf('idx1');
    for (const entry of [0, 1]) {
      const offset = clip.readUInt32LE(index + 8 + entry * 16 + 8);
      const length = clip.readUInt32LE(index + 8 + entry * 16 + 12);
      expect(clip.subarray(movi + offset, movi + offset + 4).toString()).toBe('00dc');
      expect(clip.readUInt32LE(movi + offset + 4)).toBe(length);
      expect(clip.readUInt16BE(movi + offset + 8)).toBe(0xffd8);
    }
  });
});

describe('blocks of old programs', () => {
  it('IIM in Latin-1 has one byte a letter, and says nothing of it; in UTF-8 it does', () => {
    const [old, later] = [writeIim([[105, 'Viðareiði']], 'latin1'), writeIim([[105, 'Viðareiði']], 'utf8')];
    expect(old.includes(Buffer.from('Viðareiði', 'latin1'))).toBe(true);
    expect(old.includes('\x1b%G')).toBe(false);
    expect(later.includes(Buffer.from('Viðareiði', 'utf8'))).toBe(true);
    expect(later.includes('\x1b%G')).toBe(true);
  });

  it('EXIF begins with its byte order, and points at its directories', () => {
    const block = writeExif(MAIN_TAGS, EXIF_TAGS, null);
    expect(block.subarray(0, 4)).toEqual(Buffer.from([0x4d, 0x4d, 0, 42]));
    expect(block.readUInt16BE(block.readUInt32BE(4))).toBe(3);
  });
});
