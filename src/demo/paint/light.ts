// Sun, sky and air: one set of colours for a scene, in linear light.

import { type Noise, clamp, mix, smooth } from './noise';
import type { Colour, Scene } from './scene';

export type Vector = [x: number, y: number, z: number];

export interface Light {
  sun: Vector;
  sunColour: Colour;
  ambient: Colour;
  zenith: Colour;
  horizon: Colour;
  glow: Colour;
  haze: Colour;
}

export const blend = (a: Colour, b: Colour, t: number): Colour => [
  mix(a[0], b[0], t),
  mix(a[1], b[1], t),
  mix(a[2], b[2], t),
];
export const scaled = (a: Colour, t: number): Colour => [a[0] * t, a[1] * t, a[2] * t];

/** Light from all of the sky has less colour than its bluest part. */
const greyed = (colour: Colour, t: number): Colour =>
  blend(colour, scaled([1, 1, 1], colour[0] * 0.25 + colour[1] * 0.6 + colour[2] * 0.15), t);

export function lightOf(scene: Scene): Light {
  const height = (scene.sunHeight * Math.PI) / 180;
  const turn = (scene.sunTurn * Math.PI) / 180;
  const low = 1 - smooth(1, 24, scene.sunHeight);
  const overcast = smooth(0.6, 0.95, scene.cloud);
  const day = smooth(-9, 8, scene.sunHeight) * (1 - scene.night);
  const sunColour = scaled(blend([1.28, 1.15, 0.98], [1.55, 0.74, 0.32], low), day * (1 - overcast * 0.86) * 1.5);
  const clearZenith = blend([0.1, 0.22, 0.44], [0.15, 0.2, 0.38], low);
  const clearHorizon = blend([0.5, 0.63, 0.76], [0.84, 0.58, 0.42], low * 0.9);
  const grey: Colour = [0.5, 0.54, 0.58];
  const nightZenith: Colour = [0.006, 0.01, 0.021];
  const nightHorizon: Colour = [0.02, 0.027, 0.042];
  const zenith = blend(nightZenith, blend(clearZenith, scaled(grey, 0.66), overcast), day);
  const horizon = blend(nightHorizon, blend(clearHorizon, scaled(grey, 1.12), overcast), day);
  return {
    sun: [Math.cos(height) * Math.sin(turn), Math.sin(height), Math.cos(height) * Math.cos(turn)],
    sunColour,
    ambient: greyed(blend(scaled(zenith, 0.95), scaled(horizon, 0.6), 0.5), 0.4),
    zenith,
    horizon,
    glow: scaled(blend([1, 0.93, 0.8], [1.3, 0.62, 0.24], low), day * (1 - overcast * 0.75)),
    haze: blend(scaled(horizon, 0.88), scaled(zenith, 1.5), 0.36),
  };
}

/**
 * The sky in a direction (unit vector, y up). Clouds lie on a plane overhead, so that they crowd towards the horizon.
 */
export function skyColour(
  scene: Scene,
  light: Light,
  noise: Noise,
  x: number,
  y: number,
  z: number,
  out: Float32Array,
): void {
  const up = clamp(y, 0, 1);
  const near = 1 - up;
  const rise = near * near * near;
  const toSun = clamp(x * light.sun[0] + y * light.sun[1] + z * light.sun[2], 0, 1);
  const around = toSun * toSun;
  const close = Math.pow(toSun, 40);
  const glow = (0.32 * around * around + 0.5 * close + Math.pow(close, 50) * 7) * (1 - scene.cloud * 0.55);
  for (let channel = 0; channel < 3; channel++)
    out[channel] = mix(light.zenith[channel]!, light.horizon[channel]!, rise) + light.glow[channel]! * glow;
  if (scene.cloud > 0.02) addClouds(scene, light, noise, x, up, z, toSun, out);
  if (scene.aurora > 0) addAurora(scene, noise, x / (z + 0.001), up, out);
}

function addClouds(
  scene: Scene,
  light: Light,
  noise: Noise,
  x: number,
  up: number,
  z: number,
  toSun: number,
  out: Float32Array,
): void {
  const reach = 1 / (up + 0.08);
  const u = x * reach * 0.42 + 1.7;
  const v = z * reach * 0.3;
  const bend = noise.soft(u * 0.45 + 0.9, v * 0.5) * 0.4;
  const body = noise.soft(u + bend, v * 1.5 + bend) + noise.soft(u * 3.3 + 0.3, v * 3.9 - bend) * 0.3;
  const low = 0.4 - scene.cloud * 1.15;
  const cover = smooth(low, low + 0.42 + scene.cloud * 0.25, body);
  if (cover <= 0) return;
  const thick = smooth(low + 0.1, low + 0.95, body);
  // the side turned to the sun: how much thinner the cloud is a little way towards it
  const towards =
    noise.soft(u + bend + light.sun[0] * 0.07, v * 1.5 + bend + light.sun[2] * 0.07) -
    noise.soft(u + bend, v * 1.5 + bend);
  const lit = clamp(0.55 - towards * 1.5 - thick * 0.25, 0, 1);
  const silver = Math.pow(toSun, 6) * (1 - thick) * 1.1;
  const far = Math.pow(1 - up, 9);
  for (let channel = 0; channel < 3; channel++) {
    const shade = light.ambient[channel]! * 0.95 + light.horizon[channel]! * 0.34;
    const bright = shade + light.sunColour[channel]! * 0.46 + light.horizon[channel]! * 0.18;
    const cloud = mix(shade * (0.92 - thick * 0.3), bright, lit) + light.glow[channel]! * silver;
    out[channel] = mix(out[channel]!, cloud, cover * (0.94 - 0.5 * far));
  }
}

function addAurora(scene: Scene, noise: Noise, u: number, up: number, out: Float32Array): void {
  let [green, violet] = [0, 0];
  for (let band = 0; band < 3; band++) {
    const fold = 0.12 + band * 0.13 + noise.soft(u * 0.42 + band * 1.3, 0.4 + band) * 0.16 + u * (0.1 - band * 0.05);
    const above = up - fold;
    const curtain = above > 0 ? Math.exp(-above * (5.5 - band)) : Math.exp(-above * above * 2600);
    const rays =
      0.35 + 0.65 * clamp(noise.soft(u * 3.4 + band * 2.1 + above * 0.25, band * 0.7 + up * 0.12) * 1.2 + 0.5);
    const along = clamp(noise.soft(u * 0.6 + band * 3, 2.2 + band) * 1.6 + 0.62);
    const strength = curtain * rays * along * (1 - band * 0.22);
    green += strength * Math.exp(-Math.max(0, above) * 4);
    violet += strength * smooth(0.05, 0.4, above);
  }
  const by = scene.aurora * 0.34;
  out[0] = out[0]! + by * (green * 0.07 + violet * 0.2);
  out[1] = out[1]! + by * (green * 0.5 + violet * 0.08);
  out[2] = out[2]! + by * (green * 0.2 + violet * 0.24);
}

/** How much sun comes through the clouds at a place on the ground: patches of light that lie on hills and water. */
export function sunPatch(scene: Scene, noise: Noise, x: number, z: number): number {
  const broken = smooth(0.15, 0.4, scene.cloud) * (1 - smooth(0.75, 0.95, scene.cloud));
  if (broken <= 0) return 1;
  const shade = noise.soft(x / 2600 + 3.1, z / 2600 + 0.7);
  return 1 - broken * 0.86 * smooth(0.28 - scene.cloud * 0.75, 0.62 - scene.cloud * 0.75, shade);
}
