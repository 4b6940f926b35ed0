import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Collection, newCollection } from './collection';
import type { Kit } from '../describe/kit';
import { mergeSaved } from './saved';
import { bumped } from '../fields/version';

const kit = (version: string, name = 'Survey', more: Partial<Kit> = {}): Kit => ({
  id: 'k',
  name,
  entries: [],
  updatedAt: 1,
  deleted: false,
  version,
  ...more,
});
const collection = (version: string, photoIds: string[], more: Partial<Collection> = {}): Collection => ({
  ...newCollection('Best', 'hand', { photoIds }),
  id: 'c',
  updatedAt: 1,
  deleted: false,
  version,
  ...more,
});

describe('what is kept in several catalogs', () => {
  it('the later version holds, whatever the clocks say; tombstones too', () => {
    const [older, later] = [kit('a:1', 'old', { updatedAt: 9_000_000 }), kit('a:2', 'new', { updatedAt: 1 })];
    expect(mergeSaved('kits', [older], [later])).toEqual([later]);
    expect(mergeSaved('kits', [later], [older])).toEqual([later]);
    const gone = kit('b:1 a:2', 'new', { deleted: true });
    expect(mergeSaved('kits', [later], [gone])).toEqual([gone]);
  });

  it('of before there were versions the later date holds, and what has a version holds over that', () => {
    const { version: _, ...old } = kit('');
    const older = { ...old, name: 'older' };
    expect(mergeSaved('kits', [older], [{ ...old, updatedAt: 2 }])).toEqual([{ ...old, updatedAt: 2 }]);
    expect(mergeSaved('kits', [{ ...old, updatedAt: 99 }], [kit('a:1', 'new')])).toEqual([kit('a:1', 'new')]);
  });

  it('changed apart, both are kept: one under its name, the other beside it', () => {
    const merged = mergeSaved('kits', [kit('a:2', 'Holt')], [kit('b:1 a:1', 'Á Reyn')]);
    expect(merged.map(({ name }) => name).sort()).toEqual(
      expect.arrayContaining([expect.stringMatching(/\(other version\)$/)]),
    );
    expect(merged).toHaveLength(2);
    expect(merged.every(({ id }) => id.length <= 64)).toBe(true);
    expect(mergeSaved('kits', merged, [kit('a:2', 'Holt')], [kit('b:1 a:1', 'Á Reyn')])).toEqual(merged);
  });

  it('what one side made private is private, and files that were sent are told by both', () => {
    const word = (version: string, more: object) => ({
      ...{ id: 'w', word: 'x', parentId: null, synonyms: [], note: '', updatedAt: 1, deleted: false, version },
      ...more,
    });
    for (const [one, other] of [
      [{ isPrivate: true }, { note: 'n' }],
      [{ note: 'n' }, { isPrivate: true }],
    ])
      expect(mergeSaved('vocabulary', [word('a:2', one ?? {})], [word('b:1 a:1', other ?? {})])).toMatchObject([
        { isPrivate: true, note: 'n' },
      ]);
    const file = (path: string) => ({
      ...{ photoId: path, driveId: 'd', path, fingerprint: path, sha256: path, bytes: 1, width: 1, height: 1 },
    });
    const sent = (version: string, path: string) => ({
      ...{ id: 's', name: 'Press', date: '2026-11-30', note: '', photoIds: [path], files: [file(path)] },
      ...{ updatedAt: 1, deleted: false, version },
    });
    const merged = mergeSaved('deliveries', [sent('a:2', 'p1')], [sent('b:1 a:1', 'p2')]);
    expect(merged).toHaveLength(1);
    expect(merged[0]?.files?.map(({ path }) => path).sort()).toEqual(['p1', 'p2']);
  });

  it('photos gathered by hand on both sides are all in it', () => {
    const [merged, ...others] = mergeSaved(
      'collections',
      [collection('a:2', ['p1', 'p2'])],
      [collection('b:1 a:1', ['p1', 'p3'])],
    );
    expect(others).toEqual([]);
    expect(new Set(merged?.photoIds)).toEqual(new Set(['p1', 'p2', 'p3']));
  });

  it('is no news to who has it already', () => {
    const one = kit('a:2 b:1');
    expect(mergeSaved('kits', [one], [{ ...one, version: 'b:1 a:2' }])[0]).toBe(one);
    expect(mergeSaved('kits', [one], [kit('a:1', 'older')])[0]).toBe(one);
    const { version: _, ...old } = kit('');
    expect(mergeSaved('kits', [old], [{ ...old }])[0]).toBe(old);
  });

  it('deleted on one side and changed on the other, it stays', () => {
    expect(mergeSaved('kits', [kit('a:2', 'changed')], [kit('b:1 a:1', 'Survey', { deleted: true })])).toMatchObject([
      { name: 'changed', deleted: false },
    ]);
  });

  it('ends the same in any order, and again without effect', () => {
    const states = fc
      .array(
        fc.record({
          by: fc.constantFrom('a', 'b'),
          name: fc.constantFrom('x', 'y'),
          photo: fc.constantFrom('p', 'q', 'r'),
          gone: fc.boolean(),
        }),
        { minLength: 1, maxLength: 6 },
      )
      .map((steps) => {
        // two catalogs that never met since the first state
        const ends: Record<string, Collection> = { a: collection('o:1', []), b: collection('o:1', []) };
        for (const { by, name, photo, gone } of steps) {
          const one = ends[by] as Collection;
          ends[by] = {
            ...one,
            name,
            photoIds: [...new Set([...one.photoIds, photo])],
            deleted: gone,
            version: bumped(one.version ?? '', by),
          };
        }
        return Object.values(ends);
      });
    const sorted = (list: Collection[]) =>
      list
        .map((one) => ({
          ...one,
          photoIds: one.photoIds.toSorted(),
          version: one.version?.split(' ').sort().join(' '),
        }))
        .sort((x, y) => (x.id < y.id ? -1 : 1));
    fc.assert(
      fc.property(states, ([a, b]) => {
        const merged = mergeSaved('collections', [a!], [b!]);
        expect(sorted(mergeSaved('collections', [b!], [a!]))).toEqual(sorted(merged));
        expect(sorted(mergeSaved('collections', merged, merged))).toEqual(sorted(merged));
        expect(sorted(mergeSaved('collections', merged, [a!], [b!]))).toEqual(sorted(merged));
      }),
    );
  });
});
