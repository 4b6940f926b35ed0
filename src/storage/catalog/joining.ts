// Two drives of the catalog become one, so that no file lies on two drives at once: a drive in a folder that is connected
// becomes a part of that folder's drive; and of two records of one disk (it came back without its mark, and was taken for
// a new one) one stays. All that is known of the files goes along. What the drive that stays knows itself goes before.

import type { Change, FileMove } from '@/core/catalog/change';
import { joinedPath } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { archiveItem, historyItem, manifestItem, pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord, OutboxRecord, SidecarRecord } from './records';

export interface Joining {
  innerId: string;
  outerId: string;
  /** Where the inner drive lies in the outer one; empty where both are one disk. */
  path: string;
}

/** How many of a drive's files another one has under the same names and lengths: whether both are one disk. */
export async function sameFilesOn(
  db: CatalogDatabase,
  driveId: string,
  otherId: string,
): Promise<{ files: number; same: number }> {
  const files = await db.files.where('driveId').equals(driveId).toArray();
  const there = await db.files.bulkGet(files.map(({ path }) => `${otherId}/${path}`));
  const isSame = (file: FileRecord, at: number) =>
    there[at]?.state !== 'missing' && there[at]?.sizeBytes === file.sizeBytes;
  return { files: files.length, same: files.filter(isSame).length };
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
  const within = (inner: string) => joinedPath(path, inner);
  const idWithin = (id: string) => `${outerId}/${within(id.slice(innerId.length + 1))}`;
  const tables = [db.drives, db.files, db.outbox, db.conflicts, db.accessionFiles, db.tracks, db.journal, db.retired];
  return db.transaction('rw', tables, async () => {
    const files = await db.files.where('driveId').equals(innerId).toArray();
    const heirs =
      path === ''
        ? heirsOf(files, await db.files.where('driveId').equals(outerId).toArray(), idWithin)
        : new Map<string, FileRecord | null>();
    const idNow = (id: string) => heirs.get(id)?.id ?? idWithin(id);
    // of one disk: what the record that stays does not know, it has still to see
    const joining = files.filter(({ id }) => !heirs.has(id));
    const sidecarWithin = (sidecar: SidecarRecord | null) => sidecar && { ...sidecar, path: within(sidecar.path) };
    await db.files.bulkDelete(files.map(({ id }) => id));
    await db.files.bulkPut(
      joining.map((file): FileRecord => ({
        ...file,
        verifiedAt: path === '' ? null : file.verifiedAt,
        id: idWithin(file.id),
        driveId: outerId,
        path: within(file.path),
        sidecar: sidecarWithin(file.sidecar),
        sidecarTarget: within(file.sidecarTarget),
        wantedPath: file.wantedPath && within(file.wantedPath),
        movingTo: file.movingTo && within(file.movingTo),
      })),
    );
    await waitOn(db, files, heirs);
    const items = await db.outbox.where('driveId').equals(innerId).toArray();
    await db.outbox.bulkDelete(items.map(({ id }) => id));
    // what was to be done with a file whose name another photo has now is done with no other file
    const isKnown = (fileId: string) => heirs.get(fileId) !== null;
    await db.outbox.bulkPut(
      items
        .filter(({ task }) => !('fileId' in task) || isKnown(task.fileId))
        .flatMap((item) => itemWithin(item, outerId, idNow, within)),
    );
    await db.outbox.bulkPut([archiveItem(outerId, at), manifestItem(outerId, at), historyItem(outerId, at)]);
    const conflicts = await db.conflicts.bulkGet(files.map(({ id }) => id));
    await db.conflicts.bulkDelete(files.map(({ id }) => id));
    for (const conflict of conflicts) {
      // the record that stays may have met two versions itself, and these are later
      if (conflict && isKnown(conflict.fileId) && !(await db.conflicts.get(idNow(conflict.fileId))))
        await db.conflicts.put({ ...conflict, fileId: idNow(conflict.fileId) });
    }
    const placeWithin = <P extends { driveId: string; path: string }>(place: P): P =>
      place.driveId === innerId ? { ...place, driveId: outerId, path: within(place.path) } : place;
    // copies for other drives that wait to be made from it
    await db.outbox.toCollection().modify((item) => {
      if (item.task.kind === 'copy') item.task.from = placeWithin(item.task.from);
    });
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
          (id) => (id.startsWith(`${innerId}/`) ? idNow(id) : id),
        )),
    );
    const retired = await db.retired.where('driveId').equals(innerId).primaryKeys();
    await db.retired.bulkDelete(retired);
    // of one disk: its manifest has these lines still
    if (path === '') {
      const there = new Set(await db.files.where('driveId').equals(outerId).primaryKeys());
      const gone = retired.map(idWithin).filter((id) => !there.has(id));
      await db.retired.bulkPut(gone.map((id) => ({ id, driveId: outerId })));
    }
    await db.drives.delete(innerId);
    return files.flatMap(({ photoId }) => photoId ?? []);
  });
}

/** A name that waits to be given waits still. */
async function waitOn(
  db: CatalogDatabase,
  files: readonly FileRecord[],
  heirs: ReadonlyMap<string, FileRecord | null>,
): Promise<void> {
  for (const { id, wantedPath, movingTo } of files) {
    const heir = heirs.get(id);
    if (heir && heir.wantedPath === null && wantedPath !== null)
      await db.files.update(heir.id, { wantedPath, movingTo: heir.movingTo ?? movingTo });
  }
}

/**
 * Of two records of one disk: what the one that stays knows of each file of the other: the file of that photo under that
 * name, or wherever it was found; `null` where another photo has the name now, so that nothing is known of this file.
 */
function heirsOf(
  files: readonly FileRecord[],
  known: readonly FileRecord[],
  idWithin: (id: string) => string,
): Map<string, FileRecord | null> {
  const byId = new Map(known.map((file) => [file.id, file]));
  const byPhoto = new Map(
    known.flatMap((file) => (file.state === 'present' && file.photoId ? [[file.photoId, file]] : [])),
  );
  return new Map(
    files.flatMap((file): [string, FileRecord | null][] => {
      const there = byId.get(idWithin(file.id));
      const heir = there?.photoId === file.photoId ? there : byPhoto.get(file.photoId ?? '');
      return heir ? [[file.id, heir]] : there ? [[file.id, null]] : [];
    }),
  );
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
