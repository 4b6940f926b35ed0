// Keeps the outbox moving: one tab of the browser writes, the others wait for their turn at it. A round follows every
// edit, every return of a drive, every change another tab queued, and some time after a problem.

import { type OutboxTools, emptyOutbox, lastQueued } from '@/storage/catalog/outbox';
import { untilOther } from '@/storage/catalog/watch';
import { alone } from '@/storage/drives/alone';

/** The outbox waits so long after an edit, so that a run of edits to one photo is one write. */
const DELAY_MS = 700;
/** What could not be written is tried again after this. */
const RETRY_MS = 20_000;

export class OutboxPump {
  private wakeUp: () => void = () => {};

  constructor(private readonly tools: OutboxTools) {}

  wake(): void {
    this.wakeUp();
  }

  /** Runs as long as the page. */
  async run(): Promise<void> {
    await alone(`${this.tools.db.name}-outbox`, async () => {
      for (;;) {
        const woken = new Promise<void>((resolve) => (this.wakeUp = resolve));
        const queued = () => lastQueued(this.tools.db);
        // from before the round: what another tab queues again while it is being written is not to be missed
        const known = await queued().catch(() => null);
        // a database that fails altogether must not end the loop
        const round = await emptyOutbox(this.tools).catch(() => ({ failed: 1, dueInMs: null }));
        const watching = new AbortController();
        const againIn = Math.min(round.failed > 0 ? RETRY_MS : Infinity, round.dueInMs ?? Infinity);
        const retry = againIn < Infinity ? after(againIn) : new Promise<void>(() => {});
        await Promise.race([woken, untilOther(queued, known, watching.signal), retry]);
        watching.abort();
        await after(DELAY_MS);
      }
    });
  }
}

const after = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));
