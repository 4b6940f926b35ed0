// Photos go into another folder of their drive, and folders get another name or place: planned once, made as a change of
// names, which the outbox carries out when each drive is there (moves.ts). Frames go whole, with companions and what lies
// beside; a copy on another drive follows where it lies in the same folder there, else it stays and is told.

import type { FileMove } from '@/core/catalog/change';
import { baseOf, foldName, folderIn, nameIn } from '@/core/names/file-names';
import { SET_ASIDE_FOLDER } from '@/core/names/set-aside';
import { pathUnder } from '@/core/take-in/frames';
import { ARCHIVE_FOLDER, isInFolder } from '../drives/drive';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { type FrameFiles, framesOfPhotos } from './renaming';

export interface FolderPlan {
  moves: FileMove[];
  photos: number;
  /** Photos that come along because they share the base name of a chosen one. */
  companions: number;
  /** Drives on which files are moved, by id. */
  drives: string[];
  /** Frames whose name something has there already: they get a number. */
  renamed: { before: string; after: string }[];
  /** Copies on other drives that lie in another folder there, and stay. */
  elsewhere: number;
  /** Photos that have no file on this drive. */
  absent: string[];
  /** Folders of the drive in which no photo is left afterwards. */
  emptied: string[];
}

/** Why a folder cannot be moved to; `null` where nothing speaks against it. */
export type FolderRefusal = 'no-name' | 'bad-name' | 'inside-itself' | 'ours';

/** No drive of any system takes these in a name (Windows’ is the longest list; common practice). */
// eslint-disable-next-line no-control-regex -- they are what is looked for
const NOT_IN_NAMES = /[\u0000-\u001f<>:"\\|?*]/;

export function folderRefusal(path: string, from: string | null = null): FolderRefusal | null {
  const names = path.split('/');
  if (path === '') return from === null ? null : 'no-name';
  if (
    names.some((name) => name === '' || name === '.' || name === '..' || NOT_IN_NAMES.test(name) || /[. ]$/.test(name))
  )
    return 'bad-name';
  if (names[0] === ARCHIVE_FOLDER || names.some((name) => name.startsWith('.'))) return 'ours';
  return from !== null && path.startsWith(`${from}/`) ? 'inside-itself' : null;
}

/** These photos into a folder of one drive. */
export const planMoveInto = (
  db: CatalogDatabase,
  photoIds: readonly string[],
  driveId: string,
  folder: string,
): Promise<FolderPlan> => plan(db, photoIds, driveId, () => folder);

/** The photos that lie in a folder of a drive or below it, or will. */
export async function photosBelow(db: CatalogDatabase, driveId: string, folder: string): Promise<string[]> {
  const files = await db.files.where('id').startsWith(`${driveId}/`).toArray();
  const below = files.filter((file) => isAtOrBelow(folderIn(pathToBe(file)), folder) && !isAside(file));
  return [...new Set(below.flatMap(({ photoId }) => photoId ?? []))];
}

/** A folder with all photos in it and below gets another path. */
export async function planMoveFolder(
  db: CatalogDatabase,
  driveId: string,
  from: string,
  to: string,
): Promise<FolderPlan> {
  const ids = await photosBelow(db, driveId, from);
  return plan(db, ids, driveId, (folder) => (isAtOrBelow(folder, from) ? folderAt(folder, from, to) : null));
}

export const isAtOrBelow = (folder: string, above: string): boolean => above === '' || isInFolder(folder, [above]);

/** The folder that takes the place of one at or below `from`, when that becomes `to`. */
export const folderAt = (folder: string, from: string, to: string): string =>
  `${to}/${folder.slice(from.length).replace(/^\//, '')}`.replace(/^\/|\/$/g, '');

/** What lies aside, or will, is in no folder of the person's. */
export const isAside = (file: FileRecord): boolean => isAtOrBelow(folderIn(pathToBe(file)), SET_ASIDE_FOLDER);

async function plan(
  db: CatalogDatabase,
  photoIds: readonly string[],
  driveId: string,
  target: (folder: string) => string | null,
): Promise<FolderPlan> {
  const chosen = new Set(photoIds);
  const made: FolderPlan = {
    moves: [],
    photos: 0,
    companions: 0,
    drives: [],
    renamed: [],
    elsewhere: 0,
    absent: [],
    emptied: [],
  };
  const names = new FreeNames(db);
  const left = new Set<string>();
  for (const frame of await framesOfPhotos(db, [...chosen])) {
    const going = goingOf(frame, driveId, target, made);
    if (!going) continue;
    const base = await names.freeFor(
      going.files.map(({ driveId }) => driveId),
      going.files,
      going.folder,
      going.base,
    );
    if (base !== going.base) made.renamed.push({ before: going.base, after: base });
    for (const file of going.files) {
      const before = pathToBe(file);
      if (!file.photoId) continue;
      made.moves.push({
        photoId: file.photoId,
        driveId: file.driveId,
        before,
        after: pathUnder(before, { base: baseOf(nameIn(before)) }, going.folder, base),
      });
      if (file.driveId === driveId) left.add(folderIn(before));
    }
    made.photos += frame.photos.length;
    made.companions += frame.photos.filter(({ id }) => !chosen.has(id)).length;
  }
  made.drives = [...new Set(made.moves.map((move) => move.driveId))];
  made.emptied = await emptiedOf(db, driveId, left, made.moves);
  return made;
}

interface Going {
  files: FileRecord[];
  folder: string;
  base: string;
}

/** What of a frame goes, and where to; `null` where nothing does. */
function goingOf(
  frame: FrameFiles,
  driveId: string,
  target: (folder: string) => string | null,
  made: FolderPlan,
): Going | null {
  const files = frame.files.filter((file) => !isAside(file));
  const here = files.find((file) => file.driveId === driveId && target(folderIn(pathToBe(file))) !== null);
  if (!here) {
    made.absent.push(...frame.photos.map(({ id }) => id));
    return null;
  }
  const from = folderIn(pathToBe(here));
  const folder = target(from) ?? from;
  if (folder === from) return null;
  const along = files.filter((file) => folderIn(pathToBe(file)) === from);
  made.elsewhere += files.length - along.length;
  return { files: along, folder, base: baseOf(nameIn(pathToBe(here))) };
}

/** Who has each base name in a folder: the ids of its files. */
type Holders = Map<string, Set<string>>;

/** Base names in the folders that are moved into, those given in this plan too. */
export class FreeNames {
  private readonly taken = new Map<string, Promise<Holders>>();

  constructor(private readonly db: CatalogDatabase) {}

  /** A base name that nothing but these files has in that folder of any of the drives. */
  async freeFor(
    driveIds: readonly string[],
    files: readonly Pick<FileRecord, 'id'>[],
    folder: string,
    base: string,
  ): Promise<string> {
    const own = new Set(files.map(({ id }) => id));
    const folders = await Promise.all([...new Set(driveIds)].map((id) => this.in(id, folder)));
    const isTaken = (name: string) =>
      folders.some((holders) => [...(holders.get(foldName(name)) ?? [])].some((id) => !own.has(id)));
    let name = base;
    for (let number = 2; isTaken(name); number++) name = `${base}-${number}`;
    for (const holders of folders) for (const id of own) hold(holders, name, id);
    return name;
  }

  private in(driveId: string, folder: string): Promise<Holders> {
    const key = `${driveId}/${folder}`;
    const known = this.taken.get(key) ?? this.read(driveId, folder);
    this.taken.set(key, known);
    return known;
  }

  /** Where a file is to go counts as well as where it is: both names are taken until it has gone. */
  private async read(driveId: string, folder: string): Promise<Holders> {
    const prefix = folder === '' ? `${driveId}/` : `${driveId}/${folder}/`;
    const there = await this.db.files.where('id').startsWith(prefix).toArray();
    const coming = await this.db.files
      .where('driveId')
      .equals(driveId)
      .filter(({ wantedPath }) => wantedPath !== null)
      .toArray();
    const holders: Holders = new Map();
    const note = (id: string, path: string | null) => {
      if (path !== null && folderIn(path) === folder) hold(holders, baseOf(nameIn(path)), id);
    };
    for (const { id, path } of there) note(id, path);
    for (const { id, wantedPath } of coming) note(id, wantedPath);
    return holders;
  }
}

function hold(holders: Holders, name: string, id: string): void {
  const ids = holders.get(foldName(name)) ?? new Set();
  holders.set(foldName(name), ids.add(id));
}

async function emptiedOf(
  db: CatalogDatabase,
  driveId: string,
  left: ReadonlySet<string>,
  moves: readonly FileMove[],
): Promise<string[]> {
  const gone = new Set(moves.filter((move) => move.driveId === driveId).map(({ before }) => before));
  const into = moves.filter((move) => move.driveId === driveId).map(({ after }) => after);
  const emptied: string[] = [];
  for (const folder of left) {
    if (folder === '' || into.some((path) => path.startsWith(`${folder}/`))) continue;
    const there = await db.files.where('id').startsWith(`${driveId}/${folder}/`).toArray();
    if (there.every((file) => gone.has(pathToBe(file)))) emptied.push(folder);
  }
  return emptied.sort();
}
