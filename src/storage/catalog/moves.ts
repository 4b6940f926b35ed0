// Files get the paths they are wanted at, on one drive: photo, sidecar, and what lies beside it under its base name.
//
//   the new path is free                                   → moved
//   something waits there to be moved away itself            → after that; where they wait for each other, one steps aside
//   something else is there                                  → left, with the reason
//   the file is not at its old path, but at the new one      → it was moved when we were interrupted; the record follows
//
// The catalog follows each move at once, so that an interruption at any point leaves every file known or found again.

import { isBesideName, isSidecarName } from '@/core/containers/formats';
import { baseOf, foldName, folderIn, joined, nameIn, pathBeside, spelledEnding } from '@/core/names/file-names';
import { type Drive, DriveError } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import { manifestItem } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';

export interface Moved {
  photoIds: string[];
  troubled: number;
}

export async function moveWanted(db: CatalogDatabase, driveId: string, drive: Drive, at: number): Promise<Moved> {
  const items = (await db.outbox.where('driveId').equals(driveId).toArray()).filter(({ task }) => task.kind === 'move');
  const moved: Moved = { photoIds: [], troubled: 0 };
  if (items.length === 0) return moved;
  const files = (await db.files.bulkGet(items.map(({ task }) => (task.kind === 'move' ? task.fileId : '')))).flatMap((file) => (file?.wantedPath && file.state !== 'missing' ? [file] : []));
  const known = new Set(files.map(({ id }) => `move:${id}`));
  await db.outbox.bulkDelete(items.filter(({ id }) => !known.has(id)).map(({ id }) => id));
  const beside = new BesideFiles(drive);
  let waiting = files;
  while (waiting.length > 0) {
    const occupied = new Set(waiting.map(({ path }) => foldName(path)));
    const later: FileRecord[] = [];
    for (const file of waiting) {
      const to = file.wantedPath ?? file.path;
      if (occupied.has(foldName(to))) {
        later.push(file);
        continue;
      }
      if (await moveOne(db, drive, file, to, beside)) moved.photoIds.push(file.photoId ?? '');
      else moved.troubled += 1;
      occupied.delete(foldName(file.path));
    }
    // they wait for each other, or for themselves where only the case of letters changes
    waiting = later.length === waiting.length ? await stepAside(db, drive, later) : later;
  }
  if (moved.photoIds.length > 0) await db.outbox.put(manifestItem(driveId, at));
  return moved;
}

/** Moves the first to a name of its own, from which it goes on. Its ending stays, so that it is a photo in any case. */
async function stepAside(db: CatalogDatabase, drive: Drive, waiting: FileRecord[]): Promise<FileRecord[]> {
  const [first, ...rest] = waiting;
  if (!first) return [];
  const name = nameIn(first.path);
  const aside = joined(folderIn(first.path), `${baseOf(name)} wembo-aside${spelledEnding(name)}`);
  const stepped = await moveRecorded(db, drive, first, aside, first.wantedPath, null);
  return stepped ? [...rest, stepped] : rest;
}

/** Whether it has its new path now; otherwise the outbox says why not. */
async function moveOne(db: CatalogDatabase, drive: Drive, file: FileRecord, to: string, beside: BesideFiles): Promise<boolean> {
  return (await moveRecorded(db, drive, file, to, null, beside)) !== null;
}

async function moveRecorded(db: CatalogDatabase, drive: Drive, file: FileRecord, to: string, wantedPath: string | null, beside: BesideFiles | null): Promise<FileRecord | null> {
  try {
    const sidecar = file.sidecar && { ...file.sidecar, path: pathBeside(file.sidecar.path, file.path, to) };
    if (sidecar && sidecar.path !== file.sidecar?.path && (await openIfThere(drive, sidecar.path)) && (await openIfThere(drive, file.sidecar?.path ?? ''))) throw new DriveError('exists', sidecar.path);
    await moveOrFindMoved(drive, file.path, to, file.sizeBytes);
    if (sidecar && file.sidecar) await moveIfThere(drive, file.sidecar.path, sidecar.path);
    for (const path of (await beside?.of(file.path)) ?? []) await moveIfThere(drive, path, pathBeside(path, file.path, to));
    const moved: FileRecord = { ...file, id: `${file.driveId}/${to}`, path: to, wantedPath, sidecar, sidecarTarget: pathBeside(file.sidecarTarget, file.path, to) };
    await follow(db, file, moved);
    return moved;
  } catch (error) {
    await db.outbox.update(`move:${file.id}`, { trouble: error instanceof DriveError ? error.fault : 'failed' });
    return null;
  }
}

async function moveOrFindMoved(drive: Drive, from: string, to: string, sizeBytes: number): Promise<void> {
  try {
    await drive.move(from, to);
  } catch (error) {
    const there = error instanceof DriveError && error.fault === 'not-found' ? await openIfThere(drive, to) : null;
    if (there?.size !== sizeBytes) throw error;
  }
}

async function moveIfThere(drive: Drive, from: string, to: string): Promise<void> {
  try {
    await drive.move(from, to);
  } catch (error) {
    if (!(error instanceof DriveError && error.fault === 'not-found')) throw error;
  }
}

/** The record of a file bears its path in its id: whatever refers to it follows. */
async function follow(db: CatalogDatabase, before: FileRecord, after: FileRecord): Promise<void> {
  await db.transaction('rw', db.files, db.outbox, db.conflicts, async () => {
    await db.files.delete(before.id);
    await db.files.put(after);
    await db.outbox.delete(`move:${before.id}`);
    if (after.wantedPath !== null) await db.outbox.put({ id: `move:${after.id}`, driveId: after.driveId, task: { kind: 'move', fileId: after.id }, queuedAt: 0, trouble: null });
    const sidecar = await db.outbox.get(before.id);
    if (sidecar) {
      await db.outbox.delete(before.id);
      await db.outbox.put({ ...sidecar, id: after.id, task: { kind: 'sidecar', fileId: after.id } });
    }
    const conflict = await db.conflicts.get(before.id);
    if (!conflict) return;
    await db.conflicts.delete(before.id);
    await db.conflicts.put({ ...conflict, fileId: after.id });
  });
}

/** Spoken notes and data of films, which the catalog does not list: asked for once a folder. */
class BesideFiles {
  private readonly folders = new Map<string, Promise<string[]>>();

  constructor(private readonly drive: Drive) {}

  async of(path: string): Promise<string[]> {
    const folder = folderIn(path);
    const listed = this.folders.get(folder) ?? this.list(folder);
    this.folders.set(folder, listed);
    const base = foldName(baseOf(nameIn(path)));
    return (await listed).filter((other) => foldName(baseOf(nameIn(other))) === base);
  }

  private async list(folder: string): Promise<string[]> {
    const found: string[] = [];
    for await (const { path } of this.drive.list({ ...(folder !== '' && { below: folder }), shallow: true })) if (isBesideName(path) && !isSidecarName(path)) found.push(path);
    return found;
  }
}
