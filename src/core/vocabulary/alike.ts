// Words that are most likely meant to be one: the same but for case, accents, spacing or number, or a letter apart.
// Found by forms that both share, so that the time grows with the number of words and not with its square.

import { foldText } from '../text/fold';
import { singularOf } from '../text/plural';

export interface UsedWord {
  word: string;
  /** Photos that carry it. */
  count: number;
}

export type Likeness = 'case' | 'accent' | 'spacing' | 'plural' | 'letter';

export interface AlikePair {
  /** What is used more often, or, as often, comes first from A to Z. */
  usual: UsedWord;
  other: UsedWord;
  likeness: Likeness;
}

/** Below this many letters a letter more or less is most often another word: boat, coat. */
const LETTERS_FOR_ONE_APART = 6;

export function findAlike(words: readonly UsedWord[]): AlikePair[] {
  const pairs: AlikePair[] = [];
  const seen = new Set<string>();
  const add = (a: UsedWord, b: UsedWord, likeness: Likeness) => {
    const [usual, other] = a.count > b.count || (a.count === b.count && a.word < b.word) ? [a, b] : [b, a];
    const key = `${usual.word}\n${other.word}`;
    if (seen.has(key)) return;
    seen.add(key);
    pairs.push({ usual, other, likeness });
  };
  for (const group of sharing(words, ({ word }) => [skeleton(word)]))
    pairsOf(group, (a, b) => add(a, b, likenessOf(a.word, b.word)));
  const long = words.filter(({ word }) => letters(word).length >= LETTERS_FOR_ONE_APART);
  for (const group of sharing(long, ({ word }) => oneLess(letters(word))))
    pairsOf(group, (a, b) => oneApart(letters(a.word), letters(b.word)) && add(a, b, 'letter'));
  return pairs.sort((a, b) => b.usual.count - a.usual.count || (a.usual.word < b.usual.word ? -1 : 1));
}

function likenessOf(a: string, b: string): Likeness {
  if (a.toLowerCase() === b.toLowerCase()) return 'case';
  if (foldText(a) === foldText(b)) return 'accent';
  return letters(a) === letters(b) ? 'spacing' : 'plural';
}

/** Letters and digits alone, folded. */
const letters = (word: string): string => foldText(word).replace(/[^\p{L}\p{N}]+/gu, '');

/** Letters without an English plural ending. */
const skeleton = (word: string): string => singularOf(letters(word));

/** The word itself, and the word with each of its letters left out: two words one step apart share one of them. */
function oneLess(word: string): string[] {
  const forms = new Set([word]);
  for (let at = 0; at < word.length; at++) forms.add(word.slice(0, at) + word.slice(at + 1));
  return [...forms];
}

/** Whether one letter more, less or other, or two neighbours exchanged, makes one of the other. */
export function oneApart(a: string, b: string): boolean {
  if (a === b || Math.abs(a.length - b.length) > 1) return false;
  let at = 0;
  while (a[at] === b[at]) at++;
  const [restA, restB] = [a.slice(at), b.slice(at)];
  return (
    restA.slice(1) === restB.slice(1) ||
    restA.slice(1) === restB ||
    restA === restB.slice(1) ||
    (restA[0] === restB[1] && restA[1] === restB[0] && restA.slice(2) === restB.slice(2))
  );
}

function sharing(words: readonly UsedWord[], formsOf: (word: UsedWord) => string[]): UsedWord[][] {
  const groups = new Map<string, UsedWord[]>();
  for (const word of words) {
    for (const form of formsOf(word)) {
      const group = groups.get(form);
      if (group) group.push(word);
      else groups.set(form, [word]);
    }
  }
  return [...groups.values()].filter((group) => group.length > 1);
}

function pairsOf(group: readonly UsedWord[], each: (a: UsedWord, b: UsedWord) => void): void {
  group.forEach((a, index) => {
    for (const b of group.slice(index + 1)) each(a, b);
  });
}
