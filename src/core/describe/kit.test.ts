import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyEdit } from '../fields/edits';
import { type KitEntry, planEntries, withEntries } from './kit';

const put = (fields: Record<string, string | string[]>, ...entries: KitEntry[]) =>
  withEntries(fields, entries, 'a/b.jpg');

describe('a kit', () => {
  it('fills only what is empty, replaces, and adds to lists without losing what is there', () => {
    expect(
      put(
        { city: 'Gjógv' },
        { key: 'city', mode: 'fill', value: 'x' },
        { key: 'country', mode: 'fill', value: 'Faroe Islands' },
      ),
    ).toEqual({ city: 'Gjógv', country: 'Faroe Islands' });
    expect(put({ city: 'Gjógv' }, { key: 'city', mode: 'replace', value: 'x' })).toEqual({ city: 'x' });
    expect(put({ keywords: ['boat'] }, { key: 'keywords', mode: 'add', value: ['slip', 'boat'] })).toEqual({
      keywords: ['boat', 'slip'],
    });
    expect(put({ caption: 'mine' }, { key: 'caption', mode: 'add', value: 'x' })).toEqual({ caption: 'mine' });
  });

  it('leaves what it is to leave, and fills texts in from what the photo says, earlier entries included', () => {
    expect(put({ city: 'Gjógv' }, { key: 'city', mode: 'leave', value: 'x' })).toEqual({ city: 'Gjógv' });
    expect(
      put(
        { captured: '2019-07' },
        { key: 'city', mode: 'fill', value: 'Gjógv' },
        { key: 'caption', mode: 'fill', value: '[?who] at [=city], [=date] ([=file])' },
      ),
    ).toEqual({ captured: '2019-07', city: 'Gjógv', caption: '[?who] at Gjógv, July 2019 (b.jpg)' });
  });

  it('what is planned is what is put on, whatever the kit', () => {
    const entry = fc.record({
      key: fc.constantFrom('keywords' as const, 'creator' as const),
      mode: fc.constantFrom('fill' as const, 'add' as const, 'replace' as const),
      value: fc.uniqueArray(fc.constantFrom('a', 'b', 'c'), { minLength: 1 }),
    });
    fc.assert(
      fc.property(
        fc.array(entry),
        fc.option(fc.uniqueArray(fc.constantFrom('a', 'd'), { minLength: 1 }), { nil: undefined }),
        (entries, keywords) => {
          const photo = { id: 'p', fields: keywords ? { keywords } : {} };
          expect(planEntries(photo, entries, '').reduce(applyEdit, photo.fields)).toEqual(
            withEntries(photo.fields, entries, ''),
          );
          const gentle = entries.filter(({ mode }) => mode !== 'replace');
          expect(planEntries({ id: 'p', fields: withEntries(photo.fields, gentle, '') }, gentle, '')).toEqual([]); // putting it on twice changes nothing
        },
      ),
    );
  });
});
