'use client';

import { type RefObject, useLayoutEffect, useState } from 'react';

/** The inner size of an element, in CSS pixels; 0 before it is known. */
export function useSize(box: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [box]);
  return size;
}
