// Decoders that are not the browser's run in a worker of their own, started when a file needs one. Whatever a file does
// to it, hang it or fill its memory, costs that worker and that file. It is ended when nobody has asked for a while, and
// after a large picture: what a decoder once took as memory it gives back in no other way.

import { WorkerCaller, WorkerDied } from '../caller';
import { Undecodable } from '@/core/problems/undecodable';
import type { FromWorker } from '../protocol';
import type { MadeBlob } from '@/storage/file-tasks/deliver';
import type { DecodeOrder, Decoded, MakeOrder } from './decoding';

/** Time a file may take: so much, and so much more for each of its megabytes. */
const BUDGET_MS = 30_000;
const BUDGET_MS_A_MEGABYTE = 250;
const IDLE_MS = 15_000;
const HEARTBEAT_MS = 20_000;
/** After a picture of more pixels its memory is given back at once. */
const LARGE_PIXELS = 48_000_000;
/** One large picture at a time, in all workers of all tabs: each may take a gigabyte. */
const LARGE_BYTES = 64 * 1024 * 1024;
const LARGE_LOCK = 'wembo-large-picture';

let caller: WorkerCaller | null = null;
let idle: ReturnType<typeof setTimeout> | undefined;

/** Its silence is ended by the budget of what it is at. */
const open = () =>
  new WorkerCaller(
    () => new Worker(new URL('./decoding.worker.ts', import.meta.url), { type: 'module' }),
    () => undefined,
    null,
  );

/** One after the other: what ends the worker ends nothing but the file it is at. */
let before: Promise<unknown> = Promise.resolve();

/** Rejects with `Undecodable`, which says why. */
export const decodeForeign = (order: DecodeOrder): Promise<Decoded> =>
  inTurn(order.file.size, budgetMs(order.file.size), async (worker) => {
    const decoded = await worker.call('decode', order);
    return { answer: decoded, isLarge: decoded.full.width * decoded.full.height > LARGE_PIXELS };
  });

/** Encoding the most thoroughly packed format takes ten times as long as decoding anything. */
const MAKING_MS = 300_000;

/** Rejects with `Undecodable`, which says why. */
export function makeForeign(order: MakeOrder): Promise<MadeBlob> {
  const { from } = order;
  const [bytes, pixels] =
    from.kind === 'file' ? [from.file.size, 0] : [from.pixels.data.length, from.pixels.width * from.pixels.height];
  return inTurn(bytes, MAKING_MS + budgetMs(bytes), async (worker) => {
    const made = await worker.call('make', order);
    return { answer: made, isLarge: Math.max(pixels, made.width * made.height) > LARGE_PIXELS };
  });
}

const budgetMs = (bytes: number): number => BUDGET_MS + (bytes / 1_000_000) * BUDGET_MS_A_MEGABYTE;

type Ask<T> = (worker: WorkerCaller) => Promise<{ answer: T; isLarge: boolean }>;

function inTurn<T>(bytes: number, limitMs: number, ask: Ask<T>): Promise<T> {
  const work = () => inBudget(limitMs, ask);
  // whoever waits for this worker hears that it is well
  const beat = setInterval(() => self.postMessage({ kind: 'alive' } satisfies FromWorker), HEARTBEAT_MS);
  const answered = before.then(() => (bytes > LARGE_BYTES ? navigator.locks.request(LARGE_LOCK, work) : work()));
  before = answered.catch(() => undefined);
  return answered.finally(() => clearInterval(beat));
}

async function inBudget<T>(limitMs: number, ask: Ask<T>): Promise<T> {
  clearTimeout(idle);
  const mine = (caller ??= open());
  let late = false;
  const bell = setTimeout(() => {
    late = true;
    mine.restart();
  }, limitMs);
  try {
    const { answer, isLarge } = await ask(mine);
    if (isLarge) mine.restart();
    return answer;
  } catch (error) {
    if (late) throw new Undecodable({ code: 'picture/too-slow', seconds: Math.round(limitMs / 1000) });
    if (error instanceof WorkerDied) throw new Undecodable({ code: 'picture/decoder-gave-up' });
    throw error;
  } finally {
    clearTimeout(bell);
    idle = setTimeout(() => mine.restart(), IDLE_MS);
  }
}
