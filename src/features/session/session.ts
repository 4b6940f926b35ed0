// The running application: one catalog, its drives, its workers, and the work that goes on behind the screens.
// Screens read the database live and this session's small store; they act through its methods.

import { create } from 'zustand';
import type { Change, SmartCollection } from '@/core/changes/change';
import { faultSentence } from '@/messages/problems';
import { archiveItem, firstUndone, lastDone, makeChange, redoNext, undoLast, type Applied } from '@/storage/catalog/changes';
import { CatalogDatabase } from '@/storage/catalog/database';
import type { Property } from '@/core/reading/properties';
import { queueEmbedding } from '@/storage/catalog/embedding';
import type { DriveRecord, FileRecord, JobRecord, JobReport } from '@/storage/catalog/records';
import { allSearchRecords, searchRecords } from '@/storage/catalog/search-feed';
import { decideConflict } from '@/storage/catalog/sidecars';
import { type Connection, type Folder, type Recognised, addFolderDrive, connectionOf, recognise } from '@/storage/drives/connections';
import { DriveError } from '@/storage/drives/drive';
import type { ListedDrive } from '@/storage/drives/listed-drive';
import { demoIncomplete, fetchDemoIndex, loadPracticeDrives } from '@/storage/drives/practice';
import { checkDrive, copyPhotos } from '@/storage/jobs/fixity';
import { type JobControl, type JobTools, faultOf } from '@/storage/jobs/job-tools';
import { JobRunner, type NewJob } from '@/storage/jobs/runner';
import { clearLeftovers, scanDrive } from '@/storage/jobs/scan';
import { type WorkerHands, workerHands } from '@/workers/hands-client';
import { type SearchClient, workerSearch } from '@/workers/search-client';
import { OutboxPump } from './outbox-pump';
import { catalogName, removeLeftDemo, whichCatalog } from './which-catalog';

export interface SessionState {
  stage: 'opening' | 'ready' | 'failed';
  failure: string | null;
  /** Something the person must hear; the frame shows it once. */
  notice: { text: string; at: number } | null;
  /** Photos in the search index so far. */
  indexed: number;
  /** Counts up whenever the search index has new content. */
  indexVersion: number;
  connections: Record<string, Connection>;
  storage: { persisted: boolean; usedBytes: number; quotaBytes: number } | null;
  /** Whether the server has a demo to offer; in the demo's catalog, how far its drives are loaded. */
  demo: { state: 'unknown' | 'none' | 'offered' | 'loaded' } | { state: 'loading'; done: number; total: number } | { state: 'failed'; reason: string };
}

export const useSession = create<SessionState>(() => ({
  stage: 'opening', failure: null, notice: null, indexed: 0, indexVersion: 0, connections: {}, storage: null, demo: { state: 'unknown' },
}));

const set = useSession.setState;

/** Photos whose records changed are fed to the search index this much later, several at a time; those of a running job later still, for a screen that is drawn anew all the time has no time left for the work. */
const FEED_DELAY_MS = 60;
const JOB_FEED_DELAY_MS = 900;

class Session {
  readonly db = new CatalogDatabase(catalogName());
  private hands: WorkerHands | null = null;
  private searchClient: SearchClient | null = null;
  private runner: JobRunner | null = null;
  private channel: BroadcastChannel | null = null;
  private readonly changedPhotos = new Set<string>();
  private feeding = Promise.resolve();
  private feedTimer: { due: number; timer: ReturnType<typeof setTimeout> } | null = null;
  private readonly outbox = new OutboxPump({
    db: this.db,
    now: Date.now,
    driveOf: (driveId) => {
      const connection = this.connectionOf(driveId);
      return connection.state === 'connected' && connection.writable ? connection.drive : null;
    },
    embed: (order) => this.handsAtWork.embed(order),
    onPhotos: (ids) => this.feedLater(ids),
  });
  private opened = false;
  /** Folders given as lists of files: they last as long as the page. */
  private readonly listed = new Map<string, ListedDrive>();

  private get handsAtWork(): WorkerHands {
    return (this.hands ??= workerHands());
  }

  get search(): SearchClient {
    return (this.searchClient ??= workerSearch(() => void this.fillIndex()));
  }

  async open(): Promise<void> {
    if (this.opened) return;
    this.opened = true;
    try {
      await removeLeftDemo();
      await this.db.open();
      this.channel = new BroadcastChannel(`${this.db.name}-photos`);
      this.channel.onmessage = ({ data }) => this.feedLater(data as string[], { tellOthers: false });
      this.runner = new JobRunner(this.db, (job, control) => this.carryOut(job, control), navigator.locks, Date.now, (fault) => say(faultSentence(fault)));
      for (const record of await this.db.drives.toArray()) await this.connect(record);
      await this.fillIndex();
      set({ stage: 'ready' });
      await this.runner.findInterrupted();
      void this.outbox.run();
      void this.lookAtStorage(true);
      void this.lookForDemo();
    } catch (error) {
      set({ stage: 'failed', failure: error instanceof Error ? error.message : String(error) });
    }
  }

  private async fillIndex(): Promise<void> {
    let indexed = 0;
    for await (const records of allSearchRecords(this.db)) {
      indexed = await this.search.put(records, []);
      set({ indexed });
    }
    set((state) => ({ indexed, indexVersion: state.indexVersion + 1 }));
  }

  /** Tells search, the walls and the other tabs that these photos are not what they were. */
  private feedLater(photoIds: string[], { tellOthers = true, delayMs = FEED_DELAY_MS } = {}): void {
    for (const id of photoIds) this.changedPhotos.add(id);
    if (tellOthers && photoIds.length > 0) this.channel?.postMessage(photoIds);
    const due = Date.now() + delayMs;
    if (this.feedTimer && this.feedTimer.due <= due) return;
    if (this.feedTimer) clearTimeout(this.feedTimer.timer);
    this.feedTimer = { due, timer: setTimeout(() => void this.feed(), delayMs) };
  }

  /** Feeds what changed, after what is being fed. */
  private feed(): Promise<void> {
    if (this.feedTimer) clearTimeout(this.feedTimer.timer);
    this.feedTimer = null;
    return (this.feeding = this.feeding.then(() => this.feedNow()));
  }

  private async feedNow(): Promise<void> {
    const ids = [...this.changedPhotos];
    this.changedPhotos.clear();
    try {
      const { records, gone } = await searchRecords(this.db, ids);
      const indexed = await this.search.put(records, gone);
      set((state) => ({ indexed, indexVersion: state.indexVersion + 1 }));
    } catch {
      // the search worker died and is being filled anew from the catalog, which has these photos as they are now
    }
  }

  // --- drives ---

  private async connect(record: DriveRecord, ask = false): Promise<Connection> {
    const listed = this.listed.get(record.id);
    const connection: Connection = listed ? { state: 'connected', drive: listed, writable: false } : await connectionOf(record, ask);
    set((state) => ({ connections: { ...state.connections, [record.id]: connection } }));
    return connection;
  }

  /** A click on a drive: asks the browser for permission where that is needed, looks whether it is there, writes what waits. */
  async reconnect(driveId: string): Promise<Connection['state']> {
    const record = await this.db.drives.get(driveId);
    if (!record) return 'away';
    const connection = await this.connect(record, true);
    if (connection.state === 'connected') this.outbox.wake();
    return connection.state;
  }

  async setTakenOut(driveId: string, takenOut: boolean): Promise<void> {
    await this.db.drives.update(driveId, { takenOut });
    await this.reconnect(driveId);
  }

  /** From now on, or no longer, fields are written into the image files of a drive as well. */
  async setEmbeds(driveId: string, embeds: boolean): Promise<number> {
    await this.db.drives.update(driveId, { embeds });
    const waiting = embeds ? await queueEmbedding(this.db, driveId, Date.now()) : 0;
    this.outbox.wake();
    return waiting;
  }

  recognise(folder: Folder): Promise<Recognised> {
    return recognise(this.db, folder);
  }

  /** Registers a folder as a drive and starts to catalog it. */
  async addFolder(folder: Folder, mark: { id: string; name: string; createdAt: number } | { name: string }, access: DriveRecord['access']): Promise<void> {
    const id = 'id' in mark ? mark.id : crypto.randomUUID();
    const record = await addFolderDrive(this.db, { id, name: mark.name, folder, access, at: 'createdAt' in mark ? mark.createdAt : Date.now() });
    if ('listed' in folder) this.listed.set(id, folder.listed);
    await this.connect(record);
    await this.startScan(id);
    void this.lookAtStorage(true);
  }

  /** A known drive is back, perhaps in another place. */
  async returnDrive(driveId: string, folder: Folder): Promise<void> {
    if ('listed' in folder) this.listed.set(driveId, folder.listed);
    else await this.db.drives.update(driveId, { handle: folder.handle });
    await this.reconnect(driveId);
    await this.startScan(driveId);
  }

  connectionOf(driveId: string): Connection {
    return useSession.getState().connections[driveId] ?? { state: 'away' };
  }

  private async connectedDrive(driveId: string) {
    const record = await this.db.drives.get(driveId);
    const connection = record ? await this.connect(record) : null;
    if (connection?.state !== 'connected') throw new DriveError('not-found', record?.name ?? driveId);
    return connection;
  }

  // --- jobs ---

  private async startJob(job: NewJob): Promise<string | undefined> {
    try {
      return await this.runner?.start(job);
    } catch (error) {
      say(faultSentence(faultOf(error)));
      return undefined;
    }
  }

  startScan = (driveId: string) => this.startJob({ kind: 'scan', driveId, photoIds: null, targetDriveId: null });
  startCopy = (driveId: string, targetDriveId: string, photoIds: string[] | null) => this.startJob({ kind: 'copy', driveId, photoIds, targetDriveId });
  startCheck = (driveId: string) => this.startJob({ kind: 'check', driveId, photoIds: null, targetDriveId: null });

  pauseJob = (jobId: string) => this.runner?.pause(jobId);
  resumeJob = (jobId: string) => this.runner?.resume(jobId);
  cancelJob = (jobId: string) => this.runner?.cancel(jobId);
  dismissJob = (jobId: string) => this.db.jobs.delete(jobId);

  private async carryOut(job: JobRecord, control: JobControl): Promise<JobReport> {
    const tools: JobTools = { db: this.db, hands: this.handsAtWork, now: Date.now, control, onPhotos: (ids) => this.feedLater(ids, { delayMs: JOB_FEED_DELAY_MS }) };
    const source = await this.connectedDrive(job.driveId);
    try {
      if (job.kind === 'scan') return await this.scan(tools, job, source);
      if (job.kind === 'check') return await checkDrive(tools, job.driveId, source.drive, source.writable);
      const targetId = job.targetDriveId ?? '';
      const target = await this.connectedDrive(targetId);
      return await copyPhotos(tools, { source: { id: job.driveId, ...source }, target: { id: targetId, drive: target.drive }, photoIds: job.photoIds });
    } finally {
      await this.feed(); // what the job found can be searched for when it says that it is done
      this.outbox.wake();
      void this.lookAtStorage(false);
    }
  }

  private async scan(tools: JobTools, job: JobRecord, { drive, writable }: Extract<Connection, { state: 'connected' }>): Promise<JobReport> {
    const report = await scanDrive(tools, job.driveId, drive);
    if (writable) await clearLeftovers(drive, report.leftovers, Date.now());
    if (writable) await this.db.outbox.put(archiveItem(job.driveId, Date.now()));
    return report;
  }

  // --- changes ---

  /** Makes a change. When the browser cannot keep it, the person is told that it was not made. */
  async change(change: Change): Promise<void> {
    try {
      this.afterChange(await makeChange(this.db, change, Date.now()));
    } catch (error) {
      say(`The change was not made. ${faultSentence(faultOf(error))}`);
    }
  }

  async undo(): Promise<Change | null> {
    const entry = await lastDone(this.db);
    const applied = await undoLast(this.db, Date.now());
    if (applied) this.afterChange(applied);
    return entry?.change ?? null;
  }

  async redo(): Promise<Change | null> {
    const entry = await firstUndone(this.db);
    const applied = await redoNext(this.db, Date.now());
    if (applied) this.afterChange(applied);
    return entry?.change ?? null;
  }

  private afterChange({ photoIds }: Applied): void {
    this.feedLater(photoIds);
    this.outbox.wake();
  }

  async decide(fileId: string, decision: 'ours' | 'theirs'): Promise<void> {
    this.feedLater(await decideConflict(this.db, fileId, decision, Date.now()));
    this.outbox.wake();
  }

  newCollection(name: string, scope: string): Promise<void> {
    const after: SmartCollection = { id: crypto.randomUUID(), name, scope, updatedAt: Date.now(), deleted: false };
    return this.change({ kind: 'collection', before: null, after });
  }

  changeCollection(before: SmartCollection, patch: Partial<Pick<SmartCollection, 'name' | 'scope' | 'deleted'>>): Promise<void> {
    return this.change({ kind: 'collection', before, after: { ...before, ...patch, updatedAt: Date.now() } });
  }

  // --- pictures ---

  /** The original of a photo from a connected drive, or `null` when all its drives are away. */
  async original(photoId: string): Promise<{ file: File; record: FileRecord } | null> {
    for (const record of await this.db.files.where('photoId').equals(photoId).toArray()) {
      const connection = this.connectionOf(record.driveId);
      if (connection.state !== 'connected' || record.state !== 'present') continue;
      try {
        return { file: await connection.drive.open(record.path), record };
      } catch {
        continue; // the next drive may have it
      }
    }
    return null;
  }

  /** Everything the original says; `null` when all its drives are away. */
  async properties(photoId: string): Promise<Property[] | null> {
    const found = await this.original(photoId);
    return found && this.handsAtWork.properties(found.file, found.record.path);
  }

  // --- the browser's storage, the demo ---

  private async lookAtStorage(ask: boolean): Promise<void> {
    const persisted = (await navigator.storage.persisted()) || (ask && (await navigator.storage.persist()));
    const { usage = 0, quota = 0 } = await navigator.storage.estimate();
    set({ storage: { persisted, usedBytes: usage, quotaBytes: quota } });
  }

  private async lookForDemo(): Promise<void> {
    try {
      const index = await fetchDemoIndex();
      if (!index || whichCatalog() !== 'demo') return set({ demo: { state: index ? 'offered' : 'none' } });
      // one tab loads it; another that waited finds it whole
      await navigator.locks.request('wembo-demo-load', async () => {
        if (await demoIncomplete(this.db, index)) await this.loadDemo();
        else set({ demo: { state: 'loaded' } });
      });
    } catch (error) {
      set({ demo: whichCatalog() === 'demo' ? { state: 'failed', reason: error instanceof Error ? error.message : String(error) } : { state: 'none' } });
    }
  }

  /** A drive that is to be away is taken out when it is cataloged and has its mark. */
  private async takeOutWhenDone(jobId: string, driveId: string): Promise<void> {
    await this.runner?.ended(jobId);
    const waiting = () => this.db.outbox.where('driveId').equals(driveId).count();
    for (let tries = 0; tries < 50 && (await waiting()) > 0; tries++) await new Promise((resolve) => setTimeout(resolve, 200));
    await this.setTakenOut(driveId, true);
  }

  /** Fills the demo's catalog with its practice drives; goes on where it was interrupted. */
  async loadDemo(): Promise<void> {
    const index = await fetchDemoIndex();
    if (!index) return set({ demo: { state: 'none' } });
    try {
      const records = await loadPracticeDrives(this.db, index, this.handsAtWork.writePack, Date.now(), (done, total) => set({ demo: { state: 'loading', done, total } }));
      for (const record of records) {
        await this.connect({ ...record, takenOut: false });
        const jobId = await this.startScan(record.id);
        if (jobId && record.takenOut) void this.takeOutWhenDone(jobId, record.id);
      }
      set({ demo: { state: 'loaded' } });
    } catch (error) {
      set({ demo: { state: 'failed', reason: error instanceof Error ? error.message : String(error) } });
    }
  }
}

const say = (text: string) => set({ notice: { text, at: Date.now() } });

export const session = new Session();
