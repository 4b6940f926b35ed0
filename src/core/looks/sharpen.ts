// Sharpening: what a blur takes from the luminance of a picture is added to it once more. In code values, so that light
// and dark edges look alike.

import type { Pixels } from '../picture/pixels';
import type { Edges } from '../picture/print-size';

/** Standard deviation of the blur, pixels of the picture as it is shown or sent: about the edge of a sharp lens. */
export const SHARPEN_SIGMA = 1;

/** A Gaussian at whole pixels out to three standard deviations, summing to 1. */
export function gaussian(sigma: number): Float32Array {
  const reach = Math.ceil(3 * sigma);
  const weights = Float32Array.from({ length: 2 * reach + 1 }, (_, at) =>
    Math.exp(-((at - reach) ** 2) / (2 * sigma * sigma)),
  );
  const sum = weights.reduce((all, one) => all + one, 0);
  return weights.map((one) => one / sum);
}

/** Blurred along rows, then along columns; the edge goes on as its last pixel. */
export function softened(values: Float32Array, { width, height }: Edges, sigma: number): Float32Array {
  const weights = gaussian(sigma);
  const reach = (weights.length - 1) / 2;
  const along = (source: Float32Array, length: number, lines: number, step: number, line: number): Float32Array => {
    const made = new Float32Array(source.length);
    for (let at = 0; at < lines; at++)
      for (let place = 0; place < length; place++) {
        let sum = 0;
        for (let off = -reach; off <= reach; off++) {
          const near = Math.min(length - 1, Math.max(0, place + off));
          sum += (source[at * line + near * step] ?? 0) * (weights[off + reach] ?? 0);
        }
        made[at * line + place * step] = sum;
      }
    return made;
  };
  return along(along(values, width, height, 1, width), height, width, width, 1);
}

/** Weights of luma in code values (ITU-R BT.709). */
const LUMA = [0.2126, 0.7152, 0.0722] as const;

/**
 * In place, of RGBA code values 0 to 1. All channels of a pixel move alike, so that no edge gets a colour.
 * @param amount 1 adds the whole of what a blur takes away
 */
export function sharpen(pixels: Float32Array, frame: Edges, amount: number): void {
  const luma = new Float32Array(frame.width * frame.height);
  for (let pixel = 0, at = 0; pixel < luma.length; pixel++, at += 4)
    luma[pixel] = LUMA[0] * (pixels[at] ?? 0) + LUMA[1] * (pixels[at + 1] ?? 0) + LUMA[2] * (pixels[at + 2] ?? 0);
  const soft = softened(luma, frame, SHARPEN_SIGMA);
  for (let pixel = 0, at = 0; pixel < luma.length; pixel++, at += 4) {
    const more = amount * ((luma[pixel] ?? 0) - (soft[pixel] ?? 0));
    for (const part of [0, 1, 2]) pixels[at + part] = Math.min(1, Math.max(0, (pixels[at + part] ?? 0) + more));
  }
}

/** Luma of bytes in whole numbers of 1/65536: of so many channels the sum is exact. */
const [RED, GREEN, BLUE] = LUMA.map((weight) => Math.round(weight * 65_536)) as [number, number, number];

/** The same of bytes, seven taps each way, three rows in hand at a time. */
export function sharpenBytes({ data, width, height }: Pixels, amount: number): void {
  const taps = gaussian(SHARPEN_SIGMA);
  const [w0, w1, w2, w3] = [taps[3], taps[2], taps[1], taps[0]] as [number, number, number, number];
  const reach = 3;
  const padded = new Float32Array(width + 2 * reach);
  const rows = Array.from({ length: 2 * reach + 1 }, () => new Float32Array(width));
  /** Blurred along the row, kept for the seven rows it is part of. */
  const lay = (y: number) => {
    const row = rows[y % rows.length] as Float32Array;
    for (let x = 0, at = y * width * 4; x < width; x++, at += 4)
      padded[x + reach] =
        (RED * (data[at] as number) + GREEN * (data[at + 1] as number) + BLUE * (data[at + 2] as number)) / 65_536;
    padded.fill(padded[reach] as number, 0, reach);
    padded.fill(padded[width + reach - 1] as number, width + reach);
    for (let x = 0; x < width; x++)
      row[x] =
        w0 * (padded[x + 3] as number) +
        w1 * ((padded[x + 2] as number) + (padded[x + 4] as number)) +
        w2 * ((padded[x + 1] as number) + (padded[x + 5] as number)) +
        w3 * ((padded[x] as number) + (padded[x + 6] as number));
  };
  const rowAt = (y: number) => rows[(y < 0 ? 0 : y >= height ? height - 1 : y) % rows.length] as Float32Array;
  for (let y = 0; y < Math.min(reach, height); y++) lay(y);
  for (let y = 0; y < height; y++) {
    // what lies above was changed already, and was read before that
    if (y + reach < height) lay(y + reach);
    const [a3, a2, a1, here, b1, b2, b3] = [-3, -2, -1, 0, 1, 2, 3].map((off) => rowAt(y + off)) as Seven;
    for (let x = 0, at = y * width * 4; x < width; x++, at += 4) {
      const soft =
        w0 * (here[x] as number) +
        w1 * ((a1[x] as number) + (b1[x] as number)) +
        w2 * ((a2[x] as number) + (b2[x] as number)) +
        w3 * ((a3[x] as number) + (b3[x] as number));
      const [r, g, b] = [data[at] as number, data[at + 1] as number, data[at + 2] as number];
      const more = amount * ((RED * r + GREEN * g + BLUE * b) / 65_536 - soft);
      data[at] = byteWithin(r + more);
      data[at + 1] = byteWithin(g + more);
      data[at + 2] = byteWithin(b + more);
    }
  }
}

type Rows = Float32Array;
type Seven = [Rows, Rows, Rows, Rows, Rows, Rows, Rows];

const byteWithin = (value: number): number => (value <= 0 ? 0 : value >= 255 ? 255 : (value + 0.5) | 0);
