import { blobOf } from '../drives/safe-write';
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { CatalogDatabase } from '../catalog/database';
import { MemoryDrive } from '../drives/memory-drive';
import { type LargePreviewSize, directFileTasks } from '../file-tasks/file-tasks';
import { drawLargePreviews, isNight, removeLargePreviews } from './large-previews';

let db: CatalogDatabase;
let studio: MemoryDrive;
let number = 0;
let asked: string[] = [];
const fileTasks = directFileTasks({
  makePreview: async (file, { format }, size) => {
    asked.push(size);
    if (format === 'raw') return null;
    return new Blob([`${size} of ${await (await blobOf(file)).text()}`]);
  },
});
const draw = (photoIds: string[], untilNight = async () => {}, size: LargePreviewSize = 'large') =>
  drawLargePreviews(
    {
      db,
      fileTasks,
      now: () => 0,
      control: quietControl(),
    },
    { photoIds, size, driveOf: (id) => (id === 'studio' ? studio : null), untilNight },
  );

beforeEach(async () => {
  db = new CatalogDatabase(`large-${number++}`);
  studio = new MemoryDrive();
  asked = [];
  for (const [id, driveId, format] of [
    ['a', 'studio', 'jpeg'],
    ['b', 'away', 'jpeg'],
    ['c', 'studio', 'raw'],
    ['d', 'studio', 'jpeg'],
  ] as const) {
    await db.photos.put(photoRecord(id, { format }));
    await db.files.put(fileRecord(driveId, id, id));
    if (driveId === 'studio' && id !== 'd') studio.put(id, `bytes of ${id}`);
  }
});

describe('large previews', () => {
  it('are drawn from drives that are there, once; what is away, cannot be drawn or has vanished is said', async () => {
    expect(await draw(['a', 'b', 'c', 'd'])).toEqual({
      kind: 'previews',
      drawn: 1,
      there: 0,
      away: 1,
      problems: [{ path: 'd', problem: { code: 'file/vanished' } }],
    });
    expect(await (await db.largePreviews.get('a'))?.blob.text()).toBe('large of bytes of a');
    expect(asked).toEqual(['large', 'large']);
    expect(await draw(['a'])).toMatchObject({ drawn: 0, there: 1 });
    expect(asked).toHaveLength(2);
  });

  it('of real pixels take the place of those that fill a screen, never the other way, and are thinned out', async () => {
    await draw(['a']);
    expect(await draw(['a'], undefined, 'full')).toMatchObject({ drawn: 1, there: 0 });
    expect(await (await db.largePreviews.get('a'))?.blob.text()).toBe('full of bytes of a');
    expect(await draw(['a'])).toMatchObject({ drawn: 0, there: 1 });
    expect(await draw(['a'], undefined, 'full')).toMatchObject({ drawn: 0, there: 1 });
    expect(await removeLargePreviews(db, ['a', 'd'])).toBe('full of bytes of a'.length);
    expect(await db.largePreviews.count()).toBe(0);
    expect(await draw(['a'])).toMatchObject({ drawn: 1 });
  });

  it('wait for the night where that is wanted', async () => {
    let night = () => {};
    const drawing = draw(['a'], () => new Promise((resolve) => (night = resolve)));
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(await db.largePreviews.count()).toBe(0);
    night();
    expect(await drawing).toMatchObject({ drawn: 1 });
    expect([5, 6, 12, 21, 22, 0].map(isNight)).toEqual([true, false, false, false, true, true]);
  });
});
