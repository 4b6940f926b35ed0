import { describe, expect, it } from 'vitest';
import { type OutputSize, outputPixels, sizeWords } from './output-size';

const THREE_TWO = { width: 6000, height: 4000 };
const FOUR_THREE = { width: 4608, height: 3456 };
const upright = ({ width, height }: { width: number; height: number }) => ({ width: height, height: width });
const pixels = (picture: { width: number; height: number }, size: OutputSize, enlarge = false, ppi = 300) => {
  const { width, height } = outputPixels(picture, size, ppi, enlarge);
  return [width, height];
};

// common practice, no source: the figures of the trade
describe('the pixels a picture is sent with', () => {
  it('12 in at 300 ppi is 3600 px on the long edge, 2400 on the short of 3:2, 2700 of 4:3; turned for upright frames', () => {
    const print: OutputSize = { kind: 'print', long: 12, unit: 'in' };
    expect(pixels(THREE_TWO, print)).toEqual([3600, 2400]);
    expect(pixels(FOUR_THREE, print)).toEqual([3600, 2700]);
    expect(pixels(upright(THREE_TWO), print)).toEqual([2400, 3600]);
  });

  it('a print in centimetres has the pixels of as many inches', () => {
    expect(pixels(THREE_TWO, { kind: 'print', long: 30.48, unit: 'cm' })).toEqual([3600, 2400]);
  });

  it('a long edge of 2000 px makes 3:2 2000 × 1333', () => {
    expect(pixels(THREE_TWO, { kind: 'long-edge', pixels: 2000 })).toEqual([2000, 1333]);
  });

  it('the ppi changes no pixel unless a print size is asked for', () => {
    for (const ppi of [72, 300])
      expect(pixels(THREE_TWO, { kind: 'long-edge', pixels: 2000 }, false, ppi)).toEqual([2000, 1333]);
    expect(pixels(THREE_TWO, { kind: 'print', long: 12, unit: 'in' }, false, 150)).toEqual([1800, 1200]);
  });

  it('by the short edge, within a box whichever way it lies, and by megapixels', () => {
    expect(pixels(THREE_TWO, { kind: 'short-edge', pixels: 1080 })).toEqual([1620, 1080]);
    expect(pixels(THREE_TWO, { kind: 'within', width: 1920, height: 1080 })).toEqual([1620, 1080]);
    expect(pixels(upright(THREE_TWO), { kind: 'within', width: 1920, height: 1080 })).toEqual([1080, 1620]);
    const [width = 0, height = 0] = pixels(THREE_TWO, { kind: 'megapixels', megapixels: 6 });
    expect((width * height) / 1e6).toBeCloseTo(6, 1);
  });

  it('nothing is enlarged unless asked, and it says so', () => {
    const small = { width: 1200, height: 800 };
    const size: OutputSize = { kind: 'long-edge', pixels: 3600 };
    expect(outputPixels(small, size, 300, false)).toEqual({ width: 1200, height: 800, isSmaller: true });
    expect(outputPixels(small, size, 300, true)).toEqual({ width: 3600, height: 2400, isSmaller: false });
    expect(outputPixels(small, { kind: 'full' }, 300, false).isSmaller).toBe(false);
  });

  it('a line of pixels keeps one', () => {
    expect(pixels({ width: 10_000, height: 1 }, { kind: 'long-edge', pixels: 100 })).toEqual([100, 1]);
  });

  it('is told in words', () => {
    expect(sizeWords({ kind: 'print', long: 40, unit: 'cm' }, 300)).toBe('long edge 40 cm at 300 ppi');
    expect(sizeWords({ kind: 'within', width: 1920, height: 1080 }, 72)).toBe('within 1920 × 1080 px');
  });
});
