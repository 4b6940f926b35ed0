'use client';

import { type RefObject, useLayoutEffect, useState } from 'react';

/** The inner size of an element, in CSS pixels; known when it is first painted, 0 before. */
export function useSize(box: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const measure = () => setSize({ width: element.clientWidth, height: element.clientHeight });
    measure(); // the observer speaks a frame later: a key may have been pressed by then
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [box]);
  return size;
}
