// Applying changes: catalog, outbox and journal in one transaction; undo and redo from the journal.

import { type Change, type FileMove, type KeptChange, type Shelf, inverse } from '@/core/changes/change';
import { gathered } from '@/core/collections/collection';
import { type FieldEdit, applyEdit } from '@/core/changes/edits';
import type { Table } from 'dexie';
import type { CatalogDatabase } from './database';
import { type FileRecord, type JournalRecord, type OutboxRecord, isResting } from './records';

export interface Applied {
  photoIds: string[];
}

export const SHELVES: readonly Shelf[] = ['collections', 'kits', 'patterns', 'routines', 'ladder', 'markers', 'rounds', 'leftOut', 'vocabulary', 'shorthand', 'learnt', 'clocks', 'spots', 'deliveries'];

const tablesOf = (db: CatalogDatabase) => [db.photos, db.files, db.outbox, db.journal, db.drives, ...SHELVES.map((shelf) => db[shelf] as Table)];

/** Makes a change and records it. Anything undone before can no longer be redone. A change of nothing is not recorded. */
export async function makeChange(db: CatalogDatabase, change: Change, at: number): Promise<Applied> {
  if (change.kind === 'fields' && change.edits.length === 0) return { photoIds: [] };
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

/** What is brought back must be newer than the tombstone that undo wrote. */
function stamped(change: Change, at: number): Change {
  if (change.kind === 'together') return { ...change, changes: change.changes.map((one) => stamped(one, at)) };
  if (change.kind === 'words') return { ...change, changes: change.changes.map(({ before, after }) => ({ before, after: { ...after, updatedAt: at } })) };
  return change.kind === 'kept' ? ({ ...change, after: { ...change.after, updatedAt: at } } as KeptChange) : change;
}

async function applyChange(db: CatalogDatabase, change: Change, at: number): Promise<Applied> {
  switch (change.kind) {
    case 'fields': return { photoIds: await applyEdits(db, change.edits, at) };
    case 'names': return { photoIds: [...new Set([...(await applyEdits(db, change.edits, at)), ...(await applyMoves(db, change.moves, at))])] };
    case 'kept': return applyKept(db, [change], at);
    case 'words':
      await db.vocabulary.bulkPut(change.changes.map(({ after }) => after));
      await queueArchives(db, at);
      return { photoIds: [] };
    case 'aside': return { photoIds: await applyMoves(db, change.moves, at) };
    case 'left-out':
      await db.leftOut.bulkPut(change.photos.map(({ id, name }) => ({ id, name, updatedAt: at, deleted: !change.out })));
      await queueArchives(db, at);
      return { photoIds: change.photos.map(({ id }) => id) };
    case 'round': return { photoIds: await applyDecisions(db, change, at) };
    case 'gather': return applyGathering(db, change, at);
    case 'together': {
      if (change.changes.length > 1 && change.changes.every((one): one is KeptChange => one.kind === 'kept')) return applyKept(db, change.changes, at);
      const photoIds = new Set<string>();
      for (const one of change.changes) for (const id of (await applyChange(db, one, at)).photoIds) photoIds.add(id);
      return { photoIds: [...photoIds] };
    }
    case 'drive-name':
      await db.drives.update(change.driveId, { name: change.after });
      await db.outbox.put(archiveItem(change.driveId, at));
      return { photoIds: (await db.files.where('driveId').equals(change.driveId).toArray()).flatMap(({ photoId }) => photoId ?? []) };
  }
}

/** Thousands of learnt words are one act: the drives are told once. */
async function applyKept(db: CatalogDatabase, changes: readonly KeptChange[], at: number): Promise<Applied> {
  for (const shelf of new Set(changes.map((one) => one.shelf))) await (db[shelf] as Table).bulkPut(changes.filter((one) => one.shelf === shelf).map(({ after }) => after));
  await queueArchives(db, at);
  // what was sent where is found by the photos
  return { photoIds: [...new Set(changes.flatMap((one) => (one.shelf === 'deliveries' ? [...(one.before?.photoIds ?? []), ...one.after.photoIds] : [])))] };
}

/** The photos themselves are what they were: the index hears of collections by itself. */
async function applyGathering(db: CatalogDatabase, { collectionId, gathering }: Change & { kind: 'gather' }, at: number): Promise<Applied> {
  const collection = await db.collections.get(collectionId);
  if (collection) await db.collections.put({ ...collection, photoIds: gathered(collection.photoIds, gathering), updatedAt: at });
  await queueArchives(db, at);
  return { photoIds: [] };
}

/** What is kept under names is to be brought up to date on every drive. */
export async function queueArchives(db: CatalogDatabase, at: number): Promise<void> {
  await db.outbox.bulkPut((await db.drives.toArray()).map(({ id }) => archiveItem(id, at)));
}

/** The ratings go into the sidecars at once; the round itself is written on the drives when it is left (`queueArchives`). */
async function applyDecisions(db: CatalogDatabase, { roundId, decisions, edits }: Change & { kind: 'round' }, at: number): Promise<string[]> {
  const round = await db.rounds.get(roundId);
  if (round) {
    const decided = { ...round.decided };
    for (const { photoId, after } of decisions) {
      if (after) decided[photoId] = after;
      else delete decided[photoId];
    }
    await db.rounds.put({ ...round, decided, updatedAt: at });
  }
  return [...new Set([...decisions.map(({ photoId }) => photoId), ...(await applyEdits(db, edits, at))])];
}

async function applyEdits(db: CatalogDatabase, edits: readonly FieldEdit[], at: number): Promise<string[]> {
  const photoIds = [...new Set(edits.map(({ photoId }) => photoId))];
  const byId = new Map((await db.photos.bulkGet(photoIds)).flatMap((photo) => (photo ? [[photo.id, photo]] : [])));
  for (const edit of edits) {
    const photo = byId.get(edit.photoId);
    if (photo) photo.fields = applyEdit(photo.fields, edit);
  }
  await db.photos.bulkPut([...byId.values()]);
  await queueSidecars(db, photoIds, at);
  return photoIds;
}

/** Files are to get other paths. The drives follow when they are there; a move taken back before is no longer made. */
async function applyMoves(db: CatalogDatabase, moves: readonly FileMove[], at: number): Promise<string[]> {
  const photoIds = [...new Set(moves.map(({ photoId }) => photoId))];
  const files = new Map((await db.files.where('photoId').anyOf(photoIds).toArray()).map((file) => [`${file.driveId}/${pathToBe(file)}`, file]));
  const moved = moves.flatMap(({ driveId, before, after }) => {
    const file = files.get(`${driveId}/${before}`);
    return file ? [{ ...file, wantedPath: file.path === after ? null : after }] : [];
  });
  await db.files.bulkPut(moved);
  // one that is on its way already has to be brought back
  const isDue = ({ wantedPath, movingTo }: FileRecord) => wantedPath !== null || movingTo !== null;
  await db.outbox.bulkDelete(moved.filter((file) => !isDue(file)).map(({ id }) => `move:${id}`));
  await db.outbox.bulkPut(moved.filter(isDue).map((file) => moveItem(file, at)));
  return photoIds;
}

/** One file is to get another path, by no change of the person's. */
export function queueMove(db: CatalogDatabase, fileId: string, path: string, at: number): Promise<void> {
  return db.transaction('rw', db.files, db.outbox, async () => {
    const file = await db.files.get(fileId);
    if (!file) return;
    await db.files.update(fileId, { wantedPath: path });
    await db.outbox.put(moveItem(file, at));
  });
}

/** The path a file has, or will have when the outbox has come to its drive. */
export const pathToBe = ({ path, wantedPath }: Pick<FileRecord, 'path' | 'wantedPath'>): string => wantedPath ?? path;

/** Every file of these photos, on every drive, is to get its sidecar brought up to date. */
export async function queueSidecars(db: CatalogDatabase, photoIds: string[], at: number): Promise<void> {
  const files = await db.files.where('photoId').anyOf(photoIds).toArray();
  await db.outbox.bulkPut(files.filter(({ state }) => state !== 'missing').map((file) => sidecarItem(file, at)));
}

/** How much waits to be written, but for our own records of drives that are away, and manifests that rest: those wait as long as they do, and concern nobody meanwhile. */
export async function toWrite(db: CatalogDatabase, isThere: (driveId: string) => boolean): Promise<number> {
  const drives = await db.drives.toArray();
  const own = await db.outbox.bulkGet(drives.flatMap(({ id }) => [archiveItem(id, 0).id, manifestItem(id, 0).id]));
  const quiet = own.filter((item) => item !== undefined && (!isThere(item.driveId) || isResting(item)));
  return (await db.outbox.count()) - quiet.length;
}

/** The sidecar of a file, to be brought up to date. */
export const sidecarItem = ({ id, driveId }: Pick<FileRecord, 'id' | 'driveId'>, at: number): OutboxRecord => ({ id, driveId, task: { kind: 'sidecar', fileId: id }, queuedAt: at, trouble: null });

/** The archive files of a drive, to be brought up to date. */
export const archiveItem = (driveId: string, at: number): OutboxRecord => ({ id: `${driveId}/`, driveId, task: { kind: 'archive' }, queuedAt: at, trouble: null });

/** The manifest of a drive, to be brought up to date. */
export const manifestItem = (driveId: string, at: number, restMs = 0): OutboxRecord => ({ id: `manifest:${driveId}`, driveId, task: { kind: 'manifest', restMs }, queuedAt: at, trouble: null });

/** The same after a file was written into: its digest is another. When the writing has come to rest, for photos are often written into one after the other. */
export const manifestAfterWriting = (driveId: string, at: number): OutboxRecord => manifestItem(driveId, at, WRITING_RESTS_MS);
const WRITING_RESTS_MS = 20_000;

const moveItem = ({ id, driveId }: Pick<FileRecord, 'id' | 'driveId'>, at: number): OutboxRecord => ({ id: `move:${id}`, driveId, task: { kind: 'move', fileId: id }, queuedAt: at, trouble: null });

/** The record of an accession on a drive, to be brought up to date. */
export const accessionItem = (driveId: string, accessionId: string, at: number): OutboxRecord => ({ id: `accession:${driveId}/${accessionId}`, driveId, task: { kind: 'accession', accessionId }, queuedAt: at, trouble: null });
