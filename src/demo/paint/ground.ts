// The ground as a height over the sea, in metres. Basalt islands: ridges cut into terraces, sounds between them,
// and in front what the photographer stands on.

import { type Noise, clamp, mix, smooth } from './noise';
import type { Scene } from './scene';

export type Ground = (x: number, z: number) => number;

/** Quays end here, and their top lies so high over the water. */
export const QUAY = { farM: 21, topM: 2.1 };

export function groundOf(scene: Scene, noise: Noise): Ground {
  const { peakM, land, nearM, sound, terraces, foreground, cameraM } = scene;
  // a hill behind the village, to one side of it
  const hillX = noise.soft(0.3, 1.9) * 900;
  const behind = (x: number, z: number): number => {
    if (scene.shelf <= 0) return 0;
    const [dx, dz] = [(x - hillX) / 900, (z - nearM - 1100) / 800];
    return scene.shelf * Math.exp(-dx * dx - dz * dz) * smooth(nearM, nearM + 1000, z);
  };
  const far = (x: number, z: number): number => {
    const shape = noise.soft(x / 7600 + 1.1, z / 7600 - 0.4) * 1.15;
    const valley = Math.abs(x - noise.soft(z / 5200, 1.5) * 700) / (300 + z * 0.24);
    const open = sound * (1 - smooth(0.15, 1.5, valley));
    const mass = smooth(nearM, nearM * 2.4 + 500, z) * (shape + land) - open * 1.25 + behind(x, z);
    if (mass < -0.12) return -30;
    const ridge = noise.ridged(x / 2600 + 0.3, z / 2600);
    const rough = noise.soft(x / 260, z / 260) * 10 * clamp(mass * 3);
    const raw = mass * peakM * (0.3 + 1.2 * ridge) + rough;
    if (raw <= 4 || terraces <= 0) return raw;
    return terraced(
      raw,
      terraces * clamp(0.75 + noise.soft(x / 1400 + 0.9, z / 1400) * 1.6) * smooth(peakM * 0.95, peakM * 0.45, raw),
      noise.soft(x / 1500, z / 1500 + 0.6) * 3.4 + x / 2200,
    );
  };
  const shore = scene.shelf > 0 ? (x: number, z: number) => Math.max(far(x, z), shelf(noise, nearM, x, z)) : far;
  if (foreground === 'water') return shore;
  if (foreground === 'wall') return (x, z) => Math.max(far(x, z), wall(noise, nearM, peakM, x, z));
  return (x, z) => (z > 600 ? shore(x, z) : Math.max(shore(x, z), near(foreground, cameraM, noise, x, z)));
}

function terraced(height: number, amount: number, wobble: number): number {
  const step = 46;
  const at = height / step + wobble * 0.9;
  const whole = Math.floor(at);
  const part = at - whole;
  return mix(height, (whole + smooth(0.55, 0.98, part) - wobble * 0.9) * step, amount);
}

/** Low land at the head of a bay, rising inland. */
function shelf(noise: Noise, nearM: number, x: number, z: number): number {
  const into = z - nearM - noise.soft(x / 210 + 0.2, 0.7) * nearM * 0.4 + Math.abs(x) * 0.1;
  if (into < 0) return -8;
  return Math.min(into * 0.1, 7 + into * 0.045, 19) + noise.soft(x / 38, z / 38) * 1.4 * clamp(into / 20);
}

/** A cliff that stands in the sea, in ledges, with a green shelf on its top that rises inland. */
function wall(noise: Noise, nearM: number, peakM: number, x: number, z: number): number {
  const edge = nearM + noise.soft(x / 310 + 0.4, 0.3) * 130;
  const into = z - edge;
  if (into < 0) return -12;
  const top = peakM * (0.16 + 0.12 * noise.soft(x / 420, 1.7));
  const wobble = noise.soft(x / 130, z / 46) * 2.2;
  const part = clamp(into / (44 + noise.soft(x / 120 + 0.9, 0.8) * 26)) * 7 + wobble * 0.5;
  const ledge = Math.floor(part) + smooth(0.05, 0.62, part - Math.floor(part));
  return (
    Math.min(top * clamp(ledge / 7, 0.015, 1), top) +
    Math.max(0, into - 40) * 0.3 +
    noise.soft(x / 190, z / 190) * clamp(into / 30) * 12
  );
}

/** The photographer's own ground ends here: water farther off does not mirror it. */
export const FOREGROUND_M: Record<Scene['foreground'], number> = {
  water: 0,
  wall: 0,
  quay: 30,
  slip: 78,
  shore: 80,
  cliff: 160,
  slope: 430,
};

function near(kind: Scene['foreground'], cameraM: number, noise: Noise, x: number, z: number): number {
  if (kind === 'quay') return z < QUAY.farM ? QUAY.topM + noise.soft(x / 1.4, z / 1.4) * 0.008 : -30;
  if (kind === 'slip')
    return z < 60 ? 0.9 + (60 - z) * 0.022 + noise.soft(x / 3, z / 3) * 0.09 + Math.abs(x) * 0.01 : (70 - z) * 0.09;
  const rough = noise.soft(x / 11, z / 11);
  if (kind === 'shore') {
    const edge = 16 + noise.soft(x / 40, 1.2) * 16 - x * 0.14;
    const stones =
      Math.pow(clamp(noise.soft(x / 9, z / 8) * 1.2 + 0.3), 1.5) * 0.75 + clamp(noise.soft(x / 3 + 0.5, z / 3)) * 0.22;
    return (edge - z) * 0.055 + rough * 0.3 + stones - 0.25;
  }
  if (kind === 'slope') {
    const fall =
      cameraM - 2.1 - z * 0.15 + x * 0.2 + rough * 0.55 + noise.soft(x / 60, z / 60) * 2.4 - Math.max(0, z - 70) * 0.34;
    return z > 420 ? -30 : fall;
  }
  const lip = 30 + noise.soft(x / 60, 0.8) * 30 + x * 0.16;
  const top = cameraM - 2.2 - z * 0.03 + rough * 0.6 + x * 0.04;
  return z < lip ? top : top - (z - lip) * 4.2 - noise.ridged(x / 15, z / 40) * 14;
}
