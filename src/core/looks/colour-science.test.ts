import { convertP3ToXyz65, converter, differenceCiede2000 } from 'culori';
import { describe, expect, it } from 'vitest';
import {
  DAYLIGHT,
  adaptation,
  balanceFor,
  fromLinear,
  nearestLight,
  planckian,
  toLinear,
  toXyz,
  whiteOf,
  xyOfUv,
} from './colour-science';
import { type Channels, inverted, product, times } from './matrix';

const RANGE = { from: 2000, to: 15_000 };
const near = (found: readonly number[], wanted: readonly number[], within: number) =>
  found.forEach((part, at) => expect(Math.abs(part - (wanted[at] ?? NaN)), `part ${at}: ${part}`).toBeLessThan(within));

describe('sRGB', () => {
  it('has the transfer function of IEC 61966-2-1: worked values, and there and back', () => {
    // from memory: the linear part, the joint, and the middle code value
    near([toLinear(0), toLinear(0.04045), toLinear(0.5), toLinear(1)], [0, 0.0031308, 0.214041, 1], 1e-6);
    for (let byte = 0; byte < 256; byte++) expect(fromLinear(toLinear(byte / 255)) * 255).toBeCloseTo(byte, 9);
  });

  it('has the matrix of IEC 61966-2-1, and Display P3 that of the reference library', () => {
    // the standard's own, to its four places
    near(toXyz('srgb'), [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505], 6e-5);
    for (const [r, g, b] of [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [1, 1, 1],
    ] as const) {
      const { x, y, z } = convertP3ToXyz65({ r, g, b });
      near(times(toXyz('display-p3'), [r, g, b]), [x, y, z], 2e-4);
    }
  });

  it('a matrix and its inverse leave nothing', () => {
    near(product(inverted(toXyz('srgb')), toXyz('srgb')), [1, 0, 0, 0, 1, 0, 0, 0, 1], 1e-12);
  });
});

describe('light', () => {
  it.each([
    // CIE 15: illuminant A; the others from the table of Planckian radiators in Wyszecki and Stiles, Color Science, from memory
    [2856, 0.44757, 0.40745],
    [2000, 0.5267, 0.4133],
    [3000, 0.4369, 0.4041],
    [4000, 0.3805, 0.3768],
    [5000, 0.3451, 0.3516],
    [6500, 0.3135, 0.3237],
    [10_000, 0.2807, 0.2884],
  ])('a black body of %d K has the chromaticity of the tables', (kelvin, x, y) => {
    near(xyOfUv(planckian(kelvin)), [x, y], 4e-4);
  });

  it('daylight is D65, and leaves everything as it is', () => {
    const [X, Y, Z] = whiteOf(DAYLIGHT);
    near([X / (X + Y + Z), Y / (X + Y + Z)], [0.3127, 0.329], 1e-9);
    expect(balanceFor(DAYLIGHT, 'srgb')).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    // a kelvin beside it hardly anything, so that the slider does not jump
    near(balanceFor({ temperature: 6505, tint: 0 }, 'srgb'), [1, 0, 0, 0, 1, 0, 0, 0, 1], 1e-3);
  });

  it('adapts by Bradford as the published matrix from D65 to D50 does', () => {
    // B. Lindbloom’s table of chromatic adaptations, from memory; whites after ASTM E308
    const found = adaptation([0.95047, 1, 1.08883], [0.96422, 1, 0.82521]);
    near(
      found,
      [1.0478112, 0.0228866, -0.050127, 0.0295424, 0.9904844, -0.0170491, -0.0092345, 0.0150436, 0.7521316],
      1e-5,
    );
  });

  it.each([
    [2700, 0],
    [3200, 12],
    [4200, -20],
    [5500, 5],
    [9000, -8],
    [14_000, 20],
  ])('is found again by its colour: %d K, %d', (temperature, tint) => {
    const found = nearestLight(whiteOf({ temperature, tint }), RANGE);
    expect(found?.temperature).toBeCloseTo(temperature, -1);
    expect(found?.tint).toBeCloseTo(tint, 1);
  });

  it('black has no light', () => {
    expect(nearestLight([0, 0, 0], RANGE)).toBeNull();
  });

  it.each([[[0.8, 0.6, 0.35]], [[0.4, 0.43, 0.5]], [[0.42, 0.4, 0.38]], [[0.05, 0.06, 0.05]]] as [Channels][])(
    'what is said to be grey becomes grey: %s',
    (code) => {
      const light = code.map(toLinear) as unknown as Channels;
      const found = nearestLight(times(toXyz('srgb'), light), RANGE);
      if (!found) throw new Error('no light');
      const [r, g, b] = times(balanceFor(found, 'srgb'), light).map(fromLinear) as [number, number, number];
      const toLab = converter('lab65');
      const { l } = toLab({ mode: 'rgb', r, g, b });
      // CIEDE2000 of the reference library: below 0.1 nobody sees a difference
      expect(differenceCiede2000()({ mode: 'rgb', r, g, b }, { mode: 'lab65', l, a: 0, b: 0 })).toBeLessThan(0.1);
    },
  );

  it('CIEDE2000, by which it is judged, gives the pairs of its test data', () => {
    // Sharma, Wu and Dalal, Color Research and Application 30 (2005), table 1, pairs 1, 7, 17 and 25; from memory
    const difference = differenceCiede2000();
    const pair = (a: Channels, b: Channels) => {
      const [one, other] = [a, b].map(([l, x, y]) => ({ mode: 'lab65' as const, l, a: x, b: y }));
      return difference(one as never, other as never);
    };
    expect(pair([50, 2.6772, -79.7751], [50, 0, -82.7485])).toBeCloseTo(2.0425, 3);
    expect(pair([50, 0, 0], [50, -1, 2])).toBeCloseTo(2.3669, 3);
    expect(pair([50, 2.5, 0], [73, 25, -18])).toBeCloseTo(27.1492, 3);
    expect(pair([60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387])).toBeCloseTo(1.2644, 3);
  });
});
