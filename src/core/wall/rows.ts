// The wall as rows: photos side by side at one height, each row filling the width, under a heading for every group.
// All lengths in CSS pixels. Linear in the number of photos; 100,000 take some milliseconds.

import type { Head } from '../search/search-record';

export type WallRow =
  | { kind: 'heading'; value: number | string; start: number; count: number; top: number; height: number }
  | { kind: 'photos'; start: number; end: number; top: number; height: number };

export interface WallShape {
  width: number;
  /** The height rows are aimed at. A row that fills the width comes out at most at 1.4 times this. */
  rowHeight: number;
  gap: number;
  headingHeight: number;
}

const STRETCH_LIMIT = 1.4;
const FALLBACK_ASPECT = 1.5;
/** A panorama may not flatten its row into a thread, nor a strip of film stand as a tower. */
const ASPECT_MIN = 0.4;
const ASPECT_MAX = 4;

export const wallAspect = (aspect: number): number =>
  Number.isFinite(aspect) && aspect > 0 ? Math.min(ASPECT_MAX, Math.max(ASPECT_MIN, aspect)) : FALLBACK_ASPECT;

/** @param heads where each group begins, in order, the first at 0 */
export function layWall(heads: readonly Head[], aspects: ArrayLike<number>, shape: WallShape): WallRow[] {
  const rows: WallRow[] = [];
  let top = 0;
  heads.forEach(({ start, value }, index) => {
    const end = heads[index + 1]?.start ?? aspects.length;
    rows.push({ kind: 'heading', value, start, count: end - start, top, height: shape.headingHeight });
    top += shape.headingHeight;
    let height = shape.rowHeight;
    for (let from = start; from < end;) {
      const row = fillRow(aspects, from, end, shape, height);
      height = row.height;
      rows.push({ kind: 'photos', start: from, end: row.end, top, height: row.height });
      top += row.height + shape.gap;
      from = row.end;
    }
  });
  return rows;
}

/** Days as months, for a wall of small pictures: as many headings as days would leave no room for them. */
export function monthHeads(heads: readonly Head[]): Head[] {
  const months: Head[] = [];
  for (const { start, value } of heads) {
    const month = typeof value === 'number' ? Math.floor(value / 100) * 100 : value;
    if (months.at(-1)?.value !== month) months.push({ start, value: month });
  }
  return months;
}

/** Groups of equal neighbours. */
export function headsOf(values: ArrayLike<number | string>): Head[] {
  const heads: Head[] = [];
  for (let start = 0; start < values.length; start++) {
    const value = values[start] ?? 0;
    if (heads.at(-1)?.value !== value) heads.push({ start, value });
  }
  return heads;
}

/**
 * Photos of which a part lies in a rectangle, by position. Lengths as those of the rows; tiles lie from the left edge.
 */
export function photosWithin(
  rows: WallRow[],
  aspects: ArrayLike<number>,
  gap: number,
  area: { left: number; right: number; top: number; bottom: number },
  width: number,
): number[] {
  const { first, end } = rowsWithin(rows, area.top, area.bottom);
  return rows.slice(first, end).flatMap((row) => {
    if (row.kind !== 'photos' || row.top > area.bottom || row.top + row.height < area.top) return [];
    const found: number[] = [];
    let left = 0;
    for (let at = row.start; at < row.end; at++) {
      const tile = Math.min(wallAspect(aspects[at] ?? 0) * row.height, width - left);
      if (left <= area.right && left + tile >= area.left) found.push(at);
      left += tile + gap;
    }
    return found;
  });
}

/**
 * Takes photos until the row is no higher than aimed at; the last row of a group, which does not fill the width, is as
 * high as the one before.
 */
function fillRow(
  aspects: ArrayLike<number>,
  from: number,
  limit: number,
  { width, rowHeight, gap }: WallShape,
  before: number,
): { end: number; height: number } {
  let sum = 0;
  for (let end = from; end < limit; end++) {
    sum += wallAspect(aspects[end] ?? FALLBACK_ASPECT);
    const height = (width - gap * (end - from)) / sum;
    if (height <= rowHeight) return { end: end + 1, height };
  }
  const height = (width - gap * (limit - from - 1)) / sum;
  return {
    end: limit,
    height:
      height <= rowHeight * STRETCH_LIMIT && height <= before * STRETCH_LIMIT ? height : Math.min(rowHeight, before),
  };
}

export const wallHeight = (rows: WallRow[]): number => {
  const last = rows.at(-1);
  return last ? last.top + last.height : 0;
};

/** Rows that touch the window from `top` to `bottom`, as a range of indexes. */
export function rowsWithin(rows: WallRow[], top: number, bottom: number): { first: number; end: number } {
  let low = 0;
  let high = rows.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    const row = rows[middle];
    if (row && row.top + row.height < top) low = middle + 1;
    else high = middle;
  }
  let end = low;
  while (end < rows.length && (rows[end]?.top ?? 0) <= bottom) end += 1;
  return { first: low, end };
}
