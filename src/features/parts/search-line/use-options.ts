'use client';

// What the search line offers below it: what can be typed next, a reading of plain words, searches that are pinned and
// those that were used before.

import { useMemo } from 'react';
import { pieces } from '@/core/query/lex';
import { readPlainWords } from '@/core/query/plain-words';
import { singularOf } from '@/core/text/plural';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { count, plural } from '@/ui/format';
import { usePinnedScopes, useRecentScopes } from './kept-searches';

const OFFERED = 12;

export interface Option {
  id: string;
  /** The whole text after it was taken. */
  text: string;
  label: string;
  remark: string;
  group: string;
  /** The reading of plain words; `sole` where it is clear, and finds something where the words alone find nothing. */
  reading?: 'offered' | 'clear' | 'sole';
}

/**
 * Completions of the word at the cursor, a reading of plain words, and scopes that were used before. A reading that
 * leaves no doubt stands alone.
 */
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
    const read = reading ? [readingOption(reading)] : [];
    if (read[0] && read[0].reading !== 'offered') return read;
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

interface Reading {
  scope: string;
  notUnderstood: string[];
  /** Photos it finds, and those the words find as they stand. */
  found: number;
  asTyped: number;
}

const readingOption = ({ scope, notUnderstood, found, asTyped }: Reading): Option => ({
  id: 'scope-plain',
  text: scope,
  label: scope,
  remark: plural(found, 'photo') + (notUnderstood.length > 0 ? `, not understood: ${notUnderstood.join(', ')}` : ''),
  group: 'Read as',
  reading: notUnderstood.length > 0 || found === 0 ? 'offered' : asTyped === 0 ? 'sole' : 'clear',
});

/** Worth offering only where it says something else than the words themselves. */
async function plainReading(typed: string): Promise<Reading | null> {
  const said = typed.match(/[\p{L}\p{M}\p{N}’'-]+/gu) ?? [];
  const words = [...new Set(said.flatMap((word) => [word, singularOf(word)]))].slice(0, 80);
  const counts = await session.search.count(words.map((word) => `"${word}"`));
  const known = new Set(words.filter((_, at) => (counts[at] ?? 0) > 0));
  const { scope, read, notUnderstood } = readPlainWords(typed, (word) => known.has(word));
  if (scope === '' || scope === typed.trim() || read.every(({ text, term }) => text === term)) return null;
  const [found = 0, asTyped = 0] = await session.search.count([scope, typed]);
  return { scope, notUnderstood, found, asTyped };
}
