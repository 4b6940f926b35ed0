// What a catalog is kept by: the person's rule, and what is said of its drives. Copies on drives that are retired or
// lost count for nothing, whatever was once read there.

import { type CopyOnDrive, type Digests, type FileOnDrive, copiesOf, verifiedCount } from './copies';
import { type DriveFacts, NO_FACTS } from './drive-facts';
import { DEFAULT_RULE, type SafeRule, type Safety, safetyOf } from './safe';

/** The setting of the rule, and those of drives: each behind the prefix, by its id. */
export const RULE_SETTING = 'safekeep';
export const FACTS_PREFIX = 'drive-facts:';
/** Those of copies that are kept up to date. */
export const COPY_ROUTINE_PREFIX = 'copy-routine:';

export interface Keeping {
  rule: SafeRule;
  /** By drive; a drive of which nothing was said is in use. */
  facts: ReadonlyMap<string, DriveFacts>;
}

export const NO_KEEPING: Keeping = { rule: DEFAULT_RULE, facts: new Map() };

export const driveFactsOf = ({ facts }: Keeping, driveId: string): DriveFacts => facts.get(driveId) ?? NO_FACTS;
export const isInUse = (keeping: Keeping, driveId: string): boolean =>
  driveFactsOf(keeping, driveId).standing === 'in-use';

/** The copies of a photo that are relied on: one a drive that is in use. */
export const countedCopies = (files: readonly FileOnDrive[], photo: Digests, keeping: Keeping): CopyOnDrive[] =>
  copiesOf(
    files.filter(({ driveId }) => isInUse(keeping, driveId)),
    photo,
  );

export interface PhotoSafety extends Safety {
  /** Verified copies that count. */
  copies: number;
}

export function photoSafety(files: readonly FileOnDrive[], photo: Digests, keeping: Keeping): PhotoSafety {
  const copies = countedCopies(files, photo, keeping);
  return {
    copies: verifiedCount(copies),
    ...safetyOf(copies, keeping.rule, (driveId) => driveFactsOf(keeping, driveId).elsewhere),
  };
}

/**
 * Drives that a photo is not safe without: whichever of them dies takes it along, or leaves nothing that was verified.
 */
export function onlyOn(files: readonly FileOnDrive[], photo: Digests, keeping: Keeping): string[] {
  const verified = new Set(
    countedCopies(files, photo, keeping).flatMap(({ driveId, status }) => (status === 'verified' ? [driveId] : [])),
  );
  const holding = new Set(files.flatMap(({ driveId, state }) => (state === 'missing' ? [] : [driveId])));
  return [...holding].filter((driveId) => verified.size === 0 || (verified.size === 1 && verified.has(driveId)));
}

/** Drives on which the same bytes lie twice. */
export function twiceOn(files: readonly FileOnDrive[]): string[] {
  const seen = new Set<string>();
  const twice = new Set<string>();
  for (const { driveId, state, sha256 } of files) {
    if (state !== 'present' || sha256 === null) continue;
    const key = `${driveId} ${sha256}`;
    if (seen.has(key)) twice.add(driveId);
    seen.add(key);
  }
  return [...twice];
}
