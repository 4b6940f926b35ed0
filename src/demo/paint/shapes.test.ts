// Shapes, shadows and the ground they stand on.

import { describe, expect, it } from 'vitest';
import { Canvas } from './canvas';
import { groundOf } from './ground';
import { MeshShape } from './mesh';
import { sceneOf } from './motifs';
import { Noise } from './noise';
import { paintMeshes } from './raster';
import { shadeAt, shadowsOf } from './shadows';
import { viewOf } from './view';

const WEATHER = { sunHeight: 40, sunTurn: 0, cloud: 0, hazeM: 1e9, green: 1, snow: 0 };
const scene = (motif: 'sound' | 'quay' | 'bird-cliff' | 'village' = 'sound') =>
  sceneOf(motif, { seed: 7, variant: 0, moment: 0, width: 80, height: 60, weather: WEATHER, turned: 0, film: {} });
const white = { colour: [1, 1, 1] as const, surface: 'plain' as const };

describe('meshes in the picture', () => {
  const paint = (...shapes: [MeshShape, number][]) => {
    const bare = { ...scene(), cameraM: 1, fieldOfView: 60, horizon: 0.5, pan: 0, step: 0 };
    bare.meshes = shapes.map(([shape, z]) => shape.at({ x: 0, y: 1, z }));
    const canvas = new Canvas(80, 60);
    paintMeshes(viewOf(bare), canvas, false);
    return canvas;
  };
  const box = (half: number) => new MeshShape().box([-half, -half, 0], [half, half, 1], white);

  it('a box in the middle covers as many pixels as its angle says, and leaves its distance', () => {
    const canvas = paint([box(1), 10]);
    const focal = 30 / Math.tan(Math.PI / 6);
    const covered = canvas.depth.filter((z) => z !== Infinity).length;
    // its upper half is over the water; what lies under the water does not show
    expect(covered / ((2 * focal) / 10) ** 2).toBeGreaterThan(0.85);
    expect(covered / ((2 * focal) / 10) ** 2).toBeLessThan(1.15);
    expect(Math.min(...canvas.depth)).toBeCloseTo(10, 0);
  });

  it('the nearer one hides the farther one, whichever comes first', () => {
    for (const order of [
      [
        [box(0.5), 5],
        [box(3), 20],
      ],
      [
        [box(3), 20],
        [box(0.5), 5],
      ],
    ] as [MeshShape, number][][]) {
      const canvas = paint(...order);
      expect(canvas.depth[30 * 80 + 40]).toBeCloseTo(5, 0);
    }
  });

  it('what was painted nearer before stays in front', () => {
    const bare = {
      ...scene(),
      cameraM: 1,
      fieldOfView: 60,
      horizon: 0.5,
      pan: 0,
      step: 0,
      meshes: [box(2).at({ x: 0, y: 1, z: 10 })],
    };
    const canvas = new Canvas(80, 60);
    canvas.depth.fill(4);
    paintMeshes(viewOf(bare), canvas, false);
    expect(canvas.light.every((value) => value === 0)).toBe(true);
  });
});

describe('shadows', () => {
  it('fall away from the sun, as long as its height says, and nowhere else', () => {
    const sun: [number, number, number] = [0, Math.SQRT1_2, Math.SQRT1_2];
    const map = shadowsOf([new MeshShape().box([-1, 0, 0], [1, 4, 1], white).at({ x: 0, y: 0, z: 20 })], sun, 400);
    if (!map) throw new Error('the sun is up');
    expect(shadeAt(map, 0, 0, 18)).toBe(0);
    expect(shadeAt(map, 0, 0, 14.5)).toBe(1);
    expect(shadeAt(map, 0, 0, 23)).toBe(1);
    expect(shadeAt(map, 3, 0, 18)).toBe(1);
  });

  it('there are none at night, and none of what stands far away', () => {
    const far = new MeshShape().box([-1, 0, 0], [1, 4, 1], white).at({ x: 0, y: 0, z: 900 });
    expect(shadowsOf([far], [0, 1, 0], 400)).toBeNull();
    expect(shadowsOf([far], [0, -0.2, 1], 1000)).toBeNull();
  });
});

describe('ground', () => {
  const heights = (motif: Parameters<typeof scene>[0], z: number) => {
    const of = scene(motif);
    const ground = groundOf(of, new Noise(of.seed));
    return Array.from({ length: 21 }, (_, at) => ground((at - 10) * z * 0.03, z));
  };

  it('the quay is level under the photographer and ends in the water', () => {
    for (const height of heights('quay', 10)) expect(height).toBeCloseTo(2.1, 1);
    for (const height of heights('quay', 60)) expect(height).toBeLessThan(0);
  });

  it('a village has low land at its shore', () => {
    const of = scene('village');
    expect(heights('village', of.nearM * 1.6).filter((height) => height > 1 && height < 40).length).toBeGreaterThan(10);
  });

  it('a bird cliff rises out of the sea within some tens of metres', () => {
    const of = scene('bird-cliff');
    const ground = groundOf(of, new Noise(of.seed));
    let [foot, top] = [0, 0];
    for (let z = of.nearM * 0.5; z < of.nearM * 2 && top === 0; z += 1) {
      if (!foot && ground(0, z) > 0) foot = z;
      if (foot && ground(0, z) > 25) top = z;
    }
    expect(top - foot).toBeGreaterThan(0);
    expect(top - foot).toBeLessThan(75);
  });
});

describe('noise', () => {
  it('stays within its bounds, has no jumps, and comes round without a seam', () => {
    const noise = new Noise(7);
    for (let step = 0; step < 2000; step++) {
      const [x, y] = [step * 0.137, step * 0.071];
      expect(Math.abs(noise.soft(x, y))).toBeLessThan(1.3);
      expect(Math.abs(noise.soft(x, y) - noise.soft(x + 0.0002, y))).toBeLessThan(0.02);
      expect(noise.soft(x + 4, y + 8)).toBeCloseTo(noise.soft(x, y), 6);
      expect(noise.ridged(x, y)).toBeGreaterThan(-0.01);
    }
  });
});

describe('the canvas', () => {
  it('mixes a colour in by its share, where nothing nearer stands', () => {
    const canvas = new Canvas(3, 1);
    canvas.depth[1] = 2;
    for (let x = 0; x < 3; x++) canvas.blend(x, 0, 5, 0.25, 1, 1, 1);
    expect([canvas.light[0], canvas.light[3], canvas.light[6]]).toEqual([0.25, 0, 0.25]);
  });

  it('a window of it has what lay there, and between two pixels lies their middle', () => {
    const canvas = new Canvas(4, 4);
    canvas.light.forEach((_, at) => (canvas.light[at] = Math.floor(at / 3)));
    expect([...canvas.cut(1, 2, 2, 1).light]).toEqual([9, 9, 9, 10, 10, 10]);
    const out = new Float32Array(3);
    canvas.sample(1.5, 0.5, out);
    expect(out[0]).toBe(3.5);
  });
});
