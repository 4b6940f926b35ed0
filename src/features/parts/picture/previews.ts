// Previews as object URLs: asked for one by one, fetched together, the least recently shown given back.

import { useEffect, useState } from 'react';
import type { Corrections } from '@/core/looks/corrections';
import type { Problem } from '@/core/problems/problem';
import { session } from '@/engine/session';
import { useSession } from '@/features/parts/session/use-session';
import { isCorrected, useLookOfCorrected } from './looks';

/** URLs kept: several screens of the smallest wall. */
const KEPT = 1500;

/** By `keyOf` photo and look. */
const urls = new Map<string, string>();
/** Fetched at once: those that are in sight are not to wait for those that come after. */
const BATCH = 12;

interface Asked {
  photoId: string;
  look: string;
  listeners: Set<(url: string | null) => void>;
  inSight: boolean;
}

const waiting = new Map<string, Asked>();
let fetching = 0;
/** Lots under way: the database reads one while the page draws another. */
const BATCHES = 3;

function fetchWaiting(): void {
  while (fetching < BATCHES && waiting.size > 0) {
    fetching += 1;
    void fetchBatch().finally(() => {
      fetching -= 1;
      fetchWaiting();
    });
  }
}

async function fetchBatch(): Promise<void> {
  const inSight = [...waiting].filter(([, asked]) => asked.inSight);
  const asked = (inSight.length > 0 ? inSight : [...waiting]).slice(0, BATCH);
  for (const [key] of asked) waiting.delete(key);
  const records = await session.db.previews.bulkGet(asked.map(([, { photoId }]) => photoId));
  const missing = asked.flatMap(([, { photoId }], index) => (records[index] || photoId === '' ? [] : [photoId]));
  if (missing.length > 0) await noteMissing(missing);
  await Promise.all(
    asked.map(async ([key, { photoId, look, listeners }], index) => {
      const blob = records[index]?.blob;
      const shown = blob && (await asShown(blob, look));
      const url = shown ? URL.createObjectURL(shown) : null;
      if (url) keep(key, photoId, url);
      for (const listener of listeners) listener(url);
    }),
  );
}

/** As it is corrected; as it is where that cannot be drawn. */
const asShown = (preview: Blob, look: string): Blob | Promise<Blob> =>
  look === '' ? preview : session.pictures.redraw(preview, JSON.parse(look) as Corrections).catch(() => preview);

/** Why there is none, of those that cannot be drawn. */
const reasons = new Map<string, Problem | null>();

async function noteMissing(ids: string[]): Promise<void> {
  for (const record of await session.db.undrawn.bulkGet(ids)) if (record) reasons.set(record.photoId, record.problem);
  session.previewDrawing.wanted(ids);
}

/** `undefined` for one that may still be drawn. */
export const whyNoPreview = (photoId: string): Problem | null | undefined => reasons.get(photoId);

function keep(key: string, photoId: string, url: string): void {
  urls.set(key, url);
  reasons.delete(photoId);
  for (const [oldest, old] of urls) {
    if (urls.size <= KEPT) break;
    urls.delete(oldest);
    URL.revokeObjectURL(old);
  }
}

const keyOf = (photoId: string, look: string): string => (look === '' ? photoId : `${photoId} ${look}`);

/** Asks for previews that are about to be shown. */
export function askPreviews(photoIds: readonly string[]): void {
  for (const photoId of photoIds)
    if (!urls.has(photoId) && !waiting.has(photoId) && !isCorrected(photoId))
      waiting.set(photoId, { photoId, look: '', listeners: new Set(), inSight: true });
  queueMicrotask(fetchWaiting);
}

/** The preview of a photo: `undefined` while it is fetched, `null` where there is none, until one is drawn. */
export function usePreview(photoId: string, inSight = true): string | null | undefined {
  const version = useSession((state) => state.indexVersion + state.drawn);
  const [shown, setShown] = useState<{ key: string; url: string | null } | null>(null);
  const look = useLookOfCorrected(photoId);
  const key = look === undefined ? null : keyOf(photoId, look);
  const cached = key === null ? undefined : urls.get(key);
  useEffect(() => {
    if (key === null || look === undefined || urls.has(key)) return;
    const listener = (url: string | null) => setShown({ key, url });
    const asked = waiting.get(key) ?? { photoId, look, listeners: new Set(), inSight };
    asked.inSight ||= inSight;
    waiting.set(key, asked);
    asked.listeners.add(listener);
    queueMicrotask(fetchWaiting); // when all tiles of this drawing have asked
    return () => {
      asked.listeners.delete(listener);
      if (asked.listeners.size === 0 && waiting.get(key) === asked) waiting.delete(key); // scrolled by before it came
    };
  }, [photoId, key, look, version, inSight]);
  if (cached !== undefined) return cached;
  // corrected otherwise a moment ago: that stays until the new one is drawn
  return shown && (shown.key === key || shown.key.startsWith(`${photoId} `)) ? shown.url : undefined;
}
