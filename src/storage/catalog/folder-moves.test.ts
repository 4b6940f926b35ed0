import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { makeChange } from './changes';
import { CatalogDatabase } from './database';
import { folderRefusal, planMoveFolder, planMoveInto } from './folder-moves';

let db: CatalogDatabase;
let number = 0;

/** Photos by id, each with its files as `drive/path`. */
async function catalog(photos: Record<string, string[]>): Promise<void> {
  for (const id of ['studio', 'cellar']) await db.drives.put(driveRecord(id, { name: id }));
  for (const [id, files] of Object.entries(photos)) {
    await db.photos.put(photoRecord(id));
    for (const place of files) {
      const [driveId = '', ...path] = place.split('/');
      await db.files.put(fileRecord(driveId, path.join('/'), id));
    }
  }
}

beforeEach(() => {
  db = new CatalogDatabase(`folder-moves-${(number += 1)}`);
});

const moved = (plan: Awaited<ReturnType<typeof planMoveInto>>) =>
  plan.moves.map(({ driveId, before, after }) => `${driveId}: ${before} → ${after}`).sort();

describe('photos into a folder', () => {
  it('go with their companions; copies in the same folder of another drive follow, others stay', async () => {
    await catalog({
      raw: ['studio/in/a.dng', 'cellar/in/a.dng'],
      jpeg: ['studio/in/a.jpg'],
      b: ['studio/in/b.jpg', 'cellar/elsewhere/b.jpg'],
      c: ['cellar/in/c.jpg'],
    });
    const plan = await planMoveInto(db, ['raw', 'b', 'c'], 'studio', '2019/Gjógv');
    expect(moved(plan)).toEqual([
      'cellar: in/a.dng → 2019/Gjógv/a.dng',
      'studio: in/a.dng → 2019/Gjógv/a.dng',
      'studio: in/a.jpg → 2019/Gjógv/a.jpg',
      'studio: in/b.jpg → 2019/Gjógv/b.jpg',
    ]);
    expect(plan).toMatchObject({ photos: 3, companions: 1, elsewhere: 1, absent: ['c'], emptied: ['in'] });
  });

  it('get a number where their name is taken there, by case or by one that is on its way, on any of the drives', async () => {
    await catalog({
      a: ['studio/in/a.jpg', 'cellar/in/a.jpg'],
      there: ['cellar/to/A.png'],
      b: ['studio/in/b.jpg'],
      coming: ['studio/from/x.jpg'],
      one: ['studio/p/same.jpg'],
      two: ['studio/q/same.jpg'],
    });
    await db.files.update('studio/from/x.jpg', { wantedPath: 'to/b.jpg' });
    const plan = await planMoveInto(db, ['a', 'b', 'one', 'two'], 'studio', 'to');
    expect(moved(plan)).toEqual([
      'cellar: in/a.jpg → to/a-2.jpg',
      'studio: in/a.jpg → to/a-2.jpg',
      'studio: in/b.jpg → to/b-2.jpg',
      'studio: p/same.jpg → to/same.jpg',
      'studio: q/same.jpg → to/same-2.jpg',
    ]);
    expect(plan.renamed).toHaveLength(3);
  });

  it('that lie there already stay, and so does what is set aside', async () => {
    await catalog({ a: ['studio/to/a.jpg'], b: ['studio/_wembo/set-aside/2026-01-01/in/b.jpg'] });
    expect((await planMoveInto(db, ['a', 'b'], 'studio', 'to')).moves).toEqual([]);
  });

  it('come back by undo, as the outbox sees it', async () => {
    await catalog({ a: ['studio/in/a.jpg'] });
    const { moves } = await planMoveInto(db, ['a'], 'studio', 'to');
    const act = await makeChange(db, { kind: 'names', moves, edits: [] }, 1);
    expect(await db.files.get('studio/in/a.jpg')).toMatchObject({ wantedPath: 'to/a.jpg' });
    expect(act).toBeDefined();
    expect((await planMoveInto(db, ['a'], 'studio', 'to')).moves).toEqual([]);
    expect(moved(await planMoveInto(db, ['a'], 'studio', 'in'))).toEqual(['studio: to/a.jpg → in/a.jpg']);
  });
});

describe('a folder', () => {
  it('gets another path with all below it, on each drive where its photos lie alike, and no namesake goes along', async () => {
    await catalog({
      a: ['studio/2019/Gjogv/a.jpg', 'cellar/2019/Gjogv/a.jpg'],
      deep: ['studio/2019/Gjogv/slip/b.jpg'],
      alike: ['studio/2019/Gjogv 2/c.jpg'],
      other: ['cellar/2019/Gjogv/d.jpg'],
    });
    expect(moved(await planMoveFolder(db, 'studio', '2019/Gjogv', '2019/Gjógv'))).toEqual([
      'cellar: 2019/Gjogv/a.jpg → 2019/Gjógv/a.jpg',
      'studio: 2019/Gjogv/a.jpg → 2019/Gjógv/a.jpg',
      'studio: 2019/Gjogv/slip/b.jpg → 2019/Gjógv/slip/b.jpg',
    ]);
  });

  it.each([
    ['', 'no-name'],
    ['2019/Gjógv/inside', 'inside-itself'],
    ['a//b', 'bad-name'],
    ['../out', 'bad-name'],
    ['what?', 'bad-name'],
    ['ends in a dot.', 'bad-name'],
    ['_wembo/x', 'ours'],
    ['.hidden', 'ours'],
    ['2019/Gjógv 2', null],
  ])('to “%s”: %s', (path, refusal) => {
    expect(folderRefusal(path, '2019/Gjógv')).toBe(refusal);
  });
});
