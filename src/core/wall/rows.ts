// The wall as rows: photos side by side at one height, each row filling the width, under a heading for every day.
// All lengths in CSS pixels. Linear in the number of photos; 100,000 take some milliseconds.

export type WallRow =
  | { kind: 'heading'; day: number; start: number; count: number; top: number; height: number }
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

export function layWall(days: ArrayLike<number>, aspects: ArrayLike<number>, shape: WallShape): WallRow[] {
  const rows: WallRow[] = [];
  let top = 0;
  for (let start = 0; start < days.length; ) {
    const day = days[start] ?? 0;
    let end = start + 1;
    while (end < days.length && days[end] === day) end += 1;
    rows.push({ kind: 'heading', day, start, count: end - start, top, height: shape.headingHeight });
    top += shape.headingHeight;
    for (let from = start; from < end; ) {
      const row = fillRow(aspects, from, end, shape);
      rows.push({ kind: 'photos', start: from, end: row.end, top, height: row.height });
      top += row.height + shape.gap;
      from = row.end;
    }
    start = end;
  }
  return rows;
}

/** Takes photos until the row is no higher than aimed at; the last row of a day keeps the aimed height. */
function fillRow(aspects: ArrayLike<number>, from: number, limit: number, { width, rowHeight, gap }: WallShape): { end: number; height: number } {
  let sum = 0;
  for (let end = from; end < limit; end++) {
    sum += wallAspect(aspects[end] ?? FALLBACK_ASPECT);
    const height = (width - gap * (end - from)) / sum;
    if (height <= rowHeight) return { end: end + 1, height };
  }
  const height = (width - gap * (limit - from - 1)) / sum;
  return { end: limit, height: height <= rowHeight * STRETCH_LIMIT ? height : rowHeight };
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
