// What is kept under names and holds photos by their ids: collections, rounds, deliveries. It follows when two photos turn
// out to be one.

import { withSamePhoto } from '@/core/catalog/same-photo';
import { putKept, queueArchives } from './changes';
import type { CatalogDatabase } from './database';

const HOLDING = ['collections', 'rounds', 'deliveries'] as const;

export const tablesHolding = (db: CatalogDatabase) => HOLDING.map((savedKind) => db[savedKind]);

/** For within a transaction over `tablesHolding`, drives and outbox. */
export async function followSamePhoto(db: CatalogDatabase, from: string, to: string, at: number): Promise<void> {
  for (const savedKind of HOLDING) {
    const items = (await db[savedKind].toArray()).flatMap((item) => withSamePhoto(savedKind, item, from, to) ?? []);
    if (items.length === 0) continue;
    await putKept(
      db,
      savedKind,
      items.map((item) => ({ ...item, updatedAt: at })),
    );
    await queueArchives(db, at);
  }
}
