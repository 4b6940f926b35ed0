// A track: where a receiver was, and when. Points lie in columns, since a year of them is millions. A segment is a
// part in which the receiver did not lose the sky; between segments nothing is known.

import type { LatLon } from '../../geo/position';
import { distanceM } from '../../geo/sphere';

export interface Track {
  /** Seconds since 1970, UTC; within a segment strictly ascending. */
  utc: Float64Array;
  lat: Float64Array;
  lon: Float64Array;
  /** Metres above sea level; NaN where not said. */
  altitude: Float64Array;
  /**
   * Where each segment begins, as an index of points; the first is 0. Segments are in the order of their first times.
   */
  starts: Uint32Array;
}

/** What of a file became no point, and why. */
export interface Dropped {
  withoutTime: number;
  unreadable: number;
  /** Times without a zone, which were taken as UTC. */
  zoneless: number;
}

export interface TrackReading {
  name: string | null;
  track: Track;
  dropped: Dropped;
}

/** Points that a file may hold: sixteen years of a fix every two minutes, or two months of one every second. */
export const POINTS_LIMIT = 5_000_000;

export interface Fix extends LatLon {
  utc: number;
  altitudeM: number | null;
}

/**
 * Collects fixes in the order of the file. A time that does not go on begins a new segment; the same time again is left
 * out.
 */
export class TrackBuilder {
  private readonly segments: Fix[][] = [];
  private open: Fix[] = [];
  private count = 0;
  name: string | null = null;
  readonly dropped: Dropped = { withoutTime: 0, unreadable: 0, zoneless: 0 };

  newSegment(): void {
    if (this.open.length > 0) this.segments.push(this.open);
    this.open = [];
  }

  /** `false` once the limit is reached. */
  add(fix: Fix): boolean {
    if (!(Math.abs(fix.lat) <= 90 && Math.abs(fix.lon) <= 180) || !Number.isFinite(fix.utc)) {
      this.dropped.unreadable += 1;
      return true;
    }
    const last = this.open.at(-1);
    if (last && fix.utc === last.utc) return true;
    if (last && fix.utc < last.utc) this.newSegment();
    this.open.push(fix);
    this.count += 1;
    return this.count < POINTS_LIMIT;
  }

  /** The last fix of this segment, for what a later line says about it. */
  get last(): Fix | undefined {
    return this.open.at(-1);
  }

  reading(): TrackReading {
    this.newSegment();
    const segments = this.segments.sort((a, b) => (a[0]?.utc ?? 0) - (b[0]?.utc ?? 0));
    const fixes = segments.flat();
    const column = (of: (fix: Fix) => number) => Float64Array.from(fixes, of);
    let at = 0;
    const starts = segments.map((segment) => (at += segment.length) - segment.length);
    return {
      name: this.name,
      track: {
        utc: column(({ utc }) => utc),
        lat: column(({ lat }) => lat),
        lon: column(({ lon }) => lon),
        altitude: column(({ altitudeM }) => altitudeM ?? NaN),
        starts: Uint32Array.from(starts),
      },
      dropped: this.dropped,
    };
  }
}

export const pointAt = ({ lat, lon }: Track, at: number): LatLon => ({ lat: lat[at] ?? 0, lon: lon[at] ?? 0 });

/** First and one past the last point of each segment. */
export const segmentsOf = ({ starts, utc }: Track): [from: number, to: number][] =>
  Array.from(starts, (from, at): [number, number] => [from, starts[at + 1] ?? utc.length]);

export interface Gap {
  fromUtc: number;
  toUtc: number;
}

export interface TrackFacts {
  points: number;
  firstUtc: number;
  lastUtc: number;
  lengthM: number;
  /** Gaps longer than asked for without a point, between segments too. */
  gaps: Gap[];
}

/** Linear. `null` for a track without points. */
export function factsOf(track: Track, gapSeconds: number): TrackFacts | null {
  const { utc } = track;
  if (utc.length === 0) return null;
  let lengthM = 0;
  let latest = -Infinity;
  const gaps: Gap[] = [];
  for (const [from, to] of segmentsOf(track)) {
    for (let at = from; at < to; at++) {
      const now = utc[at] ?? 0;
      if (at > from) lengthM += distanceM(pointAt(track, at - 1), pointAt(track, at));
      if (latest > -Infinity && now - latest > gapSeconds) gaps.push({ fromUtc: latest, toUtc: now });
      latest = Math.max(latest, now);
    }
  }
  return { points: utc.length, firstUtc: utc[0] ?? 0, lastUtc: latest, lengthM, gaps };
}
