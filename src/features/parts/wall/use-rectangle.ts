'use client';

// A rectangle drawn with the mouse selects what it touches; with Shift or Ctrl it adds. Near an edge the wall scrolls
// along.

import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import { selectThese, useSelection } from '@/features/parts/selection/selection';

export interface Area {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** A press that moves less is a click. */
const BEGINS_PX = 6;
const EDGE_PX = 30;
const SCROLL_PX = 14;

/** @param idsWithin the photos an area touches, in pixels of the scrolled content */
export function useRectangle(box: RefObject<HTMLDivElement | null>, idsWithin: (area: Area) => string[]) {
  const [area, setArea] = useState<Area | null>(null);
  const drawn = useRef(false);
  const latest = useRef(idsWithin);
  latest.current = idsWithin;

  const onPointerDown = (event: PointerEvent) => {
    const element = box.current;
    if (
      !element ||
      event.button !== 0 ||
      event.pointerType !== 'mouse' ||
      event.clientX > element.getBoundingClientRect().left + element.clientWidth
    )
      return;
    drawn.current = false;
    if (event.target instanceof Element && event.target.closest('[data-photo][aria-pressed="true"]')) return; // a selected photo is taken along, into a collection
    const at = (x: number, y: number) => {
      const { left, top } = element.getBoundingClientRect();
      return { x: x - left, y: y - top + element.scrollTop };
    };
    const start = at(event.clientX, event.clientY);
    const adding = event.shiftKey || event.ctrlKey || event.metaKey;
    const before = adding ? [...useSelection.getState().ids] : [];
    let last = { x: event.clientX, y: event.clientY };
    let scrolling: ReturnType<typeof setInterval> | null = null;
    const draw = () => {
      const now = at(last.x, last.y);
      if (!drawn.current && Math.hypot(now.x - start.x, now.y - start.y) < BEGINS_PX) return;
      drawn.current = true;
      const next = {
        left: Math.min(start.x, now.x),
        right: Math.max(start.x, now.x),
        top: Math.min(start.y, now.y),
        bottom: Math.max(start.y, now.y),
      };
      setArea(next);
      selectThese([...before, ...latest.current(next)]);
    };
    const onMove = (move: globalThis.PointerEvent) => {
      last = { x: move.clientX, y: move.clientY };
      draw();
      const { top, bottom } = element.getBoundingClientRect();
      const pull = last.y < top + EDGE_PX ? -SCROLL_PX : last.y > bottom - EDGE_PX ? SCROLL_PX : 0;
      if (scrolling) clearInterval(scrolling);
      scrolling = null;
      if (pull !== 0 && drawn.current) {
        scrolling = setInterval(() => {
          element.scrollTop += pull;
          draw();
        }, 16);
      }
    };
    // what the rectangle selects could be dragged from then on: not by this press
    const keepHere = (drag: DragEvent) => drag.preventDefault();
    const onEnd = () => {
      window.removeEventListener('dragstart', keepHere);
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onEnd);
      window.removeEventListener('pointercancel', onEnd);
      if (scrolling) clearInterval(scrolling);
      setArea(null);
    };
    window.addEventListener('dragstart', keepHere);
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onEnd);
    window.addEventListener('pointercancel', onEnd);
  };
  /** Whether the click that ends a press belongs to a rectangle: it then chooses nothing. */
  const wasDrawn = () => drawn.current;
  return { area, onPointerDown, wasDrawn };
}
