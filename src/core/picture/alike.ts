// Groups of pictures that look alike: every two whose hashes differ in few bits are neighbours, and neighbours of
// neighbours are one group. Each hash is cut into four parts of 16 bits; two hashes that differ in at most `bits` bits
// differ in one of the parts by a quarter of that at most, so only those are compared whose part is so near (the
// pigeonhole principle).

import { bitsApart } from './measures';

const PARTS = 4;
const PART_BITS = 16;

export interface Hashes {
  high: ArrayLike<number>;
  low: ArrayLike<number>;
}

/** Patterns of 16 bits with at most so many ones. */
function patterns(most: number): number[] {
  const found = [0];
  for (let from = 0, ones = 0; ones < most; ones++) {
    const to = found.length;
    for (; from < to; from++) {
      const pattern = found[from] ?? 0;
      for (let bit = pattern === 0 ? 0 : 32 - Math.clz32(pattern); bit < PART_BITS; bit++)
        found.push(pattern | (1 << bit));
    }
  }
  return found;
}

const partOf = ({ high, low }: Hashes, at: number, part: number): number =>
  (((part < 2 ? high[at] : low[at]) ?? 0) >>> (part % 2 === 0 ? 16 : 0)) & 0xffff;

/**
 * Groups of at least two, by the places of their hashes, each in ascending order. Time grows with the number of hashes
 * and steeply with `bits`; 12 is the most that is quick.
 */
export function groupsAlike(hashes: Hashes, count: number, bits: number): number[][] {
  const leader = Uint32Array.from({ length: count }, (_, at) => at);
  const lead = (at: number): number => {
    let top = at;
    while (leader[top] !== top) top = leader[top] as number;
    for (let step = at; leader[step] !== top;) [step, leader[step]] = [leader[step] as number, top];
    return top;
  };
  const near = patterns(Math.floor(bits / PARTS));
  for (let part = 0; part < PARTS; part++) {
    const { starts, order } = bucketed(hashes, count, part);
    for (let at = 0; at < count; at++) {
      const own = partOf(hashes, at, part);
      for (const pattern of near) {
        const bucket = own ^ pattern;
        for (let index = starts[bucket] ?? 0; index < (starts[bucket + 1] ?? 0); index++) {
          const other = order[index] as number;
          if (
            other <= at ||
            bitsApart(hashes.high[at] ?? 0, hashes.low[at] ?? 0, hashes.high[other] ?? 0, hashes.low[other] ?? 0) > bits
          )
            continue;
          const [a, b] = [lead(at), lead(other)];
          if (a !== b) leader[Math.max(a, b)] = Math.min(a, b);
        }
      }
    }
  }
  const groups = new Map<number, number[]>();
  for (let at = 0; at < count; at++) {
    const top = lead(at);
    const group = groups.get(top);
    if (group) group.push(at);
    else groups.set(top, [at]);
  }
  return [...groups.values()].filter((group) => group.length > 1);
}

/** Places of the hashes, those with the same part side by side. */
function bucketed(hashes: Hashes, count: number, part: number): { starts: Uint32Array; order: Uint32Array } {
  const starts = new Uint32Array(2 ** PART_BITS + 1);
  for (let at = 0; at < count; at++)
    starts[partOf(hashes, at, part) + 1] = (starts[partOf(hashes, at, part) + 1] ?? 0) + 1;
  for (let bucket = 0; bucket < 2 ** PART_BITS; bucket++)
    starts[bucket + 1] = (starts[bucket + 1] ?? 0) + (starts[bucket] ?? 0);
  const next = starts.slice();
  const order = new Uint32Array(count);
  for (let at = 0; at < count; at++) {
    const bucket = partOf(hashes, at, part);
    order[next[bucket] ?? 0] = at;
    next[bucket] = (next[bucket] ?? 0) + 1;
  }
  return { starts, order };
}
