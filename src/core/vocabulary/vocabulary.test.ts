import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findAlike, oneApart } from './alike';
import { Completions } from './completion';
import { readIndented, writeIndented } from './indented';
import { type ListedWord, countListed, listed, listedOf, planTaken } from './listed';
import { type ActPlan, type VocabularyAct, planAct, planOnPhotos, replaceWord } from './plan';
import { RDF_TYPE, SKOS, readSkos, skosTriples } from './skos';
import { type VocabularyWord, isUnknown, nearestKnown, vocabularyOf, wordMeant, wordsToGive } from './vocabulary';
import { readWordRows, wordRows } from './word-table';
import { plain } from '@/core/text/fold';

const word = (
  id: string,
  name: string,
  parentId: string | null = null,
  more: Partial<VocabularyWord> = {},
): VocabularyWord => ({ id, word: name, parentId, synonyms: [], note: '', updatedAt: 1, deleted: false, ...more });
const WORDS = [
  word('1', 'boats', null, { synonyms: ['vessels'] }),
  word('2', 'rowing boats', '1'),
  word('3', 'six-man boat', '2', { synonyms: ['seksmannafar'] }),
  word('4', 'places'),
  word('5', 'Sandur', '4'),
  word('6', 'landscape'),
  word('7', 'sandur', '6', { note: 'an outwash plain' }),
];
const vocabulary = vocabularyOf(WORDS);

/** The words after the plan's changes. */
function after(words: readonly VocabularyWord[], plan: ActPlan): VocabularyWord[] {
  if ('refused' in plan) throw new Error(plan.refused);
  const byId = new Map(words.map((one) => [one.id, one]));
  for (const { after: next } of plan.words) byId.set(next.id, next);
  return [...byId.values()];
}
let made = 0;
const act = (one: VocabularyAct, words = WORDS) => planAct(vocabularyOf(words), one, 2, () => `new-${(made += 1)}`);
const outline = (words: readonly VocabularyWord[]) => writeIndented(listedOf(vocabularyOf(words)));
const photo = (id: string, ...keywords: string[]) => ({ id, fields: { keywords } });
const onPhotos = (plan: ActPlan, ...photos: ReturnType<typeof photo>[]) => {
  if ('refused' in plan || !plan.onPhotos) throw new Error('nothing on photos');
  return planOnPhotos(vocabulary, photos, plan.onPhotos);
};

describe('the vocabulary', () => {
  it('gives the word for its synonym, and the words above where they are wanted', () => {
    expect(wordsToGive(vocabulary, ['Seksmannafar', 'wool'], true)).toEqual([
      'boats',
      'rowing boats',
      'six-man boat',
      'wool',
    ]);
    expect(wordsToGive(vocabulary, ['seksmannafar', 'SIX-MAN BOAT'], false)).toEqual(['six-man boat']);
  });

  it('knows a word that stands under two parents by the parent the photo has, and otherwise says that it cannot tell', () => {
    expect(wordMeant(vocabulary, ['places', 'Sandur'], 'Sandur')?.id).toBe('5');
    expect(wordMeant(vocabulary, ['Landscape', 'Sandur'], 'Sandur')?.id).toBe('7');
    expect(wordMeant(vocabulary, ['Sandur'], 'Sandur')).toBeNull();
    expect(wordsToGive(vocabulary, ['Sandur'], true)).toEqual(['Sandur']);
  });

  it('put together from several drives stands, whatever rings and gaps are in it', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ id: fc.integer({ min: 0, max: 9 }), parent: fc.option(fc.integer({ min: 0, max: 12 })) }),
          { maxLength: 12 },
        ),
        (entries) => {
          const words = entries.map(({ id, parent }) =>
            word(String(id), `w${id}`, parent === null ? null : String(parent)),
          );
          const tree = vocabularyOf(words);
          expect(countListed(listedOf(tree))).toBe(new Set(words.map(({ id }) => id)).size);
          for (const id of tree.byId.keys()) expect(tree.path(id).at(-1)?.id).toBe(id);
        },
      ),
    );
  });
});

describe('what is done to a word', () => {
  it('renamed, it is so on every photo that means it', () => {
    const plan = act({ kind: 'rename', id: '2', word: 'oared boats' });
    expect(onPhotos(plan, photo('a', 'boats', 'Rowing boats', 'sea'), photo('b', 'sea'))).toEqual({
      untold: 0,
      edits: [
        {
          photoId: 'a',
          key: 'keywords',
          before: ['boats', 'Rowing boats', 'sea'],
          after: ['boats', 'oared boats', 'sea'],
        },
      ],
    });
    expect(act({ kind: 'rename', id: '4', word: 'Boats' })).toEqual({ refused: 'taken' });
  });

  it('that stands twice in the tree changes only where the photo tells which it is', () => {
    const { edits, untold } = onPhotos(
      act({ kind: 'rename', id: '7', word: 'outwash plain' }),
      photo('a', 'places', 'Sandur'),
      photo('b', 'landscape', 'sandur'),
      photo('c', 'Sandur'),
    );
    expect(edits.map(({ photoId, after: now }) => [photoId, now])).toEqual([['b', ['landscape', 'outwash plain']]]);
    expect(untold).toBe(1);
  });

  it('merged, it becomes a synonym; what stood below it comes along; the photo has the other word once', () => {
    const plan = act({ kind: 'merge', id: '2', into: '4' });
    expect(outline(after(WORDS, plan))).toBe(
      'boats {vessels}\nlandscape\n\tsandur # an outwash plain\nplaces {rowing boats}\n\tSandur\n\tsix-man boat {seksmannafar}\n',
    );
    expect(onPhotos(plan, photo('a', 'rowing boats', 'places')).edits[0]?.after).toEqual(['places']);
  });

  it('merged into a word below it, that word takes its place', () => {
    expect(outline(after(WORDS, act({ kind: 'merge', id: '1', into: '3' })))).toBe(
      'landscape\n\tsandur # an outwash plain\nplaces\n\tSandur\nsix-man boat {seksmannafar; boats; vessels}\n\trowing boats\n',
    );
  });

  it('moved below itself is refused; moved elsewhere it takes what is below it along', () => {
    expect(act({ kind: 'move', id: '1', under: '3' })).toEqual({ refused: 'ring' });
    expect(act({ kind: 'move', id: '5', under: '6' })).toEqual({ refused: 'taken' });
    expect(outline(after(WORDS, act({ kind: 'move', id: '2', under: '4' })))).toContain(
      'places\n\trowing boats\n\t\tsix-man boat',
    );
  });

  it('split, both words stand in its place and on its photos; deleted, it is gone from them and what was below moves up', () => {
    const plan = act({ kind: 'split', id: '2', into: ['two-man boats', 'four-man boats'] });
    expect(onPhotos(plan, photo('a', 'rowing boats')).edits[0]?.after).toEqual(['two-man boats', 'four-man boats']);
    expect(outline(after(WORDS, plan))).toContain(
      'boats {vessels}\n\tfour-man boats\n\tsix-man boat {seksmannafar}\n\ttwo-man boats\n',
    );
    const gone = act({ kind: 'delete', id: '2' });
    expect(onPhotos(gone, photo('a', 'rowing boats')).edits[0]).toEqual({
      photoId: 'a',
      key: 'keywords',
      before: ['rowing boats'],
    });
  });

  it('whatever is done, the tree stays whole and no word is under itself', () => {
    const id = fc.constantFrom('1', '2', '3', '4', '5', '6', '7');
    const acts = fc.oneof(
      fc.record({ kind: fc.constant('merge' as const), id, into: id }),
      fc.record({ kind: fc.constant('move' as const), id, under: fc.option(id) }),
      fc.record({ kind: fc.constant('delete' as const), id }),
      fc.record({ kind: fc.constant('rename' as const), id, word: fc.constantFrom('boats', 'wool', 'sandur') }),
      fc.record({ kind: fc.constant('split' as const), id, into: fc.constant(['x', 'y']) }),
    );
    fc.assert(
      fc.property(fc.array(acts, { maxLength: 8 }), (list) => {
        let words: VocabularyWord[] = WORDS;
        for (const one of list) {
          const plan = act(one, words);
          if (!('refused' in plan)) words = after(words, plan);
        }
        const alive = words.filter(({ deleted }) => !deleted);
        for (const { parentId } of alive)
          expect(parentId === null || alive.some((other) => other.id === parentId)).toBe(true);
        expect(countListed(listedOf(vocabularyOf(words)))).toBe(alive.length);
      }),
    );
  });

  it('replaces in place and never leaves a word twice', () => {
    expect(replaceWord(['a', 'b', 'c'], 'B', ['c', 'd'])).toEqual(['a', 'c', 'd']);
    expect(replaceWord(['b'], 'b', [])).toBeUndefined();
  });
});

describe('words that are most likely one', () => {
  it('are found by case, accent, spacing, number and a letter', () => {
    const used = [
      ['harbour', 40],
      ['Harbour', 2],
      ['Gjógv', 9],
      ['Gjogv', 1],
      ['boat house', 3],
      ['boathouse', 30],
      ['puffin', 12],
      ['puffins', 4],
      ['lighthouse', 20],
      ['lighthuose', 1],
      ['coat', 5],
      ['boat', 9],
    ] as const;
    const found = findAlike(used.map(([one, count]) => ({ word: one, count })));
    expect(found.map(({ usual, other, likeness }) => `${other.word} → ${usual.word}: ${likeness}`)).toEqual([
      'Harbour → harbour: case',
      'boat house → boathouse: spacing',
      'lighthuose → lighthouse: letter',
      'puffins → puffin: plural',
      'Gjogv → Gjógv: accent',
    ]);
  });

  it('one letter apart is what comparing every pair by the plain definition says', () => {
    const alphabet = fc.stringMatching(/^[abc]{0,5}$/);
    const slow = (a: string, b: string) => {
      const forms = new Set<string>();
      for (let at = 0; at <= a.length; at++) {
        forms.add(a.slice(0, at) + a.slice(at + 1));
        for (const letter of 'abc')
          forms.add(a.slice(0, at) + letter + a.slice(at)).add(a.slice(0, at) + letter + a.slice(at + 1));
        if (at + 1 < a.length) forms.add(a.slice(0, at) + (a[at + 1] ?? '') + (a[at] ?? '') + a.slice(at + 2));
      }
      return a !== b && forms.has(b);
    };
    fc.assert(
      fc.property(alphabet, alphabet, (a, b) => {
        expect(oneApart(a, b)).toBe(slow(a, b));
      }),
      { numRuns: 2000 },
    );
  });
});

describe('words offered while typing', () => {
  const completions = new Completions(() =>
    [
      ['Six-man boat', 3, ['seksmannafar']],
      ['boats', 90, []],
      ['boathouse', 12, []],
      ['Bøur', 4, []],
    ].map(([name, count, also]) => ({
      word: name as string,
      count: count as number,
      also: also as string[],
      path: '',
      id: null,
    })),
  );
  it('begin so or have a word in them that does, the most used first; synonyms lead to their word', () => {
    expect(completions.of('boa', 9).map((one) => one.word)).toEqual(['boats', 'boathouse', 'Six-man boat']);
    expect(completions.of('seks', 9).map((one) => one.word)).toEqual(['Six-man boat']);
    expect(completions.of('bo', 2).map((one) => one.word)).toEqual(['boats', 'boathouse']);
    expect(completions.of('bour', 9).map((one) => one.word)).toEqual(['Bøur']);
    expect(completions.of(' ', 9)).toEqual([]);
  });
});

const name = fc.stringMatching(/^[a-zð][a-zð ,-]{0,8}[a-zð]$/);
const tree: fc.Arbitrary<ListedWord[]> = fc
  .letrec<{ words: ListedWord[] }>((tie) => ({
    words: fc.uniqueArray(
      fc.record({
        word: name,
        synonyms: fc.uniqueArray(name, { maxLength: 2 }),
        note: fc.oneof(fc.constant(''), name),
        below: fc.oneof(
          { depthSize: 'small' },
          fc.constant<ListedWord[]>([]),
          tie('words') as fc.Arbitrary<ListedWord[]>,
        ),
      }),
      { selector: (one) => plain(one.word), maxLength: 3 },
    ),
  }))
  .words.map(function tidy(words: ListedWord[]): ListedWord[] {
    return words.map((one) => ({
      word: one.word.replace(/\s+/g, ' '),
      note: one.note.replace(/\s+/g, ' '),
      synonyms: [...new Set(one.synonyms.map((text) => text.replace(/\s+/g, ' ')))],
      below: tidy(one.below),
    }));
  });

describe('written and read again, the same words stand in the same places', () => {
  it('as indented text, as rows, as SKOS', () => {
    fc.assert(
      fc.property(tree, (words) => {
        expect(readIndented(writeIndented(words))).toEqual(words);
        expect(readWordRows(wordRows(words))).toEqual(words);
        expect(readSkos(skosTriples(words))).toEqual(words);
      }),
    );
  });

  it('indented by blanks, with a level left out, with Windows ends of lines', () => {
    expect(
      writeIndented(
        readIndented('\uFEFFboats\r\n    rowing\r\n        six-man # of oak\r\n  sail\r\nwool {fleece; yarn}'),
      ),
    ).toBe('boats\n\trowing\n\t\tsix-man # of oak\n\tsail\nwool {fleece; yarn}\n');
  });

  it('SKOS of others: labels in several languages, narrower only, definitions, rings, hidden labels', () => {
    const say = (subject: string, predicate: string, value: string, language?: string) => ({
      subject,
      predicate: SKOS + predicate,
      object:
        language === undefined
          ? { kind: 'address' as const, value, language: '' }
          : { kind: 'text' as const, value, language },
    });
    const words = readSkos([
      { subject: 'a', predicate: RDF_TYPE, object: { kind: 'address', value: `${SKOS}Concept`, language: '' } },
      say('a', 'prefLabel', 'Boot', 'de'),
      say('a', 'prefLabel', 'boat', 'en'),
      say('a', 'narrower', 'b'),
      say('b', 'prefLabel', 'ferry', ''),
      say('b', 'hiddenLabel', 'fery', ''),
      say('b', 'definition', 'carries cars', 'en'),
      say('r', 'prefLabel', 'ring', ''),
      say('r', 'broader', 's'),
      say('s', 'prefLabel', 'gnir', ''),
      say('s', 'broader', 'r'),
      say('x', 'altLabel', 'no label of its own', ''),
    ]);
    expect(writeIndented(words)).toBe('boat\n\tferry {fery} # carries cars\nring\n\tgnir\n');
  });
});

describe('words taken in', () => {
  it('join those that are there; taken in twice they change nothing', () => {
    const list = [
      {
        ...listed('Boats'),
        synonyms: ['craft'],
        below: [listed('ferries'), { ...listed('rowing boats'), note: 'pulled by oars' }],
      },
    ];
    const changes = planTaken(vocabulary, list, 2, () => `n${(made += 1)}`);
    const words = [...new Map([...WORDS, ...changes.map((one) => one.after)].map((one) => [one.id, one])).values()];
    expect(outline(words)).toContain('boats {vessels; craft}\n\tferries\n\trowing boats # pulled by oars\n');
    expect(planTaken(vocabularyOf(words), list, 3, () => 'none')).toEqual([]);
  });
});

describe('a keyword that is not in the vocabulary', () => {
  it('is unknown, unless it is written otherwise, or is a synonym; an empty vocabulary misses none', () => {
    expect(['Boats', 'seksmannafar', 'SÁNDUR', 'boat', 'slip'].map((one) => isUnknown(vocabulary, one))).toEqual([
      false,
      false,
      false,
      true,
      true,
    ]);
    expect(isUnknown(vocabularyOf([]), 'slip')).toBe(false);
  });

  it('was perhaps meant as the nearest: a letter apart, two of a long word; by a synonym too', () => {
    expect(['boat', 'sandurr', 'seksmanafar', 'rowng boat', 'float', 'quay'].map(nearestKnown(vocabulary))).toEqual([
      'boats',
      'Sandur',
      'six-man boat',
      'rowing boats',
      null,
      null,
    ]);
  });
});
