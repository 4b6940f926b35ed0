// A little is checked each day of every drive that is there, what was read longest ago first, so that all of it is read
// again every three months without anybody thinking of it. Only where the person wants it; what is sound is not talked
// about.

import { isInUse } from '@/core/fixity/keeping';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { readKeeping } from '@/storage/catalog/keeping';

/** The setting of the archive that switches it on. */
export const DAILY_SETTING = 'daily-check';
/** The share of a drive that is read in a day. */
export const DAILY_SHARE = 1 / 90;
/** A page that stays open for days looks whether it is another day by now. */
const LOOK_EVERY_MS = 1_800_000;

export interface DailyPorts {
  db: CatalogDatabase;
  /** Whether the drive can be read now. */
  isHere: (driveId: string) => boolean;
  /** Reads a portion of a drive; resolves when that has ended, with whether it came to its end. */
  check: (driveId: string, share: number) => Promise<boolean>;
  /** ISO date of today, by the person's calendar. */
  today: () => string;
  /** Only one tab does it. */
  alone: (work: () => Promise<void>) => Promise<unknown>;
}

export class DailyChecks {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private looking: Promise<unknown> = Promise.resolve();

  constructor(private readonly ports: DailyPorts) {}

  /** Something changed: a drive came, the person wants it now; and now and then by itself. */
  look(): Promise<unknown> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), LOOK_EVERY_MS);
    const once = () => this.ports.alone(() => this.checkDue());
    // one that failed is tried again with the next
    return (this.looking = this.looking.then(once, once));
  }

  private async checkDue(): Promise<void> {
    const { db, isHere, check, today } = this.ports;
    if ((await db.settings.get(DAILY_SETTING))?.value !== true) return;
    const keeping = await readKeeping(db);
    for (const { id } of await db.drives.toArray()) {
      const drive = await db.drives.get(id);
      if (!drive || drive.portionOn === today() || !isInUse(keeping, id) || !isHere(id)) continue;
      if (await check(id, DAILY_SHARE)) await db.drives.update(id, { portionOn: today() });
    }
  }
}
