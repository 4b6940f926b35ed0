// Values of fields: comparing them, and going between what people type, what formats hold and what the catalog keeps.

import { type NoticeLack, noticeLacks, withSign } from './notice';
import { FIELDS, type FieldKey, type FieldRow, type FieldValues, fieldOf } from './registry';
import { parseDirection } from '../geo/direction';
import { parseCoordinates } from '../geo/coordinates';
import { type Position, parsePosition, positionText } from '../geo/position';
import { type Captured, parseCaptured } from '../time/captured';
import { type FieldValue, type Shape, type Structure, isList, isStructure, isWordList } from './shape';
import { STRUCTURES } from './structures';
import { xmlCharacters } from '../formats/xmp/xml-tree';

export function sameValue(a: FieldValue | undefined, b: FieldValue | undefined): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object') return false;
  if (Array.isArray(a) || Array.isArray(b)) {
    return (
      Array.isArray(a) &&
      Array.isArray(b) &&
      a.length === b.length &&
      a.every((item, index) => sameValue(item, b[index]))
    );
  }
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length && keys.every((key) => Object.hasOwn(b, key) && sameValue(a[key], b[key]))
  );
}

export const sameFields = (a: FieldValues, b: FieldValues): boolean => differingKeys(a, b).length === 0;

export const differingKeys = (a: FieldValues, b: FieldValues): FieldKey[] =>
  FIELDS.map(({ key }) => key).filter((key) => !sameValue(a[key], b[key]));

/** The words of a list of words; of anything else none. */
export const wordsIn = (value: FieldValue | undefined): string[] =>
  Array.isArray(value) ? value.filter((item): item is string => typeof item === 'string') : [];

/** The structures of a value of structures, whichever form it has; of anything else none. */
export const structuresIn = (value: FieldValue | undefined): Structure[] =>
  value === undefined
    ? []
    : Array.isArray(value)
      ? value.filter((item): item is Structure => typeof item !== 'string')
      : isStructure(value)
        ? [value]
        : [];

/** When a photo was taken, as its fields say. */
export const capturedIn = ({ captured }: FieldValues): Captured | null =>
  typeof captured === 'string' ? parseCaptured(captured) : null;

/** The value as text: one string, or one for each word or structure of a list. Absent gives an empty list. */
export function toStrings(value: FieldValue | undefined): string[] {
  if (value === undefined) return [];
  if (Array.isArray(value)) return value.map((item) => (typeof item === 'string' ? item : structureText(item)));
  return [isStructure(value) ? structureText(value) : String(value)];
}

/** The words of a structure in the order of its members, as one line. */
function structureText(value: Structure): string {
  return Object.values(value).flatMap(toStrings).join(', ');
}

/** `True`/`False` and whole or plain decimal numbers become what they mean; any other text stays text. */
export function singleFromText({ value }: Pick<Shape, 'value'>, text: string): FieldValue | undefined {
  if (text === '') return undefined;
  if (value === 'number') return /^-?\d{1,15}(\.\d{1,10})?$/.test(text) ? Number(text) : text;
  if (value === 'boolean') return /^true$/i.test(text) ? true : /^false$/i.test(text) ? false : text;
  return text;
}

export const textOfSingle = (value: FieldValue): string =>
  value === true ? 'True' : value === false ? 'False' : String(value);

/** Strings as a format holds them, into a value. `undefined` when nothing is said, and for a rating that is none. */
export function fromStrings(row: FieldRow, strings: string[]): FieldValue | undefined {
  const said = strings.filter((text) => text !== '');
  if (said.length === 0 || row.value === 'structure') return undefined;
  if (isList(row)) return row.form === 'bag' ? [...new Set(said)] : said;
  return checked(row, singleFromText(row, said[0] ?? ''));
}

/** A rating is −1 to 5 and whole, a position on the earth; what else stands there is not understood. */
export function checked(row: Pick<FieldRow, 'xmp' | 'value'>, value: FieldValue | undefined): FieldValue | undefined {
  if (row.value === 'position') return typeof value === 'string' && parsePosition(value) ? value : undefined;
  if (row.xmp.name !== 'Rating') return value;
  return typeof value === 'number' && Number.isInteger(value) && value >= -1 && value <= 5 ? value : undefined;
}

/**
 * What a person typed into a form, into a value. Keywords part at commas and semicolons, other lists at semicolons
 * only.
 */
export function fromTyped(key: FieldKey, text: string): FieldValue | undefined {
  const row = fieldOf(key);
  const typed = xmlCharacters(text); // control characters, as pasted text may hold, have no place in any of the formats
  if (key === 'keywords') return fromStrings(row, splitKeywords(typed));
  if (row.value === 'position') return typedPosition(typed);
  if (isWordList(row))
    return fromStrings(
      row,
      typed.split(';').map((part) => part.trim()),
    );
  return fromStrings(row, [key === 'copyrightNotice' ? withSign(typed.trim()) : typed.trim()]);
}

/** The coordinates in whatever notation; an altitude only in our own, since no other says which number it is. */
function typedPosition(typed: string): string | undefined {
  const position = parsePosition(typed.trim()) ?? parseCoordinates(typed);
  return position ? positionText({ altitudeM: null, ...position }) : undefined;
}

export type ValueProblem = 'date' | 'number' | 'yes-or-no' | 'rating' | 'position' | 'direction';

/** Why a typed text is no value of a field; `null` where it is one, or nothing. */
export function valueProblemOf(key: FieldKey, typed: string): ValueProblem | null {
  const row = fieldOf(key);
  if (typed.trim() === '' || isList(row) || row.value === 'structure') return null;
  const value = fromTyped(key, typed);
  if (row.value === 'date') return parseCaptured(typed) ? null : 'date';
  if (row.value === 'position') return value === undefined ? 'position' : null;
  if (row.value === 'direction') return parseDirection(typed) ? null : 'direction';
  if (value === undefined) return 'rating';
  if (row.value === 'number') return typeof value === 'number' ? null : 'number';
  return row.value === 'boolean' && typeof value !== 'boolean' ? 'yes-or-no' : null;
}

/** What is kept as it is typed, and yet seems unfinished or mistaken. */
export type ValueRemark = `notice-${NoticeLack}` | 'address';

export function valueRemarksOf(key: FieldKey, typed: string): ValueRemark[] {
  if (key === 'copyrightNotice') return noticeLacks(typed).map((lack): ValueRemark => `notice-${lack}`);
  return key === 'rightsUrl' && typed.trim() !== '' && !isWebAddress(typed.trim()) ? ['address'] : [];
}

/** An address of the web: a scheme, two slashes, a host, and what comes after it without a space (RFC 3986, 3). */
const WEB_ADDRESS =
  /^https?:\/\/(?:[\p{L}\p{N}](?:[\p{L}\p{N}.-]*[\p{L}\p{N}])?|\[[0-9a-f:.]+\])(?::\d{1,5})?(?:[/?#]\S*)?$/iu;
const isWebAddress = (text: string): boolean => WEB_ADDRESS.test(text);

export function toTyped(value: FieldValue | undefined): string {
  return toStrings(value).join('; ');
}

/**
 * Comma, semicolon and the end of a line separate, a space does not (common practice); a word in quotes stays whole.
 */
export const splitKeywords = (typed: string): string[] => [
  ...new Set(
    [...typed.matchAll(/\s*(?:"([^"]*)"\s*(?=[,;\n]|$)|([^,;\n]+))/g)]
      .map((found) => (found[1] ?? found[2] ?? '').trim())
      .filter((part) => part !== ''),
  ),
];

/** A value as it is typed into a form for this field: `fromTyped` reads it as the same value. */
export const typedFor = (key: FieldKey, value: FieldValue | undefined): string =>
  key === 'keywords'
    ? wordsIn(value)
        .map((word) => (/[,;]/.test(word) ? `"${word}"` : word))
        .join('; ')
    : toTyped(value);

/** A structure with its empty members taken out, in the order of its table; `undefined` when nothing is left. */
export function tidyStructure(structure: keyof typeof STRUCTURES, value: Structure): Structure | undefined {
  const tidy: Record<string, FieldValue> = {};
  for (const member of STRUCTURES[structure]) {
    const kept = tidyMember(member, value[member.key]);
    if (kept !== undefined) tidy[member.key] = kept;
  }
  return Object.keys(tidy).length > 0 ? tidy : undefined;
}

function tidyMember(shape: Shape, value: FieldValue | undefined): FieldValue | undefined {
  if (value === undefined || value === '') return undefined;
  const { structure } = shape;
  if (structure === undefined) return Array.isArray(value) && value.length === 0 ? undefined : value;
  if (!Array.isArray(value)) return isStructure(value) ? tidyStructure(structure, value) : undefined;
  const items: Structure[] = [];
  for (const item of value) {
    const tidy = typeof item === 'string' ? undefined : tidyStructure(structure, item);
    if (tidy) items.push(tidy);
  }
  return items.length > 0 ? items : undefined;
}

/** Where the camera stood, as the fields say. */
export const positionIn = ({ position }: FieldValues): Position | null =>
  typeof position === 'string' ? parsePosition(position) : null;
