import { beforeEach, describe, expect, it } from 'vitest';
import { PhotoOrder } from '@/core/search/photo-order';
import { Strings } from '@/core/search/strings';
import {
  clearSelection,
  neighbour,
  selectAll,
  selectOnly,
  selectRange,
  selectThese,
  setFocus,
  stepFocus,
  toggleSelected,
  useSelection,
} from './selection';

const orderOf = (...ids: string[]) => {
  const known = new Strings();
  return new PhotoOrder(
    Uint32Array.from(ids, (id) => known.number(id)),
    known,
  );
};
const ORDER = orderOf('a', 'b', 'c', 'd', 'e');
const selected = () => [...useSelection.getState().ids].sort();

beforeEach(clearSelection);

describe('the selection', () => {
  it('a range goes from where it began, in the order of the wall, in both directions', () => {
    selectOnly('d');
    selectRange(ORDER, 'b');
    expect(selected()).toEqual(['b', 'c', 'd']);
    selectRange(ORDER, 'e');
    expect(selected()).toEqual(['d', 'e']);
  });

  it('a range can be added to what was selected', () => {
    selectOnly('a');
    toggleSelected('c');
    selectRange(ORDER, 'd', true);
    expect(selected()).toEqual(['a', 'c', 'd']);
  });

  it('a range whose beginning is no longer in sight begins where it ends', () => {
    selectOnly('gone');
    selectRange(ORDER, 'c');
    expect(selected()).toEqual(['c']);
    selectRange(ORDER, 'd');
    expect(selected()).toEqual(['c', 'd']);
  });

  it('single photos are added and taken away, and the whole order at once', () => {
    selectOnly('a');
    toggleSelected('c');
    toggleSelected('a');
    expect(selected()).toEqual(['c']);
    selectAll(ORDER);
    expect(selected()).toEqual(['a', 'b', 'c', 'd', 'e']);
    selectThese(['b', 'd']);
    selectThese(['e'], true);
    expect(selected()).toEqual(['b', 'd', 'e']);
  });

  it('steps select the next photo and stop at both ends; without focus the first is taken', () => {
    expect(stepFocus(ORDER, 1)).toBe('a');
    expect(stepFocus(ORDER, -1)).toBe('a');
    expect(stepFocus(ORDER, 1)).toBe('b');
    selectOnly('e');
    expect(stepFocus(ORDER, 1)).toBe('e');
    expect(selected()).toEqual(['e']);
    expect(stepFocus(orderOf(), 1)).toBeNull();
  });

  it('the focus goes alone where the selection is to stay', () => {
    selectThese(['b', 'd']);
    setFocus('c');
    expect(selected()).toEqual(['b', 'd']);
    expect([neighbour(ORDER, 1), neighbour(ORDER, -1), neighbour(ORDER, 99)]).toEqual(['d', 'b', 'e']);
  });
});
