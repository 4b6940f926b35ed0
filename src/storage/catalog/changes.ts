// Applying changes: catalog, outbox, conflicts and journal in one transaction; undo and redo from the journal.

import {
  type Change,
  type FileMove,
  type FileFinding,
  type SavedChange,
  type Origin,
  type SettingValue,
  type SavedKind,
  type SavedItems,
  inverse,
  photosOfChange,
} from '@/core/catalog/change';
import { type SavedProblem, rebased } from '@/core/catalog/saved';
import { NO_VERSION, bumped, joinedVersion, writerOf } from '@/core/fields/version';
import { gathered } from '@/core/catalog/collection';
import { type FieldEdit, applyEdit, editOf } from '@/core/fields/edits';
import { sameValue } from '@/core/fields/values';
import type { Table } from 'dexie';
import { DRIVE_NAME_LENGTH } from '../archive/archive-files';
import { problemOfSaved } from '../archive/saved-files';
import type { CatalogDatabase } from './database';
import { type FileRecord, type JournalRecord, type OutboxRecord, type OutboxTask, isResting } from './records';

export interface Applied {
  photoIds: string[];
  /** Edits that were not made, because another program or another catalog changed the field since they were planned. */
  left: number;
}

export const SAVED_KINDS: readonly SavedKind[] = [
  'collections',
  'kits',
  'patterns',
  'routines',
  'ladder',
  'markers',
  'rounds',
  'leftOut',
  'vocabulary',
  'shorthand',
  'learnt',
  'clocks',
  'spots',
  'deliveries',
  'deliveryProfiles',
  'settings',
];

/** All that a change may touch. */
export const changeTables = (db: CatalogDatabase): Table[] => [
  db.photos,
  db.files,
  db.outbox,
  db.journal,
  db.drives,
  db.conflicts,
  ...SAVED_KINDS.map((savedKind) => db[savedKind] as Table),
];

/** Something that could not be read back from the drives if it were kept. It is not kept. */
export class SavedItemError extends Error {
  constructor(
    readonly item: string,
    readonly problem: SavedProblem,
  ) {
    super(`${item}: ${problem.member}`);
    this.name = 'SavedItemError';
  }
}

/**
 * Makes a change and records it. Anything undone before can no longer be redone. A change of nothing is not recorded.
 * @throws SavedItemError
 */
export async function makeChange(db: CatalogDatabase, change: Change, at: number): Promise<Applied> {
  if (change.kind === 'fields' && change.edits.length === 0) return { photoIds: [], left: 0 };
  refuseProblems(change);
  return db.transaction('rw', changeTables(db), async () => {
    const { made, ...applied } = await applyChange(db, change, at, 'new');
    if (change.kind === 'fields' && photosOfChange(made).length === 0) return applied;
    await enter(db, { at, change: made, state: 'done' });
    return applied;
  });
}

/**
 * An entry of the journal, and so of the history. After an act of the person's what was undone can no longer be redone.
 */
async function enter(db: CatalogDatabase, entry: Omit<JournalRecord, 'seq' | 'photoIds'>): Promise<void> {
  if (entry.state === 'done') await db.journal.where('state').equals('undone').modify({ state: 'dropped' });
  await db.journal.add({ ...entry, photoIds: photosOfChange(entry.change) });
  await queueHistory(db, entry.at);
}

/**
 * A change of fields that was made is an act of the person's, and written on the drives. For within a transaction over
 * `changeTables`.
 */
export async function recordDone(
  db: CatalogDatabase,
  change: Change & { kind: 'fields' },
  at: number,
): Promise<Applied> {
  const photoIds = photosOfChange(change);
  await enter(db, { at, change, state: 'done' });
  await queueSidecars(db, photoIds, at);
  return { photoIds, left: 0 };
}

/**
 * What was said elsewhere is taken over: it stands in the history, and is no act of the person's that undo comes to.
 * For within a transaction over `changeTables`.
 */
export async function takeOver(
  db: CatalogDatabase,
  edits: readonly FieldEdit[],
  origin: Origin,
  at: number,
): Promise<void> {
  const change: Change = { kind: 'fields', origin, edits: [...edits] };
  await enter(db, { at, change, state: 'noted' });
  await queueSidecars(db, photosOfChange(change), at);
}

/**
 * What was found of a file, or done about it, stands in the history of its photo. For within a transaction over
 * `changeTables`, or over files, journal, drives and outbox.
 */
export async function noteFinding(
  db: CatalogDatabase,
  file: Pick<FileRecord, 'photoId' | 'driveId' | 'path'>,
  what: FileFinding,
  at: number,
): Promise<void> {
  const { photoId, driveId, path } = file;
  if (photoId === null) return;
  await enter(db, { at, change: { kind: 'found', of: [{ photoId, driveId, path, what }] }, state: 'noted' });
}

/** A choice of the person's that belongs to the archive: it goes to the drives, and is no act that undo comes to. */
export async function keepSetting(db: CatalogDatabase, id: string, value: SettingValue, at: number): Promise<void> {
  await db.transaction('rw', db.settings, db.drives, db.outbox, async () => {
    await putKept(db, 'settings', [{ id, value, updatedAt: at, deleted: false }]);
    await queueArchives(db, at);
  });
}

export const lastDone = (db: CatalogDatabase): Promise<JournalRecord | undefined> =>
  db.journal.where('state').equals('done').last();
export const firstUndone = (db: CatalogDatabase): Promise<JournalRecord | undefined> =>
  db.journal.where('state').equals('undone').first();

export const undoLast = (db: CatalogDatabase, at: number): Promise<Applied | null> => stepInJournal(db, 'undo', at);
export const redoNext = (db: CatalogDatabase, at: number): Promise<Applied | null> => stepInJournal(db, 'redo', at);

async function stepInJournal(db: CatalogDatabase, how: 'undo' | 'redo', at: number): Promise<Applied | null> {
  return db.transaction('rw', changeTables(db), async () => {
    const entry = await (how === 'undo' ? lastDone(db) : firstUndone(db));
    if (!entry?.seq) return null;
    await db.journal.update(entry.seq, { state: how === 'undo' ? 'undone' : 'done' });
    const { made, ...applied } = await applyChange(
      db,
      how === 'undo' ? inverse(entry.change, at) : stamped(entry.change, at),
      at,
      'again',
    );
    await enter(db, { at, change: made, state: 'noted', of: { seq: entry.seq, how } });
    return applied;
  });
}

/** When what is brought back was brought back. */
function stamped(change: Change, at: number): Change {
  if (change.kind === 'together') return { ...change, changes: change.changes.map((one) => stamped(one, at)) };
  if (change.kind === 'words')
    return {
      ...change,
      changes: change.changes.map(({ before, after }) => ({ before, after: { ...after, updatedAt: at } })),
    };
  return change.kind === 'kept' ? ({ ...change, after: { ...change.after, updatedAt: at } } as SavedChange) : change;
}

function refuseProblems(change: Change): void {
  const refuse = (problem: SavedProblem | null, name: string) => {
    if (problem) throw new SavedItemError(name, problem);
  };
  if (change.kind === 'together') change.changes.forEach(refuseProblems);
  if (change.kind === 'kept')
    refuse(
      problemOfSaved(change.savedKind, change.after),
      'name' in change.after ? change.after.name : change.after.id,
    );
  if (change.kind === 'words')
    for (const { after } of change.changes) refuse(problemOfSaved('vocabulary', after), after.word);
  if (change.kind === 'drive-name' && change.after.length > DRIVE_NAME_LENGTH)
    refuse({ member: 'name', tooMany: { has: change.after.length, most: DRIVE_NAME_LENGTH } }, change.after);
}

/** A change that was made, as far as it was. */
interface Made extends Applied {
  made: Change;
}

/** `new`: planned a while ago, perhaps; `again`: done or taken back a second time. */
type Timing = 'new' | 'again';

async function applyChange(db: CatalogDatabase, change: Change, at: number, timing: Timing): Promise<Made> {
  const nothingElse = { photoIds: [], left: 0, made: change };
  switch (change.kind) {
    case 'fields': {
      const { edits, ...applied } = await applyEdits(db, change.edits, at, timing);
      return { ...applied, made: { ...change, edits } };
    }
    case 'decided':
      return applyDecision(db, change, at, timing);
    case 'names': {
      const { edits, photoIds, left } = await applyEdits(db, change.edits, at, timing);
      return {
        photoIds: [...new Set([...photoIds, ...(await applyMoves(db, change.moves, at))])],
        left,
        made: { ...change, edits },
      };
    }
    case 'kept': {
      const [made = change, ...others] = await applyKept(db, [change], at, timing);
      return { ...nothingElse, photoIds: sentIn([made, ...others]), made };
    }
    case 'words': {
      const now = await db.vocabulary.bulkGet(change.changes.map(({ after }) => after.id));
      const changes = change.changes.map(({ before, after }, index) => ({
        before: now[index] ?? null,
        after: rebased(before, after, now[index], timing === 'again'),
      }));
      await putKept(
        db,
        'vocabulary',
        changes.map(({ after }) => after),
      );
      await queueArchives(db, at);
      return { ...nothingElse, made: { ...change, changes } };
    }
    case 'aside':
      return { ...nothingElse, photoIds: await applyMoves(db, change.moves, at) };
    case 'left-out':
      await putKept(
        db,
        'leftOut',
        change.photos.map(({ id, name }) => ({ id, name, updatedAt: at, deleted: !change.out })),
      );
      await queueArchives(db, at);
      return { ...nothingElse, photoIds: change.photos.map(({ id }) => id) };
    case 'round':
      return applyDecisions(db, change, at, timing);
    case 'gather':
      return { ...nothingElse, photoIds: await applyGathering(db, change, at) };
    case 'together':
      return applyTogether(db, change, at, timing);
    case 'found':
      return nothingElse;
    case 'drive-name':
      await db.drives.update(change.driveId, { name: change.after });
      await db.outbox.put(archiveItem(change.driveId, at));
      return {
        ...nothingElse,
        photoIds: (await db.files.where('driveId').equals(change.driveId).toArray()).flatMap(
          ({ photoId }) => photoId ?? [],
        ),
      };
  }
}

async function applyTogether(
  db: CatalogDatabase,
  change: Change & { kind: 'together' },
  at: number,
  timing: Timing,
): Promise<Made> {
  if (change.changes.length > 1 && change.changes.every((one): one is SavedChange => one.kind === 'kept')) {
    const changes = await applyKept(db, change.changes, at, timing);
    return { photoIds: sentIn(changes), left: 0, made: { ...change, changes } };
  }
  const all: Made[] = [];
  for (const one of change.changes) all.push(await applyChange(db, one, at, timing));
  return {
    photoIds: [...new Set(all.flatMap(({ photoIds }) => photoIds))],
    left: all.reduce((sum, { left }) => sum + left, 0),
    made: { ...change, changes: all.map(({ made }) => made) },
  };
}

/** Saves items of one kind, each one change later than what stands there. For within a transaction. */
export async function putKept<S extends SavedKind>(
  db: CatalogDatabase,
  savedKind: S,
  items: readonly SavedItems[S][],
): Promise<void> {
  const table = db[savedKind] as unknown as Table<SavedItems[S], string>;
  const there = await table.bulkGet(items.map(({ id }) => id));
  await table.bulkPut(
    items.map((item, index) => ({ ...item, version: bumped(there[index]?.version ?? NO_VERSION, db.catalogId) })),
  );
}

/** Thousands of learnt words are one act: the drives are told once. Answers with the changes as they were made. */
async function applyKept(
  db: CatalogDatabase,
  changes: readonly SavedChange[],
  at: number,
  timing: Timing,
): Promise<SavedChange[]> {
  const made: SavedChange[] = [];
  for (const savedKind of new Set(changes.map((one) => one.savedKind))) {
    const own = changes.filter((one) => one.savedKind === savedKind);
    const now = await (db[savedKind] as unknown as Table<SavedChange['after'], string>).bulkGet(
      own.map(({ after }) => after.id),
    );
    const rebasedChanges = own.map(
      ({ before, after }, index) =>
        ({
          kind: 'kept' as const,
          savedKind,
          before: now[index] ?? null,
          after: rebased(before, after, now[index], timing === 'again'),
        }) as SavedChange,
    );
    await putKept(
      db,
      savedKind,
      rebasedChanges.map(({ after }) => after),
    );
    made.push(...rebasedChanges);
  }
  await queueArchives(db, at);
  return made;
}

/** What was sent where is found by the photos. */
const sentIn = (changes: readonly SavedChange[]): string[] => [
  ...new Set(
    changes.flatMap((one) =>
      one.savedKind === 'deliveries' ? [...(one.before?.photoIds ?? []), ...one.after.photoIds] : [],
    ),
  ),
];

/** The photos themselves are what they were: the index hears of collections by itself. */
async function applyGathering(
  db: CatalogDatabase,
  { collectionId, gathering }: Change & { kind: 'gather' },
  at: number,
): Promise<string[]> {
  const collection = await db.collections.get(collectionId);
  if (collection)
    await putKept(db, 'collections', [
      { ...collection, photoIds: gathered(collection.photoIds, gathering), updatedAt: at },
    ]);
  await queueArchives(db, at);
  return [];
}

/** What is kept under names is to be brought up to date on every drive, but for the one it was just read from. */
export async function queueArchives(db: CatalogDatabase, at: number, but: string | null = null): Promise<void> {
  await db.outbox.bulkPut(
    (await db.drives.toArray()).filter(({ id }) => id !== but).map(({ id }) => archiveItem(id, at)),
  );
}

/**
 * The ratings go into the sidecars at once; the round itself is written on the drives when it is left
 * (`queueArchives`).
 */
async function applyDecisions(
  db: CatalogDatabase,
  change: Change & { kind: 'round' },
  at: number,
  timing: Timing,
): Promise<Made> {
  const round = await db.rounds.get(change.roundId);
  if (round) {
    const decided = { ...round.decided };
    for (const { photoId, after } of change.decisions) {
      if (after) decided[photoId] = after;
      else delete decided[photoId];
    }
    await putKept(db, 'rounds', [{ ...round, decided, updatedAt: at }]);
  }
  const { edits, photoIds, left } = await applyEdits(db, change.edits, at, timing);
  return {
    photoIds: [...new Set([...change.decisions.map(({ photoId }) => photoId), ...photoIds])],
    left,
    made: { ...change, edits },
  };
}

interface AppliedEdits extends Applied {
  /** As they were made: from what stood there at that moment. */
  edits: FieldEdit[];
}

/**
 * Nobody's later word is written over. An edit that was planned before another program or another catalog changed the
 * field is left out; one of before the person's own later edit is made from where that left it. Done or taken back
 * again, an edit is made only where what it left still stands.
 */
async function applyEdits(
  db: CatalogDatabase,
  edits: readonly FieldEdit[],
  at: number,
  timing: Timing,
): Promise<AppliedEdits> {
  const photoIds = [...new Set(edits.map(({ photoId }) => photoId))];
  const byId = new Map((await db.photos.bulkGet(photoIds)).flatMap((photo) => (photo ? [[photo.id, photo]] : [])));
  const made: FieldEdit[] = [];
  let left = 0;
  for (const edit of edits) {
    const photo = byId.get(edit.photoId);
    if (!photo) continue;
    const [now, version] = [photo.fields[edit.key], photo.versions?.[edit.key] ?? NO_VERSION];
    const isLater =
      !sameValue(now, edit.before) &&
      !sameValue(now, edit.after) &&
      (timing === 'again' || ![db.catalogId, null].includes(writerOf(version)));
    if (isLater) {
      left += 1;
      continue;
    }
    photo.fields = applyEdit(photo.fields, edit);
    photo.versions = { ...photo.versions, [edit.key]: bumped(version, db.catalogId) };
    made.push(editOf(photo.id, edit.key, now, edit.after));
  }
  await db.photos.bulkPut([...byId.values()]);
  await queueSidecars(db, photoIds, at);
  return { photoIds, left, edits: made };
}

/** Decided, what holds is later than both sides; taken back, both stand against each other again. */
async function applyDecision(
  db: CatalogDatabase,
  change: Change & { kind: 'decided' },
  at: number,
  timing: Timing,
): Promise<Made> {
  const { conflicts, open } = change;
  const { edits, photoIds, left } = await applyEdits(db, change.edits, at, timing);
  if (open) {
    await db.conflicts.bulkPut(conflicts);
    return { photoIds, left, made: { ...change, edits } };
  }
  for (const { photoId, keys, versions = {} } of conflicts) {
    const photo = await db.photos.get(photoId);
    if (!photo) continue;
    const decided = keys.map(
      (key) =>
        [
          key,
          bumped(joinedVersion(photo.versions?.[key] ?? NO_VERSION, versions[key] ?? NO_VERSION), db.catalogId),
        ] as const,
    );
    await db.photos.update(photoId, { versions: { ...photo.versions, ...Object.fromEntries(decided) } });
  }
  await db.conflicts.bulkDelete(conflicts.map(({ fileId }) => fileId));
  const about = [...new Set(conflicts.map(({ photoId }) => photoId))];
  await queueSidecars(db, about, at);
  return { photoIds: [...new Set([...photoIds, ...about])], left, made: { ...change, edits } };
}

/** Files are to get other paths. The drives follow when they are there; a move taken back before is no longer made. */
async function applyMoves(db: CatalogDatabase, moves: readonly FileMove[], at: number): Promise<string[]> {
  const photoIds = [...new Set(moves.map(({ photoId }) => photoId))];
  const files = new Map(
    (await db.files.where('photoId').anyOf(photoIds).toArray()).map((file) => [
      `${file.driveId}/${pathToBe(file)}`,
      file,
    ]),
  );
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

/**
 * How much waits to be written, but for our own records of drives that are away, and those that rest: those wait as
 * long as they do, and concern nobody meanwhile.
 */
export async function toWrite(db: CatalogDatabase, isThere: (driveId: string) => boolean): Promise<number> {
  const drives = await db.drives.toArray();
  const own = await db.outbox.bulkGet(
    drives.flatMap(({ id }) => [archiveItem(id, 0).id, manifestItem(id, 0).id, historyItem(id, 0).id]),
  );
  const quiet = own.filter((item) => item !== undefined && (!isThere(item.driveId) || isResting(item)));
  return (await db.outbox.count()) - quiet.length;
}

let tickets = 0;
const PAGE = Math.random().toString(36).slice(2);

const item = (id: string, driveId: string, task: OutboxTask, at: number): OutboxRecord => ({
  id,
  driveId,
  task,
  queuedAt: at,
  ticket: `${PAGE}${(tickets += 1)}`,
  problem: null,
});

/** The sidecar of a file, to be brought up to date. */
export const sidecarItem = ({ id, driveId }: Pick<FileRecord, 'id' | 'driveId'>, at: number): OutboxRecord =>
  item(id, driveId, { kind: 'sidecar', fileId: id }, at);

/** The archive files of a drive, to be brought up to date. */
export const archiveItem = (driveId: string, at: number): OutboxRecord =>
  item(`${driveId}/`, driveId, { kind: 'archive' }, at);

/** The manifest of a drive, to be brought up to date. */
export const manifestItem = (driveId: string, at: number, restMs = 0): OutboxRecord =>
  item(`manifest:${driveId}`, driveId, { kind: 'manifest', restMs }, at);

/**
 * The same after a file was written into: its digest is another. When the writing has come to rest, for photos are
 * often written into one after the other.
 */
export const manifestAfterWriting = (driveId: string, at: number): OutboxRecord =>
  manifestItem(driveId, at, WRITING_RESTS_MS);
const WRITING_RESTS_MS = 20_000;

/** The history of changes on a drive, to be brought up to date. */
export const historyItem = (driveId: string, at: number, restMs = CHANGING_RESTS_MS): OutboxRecord =>
  item(`history:${driveId}`, driveId, { kind: 'history', restMs }, at);
/** People change one thing after the other; the words themselves are in the sidecars at once. */
const CHANGING_RESTS_MS = 10_000;

/** The same of the history. */
export async function queueHistory(db: CatalogDatabase, at: number): Promise<void> {
  await db.outbox.bulkPut((await db.drives.toArray()).map(({ id }) => historyItem(id, at)));
}

export const moveItem = ({ id, driveId }: Pick<FileRecord, 'id' | 'driveId'>, at: number): OutboxRecord =>
  item(`move:${id}`, driveId, { kind: 'move', fileId: id }, at);

/** The record of an accession on a drive, to be brought up to date. */
export const accessionItem = (driveId: string, accessionId: string, at: number): OutboxRecord =>
  item(`accession:${driveId}/${accessionId}`, driveId, { kind: 'accession', accessionId }, at);

/** The second copy of something taken in, of which the first lies on a drive that is there. */
export const taskItem = item;
