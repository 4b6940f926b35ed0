// Where the camera stands and what it sees where: the geometry all painters share. World coordinates are metres to
// the right, up, and away from the camera.

import { type Ground, groundOf } from './ground';
import { type Light, lightOf } from './light';
import { Noise } from './noise';
import type { Scene } from './scene';
import type { ShadowMap } from './shadows';

export interface PaintView {
  scene: Scene;
  light: Light;
  noise: Noise;
  ground: Ground;
  /** Pixels of a metre at a metre's distance, the horizon's row, and the column straight ahead. */
  focal: number;
  horizonRow: number;
  centre: number;
  shadows: ShadowMap | null;
}

export function viewOf(scene: Scene): PaintView {
  const noise = new Noise(scene.seed);
  const focal = scene.height / 2 / Math.tan((scene.fieldOfView * Math.PI) / 360);
  return {
    scene,
    light: lightOf(scene),
    noise,
    ground: groundOf(scene, noise),
    focal,
    horizonRow: scene.horizon * scene.height,
    centre: scene.width / 2 - scene.pan * focal,
    shadows: null,
  };
}

/** Light that the air puts between the eye and something this far away: 0 near, towards 1 far. */
export function hazeAt({ scene }: PaintView, z: number, height: number): number {
  const thick = 1 - Math.exp(-(z / scene.hazeM) * (1 + 21 / (60 + height)));
  return Math.min(0.985, thick);
}
