// The photos of a scope against tracks and clocks: for each what was found, or why nothing was.

import type { Position } from '../geo/position';
import { type Captured, parseCaptured } from '../time/captured';
import { type ClockCorrection, type TrueTime, trueTime } from './clock';
import type { Found, TrackMatcher } from './match';

export interface PhotoToMatch {
  captured: string;
  group: number;
  isPlaced: boolean;
}

export type MatchOutcome =
  | (Extract<Found, { state: 'matched' }> & { utcSeconds: number; position: Position; doubtful: boolean })
  /** It has a position, and was not to get another. */
  | { state: 'keeps'; utcSeconds: number | null }
  | { state: 'unmatched'; reason: 'no-time' | 'no-zone' | 'zone-unknown'; utcSeconds: null; nearestSeconds: null }
  /** No point of any track within the accepted gap. */
  | { state: 'unmatched'; reason: 'no-point'; utcSeconds: number; nearestSeconds: number | null };

export interface MatchOptions {
  gapSeconds: number;
  /** Photos that have a position get the one of the track. */
  replace: boolean;
}

/** @param clocks by the groups of the photos */
export function matchPhotos(
  photos: readonly PhotoToMatch[],
  clocks: readonly ClockCorrection[],
  matcher: TrackMatcher,
  { gapSeconds, replace }: MatchOptions,
): MatchOutcome[] {
  return photos.map(({ captured, group, isPlaced }) => {
    const clock = clocks[group];
    const time: TrueTime = clock ? trueTime(parseCaptured(captured), clock) : { state: 'unknown', reason: 'no-zone' };
    if (isPlaced && !replace) return { state: 'keeps', utcSeconds: time.state === 'known' ? time.utcSeconds : null };
    if (time.state === 'unknown')
      return { state: 'unmatched', reason: time.reason, utcSeconds: null, nearestSeconds: null };
    const found = matcher.at(time.utcSeconds, gapSeconds);
    if (found.state === 'matched') return { ...found, utcSeconds: time.utcSeconds, doubtful: time.doubtful };
    return {
      state: 'unmatched',
      reason: 'no-point',
      utcSeconds: time.utcSeconds,
      nearestSeconds: found.nearestSeconds,
    };
  });
}

/**
 * The clock of photos nobody has set one for: as the camera wrote it where it wrote an offset in all of them, else in
 * the zone of the track's place.
 */
export function clockProposed(captured: readonly string[], zoneOfTrack: string | null): ClockCorrection {
  const dates = captured.map((text) => parseCaptured(text)).filter((date): date is Captured => date !== null);
  return {
    zone: dates.length > 0 && dates.every(({ offset }) => offset !== null) ? null : zoneOfTrack,
    differenceSeconds: 0,
  };
}
