// The picture of safekeeping against a plain count, photo by photo.

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { searchRecord } from '../../../tests/fixtures/records';
import { DAY_MS } from '../time/captured';
import type { CopyStatus } from '../fixity/copies';
import { SearchIndex } from './search-index';
import type { SearchRecord } from './search-record';

const NOW = 20_600 * DAY_MS + 5;
const WITHIN = 365;

const onDrive = (driveId: string) =>
  fc
    .record({
      status: fc.constantFrom<CopyStatus>('verified', 'not-yet-read', 'damaged', 'missing', 'in-doubt'),
      daysAgo: fc.integer({ min: 0, max: 800 }),
    })
    .map(({ status, daysAgo }) => ({
      driveId,
      status,
      verifiedAt: status === 'verified' ? NOW - daysAgo * DAY_MS : null,
    }));
const photo = fc.record({
  day: fc.constantFrom(0, 20040812, 20040901, 20260101, 18991231),
  copies: fc.integer({ min: 0, max: 4 }),
  safeUntil: fc.constantFrom(0, NOW - 1, NOW + 1),
  lacks: fc.subarray(['copies', 'elsewhere'] as const).map((some) => [...some]),
  marks: fc.subarray(['damaged', 'twice'] as const).map((some) => [...some]),
  onDrives: fc.tuple(fc.option(onDrive('a1')), fc.option(onDrive('b-2'))).map((all) => all.flatMap((one) => one ?? [])),
});

it('counts each photo once in its year, and once on each drive that has it', () => {
  let photos = 0;
  fc.assert(
    fc.property(fc.array(photo, { maxLength: 30 }), (some) => {
      const records = some.map((one, at): SearchRecord => ({ ...searchRecord(String(at)), ...one }));
      const index = new SearchIndex();
      for (const record of records) index.put(record);
      index.remove('3');
      const left = records.filter(({ id }) => id !== '3');
      index.knowTime(20260527, NOW);
      const { all, drives } = index.driveYears(WITHIN);
      const years = [...new Set(left.map(({ day }) => Math.floor(day / 10_000)))];
      expect([...all.keys()].sort()).toEqual(years.sort());
      for (const year of years) {
        const own = left.filter(({ day }) => Math.floor(day / 10_000) === year);
        const count = (test: (one: SearchRecord) => boolean) => own.filter(test).length;
        expect(all.get(year)).toEqual({
          photos: own.length,
          safe: count(({ safeUntil }) => safeUntil > NOW),
          overdue: count(({ safeUntil }) => safeUntil > 0 && safeUntil <= NOW),
          fewCopies: count(({ lacks }) => lacks.includes('copies')),
          noneElsewhere: count(({ lacks }) => lacks.includes('elsewhere')),
          problems: count(({ marks }) => marks.includes('damaged')),
          fewest: Math.min(...own.map(({ copies }) => copies)),
          most: Math.max(...own.map(({ copies }) => copies)),
        });
        for (const driveId of ['a1', 'b-2']) {
          const there = own.flatMap(({ onDrives }) => onDrives.filter((one) => one.driveId === driveId));
          const read = there.flatMap(({ status, verifiedAt }) =>
            status === 'verified' && verifiedAt !== null ? [Math.floor(verifiedAt / DAY_MS) * DAY_MS] : [],
          );
          const fresh = read.filter((at) => at > NOW - WITHIN * DAY_MS).length;
          const unread = there.filter(({ status }) => status === 'not-yet-read').length;
          expect(drives.get(driveId)?.get(year)).toEqual(
            there.length === 0
              ? undefined
              : {
                  photos: there.length,
                  fresh,
                  overdue: read.length - fresh,
                  unread,
                  problems: there.length - read.length - unread,
                  oldest: read.length > 0 ? Math.min(...read) : null,
                },
          );
        }
        photos += own.length;
      }
    }),
    { numRuns: 200 },
  );
  expect(photos).toBeGreaterThan(500);
});
