// The photos of a scope as a table, out and back in. A row is a photo, found again by its id; a column is a field, by
// its search name. What a spreadsheet does to cells on the way is not taken for an edit.

import { type Described, type FieldEdit, planSet } from '../fields/edits';
import { FIELDS, type FieldKey, type FieldRow } from '../fields/registry';
import { isWordList } from '../fields/shape';
import { fromStrings, toStrings, toTyped } from '../fields/values';
import { parseCaptured } from '../time/captured';

export const ID_COLUMN = 'photo';
export const FILE_COLUMN = 'file';

/** Structures have members and do not fit a cell. */
export const TABLE_FIELDS: readonly FieldRow[] = FIELDS.filter(({ value }) => value !== 'structure');

const byName = new Map(TABLE_FIELDS.map((row) => [row.searchName.toLowerCase(), row]));

/** A cell that a spreadsheet would take for a formula; numbers are none. */
const FORMULA = /^[=+@\t]|^-(?!\d+(?:\.\d+)?$)/;

export interface TablePhoto extends Described {
  path: string;
}

export function photoRows(photos: readonly TablePhoto[], keys: readonly FieldKey[]): string[][] {
  const rows = keys.map((key) => TABLE_FIELDS.find((row) => row.key === key)).filter((row) => row !== undefined);
  return [
    [ID_COLUMN, FILE_COLUMN, ...rows.map(({ searchName }) => searchName)],
    ...photos.map(({ id, path, fields }) => [
      id,
      path,
      ...rows.map(({ key, ...shape }) =>
        guardedCell(isWordList(shape) ? toStrings(fields[key]).map(listed).join('; ') : toTyped(fields[key])),
      ),
    ]),
  ];
}

/** As a spreadsheet takes it for text. */
export const guardedCell = (text: string): string => (FORMULA.test(text) ? `'${text}` : text);
const textOf = (cell: string): string =>
  (cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell).replace(/\r\n?/g, '\n');
/** A word with a semicolon in it is quoted, so that it stays one. */
const listed = (word: string): string => (/[;"]/.test(word) ? `"${word.replaceAll('"', '""')}"` : word);

/** The words of a cell: parted by semicolons, those in quotes whole. */
function wordsOf(cell: string): string[] {
  return [...cell.matchAll(/\s*(?:"((?:[^"]|"")*)"|([^;]*))\s*(?:;|$)/g)]
    .map(([, quoted, plain]) => (quoted === undefined ? (plain ?? '').trim() : quoted.replaceAll('""', '"')))
    .filter((word) => word !== '');
}

export type RowProblem = { row: number; why: 'no-photo' | 'twice' | 'too-short' | 'does-not-fit'; what: string };

export interface TableReading {
  edits: FieldEdit[];
  /** Rows that name a photo of the catalog. */
  rows: number;
  /** Names of columns that are no field. */
  unknownColumns: string[];
  problems: RowProblem[];
}

/**
 * The edits a table asks for. Throws nothing: what cannot be understood is named with its row, counted from 1 with the
 * head.
 * @param emptying whether an empty cell takes away what stands in the field
 */
export function readPhotoRows(
  rows: readonly (readonly string[])[],
  photos: ReadonlyMap<string, Described>,
  emptying: boolean,
): TableReading | { refused: 'no-head' | 'no-fields' } {
  const head = (rows[0] ?? []).map((cell) => cell.trim().toLowerCase());
  const idAt = head.indexOf(ID_COLUMN);
  if (idAt < 0) return { refused: 'no-head' };
  const columns = head.map((name) => byName.get(name));
  if (!columns.some((row) => row !== undefined)) return { refused: 'no-fields' };
  const reading: TableReading = {
    edits: [],
    rows: 0,
    unknownColumns: (rows[0] ?? []).filter((_, at) => at !== idAt && head[at] !== FILE_COLUMN && !columns[at]),
    problems: [],
  };
  const seen = new Set<string>();
  rows.slice(1).forEach((cells, index) => {
    const row = index + 2;
    const id = (cells[idAt] ?? '').trim();
    const photo = photos.get(id);
    if (!photo) return reading.problems.push({ row, why: 'no-photo', what: id });
    if (seen.has(id)) return reading.problems.push({ row, why: 'twice', what: id });
    seen.add(id);
    reading.rows += 1;
    columns.forEach((field, at) => {
      if (!field) return;
      const cell = cells[at];
      if (cell === undefined) return reading.problems.push({ row, why: 'too-short', what: field.label });
      readCell(reading, photo, field, textOf(cell), emptying, row);
    });
  });
  return reading;
}

function readCell(
  reading: TableReading,
  photo: Described,
  field: FieldRow,
  text: string,
  emptying: boolean,
  row: number,
): void {
  const before = photo.fields[field.key];
  if (text.trim() === '' && !emptying) return;
  const said = isWordList(field) ? toStrings(before) : [toTyped(before)];
  const cells = isWordList(field) ? wordsOf(text) : [text.trim()];
  if (said.length === cells.length && said.every((word, at) => isSameCell(word, cells[at] ?? ''))) return;
  const value = fromStrings(field, cells);
  const fits =
    text.trim() === '' ||
    (value !== undefined &&
      (field.value !== 'number' || typeof value === 'number') &&
      (field.value !== 'date' || parseCaptured(text) !== null));
  if (!fits) reading.problems.push({ row, why: 'does-not-fit', what: `${field.label}: ${text}` });
  else reading.edits.push(...planSet([photo], field.key, value));
}

/**
 * Whether a cell is what was written but for what spreadsheets do: zeros in front and blanks around gone, other ends of
 * lines, TRUE.
 */
function isSameCell(said: string, cell: string): boolean {
  const plain = (text: string) => text.replace(/\r\n?/g, '\n').trim();
  const [a, b] = [plain(said), plain(cell)];
  if (a === b) return true;
  if (/^0+\d+$/.test(a) && /^\d+$/.test(b)) return a.replace(/^0+(?=\d)/, '') === b;
  return /^(?:true|false)$/i.test(a) && a.toLowerCase() === b.toLowerCase();
}
