// Decoding and measuring pictures, away from the page. Several workers, so that the picture asked for does not wait
// behind one that is fetched ahead or measured, nor that one behind measures, which nobody waits for, and a slider waits
// for none of them.

import type { Corrections } from '@/core/looks/corrections';
import type { Edges } from '@/core/picture/print-size';
import type { PictureMeasures } from '@/core/picture/measures';
import type { Histogram } from '@/core/picture/histogram';
import { type Previewable, previewableOf } from '@/storage/file-tasks/file-tasks';
import type { LazyBytes } from '@/storage/drives/drive';
import { WorkerCaller } from './caller';
import { handedFile } from './handing';
import type { OpenedPicture, PictureWanted } from './decoding/decoding';

export interface PictureClient {
  /** Each rejects with `Undecodable` where nothing in the file can be shown. */
  show(file: LazyBytes, reading: Previewable, wanted: PictureWanted, ahead?: boolean): Promise<OpenedPicture>;
  sharpness(file: LazyBytes, reading: Previewable): Promise<number>;
  overlap(a: Blob, b: Blob): Promise<boolean>;
  measures(preview: Blob): Promise<PictureMeasures>;
  histogram(
    file: LazyBytes,
    reading: Previewable,
    corrections: Corrections,
  ): Promise<{ histogram: Histogram; clipped: ImageBitmap }>;
  /** Of a picture that lies upright, all of it; the one that is given stays open. */
  correct(bitmap: ImageBitmap, corrections: Corrections, full: Edges): Promise<ImageBitmap>;
  /** A preview, as it is corrected. */
  redraw(preview: Blob, corrections: Corrections): Promise<Blob>;
}

export function workerPictures(): PictureClient {
  const open = () =>
    new WorkerCaller(() => new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module' }));
  const now = open();
  const ahead = open();
  /** What nobody waits for. */
  const behind = open();
  /** What follows a hand on a slider. */
  const live = open();
  return {
    show: (file, reading, wanted, isAhead = false) =>
      (isAhead ? ahead : now).call('show', { file: handedFile(file), reading: previewableOf(reading), wanted }),
    sharpness: (file, reading) => ahead.call('sharpness', { file: handedFile(file), reading: previewableOf(reading) }),
    measures: (preview) => behind.call('measures', { preview }),
    overlap: (a, b) => ahead.call('overlap', { a, b }),
    histogram: (file, reading, corrections) =>
      ahead.call('histogram', { file: handedFile(file), reading: previewableOf(reading), corrections }),
    correct: async (bitmap, corrections, full) => (await live.call('correct', { bitmap, corrections, full })).bitmap,
    redraw: (preview, corrections) => ahead.call('redraw', { preview, corrections }),
  };
}
