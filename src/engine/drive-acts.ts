// What a person says and does of drives in Safekeep: each is a change that undo takes back, but for the last act.

import type { Change } from '@/core/catalog/change';
import type { DriveFacts, DriveHolding, DriveStanding } from '@/core/fixity/drive-facts';
import type { SafeRule } from '@/core/fixity/safe';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { forgetDrive, planReplacement, planStanding } from '@/storage/catalog/drive-life';
import { joinDrive } from '@/storage/catalog/joining';
import { planFacts, planRule } from '@/storage/catalog/keeping';
import { driveLock } from '@/storage/jobs/runner';
import { today } from '@/ui/format';

export interface DriveActPorts {
  db: CatalogDatabase;
  change: (change: Change) => Promise<boolean>;
  locks: Pick<LockManager, 'request'>;
  /** Asked anew. */
  isThere: (driveId: string) => Promise<boolean>;
  scan: (driveId: string) => void;
  /** The drive is no drive of the catalog any more. */
  onForgotten: (driveId: string) => void;
}

export class DriveActs {
  constructor(private readonly ports: DriveActPorts) {}

  async setRule(rule: SafeRule): Promise<boolean> {
    return this.ports.change(await planRule(this.ports.db, rule, Date.now()));
  }

  async say(driveId: string, patch: Partial<DriveFacts>): Promise<boolean> {
    return this.ports.change(await planFacts(this.ports.db, driveId, patch, Date.now()));
  }

  async stand(driveId: string, standing: DriveStanding): Promise<boolean> {
    return this.ports.change(await planStanding(this.ports.db, driveId, standing, today(), Date.now()));
  }

  /** All of it is verified on the other drive already. Answers whether that was so. */
  async replace(driveId: string, newId: string): Promise<boolean> {
    const change = await planReplacement(this.ports.db, driveId, newId, today(), Date.now());
    return change !== null && this.ports.change(change);
  }

  /**
   * Two records of one disk: this one goes, the other stays and is looked through again. Not while a job works on either,
   * or this one is connected, and so another disk. Answers whether it was done.
   */
  join(driveId: string, staysId: string): Promise<boolean> {
    const { db, locks, isThere, onForgotten, scan } = this.ports;
    const alone = (id: string, act: () => Promise<boolean>) =>
      locks.request(driveLock(id), { ifAvailable: true }, (lock) => (lock ? act() : false));
    return alone(driveId, () =>
      alone(staysId, async () => {
        if (await isThere(driveId)) return false;
        await joinDrive(db, { innerId: driveId, outerId: staysId, path: '' }, Date.now());
        onForgotten(driveId);
        scan(staysId);
        return true;
      }),
    );
  }

  /** Not while a job works on it, which would bring its files back; `busy` then. `null` when it is forgotten. */
  forget(driveId: string): Promise<DriveHolding | 'busy'> {
    const { db, locks, onForgotten } = this.ports;
    return locks.request(driveLock(driveId), { ifAvailable: true }, async (lock) => {
      if (!lock) return 'busy';
      const holding = await forgetDrive(db, driveId);
      if (!holding) onForgotten(driveId);
      return holding;
    });
  }
}
