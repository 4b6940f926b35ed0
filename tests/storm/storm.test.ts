// A minute of the storm (docs/ARCHITECTURE.md); `npm run faults -- --minutes N` goes on.

import 'fake-indexeddb/auto';
import { expect, it } from 'vitest';
import { runStorm, toldRun } from './run-storm';

/** Seconds; the rest of the time belongs to the other tests. */
const SECONDS = 60;
/** The same storm each time, so that a red test is a change of ours; by hand it is another one each time. */
const SEED = 20_261_129;

it('nothing is lost in a storm of acts, stops, swaps and rebuilds', { timeout: 30 * 60_000 }, async () => {
  const { tally, failure } = await runStorm({ seconds: SECONDS, seed: SEED });
  console.log(toldRun(tally, SECONDS));
  expect(failure ?? 'nothing').toBe('nothing');
  expect(tally.acts).toBeGreaterThan(40);
  expect(tally.stops).toBeGreaterThan(0);
});
