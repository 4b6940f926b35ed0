// Which sidecar belongs to which photo in a folder.
//
//   NAME.EXT.xmp stands beside NAME.EXT             → it is that photo's
//   NAME.xmp says which ending it is for            → it is the photo's with that ending, and nobody else's
//   NAME.xmp says nothing                           → it is the raw's, else the first photo's by name
//   nothing there yet, NAME is not shared           → NAME.xmp will be written
//   nothing there yet, NAME is shared               → the first one gets NAME.xmp, the others NAME.EXT.xmp
//
// Names are compared without case, since half the world's drives do.

import { endingOf, rawsFirst } from '../containers/formats';
import { baseOf, foldName as fold } from './file-names';

export interface SidecarChoice {
  /** The sidecar that exists for this photo, by its real name; `null` where there is none. */
  existing: string | null;
  /** The name to write: the existing one, or the one to be made. */
  target: string;
}

/** @param forEnding answers what a sidecar (by its real name) says of the ending it describes, `null` where it says nothing. */
export function chooseSidecars(photos: string[], sidecars: string[], forEnding: (sidecar: string) => string | null): Map<string, SidecarChoice> {
  const sidecarByName = new Map(sidecars.map((name) => [fold(name), name]));
  const groups = new Map<string, string[]>();
  for (const name of photos) groups.set(fold(baseOf(name)), [...(groups.get(fold(baseOf(name))) ?? []), name]);
  const choices = new Map<string, SidecarChoice>();
  for (const group of groups.values()) {
    const ordered = group.toSorted(rawsFirst);
    const base = baseOf(ordered[0] ?? '');
    const shared = sidecarByName.get(`${fold(base)}.xmp`) ?? null;
    const said = shared === null ? null : forEnding(shared);
    const owner = said === null ? ordered[0] : ordered.find((name) => endingOf(name) === said);
    for (const name of ordered) {
      const own = sidecarByName.get(`${fold(name)}.xmp`) ?? null;
      const existing = own ?? (name === owner ? shared : null);
      const free = shared === null && name === ordered[0];
      choices.set(name, { existing, target: existing ?? (free ? `${base}.xmp` : `${name}.xmp`) });
    }
  }
  return choices;
}
