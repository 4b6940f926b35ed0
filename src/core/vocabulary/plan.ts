// What is done to the vocabulary, and with it to every photo that carries the word: planned as plain values, so that it
// can be counted before it happens and taken back after.

import { type FieldEdit, type Described, planSet } from '../fields/edits';
import { wordsIn } from '../fields/values';
import { type Vocabulary, type VocabularyWord, isBelow, sameWord, wordMeant } from './vocabulary';
import { plain } from '../text/fold';

export interface WordChange {
  before: VocabularyWord | null;
  after: VocabularyWord;
}

/** On photos: this word is replaced by those; by none, it is taken away. `addTo`: words that come beside it. */
export interface OnPhotos {
  wordId: string;
  word: string;
  to: readonly string[];
}

export type VocabularyAct =
  | { kind: 'rename'; id: string; word: string }
  | { kind: 'merge'; id: string; into: string }
  | { kind: 'split'; id: string; into: readonly string[] }
  | { kind: 'delete'; id: string }
  | { kind: 'move'; id: string; under: string | null };

/** `taken`: the name stands there already (merging is another act). `ring`: a word cannot stand below itself. */
export type Refusal = 'taken' | 'ring' | 'same' | 'nothing' | 'unknown';

export type ActPlan = { words: WordChange[]; onPhotos: OnPhotos | null } | { refused: Refusal };

/** @param at when it is done, milliseconds since 1970, UTC; `newId` makes ids for new words */
export function planAct(vocabulary: Vocabulary, act: VocabularyAct, at: number, newId: () => string): ActPlan {
  const word = vocabulary.byId.get(act.id);
  if (!word) return { refused: 'unknown' };
  const changed = (one: VocabularyWord, patch: Partial<VocabularyWord>): WordChange => ({
    before: one,
    after: { ...one, ...patch, updatedAt: at },
  });
  const isTaken = (name: string, parentId: string | null, but: string) =>
    vocabulary.below(parentId).some((one) => one.id !== but && sameWord(one.word, name));
  switch (act.kind) {
    case 'rename': {
      const name = act.word.trim();
      if (name === '') return { refused: 'nothing' };
      if (name === word.word) return { refused: 'same' };
      if (isTaken(name, word.parentId, word.id)) return { refused: 'taken' };
      return { words: [changed(word, { word: name })], onPhotos: { wordId: word.id, word: word.word, to: [name] } };
    }
    case 'move': {
      if (act.under === word.parentId) return { refused: 'same' };
      if (act.under !== null && !vocabulary.byId.has(act.under)) return { refused: 'unknown' };
      if (act.under !== null && isBelow(vocabulary, act.under, word.id)) return { refused: 'ring' };
      if (isTaken(word.word, act.under, word.id)) return { refused: 'taken' };
      return { words: [changed(word, { parentId: act.under })], onPhotos: null };
    }
    case 'delete':
      return {
        words: [
          changed(word, { deleted: true }),
          ...vocabulary.below(word.id).map((child) => changed(child, { parentId: word.parentId })),
        ],
        onPhotos: { wordId: word.id, word: word.word, to: [] },
      };
    case 'split': {
      const names = act.into.map((name) => name.trim()).filter((name) => name !== '');
      if (names.length < 2) return { refused: 'nothing' };
      const made = names.flatMap((name): WordChange[] =>
        isTaken(name, word.parentId, word.id)
          ? []
          : [
              {
                before: null,
                after: {
                  id: newId(),
                  word: name,
                  parentId: word.parentId,
                  synonyms: [],
                  note: '',
                  updatedAt: at,
                  deleted: false,
                },
              },
            ],
      );
      return {
        words: [
          changed(word, { deleted: true }),
          ...vocabulary.below(word.id).map((child) => changed(child, { parentId: word.parentId })),
          ...made,
        ],
        onPhotos: { wordId: word.id, word: word.word, to: names },
      };
    }
    case 'merge':
      return planMerge(vocabulary, word, act.into, changed);
  }
}

/**
 * The word becomes a synonym of the other, which takes over what stood below it; one that stood below the word takes
 * its place.
 */
function planMerge(
  vocabulary: Vocabulary,
  word: VocabularyWord,
  into: string,
  changed: (one: VocabularyWord, patch: Partial<VocabularyWord>) => WordChange,
): ActPlan {
  const target = vocabulary.byId.get(into);
  if (!target) return { refused: 'unknown' };
  if (target.id === word.id) return { refused: 'same' };
  const synonyms = [...target.synonyms];
  for (const name of [word.word, ...word.synonyms])
    if (!sameWord(name, target.word) && !synonyms.some((one) => sameWord(one, name))) synonyms.push(name);
  const note = [target.note, word.note].filter((text) => text !== '').join('\n');
  const place = isBelow(vocabulary, target.id, word.id) ? { parentId: word.parentId } : {};
  const children = vocabulary.below(word.id).filter(({ id }) => id !== target.id);
  return {
    words: [
      changed(target, { synonyms, note, ...place }),
      changed(word, { deleted: true }),
      ...children.map((child) => changed(child, { parentId: target.id })),
    ],
    onPhotos: { wordId: word.id, word: word.word, to: [target.word] },
  };
}

/**
 * The edits on these photos. A photo that has the word without saying which of several is meant keeps it, and is
 * counted.
 */
export function planOnPhotos(
  vocabulary: Vocabulary,
  photos: readonly Described[],
  { wordId, word, to }: OnPhotos,
): { edits: FieldEdit[]; untold: number } {
  let untold = 0;
  const isWord = spelling(word);
  const isOneOfSeveral = vocabulary.named(word).length > 1;
  const edits = photos.flatMap((photo) => {
    const keywords = wordsIn(photo.fields.keywords);
    if (!keywords.some(isWord)) return [];
    if (isOneOfSeveral) {
      const meant = wordMeant(vocabulary, keywords, word);
      if (meant === null) untold += 1;
      if (meant?.id !== wordId) return [];
    }
    return planSet([photo], 'keywords', replaced(keywords, isWord, to));
  });
  return { edits, untold };
}

/**
 * The list with the word, however it is written there, replaced in its place; what would stand twice stands once.
 * `undefined` for none left.
 */
export const replaceWord = (keywords: readonly string[], word: string, to: readonly string[]): string[] | undefined =>
  replaced(keywords, spelling(word), to);

function replaced(
  keywords: readonly string[],
  isWord: (keyword: string) => boolean,
  to: readonly string[],
): string[] | undefined {
  const after = [...new Set(keywords.flatMap((keyword) => (isWord(keyword) ? to : [keyword])))];
  return after.length > 0 ? after : undefined;
}

/** Whether a keyword is this word; each spelling is folded once, since a catalog has far fewer of them than photos. */
function spelling(word: string): (keyword: string) => boolean {
  const folded = plain(word);
  const known = new Map<string, boolean>();
  return (keyword) => {
    const before = known.get(keyword);
    if (before !== undefined) return before;
    const is = plain(keyword) === folded;
    known.set(keyword, is);
    return is;
  };
}
