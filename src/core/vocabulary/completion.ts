// Words offered while typing: those that begin so, then those with a word in them that begins so; of each kind the most
// used first.

import { lowerBound } from '../text/lower-bound';
import type { UsedWord } from './alike';
import { plain } from '../text/fold';

export interface WordCompletion extends UsedWord {
  /** Where it stands, from the top, without itself; for telling two of one name apart. */
  path: string;
  /** The word of the vocabulary; `null` for one that only photos carry. */
  id: string | null;
}

type Offered = WordCompletion & { also: readonly string[] };

/**
 * All beginnings sorted, so that a key press looks at those that fit and no others. Put in order when it is first
 * asked.
 */
export class Completions {
  private sorted: { starts: string[]; words: WordCompletion[]; whole: boolean[] } | null = null;

  constructor(private readonly list: () => readonly Offered[]) {}

  private inOrder() {
    if (this.sorted) return this.sorted;
    const entries = this.list().flatMap((word) =>
      [word.word, ...word.also].flatMap((text) =>
        startsOf(text).map((start, index) => ({ start, word, whole: index === 0 })),
      ),
    );
    entries.sort((a, b) => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0));
    return (this.sorted = {
      starts: entries.map(({ start }) => start),
      words: entries.map(({ word }) => word),
      whole: entries.map(({ whole }) => whole),
    });
  }

  /** At most `limit`; nothing for nothing typed. */
  of(typed: string, limit: number): WordCompletion[] {
    const start = plain(typed);
    if (start === '') return [];
    const { starts, words, whole } = this.inOrder();
    const best = new Map<WordCompletion, number>();
    for (let at = lowerBound(starts, start); starts[at]?.startsWith(start); at++) {
      const word = words[at];
      if (word) best.set(word, Math.max(best.get(word) ?? 0, starts[at] === start ? 2 : whole[at] ? 1 : 0));
    }
    return [...best]
      .sort(([a, x], [b, y]) => y - x || b.count - a.count || (a.word < b.word ? -1 : 1))
      .slice(0, limit)
      .map(([word]) => word);
  }
}

/**
 * Beginnings of texts seen before: the order is made anew whenever a photo gets a word, and the words stay mostly the
 * same.
 */
const seen = new Map<string, string[]>();
const SEEN_LIMIT = 200_000;

/** The text from its beginning and from each further word on. */
function startsOf(text: string): string[] {
  const known = seen.get(text);
  if (known) return known;
  if (seen.size > SEEN_LIMIT) seen.clear();
  const whole = plain(text);
  const starts = [
    whole,
    ...[...whole.matchAll(/[\s-]+(?=\S)/g)].map((found) => whole.slice(found.index + found[0].length)),
  ];
  seen.set(text, starts);
  return starts;
}
