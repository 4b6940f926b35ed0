// Boats, houses, lights and creatures as a few shaded faces, in metres: x to the right, y up, z away.

import type { Colour, ModelKind } from './scene';
import type { Vector } from './light';

export interface Face {
  points: Vector[];
  colour: Colour;
  /** Gives light of its own, such as a window at night. */
  glows?: boolean;
}

const PAINTS: Colour[] = [[0.3, 0.045, 0.035], [0.5, 0.49, 0.45], [0.025, 0.06, 0.12], [0.035, 0.11, 0.09], [0.34, 0.22, 0.06], [0.04, 0.04, 0.042]];
const TARRED: Colour = [0.035, 0.03, 0.027];
const TURF: Colour = [0.13, 0.17, 0.04];
const WHITE: Colour = [0.58, 0.57, 0.53];
const STONE: Colour = [0.2, 0.19, 0.18];
const GLASS: Colour = [0.05, 0.07, 0.09];
const LAMP: Colour = [1, 0.68, 0.3];

const paint = (index: number): Colour => PAINTS[Math.abs(index) % PAINTS.length] ?? WHITE;
const darker = ([r, g, b]: Colour, by: number): Colour => [r * by, g * by, b * by];

export function facesOf(kind: ModelKind, colour: number, lights: boolean): Face[] {
  switch (kind) {
    case 'boat': return boat(7, 1.15, paint(colour), true);
    case 'trawler': return [...boat(22, 3, paint(colour), false), ...box(-4, 3, -2, 5.2, 3.4, 4, WHITE), ...windows(-3.6, 5, -2.02, 4.4, 0.7, lights), ...mast(3.5, 3, 9), ...mast(-2, 6, 12), ...boom(3.5, 9, 9, 4)];
    case 'ferry': return [...boat(84, 7, [0.025, 0.045, 0.09], false), ...box(-30, 6, -6, 58, 5, 12, WHITE), ...box(-22, 11, -5, 40, 4, 10, WHITE), ...box(-18, 15, -4, 16, 3.4, 8, WHITE), ...windows(-29, 8, -6.05, 55, 1.1, lights), ...windows(-21, 12.4, -5.05, 38, 1, lights), ...box(4, 15, -2, 6, 6, 4, [0.32, 0.06, 0.04]), ...mast(-12, 18, 27)];
    case 'house': return house(8.5, 6, 3.2, 2.8, colour % 3 === 0 ? TARRED : paint(colour), colour % 2 === 0 ? TURF : [0.12, 0.1, 0.1], lights);
    case 'boathouse': return [...house(6, 9, 2.6, 2.2, colour % 4 === 3 ? paint(0) : TARRED, TURF, false), ...box(-1.4, 0, -4.55, 2.8, 2.3, 0.1, darker(STONE, 0.6))];
    case 'church': return [...house(8, 16, 4.4, 4.4, WHITE, TURF, lights), ...box(-1.5, 6, -8, 3, 5, 3, WHITE), ...spire(0, 11, -6.5, 2.1, 4, [0.09, 0.08, 0.08])];
    case 'lighthouse': return lighthouse(lights);
    case 'quay': return [...box(-26, -1, 0, 52, 2.6, 7, STONE), ...[-22, -12, -2, 8, 18].flatMap((x) => box(x, -1, -0.4, 0.6, 3.4, 0.5, darker(STONE, 0.5)))];
    case 'sheep': return [...blob(0, 0.62, 0.62, 0.4, colour % 5 === 0 ? [0.08, 0.06, 0.05] : [0.62, 0.59, 0.52]), ...blob(0.62, 0.72, 0.2, 0.2, [0.09, 0.08, 0.07]), ...[-0.35, 0.3].flatMap((x) => box(x, 0, -0.05, 0.1, 0.34, 0.1, [0.06, 0.05, 0.05]))];
    case 'figure': return [...box(-0.16, 0, -0.1, 0.34, 0.86, 0.22, [0.05, 0.06, 0.09]), ...box(-0.26, 0.82, -0.14, 0.52, 0.66, 0.28, colour % 2 === 0 ? [0.3, 0.12, 0.03] : [0.06, 0.08, 0.11]), ...blob(0, 1.63, 0.13, 0.16, [0.4, 0.25, 0.17])];
    case 'post': return box(-0.07, 0, -0.07, 0.14, 1.3, 0.14, [0.16, 0.13, 0.1]);
  }
}

function box(x: number, y: number, z: number, width: number, height: number, depth: number, colour: Colour): Face[] {
  const [x2, y2, z2] = [x + width, y + height, z + depth];
  return [
    { points: [[x, y, z2], [x2, y, z2], [x2, y2, z2], [x, y2, z2]], colour },
    { points: [[x, y, z], [x, y, z2], [x, y2, z2], [x, y2, z]], colour },
    { points: [[x2, y, z2], [x2, y, z], [x2, y2, z], [x2, y2, z2]], colour },
    { points: [[x, y2, z], [x, y2, z2], [x2, y2, z2], [x2, y2, z]], colour: darker(colour, 0.92) },
    { points: [[x2, y, z], [x, y, z], [x, y2, z], [x2, y2, z]], colour },
  ];
}

function windows(x: number, y: number, z: number, width: number, height: number, lit: boolean): Face[] {
  const count = Math.max(2, Math.round(width / (height * 1.9)));
  const pitch = width / count;
  return Array.from({ length: count }, (_, index) => {
    const left = x + index * pitch + pitch * 0.2;
    const right = left + pitch * 0.6;
    return { points: [[right, y, z], [left, y, z], [left, y + height, z], [right, y + height, z]] as Vector[], colour: lit ? LAMP : GLASS, glows: lit };
  });
}

function house(width: number, depth: number, wall: number, roof: number, colour: Colour, roofColour: Colour, lights: boolean): Face[] {
  const [w, d] = [width / 2, depth / 2];
  const top = wall + roof;
  const foot = 0.5;
  return [
    ...box(-w, -1.5, -d, width, 1.5 + foot, depth, STONE),
    ...box(-w, foot, -d, width, wall - foot, depth, colour),
    { points: [[-w, wall, d], [w, wall, d], [0, top, d]], colour },
    { points: [[w, wall, -d], [-w, wall, -d], [0, top, -d]], colour },
    { points: [[-w - 0.3, wall - 0.15, -d - 0.3], [-w - 0.3, wall - 0.15, d + 0.3], [0, top + 0.25, d + 0.3], [0, top + 0.25, -d - 0.3]], colour: roofColour },
    { points: [[w + 0.3, wall - 0.15, d + 0.3], [w + 0.3, wall - 0.15, -d - 0.3], [0, top + 0.25, -d - 0.3], [0, top + 0.25, d + 0.3]], colour: roofColour },
    ...windows(-w + 0.8, 1.4, -d - 0.03, width - 1.6, 1, lights),
    ...box(-0.4, top - 0.4, 0.6, 0.8, 1.3, 0.8, WHITE),
  ];
}

function spire(x: number, y: number, z: number, half: number, height: number, colour: Colour): Face[] {
  const tip: Vector = [x, y + height, z];
  const foot: Vector[] = [[x - half, y, z - half], [x + half, y, z - half], [x + half, y, z + half], [x - half, y, z + half]];
  return foot.map((corner, index) => ({ points: [foot[(index + 1) % 4] ?? corner, corner, tip], colour }));
}

function lighthouse(lights: boolean): Face[] {
  const ring = (radius: number, y: number, at: number): Vector => [Math.cos(at) * radius, y, Math.sin(at) * radius];
  const tube = (low: number, lowRadius: number, high: number, highRadius: number, colour: Colour, glows = false): Face[] =>
    Array.from({ length: 16 }, (_, index) => {
      const [a, b] = [(index * Math.PI) / 8, ((index + 1) * Math.PI) / 8];
      return { points: [ring(lowRadius, low, a), ring(highRadius, high, a), ring(highRadius, high, b), ring(lowRadius, low, b)], colour, glows };
    });
  return [
    ...house(6, 7, 2.8, 2.2, WHITE, [0.3, 0.05, 0.04], lights).map((face) => ({ ...face, points: face.points.map(([x, y, z]): Vector => [x + 7, y, z + 3]) })),
    ...tube(-2, 2.4, 11, 1.7, WHITE), ...tube(11, 2.1, 11.5, 2.1, [0.1, 0.1, 0.1]), ...tube(11.5, 1.2, 13.4, 1.2, lights ? LAMP : GLASS, lights), ...tube(13.4, 1.5, 15, 0.15, [0.45, 0.05, 0.04]),
  ];
}

function mast(x: number, low: number, high: number): Face[] {
  return box(x - 0.12, low, -0.12, 0.24, high - low, 0.24, [0.3, 0.25, 0.2]);
}

function boom(x: number, high: number, reach: number, low: number): Face[] {
  return [{ points: [[x, high, 0], [x, high - 0.25, 0], [x + reach * 0.6, low, 0], [x + reach * 0.6, low + 0.25, 0]], colour: [0.25, 0.22, 0.18] }];
}

/** A hull as strips between gunwale and waterline, raised at both ends as northern boats are. */
function boat(length: number, freeboard: number, colour: Colour, open: boolean): Face[] {
  const half = length / 2;
  const beam = length * (open ? 0.15 : 0.13);
  const steps = 12;
  const section = (index: number) => {
    const along = (index / steps) * 2 - 1;
    const width = beam * Math.pow(1 - Math.pow(Math.abs(along), 2.6), 0.75);
    const rise = freeboard * (1 + 0.75 * Math.pow(Math.abs(along), 3) + (along > 0 ? 0.25 : 0) * Math.pow(Math.abs(along), 2));
    return { x: along * half, width, rise, low: width * 0.72 };
  };
  const faces: Face[] = [];
  for (let index = 0; index < steps; index++) {
    const [a, b] = [section(index), section(index + 1)];
    for (const side of [1, -1]) {
      const strip = (fromA: number, toA: number, paintOf: Colour) => {
        const point = (s: typeof a, t: number): Vector => [s.x, s.rise * t - 0.1 * (1 - t), side * (s.low + (s.width - s.low) * t)];
        const points = [point(a, fromA), point(b, fromA), point(b, toA), point(a, toA)];
        faces.push({ points: side === 1 ? points : points.reverse(), colour: paintOf });
      };
      strip(0, 0.18, [0.22, 0.04, 0.03]);
      strip(0.18, 0.86, colour);
      strip(0.86, 1, WHITE);
    }
    const deck = open ? 0.55 : 0.82;
    faces.push({ points: [[a.x, a.rise * deck, -a.width * 0.9], [a.x, a.rise * deck, a.width * 0.9], [b.x, b.rise * deck, b.width * 0.9], [b.x, b.rise * deck, -b.width * 0.9]], colour: open ? [0.2, 0.13, 0.07] : [0.16, 0.15, 0.14] });
  }
  if (!open) return faces;
  const cabin = length * 0.1;
  return [...faces, ...box(-half * 0.42, freeboard * 0.6, -beam * 0.45, cabin * 2, freeboard * 1.35, beam * 0.9, WHITE), ...windows(-half * 0.38, freeboard * 1.25, -beam * 0.46, cabin * 1.6, freeboard * 0.4, false), ...mast(half * 0.1, freeboard * 0.7, freeboard * 3.6)];
}

function blob(x: number, y: number, radiusX: number, radiusY: number, colour: Colour): Face[] {
  const ring = Array.from({ length: 12 }, (_, index) => (index * Math.PI) / 6);
  return [{ points: ring.map((at): Vector => [x + Math.cos(at) * radiusX, y + Math.sin(at) * radiusY, 0]).reverse(), colour }];
}
