// ExifTool as the outside authority: its tag tables, its names for our fields, and values in its terms.

import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { parseDirection } from '@/core/geo/direction';
import { parsePosition } from '@/core/geo/position';
import type { FieldRow } from '@/core/fields/registry';
import { FIELDS } from '@/core/fields/registry';
import { PLUS_VOCABULARY } from '@/core/fields/plus';
import { type FieldValue, type Shape, isStructure } from '@/core/fields/shape';
import { STRUCTURES } from '@/core/fields/structures';

export const exiftool = (...args: string[]): string =>
  execFileSync('exiftool', ['-charset', 'filename=utf8', ...args], { encoding: 'utf8', maxBuffer: 1 << 28 });

export type Attributes = Record<string, string>;

/** The tables ExifTool prints, by name; read once. */
export const tables: ReadonlyMap<string, Attributes[]> = (() => {
  const attributes = (text: string): Attributes =>
    Object.fromEntries([...text.matchAll(/(\w+)='([^']*)'/g)].map(([, key, value]) => [key, value]));
  const found = new Map<string, Attributes[]>();
  let current: Attributes[] = [];
  for (const line of exiftool('-listx', '-s', '-f').split('\n')) {
    if (line.startsWith('<table')) found.set(attributes(line).name ?? '', (current = []));
    else if (line.startsWith(' <tag')) current.push(attributes(line));
  }
  return found;
})();

const TABLES = {
  dc: ['XMP::dc', 'XMP-dc'],
  photoshop: ['XMP::photoshop', 'XMP-photoshop'],
  xmp: ['XMP::xmp', 'XMP-xmp'],
  xmpRights: ['XMP::xmpRights', 'XMP-xmpRights'],
  xmpMM: ['XMP::xmpMM', 'XMP-xmpMM'],
  Iptc4xmpCore: ['XMP::iptcCore', 'XMP-iptcCore'],
  Iptc4xmpExt: ['XMP::iptcExt', 'XMP-iptcExt'],
  plus: ['PLUS::XMP', 'XMP-plus'],
  'mwg-kw': ['MWG::Keywords', 'XMP-mwg-kw'],
  'mwg-coll': ['MWG::Collections', 'XMP-mwg-coll'],
  exif: ['XMP::exif', 'XMP-exif'],
  exifEX: ['XMP::exifEX', 'XMP-exifEX'],
} as const;

/** Members of a structure are listed flattened: the structure's id, then theirs with a capital. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

export const xmpTag = (row: Shape, below = ''): Attributes | undefined =>
  tables.get(TABLES[row.xmp.prefix as keyof typeof TABLES][0])?.find(({ id }) => id === row.xmp.name + below);
export const xmpName = (row: FieldRow): string =>
  `${TABLES[row.xmp.prefix as keyof typeof TABLES][1]}:${xmpTag(row)?.name}`;
export const iimTag = (dataset: number): Attributes | undefined =>
  tables.get('IPTC::ApplicationRecord')?.find(({ id }) => id === String(dataset));

const exifDate = (iso: string): string =>
  iso
    .replace(/^(\d{4})-(\d{2})-(\d{2})T/, '$1:$2:$3 ')
    .replace(/^(\d{4})-(\d{2})(?:-(\d{2}))?$/, (_, ...parts: string[]) =>
      parts
        .slice(0, 3)
        .filter((part) => part !== undefined)
        .join(':'),
    );

/** A value of ours as ExifTool prints it with `-n -struct -json`. */
export function inTheirTerms(shape: Shape, value: FieldValue): unknown {
  if (Array.isArray(value)) return value.map((item) => inTheirTerms({ ...shape, form: 'single' }, item));
  if (isStructure(value) && shape.structure !== undefined) {
    const members = STRUCTURES[shape.structure].flatMap((row) =>
      value[row.key] === undefined ? [] : [[capital(row.xmp.name), inTheirTerms(row, value[row.key] as FieldValue)]],
    );
    return Object.fromEntries(members);
  }
  // a code of PLUS is shown without the address it stands below
  if (shape.choices) return String(value).replace(PLUS_VOCABULARY, '');
  if (shape.value === 'position') return parsePosition(String(value))?.lat;
  if (shape.value === 'direction') return parseDirection(String(value))?.degrees;
  if (shape.value === 'date') return exifDate(String(value));
  if (/^GPSL(?:at|ong)itude$/.test(shape.xmp.name)) return degrees(String(value));
  return shape.xmp.name === 'GPSAltitude' ? ratio(String(value)) : value;
}

const ratio = (text: string): number =>
  text
    .split('/')
    .map(Number)
    .reduce((top, bottom) => top / bottom);

function degrees(text: string): number {
  const [, whole, minutes, side] = /^(\d+),([\d.]+)([NSEW])$/.exec(text) ?? [];
  return (side === 'S' || side === 'W' ? -1 : 1) * (Number(whole) + Number(minutes) / 60);
}

/**
 * ExifTool tells words from numbers by their look, and prints a list of one as its member; that is evened out here, on
 * both sides.
 */
export function evened(value: unknown): unknown {
  if (Array.isArray(value)) return value.length === 1 ? evened(value[0]) : value.map(evened);
  if (typeof value === 'object' && value !== null)
    return Object.fromEntries(
      Object.entries(value)
        .map(([key, member]) => [key, evened(member)])
        .sort(([a], [b]) => (String(a) < String(b) ? -1 : 1)),
    );
  const text = String(value);
  return /^(true|false)$/i.test(text)
    ? text.toLowerCase()
    : /^-?\d+(\.\d+)?$/.test(text)
      ? String(Number(Number(text).toFixed(8)))
      : text;
}

/** The other tags of ExifTool that our field is told by. */
export function beside(row: FieldRow, value: string): [tag: string, value: unknown][] {
  if (row.value === 'direction') return [['XMP-exif:GPSImgDirectionRef', parseDirection(value)?.magnetic ? 'M' : 'T']];
  const position = row.value === 'position' ? parsePosition(value) : null;
  if (!position) return [];
  const { lon, altitudeM } = position;
  return [
    ['XMP-exif:GPSLongitude', lon],
    ...(altitudeM === null
      ? []
      : ([
          ['XMP-exif:GPSAltitude', Math.abs(altitudeM)],
          ['XMP-exif:GPSAltitudeRef', altitudeM < 0 ? 1 : 0],
        ] as [string, unknown][])),
  ];
}

/** Has ExifTool write fields as XMP into `file`, made from `base`. */
export function writeXmp(base: string, file: string, fields: Partial<Record<string, FieldValue>>): void {
  const values = FIELDS.flatMap((row) =>
    fields[row.key] === undefined
      ? []
      : [[xmpName(row), inTheirTerms(row, fields[row.key] as FieldValue)], ...beside(row, String(fields[row.key]))],
  );
  writeFileSync(`${file}.json`, JSON.stringify([{ SourceFile: '*', ...Object.fromEntries(values) }]));
  exiftool('-q', '-n', '-struct', `-json=${file}.json`, '-o', file, base);
}

export const readAll = (file: string, ...more: string[]): Record<string, unknown> =>
  (JSON.parse(exiftool('-json', '-struct', '-G1', '-n', ...more, file)) as Record<string, unknown>[])[0] ?? {};
