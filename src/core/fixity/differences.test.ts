// Against a plain loop over every byte; `tests/reference` asks `cmp`.

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { memorySource } from '../bytes/source';
import { JOINED_BYTES, findDifferences } from './differences';

const between = (a: Uint8Array, b: Uint8Array) => findDifferences(memorySource(a), memorySource(b));

it('counts every byte that is another, and those by which one file is longer', async () => {
  let differing = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.uint8Array({ maxLength: 3000 }),
      fc.array(fc.tuple(fc.nat(3000), fc.integer({ min: 1, max: 255 })), { maxLength: 6 }),
      fc.integer({ min: -20, max: 20 }),
      async (a, flips, longer) => {
        const b = new Uint8Array(Math.max(0, a.length + longer)).map((_, at) => a[at] ?? 9);
        for (const [at, by] of flips) if (at < b.length) b[at] = (b[at] ?? 0) ^ by;
        const longest = Math.max(a.length, b.length);
        const plain = Array.from({ length: longest }, (_, at) => at).filter((at) => a[at] !== b[at]);
        const found = await between(a, b);
        expect(found.sizes).toEqual([a.length, b.length]);
        expect(found.bytes).toBe(plain.length);
        // every one lies in a run, runs begin and end with one, and lie apart
        for (const at of plain) expect(found.runs.some(({ start, end }) => at >= start && at < end)).toBe(true);
        found.runs.forEach(({ start, end }, index) => {
          expect(plain).toContain(start);
          expect(plain).toContain(end - 1);
          expect(start - (found.runs[index - 1]?.end ?? -Infinity)).toBeGreaterThanOrEqual(JOINED_BYTES);
        });
        expect(found.runCount).toBe(found.runs.length);
        differing += plain.length > 0 ? 1 : 0;
      },
    ),
  );
  expect(differing).toBeGreaterThan(20);
});

it('goes over the edge of a piece, and tells the first of many runs', async () => {
  const a = new Uint8Array((1 << 20) + 400_000);
  const b = a.slice();
  b.fill(1, (1 << 20) - 3, (1 << 20) + 3);
  expect((await between(a, b)).runs).toEqual([{ start: (1 << 20) - 3, end: (1 << 20) + 3 }]);
  for (let at = 0; at < a.length; at += 1000) b[at] = 1;
  const many = await between(a, b);
  expect([many.runs.length, many.runCount > 1400]).toEqual([200, true]);
});

it('a file that ends before it says differs from there on', async () => {
  const whole = new Uint8Array(500).fill(7);
  const cut = { size: 500, read: async (offset: number) => whole.slice(offset, 300) };
  expect(await findDifferences(memorySource(whole), cut)).toMatchObject({
    bytes: 200,
    runs: [{ start: 300, end: 500 }],
  });
});
