// What the vocabulary adds to search: a word finds the photos that carry a word below it, and a synonym those that
// carry the word it stands for, whether or not the photos say so themselves.

import { type Vocabulary } from '../vocabulary/vocabulary';
import { wordsOf, plain } from '../text/fold';
import { lowerBound } from '../text/lower-bound';

/**
 * A word of the vocabulary, plain, and the texts by which it is found besides: its synonyms, the words above it and
 * theirs.
 */
export interface KnownWord {
  word: string;
  also: string[];
}

/** Words of the same spelling under several parents are found by the texts of all of them. */
export function knownWords(vocabulary: Vocabulary): KnownWord[] {
  const also = new Map<string, Set<string>>();
  for (const word of vocabulary.byId.values()) {
    const own = plain(word.word);
    const texts = also.get(own) ?? new Set<string>();
    for (const above of vocabulary.path(word.id))
      for (const text of [above.word, ...above.synonyms]) if (plain(text) !== own) texts.add(plain(text));
    also.set(own, texts);
  }
  return [...also].map(([word, texts]) => ({ word, also: [...texts] }));
}

export class VocabularyWords {
  private readonly known: ReadonlySet<string>;
  private readonly tokens: string[];
  private readonly carriers: KnownWord[];

  constructor(words: readonly KnownWord[]) {
    this.known = new Set(words.flatMap(({ word, also }) => [word, ...also]));
    const pairs = words.flatMap((word) => [...new Set(word.also.flatMap(wordsOf))].map((token) => ({ token, word })));
    pairs.sort((a, b) => (a.token < b.token ? -1 : a.token > b.token ? 1 : 0));
    this.tokens = pairs.map(({ token }) => token);
    this.carriers = pairs.map(({ word }) => word);
  }

  get isEmpty(): boolean {
    return this.known.size === 0;
  }

  /** Whether the vocabulary has this word, or has it as a synonym. */
  has(keyword: string): boolean {
    return this.known.has(plain(keyword));
  }

  /**
   * Plain keywords that are found by a text beginning so, or, of several words, by one that has these in this order.
   */
  foundBy(words: readonly string[]): Set<string> {
    const found = new Set<string>();
    const [first = ''] = words;
    if (first === '') return found;
    const phrase = words.length > 1 ? ` ${words.join(' ')}` : null;
    for (let at = lowerBound(this.tokens, first); this.tokens[at]?.startsWith(first); at++) {
      const carrier = this.carriers[at];
      if (carrier && (phrase === null || carrier.also.some((text) => ` ${wordsOf(text).join(' ')}`.includes(phrase))))
        found.add(carrier.word);
    }
    return found;
  }
}
