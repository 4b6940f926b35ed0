// What is kept under names and ids, where catalog and drives meet: brought together (core/locate/kept.ts) here, and
// written back only over what was read. A file that nobody can read any more is kept aside under another name, and
// stops nothing else.

import type { Table } from 'dexie';
import { z } from 'zod';
import type { SavedKind, SavedItems } from '@/core/catalog/change';
import { mergeSaved } from '@/core/catalog/saved';
import { nameIn } from '@/core/names/file-names';
import { type SavedOnDrive, savedFile, readSaved, writeSaved } from '../archive/saved-files';
import { ArchiveFileError } from '../archive/read-json';
import { ARCHIVE_FOLDER, type Drive, DriveError } from '../drives/drive';
import { freePath } from '../drives/safe-write';
import type { CatalogDatabase } from './database';
import { queueArchives } from './changes';
import type { ArchiveProblemRecord } from './records';

/** Where files of ours go that nobody can read any more. */
const ASIDE_FOLDER = `${ARCHIVE_FOLDER}/kept-aside`;
/** Two programs that write one saved kind at the same time come by turns. */
const TRIES = 5;

/** A drive of the catalog, and when it is met. */
export interface MetDrive {
  id: string;
  drive: Drive;
  at: number;
}

/** Takes what a drive keeps of a saved kind into the catalog. What cannot be understood is noted; nothing is written. */
export async function adoptSaved(db: CatalogDatabase, met: MetDrive, savedKind: SavedKind): Promise<void> {
  const read = await readNoting(db, met, savedKind);
  if (read) await mergeInto(db, met, savedKind, read.items);
}

/** Catalog and drive get the same. An empty one needs no file; one from a later version is left as it is. */
export async function syncSaved(db: CatalogDatabase, met: MetDrive, savedKind: SavedKind): Promise<void> {
  for (let tries = 1; ; tries++) {
    const read = (await readNoting(db, met, savedKind)) ?? (await madeFree(db, met, savedKind));
    if (!read) return;
    const merged = await mergeInto(db, met, savedKind, read.items);
    try {
      await writeSaved(met.drive, savedKind, merged, read);
      return;
    } catch (error) {
      if (tries === TRIES || !(error instanceof DriveError) || error.problem !== 'changed-meanwhile') throw error;
    }
  }
}

/** What is new here is told to the other drives. */
async function mergeInto<S extends SavedKind>(
  db: CatalogDatabase,
  { id: driveId, at }: MetDrive,
  savedKind: S,
  onDrive: readonly SavedItems[S][],
): Promise<SavedItems[S][]> {
  const table = db[savedKind] as unknown as Table<SavedItems[S], string>;
  // together, so that what a person changes while the drive is read is not put back to what it was
  return db.transaction('rw', table, db.drives, db.tracks, db.outbox, async () => {
    const here = await table.toArray();
    const merged = mergeSaved(savedKind, here, onDrive);
    const known = new Set<SavedItems[S]>(here);
    const news = merged.filter((one) => !known.has(one));
    await table.bulkPut(news);
    if (savedKind === 'settings') await adopt(db, news as SavedItems['settings'][]);
    if (news.length > 0) await queueArchives(db, at, driveId);
    return merged;
  });
}

/** Of a drive: whether it is written into. */
export const driveSetting = (driveId: string): string => `drive:${driveId}`;
/** Of a track: whether photos are matched to it. */
export const trackSetting = (trackId: string): string => `track:${trackId}`;

const driveChoice = z.object({ embeds: z.boolean() });
const trackChoice = z.object({ used: z.boolean() });

/** What was chosen of drives and tracks holds for them. */
async function adopt(
  db: CatalogDatabase,
  settings: readonly Pick<SavedItems['settings'], 'id' | 'value'>[],
): Promise<void> {
  for (const { id, value } of settings) {
    const [of, name] = [id.slice(0, id.indexOf(':')), id.slice(id.indexOf(':') + 1)];
    const [drive, track] = [driveChoice.safeParse(value), trackChoice.safeParse(value)];
    if (of === 'drive' && drive.success) await db.drives.update(name, drive.data);
    if (of === 'track' && track.success) await db.tracks.update(name, track.data);
  }
}

/** The same for a drive or a track that comes after its setting. */
export async function adoptSettings(db: CatalogDatabase, ids: readonly string[]): Promise<void> {
  await adopt(
    db,
    (await db.settings.bulkGet([...ids])).flatMap((setting) => setting ?? []),
  );
}

/**
 * What a drive keeps of a saved kind, and a note of what could not be understood; `null` where the whole file could not.
 */
async function readNoting<S extends SavedKind>(
  db: CatalogDatabase,
  { id: driveId, drive, at }: MetDrive,
  savedKind: S,
): Promise<SavedOnDrive<S> | null> {
  const path = savedFile(savedKind);
  const problem = { id: `${driveId}/${path}`, driveId, path, keptAs: null, foundAt: at, items: 0 };
  try {
    const read = await readSaved(drive, savedKind);
    if (read.broken.length > 0)
      await db.archiveProblems.put({ ...problem, kind: 'items', reason: '', items: read.broken.length });
    else if ((await db.archiveProblems.get(problem.id))?.keptAs === null) await db.archiveProblems.delete(problem.id);
    return read;
  } catch (error) {
    if (!(error instanceof ArchiveFileError)) throw error;
    await db.archiveProblems.put({ ...problem, kind: error.problem, reason: error.reason });
    return null;
  }
}

/** Keeps a file aside that nobody can read any more. `null` where it is to stay: it is from a later version. */
async function madeFree<S extends SavedKind>(
  db: CatalogDatabase,
  { id, drive }: MetDrive,
  savedKind: S,
): Promise<SavedOnDrive<S> | null> {
  const problem = await db.archiveProblems.get(`${id}/${savedFile(savedKind)}`);
  if (problem?.kind !== 'broken') return null;
  await keepAside(db, drive, problem, () =>
    readSaved(drive, savedKind).then(
      () => false,
      (error: unknown) => error instanceof ArchiveFileError,
    ),
  );
  return { bytes: null, items: [], broken: [] };
}

/** Gives a file of ours another name, under which nothing looks for it; what is written anew takes its place. */
export async function keepAside(
  db: CatalogDatabase,
  drive: Drive,
  { id, path }: Pick<ArchiveProblemRecord, 'id' | 'path'>,
  isStill: () => Promise<boolean>,
): Promise<void> {
  await drive.alone(async () => {
    if (!(await isStill())) throw new DriveError('changed-meanwhile', path);
    const keptAs = await freePath(drive, `${ASIDE_FOLDER}/${nameIn(path)}`);
    // told first: it is found by that, wherever this ends
    await db.archiveProblems.update(id, { keptAs });
    await drive.move(path, keptAs);
  });
}
