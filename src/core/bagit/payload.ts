// Where files lie in the payload of a bag: in the folders they lie in on their drives, and apart where two have one name.

import { baseOf, foldName, folderIn, joinedPath, nameIn, nthPath } from '../names/file-names';
import { PAYLOAD_FOLDER } from './tag-files';

/** By the id of each file; names compared as the least discerning file system does. Linear. */
export function payloadPaths(files: readonly { id: string; path: string }[]): Map<string, string> {
  const taken = new Set<string>();
  const next = new Map<string, number>();
  const paths = new Map<string, string>();
  // what has one base name is told apart as a whole, so that a sidecar never seems to be another's
  const baseIn = (path: string) => foldName(joinedPath(folderIn(path), baseOf(nameIn(path))));
  for (const { id, path } of files) {
    const inBag = `${PAYLOAD_FOLDER}/${path}`;
    let number = next.get(foldName(inBag)) ?? 1;
    while (taken.has(foldName(nthPath(inBag, number))) || (number > 1 && taken.has(baseIn(nthPath(inBag, number)))))
      number += 1;
    next.set(foldName(inBag), number + 1);
    const free = nthPath(inBag, number);
    taken.add(foldName(free));
    taken.add(baseIn(free));
    paths.set(id, free);
  }
  return paths;
}
