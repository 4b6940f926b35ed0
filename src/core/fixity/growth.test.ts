import { describe, expect, it } from 'vitest';
import { growthOf } from './growth';

const GB = 1e9;

describe('how a drive fills', () => {
  it('is told by the mean of the last three full years, whatever this one has so far', () => {
    const years = new Map([
      [2023, 900],
      [2024, 1200],
      [2025, 900],
      [2026, 5],
    ]);
    // 1,000 photos of 20 MB a year are 20 GB: 90 GB are full in the fifth year
    expect(growthOf(years, 20e6, 90 * GB, 2026)).toEqual({ yearly: 20 * GB, fullIn: 2030 });
    expect(growthOf(years, 20e6, 0, 2026)?.fullIn).toBe(2026);
    expect(growthOf(years, 20e6, 1e6 * GB, 2026)?.fullIn).toBeNull();
  });

  it('of one that has photos of this year alone by these; of one with old photos only not at all', () => {
    expect(growthOf(new Map([[2026, 100]]), 20e6, 8 * GB, 2026)).toEqual({ yearly: 2 * GB, fullIn: 2030 });
    expect(growthOf(new Map([[2009, 4000]]), 20e6, 8 * GB, 2026)).toBeNull();
    expect(growthOf(new Map(), 0, 8 * GB, 2026)).toBeNull();
  });

  it('a year without photos among them counts as one', () => {
    expect(growthOf(new Map([[2025, 300]]), 20e6, 10 * GB, 2026)).toEqual({ yearly: 2 * GB, fullIn: 2031 });
  });
});
