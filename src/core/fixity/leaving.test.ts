import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY_MS } from '../time/captured';
import type { FileOnDrive } from './copies';
import { NO_FACTS } from './drive-facts';
import { type Keeping, photoSafety } from './keeping';
import { type LeavingAsked, whyStays } from './leaving';

const NOW = 1000 * DAY_MS;
const photo = { sha256: 'a', imageSha256: 'i' };
const keeping: Keeping = {
  rule: { copies: 2, elsewhere: 1, verifiedWithinDays: 365 },
  facts: new Map([
    ['bank', { ...NO_FACTS, elsewhere: true }],
    ['old', { ...NO_FACTS, standing: 'retired' as const }],
  ]),
};
const file = (driveId: string, patch: Partial<FileOnDrive> = {}): FileOnDrive => ({
  driveId,
  path: 'p.jpg',
  state: 'present',
  sha256: 'a',
  imageSha256: 'i',
  verifiedAt: NOW - DAY_MS,
  ...patch,
});
const asked: LeavingAsked = { driveId: 'studio', now: NOW, awayCounts: false, isHere: () => true };
const why = (files: FileOnDrive[], more: Partial<LeavingAsked> = {}) =>
  whyStays(files[0] as FileOnDrive, files, photo, keeping, { ...asked, ...more });

describe('a file of a drive', () => {
  it('may go where its photo is safe on the others', () => {
    expect(why([file('studio'), file('cellar'), file('bank')])).toBeNull();
  });

  it('stays where the others are too few, none of them elsewhere, or of a drive that is retired', () => {
    expect(why([file('studio'), file('bank')])).toBe('copies');
    expect(why([file('studio'), file('cellar'), file('laptop')])).toBe('elsewhere');
    expect(why([file('studio'), file('old'), file('bank')])).toBe('copies');
    expect(why([file('studio'), file('studio'), file('bank')])).toBe('copies');
  });

  it('stays where a copy was read too long ago, never, or is not what it was', () => {
    expect(why([file('studio'), file('cellar', { verifiedAt: NOW - 366 * DAY_MS }), file('bank')])).toBe('check');
    expect(why([file('studio'), file('cellar', { verifiedAt: null }), file('bank')])).toBe('copies');
    expect(why([file('studio'), file('cellar', { state: 'damaged' }), file('bank')])).toBe('copies');
  });

  it('stays where it is to be settled itself', () => {
    expect(why([file('studio', { state: 'damaged' }), file('cellar'), file('bank')])).toBe('settle');
  });

  it('stays where what it relies on is away, unless that counts', () => {
    const files = [file('studio'), file('cellar'), file('bank')];
    const isHere = (driveId: string) => driveId !== 'bank';
    expect(why(files, { isHere })).toBe('away');
    expect(why(files, { isHere, awayCounts: true })).toBeNull();
  });

  it('leaves its photo as safe as the rule asks whenever it may go, whatever lies where', () => {
    const anyFile = fc.record({
      path: fc.constant('q.jpg'),
      driveId: fc.constantFrom('studio', 'cellar', 'bank', 'old', 'laptop'),
      state: fc.constantFrom('present' as const, 'damaged' as const, 'missing' as const),
      sha256: fc.constantFrom('a', 'b', null),
      imageSha256: fc.constantFrom('i', 'j', null),
      verifiedAt: fc.constantFrom(null, NOW - DAY_MS, NOW - 400 * DAY_MS),
    });
    fc.assert(
      fc.property(fc.array(anyFile, { maxLength: 6 }), fc.boolean(), (others, awayCounts) => {
        const files = [file('studio'), ...others];
        if (why(files, { awayCounts }) !== null) return;
        const left = photoSafety(
          files.filter(({ driveId }) => driveId !== 'studio'),
          photo,
          keeping,
        );
        expect(left.lacks).toEqual([]);
        expect(left.until).toBeGreaterThanOrEqual(NOW);
      }),
    );
  });
});
