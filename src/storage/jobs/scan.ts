// Cataloging a drive in place: what is there, what is new, changed, moved, missing; metadata and previews read by the
// file tasks; then every byte that was never verified read once. Nothing is written on the drive here. What each file
// is, by which rules, is told in core/fixity/found-file.ts.
//
//   the drive's own records are read first: a present byte is believed only against the measure that was recorded
//   what lies in another drive of the catalog, nested in this one, is that drive's and is left alone
//   a bag that was made here is left alone
//   path recorded and not there, on a drive that still bears its mark → missing (its photo stays, and says so)

import { chooseSidecars } from '@/core/names/sidecar-names';
import { endingOf, isPhotoName, isSidecarName } from '@/core/formats/containers/formats';
import { parseSidecar } from '@/core/metadata/xmp/sidecar';
import { IDENTITIES_FILE, readAccessions, readIdentities } from '../archive/archive-files';
import { HISTORY_FOLDER } from '../archive/history-files';
import { savedFile } from '../archive/saved-files';
import { type DriveRecords, FIXITY_FILE, readRecords } from '../archive/fixity-file';
import type { FileRecord, JobReport } from '../catalog/records';
import { adoptAccession } from '../catalog/accessions';
import { SAVED_KINDS, manifestItem } from '../catalog/changes';
import { fileInDoubt, moveFile, retirePaths } from '../catalog/photos';
import { noteLeftBehind, sidecarsAlone } from '../catalog/left-behind';
import { adoptHistory } from '../catalog/history';
import { sentHere } from '../catalog/sendable';
import { adoptSettings, driveSetting, adoptSaved, trackSetting } from '../catalog/saved';
import { scanTracks } from './scan-tracks';
import { ARCHIVE_FOLDER, type Drive, type DriveEntry, isInFolder, splitPath } from '../drives/drive';
import { listAll } from '../drives/list-all';
import { bytesOf } from '../drives/safe-write';
import { bagsMadeHere, isBagInfo } from './bags-made-here';
import { digestNew } from './digesting';
import { DriveScan } from './drive-scan';
import { type ScanItem, type Sidecars, asRecorded } from './scan-items';
import { innerDrives } from './inner-drives';
import { type JobTools, forEachItem, startProgress, itemProblemOf } from './job-tools';

export type ScanReport = JobReport & { kind: 'scan' };

export async function scanDrive(tools: JobTools, driveId: string, drive: Drive): Promise<ScanReport> {
  const { db, control } = tools;
  const report: ScanReport = {
    kind: 'scan',
    photos: 0,
    added: 0,
    addedPaths: [],
    changed: 0,
    moved: [],
    missing: [],
    damaged: [],
    nested: [],
    bags: [],
    sidecarsTaken: 0,
    conflicts: 0,
    leftovers: [],
    sentHere: 0,
    problems: [],
  };
  control.reporting(report);
  await drive.confirm();
  const marked = (await db.drives.get(driveId))?.marked ?? false;
  const isPending = (await db.outbox.get(manifestItem(driveId, 0).id)) !== undefined;
  await adoptArchive(tools, driveId, drive, report);
  const records = await recordsOf(drive, driveId, report);
  const hidden: string[] = [];
  const inner = new Map<string, string>();
  const entries = await entriesOf(tools, drive, report, hidden, inner);
  await drive.confirm();
  // what lies where nobody could look is neither missing nor moved: it stays as it was
  const recorded = (await db.files.where('driveId').equals(driveId).toArray()).filter(
    ({ path }) => !isInFolder(path, hidden),
  );
  const known = await asSpelled(tools, recorded, entries);
  await recordsAsSpelled(tools, driveId, records, entries);
  const sidecars = await readSidecars(tools, drive, entries, known, report);
  await scanTracks(tools, driveId, drive, entries, report.problems);
  await adoptSettings(db, [driveSetting(driveId), ...(await db.tracks.toCollection().primaryKeys()).map(trackSetting)]);
  const items = planItems(entries, known, sidecars);
  report.photos = items.length;
  const identities = await readIdentities(drive).catch((error: unknown) => {
    report.problems.push(itemProblemOf(IDENTITIES_FILE, error));
    return new Map<string, string>();
  });
  const scan = new DriveScan({
    tools,
    driveId,
    drive,
    marked,
    report,
    sidecars,
    records,
    identities,
    sent: await sentHere(db),
    isPending,
    there: new Set(items.map((item) => item.entry.path)),
    known,
  });
  const isAsItWas = await scan.read(items);
  await drive.confirm();
  await scan.settle();
  if (!isAsItWas) await digestNew(tools, driveId, drive, marked, report);
  const alone = sidecarsAlone(entries, new Set(items.flatMap(({ sidecar }) => sidecar?.path ?? [])));
  await noteLeftBehind(db, driveId, alone);
  report.leftBehind = alone.length;
  await scan.missClaimed((path) => isInFolder(path, hidden));
  await meetInner(tools, records, inner);
  await db.drives.update(driveId, {
    scannedAt: tools.now(),
    bytes: items.reduce((sum, { entry }) => sum + entry.sizeBytes, 0),
  });
  return report;
}

/**
 * Some file systems take names apart into letters and accents: a file that was copied there is listed under another
 * spelling. It is the same file, and its record gets the spelling of the drive.
 */
async function asSpelled(
  { db, now }: JobTools,
  recorded: readonly FileRecord[],
  entries: readonly DriveEntry[],
): Promise<Map<string, FileRecord>> {
  const listed = new Set(entries.map(({ path }) => path));
  const spelling = new Map(entries.map(({ path }) => [path.normalize('NFC'), path]));
  const known = new Map<string, FileRecord>();
  for (const file of recorded) {
    const path = listed.has(file.path) ? file.path : (spelling.get(file.path.normalize('NFC')) ?? file.path);
    const spelled =
      path === file.path
        ? file
        : await moveFile(
            db,
            file.id,
            { id: `${file.driveId}/${path}`, path, sidecar: file.sidecar, sidecarTarget: file.sidecarTarget },
            now(),
          );
    known.set(path, spelled ?? file);
  }
  return known;
}

/** The same for what the drive's own records say; the line of the other spelling goes. */
async function recordsAsSpelled(
  { db, now }: JobTools,
  driveId: string,
  { byPath }: DriveRecords,
  entries: readonly DriveEntry[],
): Promise<void> {
  const others = entries.flatMap(({ path }) => {
    const other = path.normalize('NFC');
    return !byPath.has(path) && byPath.has(other) ? [{ path, other }] : [];
  });
  for (const { path, other } of others) {
    const record = byPath.get(other);
    if (record) byPath.set(path, record);
    byPath.delete(other);
  }
  if (others.length === 0) return;
  await retirePaths(
    db,
    driveId,
    others.map(({ other }) => other),
    now(),
  );
}

async function recordsOf(drive: Drive, driveId: string, report: ScanReport): Promise<DriveRecords> {
  try {
    return await readRecords(drive, driveId);
  } catch (error) {
    report.problems.push(itemProblemOf(FIXITY_FILE, error));
    return { byPath: new Map(), photoBySha256: new Map() };
  }
}

async function adoptArchive({ db, now }: JobTools, driveId: string, drive: Drive, report: ScanReport): Promise<void> {
  const met = { id: driveId, drive, at: now() };
  for (const savedKind of SAVED_KINDS)
    await adoptSaved(db, met, savedKind).catch((error: unknown) =>
      report.problems.push(itemProblemOf(savedFile(savedKind), error)),
    );
  for (const accession of await readAccessions(drive, (path, error) =>
    report.problems.push(itemProblemOf(path, error)),
  ))
    await adoptAccession(db, accession);
  await adoptHistory(db, met).catch((error: unknown) => report.problems.push(itemProblemOf(HISTORY_FOLDER, error)));
}

/**
 * @param hidden hears of folders and files that could not be looked at, and of those that are another drive's
 * @param inner hears of drives of the catalog that lie in this one: the id of each by its folder
 */
async function entriesOf(
  { control, db }: JobTools,
  drive: Drive,
  report: ScanReport,
  hidden: string[],
  inner: Map<string, string>,
): Promise<DriveEntry[]> {
  const progress = startProgress('listing');
  const entries: DriveEntry[] = [];
  const archives: string[] = [];
  const options = {
    signal: control.signal,
    onUnlisted: (path: string, error: Error) => {
      hidden.push(path);
      report.problems.push(itemProblemOf(path, error));
    },
    onLeftover: (path: string) => report.leftovers.push(path),
    onArchive: (folder: string) => archives.push(folder),
  };
  for await (const entry of listAll(drive, options)) {
    entries.push(entry);
    progress.doneItems += 1;
    progress.doneBytes += entry.sizeBytes;
    if (entries.length % 50 === 0) {
      control.progress({ ...progress });
      await control.atRest();
    }
  }
  // parts of our own files, too
  for await (const _ of drive.list({ below: ARCHIVE_FOLDER, onLeftover: options.onLeftover })) void _;
  control.progress({ ...progress });
  for (const [folder, driveId] of await innerDrives(db, drive, archives)) inner.set(folder, driveId);
  report.bags = await bagsMadeHere(drive, entries.map(({ path }) => path).filter(isBagInfo));
  hidden.push(...report.bags);
  report.nested.push(...inner.keys());
  hidden.push(...report.nested);
  const leftAlone = [...report.nested, ...report.bags];
  return leftAlone.length === 0 ? entries : entries.filter(({ path }) => !isInFolder(path, leftAlone));
}

/**
 * What this drive's records measured of files that are an inner drive's now: the inner drive could not know it when it
 * was connected by itself.
 */
async function meetInner(
  { db, now }: JobTools,
  { byPath }: DriveRecords,
  inner: ReadonlyMap<string, string>,
): Promise<void> {
  for (const [folder, driveId] of inner) {
    for (const [path, { measure, also }] of byPath) {
      const file = path.startsWith(`${folder}/`)
        ? await db.files.get(`${driveId}/${path.slice(folder.length + 1)}`)
        : undefined;
      if (
        !file?.sha256 ||
        file.sha256 === measure.sha256 ||
        file.sha256 === also ||
        file.imageSha256 === measure.imageSha256
      )
        continue;
      await fileInDoubt(db, file.id, measure.sha256, now());
    }
  }
}

/** Reads the sidecars that are not as recorded; of the others it is known whose they are. */
async function readSidecars(
  { control }: JobTools,
  drive: Drive,
  entries: DriveEntry[],
  known: Map<string, FileRecord>,
  report: ScanReport,
): Promise<Sidecars> {
  const recorded = new Map([...known.values()].flatMap((file) => (file.sidecar ? [[file.sidecar.path, file]] : [])));
  const sidecars: Sidecars = new Map();
  const waiting = entries.filter(({ path }) => isSidecarName(path));
  const read = async (entry: DriveEntry) => {
    const owner = recorded.get(entry.path);
    if (owner && asRecorded(entry, owner.sidecar)) {
      sidecars.set(entry.path, { found: null, forEnding: endingOf(owner.path) });
      return;
    }
    const bytes = await bytesOf(await drive.open(entry.path));
    const parsed = parseSidecar(bytes);
    const forEnding = parsed.state === 'read' ? parsed.value.forEnding : null;
    sidecars.set(entry.path, {
      found: { ...entry, bytes },
      forEnding: forEnding ?? (owner ? endingOf(owner.path) : null),
    });
  };
  await forEachItem(
    waiting,
    control,
    read,
    (entry, error) => report.problems.push(itemProblemOf(entry.path, error)),
    drive.atOnce,
  );
  return sidecars;
}

function planItems(entries: DriveEntry[], known: Map<string, FileRecord>, sidecars: Sidecars): ScanItem[] {
  const byPath = new Map(entries.map((entry) => [entry.path, entry]));
  const folders = new Map<string, { photos: string[]; sidecars: string[] }>();
  for (const { path } of entries) {
    const { folders: parts, name } = splitPath(path);
    const key = parts.map((part) => `${part}/`).join('');
    const folder = folders.get(key) ?? { photos: [], sidecars: [] };
    folders.set(key, folder);
    if (isPhotoName(name)) folder.photos.push(name);
    if (isSidecarName(name)) folder.sidecars.push(name);
  }
  const items: ScanItem[] = [];
  for (const [prefix, folder] of folders) {
    const choices = chooseSidecars(
      folder.photos,
      folder.sidecars,
      (name) => sidecars.get(prefix + name)?.forEnding ?? null,
    );
    for (const [name, { existing, target }] of choices) {
      const entry = byPath.get(prefix + name);
      if (!entry) continue;
      items.push({
        entry,
        known: known.get(entry.path) ?? null,
        sidecar: existing === null ? null : (byPath.get(prefix + existing) ?? null),
        sidecarTarget: prefix + target,
      });
    }
  }
  return items;
}

/** A part file younger than this may be one that is being written right now, by the outbox or in another tab. */
const LEFTOVER_AGE_MS = 10_000;

/** Takes away part files that an interruption left behind. For after the scan, which itself writes nothing. */
export async function clearLeftovers(drive: Drive, paths: string[], now: number): Promise<void> {
  for (const path of paths) {
    const file = await drive.open(path).catch(() => null);
    if (file && now - file.lastModified > LEFTOVER_AGE_MS) await drive.remove(path).catch(() => undefined);
  }
}
