// Giving words to photos and taking them away, as one change. A word that is not in the vocabulary stays out of it until
// the person says that it belongs: a slip of the pen is no word.

import { planList } from '@/core/fields/edits';
import { listed, planTaken } from '@/core/vocabulary/listed';
import { wordsToGive } from '@/core/vocabulary/vocabulary';
import { type Righting, planRightings } from '@/storage/catalog/vocabulary';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import { rememberGiven, useGiving, useWords } from './words';

/** The words that are given when these are typed. */
export const wordsGiven = (typed: readonly string[]): string[] =>
  wordsToGive(useWords.getState().vocabulary, typed, useGiving.getState().implied);

export async function giveWords(photoIds: readonly string[], typed: readonly string[]): Promise<void> {
  const words = wordsGiven(typed);
  rememberGiven(words);
  await session.change({
    kind: 'fields',
    origin: 'person',
    edits: planList(await recordsOf(photoIds), 'keywords', words, []),
  });
}

export async function removeWords(photoIds: readonly string[], words: readonly string[]): Promise<void> {
  await session.change({
    kind: 'fields',
    origin: 'person',
    edits: planList(await recordsOf(photoIds), 'keywords', [], [...words]),
  });
}

/** These belong to the vocabulary, at its top or below a word. @returns the id of the last that was made */
export async function acceptWords(words: readonly string[], under: string | null = null): Promise<string | null> {
  const { vocabulary } = useWords.getState();
  const changes = planTaken(vocabulary, words.map(listed), Date.now(), () => crypto.randomUUID(), under);
  await session.change({ kind: 'words', changes });
  return changes.at(-1)?.after.id ?? null;
}

/** On every photo that carries a wrong word, the right one was meant: one change. */
export async function putRight(rightings: readonly Righting[]): Promise<void> {
  const carriers = await session.search.carriers(rightings.map(({ wrong }) => wrong));
  const { vocabulary } = useWords.getState();
  await session.change(await planRightings(session.db, vocabulary, rightings, carriers, Date.now()));
}
