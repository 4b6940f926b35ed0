import { readIdentities, writeFixity, writeIdentities } from '../archive/archive-files';
import type { Drive } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';

/** The manifest lists what the drive should hold, damaged and missing files included, by the digest they should have. */
export async function writeFixityOf(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const files = await db.files.where('driveId').equals(driveId).toArray();
  const photos = new Map<string, PhotoRecord | undefined>();
  for (const photo of await db.photos.bulkGet([...new Set(files.flatMap(({ photoId }) => photoId ?? []))])) if (photo) photos.set(photo.id, photo);
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
