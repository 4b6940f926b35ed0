// Photos that are one picture or look like one: for the person to decide over, side by side. The same image data under
// several photos (files whose metadata differ) is told apart from pictures that are only near each other.

import { groupsAlike } from '../picture/alike';
import { bitsApart } from '../picture/measures';
import type { Columns } from './columns';
import { FLAG } from './search-record';

export interface AlikeGroup {
  /** In the order taken. */
  ids: string[];
  /** Bits by which the farthest two of it differ; 0 for what looks the same. */
  bits: number;
}

export interface AlikeGroups {
  groups: AlikeGroup[];
  /** Photos of the scope whose picture is not measured yet. */
  unknown: number;
}

/** Beyond this a group's farthest pair is not sought any more: its neighbours tell enough. */
const PAIRS_LIMIT = 200;

export function alikeGroups(slots: Uint32Array, bits: number, columns: Columns): AlikeGroups {
  const flags = columns.column('flags');
  const known = slots.filter((slot) => ((flags[slot] ?? 0) & FLAG.measured) !== 0);
  const [high, low] = [columns.column('hashHigh'), columns.column('hashLow')];
  const hashes = {
    high: Uint32Array.from(known, (slot) => high[slot] ?? 0),
    low: Uint32Array.from(known, (slot) => low[slot] ?? 0),
  };
  const groups = groupsAlike(hashes, known.length, bits).map((places) => {
    let farthest = 0;
    const looked = places.slice(0, PAIRS_LIMIT);
    for (const a of looked)
      for (const b of looked)
        farthest = Math.max(
          farthest,
          bitsApart(hashes.high[a] ?? 0, hashes.low[a] ?? 0, hashes.high[b] ?? 0, hashes.low[b] ?? 0),
        );
    return { ids: places.map((place) => columns.ids.text(known[place] ?? 0)), bits: farthest };
  });
  return { groups, unknown: slots.length - known.length };
}
