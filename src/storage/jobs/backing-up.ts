// Puts a backup of the catalog on a drive: as a part, read back whole and held against its own last line, then named.
// Then those of this catalog that have outlived their use go, and no others.

import { z } from 'zod';
import { type Generation, backupName, generationOf, outlived } from '@/core/catalog/generations';
import { nameIn } from '@/core/names/file-names';
import { backupOf, readBackup } from '../catalog/backup';
import { keepSetting } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import type { JobReport } from '../catalog/records';
import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { withPart } from '../drives/safe-write';
import { type JobTools, itemProblemOf, startProgress } from './job-tools';

export const BACKUP_FOLDER = `${ARCHIVE_FOLDER}/backups`;

export type BackupReport = JobReport & { kind: 'backup' };

const SETTING = 'backup';
const lastBackup = z.object({
  at: z.number(),
  driveId: z.string().max(64),
  /** The catalog it is of; another's changes have numbers of their own. */
  catalog: z.string().max(64),
  /** The number of the last change that is in it. */
  changes: z.number(),
});
export type LastBackup = z.infer<typeof lastBackup>;

/** `null` before there was any. */
export async function readLastBackup(db: CatalogDatabase): Promise<LastBackup | null> {
  return lastBackup.safeParse((await db.settings.get(SETTING))?.value).data ?? null;
}

const lastChange = async (db: CatalogDatabase): Promise<number> => (await db.journal.orderBy('seq').last())?.seq ?? 0;

/** Acts that no backup has. */
export async function changesSinceBackup(db: CatalogDatabase): Promise<number> {
  const last = await readLastBackup(db);
  const seen = last?.catalog === db.catalogId ? last.changes : 0;
  return db.journal.where('seq').above(seen).count();
}

export interface FoundBackup extends Generation {
  /** Milliseconds since 1970, UTC. */
  at: number;
  path: string;
  sizeBytes: number;
}

/** Backups that lie on a drive, of this catalog and others, the latest first. */
export async function backupsOn(drive: Drive): Promise<FoundBackup[]> {
  const found: FoundBackup[] = [];
  for await (const { path, sizeBytes } of drive.list({ below: BACKUP_FOLDER, shallow: true })) {
    const generation = generationOf(nameIn(path));
    if (generation) found.push({ ...generation, path, sizeBytes, at: momentOf(generation.stamp) });
  }
  return found.sort((a, b) => (a.stamp < b.stamp ? 1 : -1));
}

/** `YYYYMMDDTHHMMSS`, UTC. */
const stampOf = (at: number): string => new Date(at).toISOString().replace(/[-:]|\.\d+Z$/g, '');
const momentOf = (stamp: string): number =>
  Date.parse(stamp.replace(/^(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)$/, '$1-$2-$3T$4:$5:$6Z'));

export async function backUp(
  { db, control, now }: JobTools,
  { driveId, drive }: { driveId: string; drive: Drive },
): Promise<BackupReport> {
  const report: BackupReport = { kind: 'backup', rows: 0, bytes: 0, path: '', outlived: 0, problems: [] };
  control.reporting(report);
  const changes = await lastChange(db);
  const at = now();
  const path = `${BACKUP_FOLDER}/${backupName(db.catalogId, stampOf(at))}`;
  async function* pieces() {
    const told = backupOf(db, at, ({ rows, of }) =>
      control.progress({ ...startProgress('recording', of), doneItems: rows }),
    );
    for await (const piece of told) {
      await control.atRest();
      yield piece;
    }
  }
  const part = await drive.createPart(path, pieces());
  await withPart(part, async () => {
    control.progress(startProgress('finishing'));
    const written = await part.open();
    report.rows = (await readBackup(written, control.signal)).rows;
    report.bytes = written.size;
    control.signal.throwIfAborted();
    await drive.alone(() => part.finish(path, 'free'));
  });
  report.path = path;
  await keepSetting(db, SETTING, { at, driveId, catalog: db.catalogId, changes }, now());
  // whatever the clock says, the new one stays
  const old = outlived(await backupsOn(drive), db.catalogId).filter(({ name }) => name !== nameIn(path));
  for (const { name } of old)
    try {
      await drive.alone(() => drive.remove(`${BACKUP_FOLDER}/${name}`));
      report.outlived += 1;
    } catch (error) {
      report.problems.push(itemProblemOf(`${BACKUP_FOLDER}/${name}`, error));
    }
  return report;
}
