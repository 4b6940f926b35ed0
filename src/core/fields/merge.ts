// What is said of a photo in two places: here, and in a sidecar, an image file or another photo that turned out to be
// the same. Field by field:
//
//   both say the same                                                    → nothing to decide
//   theirs is as a catalog wrote it, and bears its version:
//     theirs is later than ours                                          → theirs holds
//     ours is later than theirs                                          → ours holds; theirs is behind
//     apart, or ours was never changed here and is not what it began as  → the person decides
//   theirs was written by another program, after a version it still bears or without one:
//     it says what was last met there (base)                             → ours holds
//     ours is what was last met there                                    → theirs holds
//     it was never met, bears a version, and that is ours or later       → theirs holds
//     else, or where it was to be decided already                        → the person decides

import { FIELDS, type FieldKey, type FieldValues } from './registry';
import { sameValue } from './values';
import { ELSEWHERE, NO_VERSION, type Version, bumped, compareVersions, joinedVersion } from './version';

/** The version of each field that was ever changed. */
export type Versions = { readonly [key in FieldKey]?: Version };

/** What one side says. */
export interface Words {
  fields: FieldValues;
  versions: Versions;
}

/** What a place says: fields that were written by another program after the version they bear are named. */
export interface FoundWords extends Words {
  foreign: ReadonlySet<FieldKey>;
}

/** What the place said when it was last met or written; where it was never met, what the image file says by itself. */
export interface Base {
  fields: FieldValues;
  isMet: boolean;
  /**
   * Fields that are to be decided already: they stay so until both sides say the same, or one of them has seen the
   * other.
   */
  open?: ReadonlySet<FieldKey>;
}

export interface Merge {
  /** Fields to take over, with the version they then have. */
  take: FieldKey[];
  /** Fields both sides changed, differently. */
  conflicts: FieldKey[];
  /** Versions after it; those of conflicts stay what they were. */
  versions: Versions;
}

export function mergeWords(base: Base, ours: Words, theirs: FoundWords): Merge {
  const [take, conflicts]: [FieldKey[], FieldKey[]] = [[], []];
  const versions: { [key in FieldKey]?: Version } = { ...ours.versions };
  for (const { key } of FIELDS) {
    const [our, their] = [ours.versions[key] ?? NO_VERSION, foundVersion(theirs, key)];
    const wins = winnerOf(key, base, ours, theirs);
    if (wins === 'nobody') conflicts.push(key);
    if (wins === 'theirs') take.push(key);
    const after =
      wins === 'theirs'
        ? their === NO_VERSION
          ? bumped(our, ELSEWHERE)
          : joinedVersion(our, their)
        : wins === 'same'
          ? joinedVersion(our, theirs.foreign.has(key) ? NO_VERSION : their)
          : our;
    if (after !== NO_VERSION) versions[key] = after;
  }
  return { take, conflicts, versions };
}

/** What another program wrote over a version of ours is one change after it. */
function foundVersion({ versions, foreign }: FoundWords, key: FieldKey): Version {
  const version = versions[key] ?? NO_VERSION;
  return foreign.has(key) && version !== NO_VERSION ? bumped(version, ELSEWHERE) : version;
}

function winnerOf(key: FieldKey, base: Base, ours: Words, theirs: FoundWords): 'same' | 'ours' | 'theirs' | 'nobody' {
  const [said, found, began] = [ours.fields[key], theirs.fields[key], base.fields[key]];
  if (sameValue(said, found)) return 'same';
  const [our, their] = [ours.versions[key] ?? NO_VERSION, theirs.versions[key] ?? NO_VERSION];
  const order = compareVersions(our, their);
  const isOurs = !theirs.foreign.has(key) && their !== NO_VERSION;
  if (isOurs && our !== NO_VERSION) return order === 'before' ? 'theirs' : order === 'after' ? 'ours' : 'nobody';
  if (base.open?.has(key)) return 'nobody';
  if (!isOurs && sameValue(found, began) && (base.isMet || their === NO_VERSION)) return 'ours';
  if (sameValue(said, began) && (base.isMet || our === NO_VERSION)) return 'theirs';
  return !isOurs && their !== NO_VERSION && (order === 'same' || order === 'before') && our !== NO_VERSION
    ? 'theirs'
    : 'nobody';
}

/** What a place says, for a photo that begins with it. */
export function wordsBegunWith(found: FoundWords): Words {
  const versions: { [key in FieldKey]?: Version } = {};
  for (const { key } of FIELDS) {
    const version = foundVersion(found, key);
    if (version !== NO_VERSION) versions[key] = version;
  }
  return { fields: found.fields, versions };
}
