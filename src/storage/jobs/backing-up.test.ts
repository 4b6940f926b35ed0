import 'fake-indexeddb/auto';
import { beforeEach, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord, photoRecord } from '../../../tests/fixtures/records';
import { restoreBackup } from '../catalog/backup';
import { makeChange } from '../catalog/changes';
import { CatalogDatabase } from '../catalog/database';
import { planRule } from '../catalog/keeping';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { BACKUP_FOLDER, backUp, backupsOn, changesSinceBackup, readLastBackup } from './backing-up';
import type { JobTools } from './job-tools';

let db: CatalogDatabase;
let drive: MemoryDrive;
let clock = Date.UTC(2026, 0, 1);
let number = 0;
const tools = (stopAfter = Infinity): JobTools => {
  const abort = new AbortController();
  let steps = 0;
  return {
    db,
    fileTasks: directFileTasks(),
    now: () => (clock += 60_000),
    control: {
      ...quietControl(),
      signal: abort.signal,
      atRest: async () => {
        if (steps++ >= stopAfter) abort.abort();
        abort.signal.throwIfAborted();
      },
    },
  };
};
const order = () => ({ driveId: 'd', drive });
const names = () => [...drive.files.keys()].filter((name) => name.startsWith(BACKUP_FOLDER));

beforeEach(async () => {
  db = new CatalogDatabase(`backing-${number++}`);
  drive = new MemoryDrive();
  await db.drives.put(driveRecord('d', { name: 'Studio' }));
  await db.photos.bulkPut(Array.from({ length: 20 }, (_, at) => photoRecord(`p${at}`)));
});

it('a backup lies on the drive, was read back, and what was done since is counted', async () => {
  const report = await backUp(tools(), order());
  const [found] = await backupsOn(drive);
  expect(report).toMatchObject({ kind: 'backup', path: found?.path, bytes: found?.sizeBytes, problems: [] });
  expect(report.rows).toBeGreaterThan(20);
  expect(await readLastBackup(db)).toMatchObject({ driveId: 'd' });
  expect(await changesSinceBackup(db)).toBe(0);
  await makeChange(db, await planRule(db, { copies: 1, elsewhere: 0, verifiedWithinDays: 30 }, 1), 1);
  expect(await changesSinceBackup(db)).toBe(1);
});

it('generations stay by their rule; what is no backup of this catalog is left alone', async () => {
  drive.put(`${BACKUP_FOLDER}/c99999999999-20200101T000000.jsonl.gz`, 'of another');
  drive.put(`${BACKUP_FOLDER}/my own note.txt`, 'x');
  for (let day = 0; day < 9; day++) {
    await backUp(tools(), order());
    clock += 24 * 3_600_000;
  }
  expect(await backupsOn(drive)).toHaveLength(5 + 1);
  expect(names()).toContain(`${BACKUP_FOLDER}/c99999999999-20200101T000000.jsonl.gz`);
  expect(names()).toContain(`${BACKUP_FOLDER}/my own note.txt`);
});

it('made with the clock set back it stays, and what another catalog’s backup had counts for nothing here', async () => {
  for (let day = 0; day < 6; day++) await backUp(tools(), order());
  clock -= 5 * 24 * 3_600_000;
  const { path } = await backUp(tools(), order());
  expect(names()).toContain(path);
  await makeChange(db, await planRule(db, { copies: 1, elsewhere: 0, verifiedWithinDays: 30 }, 1), 1);
  const blob = new Blob([drive.files.get(path)?.bytes.slice() ?? new Uint8Array()]);
  await restoreBackup(blob, `${db.name}-again`);
  const again = new CatalogDatabase(`${db.name}-again`);
  expect(await changesSinceBackup(again)).toBe(0);
  await makeChange(again, await planRule(again, { copies: 2, elsewhere: 0, verifiedWithinDays: 30 }, 1), 1);
  expect([await changesSinceBackup(again), await changesSinceBackup(db)]).toEqual([1, 1]);
  again.close();
});

it('cancelled, on a full drive, or not read back right there is no new one, and the old one stays', async () => {
  await backUp(tools(), order());
  const before = names();
  await expect(backUp(tools(0), order())).rejects.toThrow();
  expect(names()).toEqual(before);
  drive.capacityBytes = [...drive.files.values()].reduce((sum, { bytes }) => sum + bytes.length, 0) + 10;
  await expect(backUp(tools(), order())).rejects.toThrow('full');
  expect(names()).toEqual(before);
  drive.capacityBytes = Infinity;
  const { createPart } = drive;
  drive.createPart = async (path, pieces) => {
    const part = await createPart.call(drive, path, pieces);
    const file = drive.files.get(part.path);
    if (file) file.bytes[file.bytes.length >> 1] = (file.bytes[file.bytes.length >> 1] ?? 0) ^ 1;
    return part;
  };
  await expect(backUp(tools(), order())).rejects.toThrow();
  expect(names()).toEqual(before);
});
