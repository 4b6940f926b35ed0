import type { CatalogDatabase } from '@/storage/catalog/database';
import type { FileRecord } from '@/storage/catalog/records';
import type { Connection } from '@/storage/connections/connections';
import type { OpenedFile } from '@/storage/drives/drive';

/** A file of the photo from a drive that is there, or `null` when all its drives are away. */
export async function openOriginal(
  db: CatalogDatabase,
  connectionOf: (driveId: string) => Connection,
  photoId: string,
): Promise<{ file: OpenedFile; record: FileRecord } | null> {
  for (const record of await db.files.where('photoId').equals(photoId).toArray()) {
    const connection = connectionOf(record.driveId);
    if (connection.state !== 'connected' || record.state !== 'present') continue;
    try {
      return { file: await connection.drive.open(record.path), record };
    } catch {
      continue; // the next drive may have it
    }
  }
  return null;
}
