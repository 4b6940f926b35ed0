// Seeded numbers and noise. Same seed, same picture, on every machine. Noise is worked out once, as tiles that repeat
// without a seam, and looked up after that: a lookup holds all octaves.

/** A small fast generator (mulberry32, public domain); numbers in [0, 1). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

export const clamp = (value: number, low = 0, high = 1): number => (value < low ? low : value > high ? high : value);
export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
export const smooth = (low: number, high: number, value: number): number => {
  const t = clamp((value - low) / (high - low));
  return t * t * (3 - 2 * t);
};

const SIZE = 512;
const CELLS = 4;
const OCTAVES = 7;

type Octave = (x: number, y: number, cells: number, salt: number) => number;

/** Gradient noise on a grid of `cells` that wraps around; about −0.7 to 0.7. */
function gradients(seed: number): Octave {
  const random = randomFrom(seed);
  const order = Array.from({ length: 256 }, (_, index) => index);
  for (let at = 255; at > 0; at--) {
    const other = Math.floor(random() * (at + 1));
    [order[at], order[other]] = [order[other] ?? 0, order[at] ?? 0];
  }
  const table = Uint8Array.from(order);
  const angles = Float32Array.from({ length: 256 }, () => random() * Math.PI * 2);
  const [gradX, gradY] = [angles.map(Math.cos), angles.map(Math.sin)];
  return (x, y, cells, salt) => {
    const ix = Math.floor(x);
    const iy = Math.floor(y);
    const fx = x - ix;
    const fy = y - iy;
    const left = table[(ix + salt) & 255]!;
    const right = table[(((ix + 1) % cells) + salt) & 255]!;
    const below = (iy + 1) % cells;
    const [a, b] = [table[(left + iy) & 255]!, table[(right + iy) & 255]!];
    const [c, d] = [table[(left + below) & 255]!, table[(right + below) & 255]!];
    const u = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
    const v = fy * fy * fy * (fy * (fy * 6 - 15) + 10);
    const upper = mix(gradX[a]! * fx + gradY[a]! * fy, gradX[b]! * (fx - 1) + gradY[b]! * fy, u);
    const lower = mix(gradX[c]! * fx + gradY[c]! * (fy - 1), gradX[d]! * (fx - 1) + gradY[d]! * (fy - 1), u);
    return mix(upper, lower, v);
  };
}

/** Tiles are kept small, for the processor's cache: in 1/16384. */
const UNIT = 16_384;

function tile(value: (x: number, y: number) => number): Int16Array {
  const values = new Int16Array(SIZE * SIZE);
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++)
      values[y * SIZE + x] = Math.round(clamp(value((x / SIZE) * CELLS, (y / SIZE) * CELLS), -1.99, 1.99) * UNIT);
  return values;
}

/** Octaves each half the size and half the weight; about −1 to 1. */
function softTile(): Int16Array {
  const noise = gradients(90_210);
  return tile((x, y) => {
    let [sum, weight, scale] = [0, 0.78, 1];
    for (let octave = 0; octave < OCTAVES; octave++) {
      sum += noise(x * scale, y * scale, CELLS * scale, octave * 31) * weight;
      weight *= 0.5;
      scale *= 2;
    }
    return sum;
  });
}

/** Sharp crests and smooth valleys; 0 to about 1. */
function ridgedTile(): Int16Array {
  const noise = gradients(5150);
  return tile((x, y) => {
    let [sum, weight, carry, scale] = [0, 0.55, 1, 1];
    for (let octave = 0; octave < OCTAVES; octave++) {
      const crest = 1 - Math.abs(noise(x * scale, y * scale, CELLS * scale, octave * 17)) * 1.9;
      const sharp = crest * crest * carry;
      sum += sharp * weight;
      carry = clamp(sharp * 1.6);
      weight *= 0.52;
      scale *= 2;
    }
    return sum;
  });
}

let tiles: { soft: Int16Array; ridged: Int16Array } | null = null;

function lookUp(values: Int16Array, x: number, y: number): number {
  const px = x * (SIZE / CELLS);
  const py = y * (SIZE / CELLS);
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  let fx = px - ix;
  let fy = py - iy;
  fx = fx * fx * (3 - 2 * fx);
  fy = fy * fy * (3 - 2 * fy);
  const left = ix & (SIZE - 1);
  const right = (ix + 1) & (SIZE - 1);
  const top = (iy & (SIZE - 1)) * SIZE;
  const bottom = ((iy + 1) & (SIZE - 1)) * SIZE;
  const upper = values[top + left]! * (1 - fx) + values[top + right]! * fx;
  const lower = values[bottom + left]! * (1 - fx) + values[bottom + right]! * fx;
  return (upper * (1 - fy) + lower * fy) * (1 / UNIT);
}

/** Where in the tiles a picture looks depends on its seed. One unit is the longest wave; the shortest is 1/64 of it. */
export class Noise {
  private readonly soft_: Int16Array;
  private readonly ridged_: Int16Array;
  private readonly x0: number;
  private readonly y0: number;

  constructor(seed: number) {
    tiles ??= { soft: softTile(), ridged: ridgedTile() };
    this.soft_ = tiles.soft;
    this.ridged_ = tiles.ridged;
    const random = randomFrom(seed * 7919 + 3);
    this.x0 = random() * CELLS;
    this.y0 = random() * CELLS;
  }

  /** Layered noise, about −1 to 1. */
  soft(x: number, y: number): number {
    return lookUp(this.soft_, x + this.x0, y + this.y0);
  }

  /** Ridges, 0 to about 1. */
  ridged(x: number, y: number): number {
    return lookUp(this.ridged_, x + this.y0, y + this.x0);
  }
}
