// Containers from an outside encoder (sharp), whole and hostile: cut at every length, every byte bent. A file that lies
// costs its lie: always a reading, never an exception, never a wait.

import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { XMP, avi, cr3, video, gif, jxl, psd, raf } from '../../../../tests/fixtures/made-files';
import { memorySource } from '../../bytes/source';
import { readPhoto } from '../../metadata/reading/reading';
import { endingOf, isPhotoName, isRawName, sniffFormat } from './formats';

const files = new Map<string, Buffer>(
  Object.entries({ gif: gif(), psd: psd(), mov: video(), cr3: cr3(), raf: raf(), jxl: jxl(), avi: avi() }),
);

beforeAll(async () => {
  const image = () =>
    sharp({ create: { width: 21, height: 13, channels: 3, background: '#567' } }).withExif({
      IFD0: { Model: 'Norda' },
    });
  files.set('jpg', await image().withXmp(XMP).jpeg().toBuffer());
  files.set('webp', await image().withXmp(XMP).webp({ lossless: true }).toBuffer());
  files.set('tif', await image().withXmp(XMP).tiff().toBuffer());
  files.set('png', await image().png().toBuffer());
  files.set('avif', await image().withXmp(XMP).avif({ quality: 30, effort: 0 }).toBuffer());
});

const ENCODED = ['jpg', 'webp', 'tif', 'png', 'avif'];
const KINDS = [...ENCODED, 'gif', 'psd', 'mov', 'cr3', 'raf', 'jxl', 'avi'];
const read = (bytes: Uint8Array, kind: string) => readPhoto(memorySource(bytes), `x.${kind}`);
const fileOf = (kind: string) => files.get(kind) ?? Buffer.alloc(0);

describe.each(KINDS)('a %s', (kind) => {
  it('gives size, camera and XMP as far as it carries them', async () => {
    const reading = await read(fileOf(kind), kind);
    expect(reading.problems).toEqual([]);
    // of a raw built in boxes the size is in its EXIF; the video lies on its side
    if (kind !== 'cr3') expect([reading.width, reading.height]).toEqual(kind === 'mov' ? [13, 21] : [21, 13]);
    // the encoder leaves EXIF out of TIFF and XMP out of PNG; tests/reference has both by ExifTool
    if (!['tif', 'gif', 'mov', 'avi'].includes(kind)) expect(reading.camera.model).toMatch(/^Norda/);
    if (kind !== 'png') expect(reading.fields.city).toBe('Gjógv');
  });

  it('cut at every length ends in a reading', async () => {
    const whole = fileOf(kind);
    let tried = 0;
    for (let length = 0; length < whole.length; length += 1 + Math.floor(length / 400)) {
      expect(await read(whole.subarray(0, length), kind)).toHaveProperty('problems');
      tried += 1;
    }
    expect(tried).toBeGreaterThan(100);
  });

  it('with any byte of its head set to 0, 1, 127 or 255 ends in a reading, soon', async () => {
    const whole = fileOf(kind);
    let tried = 0;
    for (let at = 0; at < Math.min(whole.length, 700); at++) {
      for (const value of [0, 1, 127, 255]) {
        const bent = Uint8Array.from(whole);
        bent[at] = value;
        expect(await read(bent, kind)).toHaveProperty('problems');
        tried += 1;
      }
    }
    expect(tried).toBeGreaterThan(300);
  });
});

describe('what only some containers carry', () => {
  it('a video its length, its date in UTC by rule, its camera and its place', async () => {
    const { seconds, captured, camera, fields, sources } = await read(fileOf('mov'), 'mov');
    expect({ seconds, captured, make: camera.make, position: fields.position, source: sources.captured }).toEqual({
      seconds: 2.5,
      captured: { written: '2019-07-04T14:00:02', offset: 'Z' },
      make: 'Norda',
      position: '62.0107, -6.7741, 12.3 m',
      source: 'video',
    });
    expect(await read(fileOf('avi'), 'avi')).toMatchObject({
      seconds: 2,
      captured: { written: '2019-07-04T14:03:22', offset: null },
    });
  });

  it('PSD, RAF and CR3 a JPEG that can be shown, where it lies', async () => {
    for (const kind of ['psd', 'raf', 'cr3']) {
      const [preview] = (await read(fileOf(kind), kind)).previews;
      expect(preview, kind).toMatchObject({ coding: 'jpeg', width: 16, height: 12 });
      expect([...fileOf(kind).subarray(preview?.offset, (preview?.offset ?? 0) + 2)], kind).toEqual([0xff, 0xd8]);
    }
  });
});

describe('a file that claims more than it holds', () => {
  it('a TIFF directory with 65,535 entries, and a PNG chunk of 4 GB, are named and left', async () => {
    const tiff = Uint8Array.from([0x49, 0x49, 42, 0, 8, 0, 0, 0, 0xff, 0xff, 0, 0]);
    expect((await read(tiff, 'tif')).problems).toEqual([{ code: 'tiff/too-many-entries', limit: 4096 }]);
    const png = Uint8Array.from([
      0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0xff, 0xff, 0xff, 0xff, 0x69, 0x54, 0x58, 0x74,
    ]);
    expect((await read(png, 'png')).problems).toEqual([{ code: 'png/chunk-past-end', offset: 8 }]);
  });

  it('a source that says it is longer than it is gives what there is', async () => {
    const whole = files.get('jpg') ?? Buffer.alloc(0);
    const short = memorySource(whole.subarray(0, 200));
    expect(await readPhoto({ ...short, size: 1e9 }, 'x.jpg')).toHaveProperty('problems');
  });
});

describe('what a name and the first bytes say', () => {
  it.each([
    ['a.JPG', 'jpg'],
    ['.hidden', ''],
    ['a.b/c', ''],
    ['x.tar.DNG', 'dng'],
    ['no ending', ''],
  ])('the ending of %s is %j', (name, ending) => {
    expect(endingOf(name)).toBe(ending);
  });

  it('raws are told from TIFF by their name, everything else by its bytes', () => {
    const tiff = Uint8Array.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
    expect([sniffFormat(tiff, 'x.tif'), sniffFormat(tiff, 'x.DNG'), sniffFormat(tiff, 'x.jpg')]).toEqual([
      'tiff',
      'raw',
      'tiff',
    ]);
    expect(sniffFormat(files.get('jpg') ?? new Uint8Array(), 'x.png')).toBe('jpeg');
    expect([isPhotoName('x.heic'), isPhotoName('x.txt'), isRawName('x.nef'), isRawName('x.jpg')]).toEqual([
      true,
      false,
      true,
      false,
    ]);
  });
});
