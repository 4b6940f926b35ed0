// Which sidecar belongs to which photo in a folder.
//
//   NAME.EXT.xmp stands beside NAME.EXT             → it is that photo's
//   NAME.xmp says which ending it is for            → it is the photo's with that ending, and nobody else's
//   NAME.xmp says nothing                           → it is the raw's, else the first photo's by name
//   nothing there yet, NAME is not shared           → NAME.xmp will be written
//   nothing there yet, NAME is shared               → the first one gets NAME.xmp, the others NAME.EXT.xmp
//
// Names are compared without case, since half the world's drives do; where a drive tells `B2.jpg` from `b2.jpg`, the
// one spelt alike goes first.

import { endingOf, rawsFirst } from '../formats/containers/formats';
import { baseOf, foldName as fold } from './file-names';

export interface SidecarChoice {
  /** The sidecar that exists for this photo, by its real name; `null` where there is none. */
  existing: string | null;
  /** The name to write: the existing one, or the one to be made. */
  target: string;
}

/**
 * @param forEnding answers what a sidecar (by its real name) says of the ending it describes, `null` where it says
 * nothing.
 */
export function chooseSidecars(
  photos: string[],
  sidecars: string[],
  forEnding: (sidecar: string) => string | null,
): Map<string, SidecarChoice> {
  const named = new Set(photos);
  const byName = groupedBy(sidecars, fold);
  const choices = new Map<string, SidecarChoice>();
  for (const group of groupedBy(photos, (name) => fold(baseOf(name))).values()) {
    const ordered = group.toSorted(rawsFirst);
    const base = baseOf(ordered[0] ?? '');
    const shared = byName.get(`${fold(base)}.xmp`) ?? [];
    const owned = new Map<string, string>();
    for (const sidecar of shared) {
      const owner = ownerOf(
        sidecar,
        ordered.filter((name) => !owned.has(name)),
        forEnding(sidecar),
      );
      if (owner !== undefined) owned.set(owner, sidecar);
    }
    for (const name of ordered) {
      const own = (byName.get(`${fold(name)}.xmp`) ?? []).find(
        (sidecar) => stemOf(sidecar) === name || !named.has(stemOf(sidecar)),
      );
      const existing = own ?? owned.get(name) ?? null;
      const free = shared.length === 0 && name === ordered[0];
      choices.set(name, { existing, target: existing ?? (free ? `${base}.xmp` : `${name}.xmp`) });
    }
  }
  return choices;
}

/** Of photos whose names differ by case alone, as some drives allow, the one that is spelt as the sidecar is. */
function ownerOf(sidecar: string, photos: readonly string[], ending: string | null): string | undefined {
  const fitting = ending === null ? photos : photos.filter((name) => endingOf(name) === ending);
  const [first = ''] = fitting;
  return fitting.find((name) => fold(name) === fold(first) && baseOf(name) === stemOf(sidecar)) ?? fitting[0];
}

const stemOf = (sidecar: string): string => sidecar.slice(0, -'.xmp'.length);

function groupedBy(names: readonly string[], key: (name: string) => string): Map<string, string[]> {
  const groups = new Map<string, string[]>();
  for (const name of names) groups.set(key(name), [...(groups.get(key(name)) ?? []), name]);
  return groups;
}
