// What is kept under a name, in the catalog and on the drives: of two versions the later one holds everywhere.

import type { Shelf, Shelves } from '@/core/changes/change';
import type { Table } from 'dexie';
import { mergeKept, readKept } from '../archive/archive-files';
import type { Drive } from '../drives/drive';
import type { CatalogDatabase } from './database';

/** Takes what a drive keeps on a shelf into the catalog, where it is newer or new; returns what holds now. */
export async function takeShelf<S extends Shelf>(db: CatalogDatabase, drive: Drive, shelf: S): Promise<Shelves[S][]> {
  const table = db[shelf] as unknown as Table<Shelves[S], string>;
  const onDrive = await readKept(drive, shelf);
  // together, so that what a person changes while the drive is read is not put back to what it was
  return db.transaction('rw', table, async () => {
    const here = await table.toArray();
    const merged = mergeKept<Shelves[S]>(here, onDrive);
    const known = new Set<Shelves[S]>(here);
    await table.bulkPut(merged.filter((one) => !known.has(one)));
    return merged;
  });
}
