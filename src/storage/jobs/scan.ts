// Cataloging a drive in place: what is there, what is new, changed, moved, missing; metadata and previews read by the
// hands; then every byte read once for its checksum. Nothing is written on the drive.
//
//   path known, size and time as recorded            → as it was; nothing is read
//   path known, size or time differ                  → read; same fingerprint: as it was; other fingerprint, but the
//                                                      picture's digest is the same: metadata written into it; else: changed
//   path new, fingerprint of a file now gone          → moved
//   path new otherwise                               → added
//   path recorded and not there                      → missing (its photo stays, and says so)

import { chooseSidecars } from '@/core/names/sidecar-names';
import type { FileDigests } from '@/core/digest/image-digest';
import { mergeFields } from '@/core/changes/merge';
import { planFields } from '@/core/changes/edits';
import { endingOf, isPhotoName, isSidecarName } from '@/core/containers/formats';
import { differingKeys } from '@/core/fields/values';
import { unreadableBecause } from '@/core/reading/reading';
import { effectiveFields, parseSidecar } from '@/core/xmp/sidecar';
import { IDENTITIES_FILE, keptFile, readAccessions, readIdentities, readManifest, readProofs, type Proof } from '../archive/archive-files';
import type { FileRecord, ItemTrouble, JobReport, PhotoRecord } from '../catalog/records';
import { takeAccession } from '../catalog/accessions';
import { SHELVES, makeChange, manifestAfterWriting, sidecarItem } from '../catalog/changes';
import { takeShelf } from '../catalog/shelves';
import { takeTracks } from '../catalog/tracks';
import { type FoundSidecar, embeddedIn, isUpToDate, recordOf, takeSidecar } from '../catalog/sidecars';
import { type CatalogDatabase, photoFileOf } from '../catalog/database';
import { type Drive, type DriveEntry, isBelow, splitPath } from '../drives/drive';
import { listAll } from '../drives/list-all';
import { bytesOf } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { digestNew } from './digesting';
import type { ReadResult } from './hands';
import { type JobTools, forEachItem, startProgress, troubleOf } from './job-tools';

export type ScanReport = JobReport & { kind: 'scan' };

interface Item {
  entry: DriveEntry;
  known: FileRecord | null;
  sidecar: DriveEntry | null;
  sidecarTarget: string;
}

/** Added files a report names; of more it says how many. */
const ADDED_NAMED = 300;

const asRecorded = (entry: DriveEntry, record: { sizeBytes: number; modifiedMs: number } | null | undefined) =>
  record !== null && record !== undefined && record.sizeBytes === entry.sizeBytes && record.modifiedMs === entry.modifiedMs;

export async function scanDrive(tools: JobTools, driveId: string, drive: Drive): Promise<ScanReport> {
  const { db, control } = tools;
  const report: ScanReport = { kind: 'scan', photos: 0, added: 0, addedPaths: [], changed: 0, moved: [], missing: [], sidecarsTaken: 0, conflicts: 0, leftovers: [], troubles: [] };
  control.reporting(report);
  await takeArchive(db, drive, report);
  const unlisted: string[] = [];
  const entries = await entriesOf(tools, drive, report, unlisted);
  // what lies where nobody could look is neither missing nor moved: it stays as it was
  const recorded = (await db.files.where('driveId').equals(driveId).toArray()).filter(({ path }) => !isBelow(path, unlisted));
  const known = new Map(recorded.map((file) => [file.path, file]));
  const sidecars = await readSidecars(tools, drive, entries, known, report);
  await takeTracks(tools, driveId, drive, entries, report.troubles);
  const items = planItems(entries, known, sidecars);
  report.photos = items.length;
  const scan = new DriveScan(tools, driveId, drive, report, sidecars, new Map(items.map((item) => [item.entry.path, item])), known);
  await scan.read(items);
  await scan.settle();
  await digestNew(tools, driveId, drive, report.troubles);
  await db.drives.update(driveId, { scannedAt: tools.now(), bytes: items.reduce((sum, { entry }) => sum + entry.sizeBytes, 0) });
  return report;
}

async function takeArchive(db: CatalogDatabase, drive: Drive, report: ScanReport): Promise<void> {
  for (const shelf of SHELVES) await takeShelf(db, drive, shelf).catch((error: unknown) => report.troubles.push(troubleOf(keptFile(shelf), error)));
  for (const accession of await readAccessions(drive, (path, error) => report.troubles.push(troubleOf(path, error)))) await takeAccession(db, accession);
}

async function entriesOf({ control }: JobTools, drive: Drive, report: ScanReport, unlisted: string[]): Promise<DriveEntry[]> {
  const progress = startProgress('listing');
  const entries: DriveEntry[] = [];
  const options = {
    signal: control.signal,
    onUnlisted: (path: string, error: Error) => {
      unlisted.push(path);
      report.troubles.push(troubleOf(path, error));
    },
    onLeftover: (path: string) => report.leftovers.push(path),
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
  control.progress({ ...progress });
  return entries;
}

type Sidecars = Map<string, { found: FoundSidecar | null; forEnding: string | null }>;

/** Reads the sidecars that are not as recorded; of the others it is known whose they are. */
async function readSidecars({ control }: JobTools, drive: Drive, entries: DriveEntry[], known: Map<string, FileRecord>, report: ScanReport): Promise<Sidecars> {
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
    sidecars.set(entry.path, { found: { ...entry, bytes }, forEnding: forEnding ?? (owner ? endingOf(owner.path) : null) });
  };
  await forEachItem(waiting, control, read, (entry, error) => report.troubles.push(troubleOf(entry.path, error)));
  return sidecars;
}

function planItems(entries: DriveEntry[], known: Map<string, FileRecord>, sidecars: Sidecars): Item[] {
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
  const items: Item[] = [];
  for (const [prefix, folder] of folders) {
    const choices = chooseSidecars(folder.photos, folder.sidecars, (name) => sidecars.get(prefix + name)?.forEnding ?? null);
    for (const [name, { existing, target }] of choices) {
      const entry = byPath.get(prefix + name);
      if (!entry) continue;
      items.push({ entry, known: known.get(entry.path) ?? null, sidecar: existing === null ? null : (byPath.get(prefix + existing) ?? null), sidecarTarget: prefix + target });
    }
  }
  return items;
}

class DriveScan {
  private readonly gone: Map<string, FileRecord[]>;
  private proofs = new Map<string, Proof>();
  /** Photos of files that were written into, by the fingerprint the file has since. */
  private identities = new Map<string, string>();

  constructor(
    private readonly tools: JobTools,
    private readonly driveId: string,
    private readonly drive: Drive,
    private readonly report: ScanReport,
    private readonly sidecars: Sidecars,
    items: Map<string, Item>,
    known: Map<string, FileRecord>,
  ) {
    this.gone = new Map();
    for (const file of known.values()) {
      if (items.has(file.path)) continue;
      const print = file.fingerprint ?? '';
      this.gone.set(print, [...(this.gone.get(print) ?? []), file]);
    }
  }

  async read(items: Item[]): Promise<void> {
    const { control } = this.tools;
    const totalBytes = items.reduce((sum, { entry }) => sum + entry.sizeBytes, 0);
    const progress = startProgress('reading', items.length, totalBytes);
    this.proofs = await this.readProofs();
    this.identities = await readIdentities(this.drive).catch((error: unknown) => {
      this.report.troubles.push(troubleOf(IDENTITIES_FILE, error));
      return new Map<string, string>();
    });
    const work = async (item: Item) => {
      try {
        await this.readItem(item);
      } finally {
        progress.doneItems += 1;
        progress.doneBytes += item.entry.sizeBytes;
        control.progress({ ...progress });
      }
    };
    await forEachItem(items, control, work, (item, error) => this.report.troubles.push(troubleOf(item.entry.path, error)));
  }

  /** What earlier checks on this drive proved, wherever the catalog does not know it (after the browser's data were lost). */
  private async readProofs(): Promise<Map<string, Proof>> {
    try {
      const manifest = new Map((await readManifest(this.drive)).map(({ path, sha256 }) => [path, sha256]));
      return new Map((await readProofs(this.drive)).filter(({ path, sha256 }) => manifest.get(path) === sha256).map((proof) => [proof.path, proof]));
    } catch (error) {
      this.report.troubles.push(troubleOf('_wembo/proofs.json', error));
      return new Map();
    }
  }

  private async readItem(item: Item): Promise<void> {
    const { known, entry } = item;
    if (known && known.state !== 'missing' && known.state !== 'unreadable' && asRecorded(entry, known)) {
      await this.lookAtSidecar(item, known);
      return;
    }
    const file = await this.drive.open(entry.path);
    const result = await this.tools.hands.read(file, entry.path, this.tools.control.signal);
    const unreadable = unreadableBecause(result.reading);
    if (unreadable) {
      this.report.troubles.push({ path: entry.path, problem: unreadable });
      await this.tools.db.files.put({ ...this.newFile(item), photoId: null, state: 'unreadable', problems: [unreadable] });
      return;
    }
    const digests = known?.imageSha256 && known.fingerprint !== result.fingerprint ? await this.tools.hands.digest(file, () => undefined, this.tools.control.signal) : null;
    if (known && digests && digests.image === known.imageSha256) await this.redescribe(item, known, result, digests);
    else await this.takePhoto(item, file, result);
  }

  /** The photo of these bytes. They may be a file of a photo that began with others: one the catalog has, or had before it was lost. */
  private photoIdOf(fingerprint: string, twin: FileRecord | undefined): string {
    return twin?.photoId ?? this.identities.get(fingerprint) ?? fingerprint;
  }

  /** A copy of a photo shows what the photo shows. */
  private async previewFor(file: File, { reading, fingerprint }: ReadResult): Promise<Blob | null> {
    const photoId = this.photoIdOf(fingerprint, await photoFileOf(this.tools.db, fingerprint));
    if ((await this.tools.db.previews.where('photoId').equals(photoId).count()) > 0) return null;
    const { blob, problem } = await this.tools.hands.preview(file, reading, 'small', this.tools.control.signal);
    if (problem) reading.problems.push(problem);
    return blob;
  }

  /** Another program wrote metadata into the file: the photo stays, and hears what the file says now. */
  private async redescribe(item: Item, known: FileRecord, { reading, fingerprint }: ReadResult, digests: FileDigests): Promise<void> {
    const { db, now, onPhotos } = this.tools;
    const photo = known.photoId ? await db.photos.get(known.photoId) : undefined;
    if (!photo) return;
    const { fields: embedded, captured: _, ...technical } = reading;
    const file: FileRecord = { ...this.newFile(item), photoId: photo.id, fingerprint, sha256: digests.file, imageSha256: digests.image, provenAt: now(), embedded, problems: reading.problems };
    const theirs = effectiveFields(embedded, item.sidecar ? await this.sidecarOf(item.sidecar) : null);
    const merge = mergeFields(known.sidecar?.base ?? embeddedIn(known, photo), photo.fields, theirs);
    await db.transaction('rw', db.photos, db.files, db.outbox, async () => {
      await db.outbox.put(manifestAfterWriting(this.driveId, now()));
      await db.photos.update(photo.id, technical);
      await db.files.put(known.sidecar ? { ...file, sidecar: { ...known.sidecar, base: theirs } } : file);
    });
    if (merge.take.length > 0) await makeChange(db, { kind: 'fields', origin: 'file', edits: planFields(photo, theirs, merge.take) }, now());
    if (merge.conflicts.length > 0) await db.conflicts.put({ fileId: file.id, photoId: photo.id, keys: merge.conflicts, theirs, from: 'file', sidecarSha256: known.sidecar?.sha256 ?? '', foundAt: now() });
    this.report.sidecarsTaken += merge.take.length > 0 ? 1 : 0;
    this.report.conflicts += merge.conflicts.length > 0 ? 1 : 0;
    this.report.changed += 1;
    onPhotos([photo.id]);
    await this.meetSidecar(item, file);
  }

  private async lookAtSidecar(item: Item, known: FileRecord): Promise<void> {
    const { db } = this.tools;
    const found = item.sidecar ? this.sidecars.get(item.sidecar.path)?.found : null;
    if (!item.sidecar && known.sidecar) await db.files.update(known.id, { sidecar: null, sidecarTarget: item.sidecarTarget });
    const photo = known.photoId ? await db.photos.get(known.photoId) : undefined;
    if (!photo) return;
    if (found) await this.takeFound({ ...known, sidecarTarget: item.sidecarTarget }, photo, found);
    else await this.queueIfBehind(known.id);
  }

  private newFile({ entry, known, sidecarTarget }: Item): FileRecord {
    const proof = this.proofs.get(entry.path);
    const proven = proof && proof.bytes === entry.sizeBytes && proof.modified === entry.modifiedMs ? proof : null;
    return {
      id: `${this.driveId}/${entry.path}`, driveId: this.driveId, path: entry.path, photoId: null, sizeBytes: entry.sizeBytes, modifiedMs: entry.modifiedMs,
      state: 'present', fingerprint: null, sha256: proven?.sha256 ?? null, imageSha256: proven?.imageSha256 ?? null, embedded: null, provenAt: proven?.provenAt ?? null, sidecar: known?.sidecar ?? null, sidecarTarget, wantedPath: null, problems: [],
    };
  }

  private async takePhoto(item: Item, opened: File, result: ReadResult): Promise<void> {
    const { reading, fingerprint } = result;
    const { db, now } = this.tools;
    const moved = item.known ? null : (this.gone.get(fingerprint)?.shift() ?? null);
    const preview = await this.previewFor(opened, result);
    const twin = await photoFileOf(db, fingerprint);
    const photoId = this.photoIdOf(fingerprint, twin);
    const says = twin || photoId === fingerprint ? (twin?.embedded ?? null) : reading.fields;
    const file: FileRecord = { ...this.newFile(item), photoId, fingerprint, embedded: says, problems: reading.problems };
    // a proof goes along only with a file that was not touched; any other is read in full again
    if (moved?.state === 'present' && asRecorded(item.entry, moved)) Object.assign(file, { sha256: moved.sha256, imageSha256: moved.imageSha256, provenAt: moved.provenAt });
    const changed = item.known?.photoId && item.known.photoId !== photoId ? item.known.photoId : null;
    const { fields: embedded, captured: _, ...rest } = reading;
    const sidecar = item.sidecar ? await this.sidecarOf(item.sidecar) : null;
    await db.transaction('rw', [db.photos, db.files, db.previews, db.outbox], async () => {
      if (moved) await db.files.delete(moved.id);
      if (moved) await db.outbox.delete(moved.id);
      const known = await db.photos.get(photoId);
      const carried = changed ? await this.takeLeave(changed, file.id) : null;
      if (!known) {
        const fields = { ...effectiveFields(embedded, sidecar), ...carried };
        await db.photos.put({ ...rest, id: photoId, bytes: item.entry.sizeBytes, embedded, fields, sha256: photoId === fingerprint ? file.sha256 : null, imageSha256: file.imageSha256, addedAt: now() });
      } else if (known.sha256 === null && file.sha256 !== null && known.id === fingerprint) {
        await db.photos.update(photoId, { sha256: file.sha256, imageSha256: file.imageSha256 });
      }
      await db.files.put(file);
      if (preview) await db.previews.put({ photoId, blob: preview });
    });
    if (moved) this.report.moved.push({ from: moved.path, to: file.path });
    else if (changed) this.report.changed += 1;
    else if (!item.known) this.reportAdded(item.entry.path);
    await this.meetSidecar(item, file);
    this.tools.onPhotos(changed ? [photoId, changed] : [photoId]);
  }

  private reportAdded(path: string): void {
    this.report.added += 1;
    if (this.report.addedPaths.length < ADDED_NAMED) this.report.addedPaths.push(path);
  }

  /** The file at this path holds another picture now. Edits that never reached a sidecar go over to it. */
  private async takeLeave(photoId: string, fileId: string): Promise<PhotoRecord['fields'] | null> {
    const { db } = this.tools;
    const before = await db.photos.get(photoId);
    const file = await db.files.get(fileId);
    const others = await db.files.where('photoId').equals(photoId).count();
    if (!before || others > 1) return null;
    await db.photos.delete(photoId);
    await db.previews.delete(photoId);
    await db.looks.delete(photoId);
    const unwritten = differingKeys(file?.sidecar?.base ?? (file ? embeddedIn(file, before) : before.embedded), before.fields);
    return Object.fromEntries(unwritten.filter((key) => before.fields[key] !== undefined).map((key) => [key, before.fields[key]]));
  }

  /** A sidecar's bytes: as read at the beginning, or now, when it is as it was recorded. */
  private async foundOf(entry: DriveEntry): Promise<FoundSidecar> {
    return this.sidecars.get(entry.path)?.found ?? { ...entry, bytes: await bytesOf(await this.drive.open(entry.path)) };
  }

  private async sidecarOf(entry: DriveEntry) {
    const parsed = parseSidecar((await this.foundOf(entry)).bytes);
    return parsed.state === 'read' ? parsed.value : null;
  }

  private async meetSidecar(item: Item, file: FileRecord): Promise<void> {
    const { db } = this.tools;
    const photo = file.photoId ? await db.photos.get(file.photoId) : undefined;
    const entry = item.sidecar;
    if (!photo) return;
    if (!entry) {
      await db.files.update(file.id, { sidecar: null });
      await this.queueIfBehind(file.id);
      return;
    }
    await this.takeFound(file, photo, await this.foundOf(entry));
  }

  private async takeFound(file: FileRecord, photo: PhotoRecord, found: FoundSidecar): Promise<void> {
    const { db, now } = this.tools;
    const taken = await takeSidecar(db, file, photo, found, now());
    if (taken.state === 'unreadable') {
      this.report.troubles.push(...taken.problems.map((problem): ItemTrouble => ({ path: found.path, problem })));
      await db.files.update(file.id, { sidecar: recordOf(found, await sha256Hex(found.bytes), photo.fields), sidecarTarget: found.path });
      return;
    }
    this.report.sidecarsTaken += taken.tookOver > 0 ? 1 : 0;
    this.report.conflicts += taken.conflicts > 0 ? 1 : 0;
    this.tools.onPhotos([photo.id]);
    await this.queueIfBehind(file.id);
  }

  private async queueIfBehind(fileId: string): Promise<void> {
    const { db, now } = this.tools;
    const file = await db.files.get(fileId);
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (file && photo && !isUpToDate(file, photo)) await db.outbox.put(sidecarItem(file, now()));
  }

  /** What is still gone when everything was read is missing. */
  async settle(): Promise<void> {
    const { db } = this.tools;
    for (const file of [...this.gone.values()].flat()) {
      if (file.photoId === null) {
        await db.files.delete(file.id);
        continue;
      }
      this.report.missing.push(file.path);
      await db.files.update(file.id, { state: 'missing' });
      this.tools.onPhotos([file.photoId]);
    }
  }
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
