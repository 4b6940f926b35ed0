// The hands as a pool of workers.

import { DriveError } from '@/storage/drives/drive';
import { HandleDrive } from '@/storage/drives/handle-drive';
import type { Hands } from '@/storage/jobs/hands';
import { WorkerCaller } from './caller';

/** More workers than this only wait for the same disk. */
const WORKERS_LIMIT = 4;

export function workerHands(): Hands {
  const count = Math.max(1, Math.min(WORKERS_LIMIT, navigator.hardwareConcurrency || 2));
  const pool = Array.from({ length: count }, () => new WorkerCaller(() => new Worker(new URL('./hands.worker.ts', import.meta.url), { type: 'module' })));
  const freest = () => pool.reduce((best, one) => (one.busy < best.busy ? one : best));
  return {
    read: (file, name, signal) => freest().call('read', { file, name }, { signal }),
    digest: (file, onBytes, signal) => freest().call('digest', { file }, { onBytes, signal }),
    copy: async ({ drive, path, file, expected }, onBytes, signal) => {
      if (!(drive instanceof HandleDrive)) throw new DriveError('failed', path);
      return freest().call('copy', { root: drive.root, path, file, expected }, { onBytes, signal });
    },
  };
}
