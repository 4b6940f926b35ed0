import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type PictureView, WHOLE, bestColumns, cornerOf, drawnSize, movedBy, scaledAt, partInSight } from './view';

const PICTURE = { width: 6000, height: 4000 };
const STAGE = { width: 900, height: 600 };

describe('the whole picture', () => {
  it('fits the stage, is in its middle, and a small one is not blown up', () => {
    expect(drawnSize(WHOLE, PICTURE, STAGE, 1)).toEqual({ width: 900, height: 600 });
    expect(drawnSize(WHOLE, { width: 4000, height: 6000 }, STAGE, 1)).toEqual({ width: 400, height: 600 });
    expect(cornerOf(WHOLE, { width: 300, height: 200 }, STAGE, 1)).toEqual({ left: 300, top: 200 });
  });
});

describe('100 %', () => {
  it('is one pixel of the picture on one of the screen, also on a dense one', () => {
    expect(drawnSize({ ...WHOLE, scale: 1 }, PICTURE, STAGE, 1).width).toBe(6000);
    expect(drawnSize({ ...WHOLE, scale: 1 }, PICTURE, STAGE, 2).width).toBe(3000);
  });

  it('keeps what is under the pointer under it, as far as the edges let it', () => {
    const point = { x: 450, y: 300 };
    const view = scaledAt(WHOLE, 1, point, PICTURE, STAGE, 1);
    expect(view).toEqual({ scale: 1, x: 0.5, y: 0.5 });
    const corner = scaledAt(WHOLE, 1, { x: 0, y: 0 }, PICTURE, STAGE, 1);
    expect(cornerOf(corner, PICTURE, STAGE, 1)).toEqual({ left: 0, top: 0 });
  });

  it('stays at the same spot of a frame of another size', () => {
    const view = scaledAt(WHOLE, 1, { x: 300, y: 200 }, PICTURE, STAGE, 1);
    const { left, top } = cornerOf(view, { width: 3000, height: 2000 }, STAGE, 1);
    expect([(450 - left) / 3000, (300 - top) / 2000]).toEqual([expect.closeTo(view.x, 6), expect.closeTo(view.y, 6)]);
  });

  it('taken back is the whole picture again', () => {
    expect(scaledAt({ scale: 1, x: 0.2, y: 0.3 }, 'fit', { x: 0, y: 0 }, PICTURE, STAGE, 1)).toEqual(WHOLE);
  });
});

describe('side by side', () => {
  it.each([
    [2, { width: 720, height: 680 }, 1.5, 1], // lying frames stand one above the other in a square room
    [3, { width: 720, height: 680 }, 1.5, 2],
    [3, { width: 720, height: 680 }, 0.67, 3], // upright ones beside each other
    [4, { width: 1200, height: 700 }, 1.5, 2],
    [6, { width: 1200, height: 700 }, 1.5, 3],
    [2, { width: 1200, height: 700 }, 1.5, 2],
  ])('%i frames in %o of aspect %d stand in %i columns', (count, box, aspect, columns) => {
    expect(bestColumns(count, box, aspect, 80)).toBe(columns);
  });
});

it('however it is moved and scaled, no edge comes in while there is picture beyond it, and the pointed spot holds away from the edges', () => {
  const step = fc.record({
    scale: fc.constantFrom(0.5, 1, 2, 4),
    x: fc.integer({ min: 0, max: 900 }),
    y: fc.integer({ min: 0, max: 600 }),
    dx: fc.integer({ min: -800, max: 800 }),
    dy: fc.integer({ min: -800, max: 800 }),
  });
  let held = 0;
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), (steps) => {
      let view = WHOLE;
      for (const { scale, x, y, dx, dy } of steps) {
        const before = cornerOf(view, PICTURE, STAGE, 1);
        const size = drawnSize(view, PICTURE, STAGE, 1);
        const spot = { x: (x - before.left) / size.width, y: (y - before.top) / size.height };
        view = scaledAt(view, scale, { x, y }, PICTURE, STAGE, 1);
        const after = cornerOf(view, PICTURE, STAGE, 1);
        const grown = drawnSize(view, PICTURE, STAGE, 1);
        const atEdge =
          after.left > -1 || after.top > -1 || after.left + grown.width < 901 || after.top + grown.height < 601;
        if (!atEdge) {
          expect(after.left + spot.x * grown.width).toBeCloseTo(x, 3);
          expect(after.top + spot.y * grown.height).toBeCloseTo(y, 3);
          held += 1;
        }
        view = movedBy(view, { x: dx, y: dy }, PICTURE, STAGE, 1);
        const moved = cornerOf(view, PICTURE, STAGE, 1);
        expect(moved.left).toBeLessThanOrEqual(0);
        expect(moved.left + grown.width).toBeGreaterThanOrEqual(900 - 1e-6);
      }
    }),
  );
  expect(held).toBeGreaterThan(100);
});

describe('what of a large picture is decoded', () => {
  const picture = { width: 20_000, height: 15_000 };
  const stage = { width: 1000, height: 700 };
  const at = (scale: PictureView['scale'], x: number, y: number) => partInSight({ scale, x, y }, picture, stage, 1);

  it('nothing while it is seen whole', () => {
    expect(at('fit', 0.5, 0.5)).toBeNull();
  });

  it('all that is in sight and some around it, on a grid, within the picture', () => {
    const { region, pixels } = at(1, 0.5, 0.5)!;
    expect(pixels).toBeNull();
    expect(region.left).toBeLessThanOrEqual(9500);
    expect(region.left + region.width).toBeGreaterThanOrEqual(10_500);
    expect([region.left % 1024, region.top % 1024]).toEqual([0, 0]);
    const corner = at(1, 1, 1)!.region;
    expect([corner.left + corner.width, corner.top + corner.height]).toEqual([20_000, 15_000]);
  });

  it('the same for a small step of the hand, so that few are decoded', () => {
    const parts = Array.from({ length: 100 }, (_, step) => JSON.stringify(at(1, 0.5 + step / 20_000, 0.5)));
    expect(new Set(parts).size).toBeLessThanOrEqual(2);
  });

  it('never more than a few screens of pixels, at any scale', () => {
    let seen = 0;
    for (let scale = 0.05; scale <= 8; scale *= 1.25) {
      const { region, pixels } = at(scale, 0.5, 0.5)!;
      const shrink = pixels === null ? 1 : pixels / Math.max(region.width, region.height);
      expect(region.width * region.height * shrink * shrink, `at ${scale}`).toBeLessThan(32_000_000);
      seen += 1;
    }
    expect(seen).toBeGreaterThan(20);
  });
});
