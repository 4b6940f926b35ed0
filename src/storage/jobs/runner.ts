// Jobs: long work that shows its progress, can be paused, cancelled and resumed, and is found again after a reload.
// A job holds a lock for its drives, so that a second tab does not do the same work at the same time; a job recorded
// as running whose lock nobody holds was interrupted.

import type { CatalogDatabase } from '../catalog/database';
import type { JobProgress, JobRecord, JobReport } from '../catalog/records';
import { DriveError } from '../drives/drive';
import { Speed } from './speed';
import { type JobControl, problemCode, startProgress } from './job-tools';

/** Progress is put into the database at most this often, so that reporting costs nothing against the work. */
const PROGRESS_EVERY_MS = 250;
/** How a job ended is tried to be recorded again after this, while the browser has no room for it. */
const RECORD_AGAIN_MS = 2000;

export type JobWork = (job: JobRecord, control: JobControl) => Promise<JobReport>;

interface Running {
  abort: AbortController;
  paused: { promise: Promise<void>; resume: () => void } | null;
  speed: Speed;
  settled: Promise<void>;
}

export type NewJob = Pick<JobRecord, 'kind' | 'driveId'> &
  Partial<
    Pick<
      JobRecord,
      | 'photoIds'
      | 'targetDriveId'
      | 'folders'
      | 'over'
      | 'whole'
      | 'replaces'
      | 'share'
      | 'accessionId'
      | 'deliveryId'
      | 'alsoDriveIds'
      | 'sourceId'
      | 'agreed'
      | 'bag'
      | 'byNight'
      | 'previewSize'
      | 'noticed'
    >
  >;

export class JobRunner {
  private readonly running = new Map<string, Running>();

  constructor(
    private readonly db: CatalogDatabase,
    private readonly work: JobWork,
    private readonly locks: LockManager,
    private readonly now: () => number,
    /** Told while the end of a job cannot be recorded, since then no screen can show it. */
    private readonly onUnrecorded: (problem: string) => void,
  ) {}

  /** Marks as interrupted what a closed tab left behind. */
  async findInterrupted(): Promise<void> {
    const held = new Set(((await this.locks.query()).held ?? []).map(({ name }) => name));
    const open = await this.db.jobs.where('state').anyOf('running', 'paused').toArray();
    for (const job of open) if (!held.has(jobLock(job.id))) await this.db.jobs.update(job.id, { state: 'interrupted' });
  }

  async start(job: NewJob): Promise<string> {
    const record: JobRecord = {
      photoIds: null,
      targetDriveId: null,
      accessionId: null,
      sourceId: null,
      agreed: null,
      byNight: false,
      noticed: false,
      ...job,
      id: crypto.randomUUID(),
      state: 'running',
      progress: startProgress('listing'),
      report: null,
      problem: null,
      startedAt: this.now(),
      endedAt: null,
    };
    await this.db.jobs.put(record);
    this.run(record);
    return record.id;
  }

  /** Takes up an interrupted, failed or cancelled job again: what was done is known and left out. */
  async resume(jobId: string): Promise<void> {
    const running = this.running.get(jobId);
    if (running) {
      running.paused?.resume();
      running.paused = null;
      await this.db.jobs.update(jobId, { state: 'running' });
      return;
    }
    const record = await this.db.jobs.get(jobId);
    if (!record || record.state === 'done' || record.state === 'running') return;
    await this.db.jobs.update(jobId, { state: 'running', report: null, problem: null, endedAt: null });
    this.run({ ...record, state: 'running' });
  }

  async pause(jobId: string): Promise<void> {
    const running = this.running.get(jobId);
    if (!running || running.paused) return;
    let resume = () => {};
    const promise = new Promise<void>((resolve) => (resume = resolve));
    running.paused = { promise, resume };
    await this.db.jobs.update(jobId, { state: 'paused' });
  }

  /** From now on so many bytes a second, on average; kept when it is taken up again. */
  async limit(jobId: string, limit: number | null): Promise<void> {
    this.running.get(jobId)?.speed.limitTo(limit);
    await this.db.jobs.update(jobId, { limit });
  }

  cancel(jobId: string): void {
    const running = this.running.get(jobId);
    running?.abort.abort(new DOMException('cancelled', 'AbortError'));
    running?.paused?.resume();
  }

  /** For tests and for closing down: resolves when the job has ended. */
  async ended(jobId: string): Promise<void> {
    await this.running.get(jobId)?.settled;
  }

  private run(record: JobRecord): void {
    const running: Running = {
      abort: new AbortController(),
      paused: null,
      speed: new Speed(record.limit ?? null),
      settled: Promise.resolve(),
    };
    this.running.set(record.id, running);
    running.settled = this.locks
      .request(jobLock(record.id), () => this.holdRemoving(record, running))
      .then(
        () => void this.running.delete(record.id),
        () => void this.running.delete(record.id),
      );
  }

  /**
   * Two jobs that remove for good never do so at the same time: each may rely on the copy that the other is about to
   * remove.
   */
  private holdRemoving(record: JobRecord, running: Running): Promise<void> {
    return REMOVING.has(record.kind)
      ? this.locks.request(REMOVING_LOCK, () => this.holdDrives(record, running))
      : this.holdDrives(record, running);
  }

  /** Two jobs on one drive take turns, in this tab and in others. */
  private holdDrives(record: JobRecord, running: Running): Promise<void> {
    const drives = [
      ...new Set([
        record.driveId,
        record.targetDriveId ?? record.driveId,
        record.sourceId ?? record.driveId,
        ...(record.alsoDriveIds ?? []),
      ]),
    ].sort();
    const hold = (at: number): Promise<void> => {
      const drive = drives[at];
      return drive === undefined
        ? this.carryOut(record, running)
        : this.locks.request(driveLock(drive), () => hold(at + 1));
    };
    return hold(0);
  }

  private async carryOut(record: JobRecord, running: Running): Promise<void> {
    const progress = this.progressWriter(record.id);
    let report: JobReport | null = null;
    const control: JobControl = {
      signal: running.abort.signal,
      atRest: async () => {
        await running.paused?.promise;
        running.abort.signal.throwIfAborted();
        await running.speed.hold(running.abort.signal);
      },
      progress: (latest) => {
        running.speed.hear(latest.doneBytes);
        progress.take(latest);
      },
      reporting: (handed) => (report = handed),
    };
    try {
      report = await this.work(record, control);
      await progress.flush();
      await this.end(record.id, 'done', report);
    } catch (error) {
      await progress.flush();
      const cancelled = running.abort.signal.aborted;
      const problem = cancelled
        ? null
        : { reason: problemCode(error), path: error instanceof DriveError ? error.path : '' };
      await this.end(record.id, cancelled ? 'cancelled' : 'failed', report, problem);
    }
  }

  private async end(
    jobId: string,
    state: JobRecord['state'],
    report: JobReport | null,
    problem: JobRecord['problem'] = null,
  ): Promise<void> {
    // several files are in work at once, so problems come out of order
    report?.problems.sort((a, b) => (a.path < b.path ? -1 : 1));
    for (;;) {
      try {
        await this.db.jobs.update(jobId, { state, report, problem, endedAt: this.now() });
        return;
      } catch (error) {
        this.onUnrecorded(problemCode(error));
        await new Promise((resolve) => setTimeout(resolve, RECORD_AGAIN_MS));
      }
    }
  }

  private progressWriter(jobId: string) {
    let latest: JobProgress | null = null;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const flush = async () => {
      if (timer) clearTimeout(timer);
      timer = null;
      // progress that cannot be recorded is not worth stopping for
      if (latest) await this.db.jobs.update(jobId, { progress: latest }).catch(() => 0);
      latest = null;
    };
    return {
      take: (progress: JobProgress) => {
        latest = progress;
        timer ??= setTimeout(() => void flush(), PROGRESS_EVERY_MS);
      },
      flush,
    };
  }
}

/** What nothing brings back goes by these. */
const REMOVING: ReadonlySet<JobRecord['kind']> = new Set(['empty', 'free']);
const REMOVING_LOCK = 'wembo-removing';

/** Held by the job that works on a drive. */
export const driveLock = (driveId: string) => `wembo-drive-${driveId}`;
const jobLock = (jobId: string) => `wembo-job-${jobId}`;
