// The colours that make up most of a picture: its pixels in CIELAB, gathered around the fullest corners of that space,
// and moved to the middle of what they gather (k-means, begun from a coarse count, so that the same picture always
// gives the same colours).

import { convertLab65ToRgb, convertRgbToLab65 } from 'culori/fn';
import { MAIN_COLOURS, type MainColour } from './measures';
import type { Pixels } from './pixels';

/** Side of a box of the coarse count, and how near two beginnings may be, in CIELAB. */
const BOX = 12;
const APART = 18;
const ROUNDS = 6;
/** Colours of less than this are left out, in per cent. */
const LEAST_SHARE = 3;
/** About so many pixels are looked at. */
const SAMPLES = 4096;

type Lab = [number, number, number];

export function coloursOf(pixels: Pixels): MainColour[] {
  const labs = sampled(pixels);
  let middles = beginnings(labs);
  let counts: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const sums = middles.map((): [number, number, number, number] => [0, 0, 0, 0]);
    for (const lab of labs) {
      const sum = sums[nearest(middles, lab)];
      if (!sum) continue;
      for (const part of [0, 1, 2] as const) sum[part] += lab[part];
      sum[3] += 1;
    }
    counts = sums.map(([, , , count]) => count);
    middles = sums.map(([l, a, b, count], at): Lab =>
      count > 0 ? [l / count, a / count, b / count] : (middles[at] ?? [0, 0, 0]),
    );
  }
  return middles
    .map((lab, at): MainColour => ({
      lab: [within(lab[0], 0, 100), within(lab[1], -128, 127), within(lab[2], -128, 127)],
      share: Math.round((100 * (counts[at] ?? 0)) / labs.length),
    }))
    .filter(({ share }) => share >= LEAST_SHARE)
    .sort((a, b) => b.share - a.share)
    .slice(0, MAIN_COLOURS);
}

const within = (value: number, low: number, high: number): number =>
  Math.max(low, Math.min(high, Math.round(value))) + 0; // and never a zero with a minus

export function labOf(red: number, green: number, blue: number): Lab {
  const { l, a, b } = convertRgbToLab65({ r: red / 255, g: green / 255, b: blue / 255 });
  return [l, a, b];
}

/** The nearest colour a screen can show, as `#a1b2c3`. */
export function hexOfLab([l, a, b]: readonly [number, number, number]): string {
  const { r, g, b: blue } = convertLab65ToRgb({ l, a, b });
  return `#${[r, g, blue]
    .map((part) =>
      Math.max(0, Math.min(255, Math.round(part * 255)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

function sampled({ data, width, height }: Pixels): Lab[] {
  const step = Math.max(1, Math.round(Math.sqrt((width * height) / SAMPLES)));
  const labs: Lab[] = [];
  const known = new Map<number, Lab>();
  for (let y = step >> 1; y < height; y += step) {
    for (let x = step >> 1; x < width; x += step) {
      const at = (y * width + x) * 4;
      const [red, green, blue] = [data[at] ?? 0, data[at + 1] ?? 0, data[at + 2] ?? 0];
      const key = (red << 16) | (green << 8) | blue;
      const lab = known.get(key) ?? labOf(red, green, blue);
      known.set(key, lab);
      labs.push(lab);
    }
  }
  return labs;
}

/** The means of the fullest boxes that are not near a fuller one. */
function beginnings(labs: readonly Lab[]): Lab[] {
  const boxes = new Map<string, { sum: Lab; count: number }>();
  for (const lab of labs) {
    const key = lab.map((part) => Math.floor(part / BOX)).join();
    const box = boxes.get(key) ?? { sum: [0, 0, 0], count: 0 };
    for (const part of [0, 1, 2] as const) box.sum[part] += lab[part];
    box.count += 1;
    boxes.set(key, box);
  }
  const found: Lab[] = [];
  for (const { sum, count } of [...boxes.values()].sort((a, b) => b.count - a.count)) {
    const lab = sum.map((part) => part / count) as Lab;
    if (found.every((other) => distance(other, lab) > APART)) found.push(lab);
    if (found.length === MAIN_COLOURS + 1) break;
  }
  return found;
}

const distance = (a: Lab, b: Lab): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

function nearest(middles: readonly Lab[], lab: Lab): number {
  let [best, least] = [0, Infinity];
  middles.forEach((middle, at) => {
    const apart = distance(middle, lab);
    if (apart < least) [best, least] = [at, apart];
  });
  return best;
}
