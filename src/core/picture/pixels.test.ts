import { describe, expect, it } from 'vitest';
import type { Grey } from './grey';
import { bestOverlap, overlapsAtEdge } from './overlap';
import { laplacianSpread, relativeSharpness, sharpnessOf } from './sharpness';

/** A patch of ground without end, the same at the same place: smooth noise of three sizes. */
function ground(x: number, y: number): number {
  const noise = (u: number, v: number) => {
    const bits = Math.imul(Math.imul(u | 0, 374761393) + Math.imul(v | 0, 668265263), 1274126177);
    return ((bits ^ (bits >>> 13)) >>> 0) / 2 ** 32;
  };
  const smooth = (size: number) => {
    const [u, v] = [Math.floor(x / size), Math.floor(y / size)];
    const [p, q] = [x / size - u, y / size - v];
    return (
      noise(u, v) * (1 - p) * (1 - q) +
      noise(u + 1, v) * p * (1 - q) +
      noise(u, v + 1) * (1 - p) * q +
      noise(u + 1, v + 1) * p * q
    );
  };
  return 80 * smooth(23) + 60 * smooth(9) + 40 * smooth(4);
}

const view = (left: number, top: number, width = 96, height = 64): Grey => ({
  width,
  height,
  values: Float32Array.from({ length: width * height }, (_, at) =>
    ground(left + (at % width), top + Math.floor(at / width)),
  ),
});

function blurred({ width, height, values }: Grey, passes: number): Grey {
  let now = values;
  for (let pass = 0; pass < passes; pass++) {
    now = now.map((value, at) => {
      const x = at % width;
      return (
        (value +
          (now[x > 0 ? at - 1 : at] ?? 0) +
          (now[x < width - 1 ? at + 1 : at] ?? 0) +
          (now[at - width] ?? value) +
          (now[at + width] ?? value)) /
        5
      );
    });
  }
  return { width, height, values: now };
}

describe('overlap at an edge', () => {
  it.each([
    ['to the right', 60, 0],
    ['to the left', -60, 2],
    ['upwards', 0, -40],
    ['with a hand that strays', 55, 4],
  ])('is found %s', (_, x, y) => {
    const best = bestOverlap(view(200, 200), view(200 + x, 200 + y));
    expect([best.x * 96, best.y * 64]).toEqual([expect.closeTo(x, 6), expect.closeTo(y, 6)]);
    expect(best.match).toBeGreaterThan(0.98);
    expect(overlapsAtEdge(view(200, 200), view(200 + x, 200 + y))).toBe(true);
  });

  it('the same view twice, another place, and an even wall are none', () => {
    expect(overlapsAtEdge(view(200, 200), view(203, 201))).toBe(false);
    expect(overlapsAtEdge(view(200, 200), view(9000, 7000))).toBe(false);
    expect(overlapsAtEdge(view(0, 0), { width: 96, height: 64, values: new Float32Array(96 * 64).fill(90) })).toBe(
      false,
    );
    expect(overlapsAtEdge(view(0, 0), view(40, 0, 64, 96))).toBe(false); // upright beside lying
  });
});

describe('sharpness', () => {
  it('falls with every blur', () => {
    const figures = [0, 1, 2, 4, 8].map((passes) => sharpnessOf(blurred(view(0, 0, 240, 160), passes)));
    expect(figures).toEqual([...figures].sort((a, b) => b - a));
    expect(new Set(figures).size).toBe(5);
  });

  it('is that of the sharpest part: a soft background does not weigh', () => {
    const sharp = view(0, 0, 240, 160);
    const soft = blurred(sharp, 12);
    const subject = {
      ...soft,
      values: soft.values.map((value, at) =>
        at % 240 > 80 && at % 240 < 170 && at > 240 * 50 && at < 240 * 120 ? (sharp.values[at] ?? 0) : value,
      ),
    };
    expect(sharpnessOf(subject)).toBeGreaterThan(0.8 * sharpnessOf(sharp));
    expect(sharpnessOf(soft)).toBeLessThan(0.4 * sharpnessOf(sharp));
  });

  it('of an even or a tiny picture is nothing, and a checkerboard gives what can be worked out', () => {
    expect([
      sharpnessOf({ width: 4, height: 4, values: new Float32Array(16).fill(9) }),
      sharpnessOf({ width: 0, height: 0, values: new Float32Array() }),
    ]).toEqual([0, 0]);
    // each pixel is 100 from its four neighbours: the Laplacian is ±400 everywhere, its mean 0
    expect(
      laplacianSpread({
        width: 10,
        height: 10,
        values: Float32Array.from({ length: 100 }, (_, at) => (((at % 10) + Math.floor(at / 10)) % 2 === 0 ? 0 : 100)),
      }),
    ).toBeCloseTo(400, 6);
  });

  it('is told as a share of the best of a set', () => {
    expect(relativeSharpness([4, null, 8, 2])).toEqual([50, null, 100, 25]);
    expect(relativeSharpness([null, 0])).toEqual([null, null]);
  });
});
