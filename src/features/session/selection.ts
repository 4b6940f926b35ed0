// Which photos are selected, which one has the focus, and where a stretch began. Kept beside the screens, so that it
// stays after a bulk action and through a change of place.

import { create } from 'zustand';

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

export function selectAll(order: string[]): void {
  set(({ focus }) => ({ ids: new Set(order), focus: focus ?? order[0] ?? null, anchor: order[0] ?? null }));
}

export function toggleSelected(id: string): void {
  set(({ ids }) => {
    const next = new Set(ids);
    if (!next.delete(id)) next.add(id);
    return { ids: next, focus: id, anchor: id };
  });
}

/** Selects from where the stretch began up to `id`, in the order of the wall. */
export function selectStretch(order: string[], id: string): void {
  set(({ anchor }) => {
    const start = order.indexOf(anchor ?? id);
    const end = order.indexOf(id);
    const stretch = order.slice(Math.min(start, end), Math.max(start, end) + 1);
    return { ids: new Set(stretch), focus: id, anchor: anchor ?? id };
  });
}

/** Moves to the next or previous photo; stays at either end. */
export function stepFocus(order: string[], step: number): string | null {
  const { focus } = useSelection.getState();
  const at = focus === null ? -1 : order.indexOf(focus);
  const next = order[at < 0 ? 0 : Math.min(order.length - 1, Math.max(0, at + step))];
  if (next !== undefined) selectOnly(next);
  return next ?? null;
}
