// Photos go from one drive to another: copied there and verified, and only then what lay here is set aside, as one act
// that undo takes back. Frames go whole: where one file of a frame may not go, none of it leaves. Files of other drives
// stay where they are.
//
//   every file of the frame here has a verified copy there   → those here are set aside
//   one of them is damaged, in doubt, or could not be copied → all of them stay

import type { FileMove } from '@/core/catalog/change';
import { copyStatusOf } from '@/core/fixity/copies';
import { isInUse } from '@/core/fixity/keeping';
import { baseOf, folderIn, nameIn } from '@/core/names/file-names';
import { pathAside } from '@/core/names/set-aside';
import { pathUnder } from '@/core/take-in/frames';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import { FreeNames, folderAt, isAside, isAtOrBelow } from './folder-moves';
import { readKeeping } from './keeping';
import type { FileRecord, GoingOver } from './records';
import { type FrameFiles, framesOfPhotos } from './renaming';
import { planAside } from './set-aside';

export interface OverOrder {
  sourceId: string;
  targetId: string;
  photoIds: readonly string[];
  over: Pick<GoingOver, 'from' | 'to'>;
}

export interface OverPlan {
  /** The photos that go, companions too. */
  photoIds: string[];
  /** Files to be copied, and where each is to lie. */
  places: { file: FileRecord; path: string }[];
  bytes: number;
  /** Photos that come along because they share the base name of a chosen one. */
  companions: number;
  /** Photos that have a verified copy on the other drive already. */
  there: number;
  renamed: { before: string; after: string }[];
  /** Photos of which a file is damaged or in doubt: their frames stay. */
  stays: number;
}

/** How many of these photos each drive has. */
export async function drivesOf(db: CatalogDatabase, photoIds: readonly string[]): Promise<Map<string, number>> {
  const files = await db.files
    .where('photoId')
    .anyOf([...photoIds])
    .toArray();
  const had = new Set(
    files.flatMap((file) => (file.state === 'missing' || isAside(file) ? [] : `${file.driveId} ${file.photoId}`)),
  );
  const counts = new Map<string, number>();
  for (const one of had) {
    const [driveId = ''] = one.split(' ');
    counts.set(driveId, (counts.get(driveId) ?? 0) + 1);
  }
  return counts;
}

/** Planned again by the job, it begins where it was: what is there verified is not copied twice, under no other name. */
export async function planOver(db: CatalogDatabase, order: OverOrder): Promise<OverPlan> {
  const plan: OverPlan = { photoIds: [], places: [], bytes: 0, companions: 0, there: 0, renamed: [], stays: 0 };
  const names = new FreeNames(db);
  const chosen = new Set(order.photoIds);
  for (const frame of await framesOfPhotos(db, [...chosen])) {
    const going = goingOf(frame, order);
    if (!going) continue;
    const ids = [...new Set(going.files.flatMap(({ photoId }) => photoId ?? []))];
    if (going.files.some(({ state }) => state !== 'present')) {
      plan.stays += ids.length;
      continue;
    }
    const arrived = going.there.find((file) => folderIn(pathToBe(file)) === going.folder);
    const base = arrived
      ? baseOf(nameIn(pathToBe(arrived)))
      : await names.freeFor([order.targetId], going.there, going.folder, going.base);
    if (base !== going.base) plan.renamed.push({ before: going.base, after: base });
    for (const file of going.files) {
      if (verifiedIn(frame, going.there, file)) plan.there += 1;
      else {
        const before = pathToBe(file);
        const path = pathUnder(before, { base: baseOf(nameIn(before)) }, going.folder, base);
        plan.places.push({ file, path });
        plan.bytes += file.sizeBytes;
      }
    }
    plan.photoIds.push(...ids);
    plan.companions += ids.filter((id) => !chosen.has(id)).length;
  }
  return plan;
}

/** A frame of which every file has a verified copy on the other drive. */
export interface LeavingFrame {
  files: { file: FileRecord; copy: FileRecord }[];
  /** All that it has there. */
  there: FileRecord[];
}

/** What may leave: none where the other drive bears no mark, or is retired or lost, for nothing on it counts. */
export async function framesLeaving(db: CatalogDatabase, order: OverOrder): Promise<LeavingFrame[]> {
  const target = await db.drives.get(order.targetId);
  if (!target?.marked || !isInUse(await readKeeping(db), target.id)) return [];
  return (await framesOfPhotos(db, [...order.photoIds])).flatMap((frame) => {
    const going = goingOf(frame, order);
    const files = (going?.files ?? []).flatMap((file) => {
      const copy = file.state === 'present' ? verifiedIn(frame, going?.there ?? [], file) : undefined;
      return copy ? [{ file, copy }] : [];
    });
    return going && files.length === going.files.length ? [{ files, there: going.there }] : [];
  });
}

/**
 * These frames leave. Undone, their files are where they were, and those that came by this act go aside on the other
 * drive.
 * @param arrived ids of the files that came by this act
 * @param day ISO date of today, by the person's calendar
 */
export async function planLeaving(
  db: CatalogDatabase,
  frames: readonly LeavingFrame[],
  arrived: ReadonlySet<string>,
  day: string,
): Promise<FileMove[]> {
  const came = frames.flatMap(({ there }) => there).filter(({ id }) => arrived.has(id));
  return [
    ...(await planAside(
      db,
      frames.flatMap(({ files }) => files.map(({ file }) => file)),
      day,
    )),
    ...came.map(({ photoId, driveId, path }) => ({
      photoId: photoId ?? '',
      driveId,
      before: pathAside(path, day),
      after: path,
    })),
  ];
}

interface Going {
  /** Of one folder of the drive they leave. */
  files: FileRecord[];
  /** What the frame has on the other drive. */
  there: FileRecord[];
  /** Where it is to lie there. */
  folder: string;
  base: string;
}

function goingOf(frame: FrameFiles, { sourceId, targetId, over }: OverOrder): Going | null {
  const files = frame.files.filter((file) => !isAside(file));
  const of = ({ from }: OverOrder['over'], file: FileRecord) =>
    from === null || isAtOrBelow(folderIn(pathToBe(file)), from);
  const here = files.filter((file) => file.driveId === sourceId && of(over, file));
  const [first] = here;
  if (!first) return null;
  const from = folderIn(pathToBe(first));
  return {
    files: here.filter((file) => folderIn(pathToBe(file)) === from),
    there: files.filter(({ driveId }) => driveId === targetId),
    folder: over.from === null ? over.to : folderAt(from, over.from, over.to),
    base: baseOf(nameIn(pathToBe(first))),
  };
}

/** The verified copy of a file that its frame has there. */
function verifiedIn(
  { photos }: FrameFiles,
  there: readonly FileRecord[],
  { photoId }: FileRecord,
): FileRecord | undefined {
  const photo = photos.find(({ id }) => id === photoId);
  return photo && there.find((file) => file.photoId === photoId && copyStatusOf(file, photo) === 'verified');
}
