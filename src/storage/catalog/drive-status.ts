// How a drive stands, from the indexes alone: cheap enough to be asked again at every change of a large catalog.

import Dexie from 'dexie';
import { asideOf } from '@/core/names/set-aside';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';

export interface DriveStatus {
  photos: number;
  missing: number;
  damaged: number;
  unreadable: number;
  /** Files that two records give different measures. */
  inDoubt: number;
  /** Photos there that were not read in full, or not since they were last changed. */
  unverified: number;
  /** When the one that was read longest ago was read; milliseconds since 1970, UTC. */
  oldestReading: number | null;
}

export async function driveStatus(db: CatalogDatabase, driveId: string): Promise<DriveStatus> {
  const count = (state: FileRecord['state']) => db.files.where('[driveId+state]').equals([driveId, state]).count();
  // what the person has set aside is settled; of these there are few
  const toSettle = (state: FileRecord['state']) =>
    db.files
      .where('[driveId+state]')
      .equals([driveId, state])
      .filter(({ path }) => asideOf(path) === null)
      .count();
  const verified = db.files.where('[driveId+verifiedAt]').between([driveId, Dexie.minKey], [driveId, Dexie.maxKey]);
  const [present, missing, damaged, unreadable, inDoubt, read, oldest] = await Promise.all([
    count('present'),
    toSettle('missing'),
    toSettle('damaged'),
    count('unreadable'),
    toSettle('doubt'),
    verified.clone().count(),
    verified.clone().first(),
  ]);
  return {
    photos: present + damaged + inDoubt,
    missing,
    damaged,
    unreadable,
    inDoubt,
    unverified: Math.max(0, present - read),
    oldestReading: oldest?.verifiedAt ?? null,
  };
}
