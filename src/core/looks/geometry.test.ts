import { describe, expect, it } from 'vitest';
import type { Corrections } from './corrections';
import { cutOf, keptOf, opposite, placed, scaledCut } from './geometry';

const PICTURE = { width: 600, height: 400 };
/** Where the corners of what remains lie in the picture: left top, right top, right bottom, left bottom. */
function cornersIn(corrections: Corrections, picture = PICTURE): number[][] {
  const { width, height, transform } = cutOf(picture, corrections);
  const back = opposite(transform);
  return [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ].map(([x, y]) => placed(back, x as number, y as number));
}
const close = (found: number[][], wanted: number[][], digits = 6) =>
  found.forEach((corner, at) =>
    corner.forEach((part, axis) => expect(part).toBeCloseTo(wanted[at]?.[axis] ?? NaN, digits)),
  );

describe('what remains of a picture', () => {
  it('is all of it without corrections, pixel on pixel', () => {
    const { transform, ...size } = cutOf(PICTURE, {});
    expect(size).toEqual(PICTURE);
    close([[...transform]], [[1, 0, 0, 1, 0, 0]]);
  });

  it('turned by quarters with the clock: the left bottom corner comes to the left top', () => {
    expect(cutOf(PICTURE, { turns: 1 })).toMatchObject({ width: 400, height: 600 });
    close(cornersIn({ turns: 1 }), [
      [0, 400],
      [0, 0],
      [600, 0],
      [600, 400],
    ]);
    close(cornersIn({ turns: 2 }), [
      [600, 400],
      [0, 400],
      [0, 0],
      [600, 0],
    ]);
    close(cornersIn({ turns: 3 }), [
      [600, 0],
      [600, 400],
      [0, 400],
      [0, 0],
    ]);
  });

  it('mirrored after turning', () => {
    close(cornersIn({ mirrored: true }), [
      [600, 0],
      [0, 0],
      [0, 400],
      [600, 400],
    ]);
    close(cornersIn({ turns: 1, mirrored: true }), [
      [0, 0],
      [0, 400],
      [600, 400],
      [600, 0],
    ]);
  });

  it('cut out: the parts that were asked for', () => {
    close(cornersIn({ crop: { left: 0.25, top: 0.5, width: 0.5, height: 0.25 } }), [
      [150, 200],
      [450, 200],
      [450, 300],
      [150, 300],
    ]);
  });

  it('straightened by 45° a square keeps the square between the middles of its edges', () => {
    // by hand: its corners lie on the middles of the four edges
    const square = { width: 400, height: 400 };
    expect(keptOf(square, 45)).toBeCloseTo(Math.SQRT1_2, 12);
    close(
      cornersIn({ straighten: 45 }, square),
      [
        [0, 200],
        [200, 0],
        [400, 200],
        [200, 400],
      ],
      0,
    );
  });

  it('cut out after straightening by 30°: corners by hand', () => {
    // kept = 400 / (600·sin 30° + 400·cos 30°) = 0.618802 of each edge: 371.281 × 247.521 about (300, 200). Its left top
    // quarter reaches from (−185.641, −123.760) to (0, 0); turned back by 30° that corner is
    // (−185.641·cos 30° − 123.760·sin 30°, 185.641·sin 30° − 123.760·cos 30°) = (−222.650, −14.359).
    const kept = 400 / (600 * 0.5 + 400 * Math.cos(Math.PI / 6));
    expect(keptOf(PICTURE, 30)).toBeCloseTo(kept, 12);
    const corners = cornersIn({ straighten: 30, crop: { left: 0, top: 0, width: 0.5, height: 0.5 } });
    close([corners[0] ?? []], [[300 - 222.65, 200 - 14.359]], 2);
    close([corners[2] ?? []], [[300, 200]], 6);
  });

  it('straightening by a positive angle turns the picture with the clock', () => {
    const { transform } = cutOf(PICTURE, { straighten: 10 });
    const [, left] = placed(transform, 0, 200);
    const [, right] = placed(transform, 600, 200);
    expect(right).toBeGreaterThan(left);
  });

  it('never shows what lies beside the picture, however it is straightened and cut', () => {
    for (let degrees = -45; degrees <= 45; degrees += 2.5)
      for (const picture of [PICTURE, { width: 401, height: 997 }, { width: 5000, height: 50 }])
        for (const turns of [undefined, 1, 2, 3] as const)
          for (const [x, y] of cornersIn({ straighten: degrees, ...(turns && { turns }) }, picture)) {
            expect(x).toBeGreaterThan(-1e-6);
            expect(y).toBeGreaterThan(-1e-6);
            expect(x).toBeLessThan(picture.width + 1e-6);
            expect(y).toBeLessThan(picture.height + 1e-6);
          }
  });

  it('drawn from a smaller picture it shows the same', () => {
    const cut = cutOf(PICTURE, { straighten: 7, crop: { left: 0.1, top: 0.2, width: 0.5, height: 0.6 } });
    const half = scaledCut(cut, 0.5, 0.5);
    const [x, y] = placed(cut.transform, 240, 210);
    const [halfX, halfY] = placed(half.transform, 120, 105);
    expect(halfX / half.width).toBeCloseTo(x / cut.width, 9);
    expect(halfY / half.height).toBeCloseTo(y / cut.height, 9);
  });
});
