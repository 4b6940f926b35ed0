// A sidecar was changed by another program while the catalog had edits of its own. Three versions meet:
//
//   base (last written or read) = theirs            → ours holds
//   base = ours                                     → theirs holds
//   ours = theirs                                   → nothing to decide
//   all three differ                                → the person decides; both are kept until then

import { FIELDS, type FieldKey, type FieldValues } from '../fields/registry';
import { sameValue } from '../fields/values';

export interface Merge {
  /** Fields to take over from the sidecar. */
  take: FieldKey[];
  /** Fields both sides changed, differently. */
  conflicts: FieldKey[];
}

export function mergeFields(base: FieldValues, ours: FieldValues, theirs: FieldValues): Merge {
  const merge: Merge = { take: [], conflicts: [] };
  for (const { key } of FIELDS) {
    if (sameValue(ours[key], theirs[key]) || sameValue(base[key], theirs[key])) continue;
    if (sameValue(base[key], ours[key])) merge.take.push(key);
    else merge.conflicts.push(key);
  }
  return merge;
}
