// The files of a card or folder as frames: a raw with its companion, its sidecar and a spoken note are one frame and
// keep together. Files that belong to no photo stay where they are, and are named.

import { isBesideName, isPhotoName, isSidecarName, rawsFirst } from '../formats/containers/formats';
import { baseOf, foldName, folderIn, joinedPath, nameIn } from '../names/file-names';
import { chooseSidecars } from '../names/sidecar-names';

export interface SourceFile {
  path: string;
  sizeBytes: number;
  /** Milliseconds since 1970, UTC, as the card states it. */
  modifiedMs: number;
}

export interface Frame {
  /** `folder/base` as spelt by its first file; unique among the frames of a source. */
  key: string;
  folder: string;
  base: string;
  /** Photos and videos: the raw first, then by name. The first shows what the frame is. */
  photos: SourceFile[];
  /** What goes along: sidecars and what lies beside. */
  beside: SourceFile[];
}

export interface SourceListing {
  frames: Frame[];
  /** Files that are no photo and belong to none. */
  others: SourceFile[];
}

/** @param withSubfolders whether files below the first level count. Paths are relative to the source's root. */
export function framesOf(files: readonly SourceFile[], withSubfolders: boolean): SourceListing {
  const frames = new Map<string, Frame>();
  const others: SourceFile[] = [];
  const waiting: SourceFile[] = [];
  for (const file of files) {
    if (!withSubfolders && file.path.includes('/')) continue;
    if (!isPhotoName(file.path)) {
      waiting.push(file);
      continue;
    }
    const key = foldName(joinedPath(folderIn(file.path), baseOf(nameIn(file.path))));
    const frame = frames.get(key) ?? {
      key: joinedPath(folderIn(file.path), baseOf(nameIn(file.path))),
      folder: folderIn(file.path),
      base: baseOf(nameIn(file.path)),
      photos: [],
      beside: [],
    };
    frame.photos.push(file);
    frames.set(key, frame);
  }
  for (const file of waiting) {
    const frame =
      isSidecarName(file.path) || isBesideName(file.path)
        ? frames.get(foldName(joinedPath(folderIn(file.path), photoBaseOf(file.path, frames))))
        : undefined;
    if (frame) frame.beside.push(file);
    else others.push(file);
  }
  for (const frame of frames.values()) {
    frame.photos.sort((a, b) => rawsFirst(a.path, b.path));
    frame.beside.sort((a, b) => (a.path < b.path ? -1 : 1));
  }
  return { frames: [...frames.values()], others };
}

/** `A.xmp` and `A.jpg.xmp` both belong to the frame `A`, unless there is a photo whose base is `A.jpg`. */
function photoBaseOf(path: string, frames: ReadonlyMap<string, Frame>): string {
  const base = baseOf(nameIn(path));
  if (frames.has(foldName(joinedPath(folderIn(path), base)))) return base;
  return isPhotoName(base) ? baseOf(base) : base;
}

export const filesOf = ({ photos, beside }: Frame): SourceFile[] => [...photos, ...beside];

/**
 * Which sidecar of the frame describes which of its photos, by path; what a sidecar says of itself is not known yet.
 */
export function sidecarsOf({ folder, photos, beside }: Frame): Map<string, SourceFile | null> {
  const names = (files: SourceFile[]) => files.map(({ path }) => nameIn(path));
  const sidecars = beside.filter(({ path }) => isSidecarName(path));
  const choices = chooseSidecars(names(photos), names(sidecars), () => null);
  return new Map(
    photos.map(({ path }) => {
      const existing = choices.get(nameIn(path))?.existing;
      return [path, sidecars.find((file) => existing && file.path === joinedPath(folder, existing)) ?? null];
    }),
  );
}

/** Where a file of the frame goes when the frame's base becomes `base` in `folder`: only the base changes. */
export function pathUnder(path: string, frame: Pick<Frame, 'base'>, folder: string, base: string): string {
  const name = nameIn(path);
  // the files of a frame may spell its base differently, in case and in the form of accents
  let length = frame.base.length;
  for (let at = 1; at <= name.length; at++)
    if ((at === name.length || name[at] === '.') && foldName(name.slice(0, at)) === foldName(frame.base)) length = at;
  return joinedPath(folder, base + name.slice(length));
}
