// Words as they come out of a file and go into one: a word with what stands below it, without ids. Indented text,
// tables and SKOS are read into this and written from it; `planTaken` brings it into the vocabulary.

import type { WordChange } from './plan';
import { WORD_LIMITS, type Vocabulary, type VocabularyWord, sameWord } from './vocabulary';

export interface ListedWord {
  word: string;
  synonyms: string[];
  note: string;
  below: ListedWord[];
}

export const listed = (word: string): ListedWord => ({ word, synonyms: [], note: '', below: [] });

/** The whole vocabulary, or what stands below a word. */
export const listedOf = (vocabulary: Vocabulary, id: string | null = null): ListedWord[] =>
  vocabulary.below(id).map(({ id: own, word, synonyms, note }) => ({
    word,
    synonyms: [...synonyms],
    note,
    below: listedOf(vocabulary, own),
  }));

export const countListed = (words: readonly ListedWord[]): number =>
  words.reduce((sum, { below }) => sum + 1 + countListed(below), 0);

/**
 * The changes that take words in below `parentId`: those that stand there already get what is new in synonyms and note,
 * others are made. Nothing is taken away.
 */
export function planTaken(
  vocabulary: Vocabulary,
  words: readonly ListedWord[],
  at: number,
  newId: () => string,
  parentId: string | null = null,
): WordChange[] {
  const made: VocabularyWord[] = [];
  return words.map(clipped).flatMap((one): WordChange[] => {
    const there =
      (parentId === null || vocabulary.byId.has(parentId) ? vocabulary.below(parentId) : []).find(({ word }) =>
        sameWord(word, one.word),
      ) ?? made.find(({ word }) => sameWord(word, one.word));
    const word: VocabularyWord = there ?? {
      id: newId(),
      word: one.word,
      parentId,
      synonyms: [],
      note: '',
      updatedAt: at,
      deleted: false,
    };
    if (!there) made.push(word);
    const synonyms = [
      ...word.synonyms,
      ...one.synonyms.filter((text) => !word.synonyms.some((own) => sameWord(own, text)) && !sameWord(text, word.word)),
    ].slice(0, WORD_LIMITS.synonyms);
    const note = word.note === '' ? one.note : word.note;
    const after = { ...word, synonyms, note, updatedAt: at };
    const isNew = !there || synonyms.length > word.synonyms.length || note !== word.note;
    return [
      ...(isNew ? [{ before: there && vocabulary.byId.has(there.id) ? there : null, after }] : []),
      ...planTaken(vocabulary, one.below, at, newId, word.id),
    ];
  });
}

/** What is longer than its place on the drives ends there. */
const clipped = ({ word, synonyms, note, below }: ListedWord): ListedWord => ({
  word: word.slice(0, WORD_LIMITS.word),
  synonyms: synonyms.map((text) => text.slice(0, WORD_LIMITS.word)),
  note: note.slice(0, WORD_LIMITS.note),
  below,
});
