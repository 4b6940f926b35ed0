// A round: one pass over a fixed set of photos that asks one question of each: up, leave, or reject. `up` lifts a photo
// to the rung of the round, `reject` marks it so, `leave` lets it be as it was. The next round starts from what went
// up.

import type { Versioned } from '../fields/version';

export type RoundDecision = 'up' | 'leave' | 'reject';

export interface Decided {
  decision: RoundDecision;
  /** The rating it had before this round judged it. */
  was: number;
}

export interface Round extends Versioned {
  id: string;
  name: string;
  /** The rung that is asked for, 1 to 5. */
  rung: number;
  /** In the order in which they are gone through. */
  photoIds: string[];
  decided: Record<string, Decided>;
  startedAt: number;
  /** The round from whose lifted photos this one was made. */
  after: string | null;
}

export interface RoundSums {
  all: number;
  done: number;
  /** Not yet judged. */
  undecided: number;
  up: number;
  left: number;
  rejected: number;
  /** Lifted among all, 0 to 1. */
  share: number;
}

export const TOP_RUNG = 5;

export function sumsOf({ photoIds, decided }: Pick<Round, 'photoIds' | 'decided'>): RoundSums {
  const sums = { up: 0, leave: 0, reject: 0 };
  for (const id of photoIds) {
    const entry = decided[id];
    if (entry) sums[entry.decision] += 1;
  }
  const done = sums.up + sums.leave + sums.reject;
  return {
    all: photoIds.length,
    done,
    undecided: photoIds.length - done,
    up: sums.up,
    left: sums.leave,
    rejected: sums.reject,
    share: photoIds.length === 0 ? 0 : sums.up / photoIds.length,
  };
}

/** What a decision makes of a photo that has `rating` now. The same decision once more takes it back. */
export function decideInRound(
  { rung, decided }: Pick<Round, 'rung' | 'decided'>,
  photoId: string,
  decision: RoundDecision,
  rating: number,
): { entry: Decided | null; rating: number } {
  const before = decided[photoId];
  const was = before ? before.was : rating;
  if (before?.decision === decision) return { entry: null, rating: was };
  const entry = { decision, was };
  if (decision === 'reject') return { entry, rating: -1 };
  return { entry, rating: decision === 'up' ? Math.max(was, rung) : was };
}

/**
 * The first photo from `from` on, in the order of the round, that is not judged; then those before it; `null` when all
 * are.
 */
export function nextUndecided(
  { photoIds, decided }: Pick<Round, 'photoIds' | 'decided'>,
  from: string | null,
): string | null {
  const start = from === null ? 0 : Math.max(0, photoIds.indexOf(from));
  for (let step = 0; step < photoIds.length; step++) {
    const id = photoIds[(start + step) % photoIds.length];
    if (id !== undefined && !decided[id]) return id;
  }
  return null;
}

/** What went up, in the order of this round. */
export const lifted = ({ photoIds, decided }: Pick<Round, 'photoIds' | 'decided'>): string[] =>
  photoIds.filter((id) => decided[id]?.decision === 'up');
