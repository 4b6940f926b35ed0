// Light and colour in numbers: the transfer function and primaries of sRGB and Display P3, the colours of light by its
// temperature, and the adaptation of one white to another. Published values stand beside the tests.

import { type Matrix, type Channels, inverted, product, times } from './matrix';

/** Which primaries pixels are given in. Both have the transfer function of sRGB and the white D65. */
export type ColourSpace = 'srgb' | 'display-p3';

/** IEC 61966-2-1, 5.2: from a code value, 0 to 1, to linear light. Continued below 0 and above 1. */
export const toLinear = (code: number): number => (code <= 0.04045 ? code / 12.92 : ((code + 0.055) / 1.055) ** 2.4);

/** IEC 61966-2-1, 5.2, the other way round. */
export const fromLinear = (light: number): number =>
  light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055;

type Xy = readonly [number, number];

function fromPrimaries(red: Xy, green: Xy, blue: Xy): Matrix {
  const [r, g, b] = [red, green, blue].map(xyzOf) as [Channels, Channels, Channels];
  const columns: Matrix = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const [kr, kg, kb] = times(inverted(columns), xyzOf([0.3127, 0.329]));
  return [
    r[0] * kr, g[0] * kg, b[0] * kb,
    r[1] * kr, g[1] * kg, b[1] * kb,
    r[2] * kr, g[2] * kg, b[2] * kb,
  ]; // prettier-ignore
}

/** Of a chromaticity, at Y = 1. */
function xyzOf([x, y]: Xy): Channels {
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB to CIE XYZ with Y of white = 1: from the primaries of each standard and D65 (0.3127, 0.3290). */
const TO_XYZ: Readonly<Record<ColourSpace, Matrix>> = {
  srgb: fromPrimaries([0.64, 0.33], [0.3, 0.6], [0.15, 0.06]),
  'display-p3': fromPrimaries([0.68, 0.32], [0.265, 0.69], [0.15, 0.06]),
};

export const toXyz = (space: ColourSpace): Matrix => TO_XYZ[space];

/** What each channel has of the luminance: the middle row. */
export function luminanceOf(space: ColourSpace): readonly [number, number, number] {
  const [, , , red, green, blue] = TO_XYZ[space];
  return [red, green, blue];
}

/** Chromaticity in the CIE 1960 uniform chromaticity scale. */
type Uv = readonly [number, number];

/**
 * The colour of a black body of `kelvin`, 1000 to 15 000, within 0.0001: M. Krystek, An algorithm to calculate correlated
 * colour temperature, Color Research and Application 10 (1985).
 */
export function planckian(kelvin: number): Uv {
  const square = kelvin * kelvin;
  return [
    (0.860117757 + 1.54118254e-4 * kelvin + 1.28641212e-7 * square) /
      (1 + 8.42420235e-4 * kelvin + 7.08145163e-7 * square),
    (0.317398726 + 4.22806245e-5 * kelvin + 4.20481691e-8 * square) /
      (1 - 2.89741816e-5 * kelvin + 1.61456053e-7 * square),
  ];
}

export const xyOfUv = ([u, v]: Uv): Xy => [(3 * u) / (2 * u - 8 * v + 4), (2 * v) / (2 * u - 8 * v + 4)];

/** Light by its temperature, and how far it lies off the colours of glowing bodies: 0 for D65. */
export interface LightSource {
  /** Kelvin. */
  temperature: number;
  /** Thousandths of the CIE 1960 diagram; above 0 the light was greenish, below it was magenta. */
  tint: number;
}

/** Of D65, after CIE 15: its temperature, and its distance from the Planckian locus (0.0032). */
export const DAYLIGHT: LightSource = { temperature: 6504, tint: 0 };
const D65_OFF_LOCUS = 0.0032;
const STEP_KELVIN = 1;

/** The way straight off the locus, one long, towards green. */
function offLocus(kelvin: number): Uv {
  const [u0, v0] = planckian(kelvin - STEP_KELVIN);
  const [u1, v1] = planckian(kelvin + STEP_KELVIN);
  const length = Math.hypot(u1 - u0, v1 - v0);
  return [(v1 - v0) / length, (u0 - u1) / length];
}

function besideLocus(kelvin: number, off: number): Uv {
  const [u, v] = planckian(kelvin);
  const [du, dv] = offLocus(kelvin);
  return [u + du * off, v + dv * off];
}

const uvOfXyz = ([X, Y, Z]: Channels): Uv => [(4 * X) / (X + 15 * Y + 3 * Z), (6 * Y) / (X + 15 * Y + 3 * Z)];

const D65 = xyzOf([0.3127, 0.329]);
/** What the rounded numbers of D65 leave over: with it, `DAYLIGHT` is D65 to the last digit. */
const [LEFT_U, LEFT_V] = ((): Uv => {
  const [u, v] = uvOfXyz(D65);
  const [about, aboutV] = besideLocus(DAYLIGHT.temperature, D65_OFF_LOCUS);
  return [u - about, v - aboutV];
})();

/** XYZ of white in this light, with Y = 1. */
export function whiteOf({ temperature, tint }: LightSource): Channels {
  const [u, v] = besideLocus(temperature, D65_OFF_LOCUS + tint / 1000);
  return xyzOf(xyOfUv([u + LEFT_U, v + LEFT_V]));
}

/** The light between these temperatures in which white comes nearest to this colour; `null` of black. */
export function nearestLight(xyz: Channels, range: { from: number; to: number }): LightSource | null {
  if (!(xyz[0] + xyz[1] + xyz[2] > 0)) return null;
  const [seenU, seenV] = uvOfXyz(xyz);
  const [u, v] = [seenU - LEFT_U, seenV - LEFT_V];
  const distance = (kelvin: number): number => {
    const [pu, pv] = planckian(kelvin);
    return Math.hypot(u - pu, v - pv);
  };
  // by the reciprocal, in which the colours are spread evenly
  let [low, high] = [1e6 / range.to, 1e6 / range.from];
  for (let round = 0; round < ROUNDS; round++) {
    const third = (high - low) / 3;
    if (distance(1e6 / (low + third)) < distance(1e6 / (high - third))) high -= third;
    else low += third;
  }
  const temperature = 2e6 / (low + high);
  const [pu, pv] = planckian(temperature);
  const [du, dv] = offLocus(temperature);
  return { temperature, tint: 1000 * ((u - pu) * du + (v - pv) * dv - D65_OFF_LOCUS) };
}

/** Each leaves two thirds: far below a kelvin. */
const ROUNDS = 60;

/** Bradford's cone responses (ICC.1:2010, annex E.1). */
const BRADFORD: Matrix = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
const FROM_BRADFORD = inverted(BRADFORD);

/** In XYZ: what looks right under `from`, so that it looks the same under `to`. */
export function adaptation(from: Channels, to: Channels): Matrix {
  const [a, b] = [times(BRADFORD, from), times(BRADFORD, to)];
  const scale: Matrix = [b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]];
  return product(FROM_BRADFORD, product(scale, BRADFORD));
}

/**
 * In linear RGB: what was taken in `light` and shown as if by daylight, so that it is shown by that light as it was.
 * Daylight itself leaves all as it is, to the last bit.
 */
export function balanceFor(light: LightSource, space: ColourSpace): Matrix {
  if (light.temperature === DAYLIGHT.temperature && light.tint === DAYLIGHT.tint) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const there = TO_XYZ[space];
  return product(inverted(there), product(adaptation(whiteOf(light), D65), there));
}
