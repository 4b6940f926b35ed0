// The file tasks as a pool of workers.

import type { WritePack } from '@/storage/connections/practice';
import { type FileTasks, previewableOf } from '@/storage/file-tasks/file-tasks';
import { WorkerCaller } from './caller';
import { handed, handedFile } from './handing';

/** More workers than this only wait for the same disk. */
const WORKERS_LIMIT = 4;

/** The file tasks, and the work of laying out practice drives, which only the application has. */
export type WorkerFileTasks = FileTasks & { writePack: WritePack };

export function workerFileTasks(): WorkerFileTasks {
  const count = Math.max(1, Math.min(WORKERS_LIMIT, navigator.hardwareConcurrency || 2));
  const pool = Array.from(
    { length: count },
    () => new WorkerCaller(() => new Worker(new URL('./file-task.worker.ts', import.meta.url), { type: 'module' })),
  );
  const freest = () => pool.reduce((best, one) => (one.busy < best.busy ? one : best));
  return {
    read: (file, name, signal) => freest().call('read', { file: handedFile(file), name }, { signal }),
    preview: (file, reading, size, signal) =>
      freest().call('preview', { file: handedFile(file), reading: previewableOf(reading), size }, { signal }),
    digest: (file, onBytes, signal) => freest().call('digest', { file: handedFile(file) }, { onBytes, signal }),
    checksums: (file, algorithms, onBytes, signal) =>
      freest().call('checksums', { file: handedFile(file), algorithms }, { onBytes, signal }),
    writePack: (root, pack) => freest().call('layPack', { root, pack }),
    properties: (file, name) => freest().call('properties', { file: handedFile(file), name }),
    readTrack: (file, signal) => freest().call('readTrack', { file: handedFile(file) }, { signal }),
    embed: async ({ drive, path, fields, expected }) =>
      freest().call('embed', { drive: handed(drive, path), path, fields, expected }),
    takeIn: async ({ file, name, targets, isPhoto }, onBytes, signal) => {
      const placed = targets.map(({ drive, path }) => ({ drive: handed(drive, path), path }));
      return freest().call('takeIn', { file: handedFile(file), name, targets: placed, isPhoto }, { onBytes, signal });
    },
    deliver: async ({ drive, file, ...order }, onBytes, signal) =>
      freest().call(
        'deliver',
        { ...order, file: handedFile(file), drive: drive && handed(drive, order.path) },
        { onBytes, signal },
      ),
    zip: async ({ drive, path, entries }, onBytes, signal) =>
      freest().call(
        'zip',
        {
          drive: handed(drive, path),
          path,
          entries: entries.map(({ file, ...entry }) => ({ ...entry, file: handedFile(file) })),
        },
        { onBytes, signal },
      ),
    copy: async ({ drive, path, file, name, expected }, onBytes, signal) =>
      freest().call(
        'copy',
        { drive: handed(drive, path), path, file: handedFile(file), name, expected },
        { onBytes, signal },
      ),
  };
}
