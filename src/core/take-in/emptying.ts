// Whether a card may be emptied: only of files that are verified to be elsewhere, often enough, on different drives
// that are not the card.
//
//   not as it was when it was read, or never read          → stays
//   fewer verified copies than the person's rule asks for    → stays
//   a file that belongs to no photo                        → stays; it was never taken in
//   otherwise                                              → may go
//
// A copy counts as a record says here; each is looked at again before anything is removed (storage/jobs/emptying.ts).

import type { SourceFile } from './frames';

/** A copy that would justify removing a file. */
export interface Justifying {
  driveId: string;
  path: string;
  /** When it was last read in full; `null` for what is read when it is asked for (sidecars, spoken notes). */
  verifiedAt: number | null;
  isAway: boolean;
}

/** What is known of a file that was read in full on the card. */
export interface ReadOnCard {
  sizeBytes: number;
  modifiedMs: number;
  /** Copies of the same bytes, one a drive. */
  copies: readonly Justifying[];
}

export type Obstacle = { path: string } & (
  { why: 'never-read' } | { why: 'changed' } | { why: 'other' } | { why: 'copies'; copies: number }
);

export interface Emptying {
  removable: SourceFile[];
  obstacles: Obstacle[];
}

export interface EmptyRule {
  copies: number;
  /** Whether copies on drives that are away count. */
  awayCounts: boolean;
}

export function planEmptying(
  files: readonly SourceFile[],
  others: readonly SourceFile[],
  read: ReadonlyMap<string, ReadOnCard>,
  rule: EmptyRule,
): Emptying {
  const emptying: Emptying = { removable: [], obstacles: others.map(({ path }) => ({ path, why: 'other' })) };
  for (const file of files) {
    const known = read.get(file.path);
    const copies = known?.copies.filter(({ isAway }) => rule.awayCounts || !isAway).length ?? 0;
    if (!known) emptying.obstacles.push({ path: file.path, why: 'never-read' });
    else if (known.sizeBytes !== file.sizeBytes || known.modifiedMs !== file.modifiedMs)
      emptying.obstacles.push({ path: file.path, why: 'changed' });
    else if (copies < rule.copies) emptying.obstacles.push({ path: file.path, why: 'copies', copies });
    else emptying.removable.push(file);
  }
  return emptying;
}
