// Whether a card may be emptied: only when every file on it is proven to be elsewhere, often enough, on different drives.
//
//   not as it was when it was read, or never read         → stays
//   fewer proven copies than the person's rule asks for    → stays
//   a file that belongs to no photo                        → stays; it was never taken in
//   otherwise                                              → may go

import type { SourceFile } from './frames';

/** What is known of a file that was read in full on the card. */
export interface ReadOnCard {
  sizeBytes: number;
  modifiedMs: number;
  /** Drives that have a proven copy of the same bytes, each once. */
  driveIds: readonly string[];
}

export type Obstacle = { path: string } & ({ why: 'never-read' } | { why: 'changed' } | { why: 'other' } | { why: 'copies'; copies: number });

export interface Emptying {
  removable: SourceFile[];
  obstacles: Obstacle[];
}

export function planEmptying(files: readonly SourceFile[], others: readonly SourceFile[], read: ReadonlyMap<string, ReadOnCard>, copiesWanted: number): Emptying {
  const emptying: Emptying = { removable: [], obstacles: others.map(({ path }) => ({ path, why: 'other' })) };
  for (const file of files) {
    const known = read.get(file.path);
    if (!known) emptying.obstacles.push({ path: file.path, why: 'never-read' });
    else if (known.sizeBytes !== file.sizeBytes || known.modifiedMs !== file.modifiedMs) emptying.obstacles.push({ path: file.path, why: 'changed' });
    else if (known.driveIds.length < copiesWanted) emptying.obstacles.push({ path: file.path, why: 'copies', copies: known.driveIds.length });
    else emptying.removable.push(file);
  }
  return emptying;
}
