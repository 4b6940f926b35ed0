import type { Fit } from '@/core/locate/fit';
import type { Track } from '@/core/locate/tracks/track';
import { WorkerCaller } from './caller';
import type { Requests } from './protocol';

export interface LocateClient {
  /** What the clock of these photos is off by, found in two ways; each `null` where there is too little to go by. */
  fit(
    photos: Requests['fit']['order']['photos'],
    tracks: Track[],
    signal?: AbortSignal,
  ): Promise<{ positions: Fit | null; stops: Fit | null }>;
}

export function workerLocate(): LocateClient {
  const caller = new WorkerCaller(() => new Worker(new URL('./locate.worker.ts', import.meta.url), { type: 'module' }));
  return { fit: (photos, tracks, signal) => caller.call('fit', { photos, tracks }, signal ? { signal } : {}) };
}
