'use client';

// The vocabulary and the words photos carry, read once for all screens: the tree, what is offered while typing, and how
// the person wants words to be given.

import { useEffect } from 'react';
import { create } from 'zustand';
import { z } from 'zod';
import { type ShorthandIndex, indexShorthand } from '@/core/describe/shorthand';
import { knownWords } from '@/core/search/vocabulary-words';
import type { UsedWord } from '@/core/vocabulary/alike';
import { Completions } from '@/core/vocabulary/completion';
import { type Vocabulary, vocabularyOf } from '@/core/vocabulary/vocabulary';
import { useLive } from '@/storage/catalog/live';
import { keptChoice } from '@/ui/kept-choice';
import { session } from '@/engine/session';
import { plain } from '@/core/text/fold';
import { useSession } from '@/features/parts/session/use-session';

interface Words {
  vocabulary: Vocabulary;
  /** How many photos carry a word, by its plain form. */
  counts: ReadonlyMap<string, number>;
  used: readonly UsedWord[];
  completions: Completions;
  /** Codes of the lists that are offered. */
  shorthand: ShorthandIndex;
}

export const useWords = create<Words>(() => ({
  vocabulary: vocabularyOf([]),
  counts: new Map(),
  used: [],
  completions: new Completions(() => []),
  shorthand: new Map(),
}));

/** Whether the words above a word are given with it; and the words that were given last, the latest first. */
export const useGiving = keptChoice<{ implied: boolean; recent: string[] }>(
  'wembo-giving-words',
  z.object({ implied: z.boolean(), recent: z.array(z.string()).default([]) }),
  { implied: false, recent: [] },
);
const RECENT = 10;

export const rememberGiven = (words: readonly string[]): void =>
  useGiving.setState(({ recent }) => ({ recent: [...new Set([...words, ...recent])].slice(0, RECENT) }));

/** After so long without a change the counts are asked for anew. */
const CALM_MS = 400;

/** Keeps the words current; for the frame. */
export function useKeepWords(): void {
  const stage = useSession((state) => state.stage.state);
  const version = useSession((state) => state.indexVersion);
  const entries = useLive(() => session.db.vocabulary.toArray(), []);
  const lists = useLive(() => session.db.shorthand.toArray(), []);
  useEffect(() => useWords.setState({ shorthand: indexShorthand(lists ?? []) }), [lists]);
  useEffect(() => {
    if (!entries || stage !== 'ready') return;
    const vocabulary = vocabularyOf(entries);
    useWords.setState({ vocabulary });
    offer();
    session.search.knowWords(knownWords(vocabulary)).then(
      () => session.searchedAnew(),
      () => undefined,
    ); // the worker died: it is told again when it is filled
  }, [entries, stage]);
  useEffect(() => {
    if (stage !== 'ready') return;
    const timer = setTimeout(() => {
      session.search.keywordCounts().then(
        (used) => {
          const counts = new Map<string, number>();
          for (const { word, count } of used) counts.set(plain(word), (counts.get(plain(word)) ?? 0) + count);
          useWords.setState({ used, counts });
          offer();
        },
        () => undefined,
      ); // the index is being filled anew; the next version asks again
    }, CALM_MS);
    return () => clearTimeout(timer);
  }, [version, stage]);
}

/** What is offered while typing: the vocabulary, and words that only photos carry. */
function offer(): void {
  const { vocabulary, counts, used } = useWords.getState();
  const list = () => [
    ...[...vocabulary.byId.values()].map(({ id, word, synonyms }) => ({
      id,
      word,
      also: synonyms,
      count: counts.get(plain(word)) ?? 0,
      path: vocabulary
        .path(id)
        .slice(0, -1)
        .map((above) => above.word)
        .join(' › '),
    })),
    ...used
      .filter(({ word }) => vocabulary.named(word).length === 0)
      .map(({ word, count }) => ({ id: null, word, also: [], count, path: '' })),
  ];
  useWords.setState({ completions: new Completions(list) });
}
