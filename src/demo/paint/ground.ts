// The ground as a height over the sea, in metres. Basalt islands: ridges cut into terraces, sounds between them,
// and in front what the photographer stands on.

import { type Noise, clamp, mix, smooth } from './noise';
import type { Scene } from './scene';

export type Ground = (x: number, z: number) => number;

export function groundOf(scene: Scene, noise: Noise): Ground {
  const { peakM, land, nearM, sound, terraces, foreground, cameraM } = scene;
  const far = (x: number, z: number): number => {
    const shape = noise.layered(x / 5200 + 11, z / 5200 - 4, 3);
    const valley = Math.abs(x - noise.layered(z / 3800, 5.5, 2) * 900) / (300 + z * 0.24);
    const open = sound * (1 - smooth(0.15, 1.5, valley));
    const mass = smooth(nearM, nearM * 2.4 + 500, z) * (shape + land) - open * 1.25;
    if (mass < -0.12) return -30;
    const ridge = noise.ridged(x / 1900 + 3, z / 1900, 6);
    const raw = mass * peakM * (0.32 + 1.15 * ridge) + noise.layered(x / 130, z / 130, 4) * 9 * clamp(mass * 3);
    return terraced(raw, terraces * clamp(0.75 + noise.at(x / 700 + 9, z / 700) * 1.6), noise.layered(x / 520, z / 520, 3) * 1.7 + x / 3000);
  };
  if (foreground === 'water') return far;
  return (x, z) => Math.max(far(x, z), near(foreground, cameraM, noise, x, z));
}

function terraced(height: number, amount: number, wobble: number): number {
  if (height <= 4 || amount <= 0) return height;
  const step = 46;
  const at = height / step + wobble * 0.9;
  const whole = Math.floor(at);
  const part = at - whole;
  return mix(height, (whole + smooth(0.55, 0.98, part) - wobble * 0.9) * step, amount);
}

function near(kind: Scene['foreground'], cameraM: number, noise: Noise, x: number, z: number): number {
  const rough = noise.layered(x / 7, z / 7, 4) * 0.6 + noise.layered(x / 31, z / 31, 3) * 1.6;
  if (kind === 'shore') {
    const edge = 15 + noise.layered(x / 22, 2.2, 3) * 12 - x * 0.12;
    const stones = Math.pow(clamp(noise.at(x / 1.1, z / 0.9) + 0.2), 2) * 1.3 + Math.pow(clamp(noise.at(x / 0.42 + 5, z / 0.42) + 0.25), 2) * 0.5;
    return (edge - z) * 0.055 + rough * 0.16 + stones - 0.2;
  }
  if (kind === 'slope') {
    const fall = cameraM - 2.1 - z * 0.15 + x * 0.2 + rough * 0.5 - Math.max(0, z - 70) * 0.34;
    return z > 420 ? -30 : fall;
  }
  const lip = 26 + noise.layered(x / 34, 8.8, 3) * 26 + x * 0.16;
  const top = cameraM - 2.2 - z * 0.03 + rough * 0.42 + x * 0.04;
  return z < lip ? top : top - (z - lip) * 4.2 - noise.ridged(x / 9, z / 22, 4) * 12;
}
