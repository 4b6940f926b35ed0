// How sharp a frame is: the spread of its Laplacian, after Pech-Pacheco and others, "Diatom autofocusing in brightfield
// microscopy: a comparative study" (2000), as standard deviation and with the four-neighbour kernel. An out of focus
// background must not weigh against a sharp subject, so it is taken tile by tile, and the figure is the mean of the
// sharpest tiles. It compares frames of one subject, light and camera, which is what a set is; between different
// pictures it says nothing.

import type { Grey } from './grey';

/** Counts up when figures measured before cannot be compared with new ones. */
export const SHARPNESS_VERSION = 2;

const TILES = 12;
/** Of the tiles, those that count. */
const SHARPEST = 0.1;
/** A tile smaller than this has too few pixels for a spread. */
const TILE_MIN_PIXELS = 8;

/** Standard deviation of the Laplacian over a part of the picture, its outermost pixels left out. */
export function laplacianSpread(
  { width, height, values }: Grey,
  left = 1,
  top = 1,
  right = width - 1,
  bottom = height - 1,
): number {
  let sum = 0;
  let squares = 0;
  let count = 0;
  for (let y = Math.max(1, top); y < Math.min(height - 1, bottom); y++) {
    for (let x = Math.max(1, left); x < Math.min(width - 1, right); x++) {
      const at = y * width + x;
      const value =
        (values[at - 1] ?? 0) +
        (values[at + 1] ?? 0) +
        (values[at - width] ?? 0) +
        (values[at + width] ?? 0) -
        4 * (values[at] ?? 0);
      sum += value;
      squares += value * value;
      count += 1;
    }
  }
  if (count === 0) return 0;
  const mean = sum / count;
  return Math.sqrt(Math.max(0, squares / count - mean * mean));
}

/** The figure of a frame; 0 for an empty or even one. Linear in its pixels. */
export function sharpnessOf(grey: Grey): number {
  const tiles = Math.max(1, Math.min(TILES, Math.floor(Math.min(grey.width, grey.height) / TILE_MIN_PIXELS)));
  const spreads: number[] = [];
  for (let row = 0; row < tiles; row++) {
    for (let column = 0; column < tiles; column++) {
      spreads.push(
        laplacianSpread(
          grey,
          edge(grey.width, column, tiles),
          edge(grey.height, row, tiles),
          edge(grey.width, column + 1, tiles),
          edge(grey.height, row + 1, tiles),
        ),
      );
    }
  }
  const sharpest = spreads.sort((a, b) => b - a).slice(0, Math.max(1, Math.round(spreads.length * SHARPEST)));
  return sharpest.reduce((sum, spread) => sum + spread, 0) / sharpest.length;
}

const edge = (length: number, index: number, tiles: number): number => Math.round((length * index) / tiles);

/** Each figure as a share of the best of its set, in whole percent; `null` for frames that were not measured. */
export function relativeSharpness(figures: readonly (number | null)[]): (number | null)[] {
  const best = Math.max(0, ...figures.map((figure) => figure ?? 0));
  return figures.map((figure) => (figure === null || best === 0 ? null : Math.round((100 * figure) / best)));
}
