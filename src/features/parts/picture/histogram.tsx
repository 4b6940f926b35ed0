'use client';

// Histogram and clipped areas of the photo that is looked at: on demand, of the original where it can be read.

import { useEffect, useRef, useState } from 'react';
import type { Histogram as Counted } from '@/core/picture/histogram';
import { correctionsIn } from '@/core/looks/corrections';
import { OF_PREVIEW } from '@/storage/file-tasks/file-tasks';
import { session } from '@/engine/session';
import { useLook } from './looks';
import styles from './picture.module.css';

interface Measured {
  histogram: Counted;
  clipped: ImageBitmap;
}

/** Asked for once a photo and its corrections; those that are looked at together share it. */
const known = new Map<string, Promise<Measured | null>>();
const KEPT = 12;

function measured(photoId: string, look: string): Promise<Measured | null> {
  const key = `${photoId} ${look}`;
  const asked = known.get(key) ?? ask(photoId);
  known.delete(key);
  known.set(key, asked);
  asked.catch(() => known.delete(key));
  for (const id of known.keys()) {
    if (known.size <= KEPT) break;
    known.delete(id);
  }
  return asked;
}

async function ask(photoId: string): Promise<Measured | null> {
  const [photo, found, preview] = await Promise.all([
    session.db.photos.get(photoId),
    session.original(photoId),
    session.db.previews.get(photoId),
  ]);
  const corrections = correctionsIn(photo?.fields.corrections);
  if (photo && found) return session.pictures.histogram(found.file, photo, corrections);
  return preview ? session.pictures.histogram(preview.blob, OF_PREVIEW, corrections) : null;
}

export function useMeasured(photoId: string): Measured | null | undefined {
  const [got, setGot] = useState<{ id: string; measured: Measured | null } | null>(null);
  const look = useLook(photoId);
  useEffect(() => {
    if (look === undefined) return;
    let current = true;
    measured(photoId, look).then(
      (result) => current && setGot({ id: photoId, measured: result }),
      () => current && setGot({ id: photoId, measured: null }),
    );
    return () => {
      current = false;
    };
  }, [photoId, look]);
  return got?.id === photoId ? got.measured : undefined;
}

const CHANNELS = [
  ['red', '#ff5a4a'],
  ['green', '#63c263'],
  ['blue', '#5a8cff'],
] as const;
const HEIGHT = 70;

export function HistogramView({ photoId }: { photoId: string }) {
  const result = useMeasured(photoId);
  if (!result)
    return (
      <div className={styles.histogram} role="img" aria-label="Histogram">
        {result === null ? 'Nothing to count here.' : 'Counting…'}
      </div>
    );
  const { histogram } = result;
  // the ends hold what is clipped: they would press the rest down
  const most = Math.max(1, ...CHANNELS.flatMap(([channel]) => [...histogram[channel].subarray(2, 254)]));
  const percent = (part: number) => `${((100 * part) / histogram.pixels).toFixed(1)} %`;
  return (
    <figure
      className={styles.histogram}
      aria-label={`Histogram: ${percent(histogram.dark)} clipped dark, ${percent(histogram.light)} clipped light`}
    >
      <svg viewBox={`0 0 256 ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
        {CHANNELS.map(([channel, color]) => (
          <path
            key={channel}
            fill={color}
            d={`M0 ${HEIGHT}${[...histogram[channel]].map((pixels, value) => `L${value} ${HEIGHT - Math.min(HEIGHT, (HEIGHT * pixels) / most)}`).join('')}L255 ${HEIGHT}Z`}
          />
        ))}
      </svg>
      <figcaption>
        <span>dark {percent(histogram.dark)}</span>
        <span>light {percent(histogram.light)}</span>
      </figcaption>
    </figure>
  );
}

/** Lies over the picture where it is clipped. */
export function ClippedAreas({
  photoId,
  left,
  top,
  width,
  height,
}: {
  photoId: string;
  left: number;
  top: number;
  width: number;
  height: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const result = useMeasured(photoId);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!canvas.current || !context || !result) return;
    canvas.current.width = result.clipped.width;
    canvas.current.height = result.clipped.height;
    context.drawImage(result.clipped, 0, 0);
  }, [result]);
  return (
    <canvas
      ref={canvas}
      className={styles.clipped}
      style={{ left, top, width, height }}
      role="img"
      aria-label={result ? 'Clipped areas: blue where dark, red where light' : 'Looking for clipped areas'}
    />
  );
}
