import type { ClockCorrection } from '@/core/locate/clock';
import type { KeptClock } from '@/core/locate/kept';
import type { Placing } from '@/core/search/placing';
import { session } from '../session/session';
import type { Clock } from './use-matching';

/** What a clock is to be, as it is kept. */
export function clockToBe(placing: Placing, clock: Clock, patch: Partial<ClockCorrection>): KeptClock {
  return { id: placing.groups[clock.group]?.id ?? '', zone: clock.zone, differenceSeconds: clock.kept?.differenceSeconds ?? 0, ...patch, updatedAt: Date.now(), deleted: false };
}

export const keepClock = (placing: Placing, clock: Clock, patch: Partial<ClockCorrection>): Promise<void> =>
  session.change({ kind: 'kept', shelf: 'clocks', before: clock.kept, after: clockToBe(placing, clock, patch) });
