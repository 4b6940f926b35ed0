// Giving names to groups of files: those of one frame (raw, its companion, sidecar, sound) keep one base name together.
//
//   the base is free in the folder                       → it is taken
//   it is not, and the pattern counts                     → the next number that is free
//   it is not, and the pattern does not count             → `-2`, `-3` …, and the plan says so
//
// Names are compared without case and in one Unicode form. Groups are named in the order they come in; one call is
// linear in the number of groups, sequences that meet taken numbers apart.

import { dayNumber } from '../time/captured';
import { foldName, joinedPath } from './file-names';
import { PATH_LIMIT, legalName } from './legal';
import { type NameFacts, type Pattern, fillFolder, fillName, sequenceIn } from './pattern';

export interface NameGroup {
  facts: NameFacts;
  /** The folder they stay in; `null` where the folder pattern says it. */
  folder: string | null;
}

export interface GivenName {
  folder: string;
  base: string;
  /** What the plan has to say about it: it was numbered because the name was taken, or the path is long. */
  remarks: ('taken' | 'long')[];
}

export interface Naming {
  /** `null`: each folder as it is. */
  folder: Pattern | null;
  /** `null`: the old names, made legal. */
  names: Pattern | null;
  /** Base names in use, as `folder/base`, folded by `foldName`. */
  taken: ReadonlySet<string>;
}

export function giveNames(groups: readonly NameGroup[], { folder: folderPattern, names, taken }: Naming): GivenName[] {
  const used = new Set(taken);
  const sequence = names && sequenceIn(names);
  const next = new Map<string, number>();

  const count = (facts: NameFacts, folder: string, isFree: (base: string) => boolean): string | null => {
    if (!names || !sequence) return null;
    const over =
      sequence.over === 'accession'
        ? ''
        : sequence.over === 'folder'
          ? foldName(folder)
          : String(dayNumber(facts.captured));
    const first = next.get(over) ?? sequence.start;
    // a name so long that its number is cut off would never be free
    for (let number = first; number <= first + used.size; number++) {
      const base = fillName(names, facts, number);
      if (!isFree(base)) continue;
      next.set(over, number + 1);
      return base;
    }
    return null;
  };

  return groups.map(({ facts, folder: own }) => {
    const folder = own ?? (folderPattern ? fillFolder(folderPattern, facts) : '');
    const isFree = (base: string) => !used.has(foldName(joinedPath(folder, base)));
    const remarks: GivenName['remarks'] = [];
    let base =
      count(facts, folder, isFree) ??
      ((names ? fillName(names, facts, sequence?.start ?? 0) : legalName(facts.oldBase)) || 'photo');
    if (!isFree(base)) {
      remarks.push('taken');
      base = numberedBase(base, isFree);
    }
    used.add(foldName(joinedPath(folder, base)));
    if (joinedPath(folder, base).length > PATH_LIMIT) remarks.push('long');
    return { folder, base, remarks };
  });
}

function numberedBase(base: string, isFree: (base: string) => boolean): string {
  for (let number = 2; ; number++) if (isFree(`${base}-${number}`)) return `${base}-${number}`;
}
