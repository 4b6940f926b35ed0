import { describe, expect, it } from 'vitest';
import {
  PAPERS,
  inchWords,
  pixelsForPrint,
  ppiOfPrint,
  ppiOnPaper,
  printInches,
  printWords,
  withLongEdge,
} from './print-size';

const THREE_TWO = { width: 6000, height: 4000 };
const FOUR_THREE = { width: 4000, height: 3000 };
const upright = ({ width, height }: { width: number; height: number }) => ({ width: height, height: width });

describe('print sizes (common practice)', () => {
  it('12 in at 300 ppi is 3600 px on the long edge; the short one is 2400 for 3:2, 2700 for 4:3; upright frames turned', () => {
    expect(pixelsForPrint(THREE_TWO, 12, 300)).toEqual({ width: 3600, height: 2400 });
    expect(pixelsForPrint(FOUR_THREE, 12, 300)).toEqual({ width: 3600, height: 2700 });
    expect(pixelsForPrint(upright(THREE_TWO), 12, 300)).toEqual({ width: 2400, height: 3600 });
    expect(pixelsForPrint(upright(FOUR_THREE), 12, 300)).toEqual({ width: 2700, height: 3600 });
  });

  it('3600 × 2400 printed at 30 × 20 in is 120 ppi; 3264 × 2448 at 300 ppi is 10.88 × 8.16 in', () => {
    expect(ppiOfPrint({ width: 3600, height: 2400 }, 30)).toBe(120);
    expect(printInches({ width: 3264, height: 2448 }, 300)).toEqual({ width: 10.88, height: 8.16 });
  });

  it('a long edge of 2000 px makes 3:2 2000 × 1333', () => {
    expect(withLongEdge(THREE_TWO, 2000)).toEqual({ width: 2000, height: 1333 });
  });

  it('a page of A4 at 300 ppi is 3508 × 2480 px, and A3 4961 × 3508 (tables of printers, common practice)', () => {
    const paper = (name: string) => PAPERS.find((one) => one.name === name)!;
    expect(Math.round(ppiOnPaper({ width: 3508, height: 2480 }, paper('A4')))).toBe(300);
    expect(Math.round(ppiOnPaper({ width: 3508, height: 4961 }, paper('A3')))).toBe(300);
    // the longer side of 3:2 decides on paper of 1.41:1
    expect(Math.round(ppiOnPaper(THREE_TWO, paper('A4')))).toBe(513);
  });

  it('is said in inches', () => {
    expect(inchWords({ width: 3600, height: 2400 }, 300)).toBe('12.0 × 8.0 in');
  });

  it('is said in centimetres', () => {
    expect(printWords({ width: 3600, height: 2400 })).toBe('30.5 × 20.3 cm at 300 ppi');
  });
});
