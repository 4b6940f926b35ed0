// The motifs out of doors: for each, how a photographer would stand, and what varies from frame to frame. All from a
// seed: `shoot` draws what the frames of a shoot share, `random` what each view of it has for itself.

import { ferry, fishingBoat, hullOnSlip, openBoat, smack, trawler } from './boats';
import { type Pose, person, sheep } from './beings';
import { lighthouse, shed } from './buildings';
import { barrel, bollard, coil, coping, crane, fishBox, float, lamp, netHeap, pier, timberStack } from './gear';
import { PLAIN_FILM } from './film';
import { QUAY } from './ground';
import { type Random, afloat, boathouses, groundFor, onGround, pick, village, whole, within } from './placing';
import { randomFrom } from './noise';
import type { Film, Scene } from './scene';

export const OUTDOORS = [
  'sound',
  'harbour',
  'boathouses',
  'village',
  'lighthouse',
  'ferry',
  'bird-cliff',
  'sheep',
  'fog',
  'snow-quay',
  'slip',
  'quay',
  'night',
  'aurora',
  'falls',
  'shore',
  'smack',
  'rain',
  'heights',
] as const;
export type Outdoors = (typeof OUTDOORS)[number];

export interface Weather {
  /** Degrees over the horizon; below 0 is night. */
  sunHeight: number;
  sunTurn: number;
  cloud: number;
  hazeM: number;
  green: number;
  snow: number;
  swell?: number;
  rain?: number;
  snowfall?: number;
  cloudBaseM?: number;
}

export interface MotifFrame {
  seed: number;
  /** Which view of the subject: frames of one view differ in `moment` only. */
  variant: number;
  /** Seconds since the view was taken up: birds, boats and people move on. */
  moment: number;
  width: number;
  height: number;
  weather: Weather;
  /** How far a panorama has been turned, as a tangent. */
  turned: number;
  film: Partial<Film>;
}

export function sceneOf(
  motif: Outdoors,
  { seed, variant, moment, width, height, weather, turned, film }: MotifFrame,
): Scene {
  const random = randomFrom(seed * 31 + variant * 7 + 1);
  const shoot = randomFrom(seed);
  const scene: Scene = {
    seed,
    width,
    height,
    cameraM: within(shoot, 4, 9),
    fieldOfView: within(shoot, 26, 34),
    horizon: within(shoot, 0.5, 0.6) + within(random, -0.04, 0.04),
    foreground: 'water',
    pan: 0,
    step: 0,
    peakM: within(shoot, 420, 760),
    land: within(shoot, 0.22, 0.42),
    nearM: within(shoot, 600, 1300),
    sound: within(shoot, 0.5, 1),
    terraces: within(shoot, 0.2, 0.5),
    snow: weather.snow,
    green: weather.green,
    sunHeight: weather.sunHeight,
    sunTurn: weather.sunTurn + within(random, -4, 4),
    cloud: weather.cloud,
    cloudBaseM: weather.cloudBaseM ?? 0,
    hazeM: weather.hazeM,
    shelf: 0,
    swell: weather.swell ?? within(shoot, 0.08, 0.25),
    night: 0,
    aurora: 0,
    rain: weather.rain ?? 0,
    snowfall: weather.snowfall ?? 0,
    lights: weather.sunHeight < 3,
    birds: 0,
    falls: 0,
    meshes: [],
    film: { ...PLAIN_FILM, warmth: within(shoot, -0.25, 0.3) },
  };
  if (height > width) scene.fieldOfView *= 1.4;
  if (variant > 0) scene.fieldOfView *= within(random, 0.66, 1.15);
  ARRANGE[motif](scene, shoot, random, moment);
  if (variant > 0) {
    scene.pan += within(random, -0.1, 0.1);
    scene.step += within(random, -1.2, 1.2) * (scene.foreground === 'water' ? 6 : 0.6);
  }
  scene.pan += turned;
  scene.film = {
    ...scene.film,
    ...film,
    exposure: scene.film.exposure + (film.exposure ?? 0),
    key: scene.film.key * (film.key ?? 1),
  };
  return scene;
}

type Arrange = (scene: Scene, shoot: Random, random: Random, moment: number) => void;

const POSES: Pose[] = ['standing', 'walking', 'standing', 'hauling', 'carrying', 'walking', 'bent'];

function boatsAfloat(
  scene: Scene,
  random: Random,
  count: number,
  nearM: number,
  farM: number,
  kinds: ('open' | 'fishing' | 'trawler')[],
): void {
  for (let index = 0; index < count; index++) {
    const z = within(random, nearM, farM);
    const kind = pick(random, kinds);
    const shape =
      kind === 'open'
        ? openBoat(whole(random, 9))
        : kind === 'fishing'
          ? fishingBoat(whole(random, 14), scene.lights, within(random, 8, 13))
          : trawler(whole(random, 7), scene.lights);
    scene.meshes.push(
      afloat(
        shape,
        random,
        (within(random, -0.42, 0.42) * z * scene.width) / scene.height / 1.6,
        z,
        within(random, 40, 140) + (random() > 0.5 ? 180 : 0),
        scene.swell,
      ),
    );
  }
}

function quayside(scene: Scene, random: Random, items: number): void {
  scene.meshes.push(coping().at({ x: 0, y: 0, z: 0 }));
  for (let x = -9; x <= 9; x += 6)
    scene.meshes.push(bollard().at({ x: x + within(random, -0.6, 0.6), y: QUAY.topM, z: QUAY.farM - 1.2 }));
  for (let index = 0; index < items; index++) {
    const z = within(random, 7, QUAY.farM - 1.5);
    const x = within(random, -0.62, 0.62) * z;
    const at = { x, y: QUAY.topM, z, turn: within(random, -50, 50) };
    const kind = whole(random, 7);
    if (kind === 0) scene.meshes.push(barrel(whole(random, 5)).at(at));
    else if (kind <= 2) scene.meshes.push(netHeap(whole(random, 5), random).at(at));
    else if (kind === 3) scene.meshes.push(coil(whole(random, 5)).at(at));
    else if (kind === 4)
      for (let high = 0; high < 1 + whole(random, 4); high++)
        scene.meshes.push(
          fishBox(index).at({ ...at, y: QUAY.topM + high * 0.3, turn: at.turn + within(random, -5, 5) }),
        );
    else
      for (let more = 0; more < 5; more++)
        scene.meshes.push(
          float(more + index).at({ x: x + within(random, -0.8, 0.8), y: QUAY.topM, z: z + within(random, -0.6, 0.6) }),
        );
  }
}

const ARRANGE: Record<Outdoors, Arrange> = {
  sound: (scene, shoot, random) => {
    Object.assign(scene, {
      nearM: within(shoot, 420, 900),
      land: within(shoot, 0.34, 0.56),
      peakM: within(shoot, 520, 860),
      sound: within(shoot, 0.35, 0.8),
    });
    if (shoot() > 0.4) boatsAfloat(scene, shoot, 2, 50, 240, ['open', 'fishing']);
    scene.meshes.push(...village(scene, shoot, 5, scene.lights, false));
    scene.birds = whole(random, 5);
  },
  harbour: (scene, shoot, random) => {
    Object.assign(scene, {
      shelf: within(shoot, 0.15, 0.5),
      terraces: within(shoot, 0.1, 0.35),
      cameraM: within(shoot, 4.5, 8),
      nearM: 170,
      land: 0.44,
      sound: 0.3,
      swell: 0.05,
      horizon: 0.42 + within(random, -0.04, 0.04),
      peakM: within(shoot, 360, 640),
    });
    const [end, z] = [within(shoot, -6, 26), within(shoot, 62, 96)];
    const leftward = shoot() > 0.5;
    scene.meshes.push(
      pier(leftward ? -90 : -end, leftward ? end : 90, z, z + 9, 1.9).at({ x: 0, y: 0, z: 0 }),
      shed(whole(shoot, 4), scene.lights).at({ x: leftward ? end - 34 : 34 - end, y: 1.9, z: z + 6, turn: 90 }),
    );
    for (let at = 0; at < 5; at++)
      scene.meshes.push(lamp(scene.lights).at({ x: (leftward ? 1 : -1) * (end - 3 - at * 13), y: 1.9, z: z + 1.5 }));
    for (let at = 0; at < 3; at++)
      scene.meshes.push(
        afloat(
          fishingBoat(whole(shoot, 14), scene.lights, within(shoot, 9, 13)),
          random,
          (leftward ? 1 : -1) * (end - 8 - at * 15),
          z - 3.2,
          90 + within(shoot, -5, 5),
          scene.swell,
        ),
      );
    boatsAfloat(scene, shoot, 3, 20, 48, ['open', 'open', 'fishing']);
    scene.meshes.push(...village(scene, shoot, 26, scene.lights, shoot() > 0.5));
    scene.birds = whole(random, 6);
  },
  boathouses: (scene, shoot, random) => {
    Object.assign(scene, {
      shelf: within(shoot, 0.2, 0.5),
      terraces: within(shoot, 0.1, 0.35),
      cameraM: within(shoot, 2.6, 4.4),
      nearM: 74,
      land: 0.48,
      sound: 0.12,
      swell: 0.04,
      horizon: 0.54 + within(random, -0.03, 0.03),
      peakM: within(shoot, 260, 480),
    });
    scene.meshes.push(...boathouses(scene, shoot, 9));
    boatsAfloat(scene, shoot, 2, 22, 46, ['open']);
    scene.meshes.push(...village(scene, shoot, 7, scene.lights, false));
  },
  village: (scene, shoot, random) => {
    Object.assign(scene, {
      shelf: within(shoot, 0.2, 0.46),
      terraces: within(shoot, 0.1, 0.3),
      cameraM: within(shoot, 6, 20),
      nearM: within(shoot, 110, 190),
      land: within(shoot, 0.3, 0.46),
      sound: 0.25,
      peakM: within(shoot, 420, 700),
      horizon: 0.66 + within(random, -0.04, 0.04),
      swell: 0.12,
      fieldOfView: scene.fieldOfView * 1.12,
    });
    scene.meshes.push(...village(scene, shoot, 30, scene.lights, true));
    boatsAfloat(scene, shoot, 1, 90, 160, ['open', 'fishing']);
  },
  lighthouse: (scene, shoot, random) => {
    Object.assign(scene, {
      cameraM: within(shoot, 58, 95),
      foreground: 'cliff',
      horizon: 0.38 + within(random, -0.03, 0.03),
      nearM: 2600,
      land: 0.18,
      swell: scene.swell + 0.3,
    });
    const ground = groundFor(scene);
    const aside = within(shoot, -0.18, 0.2);
    let z = 90;
    while (z > 16 && ground(aside * z, z + 3) < scene.cameraM - 8) z -= 1;
    scene.meshes.push(
      onGround(lighthouse(scene.lights), ground, aside * z, z, within(shoot, -30, 30), Math.min(1, z / 46)),
    );
    scene.birds = whole(random, 9);
    Object.assign(scene.film, { focusM: 45, aperture: 1.4 });
  },
  ferry: (scene, shoot, random, moment) => {
    Object.assign(scene, {
      cameraM: within(shoot, 5, 11),
      nearM: 2400,
      swell: scene.swell + within(shoot, 0.35, 0.6),
      horizon: 0.5 + within(random, -0.04, 0.04),
      fieldOfView: within(shoot, 8, 15),
      sound: 0.9,
    });
    const bound = within(shoot, 40, 75) * (shoot() > 0.5 ? 1 : -1);
    scene.meshes.push(
      ferry(scene.lights).at({
        x: within(random, -40, 40) - Math.sign(bound) * moment * 7,
        y: within(random, -1, 0.3),
        z: within(shoot, 330, 560),
        turn: bound,
        roll: within(random, -3, 3),
        pitch: within(random, -1.6, 1.6),
      }),
    );
    scene.birds = whole(random, 8);
  },
  'bird-cliff': (scene, shoot, random) => {
    Object.assign(scene, {
      cameraM: within(shoot, 8, 30),
      foreground: 'wall',
      nearM: within(shoot, 190, 420),
      land: 0.5,
      sound: 0.08,
      peakM: within(shoot, 420, 700),
      terraces: 0.6,
      green: scene.green * 0.8,
      horizon: 0.74 + within(random, -0.03, 0.03),
      swell: scene.swell + 0.25,
    });
    scene.birds = 60 + whole(random, 130);
  },
  sheep: (scene, shoot, random, moment) => {
    Object.assign(scene, {
      cameraM: within(shoot, 80, 170),
      foreground: 'slope',
      nearM: 1300,
      horizon: 0.34 + within(random, -0.04, 0.04),
      land: 0.3,
      sound: 0.5,
    });
    const ground = groundFor(scene);
    const count = 4 + whole(shoot, 9);
    for (let index = 0; index < count; index++) {
      const z = within(random, 6, 34);
      scene.meshes.push(
        onGround(
          sheep(whole(shoot, 12), random() > 0.35),
          ground,
          within(random, -0.42, 0.42) * z + moment * 0.1,
          z,
          within(random, 0, 360),
          within(shoot, 0.95, 1.15),
        ),
      );
    }
    Object.assign(scene.film, { focusM: 17, aperture: 2.2 });
  },
  fog: (scene, shoot, random) => {
    Object.assign(scene, {
      hazeM: within(shoot, 260, 800),
      cloud: 0.95,
      swell: 0.03,
      nearM: 380,
      land: 0.36,
      cloudBaseM: 60,
      horizon: 0.52 + within(random, -0.05, 0.05),
    });
    boatsAfloat(scene, shoot, 2, 26, 80, ['open', 'fishing']);
    boatsAfloat(scene, shoot, 1, 150, 260, ['trawler']);
    Object.assign(scene.film, { key: 1.5, contrast: 0.2 });
  },
  'snow-quay': (scene, shoot, random, moment) => {
    ARRANGE.quay(scene, shoot, random, moment);
    Object.assign(scene, { snow: within(shoot, 0.75, 0.98), green: 0.1 });
    Object.assign(scene.film, { warmth: -0.5, key: 1.5 });
  },
  slip: (scene, shoot, random) => {
    Object.assign(scene, {
      cameraM: within(shoot, 3.7, 4.6),
      foreground: 'slip',
      nearM: 700,
      horizon: 0.4 + within(random, -0.03, 0.03),
      fieldOfView: 36,
      land: 0.4,
      sound: 0.4,
    });
    const ground = groundFor(scene);
    const hull = hullOnSlip(whole(shoot, 7), pick(shoot, [0.3, 0.6, 1, 1]), within(shoot, 10, 14));
    scene.meshes.push(
      onGround(
        hull,
        ground,
        within(shoot, -3, 3),
        within(shoot, 17, 22),
        pick(shoot, [28, -30, 62, -70]) + within(random, -3, 3),
      ),
    );
    if (shoot() > 0.4)
      scene.meshes.push(
        onGround(hullOnSlip(whole(shoot, 7), 1, 9), ground, pick(shoot, [-13, 13]), 36, within(shoot, -40, 40)),
      );
    scene.meshes.push(
      onGround(shed(whole(shoot, 4), false), ground, pick(shoot, [-22, 24]), 40, 90 + within(shoot, -12, 12)),
      onGround(timberStack(whole(shoot, 3)), ground, within(shoot, -7, 7), 10.5, within(shoot, 30, 80)),
    );
    for (let index = 0; index < 3; index++)
      scene.meshes.push(
        onGround(
          person(whole(shoot, 14), pick(random, POSES)),
          ground,
          within(random, -6, 6),
          within(random, 12.5, 16),
          within(random, 0, 360),
        ),
      );
    scene.meshes.push(
      onGround(barrel(whole(shoot, 3)), ground, within(shoot, -5, 5), 11.5, 0),
      onGround(barrel(1), ground, within(shoot, -6, 6), 13, 0),
    );
  },
  quay: (scene, shoot, random, moment) => {
    Object.assign(scene, {
      cameraM: QUAY.topM + within(shoot, 1.55, 2.6),
      shelf: within(shoot, 0.2, 0.8),
      foreground: 'quay',
      nearM: within(shoot, 130, 220),
      land: 0.42,
      sound: 0.3,
      swell: 0.05,
      horizon: 0.36 + within(random, -0.04, 0.04),
      fieldOfView: scene.fieldOfView * 1.15,
      peakM: within(shoot, 300, 560),
    });
    quayside(scene, shoot, 13);
    for (let at = 0; at < 3; at++)
      scene.meshes.push(
        afloat(
          fishingBoat(whole(shoot, 14), scene.lights, within(shoot, 9, 13)),
          random,
          -17 + at * within(shoot, 14, 19),
          QUAY.farM + within(shoot, 2.4, 4),
          90 + within(shoot, -6, 6),
          scene.swell,
        ),
      );
    if (shoot() > 0.5) scene.meshes.push(crane().at({ x: within(shoot, -9, 9), y: QUAY.topM, z: QUAY.farM - 2.6 }));
    scene.meshes.push(...village(scene, shoot, 18, scene.lights, false));
    const people = 2 + whole(shoot, 4);
    for (let index = 0; index < people; index++) {
      const z = within(random, 11, QUAY.farM - 2);
      scene.meshes.push(
        person(whole(shoot, 14), pick(random, POSES)).at({
          x: ((index + within(random, 0.1, 0.9)) / people - 0.5) * 0.8 * z + moment * 0.35,
          y: QUAY.topM,
          z,
          turn: within(random, 0, 360),
          scale: within(shoot, 0.96, 1.06),
        }),
      );
    }
    Object.assign(scene.film, { focusM: 17, aperture: 1.4 });
  },
  night: (scene, shoot, random, moment) => {
    scene.lights = true;
    ARRANGE.harbour(scene, shoot, random, moment);
    Object.assign(scene, {
      sunHeight: -10,
      night: 0.9,
      horizon: 0.46 + within(random, -0.03, 0.03),
      birds: 0,
      swell: 0.07,
    });
    Object.assign(scene.film, { key: 0.4, grain: 0.06, contrast: 0.3 });
  },
  aurora: (scene, shoot, random) => {
    Object.assign(scene, {
      sunHeight: -14,
      night: 1,
      aurora: within(random, 0.5, 1),
      cloud: 0.06,
      swell: 0.03,
      lights: true,
      horizon: 0.74 + within(random, -0.03, 0.03),
      fieldOfView: 54,
      snow: Math.max(scene.snow, 0.4),
      shelf: within(shoot, 0.3, 0.7),
      nearM: 260,
      land: 0.34,
      birds: 0,
    });
    scene.meshes.push(...village(scene, shoot, 7, true, false));
    Object.assign(scene.film, { key: 0.26, grain: 0.07, contrast: 0.25 });
  },
  falls: (scene, shoot, random) => {
    Object.assign(scene, {
      falls: within(shoot, 0.35, 0.9),
      foreground: 'wall',
      nearM: within(shoot, 150, 240),
      land: 0.5,
      sound: 0.08,
      cameraM: within(shoot, 8, 24),
      peakM: within(shoot, 420, 640),
      terraces: 0.6,
      horizon: 0.72 + within(random, -0.03, 0.03),
      swell: scene.swell + 0.15,
    });
    scene.birds = whole(random, 12);
  },
  shore: (scene, shoot, random, moment) => {
    Object.assign(scene, {
      foreground: 'shore',
      cameraM: within(shoot, 2.4, 3.4),
      swell: scene.swell + within(shoot, 0.2, 0.45),
      horizon: 0.4 + within(random, -0.04, 0.04),
      nearM: 1600,
    });
    const ground = groundFor(scene);
    if (shoot() > 0.45)
      scene.meshes.push(
        onGround(
          person(whole(shoot, 14), pick(random, ['standing', 'walking', 'bent'])),
          ground,
          within(random, -3, 4) + moment * 0.5,
          within(shoot, 11, 15),
          within(random, 90, 270),
        ),
      );
    scene.birds = whole(random, 5);
  },
  smack: (scene, shoot, random, moment) => {
    Object.assign(scene, {
      cameraM: within(shoot, 4, 7),
      nearM: 1500,
      horizon: 0.56 + within(random, -0.04, 0.04),
      swell: scene.swell + 0.1,
      fieldOfView: within(shoot, 18, 26),
    });
    const bound = within(shoot, 50, 120);
    scene.meshes.push(
      smack(shoot() > 0.25).at({
        x: within(random, -12, 12) - moment * 2,
        y: 0,
        z: within(shoot, 80, 150),
        turn: bound,
        roll: within(random, 2, 7),
      }),
    );
    boatsAfloat(scene, shoot, 1, 50, 90, ['open']);
    scene.birds = whole(random, 5);
  },
  rain: (scene, shoot, random) => {
    Object.assign(scene, {
      rain: within(shoot, 0.5, 1),
      cloud: 0.9,
      cloudBaseM: within(shoot, 180, 320),
      hazeM: 6000,
      swell: scene.swell + 0.2,
      nearM: within(shoot, 500, 900),
      land: 0.34,
    });
    scene.meshes.push(...village(scene, shoot, 6, true, false));
    boatsAfloat(scene, random, 1, 60, 160, ['fishing', 'trawler']);
    Object.assign(scene.film, { warmth: -0.3, key: 0.86 });
  },
  heights: (scene, shoot, random) => {
    Object.assign(scene, {
      cameraM: within(shoot, 220, 380),
      foreground: 'slope',
      nearM: 900,
      horizon: 0.3 + within(random, -0.04, 0.04),
      land: 0.42,
      peakM: within(shoot, 620, 880),
      fieldOfView: 40,
      sound: 0.8,
    });
    Object.assign(scene.film, { focusM: 60, aperture: 1 });
  },
};
