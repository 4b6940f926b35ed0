// The demo archive against ExifTool: every file is read without a warning but the one planted on purpose, what was
// planned is what is read, and the same seed gives the same bytes.

import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { readPhoto } from '@/core/reading/reading';
import { makeFrame } from '@/demo/archive/frames';
import { SHOOTS, fieldsOf } from '@/demo/archive/shoots';

type Reading = Record<string, unknown>;
let readings: Reading[] = [];

/** A file that never finished writing, as old cards leave them. */
const PLANTED = ['.demo/attic/07-2004 Klaksvik/FJC_0216.JPG'];

beforeAll(() => {
  const output = execFileSync('sh', ['-c', "exiftool -json -n -struct -charset filename=utf8 -charset iptc=Latin -warning -error -DateTimeOriginal -Model -Orientation -ImageSize -IPTC:Headline -IPTC:Keywords -XMP:Headline -FileType -r .demo; exit 0"], { encoding: 'utf8', maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'ignore'] });
  readings = (JSON.parse(output) as Reading[]).filter(({ SourceFile }) => !/\.(json|txt)$/.test(String(SourceFile)));
});

describe('the demo archive', () => {
  it('has the photos of its plan, and sidecars where they are described so', () => {
    const frames = SHOOTS.reduce((sum, shoot) => sum + shoot.frames, 0);
    const copies = SHOOTS.filter(({ drive, folder }) => drive === 'studio' && folder.startsWith('2019/')).reduce((sum, shoot) => sum + shoot.frames, 0);
    const photos = readings.filter(({ FileType, SourceFile }) => FileType !== 'XMP' && !PLANTED.includes(String(SourceFile)));
    expect(photos).toHaveLength(frames + copies);
    const described = SHOOTS.filter((shoot) => shoot.described === 'sidecar').reduce((sum, shoot) => sum + shoot.frames, 0);
    expect(readings.filter(({ FileType }) => FileType === 'XMP')).toHaveLength(described + copies);
  });

  it('is read by ExifTool without a warning, but for the file planted', () => {
    expect(readings.filter(({ Warning, Error: fault }) => Warning !== undefined || fault !== undefined).map(({ SourceFile }) => SourceFile)).toEqual(PLANTED);
  });

  it('is read by us as by ExifTool: dates, cameras, turned sizes and the Latin-1 text of old files', async () => {
    let compared = 0;
    for (const theirs of readings) {
      const file = String(theirs.SourceFile);
      if (theirs.FileType !== 'JPEG' || PLANTED.includes(file)) continue;
      const ours = await readPhoto(memorySource(readFileSync(file)), file);
      expect(ours.problems, file).toEqual([]);
      expect(ours.captured?.written.replace('T', ' ').replaceAll('-', ':'), file).toBe(theirs.DateTimeOriginal);
      expect(ours.camera.model, file).toBe(theirs.Model);
      const [width, height] = String(theirs.ImageSize).split(/[ x]/).map(Number);
      expect(theirs.Orientation === 6 ? [ours.height, ours.width] : [ours.width, ours.height], file).toEqual([width, height]);
      expect(ours.fields.headline, file).toBe(theirs.Headline);
      if (theirs.Keywords !== undefined) expect(ours.fields.keywords, file).toEqual([theirs.Keywords].flat().map(String));
      compared += 1;
    }
    expect(compared).toBeGreaterThan(55);
  });

  it('the same seed gives the same bytes, and they are those on the disk', async () => {
    const number = SHOOTS.findIndex(({ motif }) => motif === 'fog');
    const shoot = SHOOTS[number];
    if (!shoot) throw new Error('there is a shoot in fog');
    const digest = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
    for (const { path, bytes } of await makeFrame(shoot, number, 0)) expect(digest(bytes), path).toBe(digest(readFileSync(`.demo/${shoot.drive}/${path}`)));
  });

  it('is described unevenly, as archives are: some photos have no caption, some no keyword, some no rating', () => {
    const all = SHOOTS.flatMap((shoot) => Array.from({ length: shoot.frames }, (_, frame) => fieldsOf(shoot, frame)));
    for (const key of ['caption', 'keywords', 'rating'] as const) {
      const having = all.filter((fields) => fields[key] !== undefined).length;
      expect(having, key).toBeGreaterThan(all.length / 4);
      expect(having, key).toBeLessThan(all.length);
    }
  });
});
