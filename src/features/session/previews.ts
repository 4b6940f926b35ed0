// Previews as object URLs: asked for one by one, fetched together, the least recently shown given back.

import { useEffect, useState } from 'react';
import { session } from './session';

/** URLs kept: several screens of the smallest wall. */
const KEPT = 1500;

const urls = new Map<string, string>();
const waiting = new Map<string, Set<(url: string | null) => void>>();
let timer: ReturnType<typeof setTimeout> | null = null;

async function fetchWaiting(): Promise<void> {
  timer = null;
  const asked = [...waiting];
  waiting.clear();
  const records = await session.db.previews.bulkGet(asked.map(([id]) => id));
  asked.forEach(([id, listeners], index) => {
    const record = records[index];
    const url = record ? URL.createObjectURL(record.blob) : null;
    if (url) keep(id, url);
    for (const listener of listeners) listener(url);
  });
}

function keep(id: string, url: string): void {
  urls.set(id, url);
  for (const [oldest, old] of urls) {
    if (urls.size <= KEPT) break;
    urls.delete(oldest);
    URL.revokeObjectURL(old);
  }
}

/** The preview of a photo: `undefined` while it is fetched, `null` where there is none. `version` fetches anew what was missing. */
export function usePreview(photoId: string, version = 0): string | null | undefined {
  const [shown, setShown] = useState<{ id: string; url: string | null } | null>(null);
  const cached = urls.get(photoId);
  useEffect(() => {
    if (urls.has(photoId)) return;
    const listener = (url: string | null) => setShown({ id: photoId, url });
    const listeners = waiting.get(photoId) ?? new Set();
    waiting.set(photoId, listeners.add(listener));
    timer ??= setTimeout(() => void fetchWaiting(), 0);
    return () => void listeners.delete(listener);
  }, [photoId, version]);
  return cached ?? (shown?.id === photoId ? shown.url : undefined);
}
