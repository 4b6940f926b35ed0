'use client';

// What the search line offers below it: what can be typed next, a reading of plain words, searches that are pinned and
// those that were used before.

import { useMemo } from 'react';
import { pieces } from '@/core/query/lex';
import { readPlainWords } from '@/core/query/plain-words';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { count } from '@/ui/format';
import { usePinnedScopes, useRecentScopes } from './kept-searches';

const OFFERED = 12;

export interface Option {
  id: string;
  /** The whole text after it was taken. */
  text: string;
  label: string;
  remark: string;
  group: string;
}

/** Completions of the word at the cursor, a reading of plain words, and scopes that were used before. */
export function useOptions(typed: string, cursor: number, open: boolean): Option[] {
  const { pinned } = usePinnedScopes();
  const { recent } = useRecentScopes();
  const atCursor = `${cursor} ${typed}`;
  const completions = useAsked(open ? atCursor : null, () => session.search.complete(typed, cursor, OFFERED));
  const plain = useAsked(open && isSentence(typed) ? typed : null, () => plainReading(typed));
  return useMemo(() => {
    const offered = (completions?.of === atCursor ? completions.answer : []).map((one, at): Option => ({
      id: `scope-complete-${at}`,
      text: typed.slice(0, one.start) + one.text + (one.kind === 'field' ? '' : ' ') + typed.slice(one.end).trimStart(),
      label: one.kind === 'field' ? `${one.text} ${one.label}` : one.label,
      remark: one.count === null ? '' : count(one.count),
      group: one.kind === 'field' ? 'Fields' : one.kind === 'value' ? 'Values' : 'Words',
    }));
    const reading = plain?.of === typed ? plain.answer : null;
    const read: Option[] = reading
      ? [
          {
            id: 'scope-plain',
            text: reading.scope,
            label: reading.scope,
            remark: reading.notUnderstood.length > 0 ? `not understood: ${reading.notUnderstood.join(', ')}` : '',
            group: 'Read as',
          },
        ]
      : [];
    const kept = (scopes: string[], group: string): Option[] =>
      scopes
        .filter(
          (one) =>
            one !== typed.trim() && (typed.trim() === '' || one.toLowerCase().includes(typed.trim().toLowerCase())),
        )
        .map((one, at) => ({ id: `scope-${group}-${at}`, text: one, label: one, remark: '', group }));
    return [
      ...read,
      ...offered,
      ...kept(pinned, 'Pinned'),
      ...kept(
        recent.filter((one) => !pinned.includes(one)),
        'Used before',
      ),
    ].slice(0, 20);
  }, [completions, plain, typed, atCursor, pinned, recent]);
}

/**
 * Words and nothing else, two at least: who writes fields, quotes or parentheses has said it in the language already.
 */
const isSentence = (typed: string): boolean => {
  const all = pieces(typed);
  return (
    all.length > 1 &&
    all.every((piece) => piece.kind === 'term' && piece.key === null && !piece.quoted) &&
    /\p{L}/u.test(typed)
  );
};

/** Worth offering only where it says something else than the words themselves. */
async function plainReading(typed: string): Promise<{ scope: string; notUnderstood: string[] } | null> {
  const words = [...new Set(typed.match(/[\p{L}\p{M}\p{N}’'-]+/gu) ?? [])].slice(0, 60);
  const counts = await session.search.count(words.map((word) => `"${word}"`));
  const known = new Set(words.filter((_, at) => (counts[at] ?? 0) > 0));
  const { scope, read, notUnderstood } = readPlainWords(typed, (word) => known.has(word));
  return scope !== '' && scope !== typed.trim() && read.some(({ text, term }) => text !== term)
    ? { scope, notUnderstood }
    : null;
}
