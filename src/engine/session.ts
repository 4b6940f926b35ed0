// The running application: one catalog, its drives, its workers, and the work that goes on behind the screens.
// Screens read the database live and this session's small store; they act through its methods.

import { createStore } from 'zustand/vanilla';
import type { Change, SavedChange, SettingValue, SavedKind, SavedItems } from '@/core/catalog/change';
import type { Versioned } from '@/core/fields/version';
import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { plainly } from '@/core/search/search-record';
import { DAY_MS } from '@/core/time/captured';
import { leftSentence, savedProblemSentence } from '@/messages/changes';
import { driveProblemSentence } from '@/messages/problems';
import type { OpenedFile } from '@/storage/drives/drive';
import { withHost } from '@/storage/host/host-file-tasks';
import {
  type Applied,
  SavedItemError,
  archiveItem,
  firstUndone,
  keepSetting,
  lastDone,
  makeChange,
  redoNext,
  undoLast,
} from '@/storage/catalog/changes';
import { CatalogDatabase } from '@/storage/catalog/database';
import type { Property } from '@/core/metadata/reading/properties';
import {
  type AccessionFileRecord,
  type AccessionRecord,
  type Agreed,
  type BagAsked,
  type ArchiveProblemRecord,
  type DeliveryItemRecord,
  type DeliveryRunRecord,
  type DriveRecord,
  type FileRecord,
  type GoingOver,
  type JobRecord,
  type JobReport,
  type JournalRecord,
  type LeftBehindRecord,
  type SourceRecord,
  isResting,
} from '@/storage/catalog/records';
import type { OverOrder } from '@/storage/catalog/going-over';
import { rejoinSidecar } from '@/storage/catalog/left-behind';
import { keepAside, trackSetting } from '@/storage/catalog/saved';
import { settleAccession } from '@/storage/catalog/accessions';
import type { Verdict } from '@/storage/catalog/photos';
import { type ConflictDecision, type SeenValue, type Taken, planDecision, sayApart } from '@/storage/catalog/sidecars';
import type { Connection } from '@/storage/connections/connections';
import { type JobControl, type JobTools, problemCode } from '@/storage/jobs/job-tools';
import { settleDelivery } from '@/storage/jobs/delivering';
import { verifyFile } from '@/storage/jobs/digesting';
import { type Settled, mendFile, settleFile } from '@/storage/jobs/settling';
import { JobRunner, type NewJob } from '@/storage/jobs/runner';
import { type WorkerFileTasks, workerFileTasks } from '@/workers/file-task-client';
import { type LocateClient, workerLocate } from '@/workers/locate-client';
import { type PictureClient, workerPictures } from '@/workers/picture-client';
import { type SearchClient, workerSearch } from '@/workers/search-client';
import { type SheetClient, workerSheets } from '@/workers/sheet-client';
import { type SpellingClient, workerSpelling } from '@/workers/spelling-client';
import { isoDay, today } from '@/ui/format';
import { hostOfPage } from './host-access';
import { HostWatch } from './host-watch';
import { followChoices } from './archive-choice';
import { Connections } from './connections';
import { type CopyHow, CopyRoutines } from './copy-routines';
import { DailyWork } from './daily-work';
import { DriveActs } from './drive-acts';
import { SearchFeeding } from './search-feeding';
import { type DemoState, loadDemo, lookForDemo } from './demo';
import { type Evidence, gatherEvidence } from './evidence';
import { FolderWatch } from './folder-watch';
import { inTurn } from './in-turn';
import { IndexKeeping } from './index-keeping';
import { FrameMeasuring } from './overlap-and-sharpness';
import { openOriginal } from './open-original';
import { OutboxPump } from './outbox-pump';
import { type DrawingProgress, PreviewDrawing } from './preview-drawing';
import { removeLargePreviews } from '@/storage/jobs/large-previews';
import type { LargePreviewSize } from '@/storage/file-tasks/file-tasks';
import { PictureMeasuring, type MeasuringProgress } from './picture-measuring';
import { type StorageRoom, storageRoom } from './storage-room';
import { catalogName, removeLeftDemo } from './which-catalog';
import { workOf } from './work-of';

/** `outdated`: a newer version of Wembo has opened the catalog; this page writes nothing any more. */
export type CatalogStage =
  { state: 'opening' } | { state: 'ready' } | { state: 'failed'; problem: string } | { state: 'outdated' };

export interface SessionState {
  stage: CatalogStage;
  /** Something the person must hear; the frame shows it once. */
  notice: { text: string; at: number } | null;
  /** Photos in the search index so far. */
  indexed: number;
  /** Counts up whenever the search index has new content. */
  indexVersion: number;
  /** Of drives and of sources, by id. */
  connections: Record<string, Connection>;
  /** A card or folder that was not there before and is now. */
  arrived: { sourceId: string; at: number } | null;
  storage: StorageRoom | null;
  /** How far measuring how pictures look has come; `null` where nothing is left. */
  measuring: MeasuringProgress | null;
  /** How many previews are left to be drawn; `null` where none is. */
  drawing: DrawingProgress | null;
  /** Previews that were drawn behind the screens in this page. */
  drawn: number;
  /** Whether the server has a demo to offer; in the demo's catalog, how far its drives are loaded. */
  demo: DemoState;
}

export const sessionState = createStore<SessionState>(() => ({
  stage: { state: 'opening' },
  notice: null,
  indexed: 0,
  indexVersion: 0,
  connections: {},
  arrived: null,
  storage: null,
  measuring: null,
  drawing: null,
  drawn: 0,
  demo: { state: 'unknown' },
}));

const set = sessionState.setState;

/** Whoever looks at a picture wants the next one first. */
const LOOKED_AT_AFTER_MS = 3000;

/** The page's locks, asked for when they are needed: where the session is made there may be no page. */
const LOCKS = {
  request: (...order: Parameters<LockManager['request']>) => navigator.locks.request(...order),
} as LockManager;

class Session {
  readonly db = new CatalogDatabase(catalogName());
  private taskWorkers: WorkerFileTasks | null = null;
  private searchClient: SearchClient | null = null;
  private pictureClient: PictureClient | null = null;
  private spellingClient: SpellingClient | null = null;
  private locateClient: LocateClient | null = null;
  private sheetClient: SheetClient | null = null;
  private runner: JobRunner | null = null;
  private readonly feeding = new SearchFeeding(this.db, () => this.keeping.feed());
  readonly frameMeasuring = new FrameMeasuring({
    db: this.db,
    search: () => this.search,
    pictures: () => this.pictures,
    original: (photoId) => this.original(photoId),
    feed: () => this.feeding.now(),
  });
  readonly pictureMeasuring = new PictureMeasuring({
    db: this.db,
    pictures: () => this.pictures,
    onProgress: (measuring) => set({ measuring }),
    alone: (work) => this.inOneTab('seeing', work),
  });
  readonly previewDrawing = new PreviewDrawing({
    db: this.db,
    fileTasks: () => this.fileTasks,
    original: (photoId) => this.original(photoId),
    alone: (work) => this.inOneTab('drawing', work),
    onProgress: (drawing) => set({ drawing }),
    onDrawn: () => this.drawn(),
  });
  private readonly keeping = new IndexKeeping({
    db: this.db,
    search: () => this.search,
    locks: LOCKS,
    newId: () => crypto.randomUUID(),
    onProgress: (indexed) => set({ indexed }),
    onFed: (indexed) => this.indexed(indexed),
    onBehind: () => this.searchClient?.restart(),
  });
  private readonly outbox = new OutboxPump({
    db: this.db,
    now: Date.now,
    driveOf: (driveId) => {
      const connection = this.drives.of(driveId);
      if (this.isOutdated) return null;
      return connection.state === 'connected' && connection.writable ? connection.drive : null;
    },
    embed: (order) => this.fileTasks.embed(order),
    copy: (order) => this.fileTasks.copy(order, () => undefined),
  });
  private readonly watch = new FolderWatch({ db: this.db, scanForChanges: (driveId) => this.scanForChanges(driveId) });
  private readonly hostWatch = new HostWatch({
    host: () => this.host,
    alone: (work) => void navigator.locks.request(`${this.db.name}-host-watch`, work),
    onChange: (driveId, paths) => this.watch.noticeServed(driveId, paths),
  });
  /** Asks the host about folders of this machine; `null` where it does not know this page. */
  readonly host = hostOfPage();
  private opened = false;
  private isOutdated = false;
  /** Files that were read in full because somebody looked at them. */
  private readonly looked = new Set<string>();
  readonly drives = new Connections({
    db: this.db,
    watch: this.watch,
    watchServed: (driveId, folder) => this.hostWatch.add(driveId, folder),
    host: () => this.host,
    known: () => sessionState.getState().connections,
    note: (id, connection) => {
      set((state) => ({ connections: { ...state.connections, [id]: connection } }));
      this.previewDrawing.again();
      if (connection.state !== 'connected') return;
      void this.daily.look();
      this.copyRoutines.later();
    },
    onArrival: (sourceId) => set({ arrived: { sourceId, at: Date.now() } }),
    wake: () => this.outbox.wake(),
    startScan: (driveId) => this.startScan(driveId),
    onAdded: () => void this.lookAtStorage(true),
    onNewStore: (driveId) => this.driveActs.say(driveId, { medium: 'store', elsewhere: true }),
  });
  readonly copyRoutines = new CopyRoutines({
    db: this.db,
    isHere: (driveId) => this.drives.driveNow(driveId) !== null,
    find: async (scope) => (await this.search.search(plainly(scope))).order.all(),
    copy: (driveId, targetId, how) => this.startCopy(driveId, targetId, how),
    alone: (work) => this.inOneTab('routines', work),
  });
  readonly daily = new DailyWork({
    db: this.db,
    isHere: (driveId) => this.drives.driveNow(driveId) !== null,
    run: (job) => this.runUnasked(job),
    dismiss: (jobId) => this.dismissJob(jobId),
    dayOf: isoDay,
    alone: (work) => this.inOneTab('daily', work),
  });
  readonly driveActs = new DriveActs({
    db: this.db,
    change: (change) => this.change(change),
    locks: LOCKS,
    isThere: (driveId): Promise<boolean> =>
      this.drives.connected(driveId).then(
        () => true,
        () => false,
      ),
    scan: (driveId) => void this.startScan(driveId),
    onForgotten: (driveId) => this.drives.forgotten(driveId),
  });
  /** The person's day, when what is told from today was last asked for. */
  private day = new Date().toDateString();

  /** Does it unless another tab is at it. */
  private async inOneTab(name: string, work: () => Promise<void>): Promise<void> {
    await LOCKS.request(`${this.db.name}-${name}`, { ifAvailable: true }, (lock) => (lock ? work() : undefined));
  }

  get fileTasks(): WorkerFileTasks {
    return (this.taskWorkers ??= withHost(workerFileTasks()));
  }

  get search(): SearchClient {
    return (this.searchClient ??= workerSearch(() => void this.refillIndex()));
  }

  get pictures(): PictureClient {
    return (this.pictureClient ??= workerPictures());
  }

  get locate(): LocateClient {
    return (this.locateClient ??= workerLocate());
  }

  get sheets(): SheetClient {
    return (this.sheetClient ??= workerSheets());
  }

  get spelling(): SpellingClient {
    return (this.spellingClient ??= workerSpelling());
  }

  private indexed(indexed: number): void {
    set((state) => ({ indexed, indexVersion: state.indexVersion + 1 }));
    this.frameMeasuring.later();
    this.pictureMeasuring.later();
    this.previewDrawing.later();
    this.keeping.later();
  }

  private drawn(): void {
    set((state) => ({ drawn: state.drawn + 1 }));
    this.pictureMeasuring.later();
  }

  /** Resolves when the index has heard of all that was written until now. */
  indexIsFed(): Promise<void> {
    return this.feeding.settled();
  }

  /** What is found changed although no photo did: words or collections are others. */
  searchedAnew(): void {
    set((state) => ({ indexVersion: state.indexVersion + 1 }));
  }

  async open(): Promise<void> {
    if (this.opened) return;
    this.opened = true;
    try {
      this.db.onOutdated = () => this.stopOutdated();
      await removeLeftDemo();
      await this.db.open();
      followChoices(this.db, (id, value) => this.keepSetting(id, value));
      this.feeding.listen();
      this.runner = new JobRunner(
        this.db,
        (job, control) => this.carryOut(job, control),
        navigator.locks,
        Date.now,
        (problem) => say(driveProblemSentence(problem)),
      );
      this.drives.listen();
      await this.drives.openAll();
      this.indexed(await this.keeping.open());
      set({ stage: { state: 'ready' } });
      await this.runner.findInterrupted();
      void this.outbox.run();
      void this.lookAtStorage(true);
      void this.lookForDemo();
      window.addEventListener('focus', () => this.cameBack());
    } catch (error) {
      if (sessionState.getState().stage.state === 'outdated') return;
      set({ stage: { state: 'failed', problem: error instanceof Error ? error.message : String(error) } });
    }
  }

  /** From here on nothing is written, not even what is in work: what another version keeps may have another form. */
  private stopOutdated(): void {
    set({ stage: { state: 'outdated' } });
    this.isOutdated = true;
  }

  /** The person came back to the window, perhaps on another day. */
  private cameBack(): void {
    void this.drives.checkConnections();
    const today = new Date().toDateString();
    if (today !== this.day) this.searchedAnew();
    this.day = today;
  }

  /** The worker died, and the index with it. */
  private async refillIndex(): Promise<void> {
    set({ stage: { state: 'opening' }, indexed: 0 });
    this.indexed(await this.keeping.build());
    set({ stage: { state: 'ready' } }); // words and collections are told again
  }

  // --- jobs ---

  private async startJob(job: NewJob): Promise<string | undefined> {
    try {
      return await this.runner?.start(job);
    } catch (error) {
      say(driveProblemSentence(problemCode(error)));
      return undefined;
    }
  }

  startScan = (driveId: string) => this.startJob({ kind: 'scan', driveId });

  /** A scan nobody asked for: it is only mentioned when it found something. */
  private async scanForChanges(driveId: string): Promise<void> {
    const job = await this.runUnasked({ kind: 'scan', driveId });
    if (job?.state === 'done' && job.report?.kind === 'scan' && job.report.added === 0) await this.dismissJob(job.id);
  }

  /** As it is recorded when it has ended. */
  private async runUnasked(job: NewJob): Promise<JobRecord | undefined> {
    const jobId = (await this.startJob({ ...job, noticed: true })) ?? '';
    await this.runner?.ended(jobId);
    return this.db.jobs.get(jobId);
  }

  startCopy = (driveId: string, targetDriveId: string, { photoIds, ...how }: CopyHow) =>
    this.startJob({ kind: 'copy', driveId, photoIds, targetDriveId, ...how });
  /** All of a drive goes to another one, which takes its place when it is verified there. */
  startReplacing = (driveId: string, targetDriveId: string) =>
    this.startJob({ kind: 'copy', driveId, targetDriveId, photoIds: null, whole: true, replaces: true });
  startGoingOver = ({ sourceId, targetId, photoIds }: OverOrder, over: GoingOver) =>
    this.startJob({ kind: 'copy', driveId: sourceId, targetDriveId: targetId, photoIds: [...photoIds], over });
  startDrill = (driveId: string, targetDriveId: string) => this.startJob({ kind: 'drill', driveId, targetDriveId });
  startBackup = (driveId: string) => this.startJob({ kind: 'backup', driveId });
  startCheck = (driveId: string) => this.startJob({ kind: 'check', driveId });
  startFreeing = (driveId: string, photoIds: string[] | null, agreed: Pick<Agreed, 'files' | 'awayCounts'>) =>
    this.startJob({ kind: 'free', driveId, photoIds, agreed: { copies: 0, ...agreed } });
  startBag = (driveId: string, photoIds: string[], bag: BagAsked) =>
    this.startJob({ kind: 'bag', driveId, photoIds, bag });
  startEmptying = (sourceId: string, agreed: Agreed) =>
    this.startJob({ kind: 'empty', driveId: sourceId, sourceId, agreed });

  /** Records an accession and begins to take it in. */
  async startTakeIn(accession: AccessionRecord, files: AccessionFileRecord[]): Promise<string | undefined> {
    await this.db.transaction('rw', this.db.accessions, this.db.accessionFiles, async () => {
      await this.db.accessions.put(accession);
      await this.db.accessionFiles.bulkPut(files);
    });
    return this.startJob({
      kind: 'take-in',
      driveId: accession.sheet.driveId ?? '',
      targetDriveId: accession.sheet.second.driveId,
      sourceId: accession.sourceId,
      accessionId: accession.id,
    });
  }

  /** Records a delivery and begins it. */
  async startDelivery(run: DeliveryRunRecord, items: DeliveryItemRecord[]): Promise<string | undefined> {
    await this.db.transaction('rw', this.db.deliveryRuns, this.db.deliveryItems, async () => {
      await this.db.deliveryRuns.put(run);
      await this.db.deliveryItems.bulkPut(items);
    });
    const drives = [...new Set(items.map(({ driveId }) => driveId))];
    return this.startJob({
      kind: 'deliver',
      driveId: drives[0] ?? '',
      targetDriveId: drives.length === 1 ? (drives[0] ?? null) : null,
      alsoDriveIds: drives.slice(1),
      deliveryId: run.id,
    });
  }

  startLargePreviews = (photoIds: string[], byNight: boolean, previewSize: LargePreviewSize = 'large') =>
    this.startJob({ kind: 'previews', driveId: 'previews', photoIds, byNight, previewSize });

  async removeLargePreviews(photoIds: readonly string[]): Promise<number> {
    const bytes = await removeLargePreviews(this.db, photoIds);
    void this.lookAtStorage(false);
    return bytes;
  }

  limitJob = (jobId: string, limit: number | null) => this.runner?.limit(jobId, limit);
  pauseJob = (jobId: string) => this.runner?.pause(jobId);
  resumeJob = (jobId: string) => this.runner?.resume(jobId);
  cancelJob = (jobId: string) => this.runner?.cancel(jobId);

  /** Puts a job away. A take-in that was not finished will not be taken up again. */
  async dismissJob(jobId: string): Promise<void> {
    const job = await this.db.jobs.get(jobId);
    if (job?.accessionId && job.state !== 'done') await settleAccession(this.db, job.accessionId, Date.now());
    if (job?.deliveryId) await settleDelivery(this.db, job.deliveryId, Date.now());
    await this.db.jobs.delete(jobId);
  }

  private async carryOut(job: JobRecord, control: JobControl): Promise<JobReport> {
    const tools: JobTools = {
      db: this.db,
      fileTasks: this.fileTasks,
      now: Date.now,
      control,
    };
    try {
      const report = await workOf(job, tools, {
        connected: (id) => this.drives.connected(id),
        now: (id) => this.drives.driveNow(id),
        apartFrom: (id) => this.drives.apartFrom(id),
      });
      if (job.kind === 'take-in') await this.previewsAfter(job);
      return report;
    } finally {
      await this.feeding.now(); // what the job found can be searched for when it says that it is done
      this.outbox.wake();
      void this.lookAtStorage(false);
    }
  }

  /** Large previews never slow the taking in: they come when it is over. */
  private async previewsAfter({ accessionId }: JobRecord): Promise<void> {
    const accession = await this.db.accessions.get(accessionId ?? '');
    if (!accession || accession.sheet.previews === 'small') return;
    const files = await this.db.accessionFiles.where('accessionId').equals(accession.id).toArray();
    await this.startLargePreviews(
      files.flatMap(({ photoId }) => photoId ?? []),
      accession.sheet.previews === 'by-night',
    );
  }

  // --- changes ---

  /** Makes a change. When it cannot be kept, the person is told why, and that it was not made. */
  async change(change: Change): Promise<boolean> {
    try {
      this.afterChange(await makeChange(this.db, change, Date.now()));
      return true;
    } catch (error) {
      say(
        `The change was not made. ${error instanceof SavedItemError ? savedProblemSentence(error.problem) : driveProblemSentence(problemCode(error))}`,
      );
      return false;
    }
  }

  /** Says something in a field of one photo, beside what came in since it was `seen`. Answers whether something had. */
  async sayApart(photoId: string, key: FieldKey, value: FieldValue | undefined, seen: SeenValue): Promise<boolean> {
    const applied = await sayApart(this.db, photoId, key, value, seen, Date.now());
    if (applied) this.afterChange(applied);
    return applied !== null;
  }

  undo(): Promise<Change | null> {
    return inTurn(async () => this.stepInJournal(await lastDone(this.db), undoLast));
  }

  redo(): Promise<Change | null> {
    return inTurn(async () => this.stepInJournal(await firstUndone(this.db), redoNext));
  }

  private async stepInJournal(entry: JournalRecord | undefined, step: typeof undoLast): Promise<Change | null> {
    const applied = await step(this.db, Date.now());
    if (applied) this.afterChange(applied);
    return entry?.change ?? null;
  }

  private afterChange({ left }: Applied): void {
    if (left > 0) say(leftSentence(left));
    void this.feeding.now();
    this.outbox.wake();
  }

  /** Something was queued for the drives beside a change. */
  wakeOutbox(): void {
    this.outbox.wake();
  }

  /** A choice that belongs to the archive. */
  async keepSetting(id: string, value: SettingValue): Promise<void> {
    await keepSetting(this.db, id, value, Date.now());
    this.outbox.wake();
  }

  async useTrack(trackId: string, used: boolean): Promise<void> {
    await this.db.tracks.update(trackId, { used });
    await this.keepSetting(trackSetting(trackId), { used });
  }

  /** A file of ours that a later version wrote is kept aside, and what this catalog knows is written in its place. */
  async keepAside(problem: ArchiveProblemRecord): Promise<void> {
    const { drive } = await this.drives.connected(problem.driveId);
    await keepAside(this.db, drive, problem, async () => true);
    await this.db.outbox.put(archiveItem(problem.driveId, Date.now()));
    this.outbox.wake();
  }

  /** The person decides conflicts, one or many, as one act. */
  async decide(decisions: readonly ConflictDecision[]): Promise<void> {
    const change = await planDecision(this.db, decisions);
    if (change) await this.change(change);
  }

  /**
   * Keeps something new under a name, on this catalog's drives too. Returns its id; `null` where it was not kept, which
   * the person was told.
   */
  async keep<S extends SavedKind>(
    savedKind: S,
    content: Omit<SavedItems[S], 'id' | keyof Versioned>,
  ): Promise<string | null> {
    const id = crypto.randomUUID();
    const isKept = await this.change({
      kind: 'kept',
      savedKind,
      before: null,
      after: { ...content, id, updatedAt: Date.now(), deleted: false },
    } as unknown as SavedChange);
    return isKept ? id : null;
  }

  changeKept<S extends SavedKind>(
    savedKind: S,
    before: SavedItems[S],
    patch: Partial<Omit<SavedItems[S], 'id' | 'updatedAt'>>,
  ): Promise<boolean> {
    return this.change({
      kind: 'kept',
      savedKind,
      before,
      after: { ...before, ...patch, updatedAt: Date.now() },
    } as SavedChange);
  }

  // --- files that are not as they should be ---

  /** The person settles it. @throws DriveError where the drive cannot be read */
  async settle(file: FileRecord, as: Settled): Promise<void> {
    await settleFile(this.reading(), this.drives.driveNow(file.driveId), file.id, as);
    this.outbox.wake();
  }

  /** How a damaged file and a copy of it differ. @throws DriveError where one cannot be read */
  evidence(file: FileRecord, copy: FileRecord, signal: AbortSignal): Promise<Evidence> {
    const open = async ({ driveId, path }: FileRecord) => (await this.drives.connected(driveId)).drive.open(path);
    return gatherEvidence(this.fileTasks, open, file, copy, signal);
  }

  /** Brings a damaged or missing file back from a verified copy. @throws DriveError where that does not work */
  async mend(file: FileRecord, from: FileRecord): Promise<void> {
    const [{ drive }, source] = [await this.drives.connected(file.driveId), await this.drives.connected(from.driveId)];
    await mendFile(this.reading(), file.id, { drive, from: { drive: source.drive, fileId: from.id }, day: today() });
    this.outbox.wake();
  }

  /** Puts a sidecar beside the photo it was left behind by. @throws DriveError where that does not work */
  async rejoin(record: LeftBehindRecord, file: FileRecord): Promise<Taken> {
    const { drive } = await this.drives.connected(record.driveId);
    const taken = await rejoinSidecar(this.db, drive, record, file.id, Date.now(), today());
    this.outbox.wake();
    return taken;
  }

  /** Reads a file that does not look as it should once more, in full: damage is filed wherever it is met. */
  async verify({ driveId, id }: FileRecord): Promise<Verdict> {
    const [{ drive }, record] = [await this.drives.connected(driveId), await this.db.drives.get(driveId)];
    const verdict = await verifyFile(
      { ...this.reading(), signal: new AbortController().signal },
      drive,
      id,
      record?.marked ?? false,
    );
    this.outbox.wake();
    return verdict;
  }

  /**
   * What is shown pixel by pixel is read in full behind that, once a day; at once where it cannot be drawn as it
   * should.
   */
  lookedAt(record: FileRecord, whole: boolean): void {
    const isFresh = record.verifiedAt !== null && Date.now() - record.verifiedAt < DAY_MS;
    if ((whole && isFresh) || this.looked.has(record.id)) return;
    this.looked.add(record.id);
    setTimeout(
      () => void this.verify(record).catch(() => this.looked.delete(record.id)),
      whole ? LOOKED_AT_AFTER_MS : 0,
    );
  }

  private reading() {
    return {
      db: this.db,
      fileTasks: this.fileTasks,
      now: Date.now,
      control: { signal: new AbortController().signal },
    };
  }

  // --- pictures ---

  /** The original of a photo from a connected drive, or `null` when all its drives are away. */
  async original(photoId: string): Promise<{ file: OpenedFile; record: FileRecord } | null> {
    return openOriginal(this.db, (driveId) => this.drives.of(driveId), photoId);
  }

  /** Everything the original says; `null` when all its drives are away. */
  async properties(photoId: string): Promise<Property[] | null> {
    const found = await this.original(photoId);
    return found && this.fileTasks.properties(found.file, found.record.path);
  }

  // --- the browser's storage, the demo ---

  private async lookAtStorage(ask: boolean): Promise<void> {
    set({ storage: await storageRoom(ask) });
  }

  private lookForDemo(): Promise<void> {
    return lookForDemo(
      this.db,
      () => this.loadDemo(),
      (demo) => set({ demo }),
    );
  }

  /** Fills the demo's catalog with its practice drives; goes on where it was interrupted. */
  loadDemo(): Promise<void> {
    const begin = async (record: DriveRecord | SourceRecord) => {
      await this.drives.connect({ ...record, takenOut: false });
      if (!('scannedAt' in record)) return;
      const jobId = await this.startScan(record.id);
      if (jobId && record.takenOut) void this.takeOutWhenDone(jobId, record.id);
    };
    return loadDemo(this.db, this.fileTasks.writePack, begin, (demo) => set({ demo }));
  }

  /** A drive that is to be away is taken out when it is cataloged and has its mark. */
  private async takeOutWhenDone(jobId: string, driveId: string): Promise<void> {
    await this.runner?.ended(jobId);
    const waiting = () =>
      this.db.outbox
        .where('driveId')
        .equals(driveId)
        .filter((item) => !isResting(item))
        .count();
    for (let tries = 0; tries < 600 && (await waiting()) > 0; tries++)
      await new Promise((resolve) => setTimeout(resolve, 200));
    await this.drives.setTakenOut(driveId, true);
  }
}

const say = (text: string) => set({ notice: { text, at: Date.now() } });

export const session = new Session();
