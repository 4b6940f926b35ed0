// What was taken in one go: photos in the order of their clock, parted where the day changes or nothing was taken for a
// while.

import { nameIn } from '../names/file-names';
import { type Captured, clockSeconds, dayNumber, secondOfDay } from '../time/captured';

/** Common practice: half an hour without a picture parts two runs of a day's work. */
export const GAP_SECONDS = 30 * 60;

export interface Timed {
  path: string;
  captured: Captured | null;
}

const NAMES = new Intl.Collator('en', { numeric: true });

/** By the time taken, then by folder and name as people count them (`2` before `10`); without a date last. */
export function inClockOrder<T extends Timed>(items: readonly T[]): T[] {
  return items.toSorted((a, b) => {
    const [one, other] = [dayNumber(a.captured), dayNumber(b.captured)];
    if (one !== other) return one === 0 ? 1 : other === 0 ? -1 : one - other;
    return (
      secondOfDay(a.captured) - secondOfDay(b.captured) ||
      NAMES.compare(nameIn(a.path), nameIn(b.path)) ||
      (a.path < b.path ? -1 : 1)
    );
  });
}

export interface FrameRun<T> {
  /** 20190704; 0 for undated. */
  day: number;
  items: T[];
}

/** Parts what is in clock order into runs. */
export function runsOf<T extends Timed>(ordered: readonly T[], gapSeconds = GAP_SECONDS): FrameRun<T>[] {
  const runs: FrameRun<T>[] = [];
  let before: T | null = null;
  for (const item of ordered) {
    const day = dayNumber(item.captured);
    const last = runs.at(-1);
    const [then, now] = [clockSeconds(before?.captured ?? null), clockSeconds(item.captured)];
    const parted = then !== null && now !== null && now - then > gapSeconds;
    if (last?.day === day && !parted) last.items.push(item);
    else runs.push({ day, items: [item] });
    before = item;
  }
  return runs;
}
