// What holds where EXIF, IIM and XMP say the same thing three times (MWG guidelines for handling image metadata 2.0,
// sections 3.3 and 5, from memory).
//
//   EXIF says something                                       → EXIF
//   IIM and XMP say something, and a stored digest shows that
//     IIM was changed after XMP                               → IIM
//   else                                                      → XMP, then IIM
//
// Four exceptions, all of which lose nothing: where the winner is the other's value cut at a byte limit, or the other's
// value with letters replaced by question marks, the whole value wins; of two dates that agree as far as the shorter
// goes the fuller one, with its time or its offset, wins, and of two positions the one with its altitude; what a camera
// fills in by itself counts as nothing (`exif-text.ts`). Where IIM changed but has nothing for a field, XMP keeps it:
// an absent dataset is no deletion.

import { encodeUtf8 } from '../../bytes/text';
import { exifStrings } from './exif-fields';
import type { Tiff } from '../../formats/tiff/tiff';
import { FIELDS, type FieldKey, type FieldRow, type FieldValues } from '../../fields/registry';
import type { FieldValue } from '../../fields/shape';
import { fromStrings, sameValue } from '../../fields/values';
import { parsePosition, samePosition } from '../../geo/position';
import { type Iim, iimStrings } from '../../formats/iim/iim';
import type { PropertyMap } from '../../formats/xmp/packet';
import { fieldSaid } from '../xmp/sidecar';

/** Which family of metadata a value came from; `video` are the atoms of a video. */
export type Family = 'exif' | 'iim' | 'xmp' | 'video';

export interface Statement {
  family: Family;
  value: FieldValue;
}

export interface Disagreement {
  key: FieldKey;
  /** What each family says, the one that holds first. */
  said: Statement[];
}

export interface Reconciled {
  fields: FieldValues;
  sources: Partial<Record<FieldKey, Family>>;
  disagreements: Disagreement[];
}

export interface Sayings {
  tiffs: readonly Tiff[];
  properties: PropertyMap;
  iim: Iim | null;
  iimDigest: 'none' | 'same' | 'differs';
}

export function reconcile({ tiffs, properties, iim, iimDigest }: Sayings): Reconciled {
  const inIim = new Set(iim?.datasets.map(({ record, dataset }) => record * 256 + dataset));
  const reconciled: Reconciled = { fields: {}, sources: {}, disagreements: [] };
  for (const row of FIELDS) {
    const statements: Statement[] = [];
    if (row.exif && tiffs.length > 0) state(statements, 'exif', fromStrings(row, exifStrings(tiffs, row)));
    const inXmp = fieldSaid(properties, row);
    if (inXmp.state === 'value') statements.push({ family: 'xmp', value: inXmp.value });
    if (row.iim && iim && inIim.has(row.iim.record * 256 + row.iim.dataset))
      state(statements, 'iim', fromStrings(row, iimStrings(iim, row.iim)));
    if (statements.length > 0) settle(reconciled, row, statements, iimDigest);
  }
  return reconciled;
}

function state(statements: Statement[], family: Family, value: FieldValue | undefined): void {
  if (value !== undefined) statements.push({ family, value });
}

/** `statements` in the order EXIF, XMP, IIM, each once at most. */
function settle(into: Reconciled, row: FieldRow, statements: Statement[], digest: Sayings['iimDigest']): void {
  if (digest === 'differs' && statements.at(-1)?.family === 'iim' && statements.at(-2)?.family === 'xmp')
    statements.splice(-2, 2, ...statements.slice(-2).reverse());
  let [first] = statements;
  for (const other of statements) if (first && other !== first && isLesserForm(row, first, other)) first = other;
  if (!first) return;
  into.fields[row.key] = first.value;
  into.sources[row.key] = first.family;
  const differing = statements.filter((other) => first && other !== first && !sayTheSame(row, first, other));
  if (differing.length > 0) into.disagreements.push({ key: row.key, said: [first, ...differing] });
}

const sayTheSame = (row: FieldRow, a: Statement, b: Statement): boolean =>
  sameValue(a.value, b.value) ||
  (row.value === 'position' && samePosition(String(a.value), String(b.value))) ||
  sameValue(comparable(row, a.value), comparable(row, b.value)) ||
  isLesserForm(row, a, b) ||
  isLesserForm(row, b, a);

/** Line ends, outer blanks and the order of a bag do not count. */
function comparable(row: FieldRow, value: FieldValue): FieldValue {
  const text = (words: string) => words.replace(/\r\n?/g, '\n').trim();
  if (typeof value === 'string') return text(value);
  if (!Array.isArray(value) || !value.every((item) => typeof item === 'string')) return value;
  const words = value.map(text);
  return row.form === 'bag' ? words.toSorted() : words;
}

/** Whether `lesser` is what a family with less room or fewer letters makes of `whole`. */
function isLesserForm(row: FieldRow, lesser: Statement, whole: Statement): boolean {
  if (sameValue(lesser.value, whole.value)) return false;
  if (row.value === 'position')
    return (
      samePosition(String(lesser.value), String(whole.value)) &&
      parsePosition(String(lesser.value))?.altitudeM === null &&
      parsePosition(String(whole.value))?.altitudeM !== null
    );
  if (row.value === 'date') return saysLess(String(lesser.value), String(whole.value));
  const lists = [lesser.value, whole.value].map((value) => (Array.isArray(value) ? value : [value]));
  const [a = [], b = []] = lists;
  if (a.length !== b.length || sameValue(comparable(row, lesser.value), comparable(row, whole.value))) return false;
  const limit = lesser.family === 'iim' ? (row.iim?.maxBytes ?? 0) : 0;
  return a.every(
    (short, index) =>
      typeof short === 'string' &&
      typeof b[index] === 'string' &&
      (short === b[index] || isCut(short, b[index], limit) || isMangled(short, b[index])),
  );
}

/**
 * Cut at the limit of IIM, in whatever character set it was: so near it that no whole character more would have fitted.
 */
function isCut(short: string, whole: string, limitBytes: number): boolean {
  if (limitBytes === 0 || short.length >= whole.length || !whole.startsWith(short)) return false;
  const bytes = encodeUtf8(short).length;
  return (bytes <= limitBytes && bytes > limitBytes - 4) || short.length === limitBytes;
}

/** Letters that a family could not hold, as question marks: one, or one for each byte. */
function isMangled(short: string, whole: string): boolean {
  if (!short.includes('?') || /^[\x20-\x7e\s]*$/.test(whole)) return false;
  // eslint-disable-next-line no-control-regex
  const foreign = /[^\x00-\x7f]/gu;
  return (
    short === whole.replace(foreign, '?') ||
    short === whole.replace(foreign, (letter) => '?'.repeat(encodeUtf8(letter).length))
  );
}

/** A date that only says less: without the time, the fraction or the offset of the other, and else the same. */
function saysLess(short: string, long: string): boolean {
  const parts = (text: string) =>
    /^(\d{4}(?:-\d{2}(?:-\d{2})?)?)(?:T([\d:]{5,8})(\.\d+)?(Z|[+-]\d{2}:\d{2})?)?$/.exec(text)?.slice(1) ?? [];
  const [shortDate, shortTime, shortFraction, shortOffset] = parts(short);
  const [longDate, longTime, longFraction, longOffset] = parts(long);
  if (short === long || shortDate === undefined || longDate === undefined) return false;
  if (shortTime === undefined)
    return longDate.startsWith(shortDate) && (longTime !== undefined || longDate !== shortDate);
  if (shortDate !== longDate || shortTime !== longTime) return false;
  return (shortFraction ?? longFraction) === longFraction && (shortOffset ?? longOffset) === longOffset;
}
