'use client';

import { useState } from 'react';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { SIDE_BY_SIDE_MOST } from './side-by-side';

/**
 * Which frames stand beside each other: the selection, where two and more are selected; else the set of the photo
 * looked at.
 */
export function useSideBySide(photoId: string | null) {
  const [ids, setIds] = useState<string[] | null>(null);
  const open = async () => {
    const { ids: selected, focus } = useSelection.getState();
    const of = photoId ?? focus;
    const chosen =
      selected.size > 1 ? [...selected] : of === null ? [] : ((await session.search.setsOf([of]))[0]?.ids ?? []);
    const at = Math.max(0, Math.min(chosen.indexOf(of ?? ''), chosen.length - SIDE_BY_SIDE_MOST));
    if (chosen.length > 1) setIds(chosen.slice(at, at + SIDE_BY_SIDE_MOST));
  };
  return { ids, open, close: () => setIds(null), show: setIds };
}
