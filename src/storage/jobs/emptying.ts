// Emptying a card: what may go is planned from the catalog, and looked at once more at each file. The file is read in
// full on the card; each copy that justifies its going is looked at where it lies: the drive bears its mark, the copy
// is as long and as old as when it was verified, and read in full again where that is longer ago than the rule of
// safekeeping, or anything differs. A copy in the card's own folders is no copy, whatever path leads there. Nothing
// brings a removed file back, so every doubt keeps it.

import { copyStatusOf } from '@/core/fixity/copies';
import { isInUse } from '@/core/fixity/keeping';
import { type EmptyRule, type Emptying, type Justifying, type ReadOnCard, planEmptying } from '@/core/take-in/emptying';
import { filesOf, framesOf } from '@/core/take-in/frames';
import { isPhotoName } from '@/core/formats/containers/formats';
import { folderIn, nameIn, pathBeside } from '@/core/names/file-names';
import { keptAsItCame } from '@/core/take-in/accession';
import type { SafeRule } from '@/core/fixity/safe';
import { DAY_MS } from '@/core/time/captured';
import { readDriveFile } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import { readKeeping, readRule } from '../catalog/keeping';
import { fileErased } from '../catalog/photos';
import type { AccessionFileRecord, Agreed, JobReport } from '../catalog/records';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import { isSamePlace } from '../drives/overlap';
import { openIfThere } from '../drives/safe-write';
import { verifyFile } from './digesting';
import type { FileTasks } from '../file-tasks/file-tasks';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';
import { suspectOf } from './source-survey';

export type EmptyReport = JobReport & { kind: 'empty' };

/** A copy of what lies on the card: a file of the catalog, or one that is known by its bytes alone. */
interface Copy extends Justifying {
  /**
   * `null` for sidecars and spoken notes, which the catalog does not list; they are read in full each time, wherever of
   * these paths they lie.
   */
  fileId: string | null;
  paths: string[];
}

interface Proof extends ReadOnCard {
  sha256: string;
  copies: Copy[];
}

export interface EmptyingTools {
  db: CatalogDatabase;
  fileTasks: Pick<FileTasks, 'read'>;
  signal: AbortSignal;
  /** A drive that is connected now, and lies apart from the card. */
  driveOf: (driveId: string) => Drive | null;
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
    const copies = photoId === null ? await copiesBeside(tools, file) : await verifiedCopies(tools, photoId, sha256);
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
    const copies = suspect.sha256 ? await verifiedCopies(tools, suspect.photo.id, suspect.sha256) : [];
    if (suspect.sha256 && copies.length > 0) return { sizeBytes, modifiedMs, sha256: suspect.sha256, copies };
  }
  return null;
}

/**
 * Verified copies of these very bytes, one a drive; where there is none of them, of the photo that came of them: its
 * picture is the same, whatever was written beside it.
 */
async function verifiedCopies({ db, driveOf }: EmptyingTools, photoId: string, sha256: string): Promise<Copy[]> {
  const photo = await db.photos.get(photoId);
  const files = await db.files.where('photoId').equals(photoId).toArray();
  if (!photo || (photo.sha256 !== sha256 && !files.some((file) => file.sha256 === sha256))) return [];
  const known = new Map((await db.drives.toArray()).map((drive) => [drive.id, drive]));
  const keeping = await readKeeping(db);
  const best = new Map<string, Copy>();
  for (const file of files) {
    if (copyStatusOf(file, photo) !== 'verified' || !known.get(file.driveId)?.marked) continue;
    if (!isInUse(keeping, file.driveId)) continue;
    const copy: Copy = {
      driveId: file.driveId,
      path: file.path,
      verifiedAt: file.verifiedAt,
      isAway: driveOf(file.driveId) === null,
      fileId: file.id,
      paths: [file.path],
    };
    if ((best.get(file.driveId)?.verifiedAt ?? 0) < (file.verifiedAt ?? 0)) best.set(file.driveId, copy);
  }
  return [...best.values()];
}

/**
 * Removes what may go, provided that is what the person agreed to. @param driveOf a drive that is connected now, and
 * lies apart from the card
 */
export async function emptySource(
  tools: JobTools,
  source: Drive,
  agreed: Agreed,
  driveOf: (driveId: string) => Drive | null,
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
  const copies = new CopyCheck(tools, source, driveOf, report);
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
    if ((await copies.status(file.path, proof, agreed)) < agreed.copies) throw new DriveError('copies-gone', file.path);
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

/** Looks at the copies that justify a removal, where they lie. */
class CopyCheck {
  private readonly places = new Map<string, Promise<boolean>>();
  private rule: Promise<SafeRule> | null = null;
  /** Files of the catalog that turned out to be the file on the card, by its path. */
  private readonly own = new Map<string, string[]>();

  constructor(
    private readonly tools: JobTools,
    private readonly source: Drive,
    private readonly driveOf: (driveId: string) => Drive | null,
    private readonly report: EmptyReport,
  ) {}

  /** How many of the copies stand. */
  async status(path: string, { copies, sha256 }: Proof, { awayCounts }: Agreed): Promise<number> {
    let count = 0;
    for (const copy of copies) {
      const drive = this.driveOf(copy.driveId);
      if (drive === null ? awayCounts : await this.stands(path, copy, drive, sha256).catch(() => false)) count += 1;
    }
    return count;
  }

  itself(path: string): string[] {
    return this.own.get(path) ?? [];
  }

  private async stands(path: string, copy: Copy, drive: Drive, sha256: string): Promise<boolean> {
    await drive.confirm();
    if (copy.fileId !== null) {
      if (!(await this.isInSource(path, drive, copy))) return this.isVerified(copy.fileId, drive);
      if (nameIn(copy.path).normalize('NFC') === nameIn(path).normalize('NFC'))
        this.own.set(path, [...this.itself(path), copy.fileId]);
      return false;
    }
    for (const at of copy.paths)
      if (await this.hasBytes(drive, at, sha256)) return !(await this.isInSource(path, drive, { ...copy, path: at }));
    return false;
  }

  private async isVerified(fileId: string, drive: Drive): Promise<boolean> {
    const { db, now, control } = this.tools;
    const file = await db.files.get(fileId);
    if (file?.state !== 'present' || file.verifiedAt === null) return false;
    const there = await openIfThere(drive, file.path);
    const isAsVerified = there?.size === file.sizeBytes && there.lastModified === file.modifiedMs;
    const age = now() - file.verifiedAt;
    const { verifiedWithinDays } = await (this.rule ??= readRule(db));
    if (isAsVerified && age >= 0 && age < verifiedWithinDays * DAY_MS) return true;
    const verdict = there && (await verifyFile({ ...this.tools, signal: control.signal }, drive, fileId, true));
    if (verdict === 'damaged') this.report.damaged.push(file.path);
    return verdict === 'verified';
  }

  private async hasBytes(drive: Drive, path: string, sha256: string): Promise<boolean> {
    const there = await openIfThere(drive, path);
    return (
      there !== null &&
      (await this.tools.fileTasks.digest(there, () => undefined, this.tools.control.signal)).file === sha256
    );
  }

  /** Whether the copy lies in the folder of the card that the file lies in; asked once for two folders. */
  private isInSource(path: string, drive: Drive, { driveId, path: copyPath }: Copy): Promise<boolean> {
    const key = `${folderIn(path)}\n${driveId}\n${folderIn(copyPath)}`;
    const known = this.places.get(key) ?? isSamePlace(drive, copyPath, this.source, path);
    this.places.set(key, known);
    return known;
  }
}
