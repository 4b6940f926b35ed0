// Which files of a drive may go to free room: those whose photo stays safe by the person's rule without this drive.
//
//   damaged, in doubt, not readable              → stays: it is to be settled first
//   its words, or a move, still wait for a drive → stays
//   fewer verified copies on the other drives than the rule asks for, or fewer elsewhere, or read too long ago → stays
//   safe only by drives that are away            → stays, unless the person lets those count
//   otherwise                                    → may go
//
// What a record says counts here; each copy is looked at again before anything is removed (storage/jobs/freeing.ts).

import type { Digests, FileOnDrive } from './copies';
import { type Keeping, photoSafety } from './keeping';

export const STAY_REASONS = ['copies', 'elsewhere', 'check', 'away', 'waits', 'settle'] as const;
export type StayReason = (typeof STAY_REASONS)[number];

export interface LeavingAsked {
  driveId: string;
  /** Milliseconds since 1970, UTC. */
  now: number;
  /** Whether copies on drives that are away count. */
  awayCounts: boolean;
  isHere: (driveId: string) => boolean;
}

/** Why a file of the drive stays; `null` where it may go. @param files all files of its photo */
export function whyStays(
  file: FileOnDrive,
  files: readonly FileOnDrive[],
  photo: Digests,
  keeping: Keeping,
  { driveId, now, awayCounts, isHere }: LeavingAsked,
): StayReason | null {
  if (file.state !== 'present') return 'settle';
  const others = files.filter((other) => other.driveId !== driveId);
  const { lacks, until } = photoSafety(others, photo, keeping);
  if (lacks[0]) return lacks[0];
  if (until < now) return 'check';
  if (awayCounts) return null;
  const here = photoSafety(
    others.filter((other) => isHere(other.driveId)),
    photo,
    keeping,
  );
  return here.lacks.length === 0 && here.until >= now ? null : 'away';
}
