// A folder is connected that holds a drive of the catalog: the drive becomes a part of the new one, with all that is
// known of its files, so that no file lies on two drives at once.

import type { Change, FileMove } from '@/core/catalog/change';
import { asideOf } from '@/core/names/set-aside';
import { archiveItem, historyItem, manifestItem, pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord, OutboxRecord, SidecarRecord } from './records';

export interface Joining {
  innerId: string;
  outerId: string;
  /** Where the inner drive lies in the outer one. */
  path: string;
}

/** Whether a drive can be joined: not while files are set aside on it, whose folder lies in its own archive. */
export async function setAsideOn(db: CatalogDatabase, driveId: string): Promise<number> {
  return (await db.files.where('driveId').equals(driveId).toArray()).filter(
    (file) => asideOf(file.path) !== null || asideOf(pathToBe(file)) !== null,
  ).length;
}

/**
 * The files of the inner drive are the outer one's from here on; the inner drive is no drive of the catalog any more.
 */
export async function joinDrive(
  db: CatalogDatabase,
  { innerId, outerId, path }: Joining,
  at: number,
): Promise<string[]> {
  const within = (inner: string) => `${path}/${inner}`;
  const idWithin = (id: string) => `${outerId}/${within(id.slice(innerId.length + 1))}`;
  const tables = [db.drives, db.files, db.outbox, db.conflicts, db.accessionFiles, db.tracks, db.journal, db.retired];
  return db.transaction('rw', tables, async () => {
    const files = await db.files.where('driveId').equals(innerId).toArray();
    const sidecarWithin = (sidecar: SidecarRecord | null) => sidecar && { ...sidecar, path: within(sidecar.path) };
    await db.files.bulkDelete(files.map(({ id }) => id));
    await db.files.bulkPut(
      files.map((file): FileRecord => ({
        ...file,
        id: idWithin(file.id),
        driveId: outerId,
        path: within(file.path),
        sidecar: sidecarWithin(file.sidecar),
        sidecarTarget: within(file.sidecarTarget),
        wantedPath: file.wantedPath && within(file.wantedPath),
        movingTo: file.movingTo && within(file.movingTo),
      })),
    );
    const items = await db.outbox.where('driveId').equals(innerId).toArray();
    await db.outbox.bulkDelete(items.map(({ id }) => id));
    await db.outbox.bulkPut(items.flatMap((item) => itemWithin(item, outerId, idWithin, within)));
    await db.outbox.bulkPut([archiveItem(outerId, at), manifestItem(outerId, at), historyItem(outerId, at)]);
    const conflicts = await db.conflicts.bulkGet(files.map(({ id }) => id));
    await db.conflicts.bulkDelete(files.map(({ id }) => id));
    await db.conflicts.bulkPut(
      conflicts.flatMap((conflict) => (conflict ? [{ ...conflict, fileId: idWithin(conflict.fileId) }] : [])),
    );
    const placeWithin = <P extends { driveId: string; path: string }>(place: P): P =>
      place.driveId === innerId ? { ...place, driveId: outerId, path: within(place.path) } : place;
    await db.accessionFiles.toCollection().modify((file) => void (file.placed = file.placed.map(placeWithin)));
    await db.tracks.toCollection().modify((track) => void (track.places = track.places.map(placeWithin)));
    await db.journal.toCollection().modify(
      (entry) =>
        void (entry.change = changeWithin(
          entry.change,
          (move) =>
            move.driveId === innerId
              ? { ...move, driveId: outerId, before: within(move.before), after: within(move.after) }
              : move,
          (id) => (id.startsWith(`${innerId}/`) ? idWithin(id) : id),
        )),
    );
    await db.retired.where('driveId').equals(innerId).delete();
    await db.drives.delete(innerId);
    return files.flatMap(({ photoId }) => photoId ?? []);
  });
}

function itemWithin(
  item: OutboxRecord,
  outerId: string,
  idWithin: (id: string) => string,
  within: (path: string) => string,
): OutboxRecord[] {
  const { task } = item;
  switch (task.kind) {
    case 'sidecar':
      return [
        { ...item, driveId: outerId, id: idWithin(task.fileId), task: { ...task, fileId: idWithin(task.fileId) } },
      ];
    case 'move':
      return [
        {
          ...item,
          driveId: outerId,
          id: `move:${idWithin(task.fileId)}`,
          task: { ...task, fileId: idWithin(task.fileId) },
        },
      ];
    case 'erase':
      return [
        {
          ...item,
          driveId: outerId,
          id: `erase:${idWithin(task.fileId)}`,
          task: { ...task, fileId: idWithin(task.fileId) },
        },
      ];
    case 'copy':
      return [
        {
          ...item,
          driveId: outerId,
          id: `copy:${outerId}/${within(task.path)}`,
          task: { ...task, path: within(task.path) },
        },
      ];
    case 'accession':
      return [{ ...item, driveId: outerId, id: `accession:${outerId}/${task.accessionId}` }];
    case 'archive':
    case 'manifest':
    case 'history':
      return [];
  }
}

function changeWithin(change: Change, moved: (move: FileMove) => FileMove, idNow: (fileId: string) => string): Change {
  if (change.kind === 'together')
    return { ...change, changes: change.changes.map((one) => changeWithin(one, moved, idNow)) };
  if (change.kind === 'decided')
    return { ...change, conflicts: change.conflicts.map((one) => ({ ...one, fileId: idNow(one.fileId) })) };
  return change.kind === 'names' || change.kind === 'aside' ? { ...change, moves: change.moves.map(moved) } : change;
}
