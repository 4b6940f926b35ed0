import { readDriveFile } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import type { Drive } from '../drives/drive';

/**
 * Drives of the catalog that lie in another: the id of each by its folder. What lies there is theirs, so that no file
 * counts on two drives.
 * @param archives folders in which an archive folder was seen
 */
export async function innerDrives(
  db: CatalogDatabase,
  drive: Drive,
  archives: readonly string[],
): Promise<Map<string, string>> {
  const inner = new Map<string, string>();
  for (const folder of archives) {
    const mark = await readDriveFile(drive, folder).catch(() => null);
    if (mark && (await db.drives.get(mark.id))) inner.set(folder, mark.id);
  }
  return inner;
}
