// Whether a photo is safe by the person's rule, and what it lacks. Copies on different drives count; two files on one
// drive are one copy. Who gives copies here leaves out those of drives that are retired or lost.

import { DAY_MS } from '../time/captured';
import type { CopyOnDrive } from './copies';

export interface SafeRule {
  /** Verified copies, each on a drive of its own. */
  copies: number;
  /** How many of these are kept elsewhere. */
  elsewhere: number;
  /** How long ago each of them may have been read in full. */
  verifiedWithinDays: number;
}

/** Two copies here on different drives and one elsewhere, each read within a year: common practice for archives. */
export const DEFAULT_RULE: SafeRule = { copies: 3, elsewhere: 1, verifiedWithinDays: 365 };

/** What a photo has too few of, whenever its copies were read. */
export const LACKS = ['copies', 'elsewhere'] as const;
export type Lack = (typeof LACKS)[number];

export interface Safety {
  lacks: Lack[];
  /**
   * Milliseconds since 1970, UTC, until which enough copies were read recently enough; 0 where there are too few. When
   * that is past, the photo is to be checked.
   */
  until: number;
}

export function safetyOf(
  copies: readonly CopyOnDrive[],
  rule: SafeRule,
  isElsewhere: (driveId: string) => boolean,
): Safety {
  const verified = copies.flatMap(({ driveId, status, verifiedAt }) =>
    status === 'verified' && verifiedAt !== null ? [{ driveId, verifiedAt }] : [],
  );
  const all = nthLatest(verified, rule.copies);
  const elsewhere = nthLatest(
    verified.filter(({ driveId }) => isElsewhere(driveId)),
    rule.elsewhere,
  );
  const lacks: Lack[] = [];
  if (all === null) lacks.push('copies');
  if (elsewhere === null) lacks.push('elsewhere');
  return {
    lacks,
    until: lacks.length > 0 ? 0 : Math.min(all ?? 0, elsewhere ?? 0) + rule.verifiedWithinDays * DAY_MS,
  };
}

/** When the nth latest was read; `null` where there are fewer, `Infinity` where none is asked for. */
const nthLatest = (verified: readonly { verifiedAt: number }[], count: number): number | null =>
  count === 0 ? Infinity : (verified.map(({ verifiedAt }) => verifiedAt).sort((a, b) => b - a)[count - 1] ?? null);
