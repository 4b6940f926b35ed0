// Blanks: holes left in a text on purpose, with a hint what belongs there: `[?who does what]`. In the text itself, so
// that every program shows them and none can mistake them for said.

import type { FieldKey, FieldValues } from '../fields/registry';

/** Where a blank stands in its text, in UTF-16 units, its brackets included. */
export interface Blank {
  start: number;
  end: number;
  hint: string;
}

const BLANK = /\[\?[^[\]]*\]/;
/** The fields in which blanks are looked for and filled. */
const WITH_BLANKS: readonly FieldKey[] = ['caption', 'headline', 'title', 'altText', 'extendedDescription'];

export const hasBlank = (text: unknown): boolean => typeof text === 'string' && BLANK.test(text);

/** Whether any text of the photo still has one. */
export const hasOpenBlank = (fields: FieldValues): boolean => WITH_BLANKS.some((key) => hasBlank(fields[key]));

export const blankOf = (hint: string): string => `[?${hint.replace(/[[\]]/g, '')}]`;

export function blanksIn(text: string): Blank[] {
  return [...text.matchAll(new RegExp(BLANK, 'g'))].map((found) => ({
    start: found.index,
    end: found.index + found[0].length,
    hint: found[0].slice(2, -1).trim(),
  }));
}

/**
 * The first blank that begins at or after `from`; behind the last one, the first of the text again. `null` without any.
 */
export function blankAfter(text: string, from: number): Blank | null {
  const blanks = blanksIn(text);
  return blanks.find(({ start }) => start >= from) ?? blanks[0] ?? null;
}
