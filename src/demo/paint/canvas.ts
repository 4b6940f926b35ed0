// The picture while it is painted: linear light, how far each pixel is, and what it shows.

import type { Colour } from './scene';

export const SKY = 0;
export const LAND = 1;
export const WATER = 2;

export class Canvas {
  readonly light: Float32Array;
  /** Distance in metres; Infinity for sky. */
  readonly depth: Float32Array;
  readonly what: Uint8Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.light = new Float32Array(width * height * 3);
    this.depth = new Float32Array(width * height).fill(Infinity);
    this.what = new Uint8Array(width * height);
  }

  /** Fills a polygon with edges smoothed over four lines a pixel, where nothing nearer stands. `put` gives the colour. */
  fill(points: readonly (readonly [number, number])[], depth: number, alpha: number, only: number | null, put: (x: number, y: number) => Colour | null): void {
    const top = Math.max(0, Math.floor(Math.min(...points.map(([, y]) => y))));
    const bottom = Math.min(this.height - 1, Math.ceil(Math.max(...points.map(([, y]) => y))));
    const cover = new Float32Array(this.width);
    for (let y = top; y <= bottom; y++) {
      cover.fill(0);
      let [from, to] = [this.width, 0];
      for (let line = 0; line < 4; line++) {
        const [left, right] = this.spans(points, y + (line + 0.5) / 4, cover);
        from = Math.min(from, left);
        to = Math.max(to, right);
      }
      for (let x = from; x < to; x++) {
        const at = y * this.width + x;
        const share = Math.min(1, cover[x]!) * alpha;
        if (share <= 0 || depth > this.depth[at]! * 1.002 || (only !== null && this.what[at] !== only)) continue;
        const colour = put(x, y);
        if (!colour) continue;
        for (let channel = 0; channel < 3; channel++) this.light[at * 3 + channel] = this.light[at * 3 + channel]! * (1 - share) + colour[channel]! * share;
        if (only === null && share > 0.5) {
          this.depth[at] = depth;
          this.what[at] = LAND;
        }
      }
    }
  }

  private spans(points: readonly (readonly [number, number])[], y: number, cover: Float32Array): [number, number] {
    const crossings: number[] = [];
    points.forEach(([x1, y1], index) => {
      const [x2, y2] = points[(index + 1) % points.length] ?? [x1, y1];
      if (y1 <= y !== y2 <= y) crossings.push(x1 + ((y - y1) / (y2 - y1)) * (x2 - x1));
    });
    crossings.sort((a, b) => a - b);
    let [from, to] = [this.width, 0];
    for (let index = 0; index + 1 < crossings.length; index += 2) {
      const left = Math.max(0, crossings[index] ?? 0);
      const right = Math.min(this.width, crossings[index + 1] ?? 0);
      for (let x = Math.floor(left); x < right; x++) cover[x] = cover[x]! + 0.25 * (Math.min(right, x + 1) - Math.max(left, x));
      from = Math.min(from, Math.floor(left));
      to = Math.max(to, Math.ceil(right));
    }
    return [Math.max(0, from), Math.min(this.width, to)];
  }
}
