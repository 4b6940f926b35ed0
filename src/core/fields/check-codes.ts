// Whether the codes of a photo are codes: of the right form, and in their list where the whole list is known.

import { FIELDS, type FieldKey, type FieldRow, type FieldValues } from './registry';
import { toStrings } from './values';
import { CODE_LISTS, type Code, type CodeList } from './code-lists';
import { plain } from '../text/fold';

/** `form`: it cannot be a code of the list. `unknown`: it could be one and is not. */
export type CodeProblem = 'form' | 'unknown';

export interface WrongCodeProblem {
  key: FieldKey;
  code: string;
  problem: CodeProblem;
}

const CODED: readonly FieldRow[] = FIELDS.filter(
  ({ key, choices }) => CODE_LISTS[key] !== undefined || choices !== undefined,
);

const known = new Map(
  Object.entries(CODE_LISTS).map(([key, list]) => [
    key,
    new Set(list.codes.flatMap(({ code, note }) => (key === 'countryCode' ? [code, note] : [code]))),
  ]),
);

export function wrongCodes(fields: FieldValues): WrongCodeProblem[] {
  return CODED.flatMap((row) => toStrings(fields[row.key]).flatMap((code) => problemOfCode(row, code) ?? []));
}

function problemOfCode(row: FieldRow, code: string): WrongCodeProblem | null {
  const { key } = row;
  const list = CODE_LISTS[key];
  if (!list)
    return row.choices?.some(({ value }) => value === code) === false ? { key, code, problem: 'unknown' } : null;
  if (!list.form.test(code)) return { key, code, problem: 'form' };
  return list.complete && known.get(key)?.has(code) === false ? { key, code, problem: 'unknown' } : null;
}

export const codeListOf = (key: FieldKey): CodeList | undefined => CODE_LISTS[key];

/** Codes whose own form or whose words begin as typed, at most so many. Words may be typed in any order. */
export function lookUpCodes(list: readonly Code[], typed: string, limit: number): Code[] {
  const words = plain(typed)
    .split(' ')
    .filter((word) => word !== '');
  if (words.length === 0) return list.slice(0, limit);
  const fits = ({ code, label, note }: Code) => {
    const own = plain(`${code} ${label} ${note}`).split(/[\s,;:()-]+/);
    return words.every((word) => own.some((one) => one.startsWith(word)));
  };
  return list.filter(fits).slice(0, limit);
}
