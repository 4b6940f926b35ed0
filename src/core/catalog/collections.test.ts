import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Collection,
  findNamed,
  gathered,
  inside,
  inverseGathering,
  newCollection,
  pathTo,
  planAdding,
  planMoving,
  planTakingOut,
  scopeName,
  withInside,
} from './collection';
import { sentByPhoto } from '../send-out/delivery';
import { missingIn, referringTo, refersToItself, renamed } from './references';

const make = (id: string, name: string, kind: Collection['kind'], more: Partial<Collection> = {}): Collection => ({
  ...newCollection(name, kind),
  id,
  updatedAt: 0,
  deleted: false,
  ...more,
});

describe('photos of a collection by hand', () => {
  const ids = ['a', 'b', 'c', 'd', 'e'];

  it('come to the end once each, leave, and move before another or to the end', () => {
    expect(gathered(ids, planAdding(ids, ['x', 'b', 'x', 'y']))).toEqual(['a', 'b', 'c', 'd', 'e', 'x', 'y']);
    expect(gathered(ids, planTakingOut(ids, new Set(['b', 'e', 'none'])))).toEqual(['a', 'c', 'd']);
    expect(gathered(ids, planMoving(ids, new Set(['e', 'b']), 'a'))).toEqual(['b', 'e', 'a', 'c', 'd']);
    expect(gathered(ids, planMoving(ids, new Set(['a']), null))).toEqual(['b', 'c', 'd', 'e', 'a']);
    expect(gathered(ids, planMoving(ids, new Set(['b', 'c']), 'c'))).toEqual(['a', 'd', 'e', 'b', 'c']); // onto itself: to the end
  });

  it('whatever was done is undone to the same list', () => {
    let changed = 0;
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f', 'g')),
        fc.uniqueArray(fc.constantFrom('a', 'c', 'e', 'g', 'x', 'y')),
        fc.constantFrom('add', 'out', 'move'),
        fc.constantFrom('a', 'd', 'x', null),
        (list, chosen, act, before) => {
          const plan =
            act === 'add'
              ? planAdding(list, chosen)
              : act === 'out'
                ? planTakingOut(list, new Set(chosen))
                : planMoving(list, new Set(chosen), before);
          const after = gathered(list, plan);
          expect(new Set(after).size).toBe(after.length);
          expect(gathered(after, inverseGathering(plan))).toEqual(list);
          if (after.join() !== list.join()) changed += 1;
        },
      ),
      { numRuns: 500 },
    );
    expect(changed).toBeGreaterThan(200);
  });
});

describe('folders', () => {
  const all = [
    make('f', 'Harbours', 'folder'),
    make('g', 'Old', 'folder', { parentId: 'f' }),
    make('h', 'Best', 'hand', { parentId: 'g' }),
    make('i', 'Best', 'hand', { order: 1 }),
    make('j', 'A/B', 'hand', { order: 1 }),
    make('lost', 'Lost', 'hand', { parentId: 'not there' }),
    make('r1', 'Ring', 'folder', { parentId: 'r2' }),
    make('r2', 'Round', 'folder', { parentId: 'r1' }),
  ];

  it('hold what names them; what is lost, or stands in itself, is at the top', () => {
    expect(inside(all, null).map(({ id }) => id)).toEqual(['f', 'lost', 'r1', 'r2', 'j', 'i']);
    expect(inside(all, 'f').map(({ id }) => id)).toEqual(['g']);
    expect(withInside(all, 'f').map(({ id }) => id)).toEqual(['f', 'g', 'h']);
    expect(withInside(all, 'r1').map(({ id }) => id)).toEqual(['r1', 'r2']);
    expect(pathTo(new Map(all.map((one) => [one.id, one])), 'r1').length).toBe(2);
  });

  it('are named by name, or by path where that is not enough; a stroke may be part of a name', () => {
    expect([
      findNamed(all, 'best').length,
      findNamed(all, 'old/best').map(({ id }) => id),
      findNamed(all, 'harbours/old/best').length,
      findNamed(all, 'nowhere/best').length,
      findNamed(all, 'a/b').map(({ id }) => id),
    ]).toEqual([2, ['h'], 1, 0, ['j']]);
    expect([scopeName(all, all[2] as Collection), scopeName(all, all[1] as Collection)]).toEqual([
      'Harbours/Old/Best',
      'Old',
    ]);
  });
});

describe('what refers to what', () => {
  const all = [
    make('h', 'Best', 'hand'),
    make('s', 'Rated', 'smart', { scope: 'in:best rating:3.. sort:-name' }),
    make('t', 'Else', 'smart', { scope: 'boat OR -in:"Best"' }),
    make('f', 'Folder', 'folder'),
    make('x', 'Itself', 'smart', { scope: 'in:folder', parentId: 'f' }),
    make('n', 'Broken', 'smart', { scope: 'in:gone in:best' }),
  ];

  it('is known in both directions, over folders too', () => {
    expect(referringTo(all, 'h').map(({ id }) => id)).toEqual(['s', 't', 'n']);
    expect([refersToItself(all, 'x'), refersToItself(all, 's'), refersToItself(all, 'f')]).toEqual([true, false, true]);
    expect(missingIn(all, 'in:gone in:best')).toEqual(['gone']);
  });

  it('a new name is carried into every scope that has the old one, and nothing else of it changes', () => {
    expect(renamed(all, 'h', { name: 'The chosen' }).map(({ id, name, scope }) => [id, name, scope])).toEqual([
      ['h', 'The chosen', ''],
      ['s', 'Rated', 'in:"The chosen" rating:3.. sort:-name'],
      ['t', 'Else', 'boat OR -in:"The chosen"'],
      ['n', 'Broken', 'in:gone in:"The chosen"'],
    ]);
    expect(renamed(all, 'f', { name: 'Box' }).map(({ id, scope }) => [id, scope])).toEqual([
      ['f', ''],
      ['x', 'in:Box'],
    ]);
  });

  it('one of two with a name is not renamed in scopes that mean both', () => {
    const two = [...all, make('h2', 'Best', 'hand', { parentId: 'f' })];
    expect(renamed(two, 'h2', { name: 'Other' }).map(({ id }) => id)).toEqual(['h2']);
  });
});

it('where photos went is told by photo, each name once, without what was taken back', () => {
  const delivery = (name: string, photoIds: string[], deleted = false) => ({
    id: name,
    name,
    date: '2026-11-26',
    note: '',
    photoIds,
    updatedAt: 0,
    deleted,
  });
  expect(
    sentByPhoto([
      delivery('Museum', ['a', 'b']),
      delivery('Print', ['a']),
      delivery('Museum', ['a']),
      delivery('Taken back', ['a'], true),
    ]),
  ).toEqual(
    new Map([
      ['a', ['Museum', 'Print']],
      ['b', ['Museum']],
    ]),
  );
});
