// Applying changes: catalog, outbox and journal in one transaction; undo and redo from the journal.

import { type Change, applyEdit, inverse } from '@/core/changes/change';
import type { CatalogDatabase } from './database';
import type { FileRecord, JournalRecord, OutboxRecord } from './records';

export interface Applied {
  photoIds: string[];
  collections: boolean;
}

const tablesOf = (db: CatalogDatabase) => [db.photos, db.files, db.outbox, db.journal, db.collections, db.drives];

/** Makes a change and records it. Anything undone before can no longer be redone. A change of nothing is not recorded. */
export async function makeChange(db: CatalogDatabase, change: Change, at: number): Promise<Applied> {
  if (change.kind === 'fields' && change.edits.length === 0) return { photoIds: [], collections: false };
  return db.transaction('rw', tablesOf(db), async () => {
    await db.journal.where('state').equals('undone').modify({ state: 'dropped' });
    await db.journal.add({ at, change, state: 'done' });
    return applyChange(db, change, at);
  });
}

export const lastDone = (db: CatalogDatabase): Promise<JournalRecord | undefined> => db.journal.where('state').equals('done').last();
export const firstUndone = (db: CatalogDatabase): Promise<JournalRecord | undefined> => db.journal.where('state').equals('undone').first();

export async function undoLast(db: CatalogDatabase, at: number): Promise<Applied | null> {
  return db.transaction('rw', tablesOf(db), async () => {
    const entry = await lastDone(db);
    if (!entry?.seq) return null;
    await db.journal.update(entry.seq, { state: 'undone' });
    return applyChange(db, inverse(entry.change, at), at);
  });
}

export async function redoNext(db: CatalogDatabase, at: number): Promise<Applied | null> {
  return db.transaction('rw', tablesOf(db), async () => {
    const entry = await firstUndone(db);
    if (!entry?.seq) return null;
    await db.journal.update(entry.seq, { state: 'done' });
    return applyChange(db, stamped(entry.change, at), at);
  });
}

/** A collection brought back must be newer than the tombstone that undo wrote. */
const stamped = (change: Change, at: number): Change => (change.kind === 'collection' ? { ...change, after: { ...change.after, updatedAt: at } } : change);

async function applyChange(db: CatalogDatabase, change: Change, at: number): Promise<Applied> {
  if (change.kind === 'fields') {
    const photoIds = [...new Set(change.edits.map(({ photoId }) => photoId))];
    const photos = await db.photos.bulkGet(photoIds);
    const byId = new Map(photos.flatMap((photo) => (photo ? [[photo.id, photo]] : [])));
    for (const edit of change.edits) {
      const photo = byId.get(edit.photoId);
      if (photo) photo.fields = applyEdit(photo.fields, edit);
    }
    await db.photos.bulkPut([...byId.values()]);
    await queueSidecars(db, photoIds, at);
    return { photoIds, collections: false };
  }
  if (change.kind === 'collection') await db.collections.put(change.after);
  else await db.drives.update(change.driveId, { name: change.after });
  const drives = change.kind === 'collection' ? await db.drives.toArray() : [{ id: change.driveId }];
  await db.outbox.bulkPut(drives.map(({ id }) => archiveItem(id, at)));
  const photoIds = change.kind === 'drive-name' ? ((await db.files.where('driveId').equals(change.driveId).toArray()).flatMap(({ photoId }) => photoId ?? [])) : [];
  return { photoIds, collections: true };
}

/** Every file of these photos, on every drive, is to get its sidecar brought up to date. */
export async function queueSidecars(db: CatalogDatabase, photoIds: string[], at: number): Promise<void> {
  const files = await db.files.where('photoId').anyOf(photoIds).toArray();
  await db.outbox.bulkPut(files.filter(({ state }) => state !== 'missing').map((file) => sidecarItem(file, at)));
}

/** The sidecar of a file, to be brought up to date. */
export const sidecarItem = ({ id, driveId }: Pick<FileRecord, 'id' | 'driveId'>, at: number): OutboxRecord => ({ id, driveId, fileId: id, queuedAt: at, trouble: null });

/** The archive files of a drive, to be brought up to date. */
export const archiveItem = (driveId: string, at: number): OutboxRecord => ({ id: `${driveId}/`, driveId, fileId: null, queuedAt: at, trouble: null });
