import { describe, expect, it } from 'vitest';
import { CLOSEUPS, paintCloseup } from './closeups';
import { PLAIN_FILM, develop } from './film';
import { type MotifFrame, OUTDOORS, type Outdoors, sceneOf } from './motifs';
import { paintScene, paintStage, paintSubjects } from './paint';
import type { Film } from './scene';

const DAY = { sunHeight: 35, sunTurn: 60, cloud: 0.4, hazeM: 20_000, green: 0.8, snow: 0 };
const frame = (more: Partial<MotifFrame> = {}): MotifFrame => ({
  seed: 410,
  variant: 0,
  moment: 0,
  width: 96,
  height: 64,
  weather: DAY,
  turned: 0,
  film: {},
  ...more,
});
const picture = (motif: Outdoors, more: Partial<MotifFrame> = {}) => {
  const scene = sceneOf(motif, frame(more));
  return develop(paintScene(scene), scene);
};
const PLAIN: Film = { ...PLAIN_FILM, grain: 0 };
const mean = (pixels: Uint8Array) => pixels.reduce((sum, value) => sum + value, 0) / pixels.length;
const spread = (pixels: Uint8Array) => {
  const middle = mean(pixels);
  return Math.sqrt(pixels.reduce((sum, value) => sum + (value - middle) ** 2, 0) / pixels.length);
};
const roughness = (pixels: Uint8Array) =>
  pixels.reduce((sum, value, at) => sum + Math.abs(value - (pixels[at + 3] ?? value)), 0);
const likeness = (one: Float32Array, other: Float32Array) => {
  const [a, b] = [
    one.reduce((sum, value) => sum + value, 0) / one.length,
    other.reduce((sum, value) => sum + value, 0) / other.length,
  ];
  let [both, first, second] = [0, 0, 0];
  one.forEach((value, at) => {
    both += (value - a) * (other[at]! - b);
    first += (value - a) ** 2;
    second += (other[at]! - b) ** 2;
  });
  return both / Math.sqrt(first * second);
};

describe('pictures', () => {
  it('the same seed gives the same picture; another seed, view or moment another', () => {
    const first = picture('quay');
    expect(picture('quay')).toEqual(first);
    expect(picture('quay', { seed: 411 })).not.toEqual(first);
    expect(picture('quay', { variant: 1 })).not.toEqual(first);
    expect(picture('quay', { moment: 2 })).not.toEqual(first);
  });

  it('in a burst the subject moves and the rest stays', () => {
    const [before, after] = [
      picture('ferry', { film: { grain: 0 } }),
      picture('ferry', { moment: 3, film: { grain: 0 } }),
    ];
    const changed = before.filter((value, at) => Math.abs(value - after[at]!) > 12).length / before.length;
    expect(changed).toBeGreaterThan(0.002);
    expect(changed).toBeLessThan(0.3);
  });

  it('the frames of a panorama overlap: what one shows at its right, the next shows farther left', () => {
    const [left, right] = [0, 0.25].map((turned) => sceneOf('heights', frame({ turned })));
    const [one, next] = [paintStage(left!).canvas, paintStage(right!).canvas];
    const focal = left!.height / 2 / Math.tan((left!.fieldOfView * Math.PI) / 360);
    const shift = Math.round(0.25 * focal);
    const strip = (canvas: typeof one, from: number) =>
      Float32Array.from(
        { length: 20 * 64 },
        (_, at) => canvas.light[(Math.floor(at / 20) * 96 + from + (at % 20)) * 3 + 1]!,
      );
    expect(likeness(strip(one, 40 + shift), strip(next, 40))).toBeGreaterThan(0.9);
    expect(likeness(strip(one, 40), strip(next, 40))).toBeLessThan(likeness(strip(one, 40 + shift), strip(next, 40)));
  });

  it('a bracket differs by exposure only: darker, as metered, brighter', () => {
    const [under, metered, over] = [-1.5, 0, 1.5].map((exposure) => mean(picture('harbour', { film: { exposure } })));
    expect(under).toBeLessThan(metered! - 15);
    expect(metered).toBeLessThan(over! - 15);
  });

  it('night is darker than day, and fog is flatter', () => {
    expect(mean(picture('night'))).toBeLessThan(mean(picture('harbour')) - 20);
    expect(spread(picture('fog'))).toBeLessThan(spread(picture('village')));
  });

  it.each([
    ['out of focus', { blur: 4 }],
    ['shaken', { shake: 9 }],
  ] as const)('%s, neighbouring pixels differ less', (_, film) => {
    expect(roughness(picture('slip', { film: { ...film, grain: 0 } }))).toBeLessThan(
      roughness(picture('slip', { film: { grain: 0 } })) * 0.85,
    );
  });

  it('a scan of an old print has no colour but its paper’s, and specks on it', () => {
    const old = picture('harbour', { width: 240, height: 160, film: { monochrome: true, wear: 1, grain: 0 } });
    const clean = picture('harbour', { width: 240, height: 160, film: { monochrome: true, grain: 0 } });
    for (let at = 0; at < clean.length; at += 3) expect(Math.abs(clean[at]! - clean[at + 2]!)).toBeLessThan(4);
    const lighter = old.filter((value, at) => value - clean[at]! > 40).length;
    expect(lighter).toBeGreaterThan(20);
  });

  it.each(OUTDOORS)('%s fills every pixel, upright too, by day and in snow', (motif) => {
    for (const weather of [DAY, { ...DAY, snow: 0.9, snowfall: 0.5, cloud: 0.9 }]) {
      const canvas = paintScene(sceneOf(motif, frame({ width: 48, height: 72, weather })));
      expect(canvas.light.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
      expect(canvas.light.some((value) => value > 0.001)).toBe(true);
    }
  });

  it.each(CLOSEUPS)('%s fills every pixel, and two views of it differ', (motif) => {
    const close = (variant: number) =>
      paintCloseup(motif, { seed: 433, variant, width: 72, height: 48, sunHeight: 30, cloud: 0.3 }).canvas;
    const [one, other] = [close(0), close(1)];
    for (const { light } of [one, other])
      expect(light.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
    expect(one.light).not.toEqual(other.light);
    expect(spread(develop(one, { film: PLAIN, seed: 1, width: 72, height: 48 }))).toBeGreaterThan(6);
  });

  it('still water mirrors what stands above it', () => {
    const scene = { ...sceneOf('sound', frame({ width: 120, height: 80 })), swell: 0, cameraM: 2, birds: 0, rain: 0 };
    scene.horizon = 0.5;
    scene.meshes = [];
    const canvas = paintSubjects(paintStage(scene), scene);
    const rows = (from: number, step: 1 | -1) =>
      Float32Array.from(
        { length: 120 * 22 },
        (_, at) => canvas.light[((from + step * Math.floor(at / 120)) * 120 + (at % 120)) * 3]!,
      );
    expect(likeness(rows(38, -1), rows(42, 1))).toBeGreaterThan(0.7);
  });
});
