// How the brightness of a picture is spread, and where it is clipped: pixels with no difference left to their
// neighbours because a channel has come to its end.

export interface Histogram {
  /** Pixels by value, 0 to 255. */
  red: Uint32Array;
  green: Uint32Array;
  blue: Uint32Array;
  pixels: number;
  /** Pixels of which all channels are at the bottom, or any is at the top. */
  dark: number;
  light: number;
}

/** What counts as the end of a channel: JPEG's rounding leaves a burnt area at 254 here and there. */
const BOTTOM = 1;
const TOP = 254;

export type Clipping = 'dark' | 'light' | null;

export const clippingOf = (red: number, green: number, blue: number): Clipping =>
  red >= TOP || green >= TOP || blue >= TOP
    ? 'light'
    : red <= BOTTOM && green <= BOTTOM && blue <= BOTTOM
      ? 'dark'
      : null;

/** Of RGBA bytes. Linear in the pixels. */
export function histogramOf(data: ArrayLike<number>): Histogram {
  const histogram: Histogram = {
    red: new Uint32Array(256),
    green: new Uint32Array(256),
    blue: new Uint32Array(256),
    pixels: data.length / 4,
    dark: 0,
    light: 0,
  };
  const { red, green, blue } = histogram;
  for (let at = 0; at < data.length; at += 4) {
    const r = data[at] ?? 0;
    const g = data[at + 1] ?? 0;
    const b = data[at + 2] ?? 0;
    red[r] = (red[r] ?? 0) + 1;
    green[g] = (green[g] ?? 0) + 1;
    blue[b] = (blue[b] ?? 0) + 1;
    const clipped = clippingOf(r, g, b);
    if (clipped !== null) histogram[clipped] += 1;
  }
  return histogram;
}
