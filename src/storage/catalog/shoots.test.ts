import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import type { PreparedShoot } from '@/core/take-in/shoot';
import { readSaved } from '../archive/saved-files';
import { MemoryDrive } from '../drives/memory-drive';
import { syncSaved } from './saved';
import { driveRecord, fileRecord } from '../../../tests/fixtures/records';
import { CatalogDatabase } from './database';
import { blanksUsed, dropShoot, keepShoot, shootsPrepared } from './shoots';

let db: CatalogDatabase;
let number = 0;

const shoot = (folder: string, date = '2027-02-03', client = ''): PreparedShoot => ({
  driveId: 'studio',
  folder,
  date,
  blanks: { kind: 'assignment', client, subject: 'Gjógv' },
});

beforeEach(async () => {
  db = new CatalogDatabase(`shoots-${(number += 1)}`);
  await db.drives.put(driveRecord('studio'));
});

it('a prepared shoot waits, the next day first, until its folder has a photo or it is dropped', async () => {
  const [late, soon] = [shoot('2027/b', '2027-02-03'), shoot('2026/a', '2026-12-01')];
  for (const one of [late, soon, late]) await keepShoot(db, one, 1);
  expect(await shootsPrepared(db)).toEqual([soon, late]);
  await db.files.put(fileRecord('studio', '2026/a beside/x.jpg', 'p')); // a namesake
  expect(await shootsPrepared(db)).toEqual([soon, late]);
  await db.files.put(fileRecord('studio', '2026/a/deep/x.jpg', 'p'));
  expect(await shootsPrepared(db)).toEqual([late]);
  await dropShoot(db, late, 2);
  expect(await shootsPrepared(db)).toEqual([]);
});

it('goes to the drives as a choice of the person’s does, however long its folder is', async () => {
  await keepShoot(db, shoot('2027/b'.repeat(150)), 1);
  const drive = new MemoryDrive();
  await syncSaved(db, { id: 'studio', drive, at: 2 }, 'settings');
  expect((await readSaved(drive, 'settings')).items).toHaveLength(1);
  expect((await db.outbox.toArray()).map(({ driveId, task }) => `${driveId} ${task.kind}`)).toContain('studio archive');
});

it('what comes from elsewhere and is no shoot is left out', async () => {
  await keepShoot(db, shoot('2027/b'), 1);
  const [kept] = await db.settings.toArray();
  await db.settings.update(kept?.id ?? '', { value: { folder: '../..', date: 'soon' } });
  expect(await shootsPrepared(db)).toEqual([]);
});

it('clients are proposed from shoots, each once', async () => {
  for (const [folder, client] of [
    ['a', 'Harbour office'],
    ['b', 'Museum'],
    ['c', 'Museum'],
  ] as const)
    await keepShoot(db, shoot(folder, '2027-02-03', client), 1);
  const { kind, client } = await blanksUsed(db);
  expect([kind, client.sort()]).toEqual([['assignment'], ['Harbour office', 'Museum']]);
});
