// The vocabulary: keywords as a tree, each with synonyms and a note. It is kept as one entry a word; of two versions
// the later one holds, so copies from several drives can be put together into a tree with gaps or rings. Those are
// mended on reading: a word whose parent is not there, or is below itself, stands at the top.

import type { Versioned } from '../fields/version';
import { nearestWord } from '../text/edit-distance';
import { plain } from '../text/fold';

export interface VocabularyWord extends Versioned {
  id: string;
  word: string;
  /** The word it stands under; `null` at the top. */
  parentId: string | null;
  synonyms: string[];
  note: string;
  /** It, what stands under it and its synonyms stay behind when photos are sent out. */
  isPrivate?: boolean;
}

/** What the file on the drives takes: letters of a word or synonym and of a note, and synonyms of a word. */
export const WORD_LIMITS = { word: 500, note: 5000, synonyms: 200 } as const;

export interface Vocabulary {
  byId: ReadonlyMap<string, VocabularyWord>;
  /** Words below a word, or at the top (`null`), from A to Z. */
  below: (id: string | null) => readonly VocabularyWord[];
  /**
   * Every word that is written so, without regard to case, accents and form; a word may stand under several parents.
   */
  named: (text: string) => readonly VocabularyWord[];
  /** Words that have it as a synonym. */
  meant: (text: string) => readonly VocabularyWord[];
  /** From the top down to the word itself. */
  path: (id: string) => readonly VocabularyWord[];
}

/** Whether it, or a word it stands under, is never to be sent out. */
export const isPrivateWord = ({ path }: Pick<Vocabulary, 'path'>, id: string): boolean =>
  path(id).some(({ isPrivate }) => isPrivate === true);

/** The vocabulary as it may leave. */
export const withoutPrivate = (vocabulary: Vocabulary): Vocabulary =>
  vocabularyOf([...vocabulary.byId.values()].filter(({ id }) => !isPrivateWord(vocabulary, id)));

export const sameWord = (a: string, b: string): boolean => plain(a) === plain(b);

export function vocabularyOf(entries: readonly VocabularyWord[]): Vocabulary {
  const byId = new Map(entries.filter(({ deleted }) => !deleted).map((word) => [word.id, word]));
  for (const [id, word] of byId)
    if (word.parentId !== null && !reachesTop(id, byId)) byId.set(id, { ...word, parentId: null });
  const children = grouped([...byId.values()], ({ parentId }) => [parentId]);
  for (const list of children.values())
    list.sort((a, b) =>
      plain(a.word) < plain(b.word) ? -1 : plain(a.word) > plain(b.word) ? 1 : a.id < b.id ? -1 : 1,
    );
  const byWord = grouped([...byId.values()], ({ word }) => [plain(word)]);
  const bySynonym = grouped([...byId.values()], ({ synonyms }) => synonyms.map(plain));
  return {
    byId,
    below: (id) => children.get(id) ?? [],
    named: (text) => byWord.get(plain(text)) ?? [],
    meant: (text) => bySynonym.get(plain(text)) ?? [],
    path: (id) => pathTo(id, byId),
  };
}

/** Mended on the way: a ring is opened at the first word that is looked at. */
function reachesTop(id: string, byId: ReadonlyMap<string, VocabularyWord>): boolean {
  const seen = new Set<string>();
  for (let at: string | null = id; at !== null; at = byId.get(at)?.parentId ?? null) {
    if (seen.has(at) || !byId.has(at)) return false;
    seen.add(at);
  }
  return true;
}

function pathTo(id: string, byId: ReadonlyMap<string, VocabularyWord>): VocabularyWord[] {
  const path: VocabularyWord[] = [];
  for (let word = byId.get(id); word; word = word.parentId === null ? undefined : byId.get(word.parentId))
    path.unshift(word);
  return path;
}

function grouped<K>(
  words: readonly VocabularyWord[],
  keysOf: (word: VocabularyWord) => readonly K[],
): Map<K, VocabularyWord[]> {
  const groups = new Map<K, VocabularyWord[]>();
  for (const word of words) {
    for (const key of keysOf(word)) {
      const group = groups.get(key);
      if (group) group.push(word);
      else groups.set(key, [word]);
    }
  }
  return groups;
}

/** Whether `id` is `above` itself or stands somewhere below it. */
export const isBelow = (vocabulary: Vocabulary, id: string, above: string): boolean =>
  vocabulary.path(id).some((word) => word.id === above);

/** The word and all that stand below it. */
export const withBelow = (vocabulary: Vocabulary, id: string): VocabularyWord[] => {
  const word = vocabulary.byId.get(id);
  return word ? [word, ...vocabulary.below(id).flatMap((child) => withBelow(vocabulary, child.id))] : [];
};

/**
 * What is given to a photo when a person types these words: a synonym gives the word it stands for; with `implied`
 * every word above comes along. A word that stands under several parents brings none of them, because nobody said which
 * is meant.
 */
export function wordsToGive(vocabulary: Vocabulary, typed: readonly string[], implied: boolean): string[] {
  const given: string[] = [];
  for (const text of typed) {
    const found = known(vocabulary, text);
    if (found.length === 1 && found[0])
      given.push(...(implied ? vocabulary.path(found[0].id) : [found[0]]).map(({ word }) => word));
    else given.push(found[0]?.word ?? text);
  }
  return [...new Set(given)];
}

/** Whether a keyword stands in the vocabulary, or is a synonym there. */
export const isInVocabulary = (vocabulary: Vocabulary, keyword: string): boolean =>
  known(vocabulary, keyword).length > 0;

/** Whether a keyword is not in the vocabulary. While that is empty, none is missed. */
export const isUnknown = (vocabulary: Vocabulary, keyword: string): boolean =>
  vocabulary.byId.size > 0 && !isInVocabulary(vocabulary, keyword);

/** Of shorter words, two letters apart are most often two words: float, boat. */
const NEAR_BY_TWO = 9;
/** For keywords that are not in the vocabulary: its word that was meant most likely; `null` where none is near. */
export function nearestKnown(vocabulary: Vocabulary): (keyword: string) => string | null {
  const byForm = new Map<string, string>();
  for (const { word, synonyms } of vocabulary.byId.values())
    for (const text of [word, ...synonyms]) if (!byForm.has(plain(text))) byForm.set(plain(text), word);
  return (keyword) => {
    const form = plain(keyword);
    const near = nearestWord(form, byForm.keys(), form.length >= NEAR_BY_TWO ? 2 : 1);
    return near === null ? null : (byForm.get(near) ?? null);
  };
}

const known = (vocabulary: Vocabulary, text: string): readonly VocabularyWord[] =>
  vocabulary.named(text).length > 0 ? vocabulary.named(text) : vocabulary.meant(text);

/**
 * Which word of the vocabulary a keyword of a photo is: the only one written so, or, of several, the only one whose
 * parent the photo has too. `null` where that cannot be told.
 */
export function wordMeant(vocabulary: Vocabulary, keywords: readonly string[], keyword: string): VocabularyWord | null {
  const candidates = vocabulary.named(keyword);
  if (candidates.length <= 1) return candidates[0] ?? null;
  const told = candidates.filter(
    ({ parentId }) =>
      parentId !== null && keywords.some((other) => sameWord(other, vocabulary.byId.get(parentId)?.word ?? '')),
  );
  return told.length === 1 ? (told[0] ?? null) : null;
}
