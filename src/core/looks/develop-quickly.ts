// The same as develop.ts on the bytes of a screen: by tables, within one grade of 256 of it.

import type { Pixels } from '../picture/pixels';
import { type ColourSpace, fromLinear, luminanceOf, toLinear } from './colour-science';
import { type Corrections, changesColour } from './corrections';
import { balanceOf } from './develop';
import { sharpenBytes } from './sharpen';
import { hasTone, toneOfLight } from './tone';

/** Light above this is white whatever the curve. */
const BRIGHTEST = 1.7;
/** Steps of the tables: the darkest grade of 256 has ten of them. */
const STEPS = 1 << 15;
const PER_LIGHT = STEPS / BRIGHTEST;

const LIGHT_OF_BYTE = Float32Array.from({ length: 256 }, (_, byte) => toLinear(byte / 255));

const byteOf = (light: number): number => Math.round(255 * Math.min(1, Math.max(0, fromLinear(light))));
/** By steps of light. */
const BYTE_OF_LIGHT = Uint8Array.from({ length: STEPS + 1 }, (_, step) => byteOf(step / PER_LIGHT));

/** In place. */
export function developQuickly(pixels: Pixels, corrections: Corrections, space: ColourSpace = 'srgb'): void {
  const { sharpening, ...light } = corrections;
  if (changesColour(light)) developLights(pixels, light, space);
  if (sharpening) sharpenBytes(pixels, sharpening / 100);
}

function developLights(pixels: Pixels, corrections: Corrections, space: ColourSpace): void {
  const { temperature, tint, saturation, vibrance, vignette, blackAndWhite } = corrections;
  const isBalanced = temperature !== undefined || tint !== undefined;
  const hasColour = blackAndWhite === true || saturation !== undefined || vibrance !== undefined;
  if (!isBalanced && !hasColour && vignette === undefined) return byGrade(pixels, corrections);
  return byPixel(pixels, corrections, space, hasColour);
}

/** Where each channel goes its own way: 256 grades are worked out, and looked up. */
function byGrade({ data }: Pixels, corrections: Corrections): void {
  const gain = 2 ** (corrections.exposure ?? 0);
  const bytes = Uint8Array.from(LIGHT_OF_BYTE, (light) => byteOf(toneOfLight(light * gain, corrections)));
  for (let at = 0; at < data.length; at += 4) {
    data[at] = bytes[data[at] as number] as number;
    data[at + 1] = bytes[data[at + 1] as number] as number;
    data[at + 2] = bytes[data[at + 2] as number] as number;
  }
}

function byPixel(
  { data, width, height }: Pixels,
  corrections: Corrections,
  space: ColourSpace,
  hasColour: boolean,
): void {
  const gain = 2 ** (corrections.exposure ?? 0) * PER_LIGHT;
  const [rr, rg, rb, gr, gg, gb, br, bg, bb] = balanceOf(corrections, space).map((part) => part * gain) as Nine;
  // to steps of light again, so that the last table can be asked at once
  const tones = Float32Array.from(
    { length: STEPS + 1 },
    (_, step) => PER_LIGHT * toneOfLight(step / PER_LIGHT, corrections),
  );
  const corners = cornerGains(width, height, corrections.vignette ?? 0);
  const isGrey = corrections.blackAndWhite === true;
  const [saturation, vibrance] = [1 + (corrections.saturation ?? 0) / 100, (corrections.vibrance ?? 0) / 100];
  const [wr, wg, wb] = luminanceOf(space);
  const hasCurve = hasTone(corrections);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const lr = LIGHT_OF_BYTE[data[at] as number] as number;
      const lg = LIGHT_OF_BYTE[data[at + 1] as number] as number;
      const lb = LIGHT_OF_BYTE[data[at + 2] as number] as number;
      let red = rr * lr + rg * lg + rb * lb;
      let green = gr * lr + gg * lg + gb * lb;
      let blue = br * lr + bg * lg + bb * lb;
      if (hasCurve) {
        red = tones[stepOf(red)] as number;
        green = tones[stepOf(green)] as number;
        blue = tones[stepOf(blue)] as number;
      } else {
        red = red < 0 ? 0 : red > PER_LIGHT ? PER_LIGHT : red;
        green = green < 0 ? 0 : green > PER_LIGHT ? PER_LIGHT : green;
        blue = blue < 0 ? 0 : blue > PER_LIGHT ? PER_LIGHT : blue;
      }
      if (hasColour) {
        const grey = wr * red + wg * green + wb * blue;
        let strength = 0;
        if (!isGrey) {
          strength = saturation;
          if (vibrance !== 0) {
            const most = red > green ? (red > blue ? red : blue) : green > blue ? green : blue;
            const least = red < green ? (red < blue ? red : blue) : green < blue ? green : blue;
            strength *= 1 + vibrance * (most > 0 ? least / most : 1);
          }
        }
        red = grey + (red - grey) * strength;
        green = grey + (green - grey) * strength;
        blue = grey + (blue - grey) * strength;
      }
      if (corners) {
        const corner = corners(x, y);
        red *= corner;
        green *= corner;
        blue *= corner;
      }
      data[at] = BYTE_OF_LIGHT[stepOf(red)] as number;
      data[at + 1] = BYTE_OF_LIGHT[stepOf(green)] as number;
      data[at + 2] = BYTE_OF_LIGHT[stepOf(blue)] as number;
    }
}

type Nine = [number, number, number, number, number, number, number, number, number];

/** The nearest step that the tables have. */
const stepOf = (steps: number): number => (steps <= 0 ? 0 : steps >= STEPS ? STEPS : (steps + 0.5) | 0);

/** The gain at a pixel, by a table of the square of the distance from the middle. */
function cornerGains(width: number, height: number, stops: number): ((x: number, y: number) => number) | null {
  if (stops === 0) return null;
  const [middleX, middleY] = [(width - 1) / 2, (height - 1) / 2];
  const scale = CORNER_STEPS / ((width / 2) ** 2 + (height / 2) ** 2);
  const gains = Float32Array.from({ length: CORNER_STEPS + 1 }, (_, at) => 2 ** (stops * (at / CORNER_STEPS)));
  return (x, y) => gains[(((x - middleX) ** 2 + (y - middleY) ** 2) * scale + 0.5) | 0] as number;
}

const CORNER_STEPS = 4096;
