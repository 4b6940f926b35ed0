// What the catalog knows of the files of a drive, written into the drive's own records; and those read back.

import { type FixityLine, mergeFixity } from '../archive/fixity-file';
import { readIdentities, writeIdentities } from '../archive/archive-files';
import { type Drive, DriveError } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';

/**
 * The manifest lists what the drive should hold, damaged and missing files included, by the digest they should have.
 * What this catalog does not know stays as it is. A job that ends and the outbox may both come to write it, from two
 * tabs too; whoever comes second finds it changed, and writes again what holds then.
 */
export async function writeFixityOf(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      return await writeNow(db, driveId, drive);
    } catch (error) {
      if (tries === TRIES || !isWrittenMeanwhile(error)) throw error;
    }
  }
}

/** Also where the file was replaced while it was being read: the browser then refuses to read on. */
const isWrittenMeanwhile = (error: unknown): boolean =>
  error instanceof DriveError
    ? error.problem === 'changed-meanwhile' || isWrittenMeanwhile(error.cause)
    : error instanceof Error && error.name === 'NotReadableError';

/** How often it is merged anew because somebody else wrote it at the same time. */
const TRIES = 8;

async function writeNow(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const retiredNow = () => db.retired.where('driveId').equals(driveId).primaryKeys();
  const retired = new Set(await retiredNow());
  // a file that moves while its drive's records are merged would stand in them twice
  const stillHolds = async () => (await retiredNow()).every((id) => retired.has(id));
  await mergeFixity(
    drive,
    driveId,
    () => linesOf(db, driveId),
    (path) => retired.has(`${driveId}/${path}`),
    stillHolds,
  );
  await keepIdentities(db, driveId, drive);
  await db.retired.bulkDelete([...retired]);
}

/** Read at once; more would hold up the page. */
const BATCH = 2000;

async function* filesOf(db: CatalogDatabase, driveId: string): AsyncGenerator<FileRecord[]> {
  for (let after = `${driveId}/`; ;) {
    const batch = await db.files.where('id').between(after, `${driveId}0`, false, false).limit(BATCH).toArray(); // 0 follows the slash
    yield batch;
    if (batch.length < BATCH) return;
    after = batch.at(-1)?.id ?? after;
  }
}

async function* linesOf(db: CatalogDatabase, driveId: string): AsyncGenerator<FixityLine[]> {
  for await (const batch of filesOf(db, driveId)) {
    const unread = batch.flatMap(({ sha256, photoId, fingerprint }) =>
      sha256 === null && photoId !== null && photoId === fingerprint ? [photoId] : [],
    );
    const photos = new Map(
      (await db.photos.bulkGet(unread)).flatMap((photo) => (photo ? [[photo.id, photo] as const] : [])),
    );
    yield batch.map((file) => lineOf(file, photos.get(file.photoId ?? '')));
  }
}

const lineOf = (file: FileRecord, photo: PhotoRecord | undefined): FixityLine => ({
  path: file.path,
  bytes: file.sizeBytes,
  modified: file.modifiedMs,
  sha256: file.sha256 ?? photo?.sha256 ?? '',
  ...(file.imageSha256 && { image: file.imageSha256 }),
  ...(file.verifiedAt !== null && file.state === 'present' && { verified: file.verifiedAt }),
  ...((file.state === 'damaged' || file.state === 'missing' || file.state === 'doubt') && { state: file.state }),
  ...(file.foundSha256 && { found: file.foundSha256 }),
  ...(file.fingerprint && { print: file.fingerprint }),
  ...(file.photoId && file.photoId !== file.fingerprint && { photo: file.photoId }),
  ...(file.addedAt !== undefined && { added: file.addedAt }),
});

/**
 * A photo keeps the fingerprint it began with, whatever is written into its files: rounds and collections name it by
 * that. Which file is which photo is kept beside them, for the day this catalog is lost. What another catalog noted of
 * photos this one has not read yet stays.
 */
async function keepIdentities(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const own = new Map<string, string>();
  const known = new Set<string | null>();
  for await (const batch of filesOf(db, driveId)) {
    for (const { fingerprint, photoId } of batch) {
      known.add(photoId);
      // photos that share a fingerprint and nothing else are told apart by their digests alone
      if (fingerprint !== null && photoId !== null && !photoId.startsWith(fingerprint)) own.set(fingerprint, photoId);
    }
  }
  const before = await readIdentities(drive);
  const kept = new Map([...[...before].filter(([, photo]) => !known.has(photo)), ...own]);
  if (kept.size > 0 || before.size > 0) await writeIdentities(drive, kept);
}
