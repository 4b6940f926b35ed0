// An order of slots, kept right while few of them change.

/** The slots of `some` as marks by slot. */
export function marksOf(some: Iterable<number>, size: number): Uint8Array {
  const marks = new Uint8Array(size);
  for (const slot of some) marks[slot] = 1;
  return marks;
}

/**
 * The order with the marked slots taken out, and these put in where they belong.
 * @param placed in the order of `compare`, by which all that is not marked stands in `order` already
 */
export function reordered(
  order: Uint32Array,
  marks: Uint8Array,
  placed: Uint32Array,
  compare: (a: number, b: number) => number,
): Uint32Array<ArrayBuffer> {
  const kept = new Uint32Array(order.length);
  let count = 0;
  for (let at = 0; at < order.length; at++) {
    const slot = order[at] as number;
    if (marks[slot] !== 1) kept[count++] = slot;
  }
  const next = new Uint32Array(count + placed.length);
  let from = 0;
  placed.forEach((slot, index) => {
    const at = placeIn(kept, count, slot, compare);
    next.set(kept.subarray(from, at), from + index);
    next[at + index] = slot;
    from = at;
  });
  next.set(kept.subarray(from, count), from + placed.length);
  return next;
}

/** Where a slot stands, or would: before the first that is not before it. */
export function placeIn(
  order: Uint32Array,
  length: number,
  slot: number,
  compare: (a: number, b: number) => number,
): number {
  let [low, high] = [0, length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (compare(order[middle] as number, slot) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}
