// The outbox: what must still be done on each drive. Emptied by one tab at a time, as long as a drive is connected; an
// away or read-only drive's items wait, and are counted. Files are moved first, so that all else finds them at their
// new places.

import pMap from 'p-map';
import { accessionPage } from '@/core/take-in/accession';
import { writeAccession, writeDriveFile } from '../archive/archive-files';
import { type Drive, DriveError } from '../drives/drive';
import { writeStrangerPage } from '../archive/stranger-page';
import { SAVED_KINDS, accessionItem } from './changes';
import { writeHistory } from './history';
import { syncSaved } from './saved';
import { type CopyBytes, placeCopy } from './copies';
import type { CatalogDatabase } from './database';
import { type Embed, embedFields } from './embedding';
import { writeFixityOf } from './manifest';
import { moveWanted } from './moves';
import type { AccessionFileRecord, DriveRecord, OutboxRecord, OutboxTask } from './records';
import { eraseSetAside } from './set-aside';
import { writeSidecar } from './sidecars';
import { writeTracks } from './tracks';

/**
 * Items in work at once. Closing a file costs 4 to 150 ms on a real disk, and 5 s at some files when the browser wants
 * to look it up and has no network (measured); these waits overlap.
 */
const IN_FLIGHT = 12;

export interface OutboxTools {
  db: CatalogDatabase;
  /** The drive, when it is connected and may be written. */
  driveOf: (driveId: string) => Drive | null;
  embed: Embed;
  copy: CopyBytes;
  now: () => number;
}

export interface OutboxRound {
  written: number;
  /** Items that did not work this time; the next round tries again. */
  failed: number;
  /** In so many milliseconds something that rests first is due; `null` where nothing rests. */
  dueInMs: number | null;
}

/** What is not done with the others, or only after them: a copy must be there before a manifest lists it. */
const LATE: ReadonlySet<OutboxTask['kind']> = new Set(['manifest', 'accession', 'history']);

/**
 * The item queued last: it is another one whenever something is queued, and when what is queued already is queued
 * again.
 */
export async function lastQueued(db: CatalogDatabase): Promise<string | null> {
  const last = await db.outbox.orderBy('queuedAt').last();
  return last ? `${last.queuedAt} ${last.id} ${last.ticket}` : null;
}

/** Does everything that can be done now. */
export async function emptyOutbox(tools: OutboxTools): Promise<OutboxRound> {
  const { db, driveOf, now } = tools;
  const round: OutboxRound = { written: 0, failed: 0, dueInMs: null };
  for (const record of await db.drives.toArray()) {
    const drive = driveOf(record.id);
    if (
      !drive ||
      !(await drive.confirm().then(
        () => true,
        () => false,
      ))
    )
      continue;
    const moved = await moveWanted(db, record.id, drive, now());
    round.written += moved.written;
    round.failed += moved.failed;
    for (const late of [false, true]) {
      const items = await db.outbox.where('driveId').equals(record.id).toArray();
      const waiting = items
        .filter(({ task }) => task.kind !== 'move' && LATE.has(task.kind) === late)
        .sort((a, b) => a.queuedAt - b.queuedAt);
      await pMap(waiting, (item) => doItem(tools, record, drive, item, round), {
        concurrency: drive.atOnce ?? IN_FLIGHT,
      });
    }
  }
  return round;
}

type Done = 'written' | 'nothing-to-do' | 'waits' | { problem: string } | { dueInMs: number };

async function doItem(
  tools: OutboxTools,
  record: DriveRecord,
  drive: Drive,
  item: OutboxRecord,
  round: OutboxRound,
): Promise<void> {
  const { db } = tools;
  try {
    const done = restOf(item, tools.now()) ?? (await doTask(tools, record, drive, item.task));
    if (typeof done === 'object' && 'dueInMs' in done) {
      round.dueInMs = Math.min(round.dueInMs ?? Infinity, done.dueInMs);
      return;
    }
    if (typeof done === 'object') {
      round.failed += 1;
      await db.outbox.update(item.id, { problem: done.problem });
      return;
    }
    if (done === 'written') round.written += 1;
    if (done !== 'waits') await settle(db, item);
  } catch (error) {
    round.failed += 1;
    await db.outbox.update(item.id, { problem: error instanceof DriveError ? error.problem : 'failed' });
  }
}

/** A clock that was put back makes nothing wait for good. */
function restOf({ task, queuedAt }: OutboxRecord, now: number): { dueInMs: number } | null {
  const rested = now - queuedAt;
  return (task.kind === 'manifest' || task.kind === 'history') && task.restMs && rested >= 0 && rested < task.restMs
    ? { dueInMs: task.restMs - rested }
    : null;
}

/** Takes the item out, unless something was changed again meanwhile. */
async function settle(db: CatalogDatabase, item: OutboxRecord): Promise<void> {
  await db.transaction('rw', db.outbox, async () => {
    const now = await db.outbox.get(item.id);
    if (now?.ticket === item.ticket && now?.queuedAt === item.queuedAt) await db.outbox.delete(item.id);
  });
}

async function doTask(tools: OutboxTools, record: DriveRecord, drive: Drive, task: OutboxTask): Promise<Done> {
  const { db, now, embed } = tools;
  switch (task.kind) {
    case 'sidecar': {
      const written = await writeSidecar(db, drive, task.fileId, now());
      if (written === 'conflict') return 'waits'; // stays until the person decides
      if (typeof written === 'object' || !record.embeds) return written;
      await embedFields(db, drive, task.fileId, embed, now());
      return written;
    }
    case 'copy':
      return copyLater(tools, record, drive, task);
    case 'archive':
      return writeArchive(db, record, drive, now());
    case 'history':
      return writeHistory(db, { id: record.id, drive, at: now() }).then(() => 'written');
    case 'manifest':
      return writeFixityOf(db, record.id, drive).then(() => 'written');
    case 'accession':
      return writeAccessionOf(db, drive, task.accessionId);
    case 'erase':
      return eraseSetAside(db, drive, task.fileId, now());
    case 'move':
      return 'nothing-to-do';
  }
}

/** One saved kind that cannot be met does not keep the others; it is tried again. */
async function writeArchive(db: CatalogDatabase, record: DriveRecord, drive: Drive, at: number): Promise<Done> {
  const current = (await db.drives.get(record.id)) ?? record;
  await writeDriveFile(drive, { id: current.id, name: current.name, createdAt: current.addedAt });
  await writeStrangerPage(drive);
  let problem: string | null = null;
  for (const savedKind of SAVED_KINDS) {
    await syncSaved(db, { id: record.id, drive, at }, savedKind).catch((error: unknown) => {
      problem = error instanceof DriveError ? error.problem : 'failed';
    });
  }
  await writeTracks(db, record.id, drive);
  return problem === null ? 'written' : { problem };
}

/**
 * The second copy of something taken in while this drive was away. It waits until the first copy's drive is there too.
 */
async function copyLater(
  tools: OutboxTools,
  record: DriveRecord,
  drive: Drive,
  task: OutboxTask & { kind: 'copy' },
): Promise<Done> {
  const { db, driveOf, copy, now } = tools;
  const target = { id: record.id, drive, marked: record.marked };
  if (task.photoId === null) {
    const source = driveOf(task.from.driveId);
    if (!source) return 'waits';
    const placed = await copy({
      drive,
      path: task.path,
      file: await source.open(task.from.path),
      name: task.from.path,
      expected: task.sha256,
    });
    await recordPlaced(tools, task.accessionFileId, { driveId: record.id, path: placed.path });
    return 'written';
  }
  const files = await db.files.where('photoId').equals(task.photoId).toArray();
  if (
    files.some(({ driveId, state, sha256 }) => driveId === record.id && state === 'present' && sha256 === task.sha256)
  )
    return 'nothing-to-do';
  const file = files.find(
    ({ driveId, state, sha256 }) => state === 'present' && sha256 === task.sha256 && driveOf(driveId),
  );
  const source = file && driveOf(file.driveId);
  if (!file || !source) return 'waits';
  const marked = (await db.drives.get(file.driveId))?.marked ?? false;
  const placed = await placeCopy(
    { db, now, copy },
    { file, source: { drive: source, marked }, target, path: task.path },
  );
  await recordPlaced(tools, task.accessionFileId, { driveId: record.id, path: placed.path });
  return 'written';
}

/** The accession's record has the copy too, on every drive it went to. */
async function recordPlaced(
  { db, now }: OutboxTools,
  id: string,
  place: AccessionFileRecord['placed'][number],
): Promise<void> {
  const file = await db.accessionFiles.get(id);
  if (!file || file.placed.some(({ driveId }) => driveId === place.driveId)) return;
  const placed = [...file.placed, place];
  await db.accessionFiles.update(id, { placed });
  await db.outbox.bulkPut(placed.map(({ driveId }) => accessionItem(driveId, file.accessionId, now())));
}

async function writeAccessionOf(db: CatalogDatabase, drive: Drive, accessionId: string): Promise<Done> {
  const record = await db.accessions.get(accessionId);
  if (!record) return 'nothing-to-do';
  const names = new Map((await db.drives.toArray()).map(({ id, name }) => [id, name]));
  const files = (await db.accessionFiles.where('accessionId').equals(accessionId).toArray())
    .sort((a, b) => (a.number === b.number ? (a.from < b.from ? -1 : 1) : a.number < b.number ? -1 : 1))
    .map(({ from, number, role, sizeBytes, modifiedMs, sha256, placed }) => ({
      from,
      number,
      role,
      sizeBytes,
      modifiedMs,
      sha256,
      placed,
    }));
  const { id, number, name, note, source, startedAt, endedAt, onSource, known, leftOut, routine, sheet } = record;
  const accession = { id, number, name, note, source, startedAt, endedAt, onSource, known, leftOut, routine, sheet };
  await db.accessions.update(accessionId, { recordedAt: Date.now() }); // who shows it counts anew
  await writeAccession(
    drive,
    { ...accession, files },
    accessionPage(
      accession,
      files,
      (driveId) => names.get(driveId) ?? driveId,
      (at) => `${new Date(at).toISOString().slice(0, 19).replace('T', ' ')} UTC`,
    ),
  );
  return 'written';
}
