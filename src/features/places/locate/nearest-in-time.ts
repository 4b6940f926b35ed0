import type { LatLon } from '@/core/geo/position';
import { type Placing, placedAt } from '@/core/search/placing';
import { secondsOfIso } from '@/core/time/civil';

/** A neighbour more than this away in time is no neighbour. */
const WITHIN_SECONDS = 6 * 3600;

/**
 * Where the placed photo nearest in time to the first of these is, by their clocks; `null` where there is none within
 * six hours.
 */
export function nearestInTime(placing: Placing, photoIds: readonly string[]): LatLon | null {
  const { ids, captured } = placing;
  const wanted = new Set(photoIds);
  const shown = captured[ids.findIndex((id) => wanted.has(id))] ?? '';
  if (shown === '') return null;
  const at = secondsOfIso(shown);
  let best = WITHIN_SECONDS;
  let found: LatLon | null = null;
  for (const [index, text] of captured.entries()) {
    const position = text === '' || wanted.has(ids[index] ?? '') ? null : placedAt(placing, index);
    const away = position ? Math.abs(secondsOfIso(text) - at) : Infinity;
    if (away < best || (away === best && !found)) [best, found] = [away, position];
  }
  return found;
}
