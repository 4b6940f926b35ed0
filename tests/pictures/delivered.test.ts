// What is sent out, against other programs: pixels against sharp, colours against a colour library (culori; CIEDE2000 as
// CIE 142 defines it), words and resolution against ExifTool.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Color, clampRgb, converter, differenceCiede2000 } from 'culori';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FieldValues } from '@/core/fields/registry';
import type { MadePicture } from '@/core/send-out/delivery-profile';
import { type WordsPolicy, privateMarks, wordsOfPhoto } from '@/core/send-out/words-policy';
import { vocabularyOf } from '@/core/vocabulary/vocabulary';
import { SPACES, chart, jpegOf, pngOf, psdOf, rgbProfile, tiffOf } from './charts';
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
const ENDINGS = { jpeg: 'jpg', png: 'png', webp: 'webp', avif: 'avif', tiff: 'tif' } as const;
const FORMATS = Object.keys(ENDINGS) as (keyof typeof ENDINGS)[];
let number = 0;

const answerOf = (file: string, picture: Partial<MadePicture>, more: Partial<RoomDelivery> = {}) => {
  const whole = { ...PICTURE, ...picture };
  return room.deliver(file, { to: `${(number += 1)}.${ENDINGS[whole.format]}`, picture: whole, ...more });
};

/** Sends a file and answers with what came out, in a file of this machine. */
async function sent(file: string, picture: Partial<MadePicture>, more: Partial<RoomDelivery> = {}) {
  const answer = await answerOf(file, picture, more);
  if (answer.state !== 'placed') throw new Error(JSON.stringify(answer));
  const target = path.join(folder, answer.path);
  writeFileSync(target, Buffer.from(answer.bytes, 'base64'));
  return { ...answer, file: target };
}

const kept = (name: string, bytes: Buffer): string => {
  const target = path.join(folder, name);
  writeFileSync(target, bytes);
  return target;
};

const pixelsOf = (file: string | Sharp) => (typeof file === 'string' ? sharp(file) : file).raw().toBuffer();

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
      pixels[at] = 127 + 120 * Math.sin((x * x + y * y) / 9000);
      pixels[at + 1] = (x * 255) / width;
      pixels[at + 2] = (x + y) % 2 === 0 ? 255 : 0;
    }
  return sharp(pixels, { raw: { width, height, channels: 3 } });
};

type Exif = Record<string, unknown>;
const exifOf = (file: string): Exif => {
  const [first] = JSON.parse(
    execFileSync('exiftool', ['-json', '-G1', '-struct', '-n', file], { encoding: 'utf8', maxBuffer: 1e8 }),
  ) as Exif[];
  return first ?? {};
};

describe('pixels', () => {
  let file = '';
  beforeAll(async () => {
    file = kept('pattern.png', await pattern(1500, 1000).png().toBuffer());
  });
  const size = { kind: 'long-edge', pixels: 700 } as const;
  const linear = () =>
    pixelsOf(
      sharp(file)
        .pipelineColourspace('scrgb')
        .resize(700, 467, { fit: 'fill', kernel: 'lanczos3' })
        .toColourspace('srgb'),
    );

  it('are resampled in linear light as sharp does it: less than half a step of 255 apart on average', async () => {
    const out = await sent(file, { size });
    expect([out.width, out.height]).toEqual([700, 467]);
    const ours = await pixelsOf(out.file);
    expect(meanDifference(ours, await linear())).toBeLessThan(0.5);
    // and would be told apart from the same done on numbers with a gamma
    const gamma = await pixelsOf(sharp(file).resize(700, 467, { fit: 'fill', kernel: 'lanczos3' }));
    expect(meanDifference(ours, gamma)).toBeGreaterThan(5);
  });

  it.each(FORMATS)('come out as %s: the right size, upright, near the same, 300 ppi', async (format) => {
    const out = await sent(file, { format, size, quality: 95 });
    const { width, height, format: found, orientation } = await sharp(out.file).metadata();
    expect([width, height, orientation ?? 1]).toEqual([700, 467, 1]);
    expect(found).toBe(format === 'avif' ? 'heif' : format);
    const lossless = format === 'png' || format === 'tiff';
    expect(meanDifference(await pixelsOf(out.file), await linear())).toBeLessThan(lossless ? 0.5 : 6);
    if (format === 'jpeg' || format === 'webp')
      expect(exifOf(out.file)).toMatchObject({
        'IFD0:XResolution': 300,
        'IFD0:ResolutionUnit': 2,
        'ExifIFD:ColorSpace': 1,
      });
    if (format === 'tiff')
      expect(exifOf(out.file)).toMatchObject({ 'IFD0:XResolution': 300, 'IFD0:ResolutionUnit': 2 });
    if (format === 'png') expect(exifOf(out.file)).toMatchObject({ 'PNG-pHYs:PixelsPerUnitX': 11811 }); // 300 / 0.0254
  });

  it('lie upright, whichever way the original lay', async () => {
    const wide = await pattern(240, 160).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    for (let orientation = 1; orientation <= 8; orientation++) {
      const turned = kept(
        `turned-${orientation}.jpg`,
        await sharp(wide).withMetadata({ orientation }).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer(),
      );
      const out = await sent(turned, { format: 'png' });
      const upright = sharp(turned).rotate();
      expect([out.width, out.height], String(orientation)).toEqual(orientation >= 5 ? [160, 240] : [240, 160]);
      expect(meanDifference(await pixelsOf(out.file), await pixelsOf(upright)), String(orientation)).toBeLessThan(2);
    }
  });

  it('are brought under a limit of bytes, by quality first, then by size', async () => {
    const grain = Buffer.from(Array.from({ length: 900 * 600 * 3 }, () => Math.floor(Math.random() * 256)));
    const noisy = kept(
      'noisy.png',
      await sharp(grain, { raw: { width: 900, height: 600, channels: 3 } })
        .png()
        .toBuffer(),
    );
    const little = await sent(noisy, { format: 'jpeg', quality: 95, bytesLimit: 400_000 });
    expect(little.sizeBytes).toBeLessThanOrEqual(400_000);
    expect([little.width, (little.quality ?? 0) < 95]).toEqual([900, true]);
    const less = await sent(noisy, { format: 'jpeg', quality: 95, bytesLimit: 30_000 });
    expect(less.sizeBytes).toBeLessThanOrEqual(30_000);
    expect(less.width).toBeLessThan(900);
    const plain = await sent(file, { format: 'jpeg', quality: 95, bytesLimit: 10_000_000 });
    expect(plain.quality).toBe(95);
  });

  it('are sharpened on request: edges steepen, flat parts stay', async () => {
    const edge = Buffer.alloc(400 * 200 * 3, 90);
    for (let at = 0; at < edge.length; at++) if (Math.floor(at / 3) % 400 >= 200) edge[at] = 160;
    const original = kept(
      'edge.png',
      await sharp(edge, { raw: { width: 400, height: 200, channels: 3 } })
        .blur(1.2)
        .png()
        .toBuffer(),
    );
    const row = async (sharpening: MadePicture['sharpening']) => {
      const pixels = await pixelsOf((await sent(original, { sharpening })).file);
      return Array.from({ length: 400 }, (_, x) => pixels[(100 * 400 + x) * 3] ?? 0);
    };
    const acutance = (values: number[]) =>
      values.slice(1).reduce((sum, value, at) => sum + (value - (values[at] ?? 0)) ** 2, 0);
    const [none, screen, paper] = [await row('none'), await row('screen'), await row('paper')];
    expect(acutance(screen)).toBeGreaterThan(1.1 * acutance(none));
    expect(acutance(paper)).toBeGreaterThan(1.1 * acutance(screen));
    expect([paper[10], paper[390]]).toEqual([none[10], none[390]]);
  });

  it('what is transparent stays so where the format can, and lies on white in a JPEG', async () => {
    const clear = kept(
      'clear.png',
      await sharp({ create: { width: 60, height: 40, channels: 4, background: { r: 255, g: 0, b: 0, alpha: 0.5 } } })
        .png()
        .toBuffer(),
    );
    const { data } = await sharp((await sent(clear, { format: 'webp', quality: 100 })).file)
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(data[3]).toBeGreaterThan(120);
    expect(data[3]).toBeLessThan(135);
    const onWhite = await pixelsOf((await sent(clear, { format: 'jpeg', quality: 100 })).file);
    // half of red and half of white in linear light: 0.5 + 0.5 · 0 is 188 as sRGB has it (IEC 61966-2-1)
    expect(onWhite[0]).toBeGreaterThan(250);
    expect(Math.abs((onWhite[1] ?? 0) - 188)).toBeLessThan(4);
  });

  it('large, transparent and lying on its side: what is looked at twice is held', async () => {
    const size = { width: 2400, height: 1600 };
    const half = await pattern(size.width, size.height).ensureAlpha(0.5).png().toBuffer();
    const turned = kept(
      'clear.tif',
      await sharp(half).withMetadata({ orientation: 6 }).tiff({ compression: 'lzw' }).toBuffer(),
    );
    for (const format of ['png', 'jpeg'] as const) {
      const out = await sent(turned, { format, size: { kind: 'long-edge', pixels: 1200 } });
      expect([out.width, out.height], format).toEqual([800, 1200]);
      const { channels } = await sharp(out.file).stats();
      expect(channels.length).toBe(format === 'png' ? 4 : 3);
      if (format === 'png') expect(Math.abs((channels[3]?.mean ?? 0) - 127.5)).toBeLessThan(1);
    }
  });

  it('a watermark lies where it was put, and nowhere else', async () => {
    const black = kept(
      'black.png',
      await sharp({ create: { width: 300, height: 200, channels: 3, background: '#000' } })
        .png()
        .toBuffer(),
    );
    const out = await sent(black, {}, { overlay: { width: 40, height: 20, left: 250, top: 170 } });
    const pixels = await pixelsOf(out.file);
    const at = (x: number, y: number) => pixels[(y * 300 + x) * 3];
    expect([at(255, 175), at(289, 189), at(249, 175), at(255, 169), at(291, 191)]).toEqual([255, 255, 0, 0, 0]);
  });
});

describe('colours', () => {
  const colours = chart(3);
  const distance = differenceCiede2000();
  const toRgb = converter('rgb');
  const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  /** Read by the browser: sharp leaves out the profile of 16 bits (measured, see decision 14). */
  const away = async (file: string, meant: (numbers: number[]) => Color) => {
    const seen = await room.open(file, { spots: colours.patches.map(({ spot }) => spot) });
    if (seen.state !== 'opened') throw new Error(seen.code);
    return colours.patches.map(({ numbers }, index) => {
      const [r = 0, g = 0, b = 0] = (seen.pixels ?? []).slice(index * 4, index * 4 + 3).map((value) => value / 255);
      return distance({ mode: 'rgb', r, g, b }, clampRgb(toRgb(meant(numbers))));
    });
  };
  const containers: [string, (profile: Buffer) => Promise<Buffer> | Buffer][] = [
    ['jpg', (profile) => jpegOf(colours, profile)],
    ['png', (profile) => pngOf(colours, profile)],
    ['8.tif', (profile) => tiffOf(colours, profile, 8)],
    ['16.tif', (profile) => tiffOf(colours, profile, 16)],
    ['psd', (profile) => psdOf(colours, profile)],
  ];

  it.each(SPACES)('of $name come to sRGB within 2 (CIEDE2000) on average, from every container', async (space) => {
    for (const [ending, make] of containers) {
      const original = kept(`${space.mode}.${ending}`, Buffer.from(await make(rgbProfile(space))));
      const out = await sent(original, { format: 'png' });
      const found = await away(out.file, (numbers) => {
        const [r = 0, g = 0, b = 0] = numbers.map((value) => value / 255);
        return { mode: space.mode, r, g, b };
      });
      expect(mean(found), `${space.name} ${ending}`).toBeLessThan(2);
      expect((await sharp(out.file).metadata()).icc, ending).toBeDefined();
    }
  });

  it('kept: the colours and the profile of the original; 16 bits stay 16', async () => {
    for (const space of SPACES.slice(1)) {
      const profile = rgbProfile(space);
      for (const bits of [8, 16] as const) {
        const original = kept(`kept-${space.mode}-${bits}.tif`, Buffer.from(await tiffOf(colours, profile, bits)));
        const out = await sent(original, { format: 'tiff', colour: 'kept' });
        const { icc, depth } = await sharp(out.file).metadata();
        expect(icc && Buffer.compare(icc, profile), `${space.name} ${bits}`).toBe(0);
        expect(depth).toBe(bits === 16 ? 'ushort' : 'uchar');
        const found = await away(out.file, (numbers) => {
          const [r = 0, g = 0, b = 0] = numbers.map((value) => value / 255);
          return { mode: space.mode, r, g, b };
        });
        expect(mean(found), `${space.name} ${bits}`).toBeLessThan(1);
      }
    }
  });

  it('inks come to sRGB as sharp brings them, and are inks still where they are kept', async () => {
    const inks = kept(
      'inks.jpg',
      await pattern(300, 200).toColourspace('cmyk').withIccProfile('cmyk').jpeg({ quality: 95 }).toBuffer(),
    );
    expect((await sharp(inks).metadata()).space).toBe('cmyk');
    const out = await sent(inks, { format: 'png' });
    const theirs = await pixelsOf(sharp(inks).toColourspace('srgb'));
    expect(meanDifference(await pixelsOf(out.file), theirs)).toBeLessThan(6);
    expect((await sharp((await sent(inks, { format: 'jpeg', colour: 'kept' })).file).metadata()).space).toBe('cmyk');
    expect((await sharp((await sent(inks, { format: 'webp', colour: 'kept' })).file).metadata()).space).toBe('srgb');
  });
});

describe('words', () => {
  const FIELDS: FieldValues = {
    rating: 4,
    headline: 'Við sleipina',
    caption: 'Ólavsøka: the crew at the old slip, ð ø á.',
    keywords: ['puffin', 'slip', 'hidden matter'],
    personShown: ['Mia Holt'],
    city: 'Klaksvík',
    country: 'Faroe Islands',
    sublocation: 'the old slip',
    position: '62.227, -6.589',
    creator: ['Jógvan á Kvirrareyni'],
    copyrightNotice: '© 2026 Faroe Harbours Survey',
    usageTerms: 'Editorial use only.',
    captured: '2026-07-04T12:30:00+01:00',
  };
  const word = (id: string, parentId: string | null, isPrivate = false) => ({
    id,
    word: id,
    parentId,
    synonyms: [],
    note: '',
    isPrivate,
    updatedAt: 0,
    deleted: false,
  });
  const vocabulary = [word('birds', null), word('puffin', 'birds'), word('hidden matter', null, true)];
  const marks = { marks: privateMarks(vocabulary, []), vocabulary: vocabularyOf(vocabulary) };
  const policies: [string, WordsPolicy][] = [
    ['all', { which: 'all', place: 'in', people: 'in' }],
    ['descriptive, town, no people', { which: 'descriptive', place: 'town', people: 'out' }],
    ['descriptive, no place', { which: 'descriptive', place: 'out', people: 'in' }],
    ['rights', { which: 'rights', place: 'in', people: 'in' }],
    ['none', { which: 'none', place: 'in', people: 'in' }],
  ];
  let file = '';
  beforeAll(async () => {
    // an original full of words, none of which may come through by itself
    file = kept('worded.jpg', await pattern(300, 200).jpeg().toBuffer());
    execFileSync('exiftool', [
      '-q',
      '-overwrite_original',
      '-EXIF:Make=Norda',
      '-EXIF:Model=K4',
      '-EXIF:LensModel=35 mm',
      '-EXIF:ExposureTime=1/250',
      '-EXIF:FNumber=5.6',
      '-EXIF:ISO=400',
      '-EXIF:SerialNumber=SECRET-7',
      '-EXIF:OwnerName=SECRET-OWNER',
      '-EXIF:GPSLatitude=62.1',
      '-EXIF:GPSLatitudeRef=N',
      '-EXIF:GPSLongitude=6.5',
      '-EXIF:GPSLongitudeRef=W',
      '-XMP-dc:Description=SECRET-CAPTION',
      '-IPTC:Caption-Abstract=SECRET-IIM',
      '-Comment=SECRET-COMMENT',
      file,
    ]);
  });

  for (const format of FORMATS)
    it.each(policies)(
      `${format}, %s: ExifTool reads what was to leave, and nothing else is in the file`,
      async (_, policy) => {
        const { fields } = wordsOfPhoto(FIELDS, policy, marks);
        const out = await sent(file, { format }, { fields, technical: policy.which === 'all' });
        const bytes = readFileSync(out.file);
        expect(bytes.includes('SECRET')).toBe(false);
        expect(bytes.includes('hidden matter')).toBe(false);
        const said = exifOf(out.file);
        const tags = Object.keys(said);
        const text = JSON.stringify(said);
        const isDescribed = policy.which === 'all' || policy.which === 'descriptive';
        const expected: [string, boolean, unknown][] = [
          ['XMP-dc:Description', isDescribed && policy.people === 'in', FIELDS.caption],
          ['XMP-photoshop:Headline', isDescribed, FIELDS.headline],
          ['XMP-dc:Subject', isDescribed, ['puffin', 'slip']],
          ['XMP-photoshop:City', isDescribed && policy.place !== 'out', 'Klaksvík'],
          ['XMP-iptcCore:Location', isDescribed && policy.place === 'in', 'the old slip'],
          ['XMP-dc:Rights', policy.which !== 'none', FIELDS.copyrightNotice],
          ['XMP-xmpRights:UsageTerms', policy.which !== 'none', 'Editorial use only.'],
          ['XMP-xmp:Rating', policy.which === 'all', 4],
          ['XMP-iptcExt:PersonInImage', isDescribed && policy.people === 'in', ['Mia Holt']],
          ['XMP-mwg-kw:HierarchicalKeywords1', false, null],
        ];
        for (const [tag, isThere, value] of expected) {
          if (tag === 'XMP-dc:Description' && isDescribed) continue; // the caption names nobody by the full name
          if (isThere) expect(said[tag], tag).toEqual(value);
          else expect(tags, tag).not.toContain(tag);
        }
        if (isDescribed) expect(said['XMP-dc:Description']).toBe(FIELDS.caption);
        expect(/GPSLatitude/.test(text)).toBe(isDescribed && policy.place === 'in');
        expect(/"Norda"/.test(text)).toBe(policy.which === 'all');
        if (policy.which === 'all') {
          expect(said['ExifIFD:ExposureTime']).toBeCloseTo(0.004, 6);
          expect([said['ExifIFD:FNumber'], said['ExifIFD:ISO'], said['ExifIFD:LensModel']]).toEqual([
            5.6,
            400,
            '35 mm',
          ]);
        }
        if (format === 'jpeg' || format === 'tiff') {
          expect(said['IPTC:CopyrightNotice']).toBe(policy.which === 'none' ? undefined : FIELDS.copyrightNotice);
          expect(said['IPTC:Caption-Abstract']).toBe(isDescribed ? FIELDS.caption : undefined);
        }
        expect(
          /mwg-kw/.test(text) ||
            said['XMP-mwg-kw:HierarchicalKeywords'] !== undefined ||
            /KeywordInfo|Hierarchy/.test(text),
        ).toBe(isDescribed);
      },
    );
});

describe('originals that are not as they should be', () => {
  it('cut short, and bent: told, and nothing comes out', async () => {
    const whole = await pattern(900, 600).jpeg().toBuffer();
    const png = await pattern(900, 600).png().toBuffer();
    for (const [name, bytes] of [
      ['cut.jpg', whole.subarray(0, whole.length / 2)],
      ['cut.png', png.subarray(0, png.length / 2)],
    ] as const) {
      const answer = await answerOf(kept(name, bytes), {}, { pixels: { width: 300, height: 200 } });
      expect(answer, name).toMatchObject({ state: 'refused', problem: { code: 'picture/refused' } });
    }
  });

  it('one that is not as it was measured is not sent', async () => {
    const file = kept('changed.png', await pattern(90, 60).png().toBuffer());
    expect(await answerOf(file, {}, { expected: '0'.repeat(64) })).toMatchObject({
      state: 'failed',
      reason: 'source-damaged',
    });
  });

  const demo = (name: string): string => {
    const found = execFileSync('find', ['.demo', '-iname', name]).toString().trim().split('\n')[0];
    if (!found) throw new Error(`${name} is not in the demo`);
    return found;
  };
  const KINDS = ['*.hei*', '*.jxl', '*.psd', '*.dng', '*.tif'];

  it.each(KINDS)('what libvips does not read comes out as well: %s of the demo', async (kind) => {
    const out = await sent(demo(kind), { format: 'jpeg', size: { kind: 'long-edge', pixels: 300 } });
    const { width, height } = await sharp(out.file).metadata();
    expect(Math.max(width, height)).toBe(300);
    // no black picture, and no empty one
    const { channels } = await sharp(out.file).stats();
    expect(Math.max(...channels.map(({ stdev }) => stdev))).toBeGreaterThan(5);
  });
});
