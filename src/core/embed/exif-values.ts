// The tags of EXIF that carry fields: which of them must change so that EXIF says what the fields say.

import { joinBytes, asciiBytes, u16Bytes } from '../bytes/join';
import { encodeUtf8 } from '../bytes/text';
import { exifStrings } from '../exif/exif-text';
import type { Tiff } from '../exif/tiff';
import { FIELDS, type ExifTag, type FieldRow, type FieldValues } from '../fields/registry';
import { fromStrings, sameValue, toStrings } from '../fields/values';
import type { DirectoryEdits, TagValue } from './exif-edit';

/** What differs between the directories and the fields. `tiff` is the structure as it was before we appended to it. */
export function exifEdits(tiff: Tiff, fields: FieldValues): DirectoryEdits {
  const edits: DirectoryEdits = { main: new Map(), exif: new Map() };
  for (const row of FIELDS) {
    if (!row.exif || sameValue(fromStrings(row, exifStrings([tiff], row)), fields[row.key])) continue;
    for (const [tag, value] of tagValues(row, row.exif, fields, tiff.littleEndian)) edits[row.exif.directory].set(tag, value);
  }
  return edits;
}

function tagValues(row: FieldRow, exif: ExifTag, fields: FieldValues, littleEndian: boolean): [number, TagValue | null][] {
  const strings = toStrings(fields[row.key]);
  const [text] = strings;
  if (exif.notation === 'date') return dateValues(exif, text);
  if (text === undefined) return [[exif.tag, null]];
  if (exif.notation === 'artists') return [[exif.tag, ascii(strings.join('; '))]];
  if (exif.notation === 'comment') return [[exif.tag, comment(text, littleEndian)]];
  return [[exif.tag, ascii(text)]];
}

/** Text in UTF-8, ended by a zero: what EXIF calls ASCII, and what readers have long agreed on (MWG guidelines 2.0, section 5.2). */
function ascii(text: string): TagValue {
  const bytes = joinBytes([encodeUtf8(text), new Uint8Array(1)]);
  return { type: 2, count: bytes.length, bytes };
}

/** A date without a day or a time has no form in EXIF; then EXIF says nothing rather than something else. */
function dateValues(exif: ExifTag, iso: string | undefined): [number, TagValue | null][] {
  const found = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}:\d{2}:\d{2})(?:\.(\d+))?(Z|[+-]\d{2}:\d{2})?$/.exec(iso ?? '');
  const date = found ? ascii(`${found[1]}:${found[2]}:${found[3]} ${found[4]}`) : null;
  const values: [number, TagValue | null][] = [[exif.tag, date]];
  if (exif.subSec !== undefined) values.push([exif.subSec, found?.[5] ? ascii(found[5]) : null]);
  if (exif.offset !== undefined) values.push([exif.offset, found?.[6] ? ascii(found[6] === 'Z' ? '+00:00' : found[6]) : null]);
  return values;
}

/** Plain letters as ASCII, all others as UTF-16 in the byte order of the file (EXIF 2.32, table 9). */
function comment(text: string, littleEndian: boolean): TagValue {
  const plain = /^[\x20-\x7e\n\r\t]*$/.test(text);
  const units = Array.from({ length: text.length }, (_, index) => u16Bytes(text.charCodeAt(index), littleEndian));
  const bytes = plain ? joinBytes([asciiBytes('ASCII\0\0\0'), asciiBytes(text)]) : joinBytes([asciiBytes('UNICODE\0'), ...units]);
  return { type: 7, count: bytes.length, bytes };
}
