// Sidecars left behind: no photo of their name lies beside them, because another program moved it or erased it. They are
// found by a scan, and put beside their photo when the person says so:
//
//   the photo has no sidecar                → it is moved there, and heard as any that is found
//   it has one                              → what it says meets the catalog; both versions stay where both changed it,
//                                             and the sidecar is set aside
//
// Whose it is, is a guess until the person says so: by its name, and where several photos bear that, by the number or
// the date they have in common.

import { endingOf, isSidecarName, rawsFirst } from '@/core/formats/containers/formats';
import { parseSidecar } from '@/core/metadata/xmp/sidecar';
import type { FieldValues } from '@/core/fields/registry';
import { sameValue, wordsIn } from '@/core/fields/values';
import { baseOf, foldName, folderIn, nameIn } from '@/core/names/file-names';
import { pathAside } from '@/core/names/set-aside';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import { bytesOf, freePath, openIfThere, readIfThere } from '../drives/safe-write';
import type { CatalogDatabase } from './database';
import { isAside } from './folder-moves';
import type { FileRecord, LeftBehindRecord } from './records';
import { type Taken, adoptSidecar, meetLeftBehind } from './sidecars';

/** Sidecars beside which nothing bears their name, of all that lies on a drive. */
export function sidecarsAlone(entries: readonly DriveEntry[], chosen: ReadonlySet<string>): DriveEntry[] {
  const beside = new Set(
    entries.filter(({ path }) => !isSidecarName(path)).flatMap(({ path }) => [foldName(path), foldName(stemOf(path))]),
  );
  return entries.filter(({ path }) => isSidecarName(path) && !chosen.has(path) && !beside.has(foldName(stemOf(path))));
}

/** The path without its ending: of `2019/a.jpg.xmp` that of the file it stands beside. */
const stemOf = (path: string): string => path.slice(0, path.length - nameIn(path).length) + baseOf(nameIn(path));

/** As a scan found them; what it did not find is no longer there. */
export async function noteLeftBehind(
  db: CatalogDatabase,
  driveId: string,
  found: readonly DriveEntry[],
): Promise<void> {
  await db.transaction('rw', db.leftBehind, async () => {
    await db.leftBehind.where('driveId').equals(driveId).delete();
    await db.leftBehind.bulkPut(
      found.map(({ path, sizeBytes, modifiedMs }) => ({
        id: `${driveId}/${path}`,
        driveId,
        path,
        sizeBytes,
        modifiedMs,
      })),
    );
  });
}

export interface LeftBehind {
  record: LeftBehindRecord;
  /** Files it may belong to; one where that is clear. */
  of: FileRecord[];
}

/**
 * The first ones that are there, with the files they may belong to.
 * @param driveOf to read what they say; away drives are judged by names alone
 */
export async function listLeftBehind(
  db: CatalogDatabase,
  driveOf: (driveId: string) => Drive | null,
  limit: number,
): Promise<LeftBehind[]> {
  const records = await db.leftBehind.limit(limit).toArray();
  const byName = new Map<string, FileRecord[]>();
  for (const driveId of new Set(records.map((record) => record.driveId)))
    for (const file of await db.files.where('driveId').equals(driveId).toArray()) {
      if (file.photoId === null || file.state === 'missing' || isAside(file)) continue;
      const name = nameIn(file.path);
      for (const key of new Set([foldName(name), foldName(baseOf(name))])) {
        const known = byName.get(`${driveId}/${key}`);
        if (known) known.push(file);
        else byName.set(`${driveId}/${key}`, [file]);
      }
    }
  return Promise.all(
    records.map(async (record) => {
      const named = byName.get(`${record.driveId}/${foldName(baseOf(nameIn(record.path)))}`) ?? [];
      const drive = named.length > 0 ? driveOf(record.driveId) : null;
      const bytes = drive && (await readIfThere(drive, record.path).catch(() => null));
      return { record, of: bytes ? await fitting(db, named, bytes) : oneAFrame(named) };
    }),
  );
}

/** Of those that bear its name the ones it fits best. */
async function fitting(db: CatalogDatabase, named: FileRecord[], bytes: Uint8Array): Promise<FileRecord[]> {
  const parsed = parseSidecar(bytes);
  if (parsed.state !== 'read') return [];
  const { fields, forEnding } = parsed.value;
  const files = oneAFrame(forEnding === null ? named : named.filter(({ path }) => endingOf(path) === forEnding));
  if (files.length < 2) return files;
  const photos = await db.photos.bulkGet(files.map(({ photoId }) => photoId ?? ''));
  const alike = files.filter((_, index) => haveInCommon(fields, photos[index]?.fields ?? {}));
  return alike.length > 0 ? alike : files;
}

/** `NAME.xmp` is the raw’s, else the first one’s by name. */
function oneAFrame(files: readonly FileRecord[]): FileRecord[] {
  const byFolder = new Map<string, FileRecord>();
  for (const file of files.toSorted((a, b) => rawsFirst(a.path, b.path)))
    if (!byFolder.has(folderIn(file.path))) byFolder.set(folderIn(file.path), file);
  return [...byFolder.values()];
}

function haveInCommon(a: FieldValues, b: FieldValues): boolean {
  const numbers = new Set(wordsIn(a.identifier));
  return (
    wordsIn(b.identifier).some((number) => numbers.has(number)) ||
    (a.captured !== undefined && sameValue(a.captured, b.captured))
  );
}

/**
 * Puts it beside the file the person chose. A stop in the middle leaves it where it was, or beside its photo, where the
 * next scan hears it.
 * @param day ISO date of today, by the person's calendar
 * @throws DriveError where it is another by now, or the file is gone
 */
export async function rejoinSidecar(
  db: CatalogDatabase,
  drive: Drive,
  { id, path, sizeBytes, modifiedMs }: LeftBehindRecord,
  fileId: string,
  at: number,
  day: string,
): Promise<Taken> {
  await drive.confirm();
  const file = await db.files.get(fileId);
  if (!file?.photoId || !(await openIfThere(drive, file.path))) throw new DriveError('not-found', file?.path ?? fileId);
  const there = await openIfThere(drive, path);
  if (there?.size !== sizeBytes || there.lastModified !== modifiedMs) throw new DriveError('changed-meanwhile', path);
  const bytes = await bytesOf(there);
  const target = file.sidecar?.path ?? file.sidecarTarget;
  const isFirst = file.sidecar === null && (await openIfThere(drive, target)) === null;
  const met = isFirst ? null : await meetLeftBehind(db, fileId, bytes, at);
  if (met?.state === 'unreadable') return met;
  const to = await drive.alone(async () => {
    const now = await openIfThere(drive, path);
    if (now?.size !== sizeBytes || now.lastModified !== modifiedMs) throw new DriveError('changed-meanwhile', path);
    const free = isFirst ? target : await freePath(drive, pathAside(path, day));
    await drive.move(path, free);
    return free;
  });
  await db.leftBehind.delete(id);
  return met ?? adoptSidecar(db, fileId, { path: to, sizeBytes, modifiedMs, bytes }, at);
}
