// The tags of EXIF that carry fields: which of them must change so that EXIF says what the fields say.

import { joinBytes, asciiBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { encodeUtf8 } from '../../bytes/text';
import { exifStrings } from '../reading/exif-fields';
import { GPS } from '../../formats/tiff/exif-tags';
import type { Tiff } from '../../formats/tiff/tiff';
import { FIELDS, type ExifTag, type FieldRow, type FieldValues } from '../../fields/registry';
import { fromStrings, sameValue, toStrings } from '../../fields/values';
import { parseDirection } from '../../geo/direction';
import { parsePosition } from '../../geo/position';
import { type DirectoryEdits, type TagValue, noEdits } from './exif-edit';

/** What differs between the directories and the fields. `tiff` is the structure as it was before we appended to it. */
export function exifEdits(tiff: Tiff, fields: FieldValues): DirectoryEdits {
  const edits = noEdits();
  for (const row of FIELDS) {
    if (!row.exif) continue;
    const said = exifStrings([tiff], row);
    if (sameValue(fromStrings(row, said), fields[row.key])) continue;
    for (const [tag, value] of tagValues(row, row.exif, fields, said, tiff.littleEndian))
      edits[row.exif.directory].set(tag, value);
  }
  return edits;
}

function tagValues(
  row: FieldRow,
  exif: ExifTag,
  fields: FieldValues,
  said: readonly string[],
  littleEndian: boolean,
): [number, TagValue | null][] {
  const strings = toStrings(fields[row.key]);
  const [text] = strings;
  if (exif.notation === 'date') return dateValues(exif, text);
  if (exif.notation === 'position') return positionValues(text, littleEndian);
  if (exif.notation === 'direction') return directionValues(text, littleEndian);
  if (exif.notation === 'gps-time') return timeValues(text, littleEndian);
  if (exif.notation === 'rating') return ratingValue(exif, text, said.length > 0, littleEndian);
  if (text === undefined) return [[exif.tag, null]];
  if (exif.notation === 'artists') return [[exif.tag, exifText(strings.join('; '))]];
  if (exif.notation === 'comment') return [[exif.tag, comment(text, littleEndian)]];
  return [[exif.tag, exifText(text)]];
}

/**
 * Text in UTF-8, ended by a zero: what EXIF calls ASCII, and what readers have long agreed on (MWG guidelines 2.0,
 * section 5.2).
 */
export function exifText(text: string): TagValue {
  const bytes = joinBytes([encodeUtf8(text), new Uint8Array(1)]);
  return { type: 2, count: bytes.length, bytes };
}

/**
 * The standard has no such tag: where another program wrote it, it follows; where none did, it is not begun. What is no
 * rung from one to five has no form there.
 */
function ratingValue(
  { tag }: ExifTag,
  text: string | undefined,
  isSaid: boolean,
  littleEndian: boolean,
): [number, TagValue | null][] {
  if (!isSaid) return [];
  const rating = /^[1-5]$/.test(text ?? '') ? Number(text) : null;
  return [[tag, rating === null ? null : { type: 3, count: 1, bytes: u16Bytes(rating, littleEndian) }]];
}

/** A date without a day or a time has no form in EXIF; then EXIF says nothing rather than something else. */
function dateValues(exif: ExifTag, iso: string | undefined): [number, TagValue | null][] {
  const found = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}:\d{2}:\d{2})(?:\.(\d+))?(Z|[+-]\d{2}:\d{2})?$/.exec(iso ?? '');
  const date = found ? exifText(`${found[1]}:${found[2]}:${found[3]} ${found[4]}`) : null;
  const values: [number, TagValue | null][] = [[exif.tag, date]];
  if (exif.subSec !== undefined) values.push([exif.subSec, found?.[5] ? exifText(found[5]) : null]);
  if (exif.offset !== undefined)
    values.push([exif.offset, found?.[6] ? exifText(found[6] === 'Z' ? '+00:00' : found[6]) : null]);
  return values;
}

/** Rationals, top and bottom, without a sign. */
function rationals(littleEndian: boolean, ...pairs: [top: number, bottom: number][]): TagValue {
  return { type: 5, count: pairs.length, bytes: joinBytes(pairs.flat().map((value) => u32Bytes(value, littleEndian))) };
}

/**
 * Parts of a second of arc that are written: three thousandths of a millimetre, so that nine places of a degree come
 * back as they were.
 */
const PER_SECOND = 10_000_000;

/** Degrees, minutes and seconds of arc (EXIF 2.32, tag 0x0002). */
function degreesValue(degrees: number, littleEndian: boolean): TagValue {
  const units = Math.round(Math.abs(degrees) * 3600 * PER_SECOND);
  const whole = Math.floor(units / (3600 * PER_SECOND));
  const minutes = Math.floor(units / (60 * PER_SECOND)) - whole * 60;
  return rationals(
    littleEndian,
    [whole, 1],
    [minutes, 1],
    [units - (whole * 60 + minutes) * 60 * PER_SECOND, PER_SECOND],
  );
}

function positionValues(text: string | undefined, littleEndian: boolean): [number, TagValue | null][] {
  const position = parsePosition(text ?? '');
  if (!position)
    return [GPS.latRef, GPS.lat, GPS.lonRef, GPS.lon, GPS.altitudeRef, GPS.altitude].map((tag) => [tag, null]);
  const { lat, lon, altitudeM } = position;
  return [
    [GPS.latRef, exifText(lat < 0 ? 'S' : 'N')],
    [GPS.lat, degreesValue(lat, littleEndian)],
    [GPS.lonRef, exifText(lon < 0 ? 'W' : 'E')],
    [GPS.lon, degreesValue(lon, littleEndian)],
    [
      GPS.altitudeRef,
      altitudeM === null ? null : { type: 1, count: 1, bytes: Uint8Array.from([altitudeM < 0 ? 1 : 0]) },
    ],
    [GPS.altitude, altitudeM === null ? null : rationals(littleEndian, [Math.round(Math.abs(altitudeM) * 1000), 1000])],
    [GPS.datum, exifText('WGS-84')],
  ];
}

function directionValues(text: string | undefined, littleEndian: boolean): [number, TagValue | null][] {
  const direction = parseDirection(text ?? '');
  return [
    [GPS.directionRef, direction && exifText(direction.magnetic ? 'M' : 'T')],
    [GPS.direction, direction && rationals(littleEndian, [Math.round(direction.degrees * 100), 100])],
  ];
}

/** In UTC, as the standard asks; of a time whose zone is not known EXIF says nothing. */
function timeValues(text: string | undefined, littleEndian: boolean): [number, TagValue | null][] {
  const found = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2}):(\d{2})(?:\.\d+)?(?:Z|\+00:00)$/.exec(text ?? '');
  return [
    [GPS.dateStamp, found && exifText(found.slice(1, 4).join(':'))],
    [
      GPS.timeStamp,
      found && rationals(littleEndian, ...found.slice(4, 7).map((part): [number, number] => [Number(part), 1])),
    ],
  ];
}

/** Plain letters as ASCII, all others as UTF-16 in the byte order of the file (EXIF 2.32, table 9). */
function comment(text: string, littleEndian: boolean): TagValue {
  const plain = /^[\x20-\x7e\n\r\t]*$/.test(text);
  const units = Array.from({ length: text.length }, (_, index) => u16Bytes(text.charCodeAt(index), littleEndian));
  const bytes = plain
    ? joinBytes([asciiBytes('ASCII\0\0\0'), asciiBytes(text)])
    : joinBytes([asciiBytes('UNICODE\0'), ...units]);
  return { type: 7, count: bytes.length, bytes };
}
