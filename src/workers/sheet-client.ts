import { WorkerCaller } from './caller';
import type { SheetOrder } from './protocol';

export interface SheetClient {
  /** @param onPhotos hears how many pictures more are drawn */
  draw(order: SheetOrder, onPhotos: (photos: number) => void, signal?: AbortSignal): Promise<Blob>;
}

export function workerSheets(): SheetClient {
  const caller = new WorkerCaller(() => new Worker(new URL('./sheet.worker.ts', import.meta.url), { type: 'module' }));
  return { draw: (order, onPhotos, signal) => caller.call('sheet', order, { onBytes: onPhotos, signal }) };
}
