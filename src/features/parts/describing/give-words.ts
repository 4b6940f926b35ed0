// Giving words to photos and taking them away, as one change. A word that is typed for the first time comes into the
// vocabulary with the photo it is given to.

import { planList } from '@/core/fields/edits';
import type { WordChange } from '@/core/vocabulary/plan';
import { WORD_LIMITS, sameWord, wordsToGive } from '@/core/vocabulary/vocabulary';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import { useGiving, useWords } from './words';

/** The words that are given when these are typed. */
export const wordsGiven = (typed: readonly string[]): string[] =>
  wordsToGive(useWords.getState().vocabulary, typed, useGiving.getState().implied);

export async function giveWords(photoIds: readonly string[], typed: readonly string[]): Promise<void> {
  const { vocabulary } = useWords.getState();
  const words = wordsGiven(typed);
  const fresh = words.filter(
    (word, index) =>
      word.length <= WORD_LIMITS.word &&
      vocabulary.named(word).length === 0 &&
      words.findIndex((other) => sameWord(other, word)) === index,
  );
  const made: WordChange[] = fresh.map((word) => ({
    before: null,
    after: {
      id: crypto.randomUUID(),
      word,
      parentId: null,
      synonyms: [],
      note: '',
      updatedAt: Date.now(),
      deleted: false,
    },
  }));
  const edits = planList(await recordsOf(photoIds), 'keywords', words, []);
  const fields = { kind: 'fields' as const, origin: 'person' as const, edits };
  await session.change(
    made.length === 0 ? fields : { kind: 'together', changes: [fields, { kind: 'words', changes: made }] },
  );
}

export async function removeWords(photoIds: readonly string[], words: readonly string[]): Promise<void> {
  await session.change({
    kind: 'fields',
    origin: 'person',
    edits: planList(await recordsOf(photoIds), 'keywords', [], [...words]),
  });
}
