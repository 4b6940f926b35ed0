'use client';

import { useEffect } from 'react';
import { relativeSharpness } from '@/core/picture/sharpness';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';

export interface FrameSharpness {
  /** Share of the sharpest of these frames, in percent. */
  percent: number | null;
  /** Measured on the preview: the drive was away. */
  ofPreview: boolean;
}

/** How sharp each of these frames is, beside the others; measured now where it is not known. */
export function useSharpness(ids: readonly string[]): Map<string, FrameSharpness> {
  const key = ids.join();
  useEffect(() => {
    if (key !== '' && key.includes(',')) void session.frameMeasuring.measure(key.split(','));
  }, [key]);
  const records = useLive(() => session.db.sharpness.bulkGet(key === '' ? [] : key.split(',')), [key]) ?? [];
  const percents = relativeSharpness(records.map((record) => record?.figure ?? null));
  return new Map(
    ids.map((id, index) => [id, { percent: percents[index] ?? null, ofPreview: records[index]?.of === 'preview' }]),
  );
}
