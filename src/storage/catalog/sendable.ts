// Photos as a delivery sees them, and which names are taken where they go.

import { type Keeping, photoSafety } from '@/core/fixity/keeping';
import { capturedIn } from '@/core/fields/values';
import { baseOf, foldName, folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import { sentByPhoto } from '@/core/send-out/delivery';
import type { DeliveryPlan, SendablePhoto } from '@/core/send-out/delivery-plan';
import { type WordMarks, privateMarks } from '@/core/send-out/words-policy';
import { vocabularyOf } from '@/core/vocabulary/vocabulary';
import { type Drive, DriveError } from '../drives/drive';
import type { CatalogDatabase } from './database';
import { photoBatches } from './describing';
import { readKeeping } from './keeping';
import type { FileRecord, PhotoRecord } from './records';
import { namingOf } from './renaming';
import { byPhoto } from './search-feed';

/** What decides which words leave, as the catalog has it now. */
export async function wordMarksOf(db: CatalogDatabase): Promise<WordMarks> {
  const words = await db.vocabulary.toArray();
  return { marks: privateMarks(words, await db.spots.toArray()), vocabulary: vocabularyOf(words) };
}

/** Files that were sent from here, as a scan meets them: they are made of photos, and are none. */
export interface SentHere {
  fingerprints: ReadonlySet<string>;
  /** `driveId/path` */
  places: ReadonlySet<string>;
  /**
   * Where a delivery that was interrupted may have placed a file without having noted it, and since when: what lies there
   * and is older is somebody else's.
   */
  coming: ReadonlyMap<string, number>;
}

export async function sentHere(db: CatalogDatabase): Promise<SentHere> {
  const items = await db.deliveryItems.toArray();
  const files = [
    ...(await db.deliveries.toArray()).flatMap((one) => one.files ?? []),
    ...items.flatMap(({ sent }) => sent ?? []),
  ];
  // an original that was sent untouched is a copy of its photo
  const made = files.filter(({ width }) => width !== null);
  const runs = new Map((await db.deliveryRuns.toArray()).map((run) => [run.id, run]));
  const coming = new Map<string, number>();
  for (const { runId, driveId, path, sent } of items) {
    const run = runs.get(runId);
    if (run?.profile.picture.kind === 'made' && !sent) coming.set(`${driveId}/${path}`, run.begunAt);
  }
  return {
    fingerprints: new Set(made.map(({ fingerprint }) => fingerprint)),
    places: new Set(made.map(({ driveId, path }) => `${driveId}/${path}`)),
    coming,
  };
}

export type DriveAccess = 'away' | 'read' | 'write';

/** In the order of `photoIds`; those that are no longer there are left out. */
export async function sendablePhotos(
  db: CatalogDatabase,
  photoIds: readonly string[],
  accessTo: (driveId: string) => DriveAccess,
  now: number,
): Promise<SendablePhoto[]> {
  const sent = sentByPhoto(await db.deliveries.toArray());
  const keeping = await readKeeping(db);
  const sendable: SendablePhoto[] = [];
  for await (const { photos } of photoBatches(db, photoIds)) {
    const files = byPhoto(
      await db.files
        .where('photoId')
        .anyOf(photos.map(({ id }) => id))
        .toArray(),
    );
    for (const photo of photos) {
      const own = files.get(photo.id) ?? [];
      sendable.push({ ...asSendable(photo, own, accessTo, { keeping, now }), sentTo: sent.get(photo.id) ?? [] });
    }
  }
  return sendable;
}

function asSendable(
  photo: PhotoRecord,
  files: readonly FileRecord[],
  accessTo: (driveId: string) => DriveAccess,
  { keeping, now }: { keeping: Keeping; now: number },
): Omit<SendablePhoto, 'sentTo'> {
  const there = files.filter(({ driveId, state }) => accessTo(driveId) !== 'away' && state !== 'missing');
  // where it came first: what goes beside it is not to land on a second copy's drive
  const sound = there
    .filter(({ state }) => state === 'present')
    .sort((a, b) => (a.addedAt ?? 0) - (b.addedAt ?? 0))
    .at(0);
  const file = sound ?? there[0] ?? files[0];
  const path = file?.path ?? '';
  return {
    id: photo.id,
    driveId: file?.driveId ?? '',
    path,
    sizeBytes: file?.sizeBytes ?? photo.bytes,
    state: sound ? 'here' : there.length > 0 ? 'damaged' : 'away',
    isWritable: file !== undefined && accessTo(file.driveId) === 'write',
    format: photo.format,
    seconds: photo.seconds,
    width: photo.width,
    height: photo.height,
    profile: photo.profile,
    fields: photo.fields,
    embedded: file?.embedded ?? photo.embedded,
    isSafe: photoSafety(files, photo, keeping).until > now,
    naming: namingOf(path, capturedIn(photo.fields), photo),
  };
}

/** Base names in use in the folders that a plan goes to, as `driveId/folder/base`, folded. */
export async function takenNames(
  plan: Pick<DeliveryPlan, 'files'>,
  driveOf: (driveId: string) => Drive | null,
): Promise<Set<string>> {
  const folders = new Map(
    plan.files.map(({ driveId, path }) => [joinedPath(driveId, folderIn(path)), { driveId, folder: folderIn(path) }]),
  );
  const taken = new Set<string>();
  for (const [key, { driveId, folder }] of folders) {
    const drive = driveOf(driveId);
    if (!drive) continue;
    try {
      for await (const { path } of drive.list({ below: folder, shallow: true }))
        taken.add(foldName(joinedPath(key, baseOf(nameIn(path)))));
    } catch (error) {
      if (!(error instanceof DriveError)) throw error; // it is told when the delivery begins
    }
  }
  return taken;
}
