import { beforeEach, describe, expect, it } from 'vitest';
import { clearSelection, selectAll, selectOnly, selectStretch, stepFocus, toggleSelected, useSelection } from './selection';

const order = ['a', 'b', 'c', 'd', 'e'];
const chosen = () => [...useSelection.getState().ids].sort().join('');

beforeEach(clearSelection);

describe('selecting', () => {
  it('a stretch goes from the first click to the last, either way, and can be drawn anew from the same start', () => {
    selectOnly('c');
    selectStretch(order, 'e');
    expect(chosen()).toBe('cde');
    selectStretch(order, 'a');
    expect(chosen()).toBe('abc');
  });

  it('one is added and taken away, the others stay', () => {
    selectOnly('a');
    toggleSelected('c');
    toggleSelected('e');
    toggleSelected('a');
    expect(chosen()).toBe('ce');
  });

  it('steps stay within the wall, and begin at its first photo', () => {
    expect(stepFocus(order, 1)).toBe('a');
    expect(stepFocus(order, -1)).toBe('a');
    selectOnly('e');
    expect(stepFocus(order, 1)).toBe('e');
    expect(stepFocus([], 1)).toBeNull();
  });

  it('all of the scope, and none', () => {
    selectAll(order);
    expect(chosen()).toBe('abcde');
    clearSelection();
    expect(useSelection.getState()).toMatchObject({ focus: null, anchor: null });
  });
});
