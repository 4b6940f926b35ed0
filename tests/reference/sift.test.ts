// Sifting against authorities: sharpness and histogram against sharp (libvips), orientation as sharp turns it, the sets
// of the demo against what was planned when its pictures were painted, print sizes against arithmetic of the trade.

import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { baseOf, foldName } from '@/core/names/file-names';
import { readPhoto } from '@/core/metadata/reading/reading';
import { type Grey, greyOf } from '@/core/picture/grey';
import { histogramOf } from '@/core/picture/histogram';
import { OVERLAP_PIXELS, overlapsAtEdge } from '@/core/picture/overlap';
import { type Member, findSets, panoramaQuestions } from '@/core/sift/sets';
import { laplacianSpread, sharpnessOf } from '@/core/picture/sharpness';
import { shotOf } from '@/core/sift/shot';
import { frameName, viewsOf } from '@/demo/archive/shoot';
import { SHOOTS } from '@/demo/archive/shoots';

const PICTURES = 'src/demo/pictures';
const picture = (drive: string) => {
  const name = readdirSync(path.join(PICTURES, drive)).find((one) => one.endsWith('.jpg'));
  return path.join(PICTURES, drive, name ?? '');
};

async function pixelsOf(image: Sharp): Promise<{ width: number; height: number; data: Buffer }> {
  const { data, info } = await image.ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** The blur of a lens out of focus, by its sigma in pixels; 0 leaves the frame as it is. */
const SIGMAS = [0, 0.7, 1, 1.4, 2, 3.5];

describe('sharpness', () => {
  it('on frames blurred by known amounts falls with each, and orders them as sharp’s figure does', async () => {
    let frames = 0;
    for (const drive of ['studio', 'harbour', 'attic', 'card']) {
      const ours: number[] = [];
      const theirs: number[] = [];
      for (const sigma of SIGMAS) {
        const base = sharp(picture(drive)).greyscale();
        const blurred = await (sigma === 0 ? base : base.blur(sigma)).png().toBuffer();
        ours.push(sharpnessOf(greyOf(await pixelsOf(sharp(blurred)))));
        theirs.push((await sharp(blurred).stats()).sharpness);
        frames += 1;
      }
      expect(ours, drive).toEqual([...ours].sort((a, b) => b - a));
      expect(new Set(ours).size, drive).toBe(SIGMAS.length);
      const order = (figures: number[]) =>
        figures
          .map((figure, index) => [figure, index] as const)
          .sort(([a], [b]) => b - a)
          .map(([, index]) => index);
      expect(order(ours), drive).toEqual(order(theirs));
    }
    expect(frames).toBe(24);
  });

  it('its Laplacian is that of libvips, to the rounding of its eight bits', async () => {
    const png = await sharp(picture('studio')).greyscale().resize(600, 400).png().toBuffer();
    const { width, height, data } = await pixelsOf(sharp(png));
    // an eighth of it around 128, so that eight bits hold it
    const convolved = await sharp(png)
      .convolve({ width: 3, height: 3, kernel: [0, 1, 0, 1, -4, 1, 0, 1, 0], scale: 8, offset: 128 })
      .greyscale()
      .raw()
      .toBuffer();
    const inner = Array.from(convolved).filter(
      (_, at) => at % width > 0 && at % width < width - 1 && at >= width && at < convolved.length - width,
    );
    const mean = inner.reduce((sum, value) => sum + value, 0) / inner.length;
    const spread = 8 * Math.sqrt(inner.reduce((sum, value) => sum + (value - mean) ** 2, 0) / inner.length);
    const grey: Grey = {
      width,
      height,
      values: Float32Array.from({ length: width * height }, (_, at) => data[4 * at] ?? 0),
    };
    expect(laplacianSpread(grey) / spread).toBeGreaterThan(0.97);
    expect(laplacianSpread(grey) / spread).toBeLessThan(1.03);
  });
});

describe('the histogram', () => {
  it('has the mean and the spread of each channel that sharp has', async () => {
    const pixels = await pixelsOf(sharp(picture('harbour')));
    const { channels } = await sharp(picture('harbour')).stats();
    const counted = histogramOf(pixels.data);
    for (const [index, name] of (['red', 'green', 'blue'] as const).entries()) {
      const bins = counted[name];
      const mean = bins.reduce((sum, count, value) => sum + count * value, 0) / counted.pixels;
      const spread = Math.sqrt(
        bins.reduce((sum, count, value) => sum + count * (value - mean) ** 2, 0) / counted.pixels,
      );
      expect(mean).toBeCloseTo(channels[index]?.mean ?? NaN, 6);
      expect(spread).toBeCloseTo(channels[index]?.stdev ?? NaN, 2); // sharp divides by one less
      expect(bins.findIndex((count) => count > 0)).toBe(channels[index]?.min);
    }
  });
});

async function smallGray(bytes: Buffer): Promise<Grey> {
  const { width = 3, height = 2 } = await sharp(bytes).metadata();
  const scale = OVERLAP_PIXELS / Math.max(width, height);
  return greyOf(await pixelsOf(sharp(bytes).resize(Math.round(width * scale), Math.round(height * scale))));
}

/** The demo's own photos, by file. Raws are compared by the JPEG inside, as previews are. */
async function demoPhotos(): Promise<{ members: Member[]; bytes: Map<string, Buffer> }> {
  const members: Member[] = [];
  const bytes = new Map<string, Buffer>();
  const seen = new Set<string>();
  const files = ['attic', 'harbour', 'studio', 'card'].flatMap((drive) =>
    readdirSync(`.demo/${drive}`, { recursive: true, encoding: 'utf8' }).map((file) => `.demo/${drive}/${file}`),
  );
  for (const file of files.filter((name) => /\.(jpe?g|dng|png|webp|avif|tif)$/i.test(name))) {
    const content = readFileSync(file);
    const digest = createHash('sha256').update(content).digest('hex');
    if (seen.has(digest)) continue; // frames of the card that were taken in before: in a catalog they are one photo
    seen.add(digest);
    const reading = await readPhoto(memorySource(content), file);
    const { dir, base: name } = path.parse(file);
    members.push({ id: file, name, shot: shotOf(reading, reading.fields, [foldName(`${dir}/${baseOf(name)}`)], {}) });
    const inside = reading.previews.find(({ coding, length }) => coding === 'jpeg' && length > 20_000);
    bytes.set(
      file,
      reading.format === 'raw' || /\.dng$/i.test(file)
        ? content.subarray(inside?.offset ?? 0, (inside?.offset ?? 0) + (inside?.length ?? 0))
        : content,
    );
  }
  return { members, bytes };
}

describe('sets', () => {
  it('of the demo are those that were planned: each bracket, burst and panorama, and no other', async () => {
    const { members, bytes } = await demoPhotos();
    let asked = 0;
    for (const [a, b] of panoramaQuestions(members)) {
      a.shot.overlaps[b.id] = overlapsAtEdge(
        await smallGray(bytes.get(a.id) ?? Buffer.alloc(0)),
        await smallGray(bytes.get(b.id) ?? Buffer.alloc(0)),
      );
      asked += 1;
    }
    const stem = ({ name }: Member) => baseOf(name);
    const found = findSets(members)
      .filter(({ kind }) => kind !== 'companion')
      .map(({ kind, members: of }) => `${kind} ${[...new Set(of.map(stem))].join(' ')}`);
    const planned = SHOOTS.flatMap((shoot) =>
      viewsOf(shoot).flatMap(({ kind, frames }) =>
        kind === 'bracket' || kind === 'burst' || kind === 'panorama'
          ? [`${kind} ${frames.map((frame) => frameName(shoot, frame)).join(' ')}`]
          : [],
      ),
    );
    expect(asked).toBeGreaterThan(8);
    expect(planned.length).toBeGreaterThan(20);
    expect([...new Set(found)].sort()).toEqual(planned.sort());
    const companions = SHOOTS.filter(({ format }) => format === 'dng+jpeg').flatMap((shoot) =>
      viewsOf(shoot).flatMap(({ frames }) => frames),
    ).length;
    expect(findSets(members).filter(({ kind }) => kind === 'companion')).toHaveLength(companions);
  });
});
