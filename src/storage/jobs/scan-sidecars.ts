// The sidecars of a scan: each is heard for the file it stands beside.

import { parseSidecar } from '@/core/metadata/xmp/sidecar';
import { sidecarItem } from '../catalog/changes';
import type { FileRecord, ItemProblem, PhotoRecord } from '../catalog/records';
import { type FoundSidecar, adoptSidecar, isUpToDate } from '../catalog/sidecars';
import type { DriveEntry } from '../drives/drive';
import { bytesOf } from '../drives/safe-write';
import type { ScanContext, ScanItem } from './scan-items';

/** A sidecar's bytes: as read at the beginning, or now, when it is as it was recorded. */
async function foundOf(context: ScanContext, entry: DriveEntry): Promise<FoundSidecar> {
  return (
    context.sidecars.get(entry.path)?.found ?? {
      ...entry,
      bytes: await bytesOf(await context.drive.open(entry.path)),
    }
  );
}

export async function sidecarOf(context: ScanContext, entry: DriveEntry) {
  const parsed = parseSidecar((await foundOf(context, entry)).bytes);
  return parsed.state === 'read' ? parsed.value : null;
}

/** @param isNew whether the photo came with this file, and says what the file says */
export async function meetSidecar(
  context: ScanContext,
  item: ScanItem,
  file: FileRecord,
  isNew = false,
): Promise<void> {
  if (isNew && !item.sidecar && !file.sidecar) return;
  const photo = file.photoId ? await context.tools.db.photos.get(file.photoId) : undefined;
  const entry = item.sidecar;
  if (!photo) return;
  if (!entry) {
    await context.tools.db.files.update(file.id, { sidecar: null });
    await queueIfBehind(context, file.id);
    return;
  }
  await adoptFound(context, file, photo, await foundOf(context, entry));
}

export async function adoptFound(
  context: ScanContext,
  file: FileRecord,
  photo: PhotoRecord,
  found: FoundSidecar,
): Promise<void> {
  const { report, tools } = context;
  const taken = await adoptSidecar(tools.db, file.id, found, tools.now());
  if (taken.state === 'unreadable') {
    report.problems.push(...taken.problems.map((problem): ItemProblem => ({ path: found.path, problem })));
    return;
  }
  report.sidecarsTaken += taken.tookOver > 0 ? 1 : 0;
  report.conflicts += taken.conflicts > 0 ? 1 : 0;
}

export async function queueIfBehind(context: ScanContext, fileId: string): Promise<void> {
  const file = await context.tools.db.files.get(fileId);
  const photo = file?.photoId ? await context.tools.db.photos.get(file.photoId) : undefined;
  if (file && photo && !isUpToDate(file, photo))
    await context.tools.db.outbox.put(sidecarItem(file, context.tools.now()));
}
