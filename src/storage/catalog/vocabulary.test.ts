import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { planAct } from '@/core/vocabulary/plan';
import { type VocabularyWord, vocabularyOf } from '@/core/vocabulary/vocabulary';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { makeChange, redoNext, undoLast } from './changes';
import { CatalogDatabase } from './database';
import { planActOnCatalog, planRightings } from './vocabulary';

let db: CatalogDatabase;
let clock = 100;
const word = (id: string, name: string, parentId: string | null = null): VocabularyWord => ({
  id,
  word: name,
  parentId,
  synonyms: [],
  note: '',
  updatedAt: 1,
  deleted: false,
});
const keywords = async () =>
  Object.fromEntries((await db.photos.toArray()).map(({ id, fields }) => [id, fields.keywords]));
const vocabulary = async () => vocabularyOf(await db.vocabulary.toArray());

beforeEach(async () => {
  db = new CatalogDatabase(`words-${(clock += 1)}`);
  await db.drives.put(driveRecord('studio'));
  await db.vocabulary.bulkPut([word('b', 'boat'), word('l', 'lighthuose'), word('s', 'ship')]);
  const said = { p1: ['boat', 'lighthuose'], p2: ['Boat'], p3: ['boats', 'sea'] };
  for (const [id, list] of Object.entries(said)) {
    await db.photos.put(photoRecord(id, { fields: { keywords: list } }));
    await db.files.put(fileRecord('studio', `${id}.jpg`, id));
  }
});
afterEach(() => db.delete());

describe('an act on the vocabulary', () => {
  it('is one change with its photos: their sidecars wait, undo brings words and photos back, redo does it again', async () => {
    const plan = planAct(await vocabulary(), { kind: 'merge', id: 'b', into: 's' }, (clock += 1), () => 'x');
    if ('refused' in plan) throw new Error(plan.refused);
    const act = await planActOnCatalog(db, await vocabulary(), plan, ['p1', 'p2', 'p3']);
    expect(act).toMatchObject({ photos: 2, untold: 0 });
    await makeChange(db, act.change, (clock += 1));
    expect(await keywords()).toEqual({ p1: ['ship', 'lighthuose'], p2: ['ship'], p3: ['boats', 'sea'] });
    expect((await db.outbox.toArray()).map(({ id }) => id).sort()).toEqual([
      'history:studio',
      'studio/',
      'studio/p1.jpg',
      'studio/p2.jpg',
    ]);
    expect((await vocabulary()).byId.get('s')?.synonyms).toEqual(['boat']);
    await undoLast(db, (clock += 1));
    expect(await keywords()).toEqual({ p1: ['boat', 'lighthuose'], p2: ['Boat'], p3: ['boats', 'sea'] });
    expect([...(await vocabulary()).byId.values()].map(({ word: name }) => name).sort()).toEqual([
      'boat',
      'lighthuose',
      'ship',
    ]);
    await redoNext(db, (clock += 1));
    expect((await vocabulary()).byId.has('b')).toBe(false);
    expect((await keywords()).p2).toEqual(['ship']);
  });

  it('is followed while the photos are read, and broken off without a change', async () => {
    const plan = planAct(await vocabulary(), { kind: 'delete', id: 'b' }, (clock += 1), () => 'x');
    if ('refused' in plan) throw new Error(plan.refused);
    const read: number[] = [];
    await planActOnCatalog(
      db,
      await vocabulary(),
      plan,
      Array.from({ length: 4500 }, (_, index) => `none${index}`),
      { onRead: (photos) => read.push(photos) },
    );
    expect(read).toEqual([0, 2000, 4000]);
    await expect(
      planActOnCatalog(db, await vocabulary(), plan, ['p1'], { signal: AbortSignal.abort() }),
    ).rejects.toThrow();
    expect((await keywords()).p1).toEqual(['boat', 'lighthuose']);
    expect(await db.journal.count()).toBe(0);
  });

  it('words put right in bulk are one change: exactly as written, one after the other, in the vocabulary too, and one undo', async () => {
    const rightings = [
      { wrong: 'boats', right: 'boat' },
      { wrong: 'Boat', right: 'boat' },
      { wrong: 'boat', right: 'ship' },
      { wrong: 'lighthuose', right: 'lighthouse' },
      { wrong: 'sea', right: 'ocean' },
      { wrong: 'ocean', right: 'sea' },
    ];
    await makeChange(
      db,
      await planRightings(db, await vocabulary(), rightings, ['p1', 'p2', 'p3', 'gone'], (clock += 1)),
      (clock += 1),
    );
    expect(await keywords()).toEqual({ p1: ['ship', 'lighthouse'], p2: ['ship'], p3: ['ship', 'ocean'] });
    expect([...(await vocabulary()).byId.values()].map(({ word: name, synonyms }) => [name, synonyms])).toEqual([
      ['lighthouse', []],
      ['ship', ['boat']],
    ]);
    await undoLast(db, (clock += 1));
    expect(await keywords()).toEqual({ p1: ['boat', 'lighthuose'], p2: ['Boat'], p3: ['boats', 'sea'] });
    expect((await vocabulary()).byId.get('l')?.word).toBe('lighthuose');
  });

  it('many words learnt at once are one act', async () => {
    await makeChange(
      db,
      {
        kind: 'together',
        changes: ['Gjógv', 'Sandur'].map((id) => ({
          kind: 'kept',
          savedKind: 'learnt',
          before: null,
          after: { id, updatedAt: clock, deleted: false },
        })),
      },
      (clock += 1),
    );
    expect(await db.learnt.count()).toBe(2);
    expect(await db.outbox.filter(({ task }) => task.kind === 'archive').count()).toBe(1);
    await undoLast(db, (clock += 1));
    expect((await db.learnt.toArray()).every(({ deleted }) => deleted)).toBe(true);
  });
});
