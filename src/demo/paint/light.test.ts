// Light, film and the close-ups' relief: what must hold of them whatever the seed.

import { describe, expect, it } from 'vitest';
import { PLAIN_FILM, develop } from './film';
import { lightOf, skyColour, sunPatch } from './light';
import { type MotifFrame, sceneOf } from './motifs';
import { Noise } from './noise';
import { Relief, spline } from './relief';
import type { Canvas } from './canvas';
import type { Film } from './scene';

const frame = (sunHeight: number, cloud = 0): MotifFrame => ({
  seed: 5,
  variant: 0,
  moment: 0,
  width: 60,
  height: 40,
  weather: { sunHeight, sunTurn: 40, cloud, hazeM: 20_000, green: 1, snow: 0 },
  turned: 0,
  film: {},
});
const scene = (sunHeight: number, cloud = 0) => sceneOf('sound', frame(sunHeight, cloud));
const FILM: Film = { ...PLAIN_FILM, grain: 0 };

describe('light', () => {
  it('points to the sun with a unit vector, wherever it stands', () => {
    for (const height of [-10, 0, 5, 45, 89]) {
      const { sun } = lightOf(scene(height));
      expect(Math.hypot(...sun)).toBeCloseTo(1, 6);
      expect(sun[1]).toBeCloseTo(Math.sin((height * Math.PI) / 180), 6);
    }
  });

  it('is warmer when the sun is low, weaker under cloud, and gone at night', () => {
    const [high, low, grey, night] = [
      lightOf(scene(45)),
      lightOf(scene(4)),
      lightOf(scene(45, 0.95)),
      lightOf({ ...scene(-12), night: 1 }),
    ];
    expect(low.sunColour[2] / low.sunColour[0]).toBeLessThan(high.sunColour[2] / high.sunColour[0]);
    expect(grey.sunColour[1]).toBeLessThan(high.sunColour[1] * 0.4);
    expect(night.sunColour[1]).toBe(0);
    expect(night.horizon[1]).toBeLessThan(0.05);
  });

  it('the clear sky is bluer overhead than at the horizon, and brightest about the sun', () => {
    const clear = scene(30);
    const light = lightOf(clear);
    const noise = new Noise(5);
    const at = (x: number, y: number, z: number) => {
      const out = new Float32Array(3);
      const length = Math.hypot(x, y, z);
      skyColour({ ...clear, aurora: 0 }, light, noise, x / length, y / length, z / length, out);
      return out;
    };
    const [zenith, horizon, sun] = [at(-0.2, 1, 0), at(-1, 0.02, 1), at(...light.sun)];
    expect(zenith[2]! / zenith[0]!).toBeGreaterThan(horizon[2]! / horizon[0]!);
    expect(sun[0]).toBeGreaterThan(horizon[0]! * 2);
  });

  it('patches of sun lie on the ground under a broken sky only', () => {
    const noise = new Noise(5);
    const patches = (cloud: number) =>
      Array.from({ length: 200 }, (_, at) => sunPatch(scene(40, cloud), noise, at * 90, at * 37));
    expect(new Set(patches(0))).toEqual(new Set([1]));
    const broken = patches(0.5);
    expect(Math.max(...broken) - Math.min(...broken)).toBeGreaterThan(0.5);
    expect(Math.min(...broken)).toBeGreaterThanOrEqual(0);
  });
});

describe('film', () => {
  const even = (light: number): Canvas => {
    const { canvas } = { canvas: new Relief(40, 30, 40, 1).lit(0, 40, 1) };
    canvas.light.fill(light);
    canvas.depth.fill(1);
    return canvas;
  };
  const middle = (pixels: Uint8Array) => pixels[(15 * 40 + 20) * 3 + 1]!;
  const shot = (light: number, film: Partial<Film> = {}) =>
    develop(even(light), { film: { ...FILM, ...film }, seed: 1, width: 40, height: 30 });

  it('the meter makes of any light the same grey, and a stop more is lighter', () => {
    expect(Math.abs(middle(shot(0.05)) - middle(shot(0.8)))).toBeLessThan(12);
    expect(middle(shot(0.3, { exposure: 1 }))).toBeGreaterThan(middle(shot(0.3)) + 20);
    expect(middle(shot(0.3, { exposure: -1 }))).toBeLessThan(middle(shot(0.3)) - 20);
  });

  it('corners are darker than the middle, and grain spreads the values about it', () => {
    const plain = shot(0.3);
    expect(plain[1]).toBeLessThan(middle(plain) - 3);
    const spread = (pixels: Uint8Array) => new Set(pixels.filter((_, at) => at % 3 === 1)).size;
    expect(spread(shot(0.3, { grain: 0.08 }))).toBeGreaterThan(spread(plain));
  });

  it('warm is redder, cold is bluer', () => {
    const cast = (warmth: number) => {
      const pixels = shot(0.3, { warmth });
      return pixels[(15 * 40 + 20) * 3]! - pixels[(15 * 40 + 20) * 3 + 2]!;
    };
    expect(cast(1)).toBeGreaterThan(cast(0));
    expect(cast(-1)).toBeLessThan(cast(0));
  });

  it('what lies at the distance in focus stays sharp, what lies before it does not', () => {
    const striped = (depth: number) => {
      const canvas = even(0.1);
      for (let at = 0; at < canvas.light.length; at++) canvas.light[at] = Math.floor(at / 3) % 2 === 0 ? 0.9 : 0.05;
      canvas.depth.fill(depth);
      const pixels = develop(canvas, { film: { ...FILM, focusM: 10, aperture: 4 }, seed: 1, width: 40, height: 30 });
      return Math.abs(middle(pixels) - pixels[(15 * 40 + 21) * 3 + 1]!);
    };
    expect(striped(10)).toBeGreaterThan(100);
    expect(striped(2)).toBeLessThan(40);
  });
});

describe('relief', () => {
  it('a ball throws its shadow away from the sun', () => {
    const relief = new Relief(100, 60, 100, 3);
    relief.surface((_x, _y, put) => put(0, 0.4, 0.4, 0.4));
    relief.ball(50, 30, 8, 8, 0, 0, [0.4, 0.1, 0.1], 0.2);
    const { light } = relief.lit(0, 25, 0); // the sun stands to the right
    const at = (x: number) => light[(30 * 100 + x) * 3 + 1]!;
    expect(at(36)).toBeLessThan(at(66) * 0.6);
  });

  it('what is laid later lies on top only where it is higher', () => {
    const relief = new Relief(60, 40, 60, 3);
    relief.surface((_x, _y, put) => put(0, 0.1, 0.1, 0.1));
    relief.ball(30, 20, 10, 10, 5, 0, [0.5, 0, 0], 0);
    relief.ball(30, 20, 6, 6, 0, 0, [0, 0.5, 0], 0);
    expect(relief.colour[(20 * 60 + 30) * 3]).toBeGreaterThan(relief.colour[(20 * 60 + 30) * 3 + 1]!);
  });

  it('a rope covers its path with the width of its strands, and no more', () => {
    const relief = new Relief(100, 60, 100, 3);
    relief.rope(
      [
        [5, 30],
        [50, 30],
        [95, 30],
      ],
      3,
      () => 1,
      [0.4, 0.3, 0.2],
    );
    const covered = (x: number, y: number) => relief.height[y * 100 + x]! > 0;
    for (let x = 12; x < 90; x += 7) expect(covered(x, 30)).toBe(true);
    expect(covered(50, 36)).toBe(false);
    expect(covered(50, 24)).toBe(false);
  });

  it('a spline goes through the points it is given', () => {
    const points = [
      [0, 0],
      [10, 5],
      [20, -5],
      [30, 0],
    ] as const;
    const curve = spline(points, 30);
    for (const [index, [x, y]] of points.entries()) {
      expect(curve[index * 10]![0]).toBeCloseTo(x, 6);
      expect(curve[index * 10]![1]).toBeCloseTo(y, 6);
    }
  });
});
