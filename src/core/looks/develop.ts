// How corrections act on the light of a picture: the reference, step by step on floating-point numbers, against which
// the quick way (develop-quickly.ts) is held.
//
//   white balance    linear    the light it was taken in becomes daylight (Bradford)
//   exposure         linear    times two for each EV
//   tone             each channel goes through the curve of tone.ts; what lies beyond white or black is clipped here
//   colour           linear    farther from, or nearer to, the grey of the same luminance
//   corners          linear    a fall of so many EV from the middle to the corner, with the square of the distance
//   sharpening       code values: of the luminance, what a blur takes from it is added again (sharpen.ts)

import type { Edges } from '../picture/print-size';
import { type ColourSpace, DAYLIGHT, balanceFor, fromLinear, luminanceOf, toLinear } from './colour-science';
import type { Corrections } from './corrections';
import { times } from './matrix';
import { sharpen } from './sharpen';
import { toneOfLight } from './tone';

type Light = readonly [number, number, number];

/** What corrections make of linear light at a spot. The matrix is `balanceOf` them. */
function developLight(light: Light, corrections: Corrections, space: ColourSpace, cornerDistance: number): Light {
  const gain = 2 ** (corrections.exposure ?? 0);
  const toned = times(balanceOf(corrections, space), light).map((part) => toneOfLight(part * gain, corrections));
  const [r, g, b] = toned as [number, number, number];
  const [wr, wg, wb] = luminanceOf(space);
  const grey = wr * r + wg * g + wb * b;
  const strength = colourStrength(r, g, b, corrections);
  const corner = 2 ** ((corrections.vignette ?? 0) * cornerDistance ** 2);
  return [r, g, b].map((part) => (grey + (part - grey) * strength) * corner) as unknown as Light;
}

export const balanceOf = (
  { temperature = DAYLIGHT.temperature, tint = DAYLIGHT.tint }: Corrections,
  space: ColourSpace,
) => balanceFor({ temperature, tint }, space);

/** How far a colour goes from grey: 0 makes it grey, 1 leaves it. Vibrance takes what has little colour farther. */
export function colourStrength(
  r: number,
  g: number,
  b: number,
  { saturation = 0, vibrance = 0, blackAndWhite }: Corrections,
): number {
  if (blackAndWhite) return 0;
  const most = Math.max(r, g, b);
  const colourful = most > 0 ? (most - Math.min(r, g, b)) / most : 0;
  return (1 + saturation / 100) * (1 + (vibrance / 100) * (1 - colourful));
}

/** 0 in the middle, 1 in the corners, for the middle of a pixel. */
const cornerDistanceOf = (x: number, y: number, { width, height }: Edges): number =>
  Math.hypot(x + 0.5 - width / 2, y + 0.5 - height / 2) / Math.hypot(width / 2, height / 2);

/** @param pixels red, green, blue and opacity of each pixel as code values, 0 to 1, rows from the top; opacity stays */
export function developByFormulas(
  pixels: Float32Array,
  frame: Edges,
  corrections: Corrections,
  space: ColourSpace = 'srgb',
): Float32Array {
  const made = new Float32Array(pixels.length);
  for (let at = 0, pixel = 0; at < pixels.length; at += 4, pixel++) {
    const light: Light = [toLinear(pixels[at] ?? 0), toLinear(pixels[at + 1] ?? 0), toLinear(pixels[at + 2] ?? 0)];
    const distance = cornerDistanceOf(pixel % frame.width, Math.floor(pixel / frame.width), frame);
    developLight(light, corrections, space, distance).forEach(
      (part, index) => (made[at + index] = Math.min(1, Math.max(0, fromLinear(part)))),
    );
    made[at + 3] = pixels[at + 3] ?? 1;
  }
  if (corrections.sharpening) sharpen(made, frame, corrections.sharpening / 100);
  return made;
}
