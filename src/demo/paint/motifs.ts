// The motifs: for each, how a photographer would stand, and what varies from frame to frame. All from a seed.

import { type Ground, groundOf } from './ground';
import { Noise, randomFrom } from './noise';
import type { ModelKind, Placed, Scene } from './scene';

export type Motif =
  | 'sound' | 'harbour' | 'boathouses' | 'village' | 'lighthouse' | 'ferry' | 'bird-cliff' | 'sheep' | 'fog' | 'snow' | 'night' | 'aurora' | 'falls' | 'shore' | 'old-print';

export interface Weather {
  /** Degrees over the horizon; below 0 is night. */
  sunHeight: number;
  sunTurn: number;
  cloud: number;
  hazeM: number;
  green: number;
  snow: number;
}

export interface Frame {
  motif: Motif;
  seed: number;
  /** Frames of one shoot share the seed and differ in this. */
  variant: number;
  width: number;
  height: number;
  weather: Weather;
  exposure: number;
  blur: number;
}

type Random = () => number;
const within = (random: Random, low: number, high: number) => low + random() * (high - low);

export function sceneOf({ motif, seed, variant, width, height, weather, exposure, blur }: Frame): Scene {
  const random = randomFrom(seed * 31 + variant);
  const shoot = randomFrom(seed);
  const scene: Scene = {
    seed, width, height, cameraM: within(shoot, 4, 9), fieldOfView: within(shoot, 26, 34), horizon: within(shoot, 0.5, 0.62) + within(random, -0.03, 0.03), foreground: 'water', pan: 0,
    peakM: within(shoot, 420, 760), land: within(shoot, 0.22, 0.42), nearM: within(shoot, 600, 1300), sound: within(shoot, 0.5, 1), terraces: within(shoot, 0.3, 0.6), snow: weather.snow, green: weather.green,
    sunHeight: weather.sunHeight, sunTurn: weather.sunTurn + within(random, -4, 4), cloud: weather.cloud, hazeM: weather.hazeM, swell: within(shoot, 0.1, 0.3), night: 0, aurora: 0, rain: 0, lights: false, birds: 0, falls: 0,
    models: [], exposure, warmth: within(shoot, -0.3, 0.4), grain: 0.028, monochrome: false, blur,
  };
  if (height > width) scene.fieldOfView *= 1.35;
  ARRANGE[motif](scene, shoot, random);
  if (variant > 0) {
    // the same place, seen anew: turned a little, nearer or wider
    scene.pan = within(random, -0.16, 0.16);
    scene.fieldOfView *= within(random, 0.62, 1.2);
  }
  return scene;
}

type Arrange = (scene: Scene, shoot: Random, random: Random) => void;

const ARRANGE: Record<Motif, Arrange> = {
  sound: (scene, shoot) => {
    scene.models = [afloat('boat', shoot, 60, 220), ...ashore(scene, shoot, 'house', 3)];
  },
  harbour: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 5, 8), nearM: 240, land: 0.42, sound: 0.35, swell: 0.1, horizon: 0.44 + within(random, -0.03, 0.03) });
    scene.models = [
      ...Array.from({ length: 5 }, () => afloat('boat', shoot, 34, 150)), afloat('trawler', shoot, 110, 190), { kind: 'quay', x: within(shoot, -30, 30), z: 150, turn: within(shoot, -14, 14), scale: 1, colour: 0 },
      ...ashore(scene, shoot, 'house', 16), ...ashore(scene, shoot, 'boathouse', 5),
    ];
    for (const placed of scene.models) if (placed.kind === 'boat') placed.turn += within(random, -6, 6);
  },
  boathouses: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: 3.4, nearM: 120, land: 0.46, sound: 0.2, swell: 0.06, horizon: 0.52 + within(random, -0.03, 0.03), peakM: within(shoot, 300, 520) });
    scene.models = [...row(scene, shoot, 'boathouse', 7), ...ashore(scene, shoot, 'house', 4), afloat('boat', shoot, 36, 80), afloat('boat', shoot, 46, 90)];
  },
  village: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 12, 26), nearM: 200, land: 0.44, sound: 0.3, peakM: within(shoot, 620, 860), horizon: 0.6 + within(random, -0.03, 0.03), swell: 0.12 });
    scene.models = [...ashore(scene, shoot, 'house', 24), ...ashore(scene, shoot, 'church', 1), ...ashore(scene, shoot, 'boathouse', 4), afloat('boat', shoot, 90, 240)];
  },
  lighthouse: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 58, 95), foreground: 'cliff', horizon: 0.36 + within(random, -0.03, 0.03), nearM: 2600, land: 0.16, swell: 0.5 });
    const ground = groundOf(scene, new Noise(scene.seed));
    const aside = within(shoot, -0.2, 0.24) + within(random, -0.04, 0.04);
    const stands = Array.from({ length: 40 }, (_, index) => 92 - index * 2).find((far) => ground(aside * far, far + 2) > scene.cameraM - 7);
    const z = stands ?? 14;
    const x = aside * z;
    scene.models = [{ kind: 'lighthouse', x, z, turn: within(shoot, -30, 30), scale: Math.max(0.2, z / 130), colour: 0 }];
    scene.birds = Math.floor(within(random, 2, 9));
  },
  ferry: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 5, 10), nearM: 2200, swell: within(shoot, 0.55, 0.85), horizon: 0.5 + within(random, -0.04, 0.04), fieldOfView: 22 });
    scene.models = [{ kind: 'ferry', x: within(random, -90, 90), z: within(shoot, 480, 760), turn: within(shoot, 12, 32), scale: 1, colour: 0 }];
    scene.birds = Math.floor(within(random, 0, 7));
  },
  'bird-cliff': (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 14, 40), nearM: 180, land: 0.55, sound: 0.1, peakM: within(shoot, 520, 700), terraces: 0.75, green: scene.green * 0.8, horizon: 0.72 + within(random, -0.03, 0.03), swell: 0.45 });
    scene.birds = Math.floor(within(random, 60, 170));
  },
  sheep: (scene, shoot, random) => {
    Object.assign(scene, { cameraM: within(shoot, 90, 170), foreground: 'slope', nearM: 1300, horizon: 0.36 + within(random, -0.03, 0.03), land: 0.26 });
    scene.models = Array.from({ length: 9 }, () => ({ kind: 'sheep' as const, x: within(random, -13, 13), z: within(random, 20, 75), turn: within(random, -60, 240), scale: 0.95, colour: Math.floor(random() * 9) }));
  },
  fog: (scene, shoot) => {
    Object.assign(scene, { hazeM: within(shoot, 700, 1700), cloud: 0.95, swell: 0.05, nearM: 500, land: 0.34 });
    scene.models = [afloat('boat', shoot, 40, 90), afloat('trawler', shoot, 200, 330)];
  },
  snow: (scene, shoot) => {
    Object.assign(scene, { snow: within(shoot, 0.75, 0.98), green: 0.1, nearM: 240, land: 0.4, sound: 0.4, warmth: -0.5, horizon: 0.5 });
    scene.models = [...ashore(scene, shoot, 'house', 10), afloat('boat', shoot, 40, 110), afloat('boat', shoot, 60, 130)];
  },
  night: (scene, shoot, random) => {
    Object.assign(scene, { sunHeight: -10, night: 0.93, nearM: 230, land: 0.44, sound: 0.3, swell: 0.05, lights: true, cloud: 0.45, cameraM: 5, horizon: 0.46 + within(random, -0.03, 0.03), exposure: scene.exposure + 2.3, grain: 0.045 });
    scene.models = [...ashore(scene, shoot, 'house', 46), ...ashore(scene, shoot, 'church', 1), afloat('trawler', shoot, 90, 150), afloat('boat', shoot, 40, 90)];
  },
  aurora: (scene, shoot, random) => {
    Object.assign(scene, { sunHeight: -14, night: 1, aurora: within(shoot, 0.4, 0.65), cloud: 0.08, swell: 0.03, lights: true, horizon: 0.72 + within(random, -0.03, 0.03), fieldOfView: 52, exposure: scene.exposure + 1.6, grain: 0.05, snow: Math.max(scene.snow, 0.5), nearM: 600 });
    scene.models = ashore(scene, shoot, 'house', 5);
  },
  falls: (scene, shoot, random) => {
    Object.assign(scene, { falls: within(shoot, 0.5, 0.9), nearM: 260, land: 0.6, sound: 0.1, cameraM: within(shoot, 8, 22), peakM: within(shoot, 460, 640), terraces: 0.6, horizon: 0.74 + within(random, -0.03, 0.03), swell: 0.3 });
    scene.birds = Math.floor(within(random, 0, 12));
  },
  shore: (scene, shoot, random) => {
    Object.assign(scene, { foreground: 'shore', cameraM: 2.6, swell: within(shoot, 0.3, 0.55), horizon: 0.42 + within(random, -0.04, 0.04), nearM: 1600 });
    scene.models = random() > 0.4 ? [{ kind: 'figure', x: within(random, -3, 4), z: within(random, 26, 44), turn: within(random, -80, 80), scale: 1, colour: Math.floor(random() * 4) }] : [];
  },
  'old-print': (scene, shoot, random) => {
    ARRANGE.harbour(scene, shoot, random);
    Object.assign(scene, { monochrome: true, grain: 0.07, blur: 1, hazeM: Math.min(scene.hazeM, 7000) });
  },
};

function afloat(kind: ModelKind, random: Random, nearM: number, farM: number): Placed {
  const z = within(random, nearM, farM);
  return { kind, x: within(random, -0.36, 0.36) * z, z, turn: within(random, -50, 50) + (random() > 0.5 ? 180 : 0), scale: within(random, 0.85, 1.2), colour: Math.floor(random() * 6) };
}

/** Places a building on gentle ground a little above the water. */
function ashore(scene: Scene, random: Random, kind: ModelKind, count: number): Placed[] {
  const ground = groundOf(scene, new Noise(scene.seed));
  const placed: Placed[] = [];
  for (let attempt = 0; attempt < 2600 && placed.length < count; attempt++) {
    const z = within(random, scene.nearM * 0.9, scene.nearM * 3.2 + 400);
    const x = within(random, -0.5, 0.5) * z;
    if (!standsWell(ground, x, z, kind === 'boathouse' ? 9 : 34)) continue;
    if (placed.some((other) => Math.hypot(other.x - x, other.z - z) < 15)) continue;
    placed.push({ kind, x, z, turn: within(random, -35, 35), scale: within(random, 0.9, 1.25), colour: Math.floor(random() * 12) });
  }
  return placed;
}

function standsWell(ground: Ground, x: number, z: number, below: number): boolean {
  const height = ground(x, z);
  return height > 1.6 && height < below && Math.abs(ground(x + 5, z) - height) < 3.4 && ground(x, z - 7) < height + 0.5;
}

/** Buildings side by side along the waterline. */
function row(scene: Scene, random: Random, kind: ModelKind, count: number): Placed[] {
  const ground = groundOf(scene, new Noise(scene.seed));
  const placed: Placed[] = [];
  const start = within(random, -42, -18);
  for (let index = 0; index < count; index++) {
    const x = start + index * within(random, 8.6, 10.4);
    let z = 50;
    while (z < 900 && ground(x, z) < 1.7) z += 2;
    if (z < 900) placed.push({ kind, x, z: z + 3, turn: within(random, -5, 5), scale: within(random, 0.92, 1.1), colour: index + Math.floor(random() * 3) });
  }
  return placed;
}
