import type { MouseEvent } from 'react';

/**
 * For a row with a button that bears `data-more`: the right button of the mouse, or a finger that rests on the row, opens
 * what that button opens.
 */
export function openMore(event: MouseEvent<HTMLElement>): void {
  const more = event.currentTarget.querySelector<HTMLElement>('[data-more]');
  if (!more) return;
  event.preventDefault();
  more.click();
}
