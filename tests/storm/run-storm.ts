import fc from 'fast-check';
import { type Act, type Tally, acts, storm } from './acts';
import { Model } from './model';

export interface StormRun {
  seconds: number;
  seed: number;
  /** A run that failed before, to be repeated. */
  path?: string;
}

/** Storms for so long, or until a row does not hold; a failure is shrunk to the acts that are needed for it. */
export async function runStorm({ seconds, seed, path }: StormRun): Promise<{ tally: Tally; failure: string | null }> {
  const tally: Tally = { runs: 0, acts: 0, stops: 0, restarts: 0, swaps: 0 };
  const property = fc.asyncProperty(acts, (list) => storm(list, Model, tally));
  const result = await fc.check(property, {
    seed,
    numRuns: 1_000_000,
    interruptAfterTimeLimit: seconds * 1000,
    ...(path !== undefined && { path, endOnFailure: true }),
  });
  if (!result.failed) return { tally, failure: null };
  const [found] = result.counterexample ?? [[]];
  const reason = result.errorInstance instanceof Error ? result.errorInstance.message : String(result.errorInstance);
  return {
    tally,
    failure: `${reason}\n  npm run faults -- --seed ${result.seed} --path ${result.counterexamplePath ?? ''}\n${(found as Act[]).map((act, index) => `  ${index} ${JSON.stringify(act)}`).join('\n')}`,
  };
}

export const toldRun = ({ runs, acts: done, stops, restarts, swaps }: Tally, seconds: number): string =>
  `storm: ${runs} worlds, ${done} acts, ${stops} stops in the middle, ${restarts} restarts, ${swaps} cables pulled in the middle, in ${seconds} s`;
