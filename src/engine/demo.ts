// The demo: whether this server has one, and laying its practice drives and card out in this browser.

import type { CatalogDatabase } from '@/storage/catalog/database';
import type { DriveRecord, SourceRecord } from '@/storage/catalog/records';
import { type WritePack, demoIncomplete, fetchDemoIndex, loadPracticeDrives } from '@/storage/connections/practice';
import { whichCatalog } from './which-catalog';

export type DemoState =
  | { state: 'unknown' | 'none' | 'offered' | 'loaded' }
  | { state: 'loading'; done: number; total: number }
  | { state: 'failed'; reason: string };

const failed = (error: unknown): DemoState => ({
  state: 'failed',
  reason: error instanceof Error ? error.message : String(error),
});

export async function lookForDemo(
  db: CatalogDatabase,
  load: () => Promise<void>,
  tell: (demo: DemoState) => void,
): Promise<void> {
  try {
    const index = await fetchDemoIndex();
    if (!index || whichCatalog() !== 'demo') return tell({ state: index ? 'offered' : 'none' });
    // one tab loads it; another that waited finds it whole
    await navigator.locks.request('wembo-demo-load', async () => {
      if (await demoIncomplete(db, index)) await load();
      else tell({ state: 'loaded' });
    });
  } catch (error) {
    tell(whichCatalog() === 'demo' ? failed(error) : { state: 'none' });
  }
}

/**
 * Lays everything out; `begin` is called for each drive and card that is there now. Goes on where it was interrupted.
 */
export async function loadDemo(
  db: CatalogDatabase,
  writePack: WritePack,
  begin: (record: DriveRecord | SourceRecord) => Promise<void>,
  tell: (demo: DemoState) => void,
): Promise<void> {
  const index = await fetchDemoIndex();
  if (!index) return tell({ state: 'none' });
  try {
    const records = await loadPracticeDrives(db, index, writePack, Date.now(), (done, total) =>
      tell({ state: 'loading', done, total }),
    );
    for (const record of [...records, ...(await db.sources.toArray())]) await begin(record);
    tell({ state: 'loaded' });
  } catch (error) {
    tell(failed(error));
  }
}
