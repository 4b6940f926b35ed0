import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cutToWidth,
  layoutPage,
  NEW_LABELS,
  NEW_SHEET_SETTINGS,
  pagesFor,
  perPage,
  type SheetItem,
  type SheetPhoto,
  type SheetSettings,
} from './sheet';

/** Letters half as wide as they are high. */
const measure = (text: string, size: number) => [...text].length * size * 0.5;
const photo = (more: Partial<SheetPhoto> = {}): SheetPhoto => ({
  width: 600,
  height: 400,
  lines: ['a.jpg', 'A headline'],
  rating: 0,
  marker: null,
  ...more,
});
const of = <K extends SheetItem['kind']>(items: SheetItem[], kind: K) =>
  items.filter((item): item is Extract<SheetItem, { kind: K }> => item.kind === kind);

describe('a contact sheet', () => {
  it('A4 is 595 × 842 points, Letter 612 × 792 (ISO 216; ANSI/ASME Y14.1), and lying turned', () => {
    const size = (more: Partial<SheetSettings>) => {
      const { width, height } = layoutPage({ ...NEW_SHEET_SETTINGS, ...more }, 0, 1, [], measure);
      return [Math.round(width), Math.round(height)];
    };
    expect(size({})).toEqual([595, 842]);
    expect(size({ landscape: true })).toEqual([842, 595]);
    expect(size({ paper: 'Letter' })).toEqual([612, 792]);
  });

  it('each photo once, in rows, its text under it; the last page may be short', () => {
    expect([perPage(NEW_SHEET_SETTINGS), pagesFor(NEW_SHEET_SETTINGS, 41), pagesFor(NEW_SHEET_SETTINGS, 0)]).toEqual([
      20, 3, 1,
    ]);
    const { items } = layoutPage(
      NEW_SHEET_SETTINGS,
      0,
      3,
      Array.from({ length: 20 }, () => photo()),
      measure,
    );
    const pictures = of(items, 'picture');
    expect(pictures.map((item) => item.photo)).toEqual(Array.from({ length: 20 }, (_, index) => index));
    expect(new Set(pictures.map(({ y }) => Math.round(y))).size).toBe(5);
    expect(of(items, 'text').filter(({ text }) => text === 'A headline')).toHaveLength(20);
    expect(of(items, 'text').at(0)?.text).toBe('1 / 3');
  });

  it('whatever the settings, nothing lies outside the paper, no picture is bent, and no two overlap', () => {
    let drawn = 0;
    fc.assert(
      fc.property(
        fc.record({
          columns: fc.integer({ min: 1, max: 9 }),
          rows: fc.integer({ min: 1, max: 9 }),
          marginMm: fc.integer({ min: 0, max: 30 }),
          landscape: fc.boolean(),
          rating: fc.boolean(),
          header: fc.constantFrom('', 'A long title of the survey'),
        }),
        fc.array(fc.record({ width: fc.integer({ min: 1, max: 9000 }), height: fc.integer({ min: 1, max: 9000 }) }), {
          minLength: 1,
          maxLength: 9,
        }),
        (more, sizes) => {
          const settings = { ...NEW_SHEET_SETTINGS, gapMm: 2, ...more };
          const photos = sizes.slice(0, perPage(settings)).map((size) => photo({ ...size, rating: 3 }));
          const page = layoutPage(settings, 0, 1, photos, measure);
          const pictures = of(page.items, 'picture');
          drawn += pictures.length;
          for (const { x, y, width, height, photo: index } of pictures) {
            expect(x).toBeGreaterThanOrEqual(-0.01);
            expect(y).toBeGreaterThanOrEqual(-0.01);
            expect(x + width).toBeLessThanOrEqual(page.width + 0.01);
            expect(y + height).toBeLessThanOrEqual(page.height + 0.01);
            const { width: w, height: h } = photos[index] as { width: number; height: number };
            expect(width / height / (w / h)).toBeCloseTo(1, 6);
          }
          pictures.forEach((a, at) =>
            pictures
              .slice(at + 1)
              .forEach((b) =>
                expect(
                  a.x + a.width <= b.x + 0.01 ||
                    b.x + b.width <= a.x + 0.01 ||
                    a.y + a.height <= b.y + 0.01 ||
                    b.y + b.height <= a.y + 0.01,
                ).toBe(true),
              ),
          );
          for (const { x, y, text, size } of of(page.items, 'text')) {
            expect(x + measure(text, size)).toBeLessThanOrEqual(page.width + 0.01);
            expect(y).toBeLessThanOrEqual(page.height);
          }
        },
      ),
    );
    expect(drawn).toBeGreaterThan(100);
  });

  it('a photo without a picture keeps its place and its text', () => {
    const { items } = layoutPage(NEW_SHEET_SETTINGS, 0, 1, [photo({ width: null, height: null }), photo()], measure);
    expect(of(items, 'picture').map((item) => item.photo)).toEqual([1]);
    expect(of(items, 'text').filter(({ text }) => text === 'a.jpg')).toHaveLength(2);
  });

  it('rating and marker on request: as many dark bars as the rating says', () => {
    const bars = (rating: number) =>
      of(layoutPage({ ...NEW_SHEET_SETTINGS, rating: true }, 0, 1, [photo({ rating })], measure).items, 'bar').map(
        ({ color }) => color,
      );
    expect(bars(3).filter((color) => color === '#1e2427')).toHaveLength(3);
    expect(bars(0).filter((color) => color === '#1e2427')).toHaveLength(0);
    expect(bars(-1)).toHaveLength(2);
    const marked = layoutPage(
      { ...NEW_SHEET_SETTINGS, marker: true },
      0,
      1,
      [photo({ marker: { name: 'to print', color: '#4f7d8c' } })],
      measure,
    ).items;
    expect(of(marked, 'text').map(({ text }) => text)).toContain('to print');
  });

  it('a text that is too long is cut at a word and says so', () => {
    expect(cutToWidth('Launching after the refit', 60, 8, false, measure)).toBe('Launching…');
    expect(cutToWidth('Launching', 100, 8, false, measure)).toBe('Launching');
    expect(cutToWidth('Launching', 3, 8, false, measure)).toBe('');
  });

  it('labels have text alone, wrapped as far as there is room', () => {
    const long = 'a headline that is far longer than any label is wide and goes on and on '.repeat(3);
    const { items } = layoutPage(NEW_LABELS, 0, 1, [photo({ lines: ['2026.001.0001', long] })], measure);
    expect(of(items, 'picture')).toEqual([]);
    const texts = of(items, 'text');
    expect(texts[0]?.text).toBe('2026.001.0001');
    expect(texts.length).toBeGreaterThan(3);
    expect(Math.max(...texts.map(({ y }) => y))).toBeLessThan(842 / 8);
  });
});
