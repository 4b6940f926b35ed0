// Whether two folders that a person connected are the same place, or one lies in the other: then they are one place,
// and what lies there is one copy. Handles tell it by their paths; a file put into one folder and seen in another tells
// it whatever links, mounts or letters lead there.

import { folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import type { Drive } from './drive';
import { openIfThere, once, withPart } from './safe-write';

export type Relation = { how: 'apart' } | { how: 'same' } | { how: 'inside' | 'around'; path: string };

/** How `folder` lies to `other`, by what the browser knows of their paths. */
export async function relationOf(
  folder: FileSystemDirectoryHandle,
  other: FileSystemDirectoryHandle,
): Promise<Relation> {
  const inside = await other.resolve(folder).catch(() => null);
  if (inside) return inside.length === 0 ? { how: 'same' } : { how: 'inside', path: inside.join('/') };
  const around = await folder.resolve(other).catch(() => null);
  return around && around.length > 0 ? { how: 'around', path: around.join('/') } : { how: 'apart' };
}

/** The same of folders of this machine, whose paths have every link in them followed. */
export function relationOfPaths(folder: string, other: string): Relation {
  const separator = /^[A-Za-z]:\\/.test(folder) ? '\\' : '/';
  const below = (path: string, above: string): string | null => {
    const start = above.endsWith(separator) ? above : above + separator;
    return path.startsWith(start) ? path.slice(start.length).split(separator).join('/') : null;
  };
  if (folder === other) return { how: 'same' };
  const inside = below(folder, other);
  if (inside !== null) return { how: 'inside', path: inside };
  const around = below(other, folder);
  return around === null ? { how: 'apart' } : { how: 'around', path: around };
}

/**
 * Whether the folder of `path` on one drive is the folder of `otherPath` on another: a file of ours that is put into
 * one is seen in the other. A card may be full, a drive may be read-only; one of the two must take a small file for a
 * moment, else it rejects.
 */
export async function isSamePlace(drive: Drive, path: string, other: Drive, otherPath: string): Promise<boolean> {
  return isSeen(drive, path, other, otherPath).catch(() => isSeen(other, otherPath, drive, path));
}

async function isSeen(drive: Drive, path: string, other: Drive, otherPath: string): Promise<boolean> {
  const probe = await drive.createPart(
    joinedPath(folderIn(path), 'wembo-place'),
    once(new TextEncoder().encode(crypto.randomUUID())),
  );
  return withPart(probe, async () => {
    const seen = await openIfThere(other, joinedPath(folderIn(otherPath), nameIn(probe.path)));
    await probe.remove();
    return seen !== null;
  });
}
