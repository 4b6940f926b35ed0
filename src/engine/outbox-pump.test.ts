// The pump of one tab, and another tab of the same browser, on a catalog in memory.

import 'fake-indexeddb/auto';
import { expect, it, vi } from 'vitest';
import { archiveItem } from '@/storage/catalog/changes';
import { CatalogDatabase } from '@/storage/catalog/database';
import { MemoryDrive } from '@/storage/drives/memory-drive';
import { directFileTasks } from '@/storage/file-tasks/file-tasks';
import { OutboxPump } from './outbox-pump';

it('writes what another tab queues, and what it queues again while just that is being written', async () => {
  const [db, other] = [new CatalogDatabase('pumped'), new CatalogDatabase('pumped')];
  const drive = new MemoryDrive();
  await db.drives.put({
    id: 'd',
    name: 'd',
    kind: 'folder',
    handle: null,
    access: 'write',
    takenOut: false,
    addedAt: 0,
    scannedAt: null,
    bytes: 0,
    embeds: false,
    marked: true,
  });
  const fileTasks = directFileTasks();
  const pump = new OutboxPump({
    db,
    driveOf: () => drive,
    embed: (order) => fileTasks.embed(order),
    copy: (order) => fileTasks.copy(order, () => undefined),
    now: Date.now,
  });

  let at = Date.now();
  let [writes, again] = [0, false];
  drive.onOpen = (path) => {
    if (path !== '_wembo/drive.json.part' && path !== '_wembo/drive.json') return;
    writes += 1;
    if (again) return;
    again = true;
    void other.outbox.put(archiveItem('d', (at += 1)));
  };
  const isEmpty = () =>
    vi.waitFor(async () => expect(await db.outbox.count()).toBe(0), { timeout: 60_000, interval: 50 });
  void pump.run();
  await new Promise((resolve) => setTimeout(resolve, 200)); // it waits
  await other.outbox.put(archiveItem('d', at));
  await vi.waitFor(() => expect(again).toBe(true), { timeout: 60_000 });
  await isEmpty();
  expect(writes).toBeGreaterThan(1);
});
