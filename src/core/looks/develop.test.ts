import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromLinear, toLinear } from './colour-science';
import { type Corrections, SLIDERS } from './corrections';
import { developByFormulas } from './develop';
import { developQuickly } from './develop-quickly';
import { softened } from './sharpen';
import { toneOf } from './tone';

const FRAME = { width: 16, height: 16 };
/** Every grade once. */
const ramp = (): Float32Array => Float32Array.from({ length: 1024 }, (_, at) => (at % 4 === 3 ? 1 : (at >> 2) / 255));

/** Even noise, the same each time. */
function noise(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

/** Colours of all kinds, with runs and edges, as bytes. */
function testPicture(width: number, height: number): Uint8ClampedArray {
  const next = noise(7);
  const data = new Uint8ClampedArray(width * height * 4);
  for (let at = 0; at < data.length; at += 4) {
    const pixel = at / 4;
    const [x, y] = [(pixel % width) / width, Math.floor(pixel / width) / height];
    const patch = (Math.floor(x * 6) + Math.floor(y * 4)) % 3;
    data[at] = patch === 0 ? 255 * x : patch === 1 ? 255 * next() : 30 + 200 * y;
    data[at + 1] = patch === 0 ? 255 * y : patch === 1 ? 255 * next() : 30 + 200 * y;
    data[at + 2] = patch === 0 ? 255 * (1 - x) : patch === 1 ? 255 * next() : 30 + 200 * y;
    data[at + 3] = 255;
  }
  return data;
}

const asFloats = (bytes: Uint8ClampedArray): Float32Array => Float32Array.from(bytes, (byte) => byte / 255);

function randomCorrections(seed: number): Corrections {
  const next = noise(seed);
  const made: Corrections = {};
  for (const { key, from, to } of SLIDERS) if (next() < 0.45) made[key] = from + (to - from) * next();
  if (next() < 0.15) made.blackAndWhite = true;
  delete made.straighten;
  return made;
}

describe('the light of a picture', () => {
  it('without corrections every pixel stays, to the last bit, both ways', () => {
    const picture = testPicture(64, 48);
    const kept = picture.slice();
    developQuickly({ data: picture, width: 64, height: 48 }, {});
    expect(picture).toEqual(kept);
    developByFormulas(ramp(), FRAME, {}).forEach((part, at) =>
      expect(part * 255).toBeCloseTo((ramp()[at] ?? 0) * 255, 4),
    );
  });

  it('one EV doubles linear light, as far as white', () => {
    const made = developByFormulas(ramp(), FRAME, { exposure: 1 });
    for (let grade = 0; grade < 256; grade++) {
      const wanted = Math.min(1, 2 * toLinear(grade / 255));
      expect(toLinear(made[grade * 4] ?? 0)).toBeCloseTo(wanted, 6);
    }
  });

  it.each([
    ['exposure', { exposure: 1.3 }],
    ['tone', { black: 20, white: -15, shadows: 60, highlights: -70, contrast: 40 }],
    ['colour', { saturation: 50, vibrance: -40 }],
    ['corners', { vignette: -2 }],
    ['sharpening', { sharpening: 150 }],
  ] satisfies [string, Corrections][])('a grey ramp stays grey: %s', (_, corrections) => {
    const made = developByFormulas(ramp(), FRAME, corrections);
    for (let at = 0; at < made.length; at += 4) {
      expect(made[at + 1]).toBeCloseTo(made[at] ?? 0, 6);
      expect(made[at + 2]).toBeCloseTo(made[at] ?? 0, 6);
    }
  });

  it('the curve never falls, whatever is set, and meets its ends', () => {
    const ends = [-1, 0, 1];
    for (const black of ends)
      for (const white of ends)
        for (const shadows of ends)
          for (const highlights of ends)
            for (const contrast of ends) {
              const part = {
                black: black * 50,
                white: white * 50,
                shadows: shadows * 100,
                highlights: highlights * 100,
                contrast: contrast * 100,
              };
              let last = -1;
              for (let code = 0; code <= 1.3; code += 1 / 512) {
                const now = toneOf(code, part);
                expect(now).toBeGreaterThanOrEqual(last - 1e-12);
                expect(now).toBeLessThanOrEqual(1);
                last = now;
              }
            }
    expect(toneOf(0.25, { black: 50 })).toBe(0);
    expect(toneOf(0.75, { white: 50 })).toBe(1);
    expect(toneOf(0.5, { contrast: 100 })).toBeCloseTo(0.5, 12);
  });

  it('black and white is the luminance of linear light', () => {
    // the luminances of the primaries in IEC 61966-2-1: 0.2126, 0.7152, 0.0722
    const primaries = Float32Array.from([1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1]);
    const made = developByFormulas(primaries, { width: 4, height: 1 }, { blackAndWhite: true });
    [0.2126, 0.7152, 0.0722, 1].forEach((luminance, at) => {
      for (const part of [0, 1, 2]) expect(made[at * 4 + part]).toBeCloseTo(fromLinear(luminance), 3);
    });
  });

  it('corners fall by so many EV, the middle stays', () => {
    const size = { width: 201, height: 101 };
    const grey = new Float32Array(size.width * size.height * 4).fill(fromLinear(0.5));
    const made = developByFormulas(grey, size, { vignette: -1 });
    const at = (x: number, y: number) => toLinear(made[(y * size.width + x) * 4] ?? 0);
    expect(at(100, 50)).toBeCloseTo(0.5, 5);
    expect(at(0, 0)).toBeCloseTo(0.25, 1);
    expect(at(0, 0)).toBeCloseTo(at(200, 100), 6);
  });
});

describe('the quick way', () => {
  const [width, height] = [96, 64];
  const picture = testPicture(width, height);

  it.each(Array.from({ length: 60 }, (_, seed) => seed + 1))('is the reference within one grade of 256: %d', (seed) => {
    const corrections = randomCorrections(seed);
    const space = seed % 2 === 0 ? 'srgb' : 'display-p3';
    const quick = picture.slice();
    developQuickly({ data: quick, width, height }, corrections, space);
    const reference = developByFormulas(asFloats(picture), { width, height }, corrections, space);
    // sharpening adds what lies between neighbours, and with it the rounding of each of them
    const within = 1 + (corrections.sharpening ?? 0) / 100;
    let worst = 0;
    reference.forEach((part, at) => (worst = Math.max(worst, Math.abs(Math.round(part * 255) - (quick[at] ?? 0)))));
    expect(worst, JSON.stringify(corrections)).toBeLessThanOrEqual(within);
  });
});

describe('sharpening', () => {
  it('blurs as the reference library does', async () => {
    const [width, height] = [64, 48];
    const next = noise(3);
    const bytes = Uint8Array.from({ length: width * height }, () => Math.floor(256 * next()));
    const theirs = await sharp(bytes, { raw: { width, height, channels: 1 } })
      .blur({ sigma: 2, precision: 'float', minAmplitude: 0.01 })
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    const ours = softened(Float32Array.from(bytes), { width, height }, 2);
    // away from the edge, where each goes on in its own way
    for (let y = 8; y < height - 8; y++)
      for (let x = 8; x < width - 8; x++) {
        const at = y * width + x;
        expect(Math.abs((ours[at] ?? 0) - (theirs[at] ?? 0))).toBeLessThan(1.01);
      }
  });

  it('makes an edge steeper by what a blur takes from it, and leaves even ground', () => {
    const [width, height] = [20, 3];
    const edge = Float32Array.from({ length: width * height * 4 }, (_, at) =>
      at % 4 === 3 ? 1 : Math.floor(at / 4) % width < 10 ? 0.3 : 0.6,
    );
    const made = developByFormulas(edge, { width, height }, { sharpening: 100 });
    const at = (x: number) => made[(width + x) * 4] ?? 0;
    expect(at(9)).toBeLessThan(0.3);
    expect(at(10)).toBeGreaterThan(0.6);
    expect(at(2)).toBeCloseTo(0.3, 5);
    expect(at(17)).toBeCloseTo(0.6, 5);
  });
});
