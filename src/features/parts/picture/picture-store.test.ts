import { describe, expect, it } from 'vitest';
import { Undecodable } from '@/core/problems/undecodable';
import type { PictureWanted } from '@/workers/decoding/decoding';
import type { PictureClient } from '@/workers/picture-client';
import { PictureStore } from './picture-store';

interface Fake {
  name: string;
  width: number;
  closed: boolean;
  close(): void;
}

const bitmap = (name: string, width = 100): Fake => ({
  name,
  width,
  closed: false,
  close() {
    this.closed = true;
  },
});

/** Files by photo; each opening waits until it is let go. */
function room({ away = [] as string[], undecodable = [] as string[], large = [] as string[] } = {}) {
  const open: { name: string; answer: () => void }[] = [];
  const made: Fake[] = [];
  const pictures = {
    show: (file: { name: string }, _: unknown, { pixels }: PictureWanted) =>
      new Promise((resolve, reject) => {
        const name = `${file.name}${pixels === null ? '' : ' small'}`;
        open.push({
          name,
          answer: () => {
            const picture = bitmap(name);
            made.push(picture);
            if (undecodable.includes(file.name)) reject(new Undecodable({ code: 'picture/refused', reason: 'bent' }));
            else resolve({ bitmap: picture, from: 'original', whole: true });
          },
        });
      }),
  } as unknown as PictureClient;
  const blob = (name: string) => ({ name }) as unknown as Blob;
  const lookedAt: boolean[] = [];
  const store = new PictureStore(
    {
      photo: async () => ({ fields: {} }) as never,
      original: async (id) => (away.includes(id) ? null : ({ file: blob(id) } as never)),
      preview: async (id) => blob(`preview of ${id}`),
      largePreview: async (id) => (large.includes(id) ? blob(`large of ${id}`) : null),
      pictures: () => pictures,
      onSeen: (_, whole) => void lookedAt.push(whole),
    },
    () => 1000,
  );
  const settle = async (only?: string) => {
    for (let round = 0; round < 40; round++) {
      await new Promise((resolve) => setTimeout(resolve, 0));
      for (const one of open.splice(0)) {
        if (only === undefined || one.name.startsWith(only)) one.answer();
        else open.push(one);
      }
    }
  };
  return {
    store,
    settle,
    made,
    lookedAt,
    nameOf: (id: string) => (store.shown(id).picture?.bitmap as unknown as Fake | undefined)?.name,
  };
}

const SCREEN = ['preview', 'screen'] as const;

describe('what is shown', () => {
  it('is the best there is of that photo and never another one’s, in whatever order the pictures come', async () => {
    const { store, settle, nameOf } = room();
    store.want([
      { id: 'a', sizes: SCREEN },
      { id: 'b', sizes: SCREEN },
    ]);
    expect(store.shown('a')).toEqual({ picture: null, beneath: null, settled: false });
    await settle('preview of');
    expect([nameOf('a'), nameOf('b'), store.shown('a').settled]).toEqual(['preview of a', 'preview of b', false]);
    store.want([
      { id: 'b', sizes: SCREEN },
      { id: 'a', sizes: SCREEN },
    ]);
    await settle();
    store.want([{ id: 'a', sizes: ['preview', 'screen', 'full'] }]);
    await settle();
    expect([nameOf('a'), store.shown('a').settled, nameOf('b')]).toEqual(['a', true, undefined]);
  });

  it('whose original is looked at pixel by pixel is told of, and whether all of it could be drawn; not what is fetched ahead', async () => {
    const { store, settle, lookedAt } = room({ undecodable: ['b'] });
    store.want([
      { id: 'a', sizes: ['preview', 'screen'] },
      { id: 'c', sizes: ['full'] },
    ]);
    await settle();
    expect(lookedAt).toEqual([]);
    for (const id of ['a', 'b']) {
      store.want([{ id, sizes: ['preview', 'full'] }]);
      await settle();
    }
    expect(lookedAt).toEqual([true, false]);
  });

  it('says what it is instead of the original: the drive away, or a file that cannot be decoded', async () => {
    const { store, settle, nameOf } = room({ away: ['a', 'c'], undecodable: ['b'], large: ['c'] });
    store.want(['a', 'b', 'c'].map((id) => ({ id, sizes: SCREEN })));
    await settle();
    expect([store.shown('a').picture?.instead, nameOf('a')]).toEqual(['away', 'preview of a']);
    expect([store.shown('b').picture?.instead, nameOf('b')]).toEqual(['undecodable', 'preview of b']);
    expect([store.shown('c').picture?.instead, nameOf('c')]).toEqual(['away', 'large of c']);
  });

  it('the same as long as nothing changed: who draws is not told for nothing', async () => {
    const { store, settle } = room();
    let told = 0;
    store.subscribe(() => (told += 1));
    store.want([{ id: 'a', sizes: SCREEN }]);
    await settle();
    const [first, count] = [store.shown('a'), told];
    store.want([{ id: 'a', sizes: SCREEN }]);
    await settle();
    expect(store.shown('a')).toBe(first);
    expect(told).toBe(count);
  });
});

describe('a picture too large to be held whole', () => {
  const part = (left: number, pixels: number | null = null) => ({
    region: { left, top: 0, width: 1024, height: 1024 },
    pixels,
  });
  const of = (left: number) => [{ id: 'a', sizes: ['preview', 'screen', 'full'] as const, part: part(left) }];

  it('is seen in parts, over all of it; the last part stays until the next one comes, and is closed then', async () => {
    const { store, settle, made } = room();
    store.want(of(0));
    await settle();
    const first = store.shown('a');
    expect([first.picture?.part, first.beneath?.size]).toEqual([part(0), 'screen']);
    store.want(of(2048));
    expect(store.shown('a').picture?.part).toEqual(part(0));
    await settle();
    expect(store.shown('a').picture?.part).toEqual(part(2048));
    expect(made.filter(({ closed }) => closed)).toHaveLength(1);
    store.want(of(2048));
    await settle();
    expect(made).toHaveLength(4);
  });

  it('the part that is in sight is the one that comes last, however many were asked for on the way', async () => {
    const { store, settle } = room();
    store.want(of(0));
    await settle();
    for (const left of [1024, 2048, 3072]) {
      store.want(of(left));
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
    await settle();
    expect(store.shown('a').picture?.part).toEqual(part(3072));
  });
});

describe('a file of several pages', () => {
  it('keeps each page apart', async () => {
    const { store, settle } = room();
    store.want([{ id: 'a', sizes: SCREEN }]);
    await settle();
    expect(store.shown('a', 1).picture).toBeNull();
    store.want([{ id: 'a', sizes: SCREEN, page: 1 }]);
    await settle();
    expect([store.shown('a', 1).picture?.size, store.shown('a').picture]).toEqual(['screen', null]);
  });
});

describe('what is let go', () => {
  it('is closed, also when it comes late: memory does not grow with the steps', async () => {
    const { store, settle, made } = room();
    for (let at = 0; at < 40; at++) {
      store.want([0, 1, 2, 3].map((ahead) => ({ id: `p${at + ahead}`, sizes: SCREEN })));
      if (at % 3 === 0) await settle();
    }
    await settle();
    expect(made.length).toBeGreaterThan(30);
    expect(made.filter(({ closed }) => !closed).length).toBe(8); // four photos in two sizes
    store.close();
    expect(made.every(({ closed }) => closed)).toBe(true);
  });

  it('a drive that comes back is tried again', async () => {
    const away = ['a'];
    const { store, settle, nameOf } = room({ away });
    store.want([{ id: 'a', sizes: SCREEN }]);
    await settle();
    expect(store.shown('a').picture?.instead).toBe('away');
    away.pop();
    store.again();
    await settle();
    expect([store.shown('a').picture?.instead, nameOf('a')]).toEqual([null, 'a small']);
  });
});
