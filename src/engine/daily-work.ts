// What is done each day without anybody thinking of it, where the person wants it: a little of every drive that is there
// is checked, what was read longest ago first, so that all of it is read again every three months; and the catalog is
// backed up, if anything was done since. What went well is not talked about.

import { isInUse } from '@/core/fixity/keeping';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { readKeeping } from '@/storage/catalog/keeping';
import type { JobRecord, JobReport } from '@/storage/catalog/records';
import { changesSinceBackup, readLastBackup } from '@/storage/jobs/backing-up';
import type { NewJob } from '@/storage/jobs/runner';

/** The setting of the archive that switches the checks on. */
export const DAILY_SETTING = 'daily-check';
/** The one that names the drive for backups. */
export const DAILY_BACKUP_SETTING = 'daily-backup';
/** The share of a drive that is read in a day. */
export const DAILY_SHARE = 1 / 90;
/** A page that stays open for days looks whether it is another day by now. */
const LOOK_EVERY_MS = 1_800_000;

export interface DailyPorts {
  db: CatalogDatabase;
  /** Whether the drive can be read now. */
  isHere: (driveId: string) => boolean;
  /** Does a job that nobody asked for to its end; as it is recorded then. */
  run: (job: NewJob) => Promise<Pick<JobRecord, 'id' | 'state' | 'report'> | undefined>;
  dismiss: (jobId: string) => Promise<void>;
  /** ISO date of a moment, by the person's calendar; of now without one. */
  dayOf: (at?: number) => string;
  /** Only one tab does it. */
  alone: (work: () => Promise<void>) => Promise<unknown>;
}

export class DailyWork {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private looking: Promise<unknown> = Promise.resolve();

  constructor(private readonly ports: DailyPorts) {}

  /** Something changed: a drive came, the person wants it now; and now and then by itself. */
  look(): Promise<unknown> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), LOOK_EVERY_MS);
    const once = () => this.ports.alone(() => this.doDue());
    // one that failed is tried again with the next
    return (this.looking = this.looking.then(once, once));
  }

  private async doDue(): Promise<void> {
    await this.backUpDue();
    await this.checkDue();
  }

  private async backUpDue(): Promise<void> {
    const { db, isHere, dayOf } = this.ports;
    const driveId = (await db.settings.get(DAILY_BACKUP_SETTING))?.value;
    if (typeof driveId !== 'string' || !isHere(driveId) || !isInUse(await readKeeping(db), driveId)) return;
    const last = await readLastBackup(db);
    if (last?.catalog === db.catalogId && dayOf(last.at) === dayOf()) return;
    if ((await changesSinceBackup(db)) > 0) await this.done({ kind: 'backup', driveId });
  }

  private async checkDue(): Promise<void> {
    const { db, isHere, dayOf } = this.ports;
    if ((await db.settings.get(DAILY_SETTING))?.value !== true) return;
    const keeping = await readKeeping(db);
    for (const { id } of await db.drives.toArray()) {
      const drive = await db.drives.get(id);
      if (!drive || drive.portionOn === dayOf() || !isInUse(keeping, id) || !isHere(id)) continue;
      if (await this.done({ kind: 'check', driveId: id, share: DAILY_SHARE }))
        await db.drives.update(id, { portionOn: dayOf() });
    }
  }

  /** Whether it came to its end; it is only mentioned where something is wrong. */
  private async done(work: NewJob): Promise<boolean> {
    const job = await this.ports.run(work);
    if (job?.state !== 'done') return false;
    if (job.report && isSound(job.report)) await this.ports.dismiss(job.id);
    return true;
  }
}

const isSound = (report: JobReport): boolean =>
  report.problems.length === 0 && (report.kind !== 'check' || report.damaged.length + report.missing.length === 0);
