// A perceptual hash: 64 bits of which few change when a picture is scaled, compressed or made lighter. The picture is
// brought to 32 × 32 grey values; of its cosine transform the 8 × 8 coefficients of the lowest frequencies, without
// those of a row or column that is even throughout, are each above their median or not (the method of Zauner,
// "Implementation and Benchmarking of Perceptual Image Hash Functions", 2010, from memory).

import type { Pixels } from './pixels';

const SIDE = 32;
const KEPT = 8;

/** Cosines of the transform, by frequency 1 to 8 and place. */
const COSINES = Array.from({ length: KEPT }, (_, frequency) =>
  Float64Array.from({ length: SIDE }, (__, at) => Math.cos((Math.PI / SIDE) * (at + 0.5) * (frequency + 1))),
);

export function hashOf(pixels: Pixels): { high: number; low: number } {
  const grey = greyOf(pixels);
  const coefficients: number[] = [];
  for (const down of COSINES) {
    const rows = Float64Array.from({ length: SIDE }, (_, x) =>
      down.reduce((sum, cosine, y) => sum + cosine * (grey[y * SIDE + x] ?? 0), 0),
    );
    for (const across of COSINES)
      coefficients.push(across.reduce((sum, cosine, x) => sum + cosine * (rows[x] ?? 0), 0));
  }
  const sorted = coefficients.toSorted((a, b) => a - b);
  const median = ((sorted[31] ?? 0) + (sorted[32] ?? 0)) / 2;
  const half = (from: number) =>
    coefficients.slice(from, from + 32).reduce((bits, value) => (bits * 2 + (value > median ? 1 : 0)) >>> 0, 0);
  return { high: half(0), low: half(32) };
}

/** Luma (Rec. 601) as means over equal boxes, whatever the shape of the picture. */
function greyOf({ data, width, height }: Pixels): Float64Array {
  const grey = new Float64Array(SIDE * SIDE);
  for (let row = 0; row < SIDE; row++) {
    const [top, bottom] = cellRange(row, height);
    for (let column = 0; column < SIDE; column++) {
      const [left, right] = cellRange(column, width);
      let sum = 0;
      for (let y = top; y < bottom; y++) {
        for (let x = left; x < right; x++) {
          const at = (y * width + x) * 4;
          sum += 0.299 * (data[at] ?? 0) + 0.587 * (data[at + 1] ?? 0) + 0.114 * (data[at + 2] ?? 0);
        }
      }
      grey[row * SIDE + column] = sum / ((bottom - top) * (right - left));
    }
  }
  return grey;
}

/** The pixels of one of the boxes; at least one. */
function cellRange(index: number, length: number): [from: number, to: number] {
  const from = Math.min(length - 1, Math.floor((index * length) / SIDE));
  return [from, Math.max(from + 1, Math.floor(((index + 1) * length) / SIDE))];
}
