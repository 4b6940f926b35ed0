// What lies about on quays and slips: the quay's wall, bollards, boxes, floats, nets, coils, tyres, lamps, timber.

import type { Vector } from './light';
import { type Material, MeshShape } from './mesh';
import { QUAY } from './ground';
import type { Colour } from './scene';

const thing = (colour: Colour, surface: Material['surface'] = 'plain', gloss = 0.2): Material => ({
  colour,
  surface,
  gloss,
});
const IRON = thing([0.07, 0.072, 0.08], 'rust', 0.3);
const TIMBER = thing([0.25, 0.18, 0.11], 'boards', 0.05);
const RUBBER = thing([0.02, 0.02, 0.021], 'plain', 0.25);
export const FLOATS: Colour[] = [
  [0.55, 0.16, 0.03],
  [0.5, 0.42, 0.05],
  [0.5, 0.5, 0.47],
  [0.35, 0.05, 0.04],
  [0.06, 0.17, 0.28],
];
export const TWINES: Colour[] = [
  [0.05, 0.2, 0.13],
  [0.05, 0.12, 0.22],
  [0.34, 0.13, 0.05],
  [0.26, 0.22, 0.14],
  [0.04, 0.14, 0.15],
];

export const bollard = (): MeshShape =>
  new MeshShape().tube([0, 0, 0], [0, 0.55, 0], 0.2, IRON, 0.17, 12).ball([0, 0.58, 0], [0.3, 0.13, 0.3], IRON, 14, 6);

export function fishBox(kind: number): MeshShape {
  const plastic = thing(FLOATS[kind % FLOATS.length]!, 'plain', 0.3);
  const shape = new MeshShape().box([-0.4, 0, -0.28], [0.4, 0.3, 0.28], plastic, thing([0.05, 0.05, 0.05]));
  for (const z of [-0.29, 0.29]) shape.box([-0.42, 0.25, z - 0.02], [0.42, 0.31, z + 0.02], plastic);
  return shape;
}

export const float = (kind: number): MeshShape =>
  new MeshShape()
    .ball([0, 0.27, 0], [0.28, 0.28, 0.28], thing(FLOATS[kind % FLOATS.length]!, 'plain', 0.5), 14, 9)
    .tube([0, 0.5, 0], [0, 0.64, 0], 0.06, RUBBER);

/** A heap of net with floats in its folds. */
export function netHeap(kind: number, random: () => number): MeshShape {
  const twine = thing(TWINES[kind % TWINES.length]!, 'net', 0);
  const shape = new MeshShape();
  for (let at = 0; at < 9; at++)
    shape.ball(
      [(random() - 0.5) * 1.7, 0.1 + random() * 0.28, (random() - 0.5) * 1.2],
      [0.4 + random() * 0.5, 0.24 + random() * 0.3, 0.4 + random() * 0.4],
      twine,
      12,
      7,
    );
  for (let at = 0; at < 8; at++)
    shape.ball(
      [(random() - 0.5) * 2.2, 0.3 + random() * 0.35, (random() - 0.5) * 1.4 - 0.2],
      [0.1, 0.075, 0.075],
      thing(FLOATS[(kind + (at % 2)) % FLOATS.length]!, 'plain', 0.4),
      8,
      5,
    );
  return shape;
}

export function coil(kind: number): MeshShape {
  const rope = thing(TWINES[(kind + 2) % TWINES.length]!, 'plain', 0);
  const shape = new MeshShape();
  for (let turn = 0; turn < 6; turn++) {
    const radius = 0.42 - (turn % 3) * 0.05;
    for (let at = 0; at < 18; at++) {
      const spot = (step: number): Vector => [
        Math.cos((step / 18) * Math.PI * 2) * radius,
        0.05 + turn * 0.065,
        Math.sin((step / 18) * Math.PI * 2) * radius,
      ];
      shape.tube(spot(at), spot(at + 1), 0.04, rope, undefined, 6);
    }
  }
  return shape;
}

export function barrel(kind: number): MeshShape {
  const skin = thing(
    [
      [0.05, 0.13, 0.25],
      [0.32, 0.09, 0.03],
      [0.2, 0.13, 0.07],
    ][kind % 3] as unknown as Colour,
    kind % 3 === 2 ? 'boards' : 'rust',
    0.2,
  );
  return new MeshShape()
    .tube([0, 0, 0], [0, 0.45, 0], 0.27, skin, 0.31, 14)
    .tube([0, 0.45, 0], [0, 0.88, 0], 0.31, skin, 0.27, 14)
    .ball([0, 0.87, 0], [0.27, 0.03, 0.27], skin, 14, 4);
}

/** A lamp on a post, with its light when lit. */
export function lamp(lit: boolean, tallM = 5.4): MeshShape {
  const shape = new MeshShape()
    .tube([0, -2, 0], [0, tallM, 0], 0.07, IRON, 0.05)
    .tube([0, tallM, 0], [0.7, tallM + 0.18, 0], 0.04, IRON);
  shape.ball(
    [0.78, tallM + 0.1, 0],
    [0.2, 0.1, 0.14],
    lit ? { colour: [1, 0.68, 0.34], surface: 'plain', glow: 14 } : thing([0.4, 0.4, 0.38]),
    10,
    6,
  );
  return shape;
}

/** A pier of concrete on piles, from x0 to x1, its near face hung with tyres. */
export function pier(x0: number, x1: number, z0: number, z1: number, topM: number): MeshShape {
  const shape = new MeshShape().box(
    [x0, -3, z0],
    [x1, topM, z1],
    thing([0.2, 0.195, 0.185], 'stone', 0),
    thing([0.27, 0.265, 0.25], 'stone', 0),
  );
  shape.box([x0, topM - 0.3, z0 - 0.12], [x1, topM + 0.12, z0 + 0.2], TIMBER);
  for (let x = x0 + 1.5; x < x1; x += 4.5) {
    shape.tube([x, -2, z0 - 0.15], [x, topM + 0.25, z0 - 0.15], 0.15, thing([0.1, 0.075, 0.05], 'boards'));
    shape.add(tyre().at({ x: x + 2.2, y: topM - 0.75, z: z0 - 0.2 }));
  }
  return shape;
}

function tyre(): MeshShape {
  const shape = new MeshShape();
  for (let at = 0; at < 14; at++) {
    const spot = (step: number): Vector => [
      Math.cos((step / 14) * Math.PI * 2) * 0.36,
      Math.sin((step / 14) * Math.PI * 2) * 0.36,
      0,
    ];
    shape.tube(spot(at), spot(at + 1), 0.12, RUBBER, undefined, 7);
  }
  return shape;
}

/** The wall of the quay the photographer stands on is out of sight; its coping is not. */
export const coping = (): MeshShape =>
  new MeshShape().box(
    [-70, QUAY.topM - 0.4, QUAY.farM - 0.45],
    [70, QUAY.topM + 0.16, QUAY.farM],
    thing([0.24, 0.19, 0.13], 'boards', 0.05),
  );

export function timberStack(kind: number): MeshShape {
  const shape = new MeshShape();
  for (let row = 0; row < 5; row++)
    for (let at = 0; at < 6 - row; at++)
      shape.box(
        [-1.2 + at * 0.42 + row * 0.2, row * 0.16, -2.4 - (kind % 3) * 0.3],
        [-0.82 + at * 0.42 + row * 0.2, row * 0.16 + 0.13, 2.4],
        TIMBER,
      );
  return shape;
}

/** A small derrick, its hook over the water. */
export function crane(): MeshShape {
  const yellow = thing([0.45, 0.3, 0.03], 'rust', 0.2);
  return new MeshShape()
    .tube([0, 0, 0], [0, 4.4, 0], 0.24, yellow, 0.2)
    .tube([0, 3.9, 0], [0, 6.4, 4.6], 0.14, yellow, 0.09)
    .tube([0, 4.4, 0], [0, 6.4, 4.6], 0.04, IRON)
    .tube([0, 6.3, 4.5], [0, 3.2, 4.5], 0.02, RUBBER, undefined, 4)
    .ball([0, 3.1, 4.5], [0.11, 0.16, 0.08], IRON, 7, 5);
}
