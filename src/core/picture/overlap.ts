// Whether two pictures overlap at an edge, as neighbours of a panorama do: one is slid over the other, sideways or
// upwards, and the parts that lie on each other are correlated (normalised cross-correlation). They overlap where the
// best match is good, and far enough from lying on each other whole: that would be the same view taken twice.

import type { Grey } from './grey';

export interface Overlap {
  /** Where the second lies over the first, in widths to the right and heights down. */
  x: number;
  y: number;
  /** Correlation of the common part, −1 to 1. */
  match: number;
}

/** Pictures are compared so wide. */
export const OVERLAP_PIXELS = 96;
/**
 * What is needed: the narrower the common part, the likelier a match by chance (tried on the demo's panoramas and their
 * neighbours).
 */
const matchNeeded = (common: number): number => 0.95 - 0.4 * common;
/** The common part must be at least, and at most, this share of the picture. */
const COMMON = { least: 0.2, most: 0.88 };
/** How far a hand strays across the way it turns, as a share of the edge. */
const STRAY = 0.08;

export function bestOverlap(a: Grey, b: Grey): Overlap {
  let best: Overlap = { x: 0, y: 0, match: -1 };
  if (a.width !== b.width || a.height !== b.height) return best;
  const { width, height } = a;
  const consider = (dx: number, dy: number) => {
    const match = correlation(a, b, dx, dy);
    if (match > best.match) best = { x: dx / width, y: dy / height, match };
  };
  const reachX = Math.floor(width * (1 - COMMON.least));
  const reachY = Math.floor(height * (1 - COMMON.least));
  const strayX = Math.ceil(width * STRAY);
  const strayY = Math.ceil(height * STRAY);
  for (let dx = -reachX; dx <= reachX; dx++) for (let dy = -strayY; dy <= strayY; dy++) consider(dx, dy);
  for (let dy = -reachY; dy <= reachY; dy++) for (let dx = -strayX; dx <= strayX; dx++) consider(dx, dy);
  return best;
}

export function overlapsAtEdge(a: Grey, b: Grey): boolean {
  const { x, y, match } = bestOverlap(a, b);
  const moved = Math.max(Math.abs(x), Math.abs(y));
  return moved >= 1 - COMMON.most && moved <= 1 - COMMON.least && match >= matchNeeded(1 - moved);
}

/** Of the part of `a` that `b`, moved by `dx` and `dy` pixels, lies on. */
function correlation(a: Grey, b: Grey, dx: number, dy: number): number {
  const { width, height } = a;
  const left = Math.max(0, dx);
  const right = Math.min(width, width + dx);
  const top = Math.max(0, dy);
  const bottom = Math.min(height, height + dy);
  let n = 0;
  let sumA = 0;
  let sumB = 0;
  let squaresA = 0;
  let squaresB = 0;
  let products = 0;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const p = a.values[y * width + x] ?? 0;
      const q = b.values[(y - dy) * width + x - dx] ?? 0;
      n += 1;
      sumA += p;
      sumB += q;
      squaresA += p * p;
      squaresB += q * q;
      products += p * q;
    }
  }
  if (n === 0) return -1;
  const spread = Math.sqrt(Math.max(0, squaresA - (sumA * sumA) / n) * Math.max(0, squaresB - (sumB * sumB) / n));
  return spread === 0 ? -1 : (products - (sumA * sumB) / n) / spread;
}
