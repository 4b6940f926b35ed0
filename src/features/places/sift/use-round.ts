'use client';

// The round that is gone through: its photos in their order, what was decided, and the decisions as changes.

import { useCallback, useEffect, useRef } from 'react';
import type { Change } from '@/core/catalog/change';
import { planSet } from '@/core/fields/edits';
import { type RoundDecision, type Round, decideInRound } from '@/core/sift/round';
import { useLive } from '@/storage/catalog/live';
import type { OrderedPhotos } from '@/workers/search-client';
import { mayGo, meant, ratingOf, ratingValue } from '@/features/parts/judging/rate';
import { inTurn } from '@/engine/in-turn';
import { recordsOf } from '@/engine/selected-photos';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';

export const DECISION_WORDS: Record<RoundDecision, string> = { up: 'up', leave: 'left', reject: 'rejected' };

export const useRounds = (): Round[] =>
  useLive(async () =>
    (await session.db.rounds.toArray()).filter(({ deleted }) => !deleted).sort((a, b) => b.startedAt - a.startedAt),
  ) ?? [];

/** `undefined` while it is read, `null` where there is none of this id. */
export const useRound = (roundId: string | null): Round | null | undefined =>
  useLive(async () => {
    const round = roundId === null ? undefined : await session.db.rounds.get(roundId);
    return round && !round.deleted ? round : null;
  }, [roundId]);

/**
 * Its photos in its order, without those that are no longer in the catalog; with `leaving`, without those that are
 * decided, except the one looked at.
 */
export function useRoundPhotos(
  round: Round | null | undefined,
  leaving: boolean,
  photoId: string | null,
): OrderedPhotos | null {
  const ids = round
    ? leaving
      ? round.photoIds.filter((id) => id === photoId || !round.decided[id])
      : round.photoIds
    : null;
  const found = useAsked(round && ids ? `${round.id} ${ids.length} ${leaving ? photoId : ''}` : null, () =>
    session.search.ordered(ids ?? []),
  );
  return round && found?.of.startsWith(`${round.id} `) ? found.answer : null;
}

/**
 * Judges the photo that is looked at, or its set within the round, and goes on to the next at once: what the drives and
 * the database need is not waited for. Decisions come one after the other, however quick the keys: each is of the photo
 * that is there when its turn comes, so that two presses never meet on one.
 * @param onward from a photo to the next that is not decided, `null` where there is none
 */
export function useDecide(
  round: Round,
  photoId: string,
  onward: (round: Pick<Round, 'photoIds' | 'decided'>, from: string) => void,
): (decision: RoundDecision) => void {
  const latest = useRef({ round, photoId, onward });
  const turn = useRef(Promise.resolve());
  /** Decided here, and not yet in the catalog. */
  const pending = useRef<Round['decided']>({});
  useEffect(() => {
    latest.current = { round, photoId, onward };
  }, [round, photoId, onward]);
  return useCallback((decision) => {
    turn.current = turn.current.then(async () => {
      const { round: now, photoId: shown, onward: goOn } = latest.current;
      const at = useSelection.getState().focus ?? shown; // at once, where the screen follows a moment later
      const members = await meant([at]);
      const going = decision === 'reject' ? await mayGo(members) : members;
      if (!going) return;
      const decidedBefore = { ...now.decided, ...pending.current };
      const takesBack = decidedBefore[at]?.decision === decision;
      const noted: Round['decided'] = Object.fromEntries(going.map((id) => [id, { decision, was: 0 }]));
      pending.current = { ...pending.current, ...noted };
      if (!takesBack) goOn({ photoIds: now.photoIds, decided: { ...now.decided, ...pending.current } }, at);
      void inTurn(() => write(now.id, going, decision)).finally(() => {
        for (const id of going) if (pending.current[id] === noted[id]) delete pending.current[id];
      });
    });
  }, []);
}

async function write(roundId: string, photoIds: string[], decision: RoundDecision): Promise<void> {
  const round = await session.db.rounds.get(roundId);
  if (round) await session.change(planDecisions(round, await recordsOf(photoIds), decision));
}

function planDecisions(
  round: Round,
  photos: Awaited<ReturnType<typeof recordsOf>>,
  decision: RoundDecision,
): Change & { kind: 'round' } {
  const inRound = new Set(round.photoIds);
  const change: Change & { kind: 'round' } = { kind: 'round', roundId: round.id, decisions: [], edits: [] };
  for (const photo of photos) {
    const { entry, rating } = decideInRound(round, photo.id, decision, ratingOf(photo));
    // a frame that was rejected with its set may stand outside the round: it is rated, not decided
    if (inRound.has(photo.id))
      change.decisions.push({ photoId: photo.id, before: round.decided[photo.id] ?? null, after: entry });
    change.edits.push(...planSet([photo], 'rating', ratingValue(rating)));
  }
  return change;
}

export async function beginRound(
  name: string,
  rung: number,
  photoIds: string[],
  after: string | null,
): Promise<string | null> {
  return session.keep('rounds', { name, rung, photoIds, decided: {}, startedAt: Date.now(), after });
}
