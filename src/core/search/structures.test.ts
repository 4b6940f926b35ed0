import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  andInto,
  bitsBetween,
  bitsFor,
  bitsOfTable,
  bitsWhere,
  clearBit,
  countBits,
  hasBit,
  keepOnly,
  orInto,
  setBit,
  slotsIn,
  withoutInto,
} from './bit-set';
import { Postings } from './postings';
import { Sections } from './sections';
import { Strings } from './strings';
import { ListColumn, NumberColumn, TextColumn } from './value-columns';

const subset = fc.uniqueArray(fc.nat(199), { maxLength: 120 });
const bitsOf = (slots: readonly number[]) => {
  const bits = bitsFor(200);
  for (const slot of slots) setBit(bits, slot);
  return bits;
};
const sorted = (slots: Iterable<number>) => [...new Set(slots)].sort((a, b) => a - b);

describe('sets of bits', () => {
  it('do what sets do', () => {
    let seen = 0;
    fc.assert(
      fc.property(subset, subset, (a, b) => {
        const has = new Set(b);
        const done = (act: (into: Uint32Array, other: Uint32Array) => void) => {
          const into = bitsOf(a);
          act(into, bitsOf(b));
          return [...slotsIn(into)];
        };
        expect(done(andInto)).toEqual(sorted(a.filter((slot) => has.has(slot))));
        expect(done(orInto)).toEqual(sorted([...a, ...b]));
        expect(done(withoutInto)).toEqual(sorted(a.filter((slot) => !has.has(slot))));
        expect(countBits(bitsOf(a))).toBe(a.length);
        const kept = bitsOf(a);
        keepOnly(kept, (slot) => slot % 3 === 0);
        expect([...slotsIn(kept)]).toEqual(sorted(a.filter((slot) => slot % 3 === 0)));
        for (const slot of b) clearBit(kept, slot);
        for (const slot of a) expect(hasBit(kept, slot)).toBe(slot % 3 === 0 && !has.has(slot));
        seen += a.length;
      }),
    );
    expect(seen).toBeGreaterThan(100);
  });

  it('of a range and of a table are those of asking each, whatever the length', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: -3, max: 9 }), fc.constant(NaN)), { maxLength: 140 }),
        fc.integer({ min: -4, max: 9 }),
        fc.integer({ min: -4, max: 9 }),
        (values, from, to) => {
          const column = Float32Array.from(values);
          expect(bitsBetween(column, column.length, from, to)).toEqual(
            bitsWhere(column.length, (slot) => (column[slot] ?? NaN) >= from && (column[slot] ?? NaN) <= to),
          );
          const numbers = Uint8Array.from(values, (value) => (value > 0 ? value : 0));
          const table = Uint8Array.of(from > 0 ? 1 : 0, 1, 0, 0, 1, 0, 1, 1, 0, 1);
          // photos beyond the column have number 0
          expect(bitsOfTable(numbers, numbers.length + 40, table)).toEqual(
            bitsWhere(numbers.length + 40, (slot) => table[numbers[slot] ?? 0] === 1),
          );
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('texts under numbers', () => {
  it('keep each text once, in any script, through being saved', () => {
    const texts = ['', 'boat', 'Kvirrulýsið', '港', 'a\u0000b', '🚢', 'x'.repeat(5000), 'boat'];
    const strings = new Strings();
    const numbers = texts.map((text) => strings.number(text));
    expect(numbers).toEqual([0, 1, 2, 3, 4, 5, 6, 1]);
    for (let at = 0; at < 3000; at++) strings.number(`made ${at}`);
    const sections = new Sections();
    strings.save(sections, 's');
    const opened = Strings.open(Sections.fromBytes(sections.toBytes(3), 3) ?? new Sections(), 's');
    for (const one of [strings, opened]) {
      expect(texts.map((text) => one.find(text))).toEqual(numbers);
      expect(numbers.map((number) => one.text(number))).toEqual(texts);
      expect([one.find('nothing'), one.text(-1), one.text(99_999), one.size]).toEqual([-1, '', '', 3007]);
      expect(one.number('made 2999')).toBe(3006);
      expect(one.number('new')).toBe(3007); // and it goes on
    }
  });

  it('columns of numbers, texts and lists hold what was set last', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.nat(40),
            fc.array(fc.constantFrom('a', 'b', 'c', 'ð', 'e'), { maxLength: 4 }),
            fc.constantFrom(0, 7, 300, 70_000),
          ),
          { maxLength: 60 },
        ),
        fc.boolean(),
        (steps, reopened) => {
          let [numbers, texts, lists] = [new NumberColumn(), new TextColumn(), new ListColumn()];
          const expected = new Map<number, [string[], number]>();
          for (const [slot, words, number] of steps) {
            numbers.set(slot, number);
            texts.set(slot, words.join(' '));
            lists.set(slot, words);
            expected.set(slot, [[...new Set(words)], number]);
            expect(texts.text(slot)).toBe(words.join(' '));
          }
          if (reopened) {
            const sections = new Sections();
            numbers.save(sections, 'n', 41);
            texts.save(sections, 't', 41);
            lists.save(sections, 'l', 41);
            [numbers, texts, lists] = [
              NumberColumn.open(sections, 'n'),
              TextColumn.open(sections, 't'),
              ListColumn.open(sections, 'l'),
            ];
          }
          for (const [slot, [words, number]] of expected) {
            expect(numbers.get(slot)).toBe(number);
            expect(
              texts
                .text(slot)
                .split(' ')
                .filter((word) => word !== '')
                .every((word) => words.includes(word)),
            ).toBe(true);
            expect(lists.texts(slot)).toEqual(words);
          }
          const counts = new Uint32Array(lists.words.size);
          lists.countInto([...expected.keys()], counts);
          expect(counts.reduce((sum, count) => sum + count, 0)).toBe(
            [...expected.values()].reduce((sum, [words]) => sum + words.length, 0),
          );
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('postings', () => {
  it('are those of a plain map, settled or not, through being saved', () => {
    const act = fc.tuple(
      fc.constantFrom('put', 'put', 'put', 'take', 'settle', 'reopen'),
      fc.constantFrom('boa', 'boat', 'boats', 'slip', 'ðx'),
      fc.nat(60),
      fc.nat(2),
    );
    let marked = 0;
    fc.assert(
      fc.property(
        fc.array(act, { maxLength: 80 }),
        fc.constantFrom('boa', 'boat', 's', 'ð', 'x', ''),
        (acts, prefix) => {
          let postings = new Postings();
          const plain = new Map<string, Map<number, number>>();
          for (const [kind, word, slot, code] of acts) {
            if (kind === 'put') {
              postings.put(word, slot, code);
              plain.set(word, (plain.get(word) ?? new Map<number, number>()).set(slot, code));
            } else if (kind === 'take') {
              postings.take(word, slot);
              plain.get(word)?.delete(slot);
            } else if (kind === 'settle') postings.settle();
            else {
              const sections = new Sections();
              postings.save(sections, 'p');
              postings = Postings.open(sections, 'p');
            }
          }
          for (const predicate of [Uint8Array.of(1, 1, 1), Uint8Array.of(0, 1, 0)]) {
            const bits = bitsFor(61);
            postings.mark(prefix, predicate, bits);
            const expected = sorted(
              [...plain]
                .filter(([word]) => word.startsWith(prefix))
                .flatMap(([, slots]) => [...slots].filter(([, code]) => predicate[code] === 1).map(([slot]) => slot)),
            );
            expect([...slotsIn(bits)]).toEqual(expected);
            marked += expected.length;
          }
          const counts = Object.fromEntries(
            [...plain]
              .filter(([word, slots]) => word.startsWith(prefix) && slots.size > 0)
              .map(([word, slots]) => [word, slots.size]),
          );
          expect(Object.fromEntries(postings.wordsWith(prefix, 99).map(({ word, count }) => [word, count]))).toEqual(
            counts,
          );
        },
      ),
      { numRuns: 400 },
    );
    expect(marked).toBeGreaterThan(100);
  });
});
