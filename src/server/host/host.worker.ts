import { parentPort } from 'node:worker_threads';
import { DriveError } from '@/storage/drives/drive';
import { failureOf } from '@/storage/drives/failure';
import { type ReadOrder, answer } from './answer';
import type { Lock } from '../served-drive';
import type { FromThread, ToThread } from './threads';

const port = parentPort;
const say = (message: FromThread) => port?.postMessage(message);
/** Told together, so that copying does not send a message for every few bytes. */
const TOLD_BYTES = 1024 * 1024;

const running = new Map<number, AbortController>();
const waiting = new Map<number, () => void>();
let locks = 0;

const lockOf =
  (folder: string): Lock =>
  async (act) => {
    const lock = (locks += 1);
    await new Promise<void>((resolve) => {
      waiting.set(lock, resolve);
      say({ kind: 'lock', lock, folder });
    });
    try {
      return await act();
    } finally {
      say({ kind: 'unlock', lock });
    }
  };

function work({ id, work: kind, order, roots }: ToThread & { kind: 'work' }): void {
  const controller = new AbortController();
  running.set(id, controller);
  const places = new Map(roots);
  let untold = 0;
  answer(kind, order as ReadOrder<typeof kind>, {
    rootOf: (folder) => {
      const root = places.get(folder);
      if (root === undefined) throw new DriveError('no-permission', '');
      return root;
    },
    lockOf,
    onBytes: (bytes) => {
      untold += bytes;
      if (untold < TOLD_BYTES) return;
      say({ kind: 'bytes', id, bytes: untold });
      untold = 0;
    },
    onPart: (part) => say({ kind: 'part', id, part }),
    signal: controller.signal,
  })
    .then((done) => {
      if (untold > 0) say({ kind: 'bytes', id, bytes: untold });
      say({ kind: 'done', id, answer: done });
    })
    .catch((error: unknown) => say({ kind: 'failed', id, failure: failureOf(error) }))
    .finally(() => running.delete(id));
}

port?.on('message', (message: ToThread) => {
  if (message.kind === 'work') work(message);
  else if (message.kind === 'cancel') running.get(message.id)?.abort();
  else {
    waiting.get(message.lock)?.();
    waiting.delete(message.lock);
  }
});
