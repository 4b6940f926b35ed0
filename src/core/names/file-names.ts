// File names as parts, and as they are compared: half the world's drives take no notice of case, and spell accents
// their own way.

import { endingOf } from '../formats/containers/formats';

/** The name without its ending. */
export function baseOf(name: string): string {
  const ending = endingOf(name);
  return ending === '' ? name : name.slice(0, -ending.length - 1);
}

/** The ending as it is spelt, with its dot; empty where there is none. */
export const spelledEnding = (name: string): string => name.slice(baseOf(name).length);

export const foldName = (name: string): string => name.toLowerCase().normalize('NFC');

export const nameIn = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** The folder of a path without its last slash; empty for the root. */
export const folderIn = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));

export const joinedPath = (folder: string, name: string): string => (folder === '' ? name : `${folder}/${name}`);

/** `x.jpg` as `x-2.jpg`. */
function numbered(path: string, number: number): string {
  const name = nameIn(path);
  return joinedPath(folderIn(path), `${baseOf(name)}-${number}${spelledEnding(name)}`);
}

/** The path itself first, then `x-2.jpg`, `x-3.jpg` … */
export const nthPath = (path: string, number: number): string => (number === 1 ? path : numbered(path, number));

/**
 * The path of what belongs to a file and bears its base name (a sidecar, a spoken note), when the file goes from one
 * path to another.
 */
export function pathBeside(path: string, from: string, to: string): string {
  const rest = nameIn(path).slice(baseOf(nameIn(from)).length);
  return joinedPath(folderIn(to), baseOf(nameIn(to)) + rest);
}
