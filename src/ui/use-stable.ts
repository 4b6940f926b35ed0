'use client';

import { useCallback, useLayoutEffect, useRef } from 'react';

/**
 * The function as it is at the last drawing, under one identity: what it is handed to need not be drawn anew for it.
 */
export function useStable<A extends unknown[], R>(now: (...args: A) => R): (...args: A) => R {
  const latest = useRef(now);
  useLayoutEffect(() => {
    latest.current = now;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
