import { readIdentities, writeFixity, writeIdentities } from '../archive/archive-files';
import { alone } from '../drives/alone';
import type { Drive } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';

/**
 * The manifest lists what the drive should hold, damaged and missing files included, by the digest they should have. A job that ends and
 * the outbox may both come to write it, from two tabs too; the later writes what holds then.
 */
export function writeFixityOf(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  return alone(`${db.name}-manifest-${driveId}`, () => writeNow(db, driveId, drive));
}

async function writeNow(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const files = await filesOf(db, driveId);
  const unread = files.flatMap(({ sha256, photoId }) => (sha256 === null && photoId !== null ? [photoId] : []));
  const photos = new Map<string, PhotoRecord>();
  for (const photo of await db.photos.bulkGet([...new Set(unread)])) if (photo) photos.set(photo.id, photo);
  const manifest = files.flatMap(({ path, photoId, sha256 }) => {
    const should = sha256 ?? (photoId ? photos.get(photoId)?.sha256 : null);
    return should ? [{ path, sha256: should }] : [];
  });
  const proofs = files.flatMap(({ path, sizeBytes, modifiedMs, sha256, imageSha256, provenAt, state }) =>
    state === 'present' && sha256 && provenAt ? [{ path, bytes: sizeBytes, modified: modifiedMs, sha256, ...(imageSha256 && { imageSha256 }), provenAt }] : [],
  );
  await writeFixity(drive, manifest, proofs);
  await keepIdentities(files, drive);
}

/** Read at once; more would hold up the page. */
const LOT = 2000;

async function filesOf(db: CatalogDatabase, driveId: string): Promise<FileRecord[]> {
  const files: FileRecord[] = [];
  for (let after = `${driveId}/`; ; after = files.at(-1)?.id ?? after) {
    const lot = await db.files.where('id').between(after, `${driveId}0`, false, false).limit(LOT).toArray(); // 0 follows the slash
    files.push(...lot);
    if (lot.length < LOT) return files;
  }
}

/**
 * A photo keeps the fingerprint it began with, whatever is written into its files: rounds and collections name it by that. Which file
 * is which photo is kept beside them, for the day this catalog is lost. What another catalog noted of photos this one has not read yet stays.
 */
async function keepIdentities(files: readonly FileRecord[], drive: Drive): Promise<void> {
  const own = files.flatMap(({ fingerprint, photoId }) => (fingerprint !== null && photoId !== null && fingerprint !== photoId ? [[fingerprint, photoId] as const] : []));
  const known = new Set(files.map(({ photoId }) => photoId));
  const before = await readIdentities(drive);
  const kept = new Map([...[...before].filter(([, photo]) => !known.has(photo)), ...own]);
  if (kept.size > 0 || before.size > 0) await writeIdentities(drive, kept);
}
