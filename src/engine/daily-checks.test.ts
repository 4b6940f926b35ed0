import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord } from '../../tests/fixtures/records';
import { FACTS_PREFIX } from '@/core/fixity/keeping';
import { keepSetting } from '@/storage/catalog/changes';
import { CatalogDatabase } from '@/storage/catalog/database';
import { DAILY_SETTING, DAILY_SHARE, DailyChecks } from './daily-checks';

let db: CatalogDatabase;
let catalogs = 0;
let day = '2026-11-30';
const here = new Set(['studio', 'cellar', 'old']);
const checked: string[] = [];
let ends = true;

const daily = () =>
  new DailyChecks({
    db,
    isHere: (id) => here.has(id),
    check: async (id, share) => {
      expect(share).toBe(DAILY_SHARE);
      checked.push(id);
      return ends;
    },
    today: () => day,
    alone: (work) => work(),
  });

beforeEach(async () => {
  db = new CatalogDatabase(`daily-${catalogs++}`);
  await db.drives.bulkPut(['away', 'cellar', 'old', 'studio'].map((id) => driveRecord(id)));
  await keepSetting(db, `${FACTS_PREFIX}old`, { standing: 'retired' }, 1);
  checked.length = 0;
  ends = true;
});

it('nothing is read unless the person wants it', async () => {
  await daily().look();
  expect(checked).toEqual([]);
});

it('once a day a portion of every drive that is there and in use', async () => {
  await keepSetting(db, DAILY_SETTING, true, 1);
  const checks = daily();
  await checks.look();
  await checks.look();
  expect(checked).toEqual(['cellar', 'studio']);
  here.add('away');
  await checks.look();
  here.delete('away');
  expect(checked).toEqual(['cellar', 'studio', 'away']);
  day = '2026-12-01';
  await checks.look();
  expect(checked.slice(3)).toEqual(['cellar', 'studio']);
});

it('one that failed does not keep the next from being tried', async () => {
  await keepSetting(db, DAILY_SETTING, true, 1);
  let fails = true;
  const checks = new DailyChecks({
    db,
    isHere: (id) => here.has(id),
    check: async (id) => {
      if (fails) throw new Error('the database is full');
      checked.push(id);
      return true;
    },
    today: () => day,
    alone: (work) => work(),
  });
  await expect(checks.look()).rejects.toThrow();
  fails = false;
  await checks.look();
  expect(checked).toEqual(['cellar', 'studio']);
});

it('one that was stopped is begun again', async () => {
  await keepSetting(db, DAILY_SETTING, true, 1);
  ends = false;
  const checks = daily();
  await checks.look();
  ends = true;
  await checks.look();
  await checks.look();
  expect(checked).toEqual(['cellar', 'studio', 'cellar', 'studio']);
});
