// Emptying a card: what may go is decided from the catalog, and proven once more at each file: it is read in full, its digest
// must be that of the proven copies, and only then it is removed. Nothing brings it back, so every doubt keeps the file.

import { copiesOf } from '@/core/fixity/copies';
import { type Emptying, type ReadOnCard, planEmptying } from '@/core/take-in/emptying';
import { filesOf, framesOf } from '@/core/take-in/frames';
import { isPhotoName } from '@/core/containers/formats';
import { pathBeside } from '@/core/names/file-names';
import type { CatalogDatabase } from '../catalog/database';
import type { AccessionFileRecord, JobReport } from '../catalog/records';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import { openIfThere } from '../drives/safe-write';
import type { Hands } from './hands';
import { type JobTools, forEachItem, startProgress, troubleOf } from './job-tools';
import { suspectOf } from './source-look';

export type EmptyReport = JobReport & { kind: 'empty' };

interface Place {
  driveId: string;
  path: string;
  /** `null` for a sidecar, which grows with what is written into it. */
  sizeBytes: number | null;
}

interface Proof extends ReadOnCard {
  sha256: string;
  /** Where the proven copies lie; one a drive. */
  places: Place[];
}

interface EmptyingTools {
  db: CatalogDatabase;
  hands: Pick<Hands, 'read'>;
  signal: AbortSignal;
}

export interface CardStanding {
  plan: Emptying;
  proofs: Map<string, Proof>;
}

/** Which files of a card are proven to be elsewhere often enough, and what stands in the way of the others. */
export async function cardStanding(tools: EmptyingTools, source: Drive, copiesWanted: number): Promise<CardStanding> {
  const entries: DriveEntry[] = [];
  for await (const entry of source.list({ signal: tools.signal })) entries.push(entry);
  const { frames, others } = framesOf(entries, true);
  const files = frames.flatMap(filesOf);
  const proofs = new Map<string, Proof>();
  for (const file of files) {
    tools.signal.throwIfAborted();
    const proof = (await byAccession(tools.db, file)) ?? (isPhotoName(file.path) ? await byFingerprint(tools, source, file) : null);
    if (proof) proofs.set(file.path, proof);
  }
  return { plan: planEmptying(files, others, proofs, copiesWanted), proofs };
}

/** As it was read when it was taken in: the same path, length and time on the card. */
async function byAccession(db: CatalogDatabase, { path, sizeBytes, modifiedMs }: DriveEntry): Promise<Proof | null> {
  const known = await db.accessionFiles.where('from').equals(path).filter((file) => file.sha256 !== null && file.sizeBytes === sizeBytes && file.modifiedMs === modifiedMs).toArray();
  for (const file of known) {
    const { sha256, photoId, role } = file;
    // a record read back from a drive does not know which photo it speaks of: the photo's own bytes are asked
    if (sha256 === null || (role === 'photo' && photoId === null)) continue;
    const places = photoId === null ? await placesBeside(db, file) : await provenPlaces(db, photoId, sha256);
    if (places.length > 0) return proofOf({ sizeBytes, modifiedMs }, sha256, places);
  }
  return null;
}

/** Where a sidecar or a spoken note lies now on the drives it was proven on: beside its photo, which may have been renamed since. */
async function placesBeside(db: CatalogDatabase, { accessionId, frame, from, placed, role, sizeBytes }: AccessionFileRecord): Promise<Place[]> {
  const photos = await db.accessionFiles.where('accessionId').equals(accessionId).filter((file) => file.frame === frame && file.photoId !== null).toArray();
  const files = await db.files.where('photoId').anyOf(photos.flatMap(({ photoId }) => photoId ?? [])).toArray();
  return placed.flatMap(({ driveId, path }) => {
    const photo = files.find((file) => file.driveId === driveId && file.state === 'present');
    const photoFrom = photos.find(({ photoId }) => photoId === photo?.photoId)?.from;
    const now = photo && photoFrom !== undefined ? pathBeside(from, photoFrom, photo.path) : path;
    return [{ driveId, path: now, sizeBytes: role === 'sidecar' ? null : sizeBytes }];
  });
}

/** Known to the catalog from before. */
async function byFingerprint({ db, hands, signal }: EmptyingTools, source: Drive, { path, sizeBytes, modifiedMs }: DriveEntry): Promise<Proof | null> {
  const { fingerprint } = await hands.read(await source.open(path), path, signal);
  const suspect = await suspectOf(db, fingerprint);
  return suspect?.sha256 ? proofOf({ sizeBytes, modifiedMs }, suspect.sha256, await provenPlaces(db, suspect.photo.id, suspect.sha256)) : null;
}

const proofOf = (file: Pick<DriveEntry, 'sizeBytes' | 'modifiedMs'>, sha256: string, places: Place[]): Proof => ({ ...file, sha256, places, driveIds: [...new Set(places.map(({ driveId }) => driveId))] });

/** Proven copies of the photo, provided it is the photo of these bytes. */
async function provenPlaces(db: CatalogDatabase, photoId: string, sha256: string): Promise<Place[]> {
  const photo = await db.photos.get(photoId);
  const files = await db.files.where('photoId').equals(photoId).toArray();
  if (!photo || (photo.sha256 !== sha256 && !files.some((file) => file.sha256 === sha256))) return [];
  return copiesOf(files, photo).flatMap(({ driveId, path, standing }) => {
    const file = files.find((one) => one.driveId === driveId && one.path === path);
    return standing === 'proven' && file ? [{ driveId, path, sizeBytes: file.sizeBytes }] : [];
  });
}

/** Removes what may go, provided that is what the person agreed to. @param driveOf a drive that is connected now. */
export async function emptySource(tools: JobTools, source: Drive, agreed: { files: number; copies: number }, driveOf: (driveId: string) => Drive | null): Promise<EmptyReport> {
  const { db, hands, control } = tools;
  const report: EmptyReport = { kind: 'empty', removed: 0, bytes: 0, kept: [], troubles: [] };
  control.reporting(report);
  const { plan: { removable, obstacles }, proofs } = await cardStanding({ db, hands, signal: control.signal }, source, agreed.copies);
  if (removable.length > agreed.files) throw new Error('not-agreed');
  report.kept = obstacles.map(({ path }) => path);
  const progress = startProgress('removing', removable.length, removable.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  const work = async (file: DriveEntry) => {
    const proof = proofs.get(file.path);
    const opened = await source.open(file.path);
    const digests = await hands.digest(opened, (bytes) => {
      progress.doneBytes += bytes;
      control.progress({ ...progress });
    }, control.signal);
    if (!proof || digests.file !== proof.sha256) throw new DriveError('changed-meanwhile', file.path);
    if ((await standing(proof.places, driveOf)) < agreed.copies) throw new DriveError('copies-gone', file.path);
    await source.remove(file.path);
    report.removed += 1;
    report.bytes += file.sizeBytes;
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  await forEachItem(removable, control, work, (file, error) => report.troubles.push(troubleOf(file.path, error)));
  return report;
}

/** How many of the copies stand: on a connected drive the file must be there, at its length; an away drive has its word. */
async function standing(places: readonly Place[], driveOf: (driveId: string) => Drive | null): Promise<number> {
  let count = 0;
  for (const { driveId, path, sizeBytes } of places) {
    const drive = driveOf(driveId);
    const there = drive && (await openIfThere(drive, path));
    if (!drive || (there && (sizeBytes === null || there.size === sizeBytes))) count += 1;
  }
  return count;
}
