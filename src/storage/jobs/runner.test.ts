import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { CatalogDatabase } from '../catalog/database';
import { DriveError } from '../drives/drive';
import type { JobControl } from './job-tools';
import { type JobWork, JobRunner } from './runner';

/** Locks of one browser, held in memory: first come, first served, by name. */
class FakeLocks {
  readonly queues = new Map<string, Promise<unknown>>();
  readonly held = new Set<string>();

  request<T>(name: string, work: () => Promise<T>): Promise<T> {
    const turn = (this.queues.get(name) ?? Promise.resolve()).then(async () => {
      this.held.add(name);
      try {
        return await work();
      } finally {
        this.held.delete(name);
      }
    });
    this.queues.set(
      name,
      turn.catch(() => undefined),
    );
    return turn;
  }

  async query() {
    return { held: [...this.held].map((name) => ({ name })), pending: [] };
  }
}

let db: CatalogDatabase;
let locks: FakeLocks;
let unrecorded: string[] = [];
let number = 0;
const CHECK = { kind: 'check', driveId: 'one', photoIds: null, targetDriveId: null } as const;
const report = () => ({
  kind: 'check' as const,
  sound: 0,
  damaged: [] as string[],
  missing: [],
  added: [],
  problems: [],
});

const runnerWith = (work: JobWork) =>
  new JobRunner(
    db,
    work,
    locks as unknown as LockManager,
    () => 7,
    (problem) => unrecorded.push(problem),
  );
const steps = (count: number, control: JobControl, done: () => void) =>
  (async () => {
    for (let step = 0; step < count; step++) {
      await control.atRest();
      await new Promise((resolve) => setTimeout(resolve, 5));
      done();
    }
  })();

beforeEach(() => {
  db = new CatalogDatabase(`runner-${number++}`);
  locks = new FakeLocks();
  unrecorded = [];
});

describe('a job', () => {
  it('runs to its end, with its last progress and its report', async () => {
    const runner = runnerWith(async (_job, control) => {
      control.progress({ phase: 'digesting', doneItems: 2, totalItems: 2, doneBytes: 9, totalBytes: 9 });
      return { ...report(), sound: 2 };
    });
    const id = await runner.start(CHECK);
    await runner.ended(id);
    expect(await db.jobs.get(id)).toMatchObject({
      state: 'done',
      progress: { doneItems: 2 },
      report: { sound: 2 },
      problem: null,
      endedAt: 7,
    });
  });

  it('pauses between files and goes on', async () => {
    let done = 0;
    const runner = runnerWith(async (_job, control) => {
      await steps(10, control, () => (done += 1));
      return report();
    });
    const id = await runner.start(CHECK);
    await new Promise((resolve) => setTimeout(resolve, 15));
    await runner.pause(id);
    await new Promise((resolve) => setTimeout(resolve, 20));
    const held = done;
    await new Promise((resolve) => setTimeout(resolve, 40));
    expect(done).toBe(held);
    expect((await db.jobs.get(id))?.state).toBe('paused');
    await runner.resume(id);
    await runner.ended(id);
    expect(done).toBe(10);
  });

  it('cancelled, paused or not, says what it did until then', async () => {
    const runner = runnerWith(async (_job, control) => {
      const filled = report();
      control.reporting(filled);
      await steps(100, control, () => (filled.sound += 1));
      return filled;
    });
    const id = await runner.start(CHECK);
    await new Promise((resolve) => setTimeout(resolve, 30));
    await runner.pause(id);
    runner.cancel(id);
    await runner.ended(id);
    const job = await db.jobs.get(id);
    expect(job).toMatchObject({ state: 'cancelled', problem: null });
    expect(job?.report?.kind === 'check' && job.report.sound).toBeGreaterThan(0);
  });

  it('that fails says why, and can be taken up again', async () => {
    let full = true;
    const runner = runnerWith(async () => {
      if (full) throw new DriveError('full', 'x.jpg');
      return report();
    });
    const id = await runner.start(CHECK);
    await runner.ended(id);
    expect(await db.jobs.get(id)).toMatchObject({ state: 'failed', problem: { reason: 'full', path: 'x.jpg' } });
    full = false;
    await runner.resume(id);
    await runner.ended(id);
    expect(await db.jobs.get(id)).toMatchObject({ state: 'done', problem: null });
  });

  it('whose end cannot be recorded says so aloud, and records it when it can', async () => {
    const update = db.jobs.update.bind(db.jobs);
    let refusals = 1;
    db.jobs.update = ((...given: Parameters<typeof update>) => {
      const quota = Object.assign(new Error('no room'), { name: 'QuotaExceededError' });
      return refusals-- > 0 ? (Promise.reject(quota) as unknown as ReturnType<typeof update>) : update(...given);
    }) as typeof update;
    const runner = runnerWith(async () => report());
    const id = await runner.start(CHECK);
    await runner.ended(id);
    expect(unrecorded).toEqual(['browser-full']);
    expect((await db.jobs.get(id))?.state).toBe('done');
  });
});

describe('several jobs', () => {
  it('on one drive take turns; on different drives they do not wait', async () => {
    const order: string[] = [];
    let tellTwo = () => {};
    const two = new Promise<void>((resolve) => (tellTwo = resolve));
    const runner = runnerWith(async (job) => {
      order.push(`begin ${job.driveId}`);
      // what is done on one drive ends only when the other drive's job has begun, however slow the machine
      if (job.driveId === 'two') tellTwo();
      else await two;
      order.push(`end ${job.driveId}`);
      return report();
    });
    const ids = [
      await runner.start(CHECK),
      await runner.start(CHECK),
      await runner.start({ ...CHECK, driveId: 'two' }),
    ];
    for (const id of ids) await runner.ended(id);
    expect(order.filter((event) => event.endsWith('one'))).toEqual(['begin one', 'end one', 'begin one', 'end one']);
    expect(order.indexOf('begin two')).toBeLessThan(order.indexOf('end one'));
  });

  it('one recorded as running whose lock nobody holds was interrupted; one that is held is not touched', async () => {
    const runner = runnerWith(() => new Promise(() => {}));
    const running = await runner.start(CHECK);
    await new Promise((resolve) => setTimeout(resolve, 5));
    const lost = { ...(await db.jobs.get(running)), id: 'lost' };
    await db.jobs.put(lost as never);
    await runner.findInterrupted();
    expect((await db.jobs.get(running))?.state).toBe('running');
    expect((await db.jobs.get('lost'))?.state).toBe('interrupted');
  });

  it('that remove for good never do so at the same time, whatever drives they work on: each may rely on the other’s copy', async () => {
    let [removing, most, checks] = [0, 0, 0];
    const runner = runnerWith(async (job, control) => {
      const removes = job.kind !== 'check';
      if (removes) most = Math.max(most, (removing += 1));
      await steps(4, control, () => removing > 0 && !removes && (checks += 1));
      if (removes) removing -= 1;
      return report();
    });
    const agreed = { files: 9, copies: 1, awayCounts: false };
    const jobs = [
      await runner.start({ kind: 'free', driveId: 'one', agreed }),
      await runner.start({ kind: 'free', driveId: 'two', agreed }),
      await runner.start({ kind: 'empty', driveId: 'card', sourceId: 'card', agreed }),
      await runner.start({ ...CHECK, driveId: 'three' }),
    ];
    await Promise.all(jobs.map((id) => runner.ended(id)));
    expect((await db.jobs.toArray()).map(({ state }) => state)).toEqual(['done', 'done', 'done', 'done']);
    expect(most).toBe(1);
    // what removes nothing does not wait for them
    expect(checks).toBeGreaterThan(0);
  });
});
