// Where the pixels of a corrected picture come from: turned by quarters, mirrored, straightened about its middle, cut
// out. Straightening never leaves an empty corner: what remains is the largest frame of the same shape that lies within
// the turned picture, and a crop is a part of that.

import type { Edges } from '../picture/print-size';
import type { FieldValues } from '../fields/registry';
import { type Corrections, correctionsIn } from './corrections';

/** `x′ = a·x + c·y + e`, `y′ = b·x + d·y + f`, as a canvas takes it. */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export interface Cut extends Edges {
  /** From a place in the picture to its place in what remains; both in pixels from the left and top. */
  transform: Affine;
}

/** First `inner`, then `outer`. */
const after = (outer: Affine, inner: Affine): Affine => [
  outer[0] * inner[0] + outer[2] * inner[1],
  outer[1] * inner[0] + outer[3] * inner[1],
  outer[0] * inner[2] + outer[2] * inner[3],
  outer[1] * inner[2] + outer[3] * inner[3],
  outer[0] * inner[4] + outer[2] * inner[5] + outer[4],
  outer[1] * inner[4] + outer[3] * inner[5] + outer[5],
];

export const placed = ([a, b, c, d, e, f]: Affine, x: number, y: number): [number, number] => [
  a * x + c * y + e,
  b * x + d * y + f,
];

export function opposite([a, b, c, d, e, f]: Affine): Affine {
  const determinant = a * d - b * c;
  return [
    d / determinant,
    -b / determinant,
    -c / determinant,
    a / determinant,
    (c * f - d * e) / determinant,
    (b * e - a * f) / determinant,
  ];
}

function turned({ width, height }: Edges, turns: number): { size: Edges; turn: Affine } {
  if (turns === 1) return { size: { width: height, height: width }, turn: [0, 1, -1, 0, height, 0] };
  if (turns === 2) return { size: { width, height }, turn: [-1, 0, 0, -1, width, height] };
  if (turns === 3) return { size: { width: height, height: width }, turn: [0, -1, 1, 0, 0, width] };
  return { size: { width, height }, turn: [1, 0, 0, 1, 0, 0] };
}

/** The part of each edge that remains of a picture straightened by so many degrees. */
export function keptOf({ width, height }: Edges, degrees: number): number {
  const angle = Math.abs(degrees * RADIANS);
  const [sine, cosine] = [Math.sin(angle), Math.cos(angle)];
  return Math.min(width / (width * cosine + height * sine), height / (width * sine + height * cosine));
}

const RADIANS = Math.PI / 180;
const WHOLE = { left: 0, top: 0, width: 1, height: 1 };

/** What remains of a picture of this size, in its own pixels. */
export function cutOf(
  picture: Edges,
  { turns, mirrored, straighten = 0, crop = WHOLE }: Pick<Corrections, 'turns' | 'mirrored' | 'straighten' | 'crop'>,
): Cut {
  const { size, turn } = turned(picture, turns ?? 0);
  const mirror: Affine = mirrored ? [-1, 0, 0, 1, size.width, 0] : [1, 0, 0, 1, 0, 0];
  const [sine, cosine] = [Math.sin(straighten * RADIANS), Math.cos(straighten * RADIANS)];
  const [middleX, middleY] = [size.width / 2, size.height / 2];
  // about the middle, with the clock
  const about: Affine = [
    cosine,
    sine,
    -sine,
    cosine,
    middleX - cosine * middleX + sine * middleY,
    middleY - sine * middleX - cosine * middleY,
  ];
  const kept = keptOf(size, straighten);
  const [frameWidth, frameHeight] = [size.width * kept, size.height * kept];
  const [left, top] = [
    middleX - frameWidth / 2 + crop.left * frameWidth,
    middleY - frameHeight / 2 + crop.top * frameHeight,
  ];
  const [exactWidth, exactHeight] = [crop.width * frameWidth, crop.height * frameHeight];
  const [width, height] = [Math.max(1, Math.round(exactWidth)), Math.max(1, Math.round(exactHeight))];
  const cut: Affine = [
    width / exactWidth,
    0,
    0,
    height / exactHeight,
    (-left * width) / exactWidth,
    (-top * height) / exactHeight,
  ];
  return { width, height, transform: after(cut, after(about, after(mirror, turn))) };
}

/** The edges of a picture as it is shown and sent. */
export function correctedSize(picture: Edges, { corrections }: Pick<FieldValues, 'corrections'>): Edges {
  const { width, height } = cutOf(picture, correctionsIn(corrections));
  return { width, height };
}

/** The same, drawn from or to pictures of another size than the photo's own. */
export function scaledCut({ width, height, transform }: Cut, from: number, to: number): Cut {
  const made = { width: Math.max(1, Math.round(width * to)), height: Math.max(1, Math.round(height * to)) };
  const bigger: Affine = [made.width / width, 0, 0, made.height / height, 0, 0];
  return { ...made, transform: after(bigger, after(transform, [1 / from, 0, 0, 1 / from, 0, 0])) };
}
