// Which fields are searched as words, and the words they give. Numbers, dates and yes-or-no have terms of their own.

import { WRITTEN_FIELDS, type FieldRow } from './registry';
import type { FieldValue } from './shape';
import { toStrings } from './values';

export const SEARCHED_FIELDS: readonly FieldRow[] = WRITTEN_FIELDS.filter(
  ({ value }) => value === 'text' || value === 'code' || value === 'structure',
);

/** A code from a short list is searched by what it means. */
export const searchedTexts = (row: FieldRow, value: FieldValue | undefined): string[] =>
  value === undefined
    ? []
    : toStrings(value).map((text) => row.choices?.find((choice) => choice.value === text)?.label ?? text);
