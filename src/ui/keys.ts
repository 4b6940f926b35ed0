'use client';

import { useLayoutEffect, useRef } from 'react';

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

const TYPING =
  'input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, select, [contenteditable=true], [role=combobox], [role=slider]';

const isTyping = (target: EventTarget | null) => target instanceof Element && target.matches(TYPING);

/** The name of a key press: `a`, `ArrowLeft`, `Ctrl+z`, `Ctrl+Shift+z`, `?`. */
function nameOf(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const letter = /^[a-z]$/.test(key);
  return `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.shiftKey && (letter || key.length > 1) ? 'Shift+' : ''}${key}`;
}

/**
 * Keys of a screen. They rest while the person types, and while a dialog or a drawer is open. Enter and Space
 * belong to a button that has the focus, unless it lets them through (`data-keys="through"`), as the photos do. They
 * are heard from when the screen is drawn: one that is pressed in its first frame is not lost.
 */
export function useKeys(map: KeyMap, active = true): void {
  const latest = useRef(map);
  useLayoutEffect(() => {
    latest.current = map;
  });
  useLayoutEffect(() => {
    if (!active) return;
    const onKey = (event: KeyboardEvent) => {
      const action = latest.current[nameOf(event)];
      const resting =
        isTyping(event.target) ||
        document.querySelector(
          '.ant-modal-wrap:not([style*="display: none"]), .ant-select-dropdown:not(.ant-select-dropdown-hidden), .ant-drawer-open',
        );
      if (!action || resting || event.altKey) return;
      if (
        (event.key === 'Enter' || event.key === ' ') &&
        event.target instanceof Element &&
        event.target.matches('button:not([data-keys="through"]), a, summary')
      )
        return;
      event.preventDefault();
      action(event);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [active]);
}

/** Escape closes what is open, and does nothing else, wherever the focus is. */
export function useEscape(open: boolean, close: () => void): void {
  const latest = useRef(close);
  useLayoutEffect(() => {
    latest.current = close;
  });
  useLayoutEffect(() => {
    if (!open) return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      latest.current();
    };
    document.addEventListener('keydown', onKey, true);
    return () => document.removeEventListener('keydown', onKey, true);
  }, [open]);
}
