// Copies that are kept up to date by themselves: when both drives are there, what is not on the other one yet is copied.

import { isInUse } from '@/core/fixity/keeping';
import type { Pattern } from '@/core/names/pattern';
import type { CatalogDatabase } from '@/storage/catalog/database';
import type { CopyPlan } from '@/core/fixity/copy-plan';
import { planCopies } from '@/storage/catalog/copy-plan';
import { type CopyRoutine, readCopyRoutines } from '@/storage/catalog/copy-routines';
import { readKeeping } from '@/storage/catalog/keeping';

/** Drives that come together come one after the other. */
const REST_MS = 3000;

export interface CopyHow {
  /** `null`: all of the drive. */
  photoIds: string[] | null;
  /** Files that are no photos go along; only of a drive. */
  whole: boolean;
  /** Folders there by this pattern; `null`: as on the source. */
  folders: Pattern | null;
}

export interface CopyRoutinePorts {
  db: CatalogDatabase;
  isHere: (driveId: string) => boolean;
  /** Photos that a search finds. */
  find: (scope: string) => Promise<readonly string[]>;
  /** Copies from one drive to another; resolves when that is begun. */
  copy: (driveId: string, targetId: string, how: CopyHow) => Promise<unknown>;
  /** Only one tab does it. */
  alone: (work: () => Promise<void>) => Promise<unknown>;
}

export class CopyRoutines {
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly ports: CopyRoutinePorts) {}

  /** A drive came. */
  later(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.ports.alone(() => this.beginDue()), REST_MS);
  }

  /** What a routine would copy now; `null` while its drives are not there. */
  async plan({ fromId, scope, toId, folders }: CopyRoutine): Promise<CopyPlan | null> {
    const { db, isHere, find } = this.ports;
    const keeping = await readKeeping(db);
    const here = (await db.drives.toCollection().primaryKeys()).filter(
      (id) => id !== toId && isHere(id) && isInUse(keeping, id),
    );
    const sourceIds = fromId === null ? here : here.filter((id) => id === fromId);
    if (!isHere(toId) || sourceIds.length === 0) return null;
    const photoIds = fromId === null ? await find(scope) : null;
    return planCopies(db, { photoIds, sourceIds, targetId: toId, folders });
  }

  /** Copies what is not there yet; one drive after the other. */
  async begin(routine: CopyRoutine): Promise<void> {
    const plan = await this.plan(routine);
    for (const { driveId, photoIds } of plan?.from ?? [])
      await this.ports.copy(driveId, routine.toId, {
        photoIds: routine.fromId === null ? photoIds : null,
        whole: routine.whole,
        folders: routine.folders,
      });
  }

  private async beginDue(): Promise<void> {
    const { db } = this.ports;
    const busy = new Set(
      (await db.jobs.where('state').anyOf('running', 'paused').toArray()).map((job) => job.targetDriveId),
    );
    for (const routine of await readCopyRoutines(db))
      if (routine.begins && !busy.has(routine.toId)) await this.begin(routine);
  }
}
