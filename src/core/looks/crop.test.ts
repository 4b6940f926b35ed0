import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Crop } from './corrections';
import { WHOLE_CROP, drawnCrop, movedCrop, shapedCrop } from './crop';

const PICTURE = { width: 600, height: 400 };
const crops = fc
  .record({
    left: fc.double({ min: 0, max: 0.9, noNaN: true }),
    top: fc.double({ min: 0, max: 0.9, noNaN: true }),
    width: fc.double({ min: 0.05, max: 1, noNaN: true }),
    height: fc.double({ min: 0.05, max: 1, noNaN: true }),
  })
  .map((crop) => ({
    ...crop,
    width: Math.min(crop.width, 1 - crop.left),
    height: Math.min(crop.height, 1 - crop.top),
  }));
const way = fc.double({ min: -2, max: 2, noNaN: true });
const grips = fc.record(
  { x: fc.constantFrom('left' as const, 'right' as const), y: fc.constantFrom('top' as const, 'bottom' as const) },
  { requiredKeys: [] },
);
const shapeOf = ({ width, height }: Crop) => (width * PICTURE.width) / (height * PICTURE.height);
const isInside = ({ left, top, width, height }: Crop) =>
  left > -1e-9 && top > -1e-9 && left + width < 1 + 1e-9 && top + height < 1 + 1e-9 && width > 0 && height > 0;

describe('the frame of a crop', () => {
  it('stays in the picture wherever the hand goes, and keeps its shape where it has one', () => {
    fc.assert(
      fc.property(crops, grips, way, way, fc.constantFrom(null, 1, 1.5, 16 / 9, 2 / 3), (crop, grip, x, y, shape) => {
        const drawn = drawnCrop(crop, grip, x, y, shape, PICTURE);
        expect(isInside(drawn), JSON.stringify(drawn)).toBe(true);
        if (shape !== null && (grip.x || grip.y)) expect(shapeOf(drawn)).toBeCloseTo(shape, 6);
        if (grip.x === 'left') expect(drawn.left + drawn.width).toBeCloseTo(crop.left + crop.width, 9);
        if (grip.x === 'right') expect(drawn.left).toBeCloseTo(crop.left, 9);
        if (grip.y === 'bottom') expect(drawn.top).toBeCloseTo(crop.top, 9);
      }),
    );
  });

  it('moved, it keeps its size', () => {
    fc.assert(
      fc.property(crops, way, way, (crop, x, y) => {
        const moved = movedCrop(crop, x, y);
        expect([moved.width, moved.height]).toEqual([crop.width, crop.height]);
        expect(isInside(moved)).toBe(true);
      }),
    );
  });

  it('is the largest of a shape: by hand, a square in 600 × 400 is 400 in the middle', () => {
    const square = shapedCrop(WHOLE_CROP, 1, PICTURE);
    expect(square.width * 600).toBeCloseTo(400, 9);
    expect(square.height * 400).toBeCloseTo(400, 9);
    expect(square.left * 600).toBeCloseTo(100, 9);
    expect(shapedCrop(WHOLE_CROP, 1.5, PICTURE)).toEqual(WHOLE_CROP);
  });
});
