// Reading what ExifTool wrote, and having ExifTool, exiv2 and xmllint read what we wrote: value for value.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { FIELDS, type FieldValue, type FieldValues } from '@/core/fields/registry';
import { toStrings } from '@/core/fields/values';
import { readPhoto } from '@/core/reading/reading';
import { planSidecar } from '@/core/xmp/sidecar';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-reference-'));
const at = (name: string) => path.join(folder, name);
const exiftool = (...args: string[]) => execFileSync('exiftool', ['-charset', 'filename=utf8', ...args], { encoding: 'utf8', maxBuffer: 1 << 26 });
const readBack = (name: string) => (JSON.parse(exiftool('-json', '-struct', '-G1', '-n', at(name))) as Record<string, unknown>[])[0] ?? {};

function writeWithExiftool(name: string, ending: string): void {
  exiftool('-q', '-n', '-EXIF:Make=Norda', '-EXIF:Model=K4', '-EXIF:DateTimeOriginal=2019:07:04 14:03:22', '-EXIF:OffsetTimeOriginal=+01:00', '-EXIF:SubSecTimeOriginal=07', '-EXIF:ExposureTime=0.004', '-EXIF:FNumber=2.8', '-EXIF:ISO=800', '-EXIF:FocalLength=35', '-EXIF:ExposureCompensation=-0.7', '-EXIF:LensModel=Norda 35mm', '-EXIF:Orientation=8', '-EXIF:GPSLatitude=62.2266', '-EXIF:GPSLatitudeRef=N', '-EXIF:GPSLongitude=6.5889', '-EXIF:GPSLongitudeRef=W', '-EXIF:GPSAltitude=12.5', '-EXIF:GPSAltitudeRef=1', '-XMP-dc:Subject=boat', '-o', at(name), at(`base.${ending}`));
}

/** ExifTool's name of each field in each family. */
const EXIFTOOL_GROUP = { dc: 'XMP-dc', photoshop: 'XMP-photoshop', xmp: 'XMP-xmp', Iptc4xmpCore: 'XMP-iptcCore' } as const;
const EXIFTOOL_IIM: Record<number, string> = { 5: 'ObjectName', 25: 'Keywords', 40: 'SpecialInstructions', 80: 'By-line', 90: 'City', 92: 'Sub-location', 95: 'Province-State', 100: 'Country-PrimaryLocationCode', 101: 'Country-PrimaryLocationName', 105: 'Headline', 110: 'Credit', 115: 'Source', 116: 'CopyrightNotice', 120: 'Caption-Abstract' };
const xmpName = (row: (typeof FIELDS)[number]) => `${EXIFTOOL_GROUP[row.xmp.prefix as keyof typeof EXIFTOOL_GROUP]}:${{ dc: row.xmp.name[0]?.toUpperCase() + row.xmp.name.slice(1) }[row.xmp.prefix as 'dc'] ?? row.xmp.name}`;

const SAMPLES: Record<string, string> = { plain: 'Boats', latin: 'Bátar á Viðareiði ø', wide: '北港 Ωmega', emoji: 'sheep 🐑 here', digits: '007', word: 'true', quotes: `"it's" <a> & b`, long: 'ð'.repeat(15) };

const sampleFor = (row: (typeof FIELDS)[number], text: string): FieldValue => {
  if (row.type === 'number') return 3;
  if (row.key === 'countryCode') return 'FO';
  return row.type === 'list' || row.type === 'names' ? [text, `${text} 2`] : text;
};

beforeAll(async () => {
  const pixels = sharp({ create: { width: 48, height: 32, channels: 3, background: '#345' } });
  writeFileSync(at('base.jpg'), await pixels.jpeg().toBuffer());
  writeFileSync(at('base.png'), await pixels.png().toBuffer());
  writeFileSync(at('base.tif'), await pixels.tiff().toBuffer());
  writeFileSync(at('base.webp'), await pixels.webp().toBuffer());
});

describe('what ExifTool wrote', () => {
  let compared = 0;

  it.each(Object.entries(SAMPLES))('in XMP and in IIM is read value for value: %s', async (kind, text) => {
    for (const family of ['xmp', 'iim'] as const) {
      const rows = FIELDS.filter((row) => family === 'xmp' || row.iim);
      const name = `${family}-${kind}.jpg`;
      const args = rows.flatMap((row) => toStrings(sampleFor(row, text)).map((value) => `-${family === 'xmp' ? xmpName(row) : `IPTC:${EXIFTOOL_IIM[row.iim?.dataset ?? 0]}`}=${value}`));
      exiftool('-q', '-codedcharacterset=utf8', ...args, '-o', at(name), at('base.jpg'));
      const reading = await readPhoto(memorySource(readFileSync(at(name))), name);
      expect(reading.problems).toEqual([]);
      for (const row of rows) {
        expect(reading.fields[row.key], `${family} ${row.key}`).toEqual(sampleFor(row, text));
        expect(reading.sources[row.key]).toBe(family);
        compared += 1;
      }
    }
  });

  it('compared every field of both families with every sample', () => {
    expect(compared).toBe(Object.keys(SAMPLES).length * (FIELDS.length + FIELDS.filter(({ iim }) => iim).length));
  });

  it('in IIM as Latin-1 without saying so is read as the letters that were meant', async () => {
    exiftool('-q', '-charset', 'iptc=Latin', '-IPTC:Headline=Bátar á Viðareiði', '-o', at('latin1.jpg'), at('base.jpg'));
    expect((await readPhoto(memorySource(readFileSync(at('latin1.jpg'))), 'x.jpg')).fields.headline).toBe('Bátar á Viðareiði');
  });

  it.each(['jpg', 'png', 'tif', 'webp'])('in EXIF of a %s gives the same capture data, size and orientation', async (ending) => {
    const name = `exif.${ending}`;
    if (ending === 'webp') {
      // this ExifTool writes no WebP; exiv2 carries the JPEG's metadata over
      writeFileSync(at(name), readFileSync(at('base.webp')));
      execFileSync('exiv2', ['-iax-', at(name)], { input: execFileSync('exiv2', ['-eax-', at('exif.jpg')]) });
    } else writeWithExiftool(name, ending);
    const reading = await readPhoto(memorySource(readFileSync(at(name))), name);
    const theirs = readBack(name);
    expect(reading).toMatchObject({ width: 32, height: 48, orientation: theirs['IFD0:Orientation'], camera: { make: theirs['IFD0:Make'], model: theirs['IFD0:Model'] }, lens: theirs['ExifIFD:LensModel'], captured: { written: '2019-07-04T14:03:22.07', offset: '+01:00' }, fields: { keywords: ['boat'] }, problems: [] });
    expect(reading.exposure.seconds).toBeCloseTo(Number(theirs['ExifIFD:ExposureTime']), 8);
    expect(reading.exposure.fNumber).toBeCloseTo(Number(theirs['ExifIFD:FNumber']), 6);
    expect(reading.exposure.biasEv).toBeCloseTo(Number(theirs['ExifIFD:ExposureCompensation']), 6);
    expect(reading.gps?.lat).toBeCloseTo(62.2266, 6);
    expect(reading.gps?.lon).toBeCloseTo(-6.5889, 6);
    expect(reading.gps?.altitudeM).toBeCloseTo(-12.5, 6);
  });
});

describe('sidecars we wrote', () => {
  it.each(Object.entries({ ...SAMPLES, lines: 'one\ntwo\n', 'very long': 'word ð '.repeat(900).trim() }))('are read by ExifTool, exiv2 and xmllint value for value: %s', (kind, text) => {
    const fields: FieldValues = Object.fromEntries(FIELDS.map((row) => [row.key, sampleFor(row, text)]));
    const plan = planSidecar({ existing: null, fields, embedded: {}, ending: 'jpg' });
    if (!('bytes' in plan)) throw new Error('must be planned');
    const name = `${kind}.xmp`;
    writeFileSync(at(name), plan.bytes);
    execFileSync('xmllint', ['--noout', '--nonet', at(name)]);
    const theirs = readBack(name);
    const byExiv2 = new Map<string, string[]>();
    for (const line of execFileSync('exiv2', ['-PXkt', at(name)], { encoding: 'utf8', maxBuffer: 1 << 26 }).split('\n')) {
      const [, key, value] = /^Xmp\.(\S+)\s+(.*)$/.exec(line) ?? [];
      if (key) byExiv2.set(key, [...(byExiv2.get(key) ?? []), value ?? '']);
    }
    let compared = 0;
    for (const row of FIELDS) {
      const ours = fields[row.key];
      expect([theirs[xmpName(row)]].flat().map(String), `ExifTool, ${row.key}`).toEqual(toStrings(ours));
      const exiv2Key = `${{ Iptc4xmpCore: 'iptc' }[row.xmp.prefix as 'Iptc4xmpCore'] ?? row.xmp.prefix}.${row.xmp.name}`;
      // exiv2 prints lists with commas and alternatives with their language; a value of several lines over several lines
      const first = toStrings(ours)[0]?.split('\n')[0] ?? '';
      expect(byExiv2.get(exiv2Key)?.[0], `exiv2, ${row.key}`).toContain(first);
      compared += 1;
    }
    expect(compared).toBe(FIELDS.length);
  });
});
