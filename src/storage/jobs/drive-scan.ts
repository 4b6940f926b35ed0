// One scan of one drive: each file is read as far as its decision asks for (core/fixity/found-file.ts), and the
// decision carried out.

import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import { type Words, wordsBegunWith } from '@/core/fields/merge';
import { NO_VERSION } from '@/core/fields/version';
import { differingKeys, sameFields } from '@/core/fields/values';
import {
  type Claim,
  type FoundDecision,
  type KnownFile,
  type Measure,
  decideFound,
  mustRead,
  needsProof,
} from '@/core/fixity/found-file';
import { unreadableBecause } from '@/core/metadata/reading/reading';
import { foundWords } from '@/core/metadata/xmp/sidecar';
import { changeTables, manifestItem } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import {
  addFile,
  addedEarlier,
  fileDamaged,
  fileInDoubt,
  fileMissing,
  fileRead,
  joinByProof,
  kinOf,
  moveFile,
  removeUnmeasured,
  retirePaths,
} from '../catalog/photos';
import type { FileRecord } from '../catalog/records';
import { embeddedIn, meetImage } from '../catalog/sidecars';
import { type DriveEntry, DriveError, type OpenedFile } from '../drives/drive';
import { type ReadResult, isDrawnAtOnce } from '../file-tasks/file-tasks';
import { isUnread } from './digesting';
import { type Identified, isRival, photoOfRecord, whichPhoto } from './identifying';
import { forEachItem, itemProblemOf, startProgress } from './job-tools';
import { type Opened, type ScanContext, type ScanItem, asRecorded, measureOf, newFile, newPhoto } from './scan-items';
import { isStill, lookAtStill } from './scan-still';
import { adoptFound, meetSidecar, queueIfBehind, sidecarOf } from './scan-sidecars';

/** A file is read at most so often while the catalog goes on beside it. */
const READINGS = 5;

/** Of what is this short most was read for its preview already: it is read in full at once, and not a second time. */
const READ_AT_ONCE_BYTES = 8 * 1024 * 1024;

/** Added files a report names; of more it says how many. */
const ADDED_NAMED = 300;

/** What a file is held against from now on, whence that is known, and when all its bytes were read. */
interface Held {
  measure: Measure;
  from: 'drive' | 'reading';
  verifiedAt: number | null;
}

/** What a photo begins with: what is found of it, and edits that were still to be written of what lay there before. */
const wordsFor = (begun: Words, carried: Words | null): Words =>
  carried
    ? { fields: { ...begun.fields, ...carried.fields }, versions: { ...begun.versions, ...carried.versions } }
    : begun;

/** Times on drives are as coarse as two seconds (FAT). */
const CLOCK_STEP_MS = 2000;

export class DriveScan {
  /** Files that are recorded and not at their paths, by their fingerprints. */
  private readonly gone = new Map<string, FileRecord[]>();

  constructor(private readonly context: ScanContext) {
    for (const file of context.known.values()) {
      if (context.there.has(file.path)) continue;
      const print = file.fingerprint ?? '';
      this.gone.set(print, [...(this.gone.get(print) ?? []), file]);
    }
  }

  private get db(): CatalogDatabase {
    return this.context.tools.db;
  }

  private now(): number {
    return this.context.tools.now();
  }

  /** Answers whether every file was as it was, and had been read in full. */
  async read(items: ScanItem[]): Promise<boolean> {
    const { control } = this.context.tools;
    const { report } = this.context;
    const progress = startProgress(
      'reading',
      items.length,
      items.reduce((sum, { entry }) => sum + entry.sizeBytes, 0),
    );
    const onDone = (done: readonly ScanItem[]) => {
      progress.doneItems += done.length;
      progress.doneBytes += done.reduce((sum, { entry }) => sum + entry.sizeBytes, 0);
      control.progress({ ...progress });
    };
    const still = items.filter((item) => isStill(this.context, item));
    await lookAtStill(this.context, still, onDone);
    const seen = new Set<ScanItem>(still);
    await forEachItem(
      items.filter((item) => !seen.has(item)),
      control,
      (item) => this.readItem(item).finally(() => onDone([item])),
      (item, error) => report.problems.push(itemProblemOf(item.entry.path, error)),
      this.context.drive.atOnce,
    );
    return still.length === items.length && !still.some(({ known }) => isUnread(known, this.context.marked));
  }

  /** What the drive's records say of a path that this catalog has no measure of. */
  private claimOn(entry: DriveEntry, known: FileRecord | null): Claim | null {
    const record = this.context.records.byPath.get(entry.path);
    return record && !known?.sha256
      ? { ...record, asRecorded: record.bytes === entry.sizeBytes && record.modified === entry.modifiedMs }
      : null;
  }

  private async readItem(item: ScanItem): Promise<void> {
    const { known, entry } = item;
    const knownFile: KnownFile | null = known && {
      measure: measureOf(known),
      asRecorded: asRecorded(entry, known),
      isSettled: known.state !== 'missing' && known.state !== 'unreadable',
    };
    const claim = this.claimOn(entry, known);
    const toRead = mustRead(knownFile, claim);
    if (known && toRead === 'nothing') return this.lookAtKnown(item, known);
    const opened = await this.open(item, claim, toRead === 'all');
    const { result, digests } = opened;
    if (!known && !claim && this.wasSent(item, result.fingerprint)) return;
    const gone = known || claim ? [] : (this.gone.get(result.fingerprint) ?? []);
    await this.carryOut(
      item,
      opened,
      gone,
      decideFound(knownFile, claim, gone.map(measureOf), {
        digests,
        isPhoto: unreadableBecause(result.reading) === null,
      }),
    );
  }

  /** A picture made of a photo and sent is no photo of its own. */
  private wasSent({ entry }: ScanItem, fingerprint: string): boolean {
    const { sent, driveId, report } = this.context;
    const since = sent.coming.get(`${driveId}/${entry.path}`);
    const isComing = since !== undefined && entry.modifiedMs + CLOCK_STEP_MS >= since;
    if (!sent.fingerprints.has(fingerprint) && !isComing) return false;
    report.sentHere = (report.sentHere ?? 0) + 1;
    report.photos -= 1;
    return true;
  }

  private async open(item: ScanItem, claim: Claim | null, all: boolean): Promise<Opened> {
    const { drive, tools } = this.context;
    const { fileTasks, control } = tools;
    const file = drive.openListed?.(item.entry) ?? (await drive.open(item.entry.path));
    const result = await fileTasks.read(file, item.entry.path, control.signal);
    const kin = await kinOf(this.db, result.fingerprint, item.known?.id ?? null);
    const gone = item.known ? 0 : (this.gone.get(result.fingerprint)?.length ?? 0);
    // a photo of the name that an older record gives it is there already: whether it is the same must be proven
    const named = claim ? undefined : this.context.identities.get(result.fingerprint);
    const isNamed = named !== undefined && (await this.db.photos.get(named)) !== undefined;
    const isShort = !item.known && !claim && item.entry.sizeBytes <= READ_AT_ONCE_BYTES;
    const digests =
      all || (unreadableBecause(result.reading) === null && (isShort || isNamed || needsProof(kin, gone, claim)))
        ? await fileTasks.digest(file, () => undefined, control.signal)
        : null;
    if (digests) await drive.confirm();
    return { file, result, digests, kin, claim };
  }

  private async carryOut(
    item: ScanItem,
    opened: Opened,
    gone: readonly FileRecord[],
    decision: FoundDecision,
  ): Promise<void> {
    const { known } = item;
    switch (decision.kind) {
      case 'as-it-was':
        return known ? this.keep(item, known, opened) : undefined;
      case 'described':
        return known && opened.digests ? this.redescribe(item, known, opened.result, opened.digests) : undefined;
      case 'damaged':
        return this.fileDamage(item, opened, decision.measure);
      case 'claimed':
        return this.addPhoto(item, opened, {
          measure: decision.measure,
          from: 'drive',
          verifiedAt: decision.verifiedAt === 'now' ? this.now() : decision.verifiedAt,
        });
      case 'moved':
        return this.follow(item, opened, gone[decision.from]);
      case 'new':
        return this.addPhoto(
          item,
          opened,
          opened.digests
            ? {
                measure: { sha256: opened.digests.file, imageSha256: opened.digests.image },
                from: 'reading',
                verifiedAt: this.now(),
              }
            : null,
        );
      case 'unreadable': {
        const problem = unreadableBecause(opened.result.reading);
        if (problem) this.context.report.problems.push({ path: item.entry.path, problem });
        await addFile(
          this.db,
          {
            ...newFile(this.context, item),
            photoId: known?.photoId ?? null,
            state: 'unreadable',
            problems: problem ? [problem] : [],
          },
          null,
          null,
          this.now(),
        );
      }
    }
  }

  // --- what was known, and is there ---

  private async lookAtKnown(item: ScanItem, known: FileRecord): Promise<void> {
    await this.meetRecord(item.entry, known);
    const found = item.sidecar ? this.context.sidecars.get(item.sidecar.path)?.found : null;
    if (!item.sidecar && known.sidecar)
      await this.db.files.update(known.id, { sidecar: null, sidecarTarget: item.sidecarTarget });
    const photo = known.photoId ? await this.db.photos.get(known.photoId) : undefined;
    if (!photo) return;
    if (found) await adoptFound(this.context, { ...known, sidecarTarget: item.sidecarTarget }, photo, found);
    else await queueIfBehind(this.context, known.id);
  }

  /** What another catalog recorded of the same file on its drive since. */
  private async meetRecord(entry: DriveEntry, known: FileRecord): Promise<void> {
    const record = this.context.records.byPath.get(entry.path);
    if (!record) return;
    await addedEarlier(this.db, known, record.addedAt);
    if (known.sha256 === null) {
      await this.db.files.update(known.id, {
        sha256: record.measure.sha256,
        imageSha256: record.measure.imageSha256,
        measuredFrom: 'drive',
      });
      return;
    }
    const disagrees = record.measure.sha256 !== known.sha256 && record.also !== known.sha256;
    if (disagrees && !this.context.isPending) await fileInDoubt(this.db, known.id, record.measure.sha256, this.now());
    // it was found damaged elsewhere: it is read again here before it is believed
    if (!disagrees && record.state === 'damaged' && known.state === 'present')
      await this.db.files.update(known.id, { verifiedAt: null });
  }

  /** The same file: touched, back after it was missing, or mended. */
  private async keep(item: ScanItem, known: FileRecord, { digests, file }: Opened): Promise<void> {
    if (digests)
      await fileRead(
        this.db,
        known,
        { sizeBytes: file.size, modifiedMs: file.lastModified },
        digests,
        this.context.marked,
        this.now(),
      );
    const now = await this.db.files.get(known.id);
    if (now) await meetSidecar(this.context, item, now);
  }

  /** Another program wrote metadata into the file: the photo stays, and hears what the file says now. */
  private async redescribe(
    item: ScanItem,
    known: FileRecord,
    { reading, fingerprint }: ReadResult,
    digests: FileDigests,
  ): Promise<void> {
    const { db } = this;
    const { report, marked } = this.context;
    const photo = known.photoId ? await db.photos.get(known.photoId) : undefined;
    if (!photo) return;
    const { fields: embedded, captured: _, ...technical } = reading;
    const isAsRecorded =
      item.sidecar !== null && item.sidecar.path === known.sidecar?.path && asRecorded(item.sidecar, known.sidecar);
    const beside = isAsRecorded && item.sidecar ? await sidecarOf(this.context, item.sidecar) : null;
    const met = await db.transaction('rw', changeTables(db), async () => {
      await db.outbox.put(manifestItem(this.context.driveId, this.now()));
      await db.photos.update(photo.id, technical);
      const record: Partial<FileRecord> = {
        sizeBytes: item.entry.sizeBytes,
        modifiedMs: item.entry.modifiedMs,
        state: 'present',
        fingerprint,
        sha256: digests.file,
        imageSha256: digests.image,
        foundSha256: null,
        verifiedAt: marked ? this.now() : null,
        embedded,
        problems: reading.problems,
        sidecarTarget: item.sidecarTarget,
        ...(beside && known.sidecar && { sidecar: { ...known.sidecar, base: foundWords(embedded, beside).fields } }),
      };
      return meetImage(db, known.id, embedded, record, this.now());
    });
    report.sidecarsTaken += met.tookOver > 0 ? 1 : 0;
    report.conflicts += met.conflicts > 0 ? 1 : 0;
    report.changed += 1;
    const file = await db.files.get(known.id);
    if (file) await meetSidecar(this.context, item, file);
    // with what was written into it, it may have the bytes of a copy that was found before
    await joinByProof(db, known.id, this.now());
  }

  /** It is not what was first measured. The photo stays, so does the measure; what is there now is no copy of it. */
  private async fileDamage(item: ScanItem, opened: Opened, measure: Measure): Promise<void> {
    const { known, entry } = item;
    const { report } = this.context;
    const seen = { sizeBytes: entry.sizeBytes, modifiedMs: entry.modifiedMs };
    report.damaged.push(entry.path);
    if (known) {
      await fileDamaged(this.db, known.id, seen, opened.digests?.file ?? null, this.now());
      return;
    }
    const record = this.context.records.byPath.get(entry.path);
    const photoId = await photoOfRecord(this.context, record, opened.result.fingerprint, measure);
    const isPhoto = unreadableBecause(opened.result.reading) === null;
    const file: FileRecord = {
      ...newFile(this.context, item),
      photoId,
      state: 'damaged',
      fingerprint: record?.fingerprint ?? opened.result.fingerprint,
      sha256: measure.sha256,
      imageSha256: measure.imageSha256,
      measuredFrom: 'drive',
      foundSha256: opened.digests?.file ?? null,
      problems: opened.result.reading.problems,
    };
    const photo =
      isPhoto && photoId && !(await this.db.photos.get(photoId))
        ? newPhoto(this.context, item, opened.result, photoId, measure, null)
        : null;
    await addFile(this.db, file, photo, null, this.now());
    // the words beside it are right all the same
    if (item.sidecar) await meetSidecar(this.context, item, file);
    // the copy that is what this one should be may have been met at the same moment
    const [whole] = await this.db.files
      .where('sha256')
      .equals(measure.sha256)
      .filter(({ state }) => state === 'present')
      .limit(1)
      .toArray();
    if (whole) await joinByProof(this.db, whole.id, this.now());
  }

  // --- what is new here ---

  private async addPhoto(item: ScanItem, opened: Opened, held: Held | null): Promise<void> {
    const { db } = this;
    const { reading } = opened.result;
    const measure = held?.measure ?? null;
    const which = await whichPhoto(this.context, item, opened, measure);
    // a photo of that id came while this file was being read: it is read again, and held against that one
    if (!which) return this.readAgain(item);
    const { photoId, known } = which;
    const file = await this.fileOfPhoto(item, opened, held, which);
    const sidecar = item.sidecar ? await sidecarOf(this.context, item.sidecar) : null;
    const changed = item.known?.photoId && item.known.photoId !== photoId ? item.known.photoId : null;
    const carried = changed && item.known ? await this.leavePhoto(changed, item.known) : null;
    const preview = await this.previewFor(opened.file, opened.result, known ? photoId : null);
    const words = () => wordsFor(wordsBegunWith(foundWords(reading.fields, sidecar)), carried);
    const photo = known ? null : newPhoto(this.context, item, opened.result, photoId, measure, words());
    // two files of one fingerprint met for the first time at the same moment: the second looks again, and is held
    // against the first
    if ((await addFile(db, file, photo, preview, this.now())) === 'taken') return this.readAgain(item);
    if (changed) this.context.report.changed += 1;
    else if (!item.known) this.reportAdded(item.entry.path);
    await meetSidecar(this.context, item, file, photo !== null);
    if (measure) await joinByProof(db, file.id, this.now());
  }

  /** What was read is not what the catalog says by now; each reading hears more, so that few are enough. */
  private async readAgain(item: ScanItem): Promise<void> {
    item.readings = (item.readings ?? 1) + 1;
    if (item.readings > READINGS) throw new DriveError('changed-meanwhile', item.entry.path);
    return this.readItem(item);
  }

  /** Its record. It is in doubt where another photo of its fingerprint may be the one that is right. */
  private async fileOfPhoto(
    item: ScanItem,
    { result: { reading, fingerprint }, kin }: Opened,
    held: Held | null,
    { photoId, known, recorded }: Identified,
  ): Promise<FileRecord> {
    const rivals = kin.filter((one) => one.photoId !== photoId && one.sha256 !== null);
    const inDoubt = rivals.length > 0 && (await isRival(this.context, item.entry, rivals, recorded));
    return {
      ...newFile(this.context, item),
      photoId,
      fingerprint,
      sha256: held?.measure.sha256 ?? null,
      imageSha256: held?.measure.imageSha256 ?? null,
      measuredFrom: held?.from ?? null,
      verifiedAt: this.context.marked && !inDoubt ? (held?.verifiedAt ?? null) : null,
      ...(inDoubt && { state: 'doubt' as const, foundSha256: rivals[0]?.sha256 ?? null }),
      embedded: !known || sameFields(known.embedded, reading.fields) ? null : reading.fields,
      problems: reading.problems,
    };
  }

  /** A file of this drive, at another path than before. */
  private async follow(item: ScanItem, { digests, file }: Opened, before: FileRecord | undefined): Promise<void> {
    const { marked, report } = this.context;
    if (!before || !digests) return;
    const { entry, sidecarTarget } = item;
    this.gone.set(
      before.fingerprint ?? '',
      (this.gone.get(before.fingerprint ?? '') ?? []).filter((one) => one !== before),
    );
    const moved = await moveFile(
      this.db,
      before.id,
      {
        id: `${this.context.driveId}/${entry.path}`,
        path: entry.path,
        sidecar: item.sidecar ? before.sidecar : null,
        sidecarTarget,
        state: 'present',
      },
      this.now(),
    );
    if (!moved) return;
    await fileRead(
      this.db,
      moved,
      { sizeBytes: file.size, modifiedMs: file.lastModified },
      digests,
      marked,
      this.now(),
    );
    report.moved.push({ from: before.path, to: entry.path });
    await meetSidecar(this.context, item, moved);
  }

  private reportAdded(path: string): void {
    const { report } = this.context;
    report.added += 1;
    if (report.addedPaths.length < ADDED_NAMED) report.addedPaths.push(path);
  }

  /** A copy of a photo shows what the photo shows. @param photoId `null` where the photo is new */
  private async previewFor(file: OpenedFile, { reading }: ReadResult, photoId: string | null): Promise<Blob | null> {
    const { fileTasks, control } = this.context.tools;
    if (!isDrawnAtOnce(reading)) return null;
    if (photoId !== null && (await this.db.previews.where('photoId').equals(photoId).count()) > 0) return null;
    const { blob, problem } = await fileTasks.preview(file, reading, 'small', control.signal);
    if (problem) reading.problems.push(problem);
    return blob;
  }

  /**
   * The file at this path holds another picture now, and was never measured. Edits that never reached a sidecar go over
   * to it.
   */
  private async leavePhoto(photoId: string, file: FileRecord): Promise<Words | null> {
    const before = await removeUnmeasured(this.db, photoId, file.id);
    if (!before) return null;
    const unwritten = differingKeys(file.sidecar?.base ?? embeddedIn(file, before), before.fields);
    const said = unwritten.filter((key) => before.fields[key] !== undefined);
    return {
      fields: Object.fromEntries(said.map((key) => [key, before.fields[key]])),
      versions: Object.fromEntries(said.map((key) => [key, before.versions?.[key] ?? NO_VERSION])),
    };
  }

  // --- what is not there ---

  /** What is still gone when everything was read is missing. */
  async settle(): Promise<void> {
    for (const file of [...this.gone.values()].flat()) {
      if (file.photoId !== null) this.context.report.missing.push(file.path);
      await fileMissing(this.db, file.id, this.now());
    }
  }

  /**
   * What only the drive's records know and is not there: moved by hand since, where its bytes lie under a path nothing
   * was recorded of; else it is missing, through this catalog too. To be asked when everything was read.
   */
  async missClaimed(isHidden: (path: string) => boolean): Promise<void> {
    const { driveId, records, report } = this.context;
    for (const [path, record] of records.byPath) {
      const id = `${driveId}/${path}`;
      if (
        this.context.there.has(path) ||
        this.context.known.has(path) ||
        isHidden(path) ||
        (await this.db.retired.get(id)) ||
        (await this.db.files.get(id))
      )
        continue;
      const twins = await this.db.files.where('sha256').equals(record.measure.sha256).toArray();
      if (
        twins.some((twin) => twin.driveId === driveId && twin.state === 'present' && !records.byPath.has(twin.path))
      ) {
        await retirePaths(this.db, driveId, [path], this.now());
        continue;
      }
      const photoId = await photoOfRecord(this.context, record, '', record.measure);
      const item: ScanItem = {
        entry: { path, sizeBytes: record.bytes ?? 0, modifiedMs: record.modified ?? 0 },
        known: null,
        sidecar: null,
        sidecarTarget: `${path}.xmp`,
      };
      await addFile(
        this.db,
        {
          ...newFile(this.context, item),
          photoId,
          state: 'missing',
          fingerprint: record.fingerprint,
          sha256: record.measure.sha256,
          imageSha256: record.measure.imageSha256,
          measuredFrom: 'drive',
        },
        null,
        null,
        this.now(),
      );
      report.missing.push(path);
    }
  }
}
