// The person's rule, as a table. Days are counted back from now.

import { describe, expect, it } from 'vitest';
import type { CopyOnDrive, CopyStatus } from './copies';
import { DAY_MS } from '../time/captured';
import { DEFAULT_RULE, type SafeRule, safetyOf } from './safe';

const NOW = 1_800_000_000_000;
const copy = (driveId: string, daysAgo: number, status: CopyStatus = 'verified'): CopyOnDrive => ({
  driveId,
  path: 'x.jpg',
  status,
  verifiedAt: status === 'verified' ? NOW - daysAgo * DAY_MS : null,
});
const isElsewhere = (driveId: string) => driveId.startsWith('far');
const daysLeft = (copies: CopyOnDrive[], rule: SafeRule = DEFAULT_RULE) => {
  const { lacks, until } = safetyOf(copies, rule, isElsewhere);
  return lacks.length > 0 ? lacks : (until - NOW) / DAY_MS;
};

describe('whether a photo is safe', () => {
  it.each<[string, CopyOnDrive[], ReturnType<typeof daysLeft>]>([
    // common practice: three copies, one of them elsewhere, each read within a year
    ['two here, one elsewhere', [copy('a', 10), copy('b', 20), copy('far', 30)], 335],
    ['the oldest of the three decides', [copy('a', 10), copy('b', 300), copy('far', 30)], 65],
    [
      'a fourth that was read lately stands in for the oldest',
      [copy('a', 10), copy('b', 300), copy('c', 5), copy('far', 30)],
      335,
    ],
    ['the one elsewhere has to be read too', [copy('a', 1), copy('b', 1), copy('c', 1), copy('far', 364)], 1],
    ['it was read too long ago', [copy('a', 1), copy('b', 1), copy('far', 366)], -1],
    ['three here, none elsewhere', [copy('a', 1), copy('b', 1), copy('c', 1)], ['elsewhere']],
    ['one here, one elsewhere', [copy('a', 1), copy('far', 1)], ['copies']],
    ['one copy', [copy('a', 1)], ['copies', 'elsewhere']],
    ['none', [], ['copies', 'elsewhere']],
    ['one that was never read is none', [copy('a', 1), copy('b', 0, 'not-yet-read'), copy('far', 1)], ['copies']],
    ['one that is damaged is none', [copy('a', 1), copy('b', 1), copy('far', 0, 'damaged')], ['copies', 'elsewhere']],
  ])('%s', (_, copies, expected) => {
    expect(daysLeft(copies)).toEqual(expected);
  });

  it('by the rule of somebody who keeps nothing elsewhere', () => {
    const rule: SafeRule = { copies: 2, elsewhere: 0, verifiedWithinDays: 30 };
    expect(daysLeft([copy('a', 10), copy('b', 20)], rule)).toBe(10);
    expect(daysLeft([copy('a', 10)], rule)).toEqual(['copies']);
  });
});
