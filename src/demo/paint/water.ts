// The sea: a mirror pushed about by waves, clear looking down and bright towards the horizon (Fresnel, in Schlick's
// form), with shallows, surf, whitecaps and the sun's path.

import { Canvas } from './canvas';
import { skyColour, sunPatch } from './light';
import { clamp, mix, smooth } from './noise';
import { type PaintView, hazeAt } from './view';

const seen = new Float32Array(3);
const sky = new Float32Array(3);

const COARSE = 2;

/** The sky, worked out at half the size, from above the picture's upper edge down to the horizon. */
export interface SkyLight {
  canvas: Canvas;
  topRow: number;
}

export function paintSky({ scene, light, noise, focal, horizonRow, centre }: PaintView): SkyLight {
  const topRow = Math.min(0, Math.floor(2 * horizonRow - scene.height)) - 60;
  const canvas = new Canvas(Math.ceil(scene.width / COARSE) + 2, Math.ceil((horizonRow - topRow) / COARSE) + 3);
  for (let y = 0; y < canvas.height; y++) {
    const dy = (horizonRow - (topRow + y * COARSE)) / focal;
    for (let x = 0; x < canvas.width; x++) {
      const dx = (x * COARSE - centre) / focal;
      const length = Math.sqrt(dx * dx + dy * dy + 1);
      skyColour(scene, light, noise, dx / length, dy / length, 1 / length, sky);
      canvas.light.set(sky, (y * canvas.width + x) * 3);
    }
  }
  return { canvas, topRow };
}

/** Puts the sky where nothing stands. */
export function layInSky(
  { horizonRow }: PaintView,
  { canvas: from, topRow }: SkyLight,
  { light, depth, width, height }: Canvas,
): void {
  const end = Math.min(height, Math.ceil(horizonRow) + 1);
  for (let y = 0; y < end; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (depth[at] !== Infinity) continue;
      from.sample(x / COARSE, (y - topRow) / COARSE, sky);
      light.set(sky, at * 3);
    }
  }
}

/**
 * What still water shows: the sky turned over, at half the size, from the horizon down. Land and boats are put on it.
 */
export function mirrorOf({ scene, horizonRow }: PaintView, { canvas: from, topRow }: SkyLight): Canvas {
  const mirror = new Canvas(
    Math.ceil(scene.width / 2) + 1,
    Math.max(2, Math.ceil((scene.height - horizonRow) / 2) + 2),
  );
  for (let y = 0; y < mirror.height; y++) {
    const row = (horizonRow - y * 2 - topRow) / COARSE;
    for (let x = 0; x < mirror.width; x++) {
      from.sample((x * 2) / COARSE, row, sky);
      mirror.light.set(sky, (y * mirror.width + x) * 3);
    }
  }
  return mirror;
}

export function paintWater(view: PaintView, canvas: Canvas, mirror: Canvas, bed: Float32Array): void {
  const { scene, light, noise, focal, horizonRow, centre } = view;
  const { width, height } = canvas;
  const sunUp = Math.max(0, light.sun[1]);
  const brightness = light.ambient[1] * 0.9 + light.sunColour[1] * sunUp * 0.35;
  const deep = [0.012 * brightness, 0.052 * brightness, 0.062 * brightness];
  const choppy = 0.012 + scene.swell * 0.16;
  for (let y = Math.max(0, Math.floor(horizonRow)); y < height; y++) {
    const down = Math.max(0.12, y + 0.5 - horizonRow) / focal;
    const z = Math.min(80_000, scene.cameraM / down);
    const footprint = z / focal;
    const deepness = (footprint * z) / scene.cameraM;
    const ripple = clamp(1.4 - deepness / 0.5);
    const waves = clamp(1.4 - deepness / 6);
    const rollers = clamp(1.4 - deepness / 60);
    const hidden = 1 - (ripple * 0.35 + waves * 0.35 + rollers * 0.3);
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (canvas.depth[at] !== Infinity) continue;
      const wx = ((x - centre) / focal) * z + scene.step;
      const gust = 0.65 + 0.7 * smooth(-0.4, 0.5, noise.soft(wx / 700 + 1.9, z / 1500 + 0.4));
      const slopeZ =
        (noise.soft(wx / 1.7, z / 0.8) * ripple * 0.55 +
          noise.soft(wx / 14 + 0.4, z / 6.5) * waves +
          noise.soft(wx / 120, z / 48 + 0.8) * rollers * scene.swell * 1.4) *
        choppy *
        gust;
      const slopeX =
        (noise.soft(wx / 1.5 + 0.7, z / 1.1 + 1.3) * ripple * 0.5 + noise.soft(wx / 11, z / 9 + 0.6) * waves) *
        choppy *
        gust *
        0.8;
      // waves too small for a pixel lean towards the eye on the whole: the reflection is taken from higher up
      const lean = choppy * gust * hidden * 0.5;
      const tilt = slopeZ + lean;
      const facing = clamp(down + tilt * 0.9, 0.004, 1);
      const grazing = 1 - facing;
      const fresnel = 0.025 + 0.93 * grazing * grazing * grazing * grazing * grazing;
      const shift = (slopeZ + lean) * focal * 0.9;
      mirror.sample((x + slopeX * focal * 0.5) / 2, (y - horizonRow + shift) / 2, seen);
      let foam = surf(view, bed[at]!, wx, z);
      if (scene.swell > 0.35)
        foam = Math.max(
          foam,
          smooth(
            0.6,
            1.05,
            noise.ridged(wx / 30, z / 10) +
              noise.soft(wx / 2.2, z / 1.2) * 0.25 * ripple +
              (noise.soft(wx / 90, z / 70) + scene.swell - 1.15) * 0.6,
          ) *
            waves *
            0.7,
        );
      const patch = sunPatch(scene, noise, wx, z);
      const sparkle = glitter(view, wx, z, (x - centre) / focal, down, slopeX, tilt, choppy * gust) * patch;
      const shallow = bed[at]! > -4 ? smooth(-4, -0.2, bed[at]!) * 0.6 : 0;
      const haze = hazeAt(view, z, 0) * 0.8;
      for (let channel = 0; channel < 3; channel++) {
        const body = mix(
          deep[channel]!,
          (channel === 2 ? 0.05 : channel === 1 ? 0.075 : 0.05) *
            (light.ambient[channel]! + light.sunColour[channel]! * sunUp * 0.6),
          shallow,
        );
        let value =
          mix(body, seen[channel]!, fresnel) * mix(1, 0.84 + 0.16 * patch, 0.8) + light.sunColour[channel]! * sparkle;
        if (foam > 0)
          value = mix(
            value,
            (light.ambient[channel]! * 0.95 + light.sunColour[channel]! * (0.25 + sunUp * 0.5)) * 0.82,
            foam,
          );
        canvas.light[at * 3 + channel] = mix(value, light.haze[channel]!, haze);
      }
    }
  }
}

/** White water where the bottom is close, in lines that run up the shore. */
function surf({ scene, noise }: PaintView, bed: number, x: number, z: number): number {
  if (bed < -2.4) return 0;
  const wash = noise.soft(x / 5, z / 3.4) * 0.5 + noise.soft(x / 1.1, z / 0.7) * 0.42;
  const line = Math.sin(bed * 5 + noise.soft(x / 16, z / 16) * 5) * 0.32;
  const reach = 0.35 + scene.swell * 1.9;
  return smooth(0.3, 0.75, 1 + bed / reach + wash + line - 0.3) * clamp(0.35 + scene.swell * 1.4);
}

/** The sun in the waves: many small mirrors, more of them turned right near the line under the sun. */
function glitter(
  { light, noise }: PaintView,
  wx: number,
  z: number,
  dx: number,
  down: number,
  slopeX: number,
  slopeZ: number,
  rough: number,
): number {
  if (light.sun[1] <= 0 || light.sun[2] <= 0) return 0;
  const length = Math.sqrt(dx * dx + down * down + 1);
  // the slope a facet needs to throw the sun into the eye
  const hx = light.sun[0] - dx / length;
  const hy = light.sun[1] + down / length;
  const hz = light.sun[2] - 1 / length;
  const needX = hx / hy;
  const needZ = hz / hy;
  const spread = rough * 1.3 + 0.006;
  const off = ((needX - slopeX) * (needX - slopeX) + (needZ - slopeZ) * (needZ - slopeZ)) / (spread * spread);
  if (off > 12) return 0;
  const sparks = 0.35 + 1.6 * smooth(0.1, 0.6, noise.soft(wx / 0.9 + z * 0.013, z / 0.7));
  return (Math.exp(-off) * sparks * 0.5) / (1 + spread * 6);
}
