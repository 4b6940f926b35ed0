// Reading what ExifTool and exiv2 wrote: every field, in every family, in many scripts and date forms, value for value.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { WRITTEN_FIELDS, type FieldKey, type FieldRow, type FieldValues } from '@/core/fields/registry';
import { type FieldValue, isList } from '@/core/fields/shape';
import { toStrings } from '@/core/fields/values';
import { readPhoto } from '@/core/metadata/reading/reading';
import { evened, exiftool, iimTag, inTheirTerms, readAll, writeXmp, xmpTag } from './exiftool';
import { DATES, WORDS, sampleFields } from './samples';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-reference-'));
const at = (name: string) => path.join(folder, name);
const read = (name: string) => readPhoto(memorySource(readFileSync(at(name))), name);

/** Fields compared and fields equal, for the closing line. */
const tally = new Map<string, { compared: number; equal: number }>();
function compare(what: string, same: boolean): void {
  const sum = tally.get(what) ?? { compared: 0, equal: 0 };
  sum.compared += 1;
  if (same) sum.equal += 1;
  tally.set(what, sum);
}

beforeAll(async () => {
  const pixels = sharp({ create: { width: 48, height: 32, channels: 3, background: '#345' } });
  for (const [ending, image] of [
    ['jpg', pixels.clone().jpeg()],
    ['png', pixels.clone().png()],
    ['tif', pixels.clone().tiff()],
    ['webp', pixels.clone().webp()],
  ] as const)
    writeFileSync(at(`base.${ending}`), await image.toBuffer());
});

afterAll(() => {
  for (const [what, { compared, equal }] of tally) console.log(`agreement, ${what}: ${equal} of ${compared}`);
});

/** What this ExifTool cannot write: a property newer than it, and a member it does not list. */
const writable = WRITTEN_FIELDS.filter((row) => xmpTag(row) !== undefined);
function without(value: FieldValue | undefined): FieldValue | undefined {
  if (Array.isArray(value)) return value.map((item) => without(item)) as FieldValue;
  if (typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key]) => key !== 'altitudeRef')
      .map(([key, member]) => [key, without(member)]),
  ) as FieldValue;
}

describe('what ExifTool wrote as XMP', () => {
  const cases = Object.entries(WORDS).map(
    ([kind, text], index) => [kind, text, DATES[index % DATES.length] ?? ''] as const,
  );

  it.each(cases)('is read value for value, structures to the last member: %s', async (kind, text, date) => {
    const wanted = Object.fromEntries(
      writable.flatMap(({ key }) => [[key, without(sampleFields(text, date)[key])]]),
    ) as FieldValues;
    writeXmp(at('base.jpg'), at(`xmp-${kind}.jpg`), wanted);
    const reading = await read(`xmp-${kind}.jpg`);
    expect(reading.problems).toEqual([]);
    for (const row of writable) {
      const value = reading.fields[row.key];
      const [ours, theirs] = [
        evened(value && inTheirTerms(row, value)),
        evened(inTheirTerms(row, wanted[row.key] as FieldValue)),
      ];
      compare('XMP by ExifTool', JSON.stringify(ours) === JSON.stringify(theirs));
      expect(ours, `${kind} ${row.key}`).toEqual(theirs);
      if (isList(row)) expect(Array.isArray(value), row.key).toBe(true);
      expect(reading.sources[row.key]).toBe('xmp');
    }
  });

  it('compared every field it can write with every sample', () => {
    expect(writable.length).toBe(WRITTEN_FIELDS.length - 1);
    expect(tally.get('XMP by ExifTool')?.compared).toBe(cases.length * writable.length);
  });
});

describe('what ExifTool wrote as IIM', () => {
  const rows = WRITTEN_FIELDS.filter(
    (row): row is FieldRow & { iim: NonNullable<FieldRow['iim']> } => row.iim !== null,
  );
  const valueFor = (row: FieldRow, text: string): string[] => {
    if (row.iim?.notation === 'date') return ['2019:07:04'];
    if (row.key === 'subjectCode') return ['01000000', '16003000'];
    const [first = ''] = row.iim && row.iim.maxBytes < 4 ? [row.value === 'number' ? '3' : 'FO'] : [text];
    return row.iim?.repeatable ? (isList(row) ? [first, `${first} 2`] : [first]) : [first];
  };

  it.each(Object.entries(WORDS).filter(([, text]) => Buffer.byteLength(text) < 29))(
    'is read value for value: %s',
    async (kind, text) => {
      const args = rows.flatMap((row) =>
        valueFor(row, text).map(
          (value) =>
            `-IPTC:${iimTag(row.iim.dataset)?.name}=${row.key === 'subjectCode' ? `IPTC:${value}:::` : row.key === 'intellectualGenre' ? `012:${value}` : value}`,
        ),
      );
      exiftool('-q', '-n', '-codedcharacterset=utf8', ...args, '-o', at(`iim-${kind}.jpg`), at('base.jpg'));
      const { fields, sources, problems } = await read(`iim-${kind}.jpg`);
      expect(problems).toEqual([]);
      for (const row of rows) {
        const [first] = valueFor(row, text);
        const wanted = row.iim.notation === 'date' ? ['2019-07-04'] : isList(row) ? valueFor(row, text) : [first];
        compare('IIM by ExifTool', JSON.stringify(toStrings(fields[row.key])) === JSON.stringify(wanted));
        expect(toStrings(fields[row.key]), `${kind} ${row.key}`).toEqual(wanted);
        expect(sources[row.key]).toBe('iim');
      }
    },
  );

  it('in Latin-1 without saying so is read as the letters that were meant', async () => {
    exiftool(
      '-q',
      '-charset',
      'iptc=Latin',
      '-IPTC:Headline=Bátar á Viðareiði',
      '-o',
      at('latin1.jpg'),
      at('base.jpg'),
    );
    expect((await read('latin1.jpg')).fields.headline).toBe('Bátar á Viðareiði');
  });

  it('with a date and a time gives both, and a subject reference its code', async () => {
    exiftool(
      '-q',
      '-IPTC:DateCreated=2019:07:04',
      '-IPTC:TimeCreated=14:03:22+01:00',
      '-IPTC:SubjectReference=IPTC:01000000:arts::',
      '-o',
      at('iim-date.jpg'),
      at('base.jpg'),
    );
    expect((await read('iim-date.jpg')).fields).toEqual({
      captured: '2019-07-04T14:03:22+01:00',
      subjectCode: ['01000000'],
    });
  });

  it('is found in a TIFF in its own tag, where exiv2 puts it', async () => {
    writeFileSync(at('iim.tif'), readFileSync(at('base.tif')));
    execFileSync('exiv2', [
      '-M',
      'set Iptc.Application2.Headline Bátur',
      '-M',
      'set Iptc.Envelope.CharacterSet \x1b%G',
      at('iim.tif'),
    ]);
    expect((await read('iim.tif')).fields.headline).toBe('Bátur');
  });
});

describe('what exiv2 wrote', () => {
  it('as XMP and as IIM is read value for value', async () => {
    const text = 'Bátar á Viðareiði';
    const prefix = { Iptc4xmpCore: 'iptc', Iptc4xmpExt: 'iptcExt' } as Record<string, string>;
    const plain = WRITTEN_FIELDS.filter(
      (row) =>
        row.value === 'text' &&
        row.form !== 'alt' &&
        !['eventId', 'cameraOwner', 'userComment', 'modelAge'].includes(row.key),
    );
    writeFileSync(at('exiv2.jpg'), readFileSync(at('base.jpg')));
    execFileSync(
      'exiv2',
      [
        ...plain.flatMap(({ xmp }) => ['-M', `set Xmp.${prefix[xmp.prefix] ?? xmp.prefix}.${xmp.name} ${text}`]),
        at('exiv2.jpg'),
      ],
      { stdio: 'pipe' },
    );
    const { fields, problems } = await read('exiv2.jpg');
    expect(problems).toEqual([]);
    for (const row of plain) {
      compare('XMP by exiv2', JSON.stringify(toStrings(fields[row.key])) === JSON.stringify([text]));
      expect(toStrings(fields[row.key]), row.key).toEqual([text]);
    }
    const datasets = WRITTEN_FIELDS.filter(({ iim }) => iim && iim.maxBytes > 20 && iim.notation === undefined);
    writeFileSync(at('exiv2-iim.jpg'), readFileSync(at('base.jpg')));
    execFileSync(
      'exiv2',
      [
        '-M',
        'set Iptc.Envelope.CharacterSet \x1b%G',
        ...datasets.flatMap(({ iim }) => [
          '-M',
          `set Iptc.Application2.0x${iim?.dataset.toString(16).padStart(4, '0')} String ${text}`,
        ]),
        at('exiv2-iim.jpg'),
      ],
      { stdio: 'pipe' },
    );
    const iim = (await read('exiv2-iim.jpg')).fields;
    for (const row of datasets) {
      compare('IIM by exiv2', JSON.stringify(toStrings(iim[row.key])) === JSON.stringify([text]));
      expect(toStrings(iim[row.key]), row.key).toEqual([text]);
    }
    expect([plain.length, datasets.length].every((count) => count > 15)).toBe(true);
  });
});

describe('what ExifTool wrote as EXIF', () => {
  const write = (name: string, ending: string, ...more: string[]) =>
    exiftool(
      '-q',
      '-n',
      '-EXIF:Make=Norda',
      '-EXIF:Model=K4',
      '-EXIF:DateTimeOriginal=2019:07:04 14:03:22',
      '-EXIF:OffsetTimeOriginal=+01:00',
      '-EXIF:SubSecTimeOriginal=07',
      '-EXIF:ExposureTime=0.004',
      '-EXIF:FNumber=2.8',
      '-EXIF:ISO=800',
      '-EXIF:FocalLength=35',
      '-EXIF:ExposureCompensation=-0.7',
      '-EXIF:LensModel=Norda 35mm',
      '-EXIF:SerialNumber=K4-7',
      '-EXIF:Orientation=8',
      '-EXIF:GPSLatitude=62.2266',
      '-EXIF:GPSLatitudeRef=N',
      '-EXIF:GPSLongitude=6.5889',
      '-EXIF:GPSLongitudeRef=W',
      '-EXIF:GPSAltitude=12.5',
      '-EXIF:GPSAltitudeRef=1',
      '-EXIF:GPSDateStamp=2019:07:04',
      '-EXIF:GPSTimeStamp=13:03:21',
      '-XMP-dc:Subject=boat',
      ...more,
      '-o',
      at(name),
      at(`base.${ending}`),
    );

  it.each(['jpg', 'png', 'tif', 'webp'])(
    'into a %s gives the same capture data, size and orientation',
    async (ending) => {
      const name = `exif.${ending}`;
      if (ending === 'webp') {
        // this ExifTool writes no WebP; exiv2 carries the JPEG's metadata over
        writeFileSync(at(name), readFileSync(at('base.webp')));
        execFileSync('exiv2', ['-iax-', at(name)], { input: execFileSync('exiv2', ['-eax-', at('exif.jpg')]) });
      } else write(name, ending);
      const reading = await read(name);
      const theirs = readAll(at(name));
      expect(reading).toMatchObject({
        width: 32,
        height: 48,
        orientation: theirs['IFD0:Orientation'],
        camera: { make: theirs['IFD0:Make'], model: theirs['IFD0:Model'], serial: theirs['ExifIFD:SerialNumber'] },
        lens: theirs['ExifIFD:LensModel'],
        captured: { written: '2019-07-04T14:03:22.07', offset: '+01:00' },
        fields: { keywords: ['boat'], positionTime: '2019-07-04T13:03:21Z' },
        problems: [],
      });
      expect(reading.exposure.seconds).toBeCloseTo(Number(theirs['ExifIFD:ExposureTime']), 8);
      expect(reading.exposure.fNumber).toBeCloseTo(Number(theirs['ExifIFD:FNumber']), 6);
      expect(reading.exposure.biasEv).toBeCloseTo(Number(theirs['ExifIFD:ExposureCompensation']), 6);
      expect(reading.fields.position).toBe('62.2266, -6.5889, -12.5 m');
    },
  );

  it.each(['little', 'big'])(
    'in %s-endian order gives words, artists, dates and the comment in any script',
    async (order) => {
      const name = `words-${order}.jpg`;
      const words = {
        ImageDescription: 'Bátar 北',
        Artist: 'Á Reyn; B. Holt',
        Copyright: '© 2019 X',
        UserComment: 'frí 北 🐑',
        OwnerName: 'Sjóvinnu',
        CreateDate: '2019:07:04 15:00:00',
      };
      exiftool(
        '-q',
        '-exifbyteorder=' + order,
        ...Object.entries(words).map(([tag, value]) => `-EXIF:${tag}=${value}`),
        '-o',
        at(name),
        at('base.jpg'),
      );
      const { fields, sources } = await read(name);
      const wanted: [FieldKey, FieldValue][] = [
        ['caption', 'Bátar 北'],
        ['creator', ['Á Reyn', 'B. Holt']],
        ['copyrightNotice', '© 2019 X'],
        ['userComment', 'frí 北 🐑'],
        ['cameraOwner', 'Sjóvinnu'],
        ['digitised', '2019-07-04T15:00:00'],
      ];
      for (const [key, value] of wanted) {
        compare('EXIF by ExifTool', JSON.stringify(fields[key]) === JSON.stringify(value));
        expect(fields[key], key).toEqual(value);
        expect(sources[key]).toBe('exif');
      }
    },
  );
});
