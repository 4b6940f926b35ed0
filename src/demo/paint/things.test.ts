// Boats, houses, people and sheep: their sizes are those of the things they are (common practice, no source).

import { describe, expect, it } from 'vitest';
import { person, sheep } from './beings';
import { ferry, fishingBoat, hullOnSlip, openBoat, smack, trawler } from './boats';
import { boathouse, church, house, lighthouse } from './buildings';
import type { Mesh, MeshShape } from './mesh';

const extent = ({ points }: Mesh, axis: 0 | 1 | 2): [low: number, high: number] => {
  const values = points.filter((_, at) => at % 3 === axis);
  return [Math.min(...values), Math.max(...values)];
};
const standing = (shape: MeshShape) => shape.at({ x: 0, y: 0, z: 0 });
const size = (shape: MeshShape, axis: 0 | 1 | 2) => {
  const [low, high] = extent(standing(shape), axis);
  return high - low;
};

describe('things', () => {
  it.each([
    ['open boat', openBoat(1), 6, 8],
    ['fishing boat', fishingBoat(2, false), 10, 13],
    ['trawler', trawler(1, false), 28, 36],
    ['ferry', ferry(false), 75, 92],
    ['smack', smack(true), 28, 40],
  ] as const)(
    '%s: as long as its kind, its keel under the water and its rail over it',
    (_, shape, shortest, longest) => {
      expect(size(shape, 2)).toBeGreaterThan(shortest);
      expect(size(shape, 2)).toBeLessThan(longest);
      const [low, high] = extent(standing(shape), 1);
      expect(low).toBeLessThan(0);
      expect(high).toBeGreaterThan(0.7);
    },
  );

  it('a hull on the slip stands on its blocks, half planked with its ribs to be seen', () => {
    const [low] = extent(standing(hullOnSlip(1, 0.5)), 1);
    expect(low).toBeGreaterThan(-0.1);
    expect(standing(hullOnSlip(1, 0.5)).of.length).toBeGreaterThan(standing(hullOnSlip(1, 1)).of.length);
  });

  it('people are as tall as people, bent ones less; sheep come up to their knees', () => {
    expect(size(person(1, 'standing'), 1)).toBeGreaterThan(1.65);
    expect(size(person(1, 'standing'), 1)).toBeLessThan(1.95);
    expect(size(person(1, 'bent'), 1)).toBeLessThan(size(person(1, 'standing'), 1));
    expect(size(sheep(0, false), 1)).toBeGreaterThan(0.8);
    expect(size(sheep(0, true), 1)).toBeLessThan(1.1);
  });

  it.each([
    ['house', house(3, false), 12],
    ['boathouse', boathouse(2), 6],
    ['church', church(false), 14],
    ['lighthouse', lighthouse(false), 17],
  ] as const)('%s: a base in the ground, and not higher than such buildings are', (_, shape, highest) => {
    const [low, high] = extent(standing(shape), 1);
    expect(low).toBeLessThan(-2);
    expect(high).toBeLessThan(highest);
  });

  it('set into the world, a thing is turned about the vertical and keeps its size', () => {
    const turned = openBoat(1).at({ x: 10, y: 0, z: 50, turn: 90 });
    expect(extent(turned, 0)[1] - extent(turned, 0)[0]).toBeCloseTo(size(openBoat(1), 2), 4);
    expect(turned.centre[0]).toBeCloseTo(10, 0);
  });
});
