// Three ways for a photo to go, each with its own word: out of the catalog (files stay), set aside (files move into a
// folder of their drive, and can come back), erased (only what was set aside). What each would do is planned first,
// over all its files on all drives, so that counts, bytes and drives can be said before anything happens.

import type { Change, FileMove } from '@/core/catalog/change';
import { isBesideName } from '@/core/formats/containers/formats';
import { baseOf, foldName, folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import { type Aside, SET_ASIDE_FOLDER, asideOf, pathAside } from '@/core/names/set-aside';
import { type Drive, DriveError } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import { pathToBe, taskItem } from './changes';
import type { CatalogDatabase } from './database';
import { fileErased } from './photos';
import type { FileRecord } from './records';

export interface RemovalPlan {
  change: Change;
  photos: number;
  files: number;
  bytes: number;
  /** Files by drive. */
  drives: Map<string, number>;
}

const removalPlan = (change: Change, photoIds: Iterable<string>, files: FileRecord[]): RemovalPlan => ({
  change,
  photos: new Set(photoIds).size,
  files: files.length,
  bytes: files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
  drives: files.reduce(
    (drives, { driveId }) => drives.set(driveId, (drives.get(driveId) ?? 0) + 1),
    new Map<string, number>(),
  ),
});

const filesOf = async (db: CatalogDatabase, photoIds: readonly string[]): Promise<FileRecord[]> =>
  (
    await db.files
      .where('photoId')
      .anyOf([...photoIds])
      .toArray()
  ).filter(({ state }) => state !== 'missing');

/** Photos leave the catalog; their files are only counted. */
export async function planLeaveOut(db: CatalogDatabase, photoIds: readonly string[]): Promise<RemovalPlan> {
  const files = await filesOf(db, photoIds);
  const names = new Map(files.map((file) => [file.photoId, nameIn(pathToBe(file))]));
  return removalPlan(
    { kind: 'left-out', photos: photoIds.map((id) => ({ id, name: names.get(id) ?? '' })), out: true },
    photoIds,
    files,
  );
}

/** @param day ISO date of today, by the person's calendar */
export async function planSetAside(
  db: CatalogDatabase,
  photoIds: readonly string[],
  day: string,
): Promise<RemovalPlan> {
  const files = (await filesOf(db, photoIds)).filter((file) => asideOf(pathToBe(file)) === null);
  return removalPlan({ kind: 'aside', moves: await planAside(db, files, day) }, photoIds, files);
}

/** @param day ISO date of today, by the person's calendar */
export const planAside = (db: CatalogDatabase, files: readonly FileRecord[], day: string): Promise<FileMove[]> =>
  planMoves(db, files, (path) => pathAside(path, day));

/** Back to where each file lay. Where something else has its name by now, it gets a number behind it. */
export async function planBringBack(db: CatalogDatabase, photoIds: readonly string[]): Promise<RemovalPlan> {
  const files = (await filesOf(db, photoIds)).filter((file) => asideOf(pathToBe(file)));
  return removalPlan(
    { kind: 'aside', moves: await planMoves(db, files, (path) => asideOf(path)?.from ?? path) },
    photoIds,
    files,
  );
}

/** Where something else has the name a file is to get, or will have, it gets a number behind it. */
async function planMoves(
  db: CatalogDatabase,
  files: readonly FileRecord[],
  to: (path: string) => string,
): Promise<FileMove[]> {
  const moves: FileMove[] = [];
  const given = new Map<string, Set<string>>();
  for (const file of files) {
    const taken = given.get(file.driveId) ?? new Set();
    given.set(file.driveId, taken);
    const after = await freePath(db, file, to(pathToBe(file)), taken);
    taken.add(foldName(after));
    moves.push({ photoId: file.photoId ?? '', driveId: file.driveId, before: pathToBe(file), after });
  }
  return moves;
}

async function freePath(
  db: CatalogDatabase,
  { id, driveId }: FileRecord,
  path: string,
  given: ReadonlySet<string>,
): Promise<string> {
  const folder = folderIn(path);
  const near = await db.files.where('id').startsWith(`${driveId}/${folder}`).toArray();
  const taken = new Set(
    near.filter((other) => other.id !== id).flatMap((other) => [foldName(other.path), foldName(pathToBe(other))]),
  );
  const dot = path.lastIndexOf('.');
  for (let number = 1; ; number++) {
    const free = number === 1 ? path : `${path.slice(0, dot)} ${number}${path.slice(dot)}`;
    if (!taken.has(foldName(free)) && !given.has(foldName(free))) return free;
  }
}

export interface AsidePhoto extends Aside {
  photoId: string;
  files: FileRecord[];
  bytes: number;
}

/** Files that lie aside, and those that will when their drive is there; by the index, however large the catalog. */
async function filesAside(db: CatalogDatabase): Promise<FileRecord[]> {
  const files = new Map<string, FileRecord>();
  for (const { id } of await db.drives.toArray())
    for (const file of await db.files.where('id').startsWith(`${id}/${SET_ASIDE_FOLDER}/`).toArray())
      files.set(file.id, file);
  const moving = (await db.outbox.toArray()).flatMap(({ task }) => (task.kind === 'move' ? [task.fileId] : []));
  for (const file of await db.files.bulkGet(moving)) if (file) files.set(file.id, file);
  return [...files.values()];
}

/** What is set aside, the latest first. */
export async function listSetAside(db: CatalogDatabase): Promise<AsidePhoto[]> {
  const byPhoto = new Map<string, AsidePhoto>();
  for (const file of await filesAside(db)) {
    const aside = asideOf(pathToBe(file));
    if (!aside || !file.photoId || file.state === 'missing') continue;
    const photo = byPhoto.get(file.photoId) ?? { ...aside, photoId: file.photoId, files: [], bytes: 0 };
    photo.files.push(file);
    photo.bytes += file.sizeBytes;
    byPhoto.set(file.photoId, photo);
  }
  return [...byPhoto.values()].sort((a, b) => (a.day === b.day ? (a.from < b.from ? -1 : 1) : a.day < b.day ? 1 : -1));
}

/** Erasing is no change: it cannot be taken back. On drives that are away it waits. */
export async function queueErasing(db: CatalogDatabase, photoIds: readonly string[], at: number): Promise<RemovalPlan> {
  const files = (await filesOf(db, photoIds)).filter((file) => asideOf(pathToBe(file)));
  await db.outbox.bulkPut(
    files.map((file) => taskItem(`erase:${file.id}`, file.driveId, { kind: 'erase', fileId: file.id }, at)),
  );
  return removalPlan({ kind: 'aside', moves: [] }, photoIds, files);
}

/**
 * Erases a file, its sidecar and what lies beside it, on one drive. Only where it lies in the set-aside folder by its
 * real path: one that was brought back meanwhile stays.
 */
export async function eraseSetAside(
  db: CatalogDatabase,
  drive: Drive,
  fileId: string,
  at: number,
): Promise<'written' | 'nothing-to-do' | 'waits'> {
  const file = await db.files.get(fileId);
  if (!file || (file.wantedPath !== null && asideOf(file.wantedPath) === null)) return 'nothing-to-do';
  if (asideOf(file.path) === null) return file.wantedPath === null ? 'nothing-to-do' : 'waits';
  return drive.alone(async () => {
    const there = await openIfThere(drive, file.path);
    // what lies there by now is not what the person saw when it was erased
    if (there && (there.size !== file.sizeBytes || there.lastModified !== file.modifiedMs))
      throw new DriveError('changed-meanwhile', file.path);
    const paths = [file.path, ...(file.sidecar ? [file.sidecar.path] : []), ...(await besideOf(db, drive, file))];
    for (const path of new Set(paths)) if (await openIfThere(drive, path)) await drive.remove(path);
    await fileErased(db, file, at);
    return 'written' as const;
  });
}

/** What lies beside a file under its base name, unless another photo has that name there too. */
async function besideOf(db: CatalogDatabase, drive: Drive, { id, driveId, path }: FileRecord): Promise<string[]> {
  const base = foldName(baseOf(nameIn(path)));
  const isOf = (other: string) => folderIn(other) === folderIn(path) && foldName(baseOf(nameIn(other))) === base;
  const near = await filesNamedAs(db, driveId, path);
  if (near.some((other) => other.id !== id && isOf(other.path))) return [];
  const found: string[] = [];
  for await (const entry of drive.list({ below: folderIn(path), shallow: true }))
    if (isBesideName(entry.path) && isOf(entry.path)) found.push(entry.path);
  return found;
}

/** Files of a drive in one folder whose names begin as the base name of this one, however they are spelled. */
export function filesNamedAs(db: CatalogDatabase, driveId: string, path: string): Promise<FileRecord[]> {
  const begins = `${driveId}/${joinedPath(folderIn(path), baseOf(nameIn(path)))}`;
  const forms = [...new Set([begins.normalize('NFC'), begins.normalize('NFD')])];
  return db.files.where('id').startsWithAnyOfIgnoreCase(forms).toArray();
}
