// Shorthand: short codes that grow into names and phrases. A code is only ever offered, and only where it stands as a
// word of its own right before the cursor; it grows when the person asks for it, so no ordinary word can turn into
// something else.

import type { Versioned } from '../fields/version';

/** A list of codes, kept under its name. */
export interface ShorthandList extends Versioned {
  id: string;
  name: string;
  entries: ShorthandEntry[];
  /** Whether its codes are offered. */
  active: boolean;
}

export interface ShorthandEntry {
  code: string;
  /** One or more ways to say it: name, full name, name with role. */
  expansions: string[];
}

/** A code right before the cursor and what it may become. */
export interface Offer {
  /** Where it stands in the text, in UTF-16 units. */
  start: number;
  end: number;
  code: string;
  /** Each once, with the list it comes from. */
  expansions: { text: string; list: string }[];
}

const LONGEST_CODE = 24;
/** What the file on the drives takes. */
const LONGEST_EXPANSION = 5000;
const MOST_EXPANSIONS = 50;
/** One letter more than a code may have, so that the end of a longer word is not taken for one. */
const WORD_BEFORE = new RegExp(`[\\p{L}\\p{N}\\p{M}_-]{1,${LONGEST_CODE + 1}}$`, 'u');
const WORD_GOES_ON = /^[\p{L}\p{N}\p{M}_-]/u;

/** Codes by their form without regard to case. */
export type ShorthandIndex = ReadonlyMap<string, { code: string; expansions: { text: string; list: string }[] }>;

const folded = (code: string): string => code.normalize('NFC').toLowerCase();

export function indexShorthand(lists: readonly ShorthandList[]): ShorthandIndex {
  const index = new Map<string, { code: string; expansions: { text: string; list: string }[] }>();
  for (const { name, entries, active, deleted } of lists) {
    if (!active || deleted) continue;
    for (const { code, expansions } of entries) {
      const known = index.get(folded(code)) ?? { code, expansions: [] };
      for (const text of expansions)
        if (!known.expansions.some((one) => one.text === text)) known.expansions.push({ text, list: name });
      index.set(folded(code), known);
    }
  }
  return index;
}

/** What stands right before the cursor, where it is a code and the word ends there; otherwise `null`. */
export function offerAt(text: string, cursor: number, index: ShorthandIndex): Offer | null {
  if (WORD_GOES_ON.test(text.slice(cursor, cursor + 2))) return null;
  const word = WORD_BEFORE.exec(text.slice(Math.max(0, cursor - LONGEST_CODE - 1), cursor))?.[0];
  if (word === undefined || word.length > LONGEST_CODE) return null;
  const found = index.get(folded(word));
  return found ? { start: cursor - word.length, end: cursor, ...found } : null;
}

/** Codes that several active lists understand differently. */
export function shorthandConflicts(
  lists: readonly ShorthandList[],
): { code: string; expansions: { text: string; list: string }[] }[] {
  return [...indexShorthand(lists).values()].filter(
    ({ expansions }) => new Set(expansions.map(({ list }) => list)).size > 1,
  );
}

/**
 * Rows of a table, first column the code, the others its expansions. What is no code is named with its row, counted
 * from 1.
 */
export function readShorthand(rows: readonly (readonly string[])[]): {
  entries: ShorthandEntry[];
  refused: { row: number; code: string; why: 'no-code' | 'no-expansion' | 'not-one-word' | 'too-long' }[];
} {
  const byCode = new Map<string, ShorthandEntry>();
  const refused: ReturnType<typeof readShorthand>['refused'] = [];
  rows.forEach((cells, index) => {
    const [code = '', ...rest] = cells.map((cell) => cell.trim());
    const expansions = rest.filter((text) => text !== '').map((text) => text.slice(0, LONGEST_EXPANSION));
    if (code === '' && expansions.length === 0) return;
    const why = whyNoCode(code) ?? (expansions.length === 0 ? 'no-expansion' : null);
    if (why) refused.push({ row: index + 1, code, why });
    else
      byCode.set(folded(code), {
        code,
        expansions: [...new Set([...(byCode.get(folded(code))?.expansions ?? []), ...expansions])].slice(
          0,
          MOST_EXPANSIONS,
        ),
      });
  });
  return { entries: [...byCode.values()], refused };
}

/** Why a text cannot be a code; `null` where it can. */
export function whyNoCode(code: string): 'no-code' | 'not-one-word' | 'too-long' | null {
  if (code === '') return 'no-code';
  if (code.length > LONGEST_CODE) return 'too-long';
  return WORD_BEFORE.exec(code)?.[0] === code ? null : 'not-one-word';
}
