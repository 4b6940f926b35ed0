// Taking in: the files of an accession, frame by frame, from a card or folder to one drive or two at the same time.
// Which file goes where was decided before (core/take-in/plan.ts) and is recorded, so that an interrupted job goes on
// with what is not placed yet.
//
//   placed and verified on a drive                       → recorded; never copied there again
//   the drive takes no more (full)                       → the job stops and says so; what is verified stays
//   the second drive is away, or goes                     → its copies wait in the outbox
//   the file cannot be read on the card                   → named; the others go on
//   the card is gone                                      → the job stops; it goes on when the card is back
//
// What is written on arrival comes at the end, as one change: it can be undone by itself. The number and the name the
// camera gave are there from the beginning.

import { planEntries, type KitEntry } from '@/core/describe/kit';
import { foldName, nameIn, nthPath, pathBeside } from '@/core/names/file-names';
import { photoFor } from '@/core/fixity/found-file';
import { countAccession, countsLine, keptAsItCame } from '@/core/take-in/accession';
import { rawsFirst } from '@/core/formats/containers/formats';
import { differingKeys, sameFields, wordsIn } from '@/core/fields/values';
import type { FieldValues } from '@/core/fields/registry';
import { unreadableBecause } from '@/core/metadata/reading/reading';
import { wordsBegunWith } from '@/core/fields/merge';
import { NO_VERSION, bumped } from '@/core/fields/version';
import { foundWords, parseSidecar } from '@/core/metadata/xmp/sidecar';
import { accessionItem, makeChange, manifestItem, queueSidecars, taskItem } from '../catalog/changes';
import { recordOf } from '../catalog/sidecars';
import { filesTakenIn, kinOf } from '../catalog/photos';
import { writeFixityOf } from '../catalog/manifest';
import type {
  AccessionFileRecord,
  AccessionRecord,
  FileRecord,
  JobReport,
  OutboxRecord,
  PhotoRecord,
} from '../catalog/records';
import { type Drive, DriveError, type OpenedFile } from '../drives/drive';
import type { PlacedCopy, Target } from '../file-tasks/verified-copy';
import { MANIFEST_FILE } from '../archive/fixity-file';
import { clearParts } from '../drives/clear-parts';
import { bytesOf } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import type { TakenIn } from '../file-tasks/file-tasks';
import { CardCopy } from './card-copy';
import { type JobTools, forEachItem, startProgress, stopsAll, itemProblemOf } from './job-tools';

export type TakeInReport = JobReport & { kind: 'take-in' };

export interface TakeInRequest {
  accession: AccessionRecord;
  source: Drive;
  main: { id: string; drive: Drive };
  /** `null` where none is wanted; `drive` is `null` while it is away. */
  second: { id: string; drive: Drive | null } | null;
  /** Where the card is kept as it is; `null` where that is not wanted. */
  asItIs: Drive | null;
}

/**
 * Closing a file on a real disk waits for the browser's check of its content; more frames in work hide that wait
 * (measured in bench/take-in.ts).
 */
const FRAMES_IN_FLIGHT = 6;

type Frame = AccessionFileRecord[];
type TakenSidecar = { file: AccessionFileRecord; bytes: Uint8Array };
type PlacedOn = { driveId: string; path: string; modifiedMs: number };

export async function takeIn(tools: JobTools, request: TakeInRequest): Promise<TakeInReport> {
  const report: TakeInReport = {
    kind: 'take-in',
    number: request.accession.number,
    photos: 0,
    beside: 0,
    renamed: [],
    bytes: 0,
    line: '',
    waiting: 0,
    problems: [],
  };
  tools.control.reporting(report);
  const { asItIs, source, accession } = request;
  const card = asItIs && new CardCopy(tools, source, asItIs, accession.number, report);
  const work = new TakeIn(tools, request, report, card);
  try {
    await work.placeAll();
    await work.describe();
  } finally {
    await work.file();
    await card?.clearParts();
  }
  return report;
}

class TakeIn {
  /** Why the second drive gets nothing more in this run; its copies wait. */
  private secondStopped = false;
  private readonly progress = startProgress('copying');

  constructor(
    private readonly tools: JobTools,
    private readonly request: TakeInRequest,
    private readonly report: TakeInReport,
    private readonly card: CardCopy | null,
  ) {}

  private get wanted(): { id: string; drive: Drive | null; pathOf: (file: AccessionFileRecord) => string }[] {
    const { main, second } = this.request;
    return [
      { ...main, pathOf: ({ to }) => to },
      ...(second ? [{ ...second, pathOf: ({ to, second: path }: AccessionFileRecord) => path ?? to }] : []),
    ];
  }

  private isPlaced = (file: AccessionFileRecord, driveId: string) =>
    file.placed.some((place) => place.driveId === driveId);

  private files(): Promise<AccessionFileRecord[]> {
    return this.tools.db.accessionFiles.where('accessionId').equals(this.request.accession.id).toArray();
  }

  async placeAll(): Promise<void> {
    const { control } = this.tools;
    const frames = new Map<string, Frame>();
    for (const file of (await this.files()).sort((a, b) => (a.number < b.number ? -1 : 1)))
      frames.set(file.frame, [...(frames.get(file.frame) ?? []), file]);
    const waiting = [...frames.values()].filter((frame) =>
      frame.some((file) => this.wanted.some(({ id, drive }) => drive && !this.isPlaced(file, id))),
    );
    const files = waiting.flat().filter((file) => this.wanted.some(({ id }) => !this.isPlaced(file, id)));
    this.progress.totalItems = files.length;
    // read once, written and read back on each drive
    this.progress.totalBytes = files.reduce(
      (sum, { sizeBytes }) => sum + sizeBytes * (1 + this.wanted.filter(({ drive }) => drive).length),
      2 * ((await this.card?.begin()) ?? 0),
    );
    control.progress({ ...this.progress });
    await forEachItem(
      waiting,
      control,
      (frame) => this.placeFrame(frame),
      (frame, error) => this.report.problems.push(itemProblemOf(frame[0]?.from ?? '', error)),
      FRAMES_IN_FLIGHT,
    );
    await this.card?.finish(this.onBytes);
  }

  private onBytes = (bytes: number): void => {
    this.progress.doneBytes += bytes;
    this.tools.control.progress({ ...this.progress });
  };

  private async placeFrame(frame: Frame): Promise<void> {
    const sidecars = new Map<string, TakenSidecar>();
    // sidecars first: a photo's record begins with what its sidecar says
    for (const file of frame.toSorted((a, b) => Number(b.role === 'sidecar') - Number(a.role === 'sidecar'))) {
      try {
        await this.placeFile(file, frame, sidecars);
      } catch (error) {
        if (this.tools.control.signal.aborted || stopsAll(error)) throw error;
        this.report.problems.push(itemProblemOf(file.from, error));
      }
      this.progress.doneItems += 1;
      this.tools.control.progress({ ...this.progress });
    }
  }

  private async placeFile(file: AccessionFileRecord, frame: Frame, sidecars: Map<string, TakenSidecar>): Promise<void> {
    const targets = this.wanted.filter(
      ({ id, drive }, index) => drive && !this.isPlaced(file, id) && !(index === 1 && this.secondStopped),
    );
    if (targets.length === 0 && file.role !== 'sidecar') return;
    const opened = await this.openOnSource(file);
    if (targets.length === 0) {
      sidecars.set(file.from, { file, bytes: await bytesOf(opened) });
      return;
    }
    // a sidecar is kept as it came, too: the one beside the photo is written into
    const asItCame =
      file.role === 'sidecar'
        ? targets.map((target): Target => ({
            drive: target.drive as Drive,
            path: keptAsItCame(this.request.accession.number, file.from),
          }))
        : [];
    const order = [
      ...(await Promise.all(
        targets.map(async (target): Promise<Target> => ({
          drive: target.drive as Drive,
          path: await this.freeOfRecords(target.id, target.pathOf(file)),
        })),
      )),
      ...asItCame,
      ...(this.card ? [this.card.target(file.from)] : []),
    ];
    const taken = await this.tools.fileTasks
      .takeIn(
        { file: opened, name: file.from, targets: order, isPhoto: file.role === 'photo' },
        this.onBytes,
        this.tools.control.signal,
      )
      .catch((error: unknown) => this.sourceProblem(file, error));
    const placed = taken.placed.slice(0, targets.length).map((one, index) => ({
      one,
      driveId: targets[index]?.id ?? '',
      isMain: targets[index]?.id === this.request.main.id,
    }));
    if (file.role === 'sidecar' && taken.bytes) sidecars.set(file.from, { file, bytes: taken.bytes });
    if (taken.digests) await this.record(file, frame, taken, placed, sidecars);
    this.card?.note(file.from, file.sizeBytes, taken.digests?.file, taken.placed.at(-1));
    for (const { one, isMain } of placed) if (one.state === 'failed') this.stopOn(one.problem, file, isMain);
  }

  /**
   * A path at which something is recorded as missing or damaged is not taken by another file: that would be forgotten.
   */
  private async freeOfRecords(driveId: string, wanted: string): Promise<string> {
    for (let count = 1; ; count++) {
      const path = nthPath(wanted, count);
      const record = await this.tools.db.files.get(`${driveId}/${path}`);
      if (!record || record.state === 'present') return path;
    }
  }

  /** Another attempt at a file that failed is of no use on a drive that is full or gone. */
  private stopOn(
    problem: (PlacedCopy & { state: 'failed' })['problem'],
    file: AccessionFileRecord,
    isMain: boolean,
  ): void {
    if (isMain) throw new DriveError(problem === 'not-found' ? 'target-gone' : problem, file.to);
    if (!this.secondStopped)
      this.report.problems.push({ path: file.second ?? file.to, problem: { code: 'drive/problem', reason: problem } });
    if (problem === 'full' || problem === 'not-found' || problem === 'no-permission') this.secondStopped = true;
  }

  private async openOnSource(file: AccessionFileRecord): Promise<OpenedFile> {
    try {
      const opened = await this.request.source.open(file.from);
      // another file under the name the plan was made for is not the one that was chosen
      if (opened.size !== file.sizeBytes || opened.lastModified !== file.modifiedMs)
        throw new DriveError('changed-meanwhile', file.from);
      return opened;
    } catch (error) {
      return this.sourceProblem(file, error);
    }
  }

  /** Tells a file that cannot be read from a card that is gone. */
  private async sourceProblem(file: AccessionFileRecord, error: unknown): Promise<never> {
    this.tools.control.signal.throwIfAborted();
    const entries = this.request.source.list({ shallow: true })[Symbol.asyncIterator]();
    const there = await entries.next().then(
      () => true,
      () => false,
    );
    throw there ? error : new DriveError('source-gone', file.from);
  }

  private async record(
    file: AccessionFileRecord,
    frame: Frame,
    taken: TakenIn,
    placed: { one: PlacedCopy; driveId: string; isMain: boolean }[],
    sidecars: Map<string, TakenSidecar>,
  ): Promise<void> {
    const there = placed.flatMap(({ one, driveId }) => (one.state === 'placed' ? [{ ...one, driveId }] : []));
    if (there.length === 0) return;
    const sidecar = file.role === 'photo' ? sidecarFor(file, frame, sidecars) : null;
    const unreadable = taken.read && unreadableBecause(taken.read.reading);
    if (unreadable) this.report.problems.push({ path: file.from, problem: unreadable });
    const next = await this.recordPlaced(
      file,
      frame,
      taken,
      unreadable !== null && unreadable !== undefined,
      there,
      sidecar,
    );
    Object.assign(file, next);
    if (file.role === 'photo') this.report.photos += 1;
    else this.report.beside += 1;
    this.report.bytes += file.sizeBytes;
    for (const { driveId, path } of there) {
      const asked = this.wanted.find(({ id }) => id === driveId)?.pathOf(file) ?? path;
      if (path !== asked) this.report.renamed.push({ from: asked, to: path });
    }
  }

  private async recordPlaced(
    file: AccessionFileRecord,
    frame: Frame,
    taken: TakenIn,
    isUnreadable: boolean,
    there: PlacedOn[],
    sidecar: TakenSidecar | null,
  ): Promise<AccessionFileRecord> {
    const { db, now } = this.tools;
    for (;;) {
      const { photo, isNew } =
        taken.read && !isUnreadable
          ? await this.photoOf(file, taken, sidecar?.bytes ?? null)
          : { photo: null, isNew: false };
      const files = await Promise.all(
        taken.read ? there.map((one) => this.fileOf(file, frame, taken, photo, one, sidecar)) : [],
      );
      const accessionFile: AccessionFileRecord = {
        ...file,
        sha256: taken.digests?.file ?? null,
        photoId: photo?.id ?? null,
        placed: [...file.placed, ...there.map(({ driveId, path }) => ({ driveId, path }))],
      };
      if ((await filesTakenIn(db, { photo, isNew, files, preview: taken.preview, accessionFile }, now())) === 'added')
        return accessionFile;
    }
  }

  /** The photo the catalog has of these bytes, by proof, or a new one with its number and the name it came with. */
  private async photoOf(
    file: AccessionFileRecord,
    { read, digests }: TakenIn,
    sidecar: Uint8Array | null,
  ): Promise<{ photo: PhotoRecord; isNew: boolean }> {
    const { db, now } = this.tools;
    const { reading, fingerprint } = read as NonNullable<TakenIn['read']>;
    const measure = digests && { sha256: digests.file, imageSha256: digests.image };
    const kin = await kinOf(db, fingerprint, null);
    const isTaken = (await db.photos.get(fingerprint)) !== undefined;
    const chosen = photoFor(fingerprint, measure, kin, null, () => isTaken);
    const there = await db.photos.get(chosen);
    // another frame of this fingerprint may have come while this one was looked up: only proof makes them one photo
    const isOther =
      there !== undefined &&
      measure !== null &&
      there.sha256 !== null &&
      there.sha256 !== measure.sha256 &&
      !kin.some(({ photoId }) => photoId === chosen);
    const id = isOther ? photoFor(fingerprint, measure, [], null, () => true) : chosen;
    const known = isOther ? await db.photos.get(id) : there;
    if (known) return { photo: known, isNew: false };
    const parsed = sidecar ? parseSidecar(sidecar) : null;
    const { fields: embedded, captured: _, ...rest } = reading;
    const begun = wordsBegunWith(foundWords(embedded, parsed?.state === 'read' ? parsed.value : null));
    const fields = this.numbered(begun.fields, file);
    const written = Object.fromEntries(
      differingKeys(begun.fields, fields).map((key) => [key, bumped(begun.versions[key] ?? NO_VERSION, db.catalogId)]),
    );
    return {
      isNew: true,
      photo: {
        ...rest,
        id,
        bytes: file.sizeBytes,
        embedded,
        fields,
        versions: { ...begun.versions, ...written },
        sha256: digests?.file ?? null,
        imageSha256: digests?.image ?? null,
        addedAt: now(),
      },
    };
  }

  private numbered(fields: FieldValues, file: AccessionFileRecord): FieldValues {
    const keepsName =
      this.request.accession.sheet.keepOldName &&
      nameIn(file.to) !== nameIn(file.from) &&
      fields.originalName === undefined;
    return {
      ...fields,
      identifier: [...new Set([...wordsIn(fields.identifier), file.number])],
      ...(keepsName && { originalName: nameIn(file.from) }),
    };
  }

  private async fileOf(
    file: AccessionFileRecord,
    frame: Frame,
    { read, digests }: TakenIn,
    photo: PhotoRecord | null,
    { driveId, path, modifiedMs }: PlacedOn,
    sidecar: TakenSidecar | null,
  ): Promise<FileRecord> {
    const { now } = this.tools;
    const marked = (await this.tools.db.drives.get(driveId))?.marked ?? false;
    const { reading, fingerprint } = read as NonNullable<TakenIn['read']>;
    const beside = sidecar?.file.placed.find((place) => place.driveId === driveId);
    const parsed = sidecar ? parseSidecar(sidecar.bytes) : null;
    const record =
      beside && sidecar && parsed?.state === 'read'
        ? recordOf(
            { path: beside.path, sizeBytes: sidecar.bytes.length, modifiedMs: 0 },
            await sha256Hex(sidecar.bytes),
            foundWords(reading.fields, parsed.value).fields,
          )
        : null;
    return {
      id: `${driveId}/${path}`,
      driveId,
      path,
      photoId: photo?.id ?? null,
      sizeBytes: file.sizeBytes,
      modifiedMs,
      state: photo ? 'present' : 'unreadable',
      fingerprint,
      sha256: digests?.file ?? null,
      imageSha256: digests?.image ?? null,
      measuredFrom: digests ? 'copy' : null,
      foundSha256: null,
      embedded: photo && !sameFields(photo.embedded, reading.fields) ? reading.fields : null,
      verifiedAt: marked && digests ? now() : null,
      sidecar: record,
      sidecarTarget: record?.path ?? sidecarTargetOf(path, firstPhotoOf(frame) !== file.from),
      wantedPath: null,
      movingTo: null,
      problems: reading.problems,
    };
  }

  /** Puts kits, keywords and marker on the photos, once. */
  async describe(): Promise<void> {
    const { db, now } = this.tools;
    const { accession } = this.request;
    const files = (await this.files()).sort((a, b) => (a.number < b.number ? -1 : 1));
    const kits = new Map((await db.kits.toArray()).map((kit) => [kit.id, kit]));
    const entriesOf = (kitIds: readonly string[], keywords: readonly string[]): KitEntry[] => [
      ...kitIds.flatMap((id) => kits.get(id)?.entries ?? []),
      ...(keywords.length > 0 ? [{ key: 'keywords' as const, mode: 'add' as const, value: [...keywords] }] : []),
    ];
    const { sheet } = accession;
    const forAll: KitEntry[] = [
      ...entriesOf(sheet.kitIds, sheet.keywords),
      ...(sheet.marker === '' ? [] : [{ key: 'label' as const, mode: 'replace' as const, value: sheet.marker }]),
    ];
    // the date taken is never touched on arrival
    const entries = files.map((file) =>
      [
        ...forAll,
        ...accession.runs
          .filter((run) => isInRun(run, file, files))
          .flatMap((run) => entriesOf(run.kitIds, run.keywords)),
      ].filter(({ key }) => key !== 'captured'),
    );
    const photos = new Map(
      (await db.photos.bulkGet(files.flatMap(({ photoId }) => photoId ?? []))).flatMap((photo) =>
        photo ? [[photo.id, photo]] : [],
      ),
    );
    const edits = files.flatMap((file, index) => {
      const photo = file.photoId && !file.described ? photos.get(file.photoId) : undefined;
      return photo ? planEntries(photo, entries[index] ?? [], file.placed[0]?.path ?? file.from) : [];
    });
    await makeChange(db, { kind: 'fields', origin: 'person', edits }, now());
    await db.accessionFiles.bulkPut(
      files.filter(({ photoId, described }) => photoId && !described).map((file) => ({ ...file, described: true })),
    );
  }

  /** Sidecars, manifests and the accession's record are written; copies the second drive did not get wait for it. */
  async file(): Promise<void> {
    const { db, now, control } = this.tools;
    const { accession, main, second } = this.request;
    const files = await this.files();
    await queueSidecars(
      db,
      files.flatMap(({ photoId }) => photoId ?? []),
      now(),
    );
    const waiting = second
      ? files.filter((file) => this.isPlaced(file, main.id) && !this.isPlaced(file, second.id))
      : [];
    if (second)
      await db.outbox.bulkPut(
        waiting.filter(({ role }) => role !== 'sidecar').map((file) => copyItem(file, main.id, second.id, now())),
      );
    this.report.waiting = waiting.filter(({ role }) => role === 'photo').length;
    const done = files.every((file) => this.isPlaced(file, main.id));
    await db.accessions.update(accession.id, { endedAt: done ? now() : null });
    const names = new Map((await db.drives.toArray()).map(({ id, name }) => [id, name]));
    this.report.line = countsLine(countAccession(accession, files), (id) => names.get(id) ?? id);
    const drives = [main, ...(second ? [second] : [])];
    // a drive that is gone has its leftovers cleared when it is looked through again
    for (const { drive, pathOf } of this.wanted)
      if (drive) await clearParts(drive, files.map(pathOf)).catch(() => undefined);
    await db.outbox.bulkPut(
      drives.flatMap(({ id }): OutboxRecord[] => [manifestItem(id, now()), accessionItem(id, accession.id, now())]),
    );
    const written = files.reduce((sum, file) => sum + (this.isPlaced(file, main.id) ? file.sizeBytes : 0), 0);
    if (done && !control.signal.aborted) {
      const record = await db.drives.get(main.id);
      if (record) await db.drives.update(main.id, { bytes: record.bytes + written });
      for (const { id, drive } of drives)
        if (drive)
          await writeFixityOf(db, id, drive).catch((error: unknown) =>
            this.report.problems.push(itemProblemOf(MANIFEST_FILE, error)),
          );
    }
  }
}

const copyItem = (file: AccessionFileRecord, from: string, to: string, at: number): OutboxRecord => {
  const path = file.second ?? file.to;
  const source = file.placed.find(({ driveId }) => driveId === from)?.path ?? file.to;
  return taskItem(
    `copy:${to}/${path}`,
    to,
    {
      kind: 'copy',
      photoId: file.photoId,
      from: { driveId: from, path: source },
      path,
      sha256: file.sha256 ?? '',
      accessionFileId: file.id,
    },
    at,
  );
};

/** `NAME.xmp`, or `NAME.EXT.xmp` where another photo of that base name comes first (core/names/sidecar-names.ts). */
const sidecarTargetOf = (path: string, shares: boolean): string =>
  shares ? `${path}.xmp` : pathBeside('.xmp', '', path);

/** The photo of a frame that has the name without an ending: the raw, else the first by name. */
const firstPhotoOf = (frame: Frame): string | undefined =>
  frame
    .filter(({ role }) => role === 'photo')
    .map(({ from }) => from)
    .sort(rawsFirst)[0];

/** The sidecar of a photo among those of its frame: `NAME.EXT.xmp` is its own, `NAME.xmp` is the first photo's. */
function sidecarFor(file: AccessionFileRecord, frame: Frame, sidecars: Map<string, TakenSidecar>): TakenSidecar | null {
  const name = foldName(file.from);
  const own = [...sidecars.values()].find((sidecar) => foldName(sidecar.file.from) === `${name}.xmp`);
  if (own) return own;
  return firstPhotoOf(frame) === file.from
    ? ([...sidecars.values()].find(
        (sidecar) => foldName(sidecar.file.from) === foldName(pathBeside('.xmp', '', file.from)),
      ) ?? null)
    : null;
}

function isInRun(
  { first, last }: { first: string; last: string },
  file: AccessionFileRecord,
  inOrder: readonly AccessionFileRecord[],
): boolean {
  const at = (frame: string) => inOrder.find((one) => one.frame === frame)?.number ?? '';
  const [one, other] = [at(first), at(last)].sort();
  return one !== undefined && other !== undefined && file.number >= one && file.number <= other;
}
