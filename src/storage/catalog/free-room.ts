// What may go from a drive to free room there, and why the rest stays. Nothing is removed by asking.

import { type StayReason, STAY_REASONS, whyStays } from '@/core/fixity/leaving';
import type { Keeping } from '@/core/fixity/keeping';
import { asideOf } from '@/core/names/set-aside';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import { readKeeping } from './keeping';
import { byPhoto } from './search-feed';
import type { FileRecord, PhotoRecord } from './records';

export interface RoomAsked {
  driveId: string;
  /** `null` for all that lies there. */
  photoIds: readonly string[] | null;
  /** Whether copies on drives that are away count. */
  awayCounts: boolean;
  isHere: (driveId: string) => boolean;
  now: number;
}

export interface RoomPlan {
  /** By path. */
  leaving: FileRecord[];
  bytes: number;
  /** Paths that stay, by reason. */
  staying: Record<StayReason, string[]>;
}

/** Photos looked at in one go. */
const AT_ONCE = 2000;

/** What is told while it is asked; a plan of many photos takes a while. */
export interface RoomProgress {
  signal?: AbortSignal;
  onProgress?: (done: { photos: number; of: number }) => void;
}

export async function planRoom(
  db: CatalogDatabase,
  asked: RoomAsked,
  { signal, onProgress }: RoomProgress = {},
): Promise<RoomPlan> {
  const keeping = await readKeeping(db);
  const busy = await busyFiles(db);
  const plan: RoomPlan = {
    leaving: [],
    bytes: 0,
    staying: Object.fromEntries(STAY_REASONS.map((why) => [why, [] as string[]])) as RoomPlan['staying'],
  };
  for await (const { photos, files, done } of photosOn(db, asked)) {
    signal?.throwIfAborted();
    onProgress?.(done);
    for (const photo of photos) {
      const all = photo ? (files.get(photo.id) ?? []) : [];
      for (const file of all) {
        if (!photo || !isOnDrive(file, asked)) continue;
        const why = whyFileStays(file, all, photo, keeping, asked, busy);
        if (why) plan.staying[why].push(file.path);
        else {
          plan.leaving.push(file);
          plan.bytes += file.sizeBytes;
        }
      }
    }
  }
  plan.leaving.sort((a, b) => (a.path < b.path ? -1 : 1));
  return plan;
}

/** Whether one file that was planned to go may go still, as it is recorded now. */
export async function mayLeave(db: CatalogDatabase, fileId: string, asked: RoomAsked): Promise<boolean> {
  const file = await db.files.get(fileId);
  const photo = await db.photos.get(file?.photoId ?? '');
  if (!file || !photo || !isOnDrive(file, asked)) return false;
  const all = await db.files.where('photoId').equals(photo.id).toArray();
  const ids = all.map(({ id }) => id);
  const waiting = await db.outbox.bulkGet(ids.flatMap((id) => [id, `move:${id}`, `erase:${id}`]));
  const busy = new Set((await db.conflicts.bulkGet(ids)).flatMap((conflict) => conflict?.fileId ?? []));
  for (const item of waiting) if (item && 'fileId' in item.task) busy.add(item.task.fileId);
  return whyFileStays(file, all, photo, await readKeeping(db), asked, busy) === null;
}

/** What is set aside goes by being erased. */
const isOnDrive = (file: FileRecord, { driveId }: RoomAsked): boolean =>
  file.driveId === driveId && file.state !== 'missing' && asideOf(pathToBe(file)) === null;

function whyFileStays(
  file: FileRecord,
  all: readonly FileRecord[],
  photo: PhotoRecord,
  keeping: Keeping,
  asked: RoomAsked,
  busy: ReadonlySet<string>,
): StayReason | null {
  const counted = all.filter((other) => asideOf(pathToBe(other)) === null);
  return whyStays(file, counted, photo, keeping, asked) ?? (all.some(({ id }) => busy.has(id)) ? 'waits' : null);
}

/** The photos that are asked about, with all their files; some at a time. */
async function* photosOn(db: CatalogDatabase, { driveId, photoIds }: RoomAsked) {
  if (photoIds) {
    for (let at = 0; at < photoIds.length; at += AT_ONCE) {
      const part = photoIds.slice(at, at + AT_ONCE);
      const files = byPhoto(await db.files.where('photoId').anyOf(part).toArray());
      yield { photos: await db.photos.bulkGet(part), files, done: { photos: at, of: photoIds.length } };
    }
    return;
  }
  // of a whole drive it is quicker to read all drives through than to ask for each photo
  const files = byPhoto(await db.files.where('driveId').equals(driveId).toArray());
  const drives = (await db.drives.toArray()).filter(({ id }) => id !== driveId);
  for (const { id } of drives)
    for (const file of await db.files.where('driveId').equals(id).toArray()) files.get(file.photoId ?? '')?.push(file);
  const ids = [...files.keys()];
  for (let at = 0; at < ids.length; at += AT_ONCE)
    yield { photos: await db.photos.bulkGet(ids.slice(at, at + AT_ONCE)), files, done: { photos: at, of: ids.length } };
}

/** Files whose words or moves wait, which others are copied from, or of which two versions are to be decided. */
async function busyFiles(db: CatalogDatabase): Promise<Set<string>> {
  const busy = new Set(await db.conflicts.toCollection().primaryKeys());
  for (const { task } of await db.outbox.toArray()) {
    if (task.kind === 'sidecar' || task.kind === 'move' || task.kind === 'erase') busy.add(task.fileId);
    if (task.kind === 'copy') busy.add(`${task.from.driveId}/${task.from.path}`);
  }
  return busy;
}
