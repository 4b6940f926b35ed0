// Accessions in the catalog: what a drive says of them is taken in where the catalog does not know better.

import { nextAccession } from '@/core/take-in/accession';
import type { AccessionOnDrive } from '../archive/schemas';
import { accessionItem } from './changes';
import type { CatalogDatabase } from './database';

/** Takes over a record read from a drive, unless the catalog has it already. */
export async function adoptAccession(db: CatalogDatabase, { files, ...accession }: AccessionOnDrive): Promise<void> {
  await db.transaction('rw', db.accessions, db.accessionFiles, async () => {
    if (await db.accessions.get(accession.id)) return;
    await db.accessions.put({ ...accession, sourceId: '', recordedAt: null, runs: [] });
    await db.accessionFiles.bulkPut(
      files.map((file) => ({
        ...file,
        id: `${accession.id}/${file.from}`,
        accessionId: accession.id,
        frame: file.from,
        to: file.placed[0]?.path ?? '',
        second: null,
        photoId: null,
        described: true,
      })),
    );
  });
}

/** The number the next accession of a year gets. */
export const nextNumber = async (db: CatalogDatabase, year: number): Promise<string> =>
  nextAccession(
    (await db.accessions.toArray()).map(({ number }) => number),
    year,
  );

/**
 * An interrupted accession that nobody will take up again: what was placed is what it has; what was not is left out,
 * and its names are free. Where nothing was placed there is no accession.
 */
export async function settleAccession(db: CatalogDatabase, accessionId: string, at: number): Promise<void> {
  await db.transaction('rw', db.accessions, db.accessionFiles, db.outbox, async () => {
    const accession = await db.accessions.get(accessionId);
    if (!accession || accession.endedAt !== null) return;
    const files = await db.accessionFiles.where('accessionId').equals(accessionId).toArray();
    const placed = files.filter((file) => file.placed.length > 0);
    const unplaced = files.filter((file) => file.placed.length === 0);
    await db.accessionFiles.bulkDelete(unplaced.map(({ id }) => id));
    if (placed.length === 0) return db.accessions.delete(accessionId);
    await db.accessions.update(accessionId, {
      endedAt: at,
      leftOut: accession.leftOut + unplaced.filter(({ role }) => role === 'photo').length,
    });
    const drives = new Set(placed.flatMap((file) => file.placed.map(({ driveId }) => driveId)));
    await db.outbox.bulkPut([...drives].map((driveId) => accessionItem(driveId, accessionId, at)));
  });
}
