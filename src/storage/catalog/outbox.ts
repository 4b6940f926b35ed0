// The outbox: what must still be written on each drive. Emptied by one tab at a time, as long as a drive is connected;
// an away or read-only drive's items wait, and are counted.

import { mergeCollections, readCollections, writeCollections, writeDriveFile } from '../archive/archive-files';
import { type Drive, DriveError } from '../drives/drive';
import type { CatalogDatabase } from './database';
import type { DriveRecord, OutboxRecord } from './records';
import { type Embed, embedFields } from './embedding';
import { writeSidecar } from './sidecars';

/**
 * Sidecars in work at once. Closing a file costs 4 to 150 ms on a real disk, and 5 s at some files when the browser wants
 * to look it up and has no network (measured); these waits overlap.
 */
const IN_FLIGHT = 12;

export interface OutboxTools {
  db: CatalogDatabase;
  /** The drive, when it is connected and may be written. */
  driveOf: (driveId: string) => Drive | null;
  embed: Embed;
  now: () => number;
  /** Photos that took something over from a sidecar which another program had changed. */
  onPhotos: (photoIds: string[]) => void;
}

export interface OutboxRound {
  written: number;
  /** Items that did not work this time; the next round tries again. */
  troubled: number;
}

/** Writes everything that can be written now. */
export async function emptyOutbox(tools: OutboxTools): Promise<OutboxRound> {
  const round: OutboxRound = { written: 0, troubled: 0 };
  for (const record of await tools.db.drives.toArray()) {
    const drive = tools.driveOf(record.id);
    if (!drive) continue;
    const waiting = await tools.db.outbox.where('driveId').equals(record.id).toArray();
    waiting.sort((a, b) => a.queuedAt - b.queuedAt);
    const lane = async () => {
      for (let item = waiting.shift(); item; item = waiting.shift()) await writeItem(tools, record, drive, item, round);
    };
    await Promise.all(Array.from({ length: IN_FLIGHT }, lane));
  }
  return round;
}

async function writeItem({ db, now, onPhotos, embed }: OutboxTools, record: DriveRecord, drive: Drive, item: OutboxRecord, round: OutboxRound): Promise<void> {
  try {
    const written = item.fileId === null ? await writeArchive(db, record, drive) : await writeSidecar(db, drive, item.fileId, now(), onPhotos);
    if (typeof written === 'object') {
      round.troubled += 1;
      await db.outbox.update(item.id, { trouble: written.trouble });
      return;
    }
    if (written === 'written') round.written += 1;
    if (written === 'conflict') return; // stays until the person decides
    const embedded = record.embeds && item.fileId !== null ? await embedFields(db, drive, item.fileId, embed, now()) : null;
    if (embedded) onPhotos([embedded]);
    await settle(db, item);
  } catch (error) {
    round.troubled += 1;
    await db.outbox.update(item.id, { trouble: error instanceof DriveError ? error.fault : 'failed' });
  }
}

/** Takes the item out, unless the photo was changed again meanwhile. */
async function settle(db: CatalogDatabase, item: OutboxRecord): Promise<void> {
  await db.transaction('rw', db.outbox, async () => {
    const now = await db.outbox.get(item.id);
    if (now?.queuedAt === item.queuedAt) await db.outbox.delete(item.id);
  });
}

async function writeArchive(db: CatalogDatabase, record: DriveRecord, drive: Drive): Promise<'written'> {
  const current = (await db.drives.get(record.id)) ?? record;
  const merged = mergeCollections(await db.collections.toArray(), await readCollections(drive));
  await db.collections.bulkPut(merged);
  await writeDriveFile(drive, { id: current.id, name: current.name, createdAt: current.addedAt });
  await writeCollections(drive, merged);
  return 'written';
}
