// Whether a photo is safe: it has enough verified copies on different drives, none verified too long ago. That one of
// them is kept in another place cannot be told yet, since drives do not say where they are.

import type { CopyOnDrive } from './copies';

const DAY_MS = 86_400_000;

/** Common practice for personal archives. */
export const SAFE_RULE = { copies: 2, verifiedWithinDays: 365 } as const;

/**
 * Milliseconds since 1970, UTC, until which the photo is safe if nothing is done; 0 where it has too few verified
 * copies.
 */
export function safeUntil(copies: readonly CopyOnDrive[]): number {
  const times = copies
    .flatMap(({ status, verifiedAt }) => (status === 'verified' && verifiedAt !== null ? [verifiedAt] : []))
    .sort((a, b) => b - a);
  const last = times[SAFE_RULE.copies - 1];
  return last === undefined ? 0 : last + SAFE_RULE.verifiedWithinDays * DAY_MS;
}
