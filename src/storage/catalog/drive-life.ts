// The life of a drive after it was connected: no longer relied on, lost, replaced by another, forgotten. What is said of
// it is a change that undo takes back; forgetting is the last act, and only of a drive that holds nothing that is not
// elsewhere.

import type { Change } from '@/core/catalog/change';
import type { CopyOnDrive } from '@/core/fixity/copies';
import type { DriveHolding, DriveStanding } from '@/core/fixity/drive-facts';
import { countedCopies, driveFactsOf } from '@/core/fixity/keeping';
import { asideOf } from '@/core/names/set-aside';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import { planFacts, readKeeping } from './keeping';
import type { FileRecord, PhotoRecord } from './records';
import { byPhoto } from './search-feed';

/** @param day ISO date of today, by the person's calendar */
export const planStanding = (
  db: CatalogDatabase,
  driveId: string,
  standing: DriveStanding,
  day: string,
  at: number,
): Promise<Change> =>
  planFacts(db, driveId, { standing, standingSince: standing === 'in-use' ? '' : day, replacedBy: null }, at);

/** Photos read at once. */
const BATCH = 1000;

interface WithCopies {
  photo: PhotoRecord;
  /** Verified copies on other drives that are in use; what is set aside there is none. */
  elsewhere: CopyOnDrive[];
}

/** The photos of these files of a drive. */
async function* withCopies(db: CatalogDatabase, driveId: string, own: FileRecord[]): AsyncGenerator<WithCopies> {
  const keeping = await readKeeping(db);
  const ids = [...new Set(own.flatMap(({ photoId }) => photoId ?? []))];
  for (let from = 0; from < ids.length; from += BATCH) {
    const some = ids.slice(from, from + BATCH);
    const files = byPhoto(await db.files.where('photoId').anyOf(some).toArray());
    for (const photo of await db.photos.bulkGet(some)) {
      const others = (files.get(photo?.id ?? '') ?? []).filter(
        (file) => file.driveId !== driveId && asideOf(pathToBe(file)) === null,
      );
      if (photo)
        yield {
          photo,
          elsewhere: countedCopies(others, photo, keeping).filter(({ status }) => status === 'verified'),
        };
    }
  }
}

const filesOn = (db: CatalogDatabase, driveId: string): Promise<FileRecord[]> =>
  db.files
    .where('driveId')
    .equals(driveId)
    .filter(({ photoId }) => photoId !== null)
    .toArray();

/** Photos that are on a drive, not set aside, and have no verified copy on another one. */
export async function notYetOn(db: CatalogDatabase, driveId: string, newId: string): Promise<string[]> {
  const there = (await filesOn(db, driveId)).filter(
    (file) => file.state !== 'missing' && asideOf(pathToBe(file)) === null,
  );
  const waiting: string[] = [];
  for await (const { photo, elsewhere } of withCopies(db, driveId, there))
    if (!elsewhere.some((copy) => copy.driveId === newId)) waiting.push(photo.id);
  return waiting;
}

/**
 * A drive takes the place of another, which is retired: it gets its name and what is said of where it is kept. `null`
 * while something is not verified there. @param day ISO date of today, by the person's calendar
 */
export async function planReplacement(
  db: CatalogDatabase,
  driveId: string,
  newId: string,
  day: string,
  at: number,
): Promise<Change | null> {
  const [old, next] = await db.drives.bulkGet([driveId, newId]);
  if (!old || !next || (await notYetOn(db, driveId, newId)).length > 0) return null;
  const keeping = await readKeeping(db);
  const { place, elsewhere } = driveFactsOf(keeping, driveId);
  const rename = (id: string, before: string, after: string): Change => ({
    kind: 'drive-name',
    driveId: id,
    before,
    after,
  });
  return {
    kind: 'together',
    changes: [
      rename(driveId, old.name, `${old.name}, until ${day}`),
      rename(newId, next.name, old.name),
      await planFacts(db, driveId, { standing: 'retired', standingSince: day, replacedBy: newId }, at),
      await planFacts(db, newId, { place, elsewhere }, at),
    ],
  };
}

export async function whatItHolds(db: CatalogDatabase, driveId: string): Promise<DriveHolding> {
  const photoIds: string[] = [];
  for await (const { photo, elsewhere } of withCopies(db, driveId, await filesOn(db, driveId)))
    if (elsewhere.length === 0) photoIds.push(photo.id);
  if (photoIds.length > 0) return { kind: 'photos', photoIds };
  const waiting = (await db.outbox.toArray()).filter(
    ({ task }) => task.kind === 'copy' && task.from.driveId === driveId,
  ).length;
  return waiting > 0 ? { kind: 'copies', waiting } : null;
}

/**
 * The drive is no drive of this catalog any more; what lies on it stays as it is. Answers with why not, where it holds
 * something: that is looked at again within the act.
 */
export async function forgetDrive(db: CatalogDatabase, driveId: string): Promise<DriveHolding> {
  const tables = [
    db.drives,
    db.files,
    db.photos,
    db.settings,
    db.outbox,
    db.conflicts,
    db.retired,
    db.leftBehind,
    db.archiveProblems,
    db.historyFiles,
    db.tracks,
  ];
  return db.transaction('rw', tables, async () => {
    const holding = await whatItHolds(db, driveId);
    if (holding) return holding;
    const files = await db.files.where('driveId').equals(driveId).primaryKeys();
    await db.files.bulkDelete(files);
    await db.conflicts.bulkDelete(files);
    for (const table of [db.outbox, db.retired, db.leftBehind]) await table.where('driveId').equals(driveId).delete();
    for (const table of [db.archiveProblems, db.historyFiles])
      await table.where('id').startsWith(`${driveId}/`).delete();
    await db.tracks
      .toCollection()
      .modify((track) => void (track.places = track.places.filter((place) => place.driveId !== driveId)));
    await db.drives.delete(driveId);
    return null;
  });
}
