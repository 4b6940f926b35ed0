// The hands as a pool of workers.

import { type Drive, DriveError } from '@/storage/drives/drive';
import { HandleDrive } from '@/storage/drives/handle-drive';
import type { WritePack } from '@/storage/drives/practice';
import type { Hands } from '@/storage/jobs/hands';
import { WorkerCaller } from './caller';

/** More workers than this only wait for the same disk. */
const WORKERS_LIMIT = 4;

/** Only a drive with a handle can be written to by a worker. */
function rootOf(drive: Drive, path: string): FileSystemDirectoryHandle {
  if (!(drive instanceof HandleDrive)) throw new DriveError('failed', path);
  return drive.root;
}

/** The hands, and the work of laying out practice drives, which only the application has. */
export type WorkerHands = Hands & { writePack: WritePack };

export function workerHands(): WorkerHands {
  const count = Math.max(1, Math.min(WORKERS_LIMIT, navigator.hardwareConcurrency || 2));
  const pool = Array.from({ length: count }, () => new WorkerCaller(() => new Worker(new URL('./hands.worker.ts', import.meta.url), { type: 'module' })));
  const freest = () => pool.reduce((best, one) => (one.busy < best.busy ? one : best));
  return {
    read: (file, name, signal) => freest().call('read', { file, name }, { signal }),
    preview: (file, { format, orientation, previews }, size, signal) => freest().call('preview', { file, reading: { format, orientation, previews }, size }, { signal }),
    digest: (file, onBytes, signal) => freest().call('digest', { file }, { onBytes, signal }),
    writePack: (root, pack) => freest().call('layPack', { root, pack }),
    properties: (file, name) => freest().call('properties', { file, name }),
    readTrack: (file, signal) => freest().call('readTrack', { file }, { signal }),
    embed: async ({ drive, path, fields }) => freest().call('embed', { root: rootOf(drive, path), path, fields }),
    takeIn: async ({ file, name, targets, isPhoto }, onBytes, signal) => {
      const placed = targets.map(({ drive, path }) => ({ root: rootOf(drive, path), path }));
      return freest().call('takeIn', { file, name, targets: placed, isPhoto }, { onBytes, signal });
    },
    copy: async ({ drive, path, file, expected }, onBytes, signal) => freest().call('copy', { root: rootOf(drive, path), path, file, expected }, { onBytes, signal }),
  };
}
