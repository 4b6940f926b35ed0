// Which photos are selected, which one has the focus, and where a range began. Kept beside the screens, so that it
// stays after a bulk action, another order, and through a change of place.

import { create } from 'zustand';
import type { PhotoOrder } from '@/core/search/photo-order';

export interface Selection {
  ids: ReadonlySet<string>;
  focus: string | null;
  anchor: string | null;
}

export const useSelection = create<Selection>(() => ({ ids: new Set<string>(), focus: null, anchor: null }));

const set = useSelection.setState;

export function selectOnly(id: string): void {
  set({ ids: new Set([id]), focus: id, anchor: id });
}

export function clearSelection(): void {
  set({ ids: new Set(), focus: null, anchor: null });
}

export function selectAll(order: PhotoOrder): void {
  set(({ focus }) => ({ ids: new Set(order.all()), focus: focus ?? order.at(0) ?? null, anchor: order.at(0) ?? null }));
}

export function toggleSelected(id: string): void {
  set(({ ids }) => {
    const next = new Set(ids);
    if (!next.delete(id)) next.add(id);
    return { ids: next, focus: id, anchor: id };
  });
}

/**
 * Selects from where the range began up to `id`, in the order of the wall; `adding` keeps what was selected before.
 */
export function selectRange(order: PhotoOrder, id: string, adding = false): void {
  set(({ anchor, ids }) => {
    const end = order.indexOf(id);
    const start = anchor === null ? end : order.indexOf(anchor);
    const range = order.slice(Math.min(start < 0 ? end : start, end), Math.max(start, end) + 1);
    return {
      ids: new Set(adding ? [...ids, ...range] : range),
      focus: id,
      anchor: start < 0 ? id : (anchor ?? id),
    };
  });
}

/** Selects these photos; `adding` keeps what was selected before. */
export function selectThese(photoIds: readonly string[], adding = false): void {
  set(({ ids, focus }) => ({
    ids: new Set(adding ? [...ids, ...photoIds] : photoIds),
    focus: photoIds[0] ?? focus,
    anchor: photoIds[0] ?? null,
  }));
}

/**
 * The photo that is large: the one that has the focus, where it is of this order; the address, which is slower,
 * follows.
 */
export function useLarge(inAddress: string | null, order: PhotoOrder): string | null {
  const focus = useSelection((state) => state.focus);
  return inAddress === null ? null : order.indexOf(focus) >= 0 ? focus : inAddress;
}

/** Gives the focus to a photo and leaves the selection as it is. */
export function setFocus(id: string): void {
  set({ focus: id });
}

/** The photo that is so many further in the order from the focus; the last or first at either end. */
export function neighbour(order: PhotoOrder, step: number): string | null {
  const at = order.indexOf(useSelection.getState().focus);
  return order.at(at < 0 ? 0 : Math.min(order.length - 1, Math.max(0, at + step))) ?? null;
}

/** Moves to the next or previous photo; stays at either end. */
export function stepFocus(order: PhotoOrder, step: number): string | null {
  const next = neighbour(order, step);
  if (next !== null) selectOnly(next);
  return next;
}
