import type { ClockCorrection } from '@/core/locate/clock';
import type { KeptClock } from '@/core/locate/kept';
import type { Placing } from '@/core/search/placing';
import { inTurn } from '@/engine/in-turn';
import { session } from '@/engine/session';
import type { Clock } from './use-matching';

/** What a clock is to be, as it is kept; what the patch does not say stays as it is kept now, or was proposed. */
export function clockToBe(
  placing: Placing,
  clock: Clock,
  now: KeptClock | null,
  patch: Partial<ClockCorrection>,
): KeptClock {
  const { zone, differenceSeconds } = now ?? clock;
  return {
    id: placing.groups[clock.group]?.id ?? '',
    zone,
    differenceSeconds,
    ...patch,
    updatedAt: Date.now(),
    deleted: false,
  };
}

/**
 * Two presses of a key are two steps, the second from where the first left the clock. Answers whether the catalog has
 * it.
 */
export function keepClock(
  placing: Placing,
  clock: Clock,
  patch: (differenceSeconds: number) => Partial<ClockCorrection>,
): Promise<boolean> {
  return inTurn(async () => {
    const now = (await session.db.clocks.get(placing.groups[clock.group]?.id ?? '')) ?? null;
    const held = now && !now.deleted ? now : null;
    const after = clockToBe(placing, clock, held, patch((held ?? clock).differenceSeconds));
    await session.change({ kind: 'kept', savedKind: 'clocks', before: now, after });
    return (await session.db.clocks.get(after.id))?.updatedAt === after.updatedAt;
  });
}
