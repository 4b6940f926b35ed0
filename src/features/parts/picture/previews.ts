// Previews as object URLs: asked for one by one, fetched together, the least recently shown given back.

import { useEffect, useState } from 'react';
import type { Problem } from '@/core/problems/problem';
import { session } from '@/engine/session';
import { useSession } from '@/features/parts/session/use-session';

/** URLs kept: several screens of the smallest wall. */
const KEPT = 1500;

const urls = new Map<string, string>();
/** Fetched at once: those that are in sight are not to wait for those that come after. */
const BATCH = 12;

interface Asked {
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
  const asked = (inSight.length > 0 ? inSight : [...waiting])
    .slice(0, BATCH)
    .map(([id, { listeners }]): [string, Asked['listeners']] => [id, listeners]);
  for (const [id] of asked) waiting.delete(id);
  const records = await session.db.previews.bulkGet(asked.map(([id]) => id));
  const missing = asked.flatMap(([id], index) => (records[index] || id === '' ? [] : [id]));
  if (missing.length > 0) await noteMissing(missing);
  asked.forEach(([id, listeners], index) => {
    const record = records[index];
    const url = record ? URL.createObjectURL(record.blob) : null;
    if (url) keep(id, url);
    for (const listener of listeners) listener(url);
  });
}

/** Why there is none, of those that cannot be drawn. */
const reasons = new Map<string, Problem | null>();

async function noteMissing(ids: string[]): Promise<void> {
  for (const record of await session.db.undrawn.bulkGet(ids)) if (record) reasons.set(record.photoId, record.problem);
  session.previewDrawing.wanted(ids);
}

/** `undefined` for one that may still be drawn. */
export const whyNoPreview = (photoId: string): Problem | null | undefined => reasons.get(photoId);

function keep(id: string, url: string): void {
  urls.set(id, url);
  reasons.delete(id);
  for (const [oldest, old] of urls) {
    if (urls.size <= KEPT) break;
    urls.delete(oldest);
    URL.revokeObjectURL(old);
  }
}

/** Asks for previews that are about to be shown. */
export function askPreviews(photoIds: readonly string[]): void {
  for (const id of photoIds)
    if (!urls.has(id) && !waiting.has(id)) waiting.set(id, { listeners: new Set(), inSight: true });
  queueMicrotask(fetchWaiting);
}

/** The preview of a photo: `undefined` while it is fetched, `null` where there is none, until one is drawn. */
export function usePreview(photoId: string, inSight = true): string | null | undefined {
  const version = useSession((state) => state.indexVersion + state.drawn);
  const [shown, setShown] = useState<{ id: string; url: string | null } | null>(null);
  const cached = urls.get(photoId);
  useEffect(() => {
    if (urls.has(photoId)) return;
    const listener = (url: string | null) => setShown({ id: photoId, url });
    const asked = waiting.get(photoId) ?? { listeners: new Set(), inSight };
    asked.inSight ||= inSight;
    waiting.set(photoId, asked);
    asked.listeners.add(listener);
    queueMicrotask(fetchWaiting); // when all tiles of this drawing have asked
    return () => {
      asked.listeners.delete(listener);
      if (asked.listeners.size === 0 && waiting.get(photoId) === asked) waiting.delete(photoId); // scrolled by before it came
    };
  }, [photoId, version, inSight]);
  return cached ?? (shown?.id === photoId ? shown.url : undefined);
}
