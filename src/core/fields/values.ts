// Values of fields: comparing them, and going between what people type, what XMP holds and what the catalog keeps.

import { FIELDS, type FieldKey, type FieldRow, type FieldType, type FieldValue, type FieldValues, fieldOf } from './registry';

const isList = (type: FieldType) => type === 'list' || type === 'names';

export function sameValue(a: FieldValue | undefined, b: FieldValue | undefined): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, index) => item === b[index]);
  return a === b;
}

export const sameFields = (a: FieldValues, b: FieldValues): boolean => differingKeys(a, b).length === 0;

export const differingKeys = (a: FieldValues, b: FieldValues): FieldKey[] =>
  FIELDS.map(({ key }) => key).filter((key) => !sameValue(a[key], b[key]));

/** The value as the strings XMP keeps. Absent gives an empty list. */
export function toStrings(value: FieldValue | undefined): string[] {
  if (value === undefined) return [];
  return Array.isArray(value) ? value : [String(value)];
}

/** Strings as a format holds them, into a value. `undefined` when nothing is said; a rating that is no whole number is not one. */
export function fromStrings(row: FieldRow, strings: string[]): FieldValue | undefined {
  const said = strings.filter((text) => text !== '');
  if (said.length === 0) return undefined;
  if (isList(row.type)) return row.type === 'list' ? [...new Set(said)] : said;
  const text = said[0] ?? '';
  if (row.type !== 'number') return text;
  const number = Number(text);
  return Number.isInteger(number) && number >= -1 && number <= 5 ? number : undefined;
}

/** What a person typed into a form, into a value. Keywords part at commas and semicolons, names at semicolons only. */
export function fromTyped(key: FieldKey, typed: string): FieldValue | undefined {
  const row = fieldOf(key);
  if (row.type === 'list') return fromStrings(row, splitKeywords(typed));
  if (row.type === 'names') return fromStrings(row, typed.split(';').map((part) => part.trim()));
  return fromStrings(row, [typed.trim()]);
}

export function toTyped(value: FieldValue | undefined): string {
  return toStrings(value).join('; ');
}

/** Comma and semicolon both separate; a space does not (common practice). */
export const splitKeywords = (typed: string): string[] => [...new Set(typed.split(/[,;\n]/).map((part) => part.trim()).filter((part) => part !== ''))];
