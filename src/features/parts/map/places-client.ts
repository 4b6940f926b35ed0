// The gazetteer of the server, asked by the page. What comes back is read with a schema.

import { z } from 'zod';
import type { LatLon } from '@/core/geo/position';

const place = z.object({
  city: z.string(),
  province: z.string(),
  district: z.string(),
  country: z.string(),
  countryCode: z.string(),
  lat: z.number(),
  lon: z.number(),
});
const near = place.extend({ distanceM: z.number() });
export type FoundPlace = z.infer<typeof place>;
export type NearestPlace = z.infer<typeof near>;

/** Positions that are asked for at once. */
const BATCH = 5000;

/** The named place nearest to each position; `null` where the gazetteer is empty. */
export async function nearestPlaces(
  positions: readonly LatLon[],
  signal?: AbortSignal,
): Promise<(NearestPlace | null)[]> {
  const found: (NearestPlace | null)[] = [];
  for (let at = 0; at < positions.length; at += BATCH) {
    const batch = positions.slice(at, at + BATCH).map(({ lat, lon }) => ({ lat, lon }));
    const response = await fetch('/api/places/nearest', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ positions: batch }),
      ...(signal && { signal }),
    });
    if (!response.ok) throw new Error(`the gazetteer does not answer (${response.status})`);
    found.push(...z.object({ places: z.array(near.nullable()) }).parse(await response.json()).places);
  }
  return found;
}

export async function searchPlaces(typed: string, by: LatLon | null): Promise<FoundPlace[]> {
  const query = new URLSearchParams({ q: typed, ...(by && { lat: String(by.lat), lon: String(by.lon) }) });
  const response = await fetch(`/api/places/search?${query}`);
  if (!response.ok) throw new Error(`the gazetteer does not answer (${response.status})`);
  return z.object({ places: z.array(place) }).parse(await response.json()).places;
}
