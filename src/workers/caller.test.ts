import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import { DriveError } from '@/storage/drives/drive';
import { WorkerCaller, WorkerDied } from './caller';
import type { FromWorker, ToWorker } from './protocol';
import { serve } from './serve';

/** A worker in the same thread: what is posted arrives in a later task, as it does between threads. */
class FakeWorker {
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  onmessageerror: (() => void) | null = null;
  terminated = false;
  readonly inside = {
    onmessage: null as ((event: MessageEvent<ToWorker>) => void) | null,
    postMessage: (data: FromWorker) => void setTimeout(() => !this.terminated && this.onmessage?.({ data })),
  };

  postMessage(data: ToWorker): void {
    setTimeout(() => !this.terminated && this.inside.onmessage?.({ data } as MessageEvent<ToWorker>));
  }

  terminate(): void {
    this.terminated = true;
  }
}

let workers: FakeWorker[] = [];
const caller = (
  digest: (onBytes: (bytes: number) => void, signal: AbortSignal) => Promise<FileDigests>,
  onDied?: () => void,
) =>
  new WorkerCaller(() => {
    const worker = new FakeWorker();
    workers.push(worker);
    serve<'digest'>(worker.inside, { digest: (_order, { onBytes, signal }) => digest(onBytes, signal) });
    return worker as unknown as Worker;
  }, onDied);
const digests = (file: string): FileDigests => ({ file, image: null });
const order = { file: new File([], 'x.jpg') };

beforeEach(() => {
  workers = [];
});

describe('a call to a worker', () => {
  it('is answered, and hears of the bytes on the way', async () => {
    const heard: number[] = [];
    const answer = caller(async (onBytes) => {
      onBytes(3);
      onBytes(4);
      return digests('hex');
    }).call('digest', order, { onBytes: (bytes) => heard.push(bytes) });
    expect(await answer).toEqual(digests('hex'));
    expect(heard).toEqual([3, 4]);
  });

  it('fails with what went wrong inside, a drive’s problem and path intact', async () => {
    const failing = caller(async () => {
      throw new DriveError('full', 'in/x.jpg');
    });
    await expect(failing.call('digest', order)).rejects.toMatchObject({
      name: 'DriveError',
      problem: 'full',
      path: 'in/x.jpg',
    });
    const named = caller(async () => {
      throw new DOMException('gone', 'NotFoundError');
    });
    await expect(named.call('digest', order)).rejects.toMatchObject({ name: 'NotFoundError', message: 'gone' });
  });

  it('is cancelled from outside', async () => {
    const stop = new AbortController();
    const waiting = caller(
      (_onBytes, signal) =>
        new Promise((_, reject) =>
          signal.addEventListener('abort', () => reject(new DOMException('cancelled', 'AbortError'))),
        ),
    );
    const answer = waiting.call('digest', order, { signal: stop.signal });
    setTimeout(() => stop.abort(), 5);
    await expect(answer).rejects.toMatchObject({ name: 'AbortError' });
    expect(() => waiting.call('digest', order, { signal: stop.signal })).toThrow();
  });

  it('settles when the worker dies, and the next one gets a new worker', async () => {
    const died = vi.fn();
    let first = true;
    const one = caller(() => (first ? new Promise(() => {}) : Promise.resolve(digests('after'))), died);
    const lost = [one.call('digest', order), one.call('digest', order)];
    expect(one.busy).toBe(2);
    workers[0]?.onerror?.({ message: 'out of memory' });
    for (const call of lost) await expect(call).rejects.toThrow(WorkerDied);
    expect(died).toHaveBeenCalledOnce();
    expect(workers[0]?.terminated).toBe(true);
    first = false;
    expect(await one.call('digest', order)).toEqual(digests('after'));
    expect(workers).toHaveLength(2);
  });

  it('settles when the worker falls silent, but not while it tells of bytes', async () => {
    vi.useFakeTimers();
    try {
      const silent = caller(() => new Promise(() => {})).call('digest', order);
      const expectation = expect(silent).rejects.toThrow('fell silent');
      await vi.advanceTimersByTimeAsync(121_000);
      await expectation;
      const working = caller(async (onBytes) => {
        for (let step = 0; step < 4; step++) {
          await new Promise((resolve) => setTimeout(resolve, 60_000));
          onBytes(1);
        }
        return digests('slow');
      }).call('digest', order);
      await vi.advanceTimersByTimeAsync(250_000);
      expect(await working).toEqual(digests('slow'));
    } finally {
      vi.useRealTimers();
    }
  });
});
