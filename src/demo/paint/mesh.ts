// Shapes built of triangles: boxes, gables, hulls, tubes, balls. Built about their own origin, then set into the world.

import type { Vector } from './light';
import type { Colour } from './scene';

export type Surface =
  'plain' | 'boards' | 'clapboard' | 'strakes' | 'iron' | 'turf' | 'glass' | 'stone' | 'wool' | 'net' | 'rust';

export interface Material {
  colour: Colour;
  surface: Surface;
  gloss?: number;
  /** Light of its own: lamps, lit windows. */
  glow?: number;
}

export interface Mesh {
  points: Float32Array;
  normals: Float32Array;
  /** Metres along and up each face, for boards and planks. */
  places: Float32Array;
  materials: Material[];
  /** Material of each triangle. */
  of: Uint8Array;
  centre: Vector;
  radius: number;
  baseM: number;
}

export interface Stand {
  x: number;
  y: number;
  z: number;
  /** Degrees about the vertical, and how far it leans to its side. */
  turn?: number;
  roll?: number;
  pitch?: number;
  scale?: number;
}

const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const length = (a: Vector) => Math.hypot(a[0], a[1], a[2]) || 1;
const unit = (a: Vector): Vector => {
  const by = 1 / length(a);
  return [a[0] * by, a[1] * by, a[2] * by];
};
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

export class MeshShape {
  private readonly points: number[] = [];
  private readonly normals: number[] = [];
  private readonly places: number[] = [];
  private readonly materials: Material[] = [];
  private readonly of: number[] = [];

  private material(material: Material): number {
    const known = this.materials.indexOf(material);
    return known >= 0 ? known : this.materials.push(material) - 1;
  }

  triangle(
    corners: [Vector, Vector, Vector],
    material: Material,
    normals?: [Vector, Vector, Vector],
    places: number[] = [0, 0, 1, 0, 1, 1],
  ): void {
    const flat = unit(cross(minus(corners[1], corners[0]), minus(corners[2], corners[0])));
    corners.forEach((corner, index) => {
      this.points.push(...corner);
      this.normals.push(...(normals?.[index] ?? flat));
    });
    this.places.push(...places);
    this.of.push(this.material(material));
  }

  quad(
    a: Vector,
    b: Vector,
    c: Vector,
    d: Vector,
    material: Material,
    normals?: [Vector, Vector, Vector, Vector],
  ): void {
    const [u, v] = [length(minus(b, a)), length(minus(d, a))];
    const [u0, v0] = [a[0] + a[2], a[1]];
    const n = normals;
    this.triangle([a, b, c], material, n && [n[0], n[1], n[2]], [u0, v0, u0 + u, v0, u0 + u, v0 + v]);
    this.triangle([a, c, d], material, n && [n[0], n[2], n[3]], [u0, v0, u0 + u, v0 + v, u0, v0 + v]);
  }

  box([x0, y0, z0]: Vector, [x1, y1, z1]: Vector, material: Material, top: Material = material): this {
    this.quad([x0, y0, z0], [x1, y0, z0], [x1, y1, z0], [x0, y1, z0], material);
    this.quad([x1, y0, z1], [x0, y0, z1], [x0, y1, z1], [x1, y1, z1], material);
    this.quad([x0, y0, z1], [x0, y0, z0], [x0, y1, z0], [x0, y1, z1], material);
    this.quad([x1, y0, z0], [x1, y0, z1], [x1, y1, z1], [x1, y1, z0], material);
    this.quad([x0, y1, z0], [x1, y1, z0], [x1, y1, z1], [x0, y1, z1], top);
    return this;
  }

  /** A roof over a box, its ridge along z, jutting out by `eaves`. */
  roof(
    [x0, z0]: [number, number],
    [x1, z1]: [number, number],
    eavesM: number,
    ridgeM: number,
    roof: Material,
    gable: Material,
    eaves = 0.3,
    thick = 0.22,
  ): this {
    const middle = (x0 + x1) / 2;
    const drop = ((ridgeM - eavesM) / (middle - x0)) * eaves;
    this.triangle(
      [
        [x0, eavesM, z0],
        [x1, eavesM, z0],
        [middle, ridgeM, z0],
      ],
      gable,
      undefined,
      [x0, eavesM, x1, eavesM, middle, ridgeM],
    );
    this.triangle(
      [
        [x1, eavesM, z1],
        [x0, eavesM, z1],
        [middle, ridgeM, z1],
      ],
      gable,
      undefined,
      [x0, eavesM, x1, eavesM, middle, ridgeM],
    );
    for (const [edge, side] of [
      [x0 - eaves, -1],
      [x1 + eaves, 1],
    ] as const) {
      const low: Vector = [edge, eavesM - drop + thick, z0 - eaves];
      const lowFar: Vector = [edge, eavesM - drop + thick, z1 + eaves];
      const high: Vector = [middle, ridgeM + thick, z0 - eaves];
      const highFar: Vector = [middle, ridgeM + thick, z1 + eaves];
      const under = (point: Vector): Vector => [point[0], point[1] - thick, point[2]];
      if (side < 0) this.quad(lowFar, low, high, highFar, roof);
      else this.quad(low, lowFar, highFar, high, roof);
      this.quad(under(low), under(high), high, low, gable);
      this.quad(under(lowFar), under(low), low, lowFar, roof);
      this.quad(under(lowFar), under(highFar), highFar, lowFar, gable);
    }
    return this;
  }

  tube(from: Vector, to: Vector, radius: number, material: Material, endRadius = radius, sides = 7): this {
    const along = unit(minus(to, from));
    const side = unit(cross(along, Math.abs(along[1]) > 0.9 ? [1, 0, 0] : [0, 1, 0]));
    const other = cross(along, side);
    const ring = (centre: Vector, size: number, angle: number): [Vector, Vector] => {
      const normal: Vector = [0, 1, 2].map(
        (axis) => side[axis]! * Math.cos(angle) + other[axis]! * Math.sin(angle),
      ) as Vector;
      return [[centre[0] + normal[0] * size, centre[1] + normal[1] * size, centre[2] + normal[2] * size], normal];
    };
    for (let index = 0; index < sides; index++) {
      const [one, next] = [(index / sides) * Math.PI * 2, ((index + 1) / sides) * Math.PI * 2];
      const [a, na] = ring(from, radius, one);
      const [b, nb] = ring(from, radius, next);
      const [c, nc] = ring(to, endRadius, next);
      const [d, nd] = ring(to, endRadius, one);
      this.quad(a, b, c, d, material, [na, nb, nc, nd]);
    }
    return this;
  }

  ball([x, y, z]: Vector, [rx, ry, rz]: Vector, material: Material, around = 10, over = 6): this {
    const at = (i: number, j: number): [Vector, Vector] => {
      const [lon, lat] = [(i / around) * Math.PI * 2, (j / over) * Math.PI - Math.PI / 2];
      const out: Vector = [Math.cos(lat) * Math.cos(lon), Math.sin(lat), Math.cos(lat) * Math.sin(lon)];
      return [[x + out[0] * rx, y + out[1] * ry, z + out[2] * rz], unit([out[0] / rx, out[1] / ry, out[2] / rz])];
    };
    for (let i = 0; i < around; i++) {
      for (let j = 0; j < over; j++) {
        const [a, na] = at(i, j);
        const [b, nb] = at(i + 1, j);
        const [c, nc] = at(i + 1, j + 1);
        const [d, nd] = at(i, j + 1);
        this.quad(a, b, c, d, material, [na, nb, nc, nd]);
      }
    }
    return this;
  }

  /** A skin over ribs: `ribs[i][j]` is the j-th point of the i-th rib. `materialOf` says what each band is. */
  skin(ribs: Vector[][], materialOf: (band: number, rib: number) => Material): this {
    const normalAt = (i: number, j: number): Vector => {
      const point = (a: number, b: number) =>
        ribs[Math.max(0, Math.min(ribs.length - 1, a))]![Math.max(0, Math.min(ribs[0]!.length - 1, b))]!;
      return unit(cross(minus(point(i, j + 1), point(i, j - 1)), minus(point(i + 1, j), point(i - 1, j))));
    };
    for (let i = 0; i + 1 < ribs.length; i++) {
      for (let j = 0; j + 1 < ribs[i]!.length; j++) {
        const [a, b, c, d] = [ribs[i]![j]!, ribs[i + 1]![j]!, ribs[i + 1]![j + 1]!, ribs[i]![j + 1]!];
        const normals: [Vector, Vector, Vector, Vector] = [
          normalAt(i, j),
          normalAt(i + 1, j),
          normalAt(i + 1, j + 1),
          normalAt(i, j + 1),
        ];
        const [u, v] = [i * 0.7, j];
        const material = materialOf(j, i);
        this.triangle([a, b, c], material, [normals[0], normals[1], normals[2]], [u, v, u + 0.7, v, u + 0.7, v + 1]);
        this.triangle([a, c, d], material, [normals[0], normals[2], normals[3]], [u, v, u + 0.7, v + 1, u, v + 1]);
      }
    }
    return this;
  }

  add(other: Mesh): this {
    const map = other.materials.map((material) => this.material(material));
    for (const value of other.points) this.points.push(value);
    for (const value of other.normals) this.normals.push(value);
    for (const value of other.places) this.places.push(value);
    for (const value of other.of) this.of.push(map[value]!);
    return this;
  }

  /** The shape as it stands in the world. */
  at({ x, y, z, turn = 0, roll = 0, pitch = 0, scale = 1 }: Stand): Mesh {
    const [ct, st] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
    const [cr, sr] = [Math.cos((roll * Math.PI) / 180), Math.sin((roll * Math.PI) / 180)];
    const [cp, sp] = [Math.cos((pitch * Math.PI) / 180), Math.sin((pitch * Math.PI) / 180)];
    const turned = (from: readonly number[], at: number, by: number): Vector => {
      const [px, py, pz] = [from[at]! * by, from[at + 1]! * by, from[at + 2]! * by];
      const [qx, qy] = [px * cr - py * sr, px * sr + py * cr];
      const [ry, rz] = [qy * cp - pz * sp, qy * sp + pz * cp];
      return [qx * ct + rz * st, ry, -qx * st + rz * ct];
    };
    const points = new Float32Array(this.points.length);
    const normals = new Float32Array(this.normals.length);
    const [low, high]: [Vector, Vector] = [
      [1e9, 1e9, 1e9],
      [-1e9, -1e9, -1e9],
    ];
    for (let at = 0; at < points.length; at += 3) {
      const point = turned(this.points, at, scale);
      const placed: Vector = [point[0] + x, point[1] + y, point[2] + z];
      points.set(placed, at);
      normals.set(turned(this.normals, at, 1), at);
      for (let axis = 0; axis < 3; axis++) {
        low[axis] = Math.min(low[axis]!, placed[axis]!);
        high[axis] = Math.max(high[axis]!, placed[axis]!);
      }
    }
    const centre: Vector = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2];
    return {
      points,
      normals,
      places: Float32Array.from(this.places),
      materials: this.materials,
      of: Uint8Array.from(this.of),
      centre,
      radius: length(minus(high, centre)),
      baseM: y,
    };
  }
}
