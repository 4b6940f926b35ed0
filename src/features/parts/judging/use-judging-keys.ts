'use client';

// The keys of the ladder and of the markers, the same in every place that judges.

import { useEffect, useState } from 'react';
import { type KeyMap, useKeys } from '@/ui/keys';
import { markersInOrder } from './markers';
import { climb, setRung, toggleFavourite, toggleMarker, toggleRejected } from './rate';

/** After M, a digit names a marker for so long. */
const MARKER_WAIT_MS = 4000;

/**
 * @param ids what is judged, asked at the press
 * @param other keys of the place, which go before these
 * @returns whether a digit would name a marker now
 */
export function useJudgingKeys(ids: () => readonly string[], other: KeyMap = {}, active = true): boolean {
  const [naming, setNaming] = useState(false);
  useEffect(() => {
    if (!naming) return;
    const timer = setTimeout(() => setNaming(false), MARKER_WAIT_MS);
    return () => clearTimeout(timer);
  }, [naming]);
  const mark = async (digit: number) => {
    setNaming(false);
    const marker = (await markersInOrder())[digit - 1];
    if (marker || digit === 0) await toggleMarker(ids(), marker?.name ?? '');
  };
  const digits = Object.fromEntries(
    [0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((digit) => [
      String(digit),
      () => void (naming ? mark(digit) : digit <= 5 ? setRung(ids(), digit) : undefined),
    ]),
  );
  const once = (act: () => void) => (event: KeyboardEvent) => {
    if (!event.repeat) act(); // a key held down leafs on, but judges once
  };
  useKeys(
    {
      w: once(() => void climb(ids(), 1)),
      ArrowUp: once(() => void climb(ids(), 1)),
      s: once(() => void climb(ids(), -1)),
      ArrowDown: once(() => void climb(ids(), -1)),
      q: once(() => void toggleRejected(ids())),
      v: once(() => void toggleFavourite(ids())),
      m: () => setNaming((now) => !now),
      ...digits,
      ...other,
    },
    active,
  );
  return naming;
}
