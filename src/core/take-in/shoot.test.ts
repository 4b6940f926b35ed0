import { describe, expect, it } from 'vitest';
import { fillFolder } from '../names/pattern';
import { YEAR_AND_SHOOT } from './sheet';
import { patternOfFolder, shootFacts } from './shoot';

const BLANKS = { kind: 'assignment', client: 'Harbour office', subject: 'Gjógv' };

describe('the folder of a shoot', () => {
  it('is named by the person’s rule, for any day', () => {
    expect(fillFolder(YEAR_AND_SHOOT, shootFacts('2027-02-03', BLANKS, '2027.001'))).toBe('2027/2027-02-03 Gjógv');
    expect(fillFolder(YEAR_AND_SHOOT, shootFacts('2027-02-03', { ...BLANKS, subject: '' }, ''))).toBe(
      '2027/2027-02-03',
    );
  });

  it('is the place of the card to come, whatever its photos say', () => {
    for (const folder of ['2027/2027-02-03 Gjógv', 'one', 'a/b. c/d - e'])
      expect(fillFolder(patternOfFolder(folder), shootFacts('1968', BLANKS, 'x'))).toBe(folder);
  });
});
