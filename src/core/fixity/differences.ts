// Where two files differ, byte by byte: the evidence beside a damaged file. One pass, in pieces, however long they are.

import type { ByteSource } from '../bytes/source';

export interface Differences {
  /** Lengths in bytes, as read. */
  sizes: [number, number];
  /** Bytes that are not the same, those by which one is longer included. */
  bytes: number;
  /** Runs of such bytes, `end` not included; the first ones. Runs less than `JOINED_BYTES` apart are one. */
  runs: { start: number; end: number }[];
  /** Runs there are in all. */
  runCount: number;
}

const PIECE_BYTES = 1 << 20;
/** Runs nearer than this are told as one: what matters is where, not how often. */
export const JOINED_BYTES = 512;
const RUNS_TOLD = 200;

/** @param signal throws where the comparison is no longer wanted */
export async function findDifferences(
  a: ByteSource,
  b: ByteSource,
  signal?: { throwIfAborted(): void },
): Promise<Differences> {
  const found: Differences = { sizes: [a.size, b.size], bytes: 0, runs: [], runCount: 0 };
  let run: { start: number; end: number } | null = null;
  const differ = (start: number, end: number) => {
    found.bytes += end - start;
    if (run && start - run.end < JOINED_BYTES) run.end = end;
    else {
      run = { start, end };
      found.runCount += 1;
      if (found.runs.length < RUNS_TOLD) found.runs.push(run);
    }
  };
  const both = Math.min(a.size, b.size);
  for (let offset = 0; offset < both; offset += PIECE_BYTES) {
    signal?.throwIfAborted();
    const length = Math.min(PIECE_BYTES, both - offset);
    const [one, other] = await Promise.all([a.read(offset, length), b.read(offset, length)]);
    compare(one, other, offset, differ);
    // a file that ends before the length it states
    const [short, long] = [Math.min(one.length, other.length), Math.max(one.length, other.length)];
    if (long > short) differ(offset + short, offset + long);
    if (short < length) return found;
  }
  if (a.size !== b.size) differ(both, Math.max(a.size, b.size));
  return found;
}

function compare(a: Uint8Array, b: Uint8Array, offset: number, differ: (start: number, end: number) => void): void {
  const length = Math.min(a.length, b.length);
  for (let at = 0; at < length; at++) {
    if (a[at] === b[at]) continue;
    let end = at + 1;
    while (end < length && a[end] !== b[end]) end += 1;
    differ(offset + at, offset + end);
    at = end;
  }
}
