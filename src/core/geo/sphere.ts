// Distances and ways on the earth taken as a sphere of its mean radius (IUGG 1980: 6371.0088 km). Against the ellipsoid
// of WGS-84 a distance errs by 0.56 per cent at most, a point between two others by less than 0.2 per cent of their
// distance; between two fixes of a receiver that is less than the receiver's own error.

import type { LatLon } from './position';

export const EARTH_RADIUS_M = 6_371_008.8;
const DEGREE = Math.PI / 180;

/** Metres along the great circle (haversine formula, which keeps its precision at small distances). */
export function distanceM(a: LatLon, b: LatLon): number {
  const half = Math.sin(((b.lat - a.lat) * DEGREE) / 2);
  const across = Math.sin(((b.lon - a.lon) * DEGREE) / 2);
  const h = half * half + Math.cos(a.lat * DEGREE) * Math.cos(b.lat * DEGREE) * across * across;
  return 2 * EARTH_RADIUS_M * Math.asin(Math.min(1, Math.sqrt(h)));
}

/**
 * The point at `share` (0 to 1) of the great circle from `a` to `b`, over the antimeridian and the poles as elsewhere.
 * Of opposite points there is no one way; then it is `a`.
 */
export function between(a: LatLon, b: LatLon, share: number): LatLon {
  const angle = distanceM(a, b) / EARTH_RADIUS_M;
  if (angle === 0 || Math.PI - angle < 1e-9) return { lat: a.lat, lon: a.lon };
  const [from, to] = [Math.sin((1 - share) * angle) / Math.sin(angle), Math.sin(share * angle) / Math.sin(angle)];
  const vector = (p: LatLon) =>
    [
      Math.cos(p.lat * DEGREE) * Math.cos(p.lon * DEGREE),
      Math.cos(p.lat * DEGREE) * Math.sin(p.lon * DEGREE),
      Math.sin(p.lat * DEGREE),
    ] as const;
  const [[ax, ay, az], [bx, by, bz]] = [vector(a), vector(b)];
  const [x, y, z] = [from * ax + to * bx, from * ay + to * by, from * az + to * bz];
  return { lat: Math.atan2(z, Math.hypot(x, y)) / DEGREE, lon: Math.atan2(y, x) / DEGREE };
}

/** Degrees from north over east in which one leaves `a` for `b`, 0 to 360. */
export function bearing(a: LatLon, b: LatLon): number {
  const turn = (b.lon - a.lon) * DEGREE;
  const [from, to] = [a.lat * DEGREE, b.lat * DEGREE];
  const angle =
    Math.atan2(
      Math.sin(turn) * Math.cos(to),
      Math.cos(from) * Math.sin(to) - Math.sin(from) * Math.cos(to) * Math.cos(turn),
    ) / DEGREE;
  return (angle + 360) % 360;
}

/** Where one comes to from `start` after so many metres in a direction. */
export function destination(start: LatLon, bearingDegrees: number, metres: number): LatLon {
  const angle = metres / EARTH_RADIUS_M;
  const [lat, turn] = [start.lat * DEGREE, bearingDegrees * DEGREE];
  const to = Math.asin(Math.sin(lat) * Math.cos(angle) + Math.cos(lat) * Math.sin(angle) * Math.cos(turn));
  const lon =
    start.lon * DEGREE +
    Math.atan2(Math.sin(turn) * Math.sin(angle) * Math.cos(lat), Math.cos(angle) - Math.sin(lat) * Math.sin(to));
  return { lat: to / DEGREE, lon: ((lon / DEGREE + 540) % 360) - 180 };
}

/**
 * A part of the map between two parallels and two meridians. Where `west` is greater than `east` it lies over the
 * antimeridian.
 */
export interface Box {
  south: number;
  west: number;
  north: number;
  east: number;
}

export const inBox = ({ lat, lon }: LatLon, { south, west, north, east }: Box): boolean =>
  lat >= south && lat <= north && (west <= east ? lon >= west && lon <= east : lon >= west || lon <= east);
