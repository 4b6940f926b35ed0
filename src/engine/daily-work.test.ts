import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { driveRecord } from '../../tests/fixtures/records';
import { FACTS_PREFIX } from '@/core/fixity/keeping';
import { keepSetting, makeChange } from '@/storage/catalog/changes';
import { CatalogDatabase } from '@/storage/catalog/database';
import { planFacts } from '@/storage/catalog/keeping';
import { isoDay } from '@/ui/format';
import { DAILY_BACKUP_SETTING, DAILY_SETTING, DAILY_SHARE, type DailyPorts, DailyWork } from './daily-work';

let db: CatalogDatabase;
let catalogs = 0;
let day = '2026-11-30';
const here = new Set(['studio', 'cellar', 'old']);
const checked: string[] = [];
let ends = true;
const SOUND = { kind: 'check' as const, sound: 3, damaged: [] as string[], missing: [], added: [], problems: [] };
let sound = SOUND;

const backedUp: string[] = [];
const dismissed: string[] = [];
const run: DailyPorts['run'] = async ({ kind, driveId, share }) => {
  if (kind === 'check') expect(share).toBe(DAILY_SHARE);
  (kind === 'check' ? checked : backedUp).push(driveId);
  const report =
    kind === 'check' ? sound : { kind: 'backup' as const, rows: 1, bytes: 1, path: '', outlived: 0, problems: [] };
  return { id: driveId, state: ends ? 'done' : 'cancelled', report };
};
const daily = (ports: Partial<DailyPorts> = {}) =>
  new DailyWork({
    db,
    isHere: (id) => here.has(id),
    run,
    dismiss: async (id) => void dismissed.push(id),
    dayOf: (at) => (at === undefined ? day : isoDay(at)),
    alone: (work) => work(),
    ...ports,
  });

beforeEach(async () => {
  db = new CatalogDatabase(`daily-${catalogs++}`);
  await db.drives.bulkPut(['away', 'cellar', 'old', 'studio'].map((id) => driveRecord(id)));
  await keepSetting(db, `${FACTS_PREFIX}old`, { standing: 'retired' }, 1);
  for (const list of [checked, backedUp, dismissed]) list.length = 0;
  sound = { ...SOUND };
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
  const checks = daily({
    run: async (job) => {
      if (fails) throw new Error('the database is full');
      return run(job);
    },
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

it('what was found sound is not talked about; what was not, stays to be read', async () => {
  await keepSetting(db, DAILY_SETTING, true, 1);
  await daily().look();
  expect(dismissed).toEqual(['cellar', 'studio']);
  day = '2026-12-02';
  sound = { ...SOUND, damaged: ['a.jpg'] };
  await daily().look();
  expect(dismissed).toHaveLength(2);
});

it('the catalog is backed up once a day on the drive that was named, if anything was done since', async () => {
  const work = daily();
  await keepSetting(db, DAILY_BACKUP_SETTING, 'cellar', 1);
  await work.look();
  expect(backedUp).toEqual([]); // nothing was done yet
  await makeChange(db, await planFacts(db, 'studio', { place: 'cellar' }, 1), 1);
  here.delete('cellar');
  await work.look();
  expect(backedUp).toEqual([]);
  here.add('cellar');
  await work.look();
  expect(backedUp).toEqual(['cellar']);
  const noon = new Date(2026, 11, 2, 12).getTime();
  await keepSetting(db, 'backup', { at: noon, driveId: 'cellar', catalog: db.catalogId, changes: 0 }, 1);
  day = '2026-12-02';
  await work.look();
  expect(backedUp).toHaveLength(1);
  day = '2026-12-03';
  await work.look();
  expect(backedUp).toHaveLength(2);
  await keepSetting(db, DAILY_BACKUP_SETTING, null, 1);
  day = '2026-12-04';
  await work.look();
  expect(backedUp).toHaveLength(2);
});
