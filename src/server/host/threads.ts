// The threads in which the host works on files, so that the server goes on answering while a disk is slow. The lock of
// a folder is kept by the server's own thread; who works in another asks for it.

import { Worker } from 'node:worker_threads';
import { type SentFailure, errorOf } from '@/storage/drives/failure';
import type { AnswerTools, DiskKind, ReadOrder, Root } from './answer';
import type { HostAnswers, HostPart } from '@/storage/host/protocol';

/** Four copy at twice the speed of one on two cores, since a disk answers several at a time (measured). */
const THREADS = 4;

export type ToThread =
  | { kind: 'work'; id: number; work: DiskKind; order: unknown; roots: [folder: string, root: Root][] }
  | { kind: 'cancel'; id: number }
  | { kind: 'locked'; lock: number };

export type FromThread =
  | { kind: 'bytes'; id: number; bytes: number }
  | { kind: 'part'; id: number; part: unknown }
  | { kind: 'done'; id: number; answer: unknown }
  | { kind: 'failed'; id: number; failure: SentFailure }
  | { kind: 'lock'; lock: number; folder: string }
  | { kind: 'unlock'; lock: number };

export interface ThreadTools<K extends DiskKind> extends Pick<AnswerTools<K>, 'onBytes' | 'onPart' | 'signal'> {
  roots: [folder: string, root: Root][];
}

interface Working {
  tools: ThreadTools<DiskKind>;
  resolve: (answer: never) => void;
  reject: (error: unknown) => void;
}

class Thread {
  private readonly working = new Map<number, Working>();
  private readonly unlocks = new Map<number, () => void>();
  private worker: Worker | null = null;
  private next = 1;

  constructor(
    private readonly start: () => Worker,
    private readonly alone: <T>(folder: string, act: () => Promise<T>) => Promise<T>,
  ) {}

  get busy(): number {
    return this.working.size;
  }

  work<K extends DiskKind>(kind: K, order: ReadOrder<K>, tools: ThreadTools<K>): Promise<HostAnswers[K]> {
    const worker = (this.worker ??= this.open());
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.working.set(id, { tools: tools as ThreadTools<DiskKind>, resolve, reject });
      tools.signal.addEventListener('abort', () => worker.postMessage({ kind: 'cancel', id } satisfies ToThread), {
        once: true,
      });
      worker.postMessage({ kind: 'work', id, work: kind, order, roots: tools.roots } satisfies ToThread);
    });
  }

  private open(): Worker {
    const worker = this.start();
    worker.unref(); // the server ends when it is told to
    worker.on('message', (message: FromThread) => this.take(worker, message));
    worker.on('error', (error) => this.die(error));
    worker.on('exit', () => this.die(new Error('a thread of the host ended')));
    return worker;
  }

  private take(worker: Worker, message: FromThread): void {
    if (message.kind === 'lock') return void this.lock(worker, message.lock, message.folder);
    if (message.kind === 'unlock') return this.unlocks.get(message.lock)?.();
    const working = this.working.get(message.id);
    if (message.kind === 'bytes') return working?.tools.onBytes(message.bytes);
    if (message.kind === 'part') return working?.tools.onPart(message.part as HostPart<DiskKind>);
    this.working.delete(message.id);
    if (message.kind === 'done') working?.resolve(message.answer as never);
    else working?.reject(errorOf(message.failure));
  }

  /** Held until the thread gives it back, or dies. */
  private async lock(worker: Worker, lock: number, folder: string): Promise<void> {
    await this.alone(
      folder,
      () =>
        new Promise<void>((resolve) => {
          this.unlocks.set(lock, () => {
            this.unlocks.delete(lock);
            resolve();
          });
          worker.postMessage({ kind: 'locked', lock } satisfies ToThread);
        }),
    );
  }

  private die(error: unknown): void {
    this.worker = null;
    for (const unlock of [...this.unlocks.values()]) unlock();
    const working = [...this.working.values()];
    this.working.clear();
    for (const { reject } of working) reject(error);
  }
}

/** Work on whole files: a file each thread, so that what is held in memory has a bound, whatever is asked for. */
const WHOLE_FILES: ReadonlySet<DiskKind> = new Set<DiskKind>(['digest', 'copy', 'takeIn', 'embed']);

export class HostThreads {
  private readonly threads: Thread[];
  private wholeFiles = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(start: () => Worker, alone: <T>(folder: string, act: () => Promise<T>) => Promise<T>) {
    this.threads = Array.from({ length: THREADS }, () => new Thread(start, alone));
  }

  async work<K extends DiskKind>(kind: K, order: ReadOrder<K>, tools: ThreadTools<K>): Promise<HostAnswers[K]> {
    if (!WHOLE_FILES.has(kind)) return this.freest.work(kind, order, tools);
    if (this.wholeFiles >= THREADS) await new Promise<void>((resolve) => this.waiting.push(resolve));
    else this.wholeFiles += 1;
    try {
      tools.signal.throwIfAborted();
      return await this.freest.work(kind, order, tools);
    } finally {
      const next = this.waiting.shift();
      if (next) next();
      else this.wholeFiles -= 1;
    }
  }

  private get freest(): Thread {
    return this.threads.reduce((best, one) => (one.busy < best.busy ? one : best));
  }
}
