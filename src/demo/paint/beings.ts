// Sheep and people, small in the picture: soft bodies of balls and tubes.

import type { Vector } from './light';
import { type Material, MeshShape } from './mesh';
import type { Colour } from './scene';

const cloth = (colour: Colour, gloss = 0): Material => ({ colour, surface: 'plain', gloss });

/** Fleeces by how often they are seen: white, grey, brown, black. */
const FLEECES: Colour[] = [
  [0.5, 0.47, 0.4],
  [0.42, 0.4, 0.36],
  [0.13, 0.075, 0.045],
  [0.045, 0.04, 0.038],
  [0.23, 0.2, 0.17],
  [0.54, 0.5, 0.43],
];

export function sheep(kind: number, grazing: boolean): MeshShape {
  const shape = new MeshShape();
  const wool: Material = { colour: FLEECES[kind % FLEECES.length]!, surface: 'wool' };
  const face = cloth(kind % 3 === 0 ? [0.07, 0.06, 0.055] : [0.3, 0.27, 0.23]);
  shape
    .ball([0, 0.62, 0.02], [0.3, 0.29, 0.5], wool, 14, 9)
    .ball([0, 0.68, -0.26], [0.25, 0.25, 0.27], wool, 12, 8)
    .ball([0, 0.6, 0.38], [0.28, 0.27, 0.25], wool, 12, 8);
  for (const x of [-0.14, 0.14])
    for (const z of [-0.28, 0.34]) shape.tube([x, 0, z], [x * 1.05, 0.46, z], 0.035, face, 0.06, 6);
  const head: Vector = grazing ? [0.02, 0.2, -0.72] : [0, 0.92, -0.62];
  shape.tube([0, 0.74, -0.4], [head[0], head[1] + 0.03, head[2] + 0.06], 0.13, wool, 0.08, 8);
  shape.ball(head, grazing ? [0.075, 0.14, 0.1] : [0.08, 0.095, 0.16], face, 10, 7);
  for (const side of [-1, 1])
    shape.ball([side * 0.12, head[1] + (grazing ? 0.08 : 0.05), head[2] + 0.05], [0.07, 0.025, 0.03], face, 6, 4);
  if (kind % 4 === 1)
    for (const side of [-1, 1])
      shape.tube(
        [side * 0.05, head[1] + 0.08, head[2] + 0.04],
        [side * 0.17, head[1] + 0.14, head[2] + 0.16],
        0.025,
        cloth([0.25, 0.21, 0.16]),
        0.012,
        5,
      );
  return shape;
}

const COATS: Colour[] = [
  [0.55, 0.2, 0.02],
  [0.035, 0.06, 0.12],
  [0.5, 0.4, 0.06],
  [0.06, 0.09, 0.07],
  [0.2, 0.045, 0.035],
  [0.1, 0.1, 0.11],
  [0.24, 0.22, 0.19],
];
const SKIN = cloth([0.42, 0.25, 0.17]);

export type Pose = 'standing' | 'walking' | 'bent' | 'hauling' | 'carrying';

/** A grown person of some 1.75 m, facing the camera. */
export function person(kind: number, pose: Pose): MeshShape {
  const shape = new MeshShape();
  const coat = cloth(COATS[kind % COATS.length]!, 0.15);
  const trousers = cloth(kind % 3 === 0 ? COATS[kind % COATS.length]! : [0.045, 0.05, 0.06]);
  const boots = cloth([0.03, 0.03, 0.03], 0.3);
  const lean = pose === 'bent' ? 0.62 : pose === 'hauling' ? 0.3 : 0.02;
  const stride = pose === 'walking' || pose === 'hauling' ? 0.24 : 0.05;
  const hips: Vector = [0, 0.9, 0];
  const shoulders: Vector = [0, 1.46 - lean * 0.32, -lean * 0.75];
  for (const side of [-1, 1]) {
    const foot: Vector = [side * 0.11, 0.04, side * stride];
    const knee: Vector = [side * 0.11, 0.48, side * stride * 0.4 - 0.04];
    shape
      .tube([side * 0.09, 0.9, 0], knee, 0.095, trousers, 0.075)
      .tube(knee, foot, 0.075, trousers, 0.06)
      .ball([foot[0], 0.06, foot[2] - 0.06], [0.06, 0.07, 0.14], boots, 8, 5);
    const shoulder: Vector = [side * 0.21, shoulders[1] - 0.05, shoulders[2]];
    const hand: Vector =
      pose === 'bent'
        ? [side * 0.16, 0.45, -0.72]
        : pose === 'hauling'
          ? [side * 0.1, 1.02, -0.78]
          : pose === 'carrying'
            ? [side * 0.2, 0.98, -0.36]
            : [side * 0.29, 0.84, side * stride * -0.7 - 0.05];
    const elbow: Vector = [
      (shoulder[0] + hand[0]) / 2 + side * 0.07,
      (shoulder[1] + hand[1]) / 2 - 0.03,
      (shoulder[2] + hand[2]) / 2 + 0.07,
    ];
    shape
      .tube(shoulder, elbow, 0.07, coat, 0.058)
      .tube(elbow, hand, 0.055, coat, 0.045)
      .ball(hand, [0.05, 0.06, 0.05], SKIN, 7, 5);
  }
  shape
    .tube(hips, shoulders, 0.165, coat, 0.2, 10)
    .ball([0, (hips[1] + shoulders[1]) / 2, shoulders[2] / 2], [0.21, 0.34, 0.15], coat, 10, 7)
    .ball(shoulders, [0.24, 0.12, 0.14], coat, 10, 6)
    .ball(hips, [0.17, 0.13, 0.14], trousers, 9, 6);
  const head: Vector = [0, shoulders[1] + 0.24 - lean * 0.06, shoulders[2] - 0.03 - lean * 0.12];
  shape.ball(head, [0.085, 0.115, 0.1], SKIN, 10, 7);
  shape.ball(
    [head[0], head[1] + 0.045, head[2] + 0.015],
    [0.098, 0.09, 0.11],
    cloth(kind % 2 === 0 ? [0.05, 0.055, 0.07] : [0.2, 0.14, 0.08]),
    10,
    6,
  );
  if (pose === 'carrying')
    shape.box(
      [-0.3, 0.86, -0.66],
      [0.3, 1.14, -0.3],
      cloth(
        [
          [0.06, 0.2, 0.34],
          [0.5, 0.22, 0.05],
          [0.5, 0.5, 0.46],
        ][kind % 3] as unknown as Colour,
        0.3,
      ),
    );
  return shape;
}
