// Houses, boathouses, churches, lights and sheds. Built along z, the gable towards the camera, standing at height 0 on
// a base that goes into the ground.

import type { Vector } from './light';
import { type Material, MeshShape } from './mesh';
import type { Colour } from './scene';

const coat = (colour: Colour, surface: Material['surface'], gloss = 0.12): Material => ({ colour, surface, gloss });
const TURF = coat([0.1, 0.14, 0.04], 'turf', 0);
const LIME = coat([0.62, 0.61, 0.57], 'plain', 0);
const BASALT = coat([0.13, 0.122, 0.11], 'stone', 0);
const TARRED = coat([0.026, 0.022, 0.02], 'boards');
const FRAME = coat([0.68, 0.68, 0.65], 'plain');
const GLASS: Material = { colour: [0.03, 0.036, 0.04], surface: 'glass', gloss: 0.8 };
const litGlass = (warm: number): Material => ({
  colour: [1, 0.44 + warm * 0.12, 0.12 + warm * 0.1],
  surface: 'glass',
  gloss: 0.2,
  glow: 0.5 + warm * 0.6,
});

/** Coats of houses in these islands; tar and white most of all: common practice, no source. */
const COATS: Colour[] = [
  [0.028, 0.024, 0.022],
  [0.6, 0.6, 0.56],
  [0.3, 0.05, 0.035],
  [0.028, 0.024, 0.022],
  [0.1, 0.2, 0.26],
  [0.42, 0.3, 0.08],
  [0.08, 0.16, 0.1],
  [0.6, 0.58, 0.52],
  [0.34, 0.35, 0.34],
];
const IRONS: Colour[] = [
  [0.24, 0.06, 0.04],
  [0.06, 0.065, 0.07],
  [0.12, 0.2, 0.15],
  [0.2, 0.21, 0.22],
  [0.05, 0.06, 0.09],
];

function window(
  shape: MeshShape,
  x: number,
  y: number,
  z: number,
  wide: number,
  tall: number,
  glass: Material,
  facing: 'front' | 'side',
): void {
  const out = 0.05;
  const rim = 0.09;
  const at = (u: number, v: number, w: number): Vector =>
    facing === 'front' ? [x + u, y + v, z - w] : [x + (x < 0 ? -w : w), y + v, z + u];
  shape.quad(
    at(-wide / 2 - rim, -rim, out),
    at(wide / 2 + rim, -rim, out),
    at(wide / 2 + rim, tall + rim, out),
    at(-wide / 2 - rim, tall + rim, out),
    FRAME,
  );
  for (const [from, to] of [
    [-wide / 2, -0.03],
    [0.03, wide / 2],
  ] as const) {
    for (const [low, high] of [
      [0, tall / 2 - 0.03],
      [tall / 2 + 0.03, tall],
    ] as const)
      shape.quad(
        at(from, low, out * 1.6),
        at(to, low, out * 1.6),
        at(to, high, out * 1.6),
        at(from, high, out * 1.6),
        glass,
      );
  }
}

export function house(kind: number, lit: boolean): MeshShape {
  const shape = new MeshShape();
  const [half, long, wall] = [2.9 + (kind % 3) * 0.4, 8 + (kind % 4), 3.1 + (kind % 2) * 0.6];
  const walls = coat(COATS[kind % COATS.length]!, kind % 2 === 0 ? 'boards' : 'clapboard');
  const cellar = 1.5;
  const roof = kind % 3 === 1 ? coat(IRONS[kind % IRONS.length]!, 'iron', 0.25) : TURF;
  shape.box([-half, -6, 0], [half, cellar, long], kind % 4 === 3 ? BASALT : LIME);
  shape.box([-half, cellar, 0], [half, cellar + wall, long], walls);
  shape.roof(
    [-half, 0],
    [half, long],
    cellar + wall,
    cellar + wall + half * 0.92,
    roof,
    walls,
    0.35,
    roof === TURF ? 0.3 : 0.12,
  );
  shape.box(
    [-0.4, cellar + wall + half * 0.5, long * 0.45],
    [0.4, cellar + wall + half * 0.92 + 0.95, long * 0.45 + 0.8],
    kind % 2 === 0 ? LIME : coat([0.22, 0.09, 0.06], 'stone'),
  );
  const glass = (which: number) => (lit && (kind * 7 + which * 5) % 8 > 2 ? litGlass(((kind + which) % 5) / 5) : GLASS);
  for (const [index, x] of [-half * 0.5, half * 0.5].entries())
    window(shape, x, cellar + wall * 0.32, 0, 0.95, 1.2, glass(index), 'front');
  window(shape, 0, cellar + wall + half * 0.18, 0, 0.85, 1, glass(2), 'front');
  for (const side of [-half, half])
    for (let at = 0; at < 3; at++)
      window(shape, side, cellar + wall * 0.32, long * (0.2 + at * 0.3), 0.95, 1.2, glass(3 + at), 'side');
  window(shape, -half * 0.5, 0.35, 0, 0.7, 0.6, glass(6), 'front');
  shape.quad(
    [half * 0.2, -0.6, -0.06],
    [half * 0.2 + 0.95, -0.6, -0.06],
    [half * 0.2 + 0.95, 1.35, -0.06],
    [half * 0.2, 1.35, -0.06],
    coat(COATS[(kind + 2) % COATS.length]!, 'boards'),
  );
  return shape;
}

export function boathouse(kind: number): MeshShape {
  const shape = new MeshShape();
  const [half, long, wall] = [2.3 + (kind % 3) * 0.25, 9, 1.7 + (kind % 2) * 0.3];
  const front =
    kind % 4 === 2 ? coat([0.27, 0.05, 0.035], 'boards') : kind % 5 === 4 ? coat([0.19, 0.17, 0.15], 'boards') : TARRED;
  shape.box([-half, -5, 0.1], [half, wall, long], BASALT);
  shape.box([-half * 0.98, 0.15, 0], [half * 0.98, wall, 0.12], front);
  shape.roof(
    [-half, 0],
    [half, long],
    wall,
    wall + half * 0.95,
    kind % 5 === 3 ? coat(IRONS[kind % IRONS.length]!, 'iron', 0.2) : TURF,
    front,
    0.28,
    0.3,
  );
  const door =
    kind % 3 === 0
      ? coat([0.05, 0.1, 0.075], 'boards')
      : kind % 3 === 1
        ? coat([0.33, 0.33, 0.3], 'boards')
        : coat([0.06, 0.05, 0.045], 'boards');
  shape.quad(
    [-half * 0.55, 0.1, -0.06],
    [half * 0.55, 0.1, -0.06],
    [half * 0.55, wall + 0.55, -0.06],
    [-half * 0.55, wall + 0.55, -0.06],
    door,
  );
  shape.box([-0.03, 0.1, -0.1], [0.03, wall + 0.55, -0.06], FRAME);
  // the landing in front, of round stones and rails of driftwood
  shape.box([-half * 0.9, -4, -7], [half * 0.9, -0.15, 0], BASALT);
  for (let at = 0; at < 5; at++)
    shape.tube(
      [-half * 0.6, -0.08, -1 - at * 1.2],
      [half * 0.6, -0.08, -1 - at * 1.2],
      0.09,
      coat([0.24, 0.2, 0.16], 'boards'),
      undefined,
      5,
    );
  return shape;
}

export function church(lit: boolean): MeshShape {
  const shape = new MeshShape();
  const white = coat([0.68, 0.68, 0.65], 'clapboard');
  shape.box([-3.6, -6, 0], [3.6, 0.7, 15], BASALT).box([-3.6, 0.7, 0], [3.6, 4.2, 15], white);
  shape.roof([-3.6, 0], [3.6, 15], 4.2, 8, TURF, white, 0.3, 0.3);
  shape.box([-0.95, 6.4, 0.6], [0.95, 10.2, 2.5], white);
  for (const [a, b] of [
    [
      [-1.1, 0.45],
      [1.1, 0.45],
    ],
    [
      [1.1, 0.45],
      [1.1, 2.65],
    ],
    [
      [1.1, 2.65],
      [-1.1, 2.65],
    ],
    [
      [-1.1, 2.65],
      [-1.1, 0.45],
    ],
  ] as [[number, number], [number, number]][])
    shape.triangle(
      [
        [a[0], 10.2, a[1]],
        [b[0], 10.2, b[1]],
        [0, 12.6, 1.55],
      ],
      coat([0.05, 0.055, 0.06], 'iron'),
    );
  for (const side of [-3.6, 3.6])
    for (let at = 0; at < 4; at++) window(shape, side, 1.6, 3 + at * 3, 1, 1.7, lit ? litGlass(0.6) : GLASS, 'side');
  window(shape, -1.9, 1.7, 0, 0.9, 1.5, lit ? litGlass(0.6) : GLASS, 'front');
  window(shape, 1.9, 1.7, 0, 0.9, 1.5, lit ? litGlass(0.6) : GLASS, 'front');
  shape.quad(
    [-0.7, 0.5, -0.05],
    [0.7, 0.5, -0.05],
    [0.7, 2.9, -0.05],
    [-0.7, 2.9, -0.05],
    coat([0.05, 0.11, 0.16], 'boards'),
  );
  return shape;
}

export function lighthouse(lit: boolean): MeshShape {
  const shape = new MeshShape();
  const white = coat([0.7, 0.7, 0.67], 'plain');
  const red = coat([0.36, 0.04, 0.025], 'plain', 0.3);
  const dark = coat([0.06, 0.06, 0.065], 'plain', 0.3);
  shape.tube([0, -4, 0], [0, 0.6, 0], 2.5, BASALT, 2.4, 16).tube([0, 0.6, 0], [0, 9.6, 0], 2, white, 1.45, 18);
  shape
    .tube([0, 9.6, 0], [0, 10, 0], 2.1, dark, 2.1, 18)
    .tube(
      [0, 10, 0],
      [0, 12.1, 0],
      1.15,
      lit
        ? { colour: [1, 0.85, 0.5], surface: 'glass', glow: 4, gloss: 0.4 }
        : { ...GLASS, colour: [0.16, 0.18, 0.18] },
      1.15,
      12,
    );
  shape
    .tube([0, 12.1, 0], [0, 13.6, 0], 1.35, red, 0.25, 14)
    .ball([0, 13.8, 0], [0.26, 0.3, 0.26], red, 8, 5)
    .tube([0, 13.8, 0], [0, 15.4, 0], 0.05, dark);
  for (let at = 0; at < 12; at++) {
    const [one, next] = [(at / 12) * Math.PI * 2, ((at + 1) / 12) * Math.PI * 2];
    shape.tube(
      [Math.cos(one) * 2.05, 10, Math.sin(one) * 2.05],
      [Math.cos(one) * 2.05, 10.95, Math.sin(one) * 2.05],
      0.035,
      dark,
      undefined,
      4,
    );
    shape.tube(
      [Math.cos(one) * 2.05, 10.95, Math.sin(one) * 2.05],
      [Math.cos(next) * 2.05, 10.95, Math.sin(next) * 2.05],
      0.035,
      dark,
      undefined,
      4,
    );
  }
  for (const y of [2.6, 5.6])
    shape.quad(
      [-0.35, y, -1.98 + y * 0.05],
      [0.35, y, -1.98 + y * 0.05],
      [0.35, y + 0.9, -1.94 + y * 0.05],
      [-0.35, y + 0.9, -1.94 + y * 0.05],
      GLASS,
    );
  shape.add(keepersHouse().at({ x: 5.6, y: 0, z: 1.5, turn: 12 }));
  return shape;
}

function keepersHouse(): MeshShape {
  const shape = new MeshShape();
  const white = coat([0.64, 0.64, 0.61], 'plain');
  shape.box([-2, -5, 0], [2, 2.5, 5.4], white);
  shape.roof([-2, 0], [2, 5.4], 2.5, 4.2, coat([0.32, 0.05, 0.03], 'iron', 0.2), white, 0.25, 0.12);
  window(shape, 0.7, 0.8, 0, 0.8, 1, GLASS, 'front');
  window(shape, -2, 0.8, 2.6, 0.8, 1, GLASS, 'side');
  shape.quad(
    [-1.2, 0, -0.05],
    [-0.4, 0, -0.05],
    [-0.4, 1.9, -0.05],
    [-1.2, 1.9, -0.05],
    coat([0.05, 0.1, 0.08], 'boards'),
  );
  return shape;
}

/** A long shed of the harbour or the yard, its side to the camera when turned by 90 degrees. */
export function shed(kind: number, lit: boolean): MeshShape {
  const shape = new MeshShape();
  const walls = coat(
    [
      [0.33, 0.05, 0.035],
      [0.2, 0.22, 0.23],
      [0.56, 0.55, 0.5],
      [0.06, 0.11, 0.14],
    ][kind % 4] as unknown as Colour,
    'iron',
    0.15,
  );
  shape.box([-5.5, -4, 0], [5.5, 5.2, 24], walls);
  shape.roof([-5.5, 0], [5.5, 24], 5.2, 8.2, coat(IRONS[(kind + 1) % IRONS.length]!, 'iron', 0.2), walls, 0.3, 0.12);
  shape.quad(
    [-2.4, 0, -0.06],
    [2.4, 0, -0.06],
    [2.4, 4.4, -0.06],
    [-2.4, 4.4, -0.06],
    coat([0.05, 0.055, 0.06], 'iron'),
  );
  for (const side of [-5.5, 5.5])
    for (let at = 0; at < 6; at++)
      window(shape, side, 2, 2.5 + at * 3.8, 1.4, 1.2, lit && at % 2 === kind % 2 ? litGlass(0.8) : GLASS, 'side');
  return shape;
}
