// The storm by hand: `npm run faults -- --minutes 20`, or `--seed S --path P` to repeat a failure.

import 'fake-indexeddb/auto';
import { parseArgs } from 'node:util';
import { runStorm, toldRun } from './run-storm';

const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '1' }, seed: { type: 'string' }, path: { type: 'string' } },
});
const seconds = Number(values.minutes) * 60;
const seed = values.seed === undefined ? Date.now() % 2 ** 31 : Number(values.seed);
const { tally, failure } = await runStorm({ seconds, seed, ...(values.path !== undefined && { path: values.path }) });
console.log(toldRun(tally, seconds));
if (failure) console.error(failure);
process.exit(failure ? 1 : 0);
