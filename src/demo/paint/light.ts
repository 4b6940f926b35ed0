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

const blend = (a: Colour, b: Colour, t: number): Colour => [mix(a[0], b[0], t), mix(a[1], b[1], t), mix(a[2], b[2], t)];
const scale = (a: Colour, t: number): Colour => [a[0] * t, a[1] * t, a[2] * t];

export function lightOf(scene: Scene): Light {
  const height = (scene.sunHeight * Math.PI) / 180;
  const turn = (scene.sunTurn * Math.PI) / 180;
  const low = 1 - smooth(2, 26, scene.sunHeight);
  const overcast = smooth(0.62, 0.95, scene.cloud);
  const day = smooth(-9, 8, scene.sunHeight) * (1 - scene.night);
  const sunColour = scale(blend([1.25, 1.16, 1.02], [1.5, 0.78, 0.36], low), day * (1 - overcast * 0.82) * 1.25);
  const clearZenith = blend([0.12, 0.27, 0.52], [0.17, 0.22, 0.4], low);
  const clearHorizon = blend([0.56, 0.69, 0.82], [0.86, 0.6, 0.42], low * 0.9);
  const grey: Colour = [0.52, 0.56, 0.6];
  const nightZenith: Colour = [0.005, 0.008, 0.016];
  const nightHorizon: Colour = [0.017, 0.022, 0.034];
  const zenith = blend(nightZenith, blend(clearZenith, scale(grey, 0.72), overcast), day);
  const horizon = blend(nightHorizon, blend(clearHorizon, scale(grey, 1.12), overcast), day);
  return {
    sun: [Math.cos(height) * Math.sin(turn), Math.sin(height), Math.cos(height) * Math.cos(turn)],
    sunColour,
    ambient: blend(scale(zenith, 0.9), scale(horizon, 0.55), 0.55),
    zenith,
    horizon,
    glow: scale(blend([1, 0.93, 0.8], [1.25, 0.62, 0.24], low), day * (1 - overcast * 0.75)),
    haze: blend(scale(horizon, 0.9), scale(zenith, 1.5), 0.38),
  };
}

/** The sky in a direction (unit vector, y up). Clouds lie on a plane overhead, so that they crowd towards the horizon. */
export function skyColour(scene: Scene, light: Light, noise: Noise, [x, y, z]: Vector, out: Float32Array): void {
  const up = clamp(y, 0, 1);
  const rise = Math.pow(1 - up, 3.2);
  const toSun = clamp(x * light.sun[0] + y * light.sun[1] + z * light.sun[2], -1, 1);
  const glow = Math.pow(clamp(toSun * 0.5 + 0.5), 9) * 0.55 + Math.pow(clamp(toSun), 90) * 0.6 + Math.pow(clamp(toSun), 2200) * 6;
  for (let channel = 0; channel < 3; channel++) out[channel] = mix(light.zenith[channel]!, light.horizon[channel]!, rise) + light.glow[channel]! * glow * (1 - scene.cloud * 0.5);
  addClouds(scene, light, noise, x, up, z, toSun, out);
  if (scene.night > 0.5) addNight(scene, noise, x, up, z, out);
}

function addClouds(scene: Scene, light: Light, noise: Noise, x: number, up: number, z: number, toSun: number, out: Float32Array): void {
  if (scene.cloud <= 0.02) return;
  const reach = 1 / (up + 0.09);
  const u = x * reach * 0.9;
  const v = z * reach * 0.55;
  const bend = noise.layered(u * 0.7 + 40, v * 0.7, 3) * 0.55;
  const body = noise.layered(u + bend, v * 1.6 + bend, 5);
  const wisps = noise.layered(u * 3.1 - 8, v * 1.1 + bend * 2, 4) * 0.35;
  const cover = smooth(0.42 - scene.cloud * 1.15, 0.95 - scene.cloud * 0.95, body + wisps);
  if (cover <= 0) return;
  const thick = smooth(-0.1, 0.75, body);
  const lit = 0.55 + 0.45 * clamp(noise.layered(u + bend + light.sun[0] * 0.16, v * 1.6 + bend - 0.14, 4) * -1.1 + 0.45);
  const silver = Math.pow(clamp(toSun), 5) * (1 - thick) * 0.9;
  for (let channel = 0; channel < 3; channel++) {
    const shade = light.ambient[channel]! * 0.85 + light.horizon[channel]! * 0.42;
    const bright = shade + light.sunColour[channel]! * 0.5 + light.horizon[channel]! * 0.2;
    const cloud = mix(bright * lit, shade * 0.78, thick * 0.75) + light.glow[channel]! * silver;
    out[channel] = mix(out[channel]!, cloud, cover * (0.9 - 0.25 * Math.pow(1 - up, 8)));
  }
}

function addNight(scene: Scene, noise: Noise, x: number, up: number, z: number, out: Float32Array): void {
  const u = x / (z + 0.001);
  const cell = noise.at(u * 160 + 3, up * 190);
  const star = smooth(0.56, 0.66, cell) * (1 - scene.cloud);
  for (let channel = 0; channel < 3; channel++) out[channel] = out[channel]! + star * 0.22;
  if (scene.aurora <= 0) return;
  const fold = noise.layered(u * 1.3 + 7, 0.4, 4) * 0.33 + 0.3 + u * 0.07;
  const curtain = Math.exp(-Math.pow((up - fold) * (up > fold ? 7 : 26), 2));
  const rays = 0.45 + 0.55 * clamp(noise.layered(u * 11, up * 0.6, 3) + 0.5);
  const second = Math.exp(-Math.pow((up - fold * 0.62 - 0.12) * (up > fold * 0.62 + 0.12 ? 6 : 22), 2)) * 0.4;
  const strength = (curtain * rays + second) * scene.aurora * 0.3;
  const high = clamp((up - fold) * 2.6);
  out[0] = out[0]! + strength * mix(0.03, 0.2, high);
  out[1] = out[1]! + strength * mix(0.42, 0.12, high);
  out[2] = out[2]! + strength * mix(0.18, 0.26, high);
}
