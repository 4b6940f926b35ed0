// What is kept of places and clocks, in the catalog and on every drive.

import type { Versioned } from '../fields/version';
import type { FieldValues } from '../fields/registry';
import type { LatLon } from '../geo/position';
import { distanceM } from '../geo/sphere';
import type { ClockCorrection } from './clock';

/** The clock of one camera in one shoot. */
export interface KeptClock extends ClockCorrection, Versioned {
  /** `clockId` of camera and shoot. */
  id: string;
}

/**
 * Of the body (make, model, serial number) and the shoot: an accession, else a folder. Ids have a length that archive
 * files allow.
 */
export const clockId = (body: string, shoot: string): string => `${body} | ${shoot}`.slice(0, 400);

export const SPOT_FIELDS = ['sublocation', 'city', 'province', 'country', 'countryCode'] as const;
export type SpotWords = Partial<Pick<FieldValues, (typeof SPOT_FIELDS)[number]>>;

/** A spot of the person's own: with words that go before the gazetteer's, or a private area, or both. */
export interface Spot extends LatLon, Versioned {
  id: string;
  name: string;
  radiusM: number;
  /** Photos inside are marked, and their place is left out when they are sent out. */
  isPrivate: boolean;
  words: SpotWords;
}

export const insideSpot = (position: LatLon, spot: Pick<Spot, 'lat' | 'lon' | 'radiusM'>): boolean =>
  distanceM(position, spot) <= spot.radiusM;

/** The spot whose words hold at a position: of several the smallest. */
export function spotAt(position: LatLon, spots: readonly Spot[]): Spot | null {
  let best: Spot | null = null;
  for (const spot of spots)
    if (
      !spot.deleted &&
      Object.keys(spot.words).length > 0 &&
      insideSpot(position, spot) &&
      (!best || spot.radiusM < best.radiusM)
    )
      best = spot;
  return best;
}

export const privateAreaAt = (position: LatLon, spots: readonly Spot[]): Spot | null =>
  spots.find((spot) => !spot.deleted && spot.isPrivate && insideSpot(position, spot)) ?? null;
