// What each condition of a scope does: how many photos it finds alone, and how many there would be without it. For the
// moment in which nothing is found, and for the line's own explanation; with words that occur nowhere, and what was
// meant most likely.

import { type Piece, pieces } from '../query/lex';
import { parseScope } from '../query/parse-scope';
import { collectionsIn, queryOf } from '../query/query';
import { countBits } from './bit-set';
import { editDistance } from '../text/edit-distance';
import { evaluate } from './evaluate';
import type { SearchContext } from './search-context';
import { wordsOf } from '../text/fold';

export interface ExplainedItem {
  start: number;
  end: number;
  /** Photos it finds by itself, and photos that the others find without it. */
  alone: number;
  without: number;
}

/** A word of the scope that no photo has, and one like it that some have. */
export interface Unheard {
  start: number;
  end: number;
  word: string;
  /** The text to put in its place, and photos that have it; `null` where none is near. */
  meant: { text: string; count: number } | null;
}

export interface Explained {
  items: ExplainedItem[];
  unheard: Unheard[];
  /** Collections that the scope names and that are not there, or refer to themselves. */
  noCollection: string[];
}

export function explainScope(text: string, context: SearchContext): Explained {
  const { items } = parseScope(text);
  const count = (of: typeof items) => countBits(evaluate(queryOf({ items: of }), context));
  return {
    items: items.map((item) => ({
      start: item.start,
      end: item.end,
      alone: count([item]),
      without: count(items.filter((other) => other !== item)),
    })),
    unheard: pieces(text).flatMap((piece) => unheardIn(piece, context)),
    noCollection: collectionsIn({ items }).filter((name) => context.collection(name) === null),
  };
}

function unheardIn(piece: Piece, { words }: SearchContext): Unheard[] {
  if (piece.kind !== 'term' || piece.operator !== ':' || (piece.key !== null && piece.key !== 'keyword')) return [];
  return wordsOf(piece.value).flatMap((word) => {
    if (words.wordsWith(word, 1).length > 0) return [];
    const meant = nearestCarried(word, words);
    return [
      {
        start: piece.start,
        end: piece.end,
        word,
        meant: meant && {
          text:
            (piece.key === null ? '' : `${piece.key}:`) +
            (piece.quoted ? `"${piece.value.toLowerCase().replace(word, meant.word)}"` : meant.word),
          count: meant.count,
        },
      },
    ];
  });
}

/** Letters by which a word may be off: one of few, two of many. */
const stepsFor = (word: string): number => (word.length < 4 ? 0 : word.length < 7 ? 1 : 2);

/** The nearest word that photos have; of several as near, the one most have. Goes through all words once. */
function nearestCarried(word: string, words: SearchContext['words']): { word: string; count: number } | null {
  let best: { word: string; count: number; steps: number } | null = null;
  const most = stepsFor(word);
  if (most === 0) return null;
  for (const other of words.allWords()) {
    if (Math.abs(other.length - word.length) > most || /^\d/.test(other)) continue;
    const steps = editDistance(word, other, best?.steps ?? most);
    if (steps > (best?.steps ?? most)) continue;
    const count = words.countOf(other);
    if (count > 0 && (!best || steps < best.steps || count > best.count)) best = { word: other, count, steps };
  }
  return best && { word: best.word, count: best.count };
}
