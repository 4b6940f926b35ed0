// Where things stand: afloat, on the shore in rows, in villages on gentle ground, on the quay.

import { boathouse, church, house } from './buildings';
import { type Ground, groundOf } from './ground';
import type { Mesh, MeshShape } from './mesh';
import { Noise } from './noise';
import type { Scene } from './scene';

export type Random = () => number;
export const within = (random: Random, low: number, high: number): number => low + random() * (high - low);
export const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
export const whole = (random: Random, below: number): number => Math.floor(random() * below);

export const groundFor = (scene: Scene): Ground => groundOf(scene, new Noise(scene.seed));

/** A boat on the water, lifted and leant a little by it. */
export function afloat(shape: MeshShape, random: Random, x: number, z: number, turn: number, swell: number): Mesh {
  return shape.at({
    x,
    y: within(random, -0.08, 0.08) * (1 + swell * 6),
    z,
    turn,
    roll: within(random, -2, 2) * (1 + swell * 4),
    pitch: within(random, -0.8, 0.8) * (1 + swell * 4),
  });
}

export function onGround(shape: MeshShape, ground: Ground, x: number, z: number, turn: number, scale = 1): Mesh {
  return shape.at({ x, y: ground(x, z) - 0.05, z, turn, scale });
}

const gentle = (ground: Ground, x: number, z: number, lowM: number, highM: number): boolean => {
  const height = ground(x, z);
  return (
    height > lowM &&
    height < highM &&
    Math.abs(ground(x + 6, z) - height) < 3.6 &&
    Math.abs(ground(x, z + 8) - height) < 4.5
  );
};

/** Houses about a spot near the shore, close together as villages are; a church among them where wanted. */
export function village(scene: Scene, random: Random, count: number, lit: boolean, withChurch: boolean): Mesh[] {
  const ground = groundFor(scene);
  let best = { x: 0, z: 0, score: -Infinity };
  for (let tries = 0; tries < 700; tries++) {
    const z = within(random, scene.nearM, scene.nearM * 2.6 + 260);
    const x = within(random, -0.34, 0.34) * z;
    if (!gentle(ground, x, z, 2.5, 26)) continue;
    let room = 0;
    for (let step = 0; step < 12; step++)
      if (gentle(ground, x + Math.cos(step) * 34, z + Math.sin(step) * 34, 2, 44)) room += 1;
    const score = room - z / 240 - Math.abs(x / z) * 5;
    if (score > best.score) best = { x, z, score };
  }
  if (best.score === -Infinity) return [];
  const meshes: Mesh[] = [];
  const spots: [number, number][] = [];
  for (let tries = 0; tries < 2600 && meshes.length < count; tries++) {
    const reach = 16 + (tries / 2600) * 150 + count;
    const angle = random() * Math.PI * 2;
    const far = Math.sqrt(random()) * reach;
    const [x, z] = [best.x + Math.cos(angle) * far * 1.3, best.z + Math.sin(angle) * far * 0.8];
    if (
      z < scene.nearM * 0.8 ||
      !gentle(ground, x, z, 2.2, 60) ||
      spots.some(([a, b]) => Math.hypot(a - x, b - z) < 13)
    )
      continue;
    spots.push([x, z]);
    const shape = withChurch && meshes.length === 1 ? church(lit) : house(whole(random, 24), lit);
    meshes.push(onGround(shape, ground, x, z, within(random, -28, 28) + (random() > 0.7 ? 90 : 0)));
  }
  return meshes;
}

/** Boathouses side by side along the waterline. */
export function boathouses(scene: Scene, random: Random, count: number): Mesh[] {
  const ground = groundFor(scene);
  const meshes: Mesh[] = [];
  let x = within(random, -30, -16) - count;
  for (let index = 0; index < count; index++) {
    x += within(random, 5.6, 8.4);
    let z = scene.nearM * 0.5;
    while (z < 900 && ground(x, z) < 1.3) z += 1.5;
    if (z < 700)
      meshes.push(boathouse(index + whole(random, 3)).at({ x, y: 1.25, z: z + 1, turn: within(random, -7, 7) }));
  }
  return meshes;
}
