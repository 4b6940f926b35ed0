// Sets found around what changed, against sets found among all photos.

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { searchRecord as record } from '../../../tests/fixtures/records';
import { type Member, findSets, panoramaQuestions } from '../sift/sets';
import { SearchIndex } from './search-index';
import type { SearchRecord } from './search-record';

const memberOf = ({ id, names, shot }: SearchRecord): Member => ({ id, name: names[0] ?? '', shot });
const inOrder = (sets: { kind: string | null; ids: string[] }[]) =>
  sets.map(({ kind, ids }) => `${kind} ${ids.join()}`).sort();

/**
 * Cameras that took frames seconds apart, some of them long exposures; raws with companions; some put together by hand.
 */
const drawn = fc.record({
  body: fc.constantFrom('A', 'B'),
  at: fc.option(
    fc.tuple(fc.nat(11), fc.nat(14)).map(([shoot, step]) => shoot * 60 + step * 1.5),
    { freq: 12 },
  ),
  fraction: fc.boolean(),
  seconds: fc.nat(99).map((one) => (one === 0 ? 90 : one < 8 ? null : one < 20 ? 0.016 : one < 35 ? 0.008 : 0.004)),
  fNumber: fc.constant(8),
  iso: fc.constant(100),
  focalMm: fc.constantFrom(35, 35, 35, 35, 35, 50),
  biasEv: fc.constantFrom(null, 0, 1, -1),
  raw: fc.boolean(),
  stem: fc.integer({ min: 0, max: 150 }),
  second: fc.integer({ min: 0, max: 3 }).map((one) => one === 0),
  given: fc.constantFrom(null, null, null, null, null, null, null, null, null, 'by hand', 'other', 'alone'),
  number: fc.integer({ min: 1, max: 999 }),
  overlaps: fc.constantFrom(0, 0, 1, 2),
});
const PHOTOS = 90;

function recordOf(
  id: number,
  { stem, second, number, overlaps, ...shot }: ReturnType<typeof drawn.generate>['value'],
): SearchRecord {
  const asked =
    overlaps === 0
      ? {}
      : Object.fromEntries(Array.from({ length: PHOTOS }, (_, other) => [String(other), overlaps === 1]));
  return record(String(id), {
    names: [`IMG_${number}.jpg`],
    shot: { ...shot, stems: second ? [`s/${stem}`, `s/${stem + 1}`] : [`s/${stem}`], overlaps: asked },
  });
}

describe('sets', () => {
  it('after any changes are those that looking at all photos finds, and so are the questions for panoramas', () => {
    const few = fc.tuple(drawn, fc.nat(12)).map(([photo, stem]) => ({ ...photo, stem })); // often of the same base names
    const step = fc.record({
      id: fc.nat(PHOTOS + 5),
      drawn: few,
      act: fc.constantFrom('put', 'put', 'put', 'remove', 'reopen'),
    });
    const seen = { compared: 0, sets: 0, questions: 0, kinds: new Set<string | null>() };
    fc.assert(
      fc.property(
        fc.array(drawn, { minLength: PHOTOS, maxLength: PHOTOS }),
        fc.array(fc.array(step, { minLength: 1, maxLength: 3 }), { minLength: 5, maxLength: 15 }),
        (photos, rounds) => {
          let index = new SearchIndex();
          const now = new Map<string, SearchRecord | null>(); // by slot, for a photo that went keeps its place
          const put = (one: SearchRecord) => {
            index.put(one);
            now.set(one.id, one);
          };
          photos.forEach((photo, id) => put(recordOf(id, photo)));
          for (const round of [[], ...rounds]) {
            for (const { id, drawn: photo, act } of round) {
              if (act === 'put') put(recordOf(id, photo));
              else if (act === 'remove' && now.has(String(id))) {
                index.remove(String(id));
                now.set(String(id), null);
              } else if (act === 'reopen') index = SearchIndex.fromBytes(index.toBytes()) ?? index;
            }
            const members = [...now.values()].filter((one) => one !== null).map(memberOf);
            const expected = findSets(members).map(({ kind, members: of }) => ({ kind, ids: of.map(({ id }) => id) }));
            const { list, of } = index.sets();
            expect(
              inOrder(
                list.map(({ kind, slots }) => ({ kind, ids: slots.map((slot) => index.columns.ids.text(slot)) })),
              ),
            ).toEqual(inOrder(expected));
            list.forEach(({ slots }, number) => expect(slots.map((slot) => of[slot])).toEqual(slots.map(() => number)));
            expect(of.filter((number) => number >= 0)).toHaveLength(
              expected.reduce((sum, { ids }) => sum + ids.length, 0),
            );
            const questions = panoramaQuestions(members)
              .map(([a, b]) => `${a.id} ${b.id}`)
              .sort();
            expect(
              index
                .questions(10_000)
                .map(([a, b]) => `${a} ${b}`)
                .sort(),
            ).toEqual(questions);
            seen.compared += 1;
            seen.sets += expected.length;
            seen.questions += questions.length;
            for (const { kind } of expected) seen.kinds.add(kind);
          }
        },
      ),
      { numRuns: 110, endOnFailure: true },
    );
    expect(seen.compared).toBeGreaterThan(500);
    expect([seen.sets > 3000, seen.questions > 200, [...seen.kinds].sort()]).toEqual([
      true,
      true,
      ['bracket', 'burst', 'chosen', 'companion', 'panorama'],
    ]);
  });
});
