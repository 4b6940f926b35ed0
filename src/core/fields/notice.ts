// A copyright notice: the sign, the year of first publication and the name of the owner (Universal Copyright Convention,
// article III 1; 17 U.S.C. § 401 (b)).

import type { FieldValue } from './shape';

export type NoticeLack = 'year' | 'name';

/** `(c)`, as keyboards have it, as the sign. */
export const withSign = (text: string): string => text.replace(/\(c\)/gi, '©');

const SIGN = /©|\(c\)|\bcopyright\b|\bcopr\./gi;
const YEARS = /\b(?:1[6-9]|20)\d\d\b(?:\s*[-–—/,]\s*(?:(?:1[6-9]|20)?\d\d)\b)*/g;
/** Words that are no name. */
const PHRASES = /\ball rights reserved\b|\balle rechte vorbehalten\b|\bby\b|\bpublic domain\b/gi;

/** What a notice that says something is short of; nothing for an empty one. */
export function noticeLacks(value: FieldValue | undefined): NoticeLack[] {
  const text = typeof value === 'string' ? value.trim() : '';
  if (text === '' || /\bpublic domain\b/i.test(text)) return [];
  const hasYear = text.search(YEARS) >= 0;
  const rest = text.replace(SIGN, '').replace(YEARS, '').replace(PHRASES, '');
  const hasName = /\p{L}{2}/u.test(rest);
  return [...(hasYear ? [] : (['year'] as const)), ...(hasName ? [] : (['name'] as const))];
}
