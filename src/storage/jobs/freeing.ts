// Freeing room on a drive: of the photos that stay safe by the person's rule without it, its files go. Each is read in
// full once more; each copy that justifies its going is looked at where it lies (standing-copies.ts); and what lies
// beside it, sidecar and companions, must lie beside one of those byte for byte. Nothing brings a removed file back,
// so every doubt keeps it.

import { driveFactsOf } from '@/core/fixity/keeping';
import { baseOf, foldName, nameIn, pathBeside } from '@/core/names/file-names';
import { mayLeave, planRoom } from '../catalog/free-room';
import { readKeeping } from '../catalog/keeping';
import { fileFreed } from '../catalog/photos';
import type { Agreed, FileRecord, JobReport } from '../catalog/records';
import { filesNamedAs } from '../catalog/set-aside';
import { BesideFiles } from '../drives/beside-files';
import { type Drive, DriveError, type OpenedFile } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import { verifyFile } from './digesting';
import { type JobTools, forEachItem, itemProblemOf, startProgress } from './job-tools';
import { type Copy, type DriveHere, StandingCopies, verifiedCopies } from './standing-copies';

export type FreeReport = JobReport & { kind: 'free' };

export interface FreeOrder {
  driveId: string;
  drive: Drive;
  /** `null` for all that lies there. */
  photoIds: readonly string[] | null;
  agreed: Pick<Agreed, 'files' | 'awayCounts'>;
  driveOf: DriveHere;
}

/** @throws Error `not-agreed` where more files may go than the person agreed to */
export async function freeRoom(tools: JobTools, order: FreeOrder): Promise<FreeReport> {
  const { db, control, now } = tools;
  const { driveId, drive, photoIds, agreed, driveOf } = order;
  const report: FreeReport = { kind: 'free', removed: 0, bytes: 0, damaged: [], problems: [] };
  control.reporting(report);
  await drive.confirm();
  const isHere = (id: string) => id !== driveId && driveOf(id) !== null;
  const { leaving, bytes } = await planRoom(db, { driveId, photoIds, now: now(), isHere, ...agreed });
  if (leaving.length > agreed.files) throw new Error('not-agreed');
  const progress = startProgress('removing', leaving.length, bytes);
  const one = new OneLeaving(tools, order, (path) => report.damaged.push(path));
  const work = async (file: FileRecord) => {
    const size = await one.leave(file, (read) => {
      progress.doneBytes += read;
      control.progress({ ...progress });
    });
    report.removed += size.files;
    report.bytes += size.bytes;
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(
    leaving,
    control,
    work,
    (file, error) => report.problems.push(itemProblemOf(file.path, error)),
    drive.atOnce,
  );
  return report;
}

class OneLeaving {
  private readonly copies: StandingCopies;
  private readonly files: BesideFiles;

  constructor(
    private readonly tools: JobTools,
    private readonly order: FreeOrder,
    private readonly onDamaged: (path: string) => void,
  ) {
    this.files = new BesideFiles(order.drive, true);
    this.copies = new StandingCopies(tools, order.drive, this.driveOf, onDamaged);
  }

  private readonly driveOf = (id: string): Drive | null => (id === this.order.driveId ? null : this.order.driveOf(id));

  async leave(file: FileRecord, onBytes: (bytes: number) => void): Promise<{ files: number; bytes: number }> {
    const { db, now, control } = this.tools;
    const { drive } = this.order;
    const { path } = file;
    const opened = await drive.open(path);
    if (!isAs(opened, { size: file.sizeBytes, lastModified: file.modifiedMs }))
      throw new DriveError('changed-meanwhile', path);
    const verdict = await verifyFile({ ...this.tools, signal: control.signal }, drive, file.id, true, onBytes);
    if (verdict === 'damaged') return (void this.onDamaged(path), NOTHING);
    if (verdict !== 'verified') throw new DriveError('changed-meanwhile', path);
    const standing = await this.standing(file);
    const beside = new Map<string, OpenedFile>();
    for (const other of await this.besideOf(file)) {
      const there = await openIfThere(drive, other);
      if (there) beside.set(other, there);
    }
    for (const [other, there] of beside)
      if (!(await this.liesBeside(file, other, there, standing))) throw new DriveError('beside-differs', other);
    return drive.alone(async () => {
      await drive.confirm();
      await this.confirmStill(file);
      for (const [one, was] of [[path, opened] as const, ...beside])
        if (!isAs(await drive.open(one), was)) throw new DriveError('changed-meanwhile', one);
      // the photo first: should this stop between two, what is left says that it belongs to nothing, and is no photo
      for (const one of [path, ...beside.keys()]) await drive.remove(one);
      await fileFreed(db, file, now());
      const sizes = [opened, ...beside.values()].map(({ size }) => size);
      return { files: sizes.length, bytes: sizes.reduce((sum, size) => sum + size, 0) };
    });
  }

  /** Nothing was done to it, or is waiting to be, since it was planned. */
  private async confirmStill({ id, path, photoId }: FileRecord): Promise<void> {
    const { db, now } = this.tools;
    const { driveId, agreed } = this.order;
    const isHere = (other: string) => this.driveOf(other) !== null;
    const recorded = await db.files.get(id);
    const isSame = recorded?.path === path && recorded.photoId === photoId;
    if (!isSame || !(await mayLeave(db, id, { driveId, photoIds: null, now: now(), isHere, ...agreed })))
      throw new DriveError('changed-meanwhile', path);
  }

  /** The copies that stand, where they are enough by the rule. */
  private async standing({ photoId, sha256, path }: FileRecord): Promise<Copy[]> {
    const { db } = this.tools;
    const { driveId, agreed } = this.order;
    const keeping = await readKeeping(db);
    const known = await verifiedCopies(db, this.driveOf, photoId ?? '', sha256 ?? '');
    const standing = await this.copies.standing(
      path,
      { copies: known.filter((copy) => copy.driveId !== driveId), sha256: sha256 ?? '' },
      agreed,
    );
    const elsewhere = standing.filter((copy) => driveFactsOf(keeping, copy.driveId).elsewhere);
    if (standing.length < keeping.rule.copies || elsewhere.length < keeping.rule.elsewhere)
      throw new DriveError('copies-gone', path);
    return standing;
  }

  /** Where its sidecar may lie, and what bears its base name where no other photo there has it. */
  private async besideOf({ id, path, sidecar }: FileRecord): Promise<string[]> {
    const base = foldName(baseOf(nameIn(path)));
    const near = (await filesNamedAs(this.tools.db, this.order.driveId, path)).filter((other) => other.id !== id);
    const isAlone = !near.some((other) => foldName(baseOf(nameIn(other.path))) === base);
    const own = sidecar && !near.some((other) => other.sidecar?.path === sidecar.path) ? [sidecar.path] : [];
    return [...new Set([...own, `${path}.xmp`, ...(isAlone ? await this.files.of(path) : [])])];
  }

  /** Whether the same bytes lie beside a copy that stands and is here. */
  private async liesBeside(
    file: FileRecord,
    other: string,
    there: OpenedFile,
    standing: readonly Copy[],
  ): Promise<boolean> {
    const { db, fileTasks, control } = this.tools;
    const { file: sha256 } = await fileTasks.digest(there, () => undefined, control.signal);
    for (const copy of standing) {
      const drive = this.driveOf(copy.driveId);
      const record = copy.fileId === null ? undefined : await db.files.get(copy.fileId);
      if (!drive || !record) continue;
      const paths = [pathBeside(other, file.path, record.path)];
      if (other === file.sidecar?.path && record.sidecar) paths.push(record.sidecar.path);
      for (const path of paths) if (await this.copies.hasBytes(drive, path, sha256)) return true;
    }
    return false;
  }
}

const NOTHING = { files: 0, bytes: 0 };

const isAs = (file: { size: number; lastModified: number }, was: { size: number; lastModified: number }): boolean =>
  file.size === was.size && file.lastModified === was.lastModified;
