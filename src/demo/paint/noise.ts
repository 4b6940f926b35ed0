// Seeded numbers and gradient noise. Same seed, same picture, on every machine.

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

export class Noise {
  private readonly table = new Uint8Array(512);
  private readonly gradX = new Float32Array(256);
  private readonly gradY = new Float32Array(256);

  constructor(seed: number) {
    const random = randomFrom(seed);
    const order = Array.from({ length: 256 }, (_, index) => index);
    for (let at = 255; at > 0; at--) {
      const other = Math.floor(random() * (at + 1));
      [order[at], order[other]] = [order[other] ?? 0, order[at] ?? 0];
    }
    for (let at = 0; at < 512; at++) this.table[at] = order[at & 255] ?? 0;
    for (let at = 0; at < 256; at++) {
      const angle = random() * Math.PI * 2;
      this.gradX[at] = Math.cos(angle);
      this.gradY[at] = Math.sin(angle);
    }
  }

  private corner(ix: number, iy: number, dx: number, dy: number): number {
    const hash = this.table[(this.table[ix & 255]! + iy) & 511 & 255]!;
    return this.gradX[hash]! * dx + this.gradY[hash]! * dy;
  }

  /** Gradient noise, about −0.7 to 0.7. */
  at(x: number, y: number): number {
    const ix = Math.floor(x);
    const iy = Math.floor(y);
    const fx = x - ix;
    const fy = y - iy;
    const u = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
    const v = fy * fy * fy * (fy * (fy * 6 - 15) + 10);
    const top = this.corner(ix, iy, fx, fy) * (1 - u) + this.corner(ix + 1, iy, fx - 1, fy) * u;
    const bottom = this.corner(ix, iy + 1, fx, fy - 1) * (1 - u) + this.corner(ix + 1, iy + 1, fx - 1, fy - 1) * u;
    return top * (1 - v) + bottom * v;
  }

  /** Sum of octaves, each half the size and half the weight; about −1 to 1. */
  layered(x: number, y: number, octaves: number): number {
    let sum = 0;
    let weight = 0.75;
    for (let octave = 0; octave < octaves; octave++) {
      sum += this.at(x, y) * weight;
      x = x * 2.03 + 17.1;
      y = y * 2.03 - 9.7;
      weight *= 0.5;
    }
    return sum;
  }

  /** Ridged octaves: sharp crests, smooth valleys; 0 to about 1. */
  ridged(x: number, y: number, octaves: number): number {
    let sum = 0;
    let weight = 0.55;
    let carry = 1;
    for (let octave = 0; octave < octaves; octave++) {
      const crest = 1 - Math.abs(this.at(x, y)) * 1.9;
      const sharp = crest * crest * carry;
      sum += sharp * weight;
      carry = Math.min(1, Math.max(0, sharp * 1.6));
      x = x * 2.11 + 5.3;
      y = y * 2.11 + 3.9;
      weight *= 0.52;
    }
    return sum;
  }
}

export const clamp = (value: number, low = 0, high = 1): number => (value < low ? low : value > high ? high : value);
export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
export const smooth = (low: number, high: number, value: number): number => {
  const t = clamp((value - low) / (high - low));
  return t * t * (3 - 2 * t);
};
