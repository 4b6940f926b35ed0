// Which zone of the zone database holds at a place, from the map in the package tz-lookup (public domain). On a border,
// and at sea, it may be the neighbour's; it is a proposal.

import tzlookup from 'tz-lookup';
import type { LatLon } from '../geo/position';
import { isZone } from './zone';

/** `null` where the system does not know the zone. */
export function zoneOfPlace({ lat, lon }: LatLon): string | null {
  const zone = tzlookup(Math.max(-90, Math.min(90, lat)), Math.max(-180, Math.min(180, lon)));
  return isZone(zone) ? zone : null;
}
