// Emptying a card: what may go is planned from the catalog, and looked at once more at each file. The file is read in
// full on the card; each copy that justifies its going is looked at where it lies (standing-copies.ts). Nothing brings a
// removed file back, so every doubt keeps it.

import { type EmptyRule, type Emptying, type ReadOnCard, planEmptying } from '@/core/take-in/emptying';
import { filesOf, framesOf } from '@/core/take-in/frames';
import { isPhotoName } from '@/core/formats/containers/formats';
import { pathBeside } from '@/core/names/file-names';
import { keptAsItCame } from '@/core/take-in/accession';
import { readDriveFile } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import { fileErased } from '../catalog/photos';
import type { AccessionFileRecord, Agreed, JobReport } from '../catalog/records';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import type { FileTasks } from '../file-tasks/file-tasks';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';
import { suspectOf } from './source-survey';
import { type Copy, type DriveHere, StandingCopies, verifiedCopies } from './standing-copies';

export type EmptyReport = JobReport & { kind: 'empty' };

interface Proof extends ReadOnCard {
  sha256: string;
  copies: Copy[];
}

export interface EmptyingTools {
  db: CatalogDatabase;
  fileTasks: Pick<FileTasks, 'read'>;
  signal: AbortSignal;
  /** A drive that is connected now, and lies apart from the card. */
  driveOf: DriveHere;
}

export interface CardStatus {
  plan: Emptying;
  /** By the path on the card. */
  proofs: Map<string, Proof>;
}

/**
 * Which files of a card have verified copies elsewhere often enough, and what stands in the way of the others. @throws
 * DriveError `source-is-drive` where the card bears the mark of a drive of the catalog
 */
export async function cardStatus(tools: EmptyingTools, source: Drive, rule: EmptyRule): Promise<CardStatus> {
  const mark = await readDriveFile(source).catch(() => null);
  if (mark && (await tools.db.drives.get(mark.id))) throw new DriveError('source-is-drive', mark.name);
  const entries: DriveEntry[] = [];
  for await (const entry of source.list({ signal: tools.signal })) entries.push(entry);
  const { frames, others } = framesOf(entries, true);
  const files = frames.flatMap(filesOf);
  const proofs = new Map<string, Proof>();
  for (const file of files) {
    tools.signal.throwIfAborted();
    const proof =
      (await byAccession(tools, file)) ?? (isPhotoName(file.path) ? await byFingerprint(tools, source, file) : null);
    if (proof) proofs.set(file.path, proof);
  }
  return { plan: planEmptying(files, others, proofs, rule), proofs };
}

/** As it was read when it was taken in: the same path, length and time on the card. */
async function byAccession(tools: EmptyingTools, { path, sizeBytes, modifiedMs }: DriveEntry): Promise<Proof | null> {
  const known = await tools.db.accessionFiles
    .where('from')
    .equals(path)
    .filter((file) => file.sha256 !== null && file.sizeBytes === sizeBytes && file.modifiedMs === modifiedMs)
    .toArray();
  for (const file of known) {
    const { sha256, photoId, role } = file;
    // a record read back from a drive does not know which photo it speaks of: the photo's own bytes are asked
    if (sha256 === null || (role === 'photo' && photoId === null)) continue;
    const copies =
      photoId === null
        ? await copiesBeside(tools, file)
        : await verifiedCopies(tools.db, tools.driveOf, photoId, sha256);
    if (copies.length > 0) return { sizeBytes, modifiedMs, sha256, copies };
  }
  return null;
}

/**
 * Where a sidecar or a spoken note lies now: as it came, in the folder of its accession, or beside its photo, which may
 * have been renamed since. That is where to look; what counts is what is read there.
 */
async function copiesBeside(
  { db, driveOf }: EmptyingTools,
  { accessionId, frame, from, placed, role }: AccessionFileRecord,
): Promise<Copy[]> {
  const accession = await db.accessions.get(accessionId);
  const photos = await db.accessionFiles
    .where('accessionId')
    .equals(accessionId)
    .filter((file) => file.frame === frame && file.photoId !== null)
    .toArray();
  const files = await db.files
    .where('photoId')
    .anyOf(photos.flatMap(({ photoId }) => photoId ?? []))
    .toArray();
  const known = new Set((await db.drives.toArray()).map(({ id }) => id));
  return placed
    .filter(({ driveId }) => known.has(driveId) && driveOf(driveId) !== null)
    .map(({ driveId, path }) => {
      const beside = files
        .filter((file) => file.driveId === driveId && file.state !== 'missing')
        .flatMap((file) => {
          const photoFrom = photos.find(({ photoId }) => photoId === file.photoId)?.from;
          return photoFrom === undefined ? [] : [pathBeside(from, photoFrom, file.path)];
        });
      const kept = role === 'sidecar' && accession ? [keptAsItCame(accession.number, from)] : [];
      const paths = [...new Set([...kept, ...beside, path])];
      return { driveId, path: paths[0] ?? path, verifiedAt: null, isAway: false, fileId: null, paths };
    });
}

/** Known to the catalog from before. */
async function byFingerprint(
  tools: EmptyingTools,
  source: Drive,
  { path, sizeBytes, modifiedMs }: DriveEntry,
): Promise<Proof | null> {
  const { fingerprint } = await tools.fileTasks.read(await source.open(path), path, tools.signal);
  for (const suspect of await suspectOf(tools.db, fingerprint)) {
    const copies = suspect.sha256
      ? await verifiedCopies(tools.db, tools.driveOf, suspect.photo.id, suspect.sha256)
      : [];
    if (suspect.sha256 && copies.length > 0) return { sizeBytes, modifiedMs, sha256: suspect.sha256, copies };
  }
  return null;
}

/**
 * Removes what may go, provided that is what the person agreed to. @param driveOf a drive that is connected now, and
 * lies apart from the card
 */
export async function emptySource(
  tools: JobTools,
  source: Drive,
  agreed: Agreed,
  driveOf: DriveHere,
): Promise<EmptyReport> {
  const { db, fileTasks, control } = tools;
  const report: EmptyReport = { kind: 'empty', removed: 0, bytes: 0, kept: [], damaged: [], problems: [] };
  control.reporting(report);
  const {
    plan: { removable, obstacles },
    proofs,
  } = await cardStatus({ db, fileTasks, signal: control.signal, driveOf }, source, agreed);
  if (removable.length > agreed.files) throw new Error('not-agreed');
  report.kept = obstacles.map(({ path }) => path);
  const progress = startProgress(
    'removing',
    removable.length,
    removable.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
  );
  const copies = new StandingCopies(tools, source, driveOf, (path) => report.damaged.push(path));
  const work = async (file: DriveEntry) => {
    const proof = proofs.get(file.path);
    const opened = await source.open(file.path);
    const digests = await fileTasks.digest(
      opened,
      (bytes) => {
        progress.doneBytes += bytes;
        control.progress({ ...progress });
      },
      control.signal,
    );
    if (!proof || digests.file !== proof.sha256) throw new DriveError('changed-meanwhile', file.path);
    if ((await copies.standing(file.path, proof, agreed)).length < agreed.copies)
      throw new DriveError('copies-gone', file.path);
    await source.alone(async () => {
      const now = await source.open(file.path);
      if (now.size !== opened.size || now.lastModified !== opened.lastModified)
        throw new DriveError('changed-meanwhile', file.path);
      await source.remove(file.path);
    });
    // what was emptied lay in a drive of the catalog: that drive has the file no longer
    for (const itself of await db.files.bulkGet(copies.itself(file.path)))
      if (itself) await fileErased(db, itself, tools.now());
    report.removed += 1;
    report.bytes += file.sizeBytes;
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(removable, control, work, (file, error) => report.problems.push(itemProblemOf(file.path, error)));
  return report;
}
