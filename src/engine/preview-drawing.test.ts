import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { CatalogDatabase } from '@/storage/catalog/database';
import type { FileRecord, JobRecord } from '@/storage/catalog/records';
import { DRAWING_VERSION, type MadePreview } from '@/storage/file-tasks/file-tasks';
import { photoRecord } from '../../tests/fixtures/records';
import { type DrawingProgress, PreviewDrawing } from './preview-drawing';

let db: CatalogDatabase;
let number = 0;
let told: (DrawingProgress | null)[];
let drawn: string[];
let away: Set<string>;
let gone: Set<string>;
let draw: (id: string) => Promise<MadePreview>;

/** What one of an earlier test still says is not heard. */
const drawing = (mine = told, names = drawn) =>
  new PreviewDrawing({
    db,
    fileTasks: () => ({
      preview: async (file) => {
        names.push(file.name);
        return draw(file.name);
      },
    }),
    original: async (id) => (away.has(id) ? null : { file: fileOf(id), record: {} as FileRecord }),
    alone: (work) => work(),
    onProgress: (progress) => void mine.push(progress),
    onDrawn: () => undefined,
  });
/** A file, also of a drive that was pulled after it was opened. */
function fileOf(id: string): File {
  const file = new File(['bytes'], id);
  const unreadable = { arrayBuffer: () => Promise.reject(new Error('NotReadableError')) };
  if (gone.has(id)) file.slice = () => unreadable as unknown as Blob;
  return file;
}
const done = () => vi.waitFor(() => expect(told.at(-1)).toBeNull(), 5000);

beforeEach(async () => {
  db = new CatalogDatabase(`drawing-${number++}`);
  [told, drawn, away, gone] = [[], [], new Set(), new Set()];
  draw = async () => ({ blob: new Blob(['picture']), problem: null });
  await db.photos.bulkPut([0, 1, 2, 3, 4].map((at) => photoRecord(`p${at}`, { addedAt: at })));
  await db.previews.put({ photoId: 'p0', blob: new Blob([]) });
});

describe('previews that are missing are drawn behind the screens', () => {
  it('the newest first, each once; what is there is left', async () => {
    drawing().goOn();
    await done();
    expect(drawn).toEqual(['p4', 'p3', 'p2', 'p1']);
    expect(told[0]).toEqual({ left: 4, state: 'drawing' });
    expect(await db.previews.count()).toBe(5);
    drawing().goOn();
    await done();
    expect(drawn).toHaveLength(4);
  });

  it('what is in sight comes before them, also while a job runs', async () => {
    await db.jobs.put({ id: 'j', state: 'running' } as JobRecord);
    const one = drawing();
    one.wanted(['p1', 'p2']);
    await vi.waitFor(() => expect(told).toEqual([{ left: 2, state: 'waits-for-job' }]));
    expect(drawn).toEqual(['p2', 'p1']); // the last that came into sight first
  });

  it('what cannot be drawn is noted with its reason, not tried again, and tried by a newer way of drawing', async () => {
    draw = async () => ({ blob: null, problem: { code: 'picture/decoder-gave-up' } });
    drawing().goOn();
    await done();
    expect(await db.undrawn.get('p3')).toEqual({
      photoId: 'p3',
      problem: { code: 'picture/decoder-gave-up' },
      version: DRAWING_VERSION,
    });
    const one = drawing();
    one.wanted(['p3']);
    await vi.waitFor(() => expect(told.filter((said) => said === null)).toHaveLength(2));
    expect(drawn).toHaveLength(4);
    await db.undrawn.update('p3', { version: DRAWING_VERSION - 1 });
    draw = async () => ({ blob: new Blob(['picture']), problem: null });
    drawing().goOn();
    await vi.waitFor(async () => expect(await db.previews.where('photoId').equals('p3').count()).toBe(1));
    expect([drawn.length, await db.undrawn.get('p3')]).toEqual([5, undefined]);
  });

  it('a worker that dies, or a file that cannot be read any more, says nothing of the picture, and the rest goes on', async () => {
    gone = new Set(['p2']);
    draw = async (id) => {
      if (id === 'p3') throw new Error('the worker fell silent');
      if (id === 'p2') return { blob: null, problem: { code: 'picture/refused', reason: 'no bytes came' } };
      return { blob: new Blob(['picture']), problem: null };
    };
    drawing().goOn();
    await done();
    expect([await db.previews.count(), await db.undrawn.count()]).toEqual([3, 0]);
  });

  it('those on a drive that is away wait for it', async () => {
    away = new Set(['p2']);
    const one = drawing();
    one.goOn();
    await done();
    expect(drawn).toEqual(['p4', 'p3', 'p1']);
    expect(await db.undrawn.count()).toBe(0);
    away.clear();
    one.again();
    await vi.waitFor(() => expect(drawn).toHaveLength(4), 5000);
  });

  it('pauses after the picture in hand, and goes on', async () => {
    const one = drawing();
    draw = async () => {
      if (drawn.length === 2) one.pause();
      return { blob: new Blob(['picture']), problem: null };
    };
    one.goOn();
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ left: 2, state: 'paused' }));
    one.goOn();
    await done();
    expect(drawn).toHaveLength(4);
  });

  it('a photo that goes while it is drawn leaves no preview behind', async () => {
    draw = async (id) => {
      await db.photos.delete(id);
      return { blob: new Blob(['picture']), problem: null };
    };
    drawing().goOn();
    await done();
    expect(await db.previews.count()).toBe(1);
  });

  it('nor a reason', async () => {
    draw = async (id) => {
      await db.photos.delete(id);
      return { blob: null, problem: { code: 'picture/decoder-gave-up' } };
    };
    drawing().goOn();
    await done();
    expect(await db.undrawn.count()).toBe(0);
  });
});
