// The vocabulary as the nodes of a tree on the screen.

import { plain } from '@/core/text/fold';
import type { Vocabulary } from '@/core/vocabulary/vocabulary';

export interface WordNode {
  key: string;
  title: string;
  synonyms: string[];
  children: WordNode[];
  'aria-level': number;
}

/** The words as a tree; where one is sought, only what fits, with the words above it. `sought` in its plain form. */
export function wordNodes(vocabulary: Vocabulary, sought: string): WordNode[] {
  const fits =
    sought === ''
      ? null
      : new Set(
          [...vocabulary.byId.values()]
            .filter(({ word, synonyms }) => [word, ...synonyms].some((text) => plain(text).includes(sought)))
            .flatMap(({ id }) => vocabulary.path(id).map((above) => above.id)),
        );
  const below = (parent: string | null, level: number): WordNode[] =>
    vocabulary
      .below(parent)
      .filter(({ id }) => fits === null || fits.has(id))
      .map(({ id, word, synonyms }) => ({
        key: id,
        title: word,
        synonyms,
        children: below(id, level + 1),
        'aria-level': level,
      }));
  return below(null, 1);
}
