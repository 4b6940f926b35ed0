// A table of what was sent: a row a file, its words beside it. Cells are guarded against formulas, as in all our tables.

import { guardedCell } from '../describe/photo-table';
import { WRITTEN_FIELDS, type FieldKey, type FieldValues, fieldOf } from '../fields/registry';
import { toStrings } from '../fields/values';
import { type Separator, writeTable } from '../text/delimited';

export interface CaptionedFile {
  name: string;
  fields: FieldValues;
}

/** Columns are the fields that any of the files has, by their labels; structures are told in one line. */
export function captionsTable(files: readonly CaptionedFile[], separator: Separator = ','): string {
  const used = new Set(files.flatMap(({ fields }) => Object.keys(fields) as FieldKey[]));
  const keys = WRITTEN_FIELDS.map(({ key }) => key).filter((key) => used.has(key) && key !== 'keywordTree');
  const rows = files.map(({ name, fields }) => [name, ...keys.map((key) => toStrings(fields[key]).join('; '))]);
  return `\uFEFF${writeTable(
    [['File', ...keys.map((key) => fieldOf(key).label)], ...rows].map((cells) => cells.map(guardedCell)),
    separator,
  )}`;
}
