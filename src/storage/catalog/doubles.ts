// Files of one drive that are the same byte for byte: one stays, the others are set aside. They are of one photo already,
// so what was said of any of them is said of the one that stays.

import type { Change } from '@/core/catalog/change';
import { asideOf } from '@/core/names/set-aside';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { planAside } from './set-aside';

export interface Doubles {
  driveId: string;
  sha256: string;
  /** The one that is proposed to stay first: where a sidecar lies beside it, else the one that came first. */
  files: FileRecord[];
}

/** @param photoIds photos that may have some, as the search finds them */
export async function listDoubles(db: CatalogDatabase, photoIds: readonly string[]): Promise<Doubles[]> {
  const groups = new Map<string, Doubles>();
  const files = await db.files
    .where('photoId')
    .anyOf([...photoIds])
    .toArray();
  for (const file of files) {
    const { driveId, sha256, state } = file;
    if (sha256 === null || state !== 'present' || asideOf(pathToBe(file)) !== null) continue;
    const key = `${driveId} ${sha256}`;
    const group = groups.get(key) ?? { driveId, sha256, files: [] };
    group.files.push(file);
    groups.set(key, group);
  }
  return [...groups.values()]
    .filter((group) => group.files.length > 1)
    .map((group) => ({ ...group, files: group.files.toSorted(stayOrder) }))
    .sort((a, b) => ((a.files[0]?.id ?? '') < (b.files[0]?.id ?? '') ? -1 : 1));
}

const stayOrder = (a: FileRecord, b: FileRecord): number =>
  Number(b.sidecar !== null) - Number(a.sidecar !== null) ||
  (a.addedAt ?? 0) - (b.addedAt ?? 0) ||
  a.path.length - b.path.length ||
  (a.path < b.path ? -1 : 1);

/**
 * Sets aside all of each group but the one that stays. Only what is verified as the others are is done without: a group
 * of which the one to stay was never read in full is left as it is. @param day ISO date of today
 */
export async function planDoubles(
  db: CatalogDatabase,
  groups: readonly { files: readonly FileRecord[]; staysId: string }[],
  day: string,
): Promise<Change & { kind: 'aside' }> {
  const leaving: FileRecord[] = [];
  for (const { files, staysId } of groups) {
    const now = (await db.files.bulkGet(files.map(({ id }) => id))).flatMap((file) => file ?? []);
    const stays = now.find(({ id }) => id === staysId);
    if (stays?.state !== 'present' || stays.verifiedAt === null || asideOf(pathToBe(stays)) !== null) continue;
    leaving.push(
      ...now.filter(({ id, sha256, state }) => id !== staysId && state === 'present' && sha256 === stays.sha256),
    );
  }
  return { kind: 'aside', moves: await planAside(db, leaving, day) };
}
