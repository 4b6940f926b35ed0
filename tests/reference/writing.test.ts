// What we wrote, read by others: sidecars and embedded metadata by ExifTool (values and `-validate -warning`), exiv2
// and xmllint; pixels by sharp. And bytes: a change taken back gives the file of before.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { digestImage } from '@/core/metadata/picture-digest/image-digest';
import { planEmbed } from '@/core/metadata/embed/embed';
import { sourceOfParts } from '@/core/metadata/embed/parts';
import { WRITTEN_FIELDS, type FieldRow, type FieldValues } from '@/core/fields/registry';
import { toStrings } from '@/core/fields/values';
import { cutToBytes } from '@/core/metadata/embed/iim-edit';
import { readPhoto } from '@/core/metadata/reading/reading';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import { beside, evened, exiftool, iimTag, inTheirTerms, readAll, xmpName, xmpTag } from './exiftool';
import { DATES, WORDS, sampleFields } from './samples';
import { newDigest } from '../../tools/node-digest';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-writing-'));
const at = (name: string) => path.join(folder, name);
const FORMATS = ['jpg', 'png', 'webp', 'tif', 'dng'];
const ALL_WORDS = { ...WORDS, 'very long': 'word ð '.repeat(900).trim() };
const tally = { compared: 0, equal: 0 };

beforeAll(async () => {
  const pixels = sharp(Buffer.from(Array.from({ length: 64 * 48 * 3 }, (_, index) => (index * 7) % 256)), {
    raw: { width: 64, height: 48, channels: 3 },
  });
  for (const [ending, image] of [
    ['jpg', pixels.clone().jpeg({ progressive: true })],
    ['png', pixels.clone().png()],
    ['webp', pixels.clone().webp({ lossless: true })],
    ['tif', pixels.clone().tiff()],
    ['dng', pixels.clone().tiff()],
  ] as const)
    writeFileSync(at(`base.${ending}`), await image.toBuffer());
  // a camera's notes with offsets of their own, a thumbnail, a profile, and resources of another program
  exiftool(
    '-q',
    '-n',
    '-overwrite_original',
    '-EXIF:Make=Norda',
    '-EXIF:DateTimeOriginal=2019:07:04 14:03:22',
    '-EXIF:ImageDescription=before',
    '-XMP-xmp:CreatorTool=another program',
    '-XMP-dc:Title=before',
    '-IPTC:Headline=before',
    '-IPTC:Contact=kept',
    '-Photoshop:URL=http://kept.example',
    '-codedcharacterset=utf8',
    at('base.jpg'),
  );
});

afterAll(() => console.log(`agreement, embedded by us and read by ExifTool: ${tally.equal} of ${tally.compared}`));

async function embed(name: string, fields: FieldValues): Promise<Buffer> {
  const source = memorySource(readFileSync(at(name)));
  const plan = await planEmbed(source, name, fields, newDigest);
  if (plan.state !== 'planned') throw new Error(JSON.stringify(plan));
  const made = sourceOfParts(source, plan.parts);
  return Buffer.from(await made.read(0, made.size));
}

/** What ExifTool says of XMP, in the terms of the fields we wrote. */
function compareXmp(theirs: Record<string, unknown>, fields: FieldValues, what: string): void {
  for (const row of WRITTEN_FIELDS) {
    if (!xmpTag(row)) continue;
    const [ours, other] = [evened(inTheirTerms(row, fields[row.key] ?? '')), evened(theirs[xmpName(row)] ?? '')];
    tally.compared += 1;
    if (JSON.stringify(ours) === JSON.stringify(other)) tally.equal += 1;
    expect(other, `${what} ${row.key}`).toEqual(ours);
    for (const [tag, value] of beside(row, String(fields[row.key])))
      expect(theirs[tag], `${what} ${row.key} ${tag}`).toEqual(value);
  }
}

const isPlain = (row: FieldRow) =>
  row.structure === undefined && !['number', 'position', 'direction'].includes(row.value) && row.choices === undefined;

const warnings = (file: string): string[] =>
  exiftool('-s3', '-validate', '-warning', '-error', '-a', file)
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('OK'));

describe('sidecars we wrote', () => {
  it.each(Object.entries(ALL_WORDS))('are read by ExifTool, exiv2 and xmllint value for value: %s', (kind, text) => {
    const fields = sampleFields(text, DATES[kind.length % DATES.length] ?? '');
    const plan = planSidecar({ existing: null, fields, embedded: {}, ending: 'jpg' });
    if (!('bytes' in plan)) throw new Error('must be planned');
    const file = at(`${kind}.xmp`);
    writeFileSync(file, plan.bytes);
    execFileSync('xmllint', ['--noout', '--nonet', file]);
    expect(warnings(file)).toEqual([]);
    compareXmp(readAll(file), fields, kind);
    const byExiv2 = execFileSync('exiv2', ['-PXkt', file], { encoding: 'utf8', maxBuffer: 1 << 26 });
    const prefix = { Iptc4xmpCore: 'iptc', Iptc4xmpExt: 'iptcExt' } as Record<string, string>;
    // exiv2 prints codes as what they mean, lists with commas and alternatives with their language; of several lines
    // the first is on the key's line
    const found = WRITTEN_FIELDS.filter(isPlain).filter((row) => {
      const first = toStrings(fields[row.key])[0]?.split('\n')[0] ?? '';
      const line = byExiv2
        .split('\n')
        .find((one) => new RegExp(`^Xmp\\.${prefix[row.xmp.prefix] ?? row.xmp.prefix}\\.${row.xmp.name}\\s`).test(one));
      return line?.includes(first) || row.value === 'boolean';
    });
    expect(WRITTEN_FIELDS.filter((row) => isPlain(row) && !found.includes(row)).map(({ key }) => key)).toEqual([]);
  });
});

describe('corrections, which are in a namespace of our own', () => {
  it('are a structure of numbers for ExifTool and exiv2, and xmllint finds the sidecar well-formed', () => {
    const corrections = { formulas: 1, temperature: 5200, exposure: -0.35, blackAndWhite: true, cropLeft: 0.125 };
    const plan = planSidecar({ existing: null, fields: { corrections }, embedded: {}, ending: 'jpg' });
    if (!('bytes' in plan)) throw new Error('must be planned');
    const file = at('corrections.xmp');
    writeFileSync(file, plan.bytes);
    execFileSync('xmllint', ['--noout', '--nonet', file]);
    expect(readAll(file)['XMP-wembo:Corrections']).toEqual({
      Formulas: 1,
      Temperature: 5200,
      Exposure: -0.35,
      BlackAndWhite: true,
      CropLeft: 0.125,
    });
    const byExiv2 = execFileSync('exiv2', ['-PXkt', file], { encoding: 'utf8' });
    expect(byExiv2).toMatch(/Corrections\/\w+:Exposure\s+-0\.35/);
  });
});

describe('a rating that another program wrote into EXIF', () => {
  const ratingOf = (file: string) => exiftool('-s3', '-n', '-IFD0:Rating', at(file)).trim();

  it('is read where XMP has none, follows what is said here, and is not begun where it was not', async () => {
    const base = await sharp(at('base.png')).jpeg().toBuffer();
    writeFileSync(at('rated.jpg'), base);
    exiftool('-q', '-overwrite_original', '-IFD0:Rating=3', at('rated.jpg'));
    expect((await readPhoto(memorySource(readFileSync(at('rated.jpg'))), 'rated.jpg')).fields.rating).toBe(3);
    writeFileSync(at('again.jpg'), await embed('rated.jpg', { rating: 5 }));
    expect(ratingOf('again.jpg')).toBe('5');
    writeFileSync(at('rejected.jpg'), await embed('rated.jpg', { rating: -1 }));
    expect(ratingOf('rejected.jpg')).toBe('');
    writeFileSync(at('plain.jpg'), base);
    writeFileSync(at('begun.jpg'), await embed('plain.jpg', { rating: 4 }));
    expect(ratingOf('begun.jpg')).toBe('');
    expect(exiftool('-s3', '-n', '-XMP-xmp:Rating', at('begun.jpg')).trim()).toBe('4');
  });
});

/** Every sample into the two formats that hold all three families, the hardest of them into the others. */
const HARDEST = ['emoji', 'quotes', 'lines', 'very long'];
const wordsFor = (ending: string) =>
  Object.entries(ALL_WORDS).filter(([kind]) => ending === 'jpg' || ending === 'tif' || HARDEST.includes(kind));

describe.each(FORMATS)('metadata we wrote into a %s', (ending) => {
  it.each(wordsFor(ending))(
    'are read by ExifTool and exiv2, and the picture is what it was: %s',
    async (kind, text) => {
      const base = `base.${ending}`;
      const fields = sampleFields(text, '2019-07-04T14:03:22.07+01:00');
      const file = `${kind}.${ending}`;
      writeFileSync(at(file), await embed(base, fields));
      expect((await readPhoto(memorySource(readFileSync(at(file))), file)).fields).toEqual(fields);
      // what is ours brings no warning; the encoder's own file has none either
      const own = warnings(at(file)).filter((line) => !warningsOfBase(ending).includes(line));
      expect(own.filter((line) => !/\d+ Warnings?|Missing required/.test(line))).toEqual([]);
      const theirs = readAll(at(file));
      compareXmp(theirs, fields, `${ending} ${kind}`);
      if (ending === 'jpg' || ending === 'tif' || ending === 'dng') {
        compareIim(theirs, fields);
        expect(theirs['IFD0:Artist']).toBe(toStrings(fields.creator).join('; '));
        expect(evened(theirs['IFD0:ImageDescription'])).toBe(evened(fields.caption));
      }
      expect(await digestImage(memorySource(readFileSync(at(file))), file, newDigest)).toBe(
        await digestImage(memorySource(readFileSync(at(base))), base, newDigest),
      );
      const pixelsOf = async (name: string) =>
        sharp(readFileSync(at(name)))
          .raw()
          .toBuffer();
      expect((await pixelsOf(file)).equals(await pixelsOf(base))).toBe(true);
      expect(() => execFileSync('exiv2', ['-pX', at(file)], { stdio: 'pipe', maxBuffer: 1 << 26 })).not.toThrow();
    },
  );
});

const warned = new Map<string, string[]>();
function warningsOfBase(ending: string): string[] {
  const known = warned.get(ending) ?? warnings(at(`base.${ending}`));
  warned.set(ending, known);
  return known;
}

function compareIim(theirs: Record<string, unknown>, fields: FieldValues): void {
  for (const row of WRITTEN_FIELDS) {
    if (!row.iim || row.iim.readOnly || row.iim.notation !== undefined) continue;
    const strings = toStrings(fields[row.key]).map((text) => cutToBytes(text, row.iim?.maxBytes ?? 0));
    const wanted = row.iim.repeatable ? strings : strings.slice(0, 1);
    const found = [theirs[`IPTC:${iimTag(row.iim.dataset)?.name}`]].flat().map((value) => String(value).trimEnd());
    expect(evened(found), row.key).toEqual(evened(wanted.map((text) => text.trimEnd())));
  }
}

describe('a JPEG with much in it', () => {
  it('keeps what is not ours: another program’s properties, IIM datasets and resources', async () => {
    writeFileSync(
      at('kept.jpg'),
      await embed('base.jpg', {
        ...(await readPhoto(memorySource(readFileSync(at('base.jpg'))), 'base.jpg')).fields,
        city: 'Gjógv',
      }),
    );
    expect(readAll(at('kept.jpg'))).toMatchObject({
      'XMP-xmp:CreatorTool': 'another program',
      'IPTC:Contact': 'kept',
      'Photoshop:URL': 'http://kept.example',
      'IFD0:Make': 'Norda',
      'IPTC:City': 'Gjógv',
      'XMP-photoshop:City': 'Gjógv',
    });
  });

  it.each(['jpg', 'png', 'webp', 'tif'])(
    'changed and changed back in a %s is the file of before, byte for byte',
    async (ending) => {
      const name = `back.${ending}`;
      const first: FieldValues = {
        title: 'one',
        caption: 'one',
        keywords: ['boat', 'ørn'],
        captured: '2019-07-04T14:03:22',
        contact: { city: 'Gjógv' },
      };
      writeFileSync(at(name), await embed(`base.${ending}`, first));
      const before = readFileSync(at(name));
      writeFileSync(
        at(name),
        await embed(name, {
          ...first,
          title: 'two',
          caption: 'two á',
          keywords: ['boat'],
          captured: '2020-01-01T10:00:00',
          contact: { city: 'Other' },
        }),
      );
      expect(readFileSync(at(name)).equals(before)).toBe(false);
      expect((await embed(name, first)).equals(before)).toBe(true);
    },
  );

  it('a value that IIM cannot hold is cut there at a whole letter, whole in XMP, and read whole', async () => {
    const title = 'ð'.repeat(40);
    writeFileSync(at('cut.jpg'), await embed('base.jpg', { title }));
    expect(readAll(at('cut.jpg'))).toMatchObject({ 'IPTC:ObjectName': 'ð'.repeat(32), 'XMP-dc:Title': title });
    expect((await readPhoto(memorySource(readFileSync(at('cut.jpg'))), 'cut.jpg')).disagreements).toEqual([]);
  });

  it('XMP beyond one segment goes on in an extension that ExifTool puts together', async () => {
    const caption = 'ð á ø '.repeat(14_000);
    const fields: FieldValues = { usageTerms: caption, title: 'short' };
    writeFileSync(at('extended.jpg'), await embed('base.jpg', fields));
    expect(readAll(at('extended.jpg'))).toMatchObject({ 'XMP-xmpRights:UsageTerms': caption, 'XMP-dc:Title': 'short' });
    expect((await readPhoto(memorySource(readFileSync(at('extended.jpg'))), 'x.jpg')).fields.usageTerms).toBe(caption);
    // and back into one packet when it is short again
    writeFileSync(at('extended.jpg'), await embed('extended.jpg', { title: 'short' }));
    expect(readFileSync(at('extended.jpg')).includes('ns.adobe.com/xmp/extension')).toBe(false);
  });

  it('IIM changed by another program after us wins over XMP, as its digest tells', async () => {
    writeFileSync(at('digest.jpg'), await embed('base.jpg', { headline: 'ours' }));
    exiftool('-q', '-overwrite_original', '-IPTC:Headline=theirs', at('digest.jpg'));
    const reading = await readPhoto(memorySource(readFileSync(at('digest.jpg'))), 'digest.jpg');
    expect(reading.fields.headline).toBe('theirs');
    expect(reading.disagreements).toEqual([
      {
        key: 'headline',
        said: [
          { family: 'iim', value: 'theirs' },
          { family: 'xmp', value: 'ours' },
        ],
      },
    ]);
    expect(exiftool('-s3', '-use', 'MWG', '-IPTCDigest', at('digest.jpg')).trim()).not.toBe(
      exiftool('-s3', '-CurrentIPTCDigest', at('digest.jpg')).trim(),
    );
  });
});
