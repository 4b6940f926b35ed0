import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { makeChange } from './changes';
import { CatalogDatabase } from './database';
import { catalogNamed, forgetNoted, isForgotten, lastNoted, nameCatalog, notedSince } from './search-feed';

let db: CatalogDatabase;
let catalogs = 0;

beforeEach(async () => {
  db = new CatalogDatabase(`unindexed-${catalogs++}`);
  await db.drives.put(driveRecord('d'));
  await db.photos.bulkPut([photoRecord('a'), photoRecord('b')]);
  await db.files.bulkPut([fileRecord('d', 'a.jpg', 'a'), fileRecord('d', 'b.jpg', 'b')]);
});

const noted = async (act: () => Promise<unknown>): Promise<string[]> => {
  const before = await lastNoted(db);
  await act();
  return (await notedSince(db, before, await lastNoted(db))).sort();
};

describe('what the index must hear of', () => {
  it('is noted with every write that a search record depends on, whoever writes', async () => {
    expect(await noted(() => db.photos.update('a', { bytes: 7 }))).toEqual(['a']);
    expect(await noted(() => db.photos.delete('b'))).toEqual(['b']);
    expect(await noted(() => db.files.where('photoId').equals('a').modify({ state: 'missing' }))).toEqual(['a']);
    expect(await noted(() => db.files.put(fileRecord('d', 'a.jpg', 'b')))).toEqual(['a', 'b']); // of the one it was of, and of the one it is of now
    expect(await noted(() => db.files.delete('d/b.jpg'))).toEqual(['b']);
    expect(await noted(() => db.files.clear())).toEqual(['b']);
    expect(await noted(() => db.measures.put({ photoId: 'a', measures: null, version: 1 }))).toEqual(['a']);
    expect(await noted(() => db.overlaps.put({ id: 'a b', a: 'a', b: 'b', overlaps: true }))).toEqual(['a']);
    expect(await noted(() => db.largePreviews.put({ photoId: 'b', blob: new Blob() }))).toEqual(['b']);
  });

  it('a new name of a drive touches all its photos; what concerns no photo touches none', async () => {
    expect(
      await noted(() => makeChange(db, { kind: 'drive-name', driveId: 'd', before: 'd', after: 'Attic' }, 5)),
    ).toEqual(['a', 'b']);
    expect(await noted(() => db.drives.update('d', { bytes: 9, scannedAt: 9, historyThrough: { c: 9 } }))).toEqual([]);
    expect(await noted(() => db.outbox.clear())).toEqual([]);
    expect(await noted(() => db.previews.put({ photoId: 'a', blob: new Blob() }))).toEqual([]);
  });

  it('an edit that fails is not noted, one that is made is, in the same transaction', async () => {
    const failing = () =>
      db
        .transaction('rw', db.photos, async () => {
          await db.photos.update('a', { bytes: 8 });
          throw new Error('something else failed');
        })
        .catch(() => undefined);
    expect(await noted(failing)).toEqual([]);
    expect(
      await noted(() =>
        makeChange(db, { kind: 'fields', origin: 'person', edits: [{ photoId: 'a', key: 'city', after: 'Gjógv' }] }, 5),
      ),
    ).toEqual(['a']);
  });

  it('what the kept index knows of is forgotten', async () => {
    expect(await catalogNamed(db)).toBeNull();
    await nameCatalog(db, 'this one');
    expect(await nameCatalog(db, 'another')).toBe('this one');
    const upTo = await lastNoted(db);
    await db.photos.update('a', { bytes: 9 });
    await forgetNoted(db, upTo);
    expect(await db.unindexed.toArray()).toEqual([
      { seq: upTo, photoIds: [], driveIds: [], catalog: 'this one' },
      { seq: upTo + 1, photoIds: ['a'], driveIds: [] },
    ]);
    await forgetNoted(db, upTo + 1);
    expect([await catalogNamed(db), await lastNoted(db)]).toEqual(['this one', upTo + 1]); // numbers go on
    expect(await notedSince(db, upTo, upTo + 1)).toEqual(['a']);
    expect(await isForgotten(db, upTo)).toBe(false);
    await db.photos.update('b', { bytes: 9 });
    await forgetNoted(db, upTo + 2);
    expect(await isForgotten(db, upTo)).toBe(true);
  });
});
