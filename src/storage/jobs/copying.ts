// Copies on another drive: into the same folders, or where the person wants them; each read back and held against its
// measure, with its sidecar and what lies beside it. What is verified there already is left out, so a copy resumes; what
// is in doubt or damaged is not copied on.

import { pathBeside } from '@/core/names/file-names';
import type { Pattern } from '@/core/names/pattern';
import { asideOf } from '@/core/names/set-aside';
import { MANIFEST_FILE } from '../archive/fixity-file';
import { makeChange, pathToBe } from '../catalog/changes';
import { placeCopy } from '../catalog/copies';
import { copyPlaces } from '../catalog/copy-places';
import type { CatalogDatabase } from '../catalog/database';
import { planReplacement } from '../catalog/drive-life';
import { type LeavingFrame, framesLeaving, planLeaving, planOver } from '../catalog/going-over';
import { writeFixityOf } from '../catalog/manifest';
import type { FileRecord, GoingOver, JobReport } from '../catalog/records';
import { BesideFiles } from '../drives/beside-files';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';
import { ownEntries } from './own-entries';

export type CopyReport = JobReport & { kind: 'copy' };

export interface CopyRequest {
  source: { id: string; drive: Drive; writable: boolean };
  target: { id: string; drive: Drive };
  /** `null`: every photo of the source drive. */
  photoIds: string[] | null;
  /** Into folders by this pattern; `null`: into the same folders. */
  folders?: Pattern | null;
  /** Into one folder, or another tree, as a part of going over there. */
  over?: { going: GoingOver; day: string } | null;
  /** Files that are no photos go along; only with all photos of the drive. */
  whole?: boolean;
  /** Then: the target takes the place of the source, on that day (ISO date), if all of it is verified there. */
  replacesOn?: string | null;
}

/** After this many files the manifests are written, so that an interruption costs little. */
const FILES_BETWEEN_MANIFESTS = 200;

interface PlannedCopies {
  waiting: { file: FileRecord; path: string }[];
  there: number;
  inDoubt: number;
}

export async function copyPhotos(tools: JobTools, request: CopyRequest): Promise<CopyReport> {
  const { db, fileTasks, control, now } = tools;
  const { source, target, over = null } = request;
  const report: CopyReport = {
    kind: 'copy',
    copied: 0,
    alreadyThere: 0,
    bytes: 0,
    inDoubt: 0,
    damaged: [],
    problems: [],
  };
  control.reporting(report);
  await source.drive.confirm();
  await target.drive.confirm();
  const { waiting, there, inDoubt } = await (over ? planOf(tools, request, over.going) : planAsThere(tools, request));
  Object.assign(report, { alreadyThere: there, inDoubt });
  const [sourceMarked, targetMarked] = (await db.drives.bulkGet([source.id, target.id])).map(
    (drive) => drive?.marked ?? false,
  );
  // every byte counts twice: once written, once read back
  const progress = startProgress(
    'copying',
    waiting.length,
    2 * waiting.reduce((sum, { file }) => sum + file.sizeBytes, 0),
  );
  control.progress({ ...progress });
  const onBytes = (bytes: number) => {
    progress.doneBytes += bytes;
    control.progress({ ...progress });
  };
  const writeManifests = async () => {
    await writeFixityOf(db, target.id, target.drive);
    if (source.writable) await writeFixityOf(db, source.id, source.drive);
  };
  const beside = new BesideCopies(tools, source.drive, target.drive);
  const arrived = new Set<string>();
  const work = async ({ file: { id }, path }: PlannedCopies['waiting'][number]) => {
    // as it is now: it may have been written into, moved or found damaged since
    const file = await db.files.get(id);
    if (file?.state !== 'present') return;
    const copy = await placeCopy(
      { db, now, copy: (order) => fileTasks.copy(order, onBytes, control.signal) },
      {
        file,
        source: { drive: source.drive, marked: sourceMarked ?? false },
        target: { id: target.id, drive: target.drive, marked: targetMarked ?? false },
        path,
      },
    );
    await beside.copy(file.path, copy.path);
    progress.doneItems += 1;
    control.progress({ ...progress });
    if (copy.outcome === 'copied') {
      arrived.add(`${target.id}/${copy.path}`);
      report.copied += 1;
      report.bytes += file.sizeBytes;
      if (report.copied % FILES_BETWEEN_MANIFESTS === 0) await writeManifests();
    } else report.alreadyThere += 1;
  };
  try {
    const onProblem = ({ file }: PlannedCopies['waiting'][number], error: unknown) => {
      if (error instanceof DriveError && error.problem === 'source-damaged') report.damaged.push(file.path);
      report.problems.push(itemProblemOf(file.path, error));
    };
    await forEachItem(waiting, control, work, onProblem, source.drive.atOnce && target.drive.atOnce);
    if (request.whole) report.others = await copyOthers(tools, request, beside, report);
    if (over?.going.leaves) report.left = await leave(tools, request, over, { arrived, beside, report });
    if (request.replacesOn) report.replaced = await replace(tools, request, request.replacesOn, report);
  } finally {
    const onDrive = await db.drives.get(target.id);
    if (onDrive) await db.drives.update(target.id, { bytes: onDrive.bytes + report.bytes });
    await writeManifests().catch((error: unknown) => report.problems.push(itemProblemOf(MANIFEST_FILE, error)));
  }
  return report;
}

/** Spoken notes and data of videos go along, once each. */
class BesideCopies {
  private readonly files: BesideFiles;
  private readonly done = new Map<string, Promise<unknown>>();

  constructor(
    private readonly tools: JobTools,
    private readonly source: Drive,
    private readonly target: Drive,
  ) {
    this.files = new BesideFiles(source);
  }

  /** Whether it went along with a photo. */
  has(path: string): boolean {
    return this.done.has(path);
  }

  async copy(from: string, to: string): Promise<void> {
    const { fileTasks, control } = this.tools;
    const one = async (other: string) =>
      fileTasks.copy(
        {
          drive: this.target,
          path: pathBeside(other, from, to),
          file: await this.source.open(other),
          name: other,
          expected: null,
        },
        () => undefined,
        control.signal,
      );
    for (const other of await this.files.of(from)) {
      const known = this.done.get(other) ?? one(other);
      this.done.set(other, known);
      await known;
    }
  }
}

/**
 * What is no photo, in its own folders, each read back. What the catalog has as a photo, and what went along beside one,
 * is left out.
 */
async function copyOthers(
  tools: JobTools,
  { source, target }: CopyRequest,
  beside: BesideCopies,
  report: CopyReport,
): Promise<NonNullable<CopyReport['others']>> {
  const { db, fileTasks, control } = tools;
  const others = { copied: 0, there: 0 };
  const known = new Set<string>();
  await db.files
    .where('driveId')
    .equals(source.id)
    .each(({ path, photoId, sidecar }) => {
      if (photoId !== null) known.add(path);
      if (sidecar) known.add(sidecar.path);
    });
  const isOther = (path: string) => !known.has(path) && !beside.has(path);
  const { entries: going } = await ownEntries(tools, source.drive, report, isOther);
  const progress = startProgress('copying', going.length, 2 * going.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  const work = async ({ path }: DriveEntry) => {
    const onBytes = (bytes: number) => {
      progress.doneBytes += bytes;
      control.progress({ ...progress });
    };
    const order = { drive: target.drive, path, file: await source.drive.open(path), name: path, expected: null };
    const { outcome } = await fileTasks.copy(order, onBytes, control.signal);
    others[outcome === 'copied' ? 'copied' : 'there'] += 1;
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(going, control, work, ({ path }, error) => report.problems.push(itemProblemOf(path, error)));
  return others;
}

/** Not where anything could not be copied: then the old drive is still needed. */
async function replace(
  { db, now }: JobTools,
  { source, target }: CopyRequest,
  day: string,
  report: CopyReport,
): Promise<boolean> {
  if (report.problems.length > 0) return false;
  await target.drive.confirm();
  const change = await planReplacement(db, source.id, target.id, day, now());
  if (change) await makeChange(db, change, now());
  return change !== null;
}

const planOf = async ({ db }: JobTools, { source, target, photoIds }: CopyRequest, going: GoingOver) => {
  const order = { sourceId: source.id, targetId: target.id, photoIds: photoIds ?? [], over: going };
  const { places, there, stays } = await planOver(db, order);
  return { waiting: places, there, inDoubt: stays };
};

/** What is there now leaves here: one act, which undo takes back. Answers with the number of photos. */
async function leave(
  { db, now, control }: JobTools,
  { source, target, photoIds }: CopyRequest,
  { going, day }: { going: GoingOver; day: string },
  { arrived, beside, report }: { arrived: ReadonlySet<string>; beside: BesideCopies; report: CopyReport },
): Promise<number> {
  const order = { sourceId: source.id, targetId: target.id, photoIds: photoIds ?? [], over: going };
  const leaving: LeavingFrame[] = [];
  for (const frame of await framesLeaving(db, order)) {
    control.signal.throwIfAborted();
    try {
      // of a copy that was made earlier, too
      for (const { file, copy } of frame.files) await beside.copy(file.path, copy.path);
      leaving.push(frame);
    } catch (error) {
      control.signal.throwIfAborted();
      report.problems.push(itemProblemOf(frame.files[0]?.file.path ?? '', error));
    }
  }
  await source.drive.confirm();
  await target.drive.confirm();
  const moves = await planLeaving(db, leaving, arrived, day);
  if (moves.length > 0) await makeChange(db, { kind: 'names', moves, edits: [] }, now());
  return new Set(leaving.flatMap(({ files }) => files.map(({ file }) => file.photoId))).size;
}

async function planAsThere(
  { db }: JobTools,
  { source, target, photoIds, folders = null }: CopyRequest,
): Promise<PlannedCopies> {
  const chosen = await chosenFiles(db, source.id, photoIds);
  const files = chosen.filter(({ state }) => state === 'present');
  const onTarget = await db.files.where('driveId').equals(target.id).toArray();
  const there = new Set(
    onTarget
      .filter(({ state, verifiedAt }) => state === 'present' && verifiedAt !== null)
      .map(({ photoId }) => photoId),
  );
  const missing = files.filter((file) => !there.has(file.photoId));
  const paths = await copyPlaces(db, { going: missing, chosen, onTarget, folders });
  return {
    waiting: missing.map((file) => ({ file, path: paths.get(file.path) ?? file.path })),
    there: files.length - missing.length,
    inDoubt: chosen.filter(({ state }) => state === 'doubt').length,
  };
}
/** The files a copy is asked of; what was left out of the catalog or set aside only where it was chosen itself. */
async function chosenFiles(db: CatalogDatabase, driveId: string, photoIds: string[] | null): Promise<FileRecord[]> {
  const chosen = photoIds && new Set(photoIds);
  const leftOut = new Set((await db.leftOut.toArray()).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const files = (await db.files.where('driveId').equals(driveId).toArray()).filter(
    (file) => file.photoId && (file.state === 'present' || file.state === 'doubt'),
  );
  return files.filter((file) =>
    chosen ? chosen.has(file.photoId ?? '') : !leftOut.has(file.photoId ?? '') && asideOf(pathToBe(file)) === null,
  );
}
