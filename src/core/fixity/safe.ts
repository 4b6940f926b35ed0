// Whether a photo is safe: it has enough proven copies on different drives, none proven too long ago. That one of them is kept in another
// place cannot be told yet, since drives do not say where they are.

import type { CopyOnDrive } from './copies';

const DAY_MS = 86_400_000;

/** Common practice for personal archives. */
export const SAFE_RULE = { copies: 2, provenWithinDays: 365 } as const;

/** Milliseconds since 1970, UTC, until which the photo is safe if nothing is done; 0 where it has too few proven copies. */
export function safeUntil(copies: readonly CopyOnDrive[]): number {
  const proofs = copies.flatMap(({ standing, provenAt }) => (standing === 'proven' && provenAt !== null ? [provenAt] : [])).sort((a, b) => b - a);
  const last = proofs[SAFE_RULE.copies - 1];
  return last === undefined ? 0 : last + SAFE_RULE.provenWithinDays * DAY_MS;
}
