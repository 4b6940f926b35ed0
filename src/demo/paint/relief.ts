// Close-ups: things lying on a surface, looked at from above or in front, as a relief of heights in centimetres with a
// colour and a shine for every pixel, then lit from one side with the shadows the heights throw.

import { Canvas } from './canvas';
import { Noise, clamp, mix, randomFrom } from './noise';
import type { Colour } from './scene';

export type Point = readonly [x: number, y: number];

export class Relief {
  readonly height: Float32Array;
  readonly colour: Float32Array;
  readonly shine: Float32Array;
  readonly noise: Noise;
  readonly random: () => number;

  /** `wideCm` is what the picture is across; coordinates are centimetres from its upper left corner. */
  constructor(
    readonly width: number,
    readonly rows: number,
    readonly wideCm: number,
    seed: number,
  ) {
    this.height = new Float32Array(width * rows);
    this.colour = new Float32Array(width * rows * 3);
    this.shine = new Float32Array(width * rows);
    this.noise = new Noise(seed);
    this.random = randomFrom(seed * 13 + 5);
  }

  get tallCm(): number {
    return (this.rows / this.width) * this.wideCm;
  }

  get pixelsPerCm(): number {
    return this.width / this.wideCm;
  }

  /** Lays a surface over everything: `at` fills height, colour and shine for a place in centimetres. */
  surface(
    at: (x: number, y: number, put: (height: number, r: number, g: number, b: number, shine?: number) => void) => void,
  ): void {
    let spot = 0;
    const put = (height: number, r: number, g: number, b: number, shine = 0): void => {
      this.height[spot] = height;
      this.colour[spot * 3] = r;
      this.colour[spot * 3 + 1] = g;
      this.colour[spot * 3 + 2] = b;
      this.shine[spot] = shine;
    };
    for (let row = 0; row < this.rows; row++)
      for (let column = 0; column < this.width; column++, spot++)
        at(column / this.pixelsPerCm, row / this.pixelsPerCm, put);
  }

  private lay(column: number, row: number, height: number, r: number, g: number, b: number, shine: number): void {
    if (column < 0 || row < 0 || column >= this.width || row >= this.rows) return;
    const spot = row * this.width + column;
    if (height <= this.height[spot]!) return;
    this.height[spot] = height;
    this.colour[spot * 3] = r;
    this.colour[spot * 3 + 1] = g;
    this.colour[spot * 3 + 2] = b;
    this.shine[spot] = shine;
  }

  /** A laid rope along a curve: strands wound about each other. `lift` is the height of its middle line above zero. */
  rope(
    path: readonly Point[],
    radius: number,
    lift: (t: number) => number,
    [r, g, b]: Colour,
    strands = 3,
    shine = 0.05,
  ): void {
    const scale = this.pixelsPerCm;
    const smoothPath = spline(path, Math.max(24, path.length * 14));
    let along = 0;
    for (let at = 0; at + 1 < smoothPath.length; at++) {
      const [x0, y0] = smoothPath[at]!;
      const [x1, y1] = smoothPath[at + 1]!;
      const length = Math.hypot(x1 - x0, y1 - y0);
      const [nx, ny] = [-(y1 - y0) / (length || 1), (x1 - x0) / (length || 1)];
      const steps = Math.max(1, Math.ceil(length * scale * 1.5));
      for (let step = 0; step < steps; step++) {
        const t = step / steps;
        const base = lift((at + t) / smoothPath.length);
        const [cx, cy] = [mix(x0, x1, t), mix(y0, y1, t)];
        const reach = Math.ceil(radius * scale * 1.5);
        for (let off = -reach; off <= reach; off++) {
          const side = off / (radius * scale * 1.5);
          const across = Math.sqrt(Math.max(0, 1 - side * side));
          if (across <= 0) continue;
          // strands wind about the rope: each a ridge at an angle
          const turn = (along + length * t) / (radius * 2.1) + Math.asin(side) * 0.55;
          const wave = turn * strands * 0.5 - Math.floor(turn * strands * 0.5);
          const groove = Math.sin(wave * Math.PI);
          const fibre = this.noise.soft(turn * 2.2 + side, (along + length * t) * 0.9 + side * 3) * 0.3;
          const by = Math.max(0.08, 0.5 + 0.55 * groove + fibre);
          this.lay(
            Math.round((cx + nx * side * radius) * scale),
            Math.round((cy + ny * side * radius) * scale),
            base + radius * (across * 0.86 + groove * 0.2) + fibre * radius * 0.12,
            r * by,
            g * by,
            b * by,
            shine,
          );
        }
      }
      along += length;
    }
  }

  /** A ball pressed flat or drawn long, such as a float; `turn` in radians. */
  ball(
    x: number,
    y: number,
    rx: number,
    ry: number,
    lift: number,
    turn: number,
    colour: Colour,
    shine: number,
    hole = 0,
  ): void {
    const scale = this.pixelsPerCm;
    const reach = Math.max(rx, ry) * scale;
    const [ct, st] = [Math.cos(turn), Math.sin(turn)];
    for (let row = Math.floor(y * scale - reach); row <= y * scale + reach; row++) {
      for (let column = Math.floor(x * scale - reach); column <= x * scale + reach; column++) {
        const [dx, dy] = [column / scale - x, row / scale - y];
        const u = (dx * ct + dy * st) / rx;
        const v = (-dx * st + dy * ct) / ry;
        const square = u * u + v * v;
        if (square > 1) continue;
        const dark = hole > 0 && Math.hypot(u, v) < hole ? 0.12 : 1;
        const worn =
          1 +
          this.noise.soft(column / scale / 9 + x, row / scale / 9) * 0.3 +
          this.noise.soft(column / scale / 1.5, row / scale / 1.5) * 0.14;
        const pale = clamp(this.noise.soft(column / scale / 14 + 2, row / scale / 14 + y) * 1.4 - 0.35) * 0.3;
        this.lay(
          column,
          row,
          lift + Math.sqrt(1 - square) * Math.min(rx, ry) * (dark < 1 ? 0.7 : 1),
          mix(colour[0], 0.5, pale) * worn * dark,
          mix(colour[1], 0.48, pale) * worn * dark,
          mix(colour[2], 0.44, pale) * worn * dark,
          shine * dark,
        );
      }
    }
  }

  /**
   * Lights the relief. `sunTurn` in degrees on the surface, 0 from the right, 90 from below; `soft` 0 for sun, 1 for
   * overcast.
   */
  lit(sunTurn: number, sunHeight: number, soft: number): Canvas {
    const canvas = new Canvas(this.width, this.rows);
    const scale = this.pixelsPerCm;
    const [ch, sh] = [Math.cos((sunHeight * Math.PI) / 180), Math.sin((sunHeight * Math.PI) / 180)];
    const sun = [Math.cos((sunTurn * Math.PI) / 180) * ch, Math.sin((sunTurn * Math.PI) / 180) * ch, sh] as const;
    const rise = (sh / ch) * (1 / scale);
    const [stepX, stepY] = [sun[0] / ch, sun[1] / ch];
    const { height, width, rows } = this;
    const around = openness(height, width, rows, scale);
    for (let row = 0; row < rows; row++) {
      for (let column = 0; column < width; column++) {
        const spot = row * width + column;
        const here = height[spot]!;
        const right = height[row * width + Math.min(width - 1, column + 1)]!;
        const left = height[row * width + Math.max(0, column - 1)]!;
        const below = height[Math.min(rows - 1, row + 1) * width + column]!;
        const above = height[Math.max(0, row - 1) * width + column]!;
        const nx = clamp((left - right) * 0.5 * scale, -3, 3);
        const ny = clamp((above - below) * 0.5 * scale, -3, 3);
        const length = Math.sqrt(nx * nx + ny * ny + 1);
        let open = 1;
        for (let hop = 2; hop < 90 && open > 0; hop += hop < 16 ? 2 : 6) {
          const x = Math.round(column + stepX * hop);
          const y = Math.round(row + stepY * hop);
          if (x < 0 || y < 0 || x >= width || y >= rows) break;
          const over = height[y * width + x]! - here - rise * hop;
          if (over > 0) open = Math.min(open, 1 - (over * scale) / (1.5 + hop * 0.22));
        }
        open = clamp(open);
        const facing = Math.max(0, (nx * sun[0] + ny * sun[1] + sun[2]) / length);
        const half = (nx * sun[0] + ny * sun[1] + (sun[2] + 1)) / length / Math.sqrt(2 + 2 * sun[2]);
        const spark = this.shine[spot]! * Math.pow(clamp(half), 70) * 1.9 * open;
        const direct = facing * open * (1 - soft * 0.8) * 1.7;
        const sky = around[spot]! * (0.42 + soft * 0.5) * (0.55 + 0.45 / length);
        const sheen = this.shine[spot]! * 0.1 * around[spot]!;
        canvas.light[spot * 3] = this.colour[spot * 3]! * (direct * 1.08 + sky * 0.9) + spark + sheen * 0.8;
        canvas.light[spot * 3 + 1] = this.colour[spot * 3 + 1]! * (direct + sky) + spark + sheen * 0.9;
        canvas.light[spot * 3 + 2] = this.colour[spot * 3 + 2]! * (direct * 0.88 + sky * 1.16) + spark + sheen;
        // how far from the lens: heights stand out towards it, the surface lies half a metre away
        canvas.depth[spot] = 0.6 - here / 100;
      }
    }
    return canvas;
  }
}

/** How much of the sky each place sees: less where the neighbourhood stands higher. */
function openness(height: Float32Array, width: number, rows: number, scale: number): Float32Array {
  const by = 8;
  const [w, h] = [Math.ceil(width / by), Math.ceil(rows / by)];
  const mean = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let at = 0; at < 9; at++) {
        const column = Math.min(width - 1, Math.max(0, x * by + ((at % 3) - 1) * by));
        const row = Math.min(rows - 1, Math.max(0, y * by + (Math.floor(at / 3) - 1) * by));
        sum += height[row * width + column]! / 9;
      }
      mean[y * w + x] = sum;
    }
  const out = new Float32Array(width * rows);
  for (let y = 0; y < rows; y++) {
    const gy = Math.min(h - 1.001, y / by);
    const iy = Math.floor(gy);
    for (let x = 0; x < width; x++) {
      const gx = Math.min(w - 1.001, x / by);
      const ix = Math.floor(gx);
      const at = iy * w + ix;
      const about = mix(
        mix(mean[at]!, mean[at + 1]!, gx - ix),
        mix(mean[Math.min(at + w, mean.length - 1)]!, mean[Math.min(at + w + 1, mean.length - 1)]!, gx - ix),
        gy - iy,
      );
      out[y * width + x] = clamp(0.86 + (height[y * width + x]! - about) * scale * 0.03, 0.28, 1.12);
    }
  }
  return out;
}

/** A smooth curve through the points (Catmull and Rom's spline). */
export function spline(path: readonly Point[], count: number): Point[] {
  const last = path.length - 1;
  return Array.from({ length: count + 1 }, (_, index): Point => {
    const place = (index / count) * last;
    const at = Math.min(last - 1, Math.floor(place));
    const t = place - at;
    const p = (offset: number) => path[Math.min(last, Math.max(0, at + offset))]!;
    const along = (axis: 0 | 1) => {
      const [a, b, c, d] = [p(-1)[axis], p(0)[axis], p(1)[axis], p(2)[axis]];
      return 0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
    };
    return [along(0), along(1)];
  });
}
