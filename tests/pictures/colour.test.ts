// Colours of patches whose numbers mean something else in every profile, against what a colour library of its own
// computes of them (culori; CIEDE2000 as CIE 142 defines it).

import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Color, clampRgb, converter, differenceCiede2000 } from 'culori';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Chart, SPACES, chart, greyProfile, jpegOf, pngOf, psdOf, rgbProfile, tiffOf } from './charts';
import { type PictureRoom, openRoom } from './room';

const folder = mkdtempSync(path.join(tmpdir(), 'wembo-charts-'));
const toRgb = converter('rgb');
const distance = differenceCiede2000();

let room: PictureRoom;
beforeAll(async () => {
  room = await openRoom();
});
afterAll(() => room.close());

/** How far the patches are from what they should be, in CIEDE2000. */
async function distances(name: string, file: Buffer, { patches }: Chart, meant: (numbers: number[]) => Color) {
  const target = path.join(folder, name);
  writeFileSync(target, file);
  const opened = await room.open(target, { spots: patches.map(({ spot }) => spot) });
  if (opened.state !== 'opened') throw new Error(`${name}: ${opened.code}`);
  return patches.map(({ numbers }, index) => {
    const [r = 0, g = 0, b = 0] = (opened.pixels ?? []).slice(index * 4, index * 4 + 3).map((value) => value / 255);
    // what the screen of the test cannot show is cut off at its gamut, in both
    return distance({ mode: 'rgb', r, g, b }, clampRgb(toRgb(meant(numbers))));
  });
}

const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

describe('colours by their profile', () => {
  const colours = chart(3);
  const containers: [string, (profile: Buffer) => Promise<Buffer> | Buffer][] = [
    ['jpg', (profile) => jpegOf(colours, profile)],
    ['png', (profile) => pngOf(colours, profile)],
    ['tif', (profile) => tiffOf(colours, profile, 8)],
    ['16.tif', (profile) => tiffOf(colours, profile, 16)],
    ['psd', (profile) => psdOf(colours, profile)],
  ];
  for (const space of SPACES)
    it(`${space.name}: within 1 on average in every container`, async () => {
      const means: Record<string, number> = {};
      for (const [ending, make] of containers) {
        const file = await make(rgbProfile(space));
        const found = await distances(`${space.mode}.${ending}`, file, colours, (numbers) => {
          const [r = 0, g = 0, b = 0] = numbers.map((value) => value / 255);
          return { mode: space.mode, r, g, b };
        });
        means[ending] = mean(found);
      }
      expect(Object.keys(means)).toHaveLength(containers.length);
      for (const [ending, value] of Object.entries(means)) expect(value, ending).toBeLessThan(1);
    });

  it('grey with a gamma of its own, and untagged as sRGB', async () => {
    const greys = chart(1);
    const light = (numbers: number[]): Color => {
      const value = ((numbers[0] ?? 0) / 255) ** 1.8;
      return { mode: 'lrgb', r: value, g: value, b: value };
    };
    const plain = (numbers: number[]): Color => {
      const value = (numbers[0] ?? 0) / 255;
      return { mode: 'rgb', r: value, g: value, b: value };
    };
    expect(mean(await distances('grey.tif', tiffOf(greys, greyProfile(1.8), 8), greys, light))).toBeLessThan(1);
    expect(mean(await distances('grey.psd', psdOf(greys, greyProfile(1.8)), greys, light))).toBeLessThan(1);
    expect(mean(await distances('untagged.tif', tiffOf(greys, null, 16), greys, plain))).toBeLessThan(0.5);
  });

  it('would be far off if the profile were not read', () => {
    const ignored = SPACES.slice(1).map((space) =>
      mean(
        colours.patches.map(({ numbers }) => {
          const [r = 0, g = 0, b = 0] = numbers.map((value) => value / 255);
          return distance({ mode: 'rgb', r, g, b }, clampRgb(toRgb({ mode: space.mode, r, g, b })));
        }),
      ),
    );
    for (const value of ignored) expect(value).toBeGreaterThan(1.5);
  });
});
