import { describe, expect, it } from 'vitest';
import { NO_COPIES } from '@/core/fixity/copy-plan';
import {
  copyPlanSentences,
  differencesSentence,
  holdingSentence,
  lossSentences,
  ruleSentence,
  standingSentence,
  yearOnDriveSentence,
  yearSentence,
} from './safekeep';

describe('safekeeping in words', () => {
  it('the rule', () => {
    expect(ruleSentence({ copies: 3, elsewhere: 1, verifiedWithinDays: 365 })).toBe(
      'Safe is what has 3 verified copies on different drives, 1 of them elsewhere, read in full within a year.',
    );
    expect(ruleSentence({ copies: 1, elsewhere: 0, verifiedWithinDays: 90 })).toBe(
      'Safe is what has 1 verified copy, read in full within 90 days.',
    );
  });

  it('what is lost with a drive', () => {
    expect(lossSentences({ photos: 0, unverified: 0, nowhere: 0, unsafe: 0 })).toEqual([
      'Nothing: no photo lies on it.',
    ]);
    expect(lossSentences({ photos: 9, unverified: 0, nowhere: 0, unsafe: 1 })).toEqual([
      'Nothing is lost: all 9 photos have a verified copy on another drive.',
      '1 photo is safe now and would not be any more.',
    ]);
    expect(lossSentences({ photos: 9, unverified: 3, nowhere: 2, unsafe: 0 })).toEqual([
      '2 photos would be lost: they lie on no other drive.',
      '1 photo lies on another drive too, but was never verified there, or is damaged or missing.',
    ]);
  });

  it('what a drive stands for, and why it is not forgotten', () => {
    expect(standingSentence({ standing: 'in-use', standingSince: '' })).toBe('');
    expect(standingSentence({ standing: 'lost', standingSince: '2026-11-30' })).toBe(
      'Lost since 2026-11-30: nothing on it counts as a copy.',
    );
    expect(holdingSentence({ kind: 'photos', photoIds: ['a'] })).toContain('1 photo of it has no verified copy');
    expect(holdingSentence({ kind: 'copies', waiting: 2 })).toContain('2 second copies for another drive wait');
  });

  it('where two files differ', () => {
    const one = { sizes: [10, 10] as [number, number], bytes: 1, runs: [{ start: 5, end: 6 }], runCount: 1 };
    expect(differencesSentence(one)).toBe('1 byte differs, in 1 place, from byte 5 on.');
    expect(differencesSentence({ ...one, sizes: [8, 10], bytes: 3 })).toContain('It is 2 bytes shorter than the copy.');
    expect(differencesSentence({ ...one, bytes: 0 })).toContain('both are the same');
  });

  it('a cell of the picture', () => {
    expect(
      yearSentence({ photos: 9, safe: 5, overdue: 1, fewCopies: 2, noneElsewhere: 3, problems: 0, fewest: 1, most: 2 }),
    ).toBe(
      '5 of 9 photos safe, 2 with too few copies, 3 with none elsewhere, 1 to be read again, verified copies: 1 to 2',
    );
    expect(
      yearOnDriveSentence({ photos: 9, fresh: 5, overdue: 1, unread: 2, problems: 1, oldest: 7 }, (at) => `day ${at}`),
    ).toBe(
      '9 photos, 5 verified, 1 verified too long ago, 2 never read in full, 1 damaged, missing or in doubt, read last day 7',
    );
  });

  it('what a copy would do', () => {
    const words = { bytes: (value: number) => `${value} B`, free: null };
    expect(copyPlanSentences(NO_COPIES, words)).toEqual(['None of these photos is on the drive to copy from.']);
    expect(copyPlanSentences({ ...NO_COPIES, there: 4 }, words)).toEqual([
      'All 4 photos have a verified copy there already.',
    ]);
    expect(
      copyPlanSentences(
        {
          ...NO_COPIES,
          photos: 2,
          bytes: 20,
          there: 3,
          elsewhereThere: 1,
          unreadThere: 1,
          renamed: 1,
          doubtful: 1,
          away: 1,
        },
        { ...words, free: 10 },
      ),
    ).toEqual([
      '2 photos, 20 B, will be copied with their sidecars, read back and compared by SHA-256. Nothing on either drive is replaced.',
      '3 there already; 1 there under another name or folder, which costs no copying; 1 there but never read: read first, and copied only if other; 1 under a number, since another photo has the name there; 1 damaged or in doubt: not copied; 1 on drives that are not chosen or not connected.',
      'There is room for 10 B only: it will stop when the drive is full, and can be resumed.',
    ]);
  });
});
