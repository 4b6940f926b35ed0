// How a drive stands, from the indexes alone: cheap enough to be asked again at every change of a large catalog.

import Dexie from 'dexie';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';

export interface DriveStanding {
  photos: number;
  missing: number;
  damaged: number;
  unreadable: number;
  /** Photos there that were never read in full. */
  unproven: number;
  /** When the one that was read longest ago was read; milliseconds since 1970, UTC. */
  oldestProof: number | null;
}

export async function driveStanding(db: CatalogDatabase, driveId: string): Promise<DriveStanding> {
  const count = (state: FileRecord['state']) => db.files.where('[driveId+state]').equals([driveId, state]).count();
  const proofs = db.files.where('[driveId+provenAt]').between([driveId, Dexie.minKey], [driveId, Dexie.maxKey]);
  const [present, missing, damaged, unreadable, proven, oldest] = await Promise.all([
    count('present'), count('missing'), count('damaged'), count('unreadable'), proofs.clone().count(), proofs.clone().first(),
  ]);
  return { photos: present + damaged, missing, damaged, unreadable, unproven: Math.max(0, present + missing + damaged - proven), oldestProof: oldest?.provenAt ?? null };
}
