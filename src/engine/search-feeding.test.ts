import 'fake-indexeddb/auto';
import { expect, it, vi } from 'vitest';
import { CatalogDatabase } from '@/storage/catalog/database';
import { photoRecord } from '../../tests/fixtures/records';
import { SearchFeeding } from './search-feeding';

const kit = { id: 'k', name: 'Kit', values: {}, keywords: [], updatedAt: 1, deleted: false };

it('feeds what is written, whoever writes it, several writes at a time, and nothing where no photo is touched', async () => {
  const [db, otherPage] = [new CatalogDatabase('feeding'), new CatalogDatabase('feeding')];
  await db.open();
  await otherPage.open();
  const feed = vi.fn(async () => undefined);
  new SearchFeeding(db, feed).listen();
  await db.kits.put(kit as never);
  for (const id of ['a', 'b', 'c']) await db.photos.put(photoRecord(id));
  await vi.waitFor(() => expect(feed).toHaveBeenCalledTimes(1), 10_000);
  await db.kits.delete('k');
  await otherPage.photos.put(photoRecord('d'));
  await vi.waitFor(() => expect(feed).toHaveBeenCalledTimes(2), 10_000);
});

it('who asks for what holds now waits for what is fed, and for nothing where nothing is', async () => {
  const db = new CatalogDatabase('settled');
  await db.open();
  let fed = 0;
  const feeding = new SearchFeeding(db, async () => {
    await new Promise((resolve) => setTimeout(resolve, 20));
    fed += 1;
  });
  await feeding.settled();
  expect(fed).toBe(0);
  void feeding.now();
  await feeding.settled();
  expect(fed).toBe(1);
});
