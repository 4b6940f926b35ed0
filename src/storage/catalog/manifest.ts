import { writeFixity } from '../archive/archive-files';
import type { Drive } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { PhotoRecord } from './records';

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
}
