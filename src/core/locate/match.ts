// Photos matched to tracks by time.
//
//   the instant lies on a point, or between two points of one segment that are no
//   further apart in time than the accepted gap                       → on the great circle between, linear in time
//   else the nearest point in time is within the accepted gap          → at that point (the end of a segment, the rim
// of a gap)
//   else                                                               → not matched, with how far the nearest point is
//
// Of several tracks an answer between points beats one at a point, then the one whose nearest point is nearer in time,
// then the first. Altitudes are interpolated where both points have one.

import type { Position } from '../geo/position';
import { between } from '../geo/sphere';
import { type Track, pointAt, segmentsOf } from './tracks/track';

/**
 * Ten minutes: a walk of half a kilometre, a break under a roof. Changed by the person (no published figure; our
 * choice).
 */
export const DEFAULT_GAP_SECONDS = 600;

export type Found =
  | {
      state: 'matched';
      position: Position;
      how: 'between' | 'nearest';
      /** Of the tracks, in the order given. */
      track: number;
      /**
       * Seconds from the photo to the nearest points of the track before and after it; `null` where there is none on
       * that side.
       */
      beforeSeconds: number | null;
      afterSeconds: number | null;
    }
  | {
      state: 'unmatched';
      /** Seconds to the nearest point of any track; `null` without any. */
      nearestSeconds: number | null;
    };

interface Segment {
  track: number;
  from: number;
  to: number;
  firstUtc: number;
  lastUtc: number;
}

export class TrackMatcher {
  private readonly segments: Segment[];
  /** The greatest last time of this segment and all before it, for knowing when to stop looking back. */
  private readonly reach: Float64Array;

  /** Linear in the number of segments, after sorting them. */
  constructor(private readonly tracks: readonly Track[]) {
    this.segments = tracks
      .flatMap((track, index) =>
        segmentsOf(track).map(([from, to]): Segment => ({
          track: index,
          from,
          to,
          firstUtc: track.utc[from] ?? 0,
          lastUtc: track.utc[to - 1] ?? 0,
        })),
      )
      .sort((a, b) => a.firstUtc - b.firstUtc);
    let latest = -Infinity;
    this.reach = Float64Array.from(this.segments, ({ lastUtc }) => (latest = Math.max(latest, lastUtc)));
  }

  /**
   * Where the tracks were at an instant. Logarithmic in the number of points, and linear in the segments that are
   * within the gap.
   */
  at(utcSeconds: number, gapSeconds: number): Found {
    let best: Extract<Found, { state: 'matched' }> | null = null;
    let nearest = Infinity;
    const { segments, reach } = this;
    // the first segment that begins later than the gap allows
    let low = 0;
    let high = segments.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((segments[middle]?.firstUtc ?? 0) <= utcSeconds + gapSeconds) low = middle + 1;
      else high = middle;
    }
    const after = segments[low];
    if (after) nearest = Math.min(nearest, after.firstUtc - utcSeconds);
    for (let at = low - 1; at >= 0; at--) {
      if ((reach[at] ?? -Infinity) < utcSeconds - gapSeconds) {
        nearest = Math.min(nearest, utcSeconds - (reach[at] ?? -Infinity));
        break;
      }
      const segment = segments[at];
      if (!segment) continue;
      const found = this.inSegment(segment, utcSeconds, gapSeconds);
      nearest = Math.min(nearest, found.nearest);
      if (found.match && (!best || better(found.match, best))) best = found.match;
    }
    return best ?? { state: 'unmatched', nearestSeconds: Number.isFinite(nearest) ? nearest : null };
  }

  private inSegment(
    segment: Segment,
    utcSeconds: number,
    gapSeconds: number,
  ): { match: Extract<Found, { state: 'matched' }> | null; nearest: number } {
    const track = this.tracks[segment.track];
    if (!track) return { match: null, nearest: Infinity };
    const { utc } = track;
    let low = segment.from;
    let high = segment.to;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((utc[middle] ?? 0) <= utcSeconds) low = middle + 1;
      else high = middle;
    }
    const [before, after] = [low - 1, low];
    const hasBefore = before >= segment.from;
    const hasAfter = after < segment.to;
    const beforeSeconds = hasBefore ? utcSeconds - (utc[before] ?? 0) : null;
    const afterSeconds = hasAfter ? (utc[after] ?? 0) - utcSeconds : null;
    const nearest = Math.min(beforeSeconds ?? Infinity, afterSeconds ?? Infinity);
    const said = { state: 'matched' as const, track: segment.track, beforeSeconds, afterSeconds };
    if (beforeSeconds === 0)
      return { match: { ...said, how: 'between', position: positionAt(track, before) }, nearest };
    if (beforeSeconds !== null && afterSeconds !== null && beforeSeconds + afterSeconds <= gapSeconds) {
      return {
        match: {
          ...said,
          how: 'between',
          position: interpolated(track, before, after, beforeSeconds / (beforeSeconds + afterSeconds)),
        },
        nearest,
      };
    }
    if (nearest > gapSeconds) return { match: null, nearest };
    const point = (beforeSeconds ?? Infinity) <= (afterSeconds ?? Infinity) ? before : after;
    return { match: { ...said, how: 'nearest', position: positionAt(track, point) }, nearest };
  }
}

const distanceInTime = ({
  beforeSeconds,
  afterSeconds,
}: {
  beforeSeconds: number | null;
  afterSeconds: number | null;
}): number => Math.min(beforeSeconds ?? Infinity, afterSeconds ?? Infinity);

function better(one: Extract<Found, { state: 'matched' }>, other: Extract<Found, { state: 'matched' }>): boolean {
  if (one.how !== other.how) return one.how === 'between';
  const [a, b] = [distanceInTime(one), distanceInTime(other)];
  return a !== b ? a < b : one.track < other.track;
}

const altitudeAt = (track: Track, at: number): number | null => {
  const metres = track.altitude[at] ?? NaN;
  return Number.isNaN(metres) ? null : metres;
};

const positionAt = (track: Track, at: number): Position =>
  tidy({ ...pointAt(track, at), altitudeM: altitudeAt(track, at) });

function interpolated(track: Track, from: number, to: number, share: number): Position {
  const [low, high] = [altitudeAt(track, from), altitudeAt(track, to)];
  return tidy({
    ...between(pointAt(track, from), pointAt(track, to), share),
    altitudeM: low === null || high === null ? null : low + (high - low) * share,
  });
}

/** To a centimetre, and a tenth of a metre of altitude: no receiver knows more. */
const tidy = ({ lat, lon, altitudeM }: Position): Position => ({
  lat: Number(lat.toFixed(7)),
  lon: Number(lon.toFixed(7)),
  altitudeM: altitudeM === null ? null : Number(altitudeM.toFixed(1)),
});
