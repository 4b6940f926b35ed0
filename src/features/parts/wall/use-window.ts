'use client';

// What wall and list share: the records of what is near the window, and the focus that stays in sight.

import { type RefObject, useEffect, useMemo, useRef } from 'react';
import type { PhotoOrder } from '@/core/search/photo-order';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';

/** Records are fetched in steps of so many photos, so that a slow scroll asks seldom. */
const STEP = 48;

/** The records of the photos from `start` to `end`, live. Those of before stay until the new ones are there. */
export function useRecords(order: PhotoOrder, start: number, end: number): Map<string, PhotoRecord> {
  const from = Math.floor(start / STEP) * STEP;
  const to = Math.ceil(end / STEP) * STEP;
  const ids = useMemo(() => order.slice(from, to), [order, from, to]);
  const found = useLive(() => session.db.photos.bulkGet(ids), [ids]);
  return useMemo(() => new Map((found ?? []).flatMap((photo) => (photo ? [[photo.id, photo]] : []))), [found]);
}

/**
 * Scrolls the focused photo into the window when the keys move it out, and takes the keyboard's focus along.
 * @param extentOf from and to of the row of a position, in pixels from the top
 */
export function useFocusInView(
  box: RefObject<HTMLDivElement | null>,
  order: PhotoOrder,
  extentOf: (position: number) => { from: number; to: number } | null,
  above: number,
): void {
  const focus = useSelection((state) => state.focus);
  const latest = useRef({ order, extentOf });
  useEffect(() => {
    latest.current = { order, extentOf };
  });
  useEffect(() => {
    const element = box.current;
    const at = latest.current.order.indexOf(focus);
    const extent = at < 0 ? null : latest.current.extentOf(at);
    if (!element || !extent || element.clientHeight === 0) return;
    if (extent.from - above < element.scrollTop) element.scrollTop = extent.from - above;
    else if (extent.to > element.scrollTop + element.clientHeight) element.scrollTop = extent.to - element.clientHeight;
    if (element.contains(document.activeElement))
      element.querySelector<HTMLElement>(`[data-photo="${focus}"]`)?.focus({ preventScroll: true });
  }, [box, focus, above]);
}
