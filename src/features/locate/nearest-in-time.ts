import type { LatLon } from '@/core/geo/position';
import { parseCaptured, clockSeconds } from '@/core/time/captured';
import type { Placing } from '@/core/search/placing';

/** A neighbour more than this away in time is no neighbour. */
const WITHIN_SECONDS = 6 * 3600;

/** Where the placed photo nearest in time to the first of these is, by their clocks; `null` where there is none within six hours. */
export function nearestInTime({ ids, captured, lat, lon }: Placing, photoIds: readonly string[]): LatLon | null {
  const wanted = new Set(photoIds);
  const first = ids.findIndex((id) => wanted.has(id));
  const at = clockSeconds(parseCaptured(captured[first] ?? ''));
  if (at === null) return null;
  let best: { seconds: number; index: number } | null = null;
  captured.forEach((text, index) => {
    if (Number.isNaN(lat[index] ?? NaN) || wanted.has(ids[index] ?? '')) return;
    const seconds = clockSeconds(parseCaptured(text));
    if (seconds !== null && Math.abs(seconds - at) <= WITHIN_SECONDS && (!best || Math.abs(seconds - at) < best.seconds)) best = { seconds: Math.abs(seconds - at), index };
  });
  const found = best as { index: number } | null;
  return found && { lat: lat[found.index] ?? 0, lon: lon[found.index] ?? 0 };
}
