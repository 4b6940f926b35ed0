import { describe, expect, it } from 'vitest';
import { Canvas } from './canvas';
import { develop } from './film';
import { type Frame, type Motif, sceneOf } from './motifs';
import { Noise } from './noise';
import { paintScene } from './paint';

const DAY = { sunHeight: 35, sunTurn: 60, cloud: 0.4, hazeM: 20_000, green: 0.8, snow: 0 };
const frame = (motif: Motif, more: Partial<Frame> = {}): Frame => ({ motif, seed: 410, variant: 0, width: 96, height: 64, weather: DAY, exposure: 0, blur: 0, ...more });
const picture = (given: Frame) => {
  const scene = sceneOf(given);
  return develop(paintScene(scene), scene);
};
const mean = (pixels: Uint8Array) => pixels.reduce((sum, value) => sum + value, 0) / pixels.length;

describe('painting', () => {
  it('the same seed gives the same picture, another seed or variant another', () => {
    const first = picture(frame('sound'));
    expect(picture(frame('sound'))).toEqual(first);
    expect(picture(frame('sound', { seed: 411 }))).not.toEqual(first);
    expect(picture(frame('sound', { variant: 1 }))).not.toEqual(first);
  });

  it('a bracket differs by exposure only: darker, as metered, brighter', () => {
    const [under, metered, over] = [-1.5, 0, 1.5].map((exposure) => mean(picture(frame('harbour', { exposure }))));
    expect(under).toBeLessThan(metered ?? 0);
    expect(metered).toBeLessThan(over ?? 0);
  });

  it('night is darker than day, and fog is flatter', () => {
    const spread = (pixels: Uint8Array) => {
      const middle = mean(pixels);
      return Math.sqrt(pixels.reduce((sum, value) => sum + (value - middle) ** 2, 0) / pixels.length);
    };
    expect(mean(picture(frame('night')))).toBeLessThan(mean(picture(frame('harbour'))) - 20);
    expect(spread(picture(frame('fog')))).toBeLessThan(spread(picture(frame('village'))));
  });

  it('out of focus, neighbouring pixels differ less', () => {
    const roughness = (pixels: Uint8Array) => pixels.reduce((sum, value, at) => sum + Math.abs(value - (pixels[at + 3] ?? value)), 0);
    expect(roughness(picture(frame('shore', { blur: 4 })))).toBeLessThan(roughness(picture(frame('shore'))));
  });

  it.each(['sound', 'boathouses', 'village', 'lighthouse', 'ferry', 'bird-cliff', 'sheep', 'snow', 'aurora', 'falls', 'old-print'] as Motif[])('%s fills every pixel, upright too', (motif) => {
    const canvas = paintScene(sceneOf(frame(motif, { width: 48, height: 72 })));
    expect(canvas.light.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
    expect(canvas.light.some((value) => value > 0.001)).toBe(true);
  });
});

describe('the brush', () => {
  it('covers a pixel as far as the polygon does, and nothing behind something nearer', () => {
    const canvas = new Canvas(4, 4);
    canvas.depth[5] = 1;
    canvas.fill([[0.5, 0], [4, 0], [4, 4], [0.5, 4]], 10, 1, null, () => [1, 1, 1]);
    expect(canvas.light[0]).toBeCloseTo(0.5, 5);
    expect(canvas.light[3]).toBe(1);
    expect(canvas.light[5 * 3]).toBe(0);
  });

  it('noise stays within its bounds and has no jumps', () => {
    const noise = new Noise(7);
    for (let step = 0; step < 2000; step++) {
      const [here, near] = [noise.at(step * 0.137, step * 0.071), noise.at(step * 0.137 + 0.001, step * 0.071)];
      expect(Math.abs(here)).toBeLessThan(1);
      expect(Math.abs(here - near)).toBeLessThan(0.01);
    }
  });
});
