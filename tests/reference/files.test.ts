// Files of hundreds of cameras and programs, among them ones made to break readers: the test pictures of ExifTool 12.57
// and exiv2 0.27.6 (Debian's source packages, fetched by `npm test`). Technical data against ExifTool tag by tag,
// reconciled fields against ExifTool's own reading by the MWG's rules, and hostile files within their budget.

import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { planEmbed, takesMetadata } from '@/core/metadata/embed/embed';
import { toStrings, positionIn } from '@/core/fields/values';
import { listProperties } from '@/core/metadata/reading/properties';
import { type PhotoReading, readPhoto, turned } from '@/core/metadata/reading/reading';
import { newDigest } from '../../tools/node-digest';

const CORPORA = ['.reference/libimage-exiftool-perl/t/images', '.reference/exiv2/test/data'];
const files = CORPORA.filter(existsSync)
  .flatMap((folder) =>
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => path.join(entry.parentPath, entry.name)),
  )
  .sort();
const readings = new Map<string, PhotoReading>();
let slowestMs = 0;

type Theirs = Record<string, unknown> & { SourceFile: string };
const askExiftool = (...tags: string[]): Map<string, Theirs> => {
  const output = execFileSync(
    'sh',
    ['-c', `exiftool -json -n -struct -q -fast -charset filename=utf8 ${tags.join(' ')} -@ - 2>/dev/null; exit 0`],
    { encoding: 'utf8', input: files.join('\n'), maxBuffer: 1 << 28 },
  );
  return new Map((JSON.parse(output) as Theirs[]).map((one) => [one.SourceFile, one]));
};

describe.runIf(files.length > 0)('files of many cameras and programs', () => {
  beforeAll(async () => {
    for (const file of files) {
      const started = performance.now();
      readings.set(file, await readPhoto(memorySource(readFileSync(file)), file));
      slowestMs = Math.max(slowestMs, performance.now() - started);
    }
  });

  afterAll(() =>
    console.log(
      `agreement, ${files.length} files of ExifTool’s and exiv2’s: ${[...tally].map(([what, { compared, equal }]) => `${what} ${equal} of ${compared}`).join(', ')}; slowest file ${slowestMs.toFixed(0)} ms`,
    ),
  );

  const tally = new Map<string, { compared: number; equal: number }>();
  const differing: string[] = [];
  function compare(what: string, file: string, ours: unknown, theirs: unknown): void {
    const said = (value: unknown) =>
      typeof value === 'number'
        ? Number(value.toPrecision(5))
        : value === null || value === undefined
          ? ''
          : String(value).trim();
    if (said(theirs) === '') return;
    const sum = tally.get(what) ?? { compared: 0, equal: 0 };
    sum.compared += 1;
    tally.set(what, sum);
    if (
      said(ours) === said(theirs) ||
      (typeof ours === 'number' && Math.abs(ours - Number(theirs)) <= 1e-5 * Math.abs(ours))
    )
      sum.equal += 1;
    else differing.push(`${path.basename(file)} ${what}`);
  }

  it('have the size, camera, lens, exposure, date and place that ExifTool reads in EXIF, but for the files named', () => {
    const theirs = askExiftool(
      '-ExifIFD:all',
      '-IFD0:Make',
      '-IFD0:Model',
      '-IFD0:Orientation',
      '-IFD0:Rating',
      '-XMP-xmp:Rating',
      '-Nikon:ISO',
      '-Canon:CameraISO',
      '-File:ImageWidth',
      '-File:ImageHeight',
      '-PNG:ImageWidth',
      '-PNG:ImageHeight',
      '-RIFF:ImageWidth',
      '-RIFF:ImageHeight',
      '-GIF:ImageWidth',
      '-GIF:ImageHeight',
      '-Photoshop:ImageWidth',
      '-Composite:GPSLatitude',
      '-Composite:GPSLongitude',
      '-G1',
    );
    let compared = 0;
    for (const [file, ours] of readings) {
      const their = theirs.get(file);
      // a hostile file has no right answer; what it must not do is tested below
      if (!their || ours.format === 'unknown' || ours.format === 'xmp' || ours.problems.length > 0) continue;
      const [width, height] = turned(ours.orientation, ours.width, ours.height);
      const group = ['File', 'PNG', 'RIFF', 'GIF'].find(
        (name) => their[`${name}:ImageWidth`] !== undefined && ours.format !== 'raf',
      );
      compare('width', file, width, their[`${group}:ImageWidth`]);
      compare('height', file, height, their[`${group}:ImageHeight`]);
      compare('make', file, ours.camera.make, their['IFD0:Make']);
      compare('model', file, ours.camera.model, their['IFD0:Model']);
      compare('lens', file, ours.lens, their['ExifIFD:LensModel']);
      compare('fNumber', file, ours.exposure.fNumber, their['ExifIFD:FNumber'] || undefined);
      compare('seconds', file, ours.exposure.seconds, their['ExifIFD:ExposureTime']);
      compare('iso', file, ours.exposure.iso, Number(their['ExifIFD:ISO']) || undefined);
      // where EXIF has none, the makers' notes of two cameras; the older one of them writes a zero before the number
      if (their['ExifIFD:ISO'] === undefined)
        compare(
          'iso in the note',
          file,
          ours.exposure.iso,
          Number(
            String(their['Nikon:ISO'] ?? their['Canon:CameraISO'] ?? '')
              .split(' ')
              .pop(),
          ) || undefined,
        );
      if (their['XMP-xmp:Rating'] === undefined)
        compare('rating in EXIF', file, ours.fields.rating, their['IFD0:Rating'] || undefined);
      compare('focalMm', file, ours.exposure.focalMm, Number(their['ExifIFD:FocalLength']) || undefined);
      if (ours.sources.captured === 'exif')
        compare(
          'captured',
          file,
          String(ours.fields.captured).slice(0, 19).replace('T', ' ').replaceAll('-', ':'),
          String(their['ExifIFD:DateTimeOriginal'] ?? '').slice(0, 19),
        );
      compare('lat', file, positionIn(ours.fields)?.lat, their['Composite:GPSLatitude']);
      compare('lon', file, positionIn(ours.fields)?.lon, their['Composite:GPSLongitude']);
      compared += 1;
    }
    expect(compared).toBeGreaterThan(200);
    expect(differing.splice(0)).toEqual(TECHNICAL_DIFFERS);
  });

  it('have the fields that ExifTool reads by the rules of the Metadata Working Group, but for those named', () => {
    const theirs = askExiftool('-use MWG', '-MWG:all', '-XMP-photoshop:Headline', '-XMP-dc:Title');
    const names = {
      caption: 'Description',
      keywords: 'Keywords',
      creator: 'Creator',
      copyrightNotice: 'Copyright',
      city: 'City',
      province: 'State',
      country: 'Country',
      sublocation: 'Location',
      rating: 'Rating',
    } as const;
    for (const [file, ours] of readings) {
      const their = theirs.get(file);
      if (!their || ours.format === 'unknown' || ours.problems.length > 0) continue;
      for (const [key, name] of Object.entries(names)) {
        const value = their[name];
        if (value === undefined) continue;
        const words = [value].flat().map((item) => String(item).replace(/\r\n?/g, '\n').trim());
        compare(
          'fields',
          file,
          toStrings(ours.fields[key as keyof typeof names])
            .map((item) => item.replace(/\r\n?/g, '\n').trim())
            .join(' | '),
          [...new Set(words)].join(' | '),
        );
      }
    }
    expect(tally.get('fields')?.compared).toBeGreaterThan(250);
    expect(differing.splice(0)).toEqual(FIELDS_THAT_DIFFER);
  });

  it('end in a reading within their budget, whatever they are, and list their properties', async () => {
    expect(readings.size).toBe(files.length);
    expect(slowestMs).toBeLessThan(5000);
    for (const file of files)
      expect(Array.isArray(await listProperties(memorySource(readFileSync(file)), file)), file).toBe(true);
  });

  it('take fields without their picture changing, or refuse with a reason', async () => {
    const outcomes = new Map<string, number>();
    const refused: string[] = [];
    for (const [file, reading] of readings) {
      if (reading.format === 'unknown' || !takesMetadata(reading.format, file)) continue;
      const plan = await planEmbed(
        memorySource(readFileSync(file)),
        file,
        { ...reading.fields, title: 'Bátur 北', caption: 'á' },
        newDigest,
      );
      const outcome = plan.state === 'refused' ? plan.reason : plan.state;
      outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
      if (reading.problems.length === 0 && outcome !== 'planned') refused.push(path.basename(file));
    }
    expect(refused).toEqual(EMBED_REFUSED);
    expect(outcomes.get('planned')).toBeGreaterThan(150);
    console.log(`embedding into them: ${[...outcomes].map(([outcome, count]) => `${outcome} ${count}`).join(', ')}`);
  });
});

/**
 * Of this raw we give the size of the picture on the sensor; under that name ExifTool gives the size of the JPEG in it.
 */
const TECHNICAL_DIFFERS = ['Panasonic.rw2 width', 'Panasonic.rw2 height'];
const FIELDS_THAT_DIFFER = [
  'exiv2-bug1229.jpg fields', // the property stands twice in the packet; we take the first, ExifTool the last
  'exiv2-bug501.jpg fields', // one dataset is UTF-8 among others in Latin-1; we decide dataset by dataset
  ...['exiv2-olympus-c8080wz.jpg', 'Olympus.jpg', 'Olympus2.jpg', 'OlympusE1.jpg'].map((name) => `${name} fields`), // the camera's own filler is no caption to us
];
/** Files whose reading names no damage and that are refused all the same. */
const EMBED_REFUSED = [
  '01-Null-exiv2-poc',
  'POC7', // made to break readers: strips that reach into the header, so the picture would change
  'ReaganLargePng.png',
  'ReaganSmallPng.png', // EXIF as old hexadecimal text in PNG, which would go on to say the old caption
  'cve_2017_1000126_stack-oob-read.webp', // seventeen bytes
  'exiv2-bug922.jpg', // EXIF fills its segment to the last bytes
  'BigTIFF.btf', // read, and never written into
];
