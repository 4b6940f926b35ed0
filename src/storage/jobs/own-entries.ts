// What lies on a drive and belongs to it: without the drives that lie in it.

import { type Drive, type DriveEntry, isInFolder } from '../drives/drive';
import { listAll } from '../drives/list-all';
import type { JobReport } from '../catalog/records';
import { bagsMadeHere, isBagInfo } from './bags-made-here';
import { innerDrives } from './inner-drives';
import { type JobTools, itemProblemOf } from './job-tools';

export interface OwnEntries {
  entries: DriveEntry[];
  /** Folders that were not looked into: they could not be listed, or are drives of their own. */
  hidden: string[];
  /** Bags that were made here; their files are among the entries. */
  bags: string[];
}

/** What could not be listed is reported. @param isWanted by its path */
export async function ownEntries(
  { control, db }: Pick<JobTools, 'control' | 'db'>,
  drive: Drive,
  report: Pick<JobReport, 'problems'>,
  isWanted: (path: string) => boolean,
): Promise<OwnEntries> {
  const entries: DriveEntry[] = [];
  const hidden: string[] = [];
  const archives: string[] = [];
  const infos: string[] = [];
  for await (const entry of listAll(drive, {
    signal: control.signal,
    onUnlisted: (path, error) => {
      hidden.push(path);
      report.problems.push(itemProblemOf(path, error));
    },
    onArchive: (folder) => archives.push(folder),
  })) {
    if (isBagInfo(entry.path)) infos.push(entry.path);
    if (isWanted(entry.path)) entries.push(entry);
  }
  hidden.push(...(await innerDrives(db, drive, archives)).keys());
  return {
    entries: entries.filter(({ path }) => !isInFolder(path, hidden)),
    hidden,
    bags: await bagsMadeHere(drive, infos),
  };
}
