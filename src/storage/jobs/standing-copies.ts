// Whether the copies that justify a removal stand: each is looked at where it lies before anything goes. The drive
// bears its mark, the copy is as long and as old as when it was verified, and read in full again where that is longer
// ago than the rule of safekeeping, or anything differs. A copy in the folders that are emptied is no copy, whatever path
// leads there.

import { copyStatusOf } from '@/core/fixity/copies';
import { isInUse } from '@/core/fixity/keeping';
import type { SafeRule } from '@/core/fixity/safe';
import { folderIn, nameIn } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import type { Justifying } from '@/core/take-in/emptying';
import { DAY_MS } from '@/core/time/captured';
import { pathToBe } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import { readKeeping, readRule } from '../catalog/keeping';
import type { Drive } from '../drives/drive';
import { isSamePlace } from '../drives/overlap';
import { openIfThere } from '../drives/safe-write';
import { verifyFile } from './digesting';
import type { JobTools } from './job-tools';

/** A drive that is connected now, and lies apart from what is emptied. */
export type DriveHere = (driveId: string) => Drive | null;

/** A copy of what is to go: a file of the catalog, or one that is known by its bytes alone. */
export interface Copy extends Justifying {
  /**
   * `null` for sidecars and spoken notes, which the catalog does not list; they are read in full each time, wherever of
   * these paths they lie.
   */
  fileId: string | null;
  paths: string[];
}

/**
 * Verified copies of these very bytes, one a drive; where there is none of them, of the photo that came of them: its
 * picture is the same, whatever was written beside it.
 */
export async function verifiedCopies(
  db: CatalogDatabase,
  driveOf: DriveHere,
  photoId: string,
  sha256: string,
): Promise<Copy[]> {
  const photo = await db.photos.get(photoId);
  const files = await db.files.where('photoId').equals(photoId).toArray();
  if (!photo || (photo.sha256 !== sha256 && !files.some((file) => file.sha256 === sha256))) return [];
  const known = new Map((await db.drives.toArray()).map((drive) => [drive.id, drive]));
  const keeping = await readKeeping(db);
  const best = new Map<string, Copy>();
  for (const file of files) {
    if (copyStatusOf(file, photo) !== 'verified' || !known.get(file.driveId)?.marked) continue;
    // what is set aside may be erased by the next click
    if (!isInUse(keeping, file.driveId) || asideOf(pathToBe(file)) !== null) continue;
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

/** Looks at the copies that justify a removal, where they lie. */
export class StandingCopies {
  private readonly places = new Map<string, Promise<boolean>>();
  private rule: Promise<SafeRule> | null = null;
  /** Files of the catalog that turned out to be the file that is to go, by its path. */
  private readonly own = new Map<string, string[]>();

  constructor(
    private readonly tools: JobTools,
    private readonly source: Drive,
    private readonly driveOf: DriveHere,
    private readonly onDamaged: (path: string) => void,
  ) {}

  /** Those of the copies that stand. @param path where that which is to go lies in what is emptied */
  async standing(
    path: string,
    { copies, sha256 }: { copies: readonly Copy[]; sha256: string },
    { awayCounts }: { awayCounts: boolean },
  ): Promise<Copy[]> {
    const standing: Copy[] = [];
    for (const copy of copies) {
      const drive = this.driveOf(copy.driveId);
      const stands = drive === null ? awayCounts : await this.stands(path, copy, drive, sha256).catch(() => false);
      if (stands) standing.push(copy);
    }
    return standing;
  }

  itself(path: string): string[] {
    return this.own.get(path) ?? [];
  }

  async hasBytes(drive: Drive, path: string, sha256: string): Promise<boolean> {
    const there = await openIfThere(drive, path);
    return (
      there !== null &&
      (await this.tools.fileTasks.digest(there, () => undefined, this.tools.control.signal)).file === sha256
    );
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
    if (verdict === 'damaged') this.onDamaged(file.path);
    return verdict === 'verified';
  }

  /** Whether the copy lies in the folder of what is emptied that the file lies in; asked once for two folders. */
  private isInSource(path: string, drive: Drive, { driveId, path: copyPath }: Copy): Promise<boolean> {
    const key = `${folderIn(path)}\n${driveId}\n${folderIn(copyPath)}`;
    const known = this.places.get(key) ?? isSamePlace(drive, copyPath, this.source, path);
    this.places.set(key, known);
    return known;
  }
}
