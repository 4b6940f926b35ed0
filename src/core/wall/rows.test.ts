import { describe, expect, it } from 'vitest';
import { headsOf, layWall as layHeads, monthHeads, photosWithin, rowsWithin, wallHeight, type WallRow } from './rows';

const SHAPE = { width: 1000, rowHeight: 150, gap: 4, headingHeight: 36 };
const layWall = (days: number[], aspects: ArrayLike<number>, shape: typeof SHAPE) =>
  layHeads(headsOf(days), aspects, shape);
const photoRows = (rows: WallRow[]) => rows.filter((row) => row.kind === 'photos');

describe('the wall', () => {
  it('shows every photo once, in order, under its day', () => {
    const days = [1, 1, 1, 2, 2, 0];
    const rows = layWall(days, [1.5, 1.5, 0.66, 3, 1.5, 1.5], SHAPE);
    expect(
      rows.filter((row) => row.kind === 'heading').map((row) => 'count' in row && [row.value, row.start, row.count]),
    ).toEqual([
      [1, 0, 3],
      [2, 3, 2],
      [0, 5, 1],
    ]);
    const shown = photoRows(rows).flatMap((row) =>
      row.kind === 'photos' ? Array.from({ length: row.end - row.start }, (_, index) => row.start + index) : [],
    );
    expect(shown).toEqual([0, 1, 2, 3, 4, 5]);
  });

  it('full rows fill the width to the pixel, and none is higher than 1.4 times the aim', () => {
    const count = 500;
    const aspects = Array.from({ length: count }, (_, index) => [1.5, 0.67, 1.78, 1][index % 4] ?? 1);
    const rows = photoRows(layWall(new Array(count).fill(1), aspects, SHAPE));
    expect(rows.length).toBeGreaterThan(50);
    rows.forEach((row, index) => {
      if (row.kind !== 'photos') return;
      const width =
        aspects.slice(row.start, row.end).reduce((sum, aspect) => sum + aspect * row.height, 0) +
        4 * (row.end - row.start - 1);
      expect(row.height).toBeLessThanOrEqual(150 * 1.4);
      if (index < rows.length - 1) expect(width).toBeCloseTo(1000, 6);
    });
  });

  it('rows follow one another without overlap, and the window gets just those that touch it', () => {
    const rows = layWall(new Array(300).fill(1), new Array(300).fill(1.5), SHAPE);
    rows
      .slice(1)
      .forEach((row, index) =>
        expect(row.top).toBeGreaterThanOrEqual((rows[index]?.top ?? 0) + (rows[index]?.height ?? 0)),
      );
    const { first, end } = rowsWithin(rows, 1000, 1500);
    const touching = rows.flatMap((row, index) => (row.top + row.height >= 1000 && row.top <= 1500 ? [index] : []));
    expect([first, end - 1]).toEqual([touching[0], touching.at(-1)]);
    expect(wallHeight([])).toBe(0);
  });

  it('a photo whose size is not known, or a panorama, breaks no row', () => {
    const rows = photoRows(layWall([1, 1, 1], [NaN, 0, 40], SHAPE));
    for (const row of rows) expect(row.height).toBeGreaterThan(40);
  });

  it('small pictures stand under months, in one row where days would break it', () => {
    const heads = headsOf([20190704, 20190704, 20190705, 20190800, 0]);
    expect(monthHeads(heads)).toEqual([
      { start: 0, value: 20190700 },
      { start: 3, value: 20190800 },
      { start: 4, value: 0 },
    ]);
    expect(monthHeads(headsOf(['a', 'a', 'b']))).toEqual([
      { start: 0, value: 'a' },
      { start: 2, value: 'b' },
    ]);
  });

  it('a drawn rectangle takes each photo it touches, and no other, whatever is in the window', () => {
    const aspects = Array.from({ length: 200 }, (_, index) => [1.5, 0.67, 1.78][index % 3] ?? 1);
    const rows = layWall(new Array(200).fill(1), aspects, SHAPE);
    const area = { left: 300, right: 520, top: 400, bottom: 900 };
    const slow = rows.flatMap((row) => {
      if (row.kind !== 'photos') return [];
      return Array.from({ length: row.end - row.start }, (_, index) => row.start + index).filter((at) => {
        const left = aspects.slice(row.start, at).reduce((sum, aspect) => sum + aspect * row.height + 4, 0);
        return (
          left <= 520 && left + (aspects[at] ?? 0) * row.height >= 300 && row.top <= 900 && row.top + row.height >= 400
        );
      });
    });
    expect(slow.length).toBeGreaterThan(5);
    expect(photosWithin(rows, aspects, 4, area, 1000)).toEqual(slow);
    expect(photosWithin(rows, aspects, 4, { left: 0, right: 1000, top: -50, bottom: -10 }, 1000)).toEqual([]);
  });
});
