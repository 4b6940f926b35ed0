'use client';

// Everything the tracks desk shows, computed anew whenever photos, tracks, clocks or choices change: it takes
// milliseconds.

import { useMemo } from 'react';
import { type ClockCorrection, NO_CORRECTION } from '@/core/locate/clock';
import type { KeptClock } from '@/core/locate/kept';
import { TrackMatcher } from '@/core/locate/match';
import { type MatchOptions, type MatchOutcome, clockProposed, matchPhotos } from '@/core/locate/plan-matches';
import { type Placing, placedAt } from '@/core/search/placing';
import { secondsOfIso } from '@/core/time/civil';
import type { Track } from '@/core/locate/tracks/track';
import { useLive } from '@/storage/catalog/live';
import type { TrackRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';

export type UsableTrack = TrackRecord & { track: Track; facts: NonNullable<TrackRecord['facts']> };

export interface Clock extends ClockCorrection {
  /** Index into the groups of `placing`. */
  group: number;
  /** What is kept of it; `null` while it is only proposed. */
  kept: KeptClock | null;
  photos: number;
  /** A track that is used lies within two days of its photos. */
  meetsTrack: boolean;
}

export interface Matching {
  tracks: UsableTrack[];
  used: UsableTrack[];
  clocks: Clock[];
  outcomes: MatchOutcome[];
}

export const useTracks = (): UsableTrack[] | undefined => {
  const records = useLive(() => session.db.tracks.toArray(), []);
  return useMemo(
    () =>
      records
        ?.filter((record): record is UsableTrack => record.track !== null && record.facts !== null)
        .sort((a, b) => a.facts.firstUtc - b.facts.firstUtc),
    [records],
  );
};

/** A day on either side: a camera may have been kept in any zone, and be off besides. */
const NEAR_SECONDS = 2 * 86_400;

/** @param moved a clock that is being moved, before it is kept */
export function useMatching(
  placing: Placing | null,
  options: MatchOptions,
  moved: { group: number; differenceSeconds: number } | null,
): Matching | null {
  const tracks = useTracks();
  const kept = useLive(() => session.db.clocks.toArray(), []);
  const near = useMemo(() => {
    if (!placing || !tracks) return null;
    const [first, last] = [
      seconds(placing.captured.find((text) => text !== '')),
      seconds(placing.captured.findLast((text) => text !== '')),
    ];
    return tracks.filter(({ facts }) => facts.lastUtc >= first - NEAR_SECONDS && facts.firstUtc <= last + NEAR_SECONDS);
  }, [placing, tracks]);
  const used = useMemo(() => near?.filter((record) => record.used) ?? null, [near]);
  const matcher = useMemo(() => used && new TrackMatcher(used.map(({ track }) => track)), [used]);
  const clocks = useMemo(() => (placing && used && kept ? clocksOf(placing, used, kept) : null), [placing, used, kept]);
  return useMemo(() => {
    if (!placing || !near || !used || !matcher || !clocks) return null;
    const now = clocks.map((clock) =>
      clock.group === moved?.group ? { ...clock, differenceSeconds: moved.differenceSeconds } : clock,
    );
    const photos = placing.ids.map((_, at) => ({
      captured: placing.captured[at] ?? '',
      group: placing.groupOf[at] ?? 0,
      isPlaced: placedAt(placing, at) !== null,
    }));
    return { tracks: near, used, clocks: now, outcomes: matchPhotos(photos, now, matcher, options) };
  }, [placing, near, used, matcher, clocks, options, moved]);
}

function clocksOf(placing: Placing, used: readonly UsableTrack[], kept: readonly KeptClock[]): Clock[] {
  const byId = new Map(kept.filter(({ deleted }) => !deleted).map((clock) => [clock.id, clock]));
  const captured: string[][] = placing.groups.map(() => []);
  placing.groupOf.forEach((group, at) => captured[group]?.push(placing.captured[at] ?? ''));
  return placing.groups.map(({ id }, group) => {
    const known = byId.get(id) ?? null;
    const proposed =
      known ?? clockProposed(captured[group] ?? [], zoneFor(captured[group] ?? [], used)) ?? NO_CORRECTION;
    return {
      group,
      kept: known,
      photos: captured[group]?.length ?? 0,
      meetsTrack: meets(captured[group] ?? [], used),
      zone: proposed.zone,
      differenceSeconds: proposed.differenceSeconds,
    };
  });
}

const seconds = (text: string | undefined): number => (text ? secondsOfIso(text) : NaN);

function meets(captured: readonly string[], used: readonly UsableTrack[]): boolean {
  const timed = captured.filter((text) => text !== '');
  const [first, last] = [seconds(timed[0]), seconds(timed.at(-1))];
  return used.some(({ facts }) => facts.lastUtc >= first - NEAR_SECONDS && facts.firstUtc <= last + NEAR_SECONDS);
}

/** The zone of the track that lies nearest to the photos by date. */
function zoneFor(captured: readonly string[], used: readonly UsableTrack[]): string | null {
  const at = seconds(captured.find((text) => text !== ''));
  let best: { zone: string | null; distance: number } | null = null;
  for (const { zone, facts } of used) {
    const distance = at < facts.firstUtc ? facts.firstUtc - at : at > facts.lastUtc ? at - facts.lastUtc : 0;
    if (!best || distance < best.distance) best = { zone, distance };
  }
  return best?.zone ?? null;
}
