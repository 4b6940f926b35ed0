// The page's side of the protocol: a worker in which every call settles: answered, failed, cancelled, or the worker
// died.

import { errorOf } from '@/storage/drives/failure';
import type { FromWorker, RequestKind, Requests } from './protocol';

/** A worker that says nothing for so long is taken for dead: reading 4 MiB never takes a minute. */
const SILENCE_MS = 120_000;

export class WorkerDied extends Error {
  override name = 'WorkerDied';
}

interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
  onBytes: ((bytes: number) => void) | undefined;
  watchdog: ReturnType<typeof setTimeout> | undefined;
}

export class WorkerCaller {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;

  /**
   * @param onDied hears when the worker is gone, and with it whatever it kept.
   * @param silenceMs `null` for one whose silence somebody else ends
   */
  constructor(
    private readonly start: () => Worker,
    private readonly onDied: () => void = () => {},
    private readonly silenceMs: number | null = SILENCE_MS,
  ) {}

  get busy(): number {
    return this.waiting.size;
  }

  call<K extends RequestKind>(
    kind: K,
    order: Requests[K]['order'],
    options: { onBytes?: (bytes: number) => void; signal?: AbortSignal | undefined } = {},
  ): Promise<Requests[K]['answer']> {
    options.signal?.throwIfAborted();
    const worker = (this.worker ??= this.open());
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject, onBytes: options.onBytes, watchdog: this.watch() });
      options.signal?.addEventListener('abort', () => worker.postMessage({ id, kind: 'cancel' }), { once: true });
      worker.postMessage({ id, kind, order });
    });
  }

  /** Ends the worker, with all that waits for it; the next call starts a new one. */
  restart(): void {
    this.die('the worker was ended');
  }

  private open(): Worker {
    const worker = this.start();
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.take(data);
    worker.onerror = (event) => this.die(event.message || 'the worker failed');
    worker.onmessageerror = () => this.die('a message could not be read');
    return worker;
  }

  private watch() {
    const { silenceMs } = this;
    return silenceMs === null ? undefined : setTimeout(() => this.die('the worker fell silent'), silenceMs);
  }

  private take(message: FromWorker): void {
    if (message.kind === 'alive') return this.heard();
    const waiting = this.waiting.get(message.id);
    if (!waiting) return;
    clearTimeout(waiting.watchdog);
    if (message.kind === 'bytes') {
      waiting.watchdog = this.watch();
      waiting.onBytes?.(message.bytes);
      return;
    }
    this.waiting.delete(message.id);
    if (message.kind === 'done') waiting.resolve(message.answer as never);
    else waiting.reject(errorOf(message.failure));
  }

  private heard(): void {
    for (const waiting of this.waiting.values()) {
      clearTimeout(waiting.watchdog);
      waiting.watchdog = this.watch();
    }
  }

  /** Everything that waited is told; the next call starts a new worker. */
  private die(reason: string): void {
    this.worker?.terminate();
    this.worker = null;
    const waiting = [...this.waiting.values()];
    this.waiting.clear();
    for (const { reject, watchdog } of waiting) {
      clearTimeout(watchdog);
      reject(new WorkerDied(reason));
    }
    this.onDied();
  }
}
