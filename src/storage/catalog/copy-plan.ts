// What a copy would do, before it runs: which photos go from which drive, what is there already, and what stands in the
// way. By content: what is verified on the target, under whatever name and in whatever folder, is not copied again.

import { type CopyPlan, NO_COPIES } from '@/core/fixity/copy-plan';
import { foldName, nameIn } from '@/core/names/file-names';
import type { Pattern } from '@/core/names/pattern';
import { asideOf } from '@/core/names/set-aside';
import { pathToBe } from './changes';
import { copyPlaces } from './copy-places';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { byPhoto } from './search-feed';

export interface CopyAsked {
  /** `null`: all photos of the sources. */
  photoIds: readonly string[] | null;
  /** Drives that can be read now; of a photo that several have, the first is the source. */
  sourceIds: readonly string[];
  targetId: string;
  /** Folders there by this pattern; `null`: as on the source. */
  folders: Pattern | null;
}

export async function planCopies(
  db: CatalogDatabase,
  { photoIds, sourceIds, targetId, folders }: CopyAsked,
): Promise<CopyPlan> {
  const [sources, target] = [
    await Promise.all(sourceIds.map((id) => filesOf(db, id, photoIds !== null))),
    byPhoto(await filesOf(db, targetId, true)),
  ];
  const names = new Map([...target.values()].flat().map(({ path, photoId }) => [foldName(path), photoId]));
  const leftOut = new Set((await db.leftOut.toArray()).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const bySource = sources.map(byPhoto);
  const asked =
    photoIds ?? [...new Set(bySource.flatMap((files) => [...files.keys()]))].filter((id) => !leftOut.has(id));
  const plan: CopyPlan = {
    ...NO_COPIES,
    from: sourceIds.map((driveId) => ({ driveId, photoIds: [], bytes: 0 })),
  };
  const going: FileRecord[][] = sourceIds.map(() => []);
  for (const photoId of asked) {
    const there = target.get(photoId) ?? [];
    const have = bySource.map((files) => files.get(photoId) ?? []);
    const at = have.findIndex((files) => files.some(({ state }) => state === 'present'));
    const source = have[at]?.find(({ state }) => state === 'present');
    if (there.some(({ state, verifiedAt }) => state === 'present' && verifiedAt !== null)) {
      plan.there += 1;
      if (source && !there.some(({ path }) => path === source.path)) plan.elsewhereThere += 1;
    } else if (source) {
      const from = plan.from[at];
      from?.photoIds.push(photoId);
      if (from) from.bytes += source.sizeBytes;
      plan.photos += 1;
      plan.bytes += source.sizeBytes;
      if (there.some(({ state }) => state === 'present')) plan.unreadThere += 1;
      const owner = names.get(foldName(source.path));
      if (!folders && owner !== undefined && owner !== photoId) plan.renamed += 1;
      going[at]?.push(source);
    } else if (have.some((files) => files.length > 0)) plan.doubtful += 1;
    else plan.away += 1;
  }
  if (folders) await lookAtPlaces(db, { going, sources, target: [...target.values()].flat() }, folders, plan);
  return { ...plan, from: plan.from.filter((one) => one.photoIds.length > 0) };
}

/** What the pattern makes of them, drive by drive. */
async function lookAtPlaces(
  db: CatalogDatabase,
  { going, sources, target }: { going: FileRecord[][]; sources: FileRecord[][]; target: FileRecord[] },
  folders: Pattern,
  plan: CopyPlan,
): Promise<void> {
  const onTarget: Pick<FileRecord, 'path' | 'photoId'>[] = [...target];
  for (const [at, some] of going.entries()) {
    const places = await copyPlaces(db, { going: some, chosen: sources[at] ?? [], onTarget, folders });
    for (const { path, photoId } of some) {
      const to = places.get(path) ?? path;
      plan.example ??= { from: path, to };
      if (nameIn(to) !== nameIn(path)) plan.renamed += 1;
      onTarget.push({ path: to, photoId });
    }
  }
}

/** Those that are there; what is set aside only where its photo was asked for itself. */
const filesOf = async (db: CatalogDatabase, driveId: string, withAside: boolean): Promise<FileRecord[]> =>
  (await db.files.where('driveId').equals(driveId).toArray()).filter(
    (file) =>
      file.photoId !== null &&
      (file.state === 'present' || file.state === 'damaged' || file.state === 'doubt') &&
      (withAside || asideOf(pathToBe(file)) === null),
  );
