import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newCollection } from './collection';
import type { FieldValues } from '../fields/registry';
import { fromTyped, valueProblemOf, splitKeywords, toTyped, typedFor } from '../fields/values';
import { inverse, type Change } from './change';
import { applyEdit, planList, planSet } from '../fields/edits';
import { summarise } from '../fields/common-values';

const apply = (fields: FieldValues, change: Change) =>
  change.kind === 'fields' ? change.edits.reduce(applyEdit, fields) : fields;

describe('changes', () => {
  it('leave out photos that have the value already', () => {
    const photos = [
      { id: 'a', fields: { city: 'Gjógv' } },
      { id: 'b', fields: {} },
    ];
    expect(planSet(photos, 'city', 'Gjógv')).toEqual([{ photoId: 'b', key: 'city', after: 'Gjógv' }]);
  });

  it('add and take away keywords without losing those already there', () => {
    const photos = [
      { id: 'a', fields: { keywords: ['boat', 'slip'] } },
      { id: 'b', fields: {} },
    ];
    expect(planList(photos, 'keywords', ['wool', 'boat'], ['slip'])).toEqual([
      { photoId: 'a', key: 'keywords', before: ['boat', 'slip'], after: ['boat', 'wool'] },
      { photoId: 'b', key: 'keywords', after: ['wool', 'boat'] },
    ]);
    expect(planList([{ id: 'a', fields: { keywords: ['x'] } }], 'keywords', [], ['x'])).toEqual([
      { photoId: 'a', key: 'keywords', before: ['x'] },
    ]);
  });

  it('are taken back exactly by their inverse, whatever they did', () => {
    const value = fc.option(
      fc.oneof(fc.string(), fc.array(fc.string({ minLength: 1 }), { minLength: 1 }), fc.integer({ min: -1, max: 5 })),
      { nil: undefined },
    );
    const key = fc.constantFrom('title' as const, 'keywords' as const, 'rating' as const);
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom('title', 'city'), fc.string()),
        fc.array(fc.tuple(key, value), { minLength: 1 }),
        (start, wishes) => {
          let fields: FieldValues = start;
          const change: Change = { kind: 'fields', origin: 'person', edits: [] };
          for (const [wanted, to] of wishes) {
            const edits = planSet([{ id: 'a', fields }], wanted, to);
            change.edits.push(...edits);
            fields = edits.reduce(applyEdit, fields);
          }
          expect(apply(fields, inverse(change, 0))).toEqual(start);
        },
      ),
    );
  });

  it('a new smart collection is taken back by a later tombstone', () => {
    const after = { ...newCollection('Boats', 'smart', { scope: 'boat' }), id: 'c', updatedAt: 5, deleted: false };
    expect(inverse({ kind: 'kept', savedKind: 'collections', before: null, after }, 9)).toEqual({
      kind: 'kept',
      savedKind: 'collections',
      before: after,
      after: { ...after, deleted: true, updatedAt: 9 },
    });
  });
});

describe('what a selection says', () => {
  it('one value, or several different ones, and keywords with their counts', () => {
    const { fields, keywords } = summarise([
      { id: 'a', fields: { city: 'Gjógv', keywords: ['boat', 'slip'] } },
      { id: 'b', fields: { city: 'Gjógv', title: 'x', keywords: ['boat'] } },
      { id: 'c', fields: { city: 'Gjógv' } },
    ]);
    expect(fields.city).toEqual({ state: 'same', value: 'Gjógv' });
    expect(fields.title).toEqual({
      state: 'differs',
      kinds: 2,
      values: [
        { value: undefined, photos: 2 },
        { value: 'x', photos: 1 },
      ],
    });
    expect(keywords).toEqual([
      { word: 'boat', count: 2 },
      { word: 'slip', count: 1 },
    ]);
  });
});

describe('what is typed', () => {
  it('keywords part at commas and semicolons, not at blanks (common practice)', () => {
    expect(splitKeywords(' turf roof, boat;slip ;, boat\nwool')).toEqual(['turf roof', 'boat', 'slip', 'wool']);
    expect(splitKeywords('"Dam, Sólja"; 6" gun, ""')).toEqual(['Dam, Sólja', '6" gun']);
    expect(fromTyped('keywords', typedFor('keywords', ['Dam, Sólja', 'a;b', 'c']))).toEqual(['Dam, Sólja', 'a;b', 'c']);
  });

  it('text stays text', () => {
    expect(fromTyped('headline', ' 007 ')).toBe('007');
    expect(fromTyped('title', 'true')).toBe('true');
    expect(fromTyped('rating', '3.5')).toBeUndefined();
    expect([
      valueProblemOf('rating', '9'),
      valueProblemOf('rating', '−'),
      valueProblemOf('captured', 'soon'),
      valueProblemOf('captured', '1968-07'),
      valueProblemOf('urgency', 'x'),
      valueProblemOf('title', '007'),
      valueProblemOf('rating', ''),
    ]).toEqual(['rating', 'rating', 'date', null, 'number', null, null]);
    expect(fromTyped('title', 'a\u0007b')).toBe('ab');
    expect(toTyped(fromTyped('creator', 'Holt, Mia; Á Reyn'))).toBe('Holt, Mia; Á Reyn');
  });
});
