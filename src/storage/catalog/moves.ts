// Files get the paths they are wanted at, on one drive: photo, sidecar, and what lies beside it under its base name.
//
//   the new path is free                                   → moved
//   something waits there to be moved away itself            → after that; where they wait for each other, one steps
// aside
//   something else is there                                  → left, with the reason
//   it was on its way when we were interrupted               → it is looked for at both ends, and the record follows
//   its name was taken back while it was on its way          → it goes back
//
// Where a file is going is noted before it goes, and what is wanted of it is asked anew before each move and after it:
// an interruption or an undo at any point leaves every file where it is wanted, or on its way there.

import { baseOf, foldName, folderIn, joinedPath, nameIn, pathBeside, spelledEnding } from '@/core/names/file-names';
import { type Drive, DriveError, type OpenedFile } from '../drives/drive';
import { BesideFiles } from '../drives/beside-files';
import { openIfThere } from '../drives/safe-write';
import type { CatalogDatabase } from './database';
import { moveFile } from './photos';
import type { FileRecord } from './records';

export interface Moved {
  written: number;
  failed: number;
}

export async function moveWanted(db: CatalogDatabase, driveId: string, drive: Drive, at: number): Promise<Moved> {
  const items = (await db.outbox.where('driveId').equals(driveId).toArray()).filter(({ task }) => task.kind === 'move');
  const moved: Moved = { written: 0, failed: 0 };
  if (items.length === 0) return moved;
  const recorded = (await db.files.bulkGet(items.map(({ task }) => (task.kind === 'move' ? task.fileId : '')))).flatMap(
    (file) => (file && (file.wantedPath !== null || file.movingTo !== null) ? [file] : []),
  );
  const known = new Set(recorded.map(({ id }) => `move:${id}`));
  await db.outbox.bulkDelete(items.filter(({ id }) => !known.has(id)).map(({ id }) => id));
  const beside = new BesideFiles(drive);
  // a missing file may come back: its name waits
  let waiting: FileRecord[] = [];
  for (const file of recorded) {
    if (file.state === 'missing') continue;
    const now = file.movingTo === null ? file : await arrived(db, drive, file, beside, at);
    if (now?.wantedPath) waiting.push(now);
    if (now && now.id !== file.id) moved.written += 1;
  }
  while (waiting.length > 0) {
    const occupied = new Set(waiting.map(({ path }) => foldName(path)));
    const later: FileRecord[] = [];
    for (const file of waiting) {
      const to = file.wantedPath ?? file.path;
      if (occupied.has(foldName(to))) {
        later.push(file);
        continue;
      }
      const there = await moveRecorded(db, drive, file.id, to, beside, at);
      if (there) moved.written += 1;
      else if (there === null) moved.failed += 1;
      occupied.delete(foldName(file.path));
    }
    // they wait for each other, or for themselves where only the case of letters changes
    waiting = later.length === waiting.length ? await stepAside(db, drive, later, at) : later;
  }
  return moved;
}

/**
 * Where a file is that was on its way when we were interrupted: its record follows it, and what lies beside it too.
 * `null` where that cannot be told now.
 */
async function arrived(
  db: CatalogDatabase,
  drive: Drive,
  file: FileRecord,
  beside: BesideFiles,
  at: number,
): Promise<FileRecord | null> {
  const to = file.movingTo ?? file.path;
  const isIt = (there: OpenedFile | null) => there?.size === file.sizeBytes && there.lastModified === file.modifiedMs;
  try {
    if (isIt(await openIfThere(drive, file.path)) || !isIt(await openIfThere(drive, to))) {
      await db.files.update(file.id, { movingTo: null });
      if (file.wantedPath === null) await db.outbox.delete(`move:${file.id}`);
      return { ...file, movingTo: null };
    }
    const place = placeOf(file, to);
    await drive.alone(() => moveBeside(drive, file, place, beside));
    return await moveFile(db, file.id, place, at);
  } catch (error) {
    await db.outbox.update(`move:${file.id}`, { problem: error instanceof DriveError ? error.problem : 'failed' });
    return null;
  }
}

/** Moves the first to a name of its own, from which it goes on. Its ending stays, so that it is a photo in any case. */
async function stepAside(db: CatalogDatabase, drive: Drive, waiting: FileRecord[], at: number): Promise<FileRecord[]> {
  const [first, ...rest] = waiting;
  if (!first) return [];
  const name = nameIn(first.path);
  const aside = joinedPath(folderIn(first.path), `${baseOf(name)} wembo-aside${spelledEnding(name)}`);
  const stepped = await moveRecorded(db, drive, first.id, aside, null, at);
  return stepped?.wantedPath ? [...rest, stepped] : rest;
}

const placeOf = (file: FileRecord, to: string) => ({
  id: `${file.driveId}/${to}`,
  path: to,
  sidecar: file.sidecar && { ...file.sidecar, path: pathBeside(file.sidecar.path, file.path, to) },
  sidecarTarget: pathBeside(file.sidecarTarget, file.path, to),
});

/**
 * The record of a file that was moved; `null` where it could not be, and the outbox says why; `undefined` where it is
 * wanted elsewhere by now.
 */
async function moveRecorded(
  db: CatalogDatabase,
  drive: Drive,
  fileId: string,
  to: string,
  beside: BesideFiles | null,
  at: number,
): Promise<FileRecord | null | undefined> {
  const file = await noteMoving(db, fileId, to, beside !== null);
  if (!file) return undefined;
  try {
    const place = placeOf(file, to);
    await drive.alone(async () => {
      if (
        place.sidecar &&
        place.sidecar.path !== file.sidecar?.path &&
        (await openIfThere(drive, place.sidecar.path)) &&
        (await openIfThere(drive, file.sidecar?.path ?? ''))
      )
        throw new DriveError('exists', place.sidecar.path);
      const now = await drive.open(file.path);
      if (now.size !== file.sizeBytes || now.lastModified !== file.modifiedMs)
        throw new DriveError('changed-meanwhile', file.path);
      await drive.move(file.path, to);
      await moveBeside(drive, file, place, beside);
    });
    return await moveFile(db, file.id, place, at);
  } catch (error) {
    await db.outbox.update(`move:${fileId}`, { problem: error instanceof DriveError ? error.problem : 'failed' });
    // it may have gone before what failed, or before we were interrupted once
    const there = await arrived(db, drive, file, beside ?? new BesideFiles(drive), at);
    return there && there.path === to ? there : null;
  }
}

/** Sidecar, spoken notes and the like follow their photo; what is not there was moved before. */
async function moveBeside(
  drive: Drive,
  file: FileRecord,
  { path, sidecar }: ReturnType<typeof placeOf>,
  beside: BesideFiles | null,
): Promise<void> {
  if (sidecar && file.sidecar) await moveIfThere(drive, file.sidecar.path, sidecar.path);
  for (const other of (await beside?.of(file.path)) ?? [])
    await moveIfThere(drive, other, pathBeside(other, file.path, path));
}

/** Notes where a file is going, unless it is wanted elsewhere by now. */
function noteMoving(db: CatalogDatabase, fileId: string, to: string, isWanted: boolean): Promise<FileRecord | null> {
  return db.transaction('rw', db.files, async () => {
    const file = await db.files.get(fileId);
    if (!file || file.wantedPath === null || (isWanted && file.wantedPath !== to)) return null;
    await db.files.update(fileId, { movingTo: to });
    return { ...file, movingTo: to };
  });
}

async function moveIfThere(drive: Drive, from: string, to: string): Promise<void> {
  try {
    await drive.move(from, to);
  } catch (error) {
    if (!(error instanceof DriveError && error.problem === 'not-found')) throw error;
  }
}
