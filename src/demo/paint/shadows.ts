// The shadows of boats, houses and people on each other and on the ground near them: how far the sun's light reaches,
// seen from the sun.

import type { Vector } from './light';
import type { Mesh } from './mesh';
import { clamp } from './noise';

const SIZE = 1024;

export interface ShadowMap {
  depth: Float32Array;
  across: Vector;
  up: Vector;
  sun: Vector;
  middle: Vector;
  /** Half the width of what is covered, in metres. */
  reach: number;
  /** No shadow falls farther away from the camera than this. */
  withinM: number;
}

const dot = (a: Vector, x: number, y: number, z: number) => a[0] * x + a[1] * y + a[2] * z;

/** Covers what stands nearer than `withinM`; null where nothing does or the sun is down. */
export function shadowsOf(meshes: readonly Mesh[], sun: Vector, withinM: number): ShadowMap | null {
  const near = meshes.filter(({ centre }) => centre[2] < withinM);
  if (near.length === 0 || sun[1] <= 0.02) return null;
  const middle: Vector = [0, 0, 0];
  for (const { centre } of near)
    for (let axis = 0; axis < 3; axis++) middle[axis] = middle[axis]! + centre[axis]! / near.length;
  const reach =
    Math.max(
      ...near.map(
        ({ centre, radius }) =>
          Math.hypot(centre[0] - middle[0], centre[1] - middle[1], centre[2] - middle[2]) + radius,
      ),
    ) * 1.02;
  const flat = Math.hypot(sun[0], sun[2]) || 1;
  const across: Vector = [sun[2] / flat, 0, -sun[0] / flat];
  const up: Vector = [(-sun[0] * sun[1]) / flat, flat, (-sun[2] * sun[1]) / flat];
  const map: ShadowMap = {
    depth: new Float32Array(SIZE * SIZE).fill(-1e9),
    across,
    up,
    sun,
    middle,
    reach,
    withinM: middle[2] + reach,
  };
  for (const mesh of near) drawInto(map, mesh);
  return map;
}

function drawInto({ depth, across, up, sun, middle, reach }: ShadowMap, mesh: Mesh): void {
  const scale = SIZE / 2 / reach;
  const [u, v, w] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  const { points } = mesh;
  for (let at = 0; at < points.length; at += 9) {
    for (let corner = 0; corner < 3; corner++) {
      const x = points[at + corner * 3]! - middle[0];
      const y = points[at + corner * 3 + 1]! - middle[1];
      const z = points[at + corner * 3 + 2]! - middle[2];
      u[corner] = SIZE / 2 + dot(across, x, y, z) * scale;
      v[corner] = SIZE / 2 + dot(up, x, y, z) * scale;
      w[corner] = dot(sun, x, y, z);
    }
    const area = (u[1]! - u[0]!) * (v[2]! - v[0]!) - (u[2]! - u[0]!) * (v[1]! - v[0]!);
    if (Math.abs(area) < 1e-6) continue;
    const top = Math.max(0, Math.floor(Math.min(...v)));
    const bottom = Math.min(SIZE - 1, Math.ceil(Math.max(...v)));
    const left = Math.max(0, Math.floor(Math.min(...u)));
    const right = Math.min(SIZE - 1, Math.ceil(Math.max(...u)));
    for (let py = top; py <= bottom; py++) {
      for (let px = left; px <= right; px++) {
        const b = ((px - u[0]!) * (v[2]! - v[0]!) - (u[2]! - u[0]!) * (py - v[0]!)) / area;
        const c = ((u[1]! - u[0]!) * (py - v[0]!) - (px - u[0]!) * (v[1]! - v[0]!)) / area;
        if (b < -0.02 || c < -0.02 || b + c > 1.02) continue;
        const far = w[0]! + (w[1]! - w[0]!) * b + (w[2]! - w[0]!) * c;
        if (far > depth[py * SIZE + px]!) depth[py * SIZE + px] = far;
      }
    }
  }
}

/** Share of the sun that reaches a place: 1 in the open. */
export function shadeAt({ depth, across, up, sun, middle, reach }: ShadowMap, x: number, y: number, z: number): number {
  const dx = x - middle[0];
  const dy = y - middle[1];
  const dz = z - middle[2];
  const scale = SIZE / 2 / reach;
  const u = SIZE / 2 + dot(across, dx, dy, dz) * scale;
  const v = SIZE / 2 + dot(up, dx, dy, dz) * scale;
  if (u < 2 || v < 2 || u > SIZE - 3 || v > SIZE - 3) return 1;
  const here = dot(sun, dx, dy, dz) + 0.09 + reach * 0.003;
  const iu = Math.floor(u - 0.5);
  const iv = Math.floor(v - 0.5);
  let open = 0;
  for (let py = 0; py < 3; py++)
    for (let px = 0; px < 3; px++) open += depth[(iv + py) * SIZE + iu + px]! > here ? 0 : 1;
  return clamp(open / 9);
}
