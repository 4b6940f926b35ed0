// The terms of the scope: which word stands before the colon, what may stand behind it, and what it asks. The parser,
// the completion, the rule editor and the page of the grammar are derived from these rows. The fields of the registry
// are terms by their search names.

import { FILE_MARKS } from '../fixity/copies';
import { FIELDS, type FieldRow, fieldNamed } from '../fields/registry';
import { SEARCHED_FIELDS } from '../fields/searched';
import { type LatLon, onEarth } from '../geo/position';
import type { Box } from '../geo/sphere';
import type { SetKind } from '../sift/sets';
import { parseColour } from '../picture/colour-names';
import {
  LEFT_TO_DO,
  type LeftToDo,
  type NumberOf,
  type Operator,
  PHOTO_KINDS,
  type PhotoKind,
  type PictureShape,
  SHAPES,
  type Span,
  type Test,
  UNSAFE,
  type Unsafe,
} from './query';
import { parseFolder } from './folder-value';
import { parseCaptured } from '../time/captured';
import { secondsOfIso } from '../time/civil';
import { daysOfDate, parseWhen } from './when';

/** What kind of value a term takes: decides how it is completed and with what a rule is built. */
export type TermKind = 'text' | 'number' | 'date' | 'choice' | 'position' | 'collection' | 'colour' | 'field';

export interface TermRow {
  key: string;
  label: string;
  kind: TermKind;
  /** Values it may have, where those are few and known. */
  choices?: readonly string[];
  example: string;
  help: string;
  read: (value: string, operator: Operator) => Test | null;
}

const SET_NAMES = ['bracket', 'burst', 'panorama', 'companion', 'chosen', 'any'] as const;
const YES_NO = ['yes', 'no'] as const;

/** One value, `a..b`, `a..`, `..b`, `<b` and the like, whichever way it is written. */
function spanOf(
  value: string,
  operator: Operator,
  read: (text: string) => { from: number; to: number } | null,
): Span | null {
  const inside = operator === ':' || operator === '=' ? /^(<=|>=|<|>)(.+)$/.exec(value) : null;
  if (inside) return spanOf(inside[2] ?? '', inside[1] as Operator, read);
  const closed = { openFrom: false, openTo: false };
  if (operator === ':' || operator === '=') {
    const [first = '', last = first, ...more] = value.split('..');
    if (more.length > 0 || (first === '' && last === '')) return null;
    const from = first === '' ? { from: -Infinity } : read(first);
    const to = last === '' ? { to: Infinity } : read(last);
    return from && to ? { from: from.from, to: to.to, ...closed } : null;
  }
  const bound = read(value);
  if (!bound) return null;
  if (operator === '<') return { from: -Infinity, to: bound.from, openFrom: false, openTo: true };
  if (operator === '<=') return { from: -Infinity, to: bound.to, ...closed };
  if (operator === '>') return { from: bound.to, to: Infinity, openFrom: true, openTo: false };
  return { from: bound.from, to: Infinity, ...closed };
}

const exactly = (value: number | null): { from: number; to: number } | null =>
  value === null ? null : { from: value, to: value };
const decimal = (text: string): number | null =>
  /^[-−]?\d{1,12}(\.\d{1,6})?$/.test(text) ? Number(text.replace('−', '-')) : null;

/** `2.8`, and `f/2.8` as it is written on lenses. */
const aperture = (text: string): number | null => decimal(text.replace(/^f\/?/i, ''));
const millimetres = (text: string): number | null => decimal(text.replace(/mm$/i, ''));
/** Seconds: `1/250`, `0.5`, `2s`. */
function shutter(text: string): number | null {
  const bare = text.replace(/s$/i, '');
  const parts = /^(\d{1,6})\/(\d{1,6})$/.exec(bare);
  if (parts) return Number(parts[2]) > 0 ? Number(parts[1]) / Number(parts[2]) : null;
  return decimal(bare);
}

/** The usual ratios of width to height, and those of frames that stand upright. */
const RATIOS = ['1:1', '5:4', '4:3', '3:2', '16:10', '16:9', '2:1', '3:1', '4:5', '3:4', '2:3', '9:16'] as const;
/** The usual ratio that a frame has, as the term `aspect` finds it; `null` for another. */
export const usualRatio = (aspect: number): string | null =>
  RATIOS.find((text) => {
    const span = ratio(text);
    return span !== null && aspect >= span.from && aspect <= span.to;
  }) ?? null;

/** Width over height: `3:2`, `1.5`. A ratio holds to a hundredth, for sensors are never exact. */
const RATIO_TOLERANCE = 0.01;
function ratio(text: string): { from: number; to: number } | null {
  const parts = /^(\d{1,5})[:x/](\d{1,5})$/.exec(text);
  const value = parts ? Number(parts[1]) / Number(parts[2]) : decimal(text);
  return value === null || !(value > 0) || !Number.isFinite(value)
    ? null
    : { from: value * (1 - RATIO_TOLERANCE), to: value * (1 + RATIO_TOLERANCE) };
}

const number = (
  of: NumberOf,
  label: string,
  example: string,
  help: string,
  read: (text: string) => number | null = decimal,
): TermRow => ({
  key: of,
  label,
  kind: 'number',
  example,
  help,
  read: (value, operator) => {
    const span = spanOf(value, operator, (text) => exactly(read(text)));
    return span && { kind: 'number', of, span };
  },
});

const choice = <C extends string>(
  key: string,
  label: string,
  choices: readonly C[],
  help: string,
  test: (value: C) => Test,
  /** Words of earlier versions, which are still read. */
  before: Readonly<Record<string, C>> = {},
): TermRow => ({
  key,
  label,
  kind: 'choice',
  choices,
  example: `${key}:${choices[0] ?? ''}`,
  help,
  read: (value, operator) => {
    const found = choices.find((one) => one === value.toLowerCase()) ?? before[value.toLowerCase()];
    return found !== undefined && (operator === ':' || operator === '=') ? test(found) : null;
  },
});

const day = (of: 'taken' | 'added', label: string, help: string): TermRow => ({
  key: of,
  label,
  kind: 'date',
  example: `${of}:2019-07..2020-01`,
  help,
  read: (value, operator) => {
    const when = operator === ':' || operator === '=' ? parseWhen(value) : null;
    if (when) return { kind: 'when', of, when };
    const span = spanOf(value, operator, daysOfDate);
    return span && { kind: of, span };
  },
});

/** Words stand in a field (`:`), or are its whole value (`=`). */
const text = (key: string, label: string, help: string): TermRow => ({
  key,
  label,
  kind: 'text',
  example: `${key}:…`,
  help,
  read: (value, operator) =>
    operator === ':'
      ? { kind: 'text', place: key, text: value, phrase: true }
      : operator === '='
        ? { kind: 'is', place: key, text: value }
        : null,
});

const plainly = (
  key: string,
  label: string,
  kind: TermKind,
  example: string,
  help: string,
  read: (value: string) => Test | null,
  choices?: readonly string[],
): TermRow => ({
  key,
  label,
  kind,
  example,
  help,
  ...(choices && { choices }),
  read: (value, operator) => (operator === ':' || operator === '=' ? read(value) : null),
});

/** `62.1,-6.7,62.3,-6.5`; a west greater than the east lies over the antimeridian. */
function readArea(value: string): Test | null {
  const numbers = value
    .split(',')
    .map((part) => (/^[-−]?\d{1,3}(\.\d+)?$/.test(part) ? Number(part.replace('−', '-')) : NaN));
  const [south = NaN, west = NaN, north = NaN, east = NaN] = numbers;
  return numbers.length === 4 &&
    onEarth({ lat: south, lon: west }) &&
    onEarth({ lat: north, lon: east }) &&
    south <= north
    ? { kind: 'area', box: { south, west, north, east } }
    : null;
}

/** `62.227,-6.589~500m` or `~2km`; a comma in the place of the wave is read too. */
function readNear(value: string): Test | null {
  const found = /^([-−]?\d{1,2}(?:\.\d+)?),([-−]?\d{1,3}(?:\.\d+)?)[~,](\d{1,6}(?:\.\d+)?)(m|km)$/i.exec(value);
  const of = { lat: Number(found?.[1]?.replace('−', '-')), lon: Number(found?.[2]?.replace('−', '-')) };
  return found && onEarth(of)
    ? { kind: 'near', of, withinM: Number(found[3]) * (found[4]?.toLowerCase() === 'km' ? 1000 : 1) }
    : null;
}

const rounded = (degrees: number): string => String(Number(degrees.toFixed(5)));
/** An area as it stands behind `area:`, to about a metre. */
export const areaText = ({ south, west, north, east }: Box): string =>
  [south, west, north, east].map(rounded).join(',');
/** A circle as it stands behind `near:`. */
export const nearText = ({ lat, lon }: LatLon, withinM: number): string =>
  `${rounded(lat)},${rounded(lon)}~${withinM >= 1000 && withinM % 100 === 0 ? `${withinM / 1000}km` : `${Math.round(withinM)}m`}`;

/** `July`, `7`, `5..8`; over the turn of the year too (`11..2`). */
function readMonths(value: string): Test | null {
  const found = /^(\d{1,2})(?:\.\.(\d{1,2}))?$/.exec(value);
  const [from, to] = [Number(found?.[1]), Number(found?.[2] ?? found?.[1])];
  return found && [from, to].every((month) => month >= 1 && month <= 12) ? { kind: 'month', from, to } : null;
}

/** `2019-07-04T14:03~30m`: minutes, hours (`2h`) or seconds (`90s`). */
function readAround(value: string): Test | null {
  const found = /^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(?::\d{2})?)~(\d{1,4})(s|m|h)$/i.exec(value);
  const written = parseCaptured(found?.[1] ?? '')?.written ?? '';
  if (!found || written.length < 19) return null;
  return {
    kind: 'around',
    at: secondsOfIso(written),
    withinSeconds: Number(found[2]) * ({ s: 1, m: 60, h: 3600 }[found[3]?.toLowerCase() ?? ''] ?? 1),
  };
}

/** Bits of 64 in which two pictures may differ and still be alike, unless it is said. */
export const LIKE_BITS = 10;
const LIKE_MOST_BITS = 24;
/** `NAME` or `NAME~6`. */
function readLike(value: string): Test | null {
  const found = /^(.+?)(?:~(\d{1,2}))?$/.exec(value);
  const withinBits = found?.[2] === undefined ? LIKE_BITS : Number(found[2]);
  return found && withinBits <= LIKE_MOST_BITS ? { kind: 'like', name: found[1] ?? '', withinBits } : null;
}

/** A difference (CIEDE2000) up to which a colour is taken for another, unless it is said. */
export const COLOUR_WITHIN = 12;
/** A name or `#a1b2c3`, and `~20`. */
function readColour(value: string): Test | null {
  const found = /^(#[0-9a-f]{6}|[a-z]+)(?:~(\d{1,2}))?$/i.exec(value);
  const lab = parseColour(found?.[1] ?? '');
  return found && lab
    ? { kind: 'colour', lab, within: found[2] === undefined ? COLOUR_WITHIN : Number(found[2]) }
    : null;
}

const readField = (value: string): string | null => {
  const name = value.toLowerCase();
  return name === 'place' || name === 'date' || fieldNamed(name) !== undefined ? name : null;
};
const ofField = (kind: 'has' | 'missing', value: string): Test | null => {
  const of = readField(value);
  return of === null ? null : { kind, of };
};

const FILE_STATES = [...FILE_MARKS, 'any'] as const;

const OWN: readonly TermRow[] = [
  number('rating', 'Rating', 'rating>=3', '0 is unrated, −1 rejected.'),
  day('taken', 'Date taken', 'A year, month or day, a range of them, or one told from today.'),
  plainly('month', 'Month of every year', 'date', 'month:7', 'One, or a range: month:5..8.', readMonths),
  plainly(
    'around',
    'Around a moment',
    'date',
    'around:2019-07-04T14:03~30m',
    'A moment by the camera’s clock, and how far: s, m or h.',
    readAround,
  ),
  day('added', 'Came into the catalog', 'When Wembo first saw it.'),
  text('camera', 'Camera', 'Make and model.'),
  text('lens', 'Lens', 'As the camera wrote it.'),
  text('profile', 'Colour profile', 'As the file names it; none for one that names none.'),
  number('iso', 'ISO', 'iso<400', 'Sensitivity.'),
  number('f', 'Aperture', 'f:..2.8', 'The f-number.', aperture),
  number('focal', 'Focal length', 'focal:24..35', 'In millimetres, of the lens.', millimetres),
  number('shutter', 'Shutter', 'shutter:>=1/60', 'In seconds.', shutter),
  {
    ...number('aspect', 'Aspect ratio', 'aspect:3:2', 'Width to height, to a hundredth.'),
    read: (value, operator) => {
      const span = spanOf(value, operator, ratio);
      return span && { kind: 'number', of: 'aspect', span };
    },
  },
  number('megapixels', 'Megapixels', 'megapixels:>=20', 'Width times height, in millions.'),
  choice(
    'orientation',
    'Orientation',
    SHAPES,
    'Upright, level (wider than high) or square, as shown.',
    (of: PictureShape) => ({ kind: 'shape', of }),
  ),
  choice(
    'kind',
    'Kind',
    PHOTO_KINDS,
    'A raw, a picture, a video; or part of a panorama.',
    (of: PhotoKind) => ({ kind: 'photo-kind', of }),
    { film: 'video' },
  ),
  text('format', 'Format', 'JPEG, TIFF, DNG …'),
  text('name', 'File name', 'Of any of its files.'),
  {
    ...text('folder', 'Folder', ''),
    example: 'folder:"Studio:/2019"',
    help: 'Words of the path; or a folder, from the slash: on one drive, or any ("/2019"); with what is below it, or alone by =.',
    read: (value, operator) => {
      const folder = operator === ':' || operator === '=' ? parseFolder(value) : null;
      if (folder) return { kind: 'folder', ...folder, below: operator === ':' };
      return text('folder', 'Folder', '').read(value, operator);
    },
  },
  text('drive', 'Drive', 'A drive that has a file of it.'),
  text('only', 'Only on', 'A drive it is not safe without: it is verified on no other.'),
  plainly('accession', 'Accession', 'text', 'accession:2026.001', 'A year, an accession or one number.', (value) =>
    /^\d{4}(?:\.\d+){0,2}$/.test(value) ? { kind: 'accession', number: value } : null,
  ),
  plainly(
    'in',
    'Collection',
    'collection',
    'in:"Exhibition 2027"',
    'In a collection, by its name, or with its folders: "Harbours/Best".',
    (value) => ({ kind: 'in', collection: value }),
  ),
  number('copies', 'Verified copies', 'copies<2', 'On different drives, each read in full.'),
  choice(
    'state',
    'State of its files',
    FILE_STATES,
    'A file of it is damaged, missing, or in doubt; any of these; unread in full; or twice on one drive.',
    (of) => ({ kind: 'state', of }),
  ),
  choice('safe', 'Safe', YES_NO, 'Whether the photo meets the rule of safekeeping.', (value) => ({
    kind: 'safe',
    is: value === 'yes',
  })),
  choice(
    'unsafe',
    'Not safe for want of',
    UNSAFE,
    'It has too few verified copies, none elsewhere, or is to be checked again.',
    (of: Unsafe) => ({ kind: 'unsafe', of }),
  ),
  choice('edited', 'Edited', YES_NO, 'Whether you have changed anything written about it.', (value) => ({
    kind: 'edited',
    is: value === 'yes',
  })),
  choice(
    'corrected',
    'Corrected',
    YES_NO,
    'Whether its picture is corrected when it is shown or sent: light, colours, crop.',
    (value) => ({
      kind: 'corrected',
      is: value === 'yes',
    }),
  ),
  plainly('sent', 'Sent out', 'text', 'sent:"Museum print"', 'Where it went; sent:any for anywhere.', (value) => ({
    kind: 'sent',
    to: value,
  })),
  plainly(
    'set',
    'Set',
    'choice',
    'set:bracket',
    'A kind of set, or the set of the file of that name.',
    (value) =>
      SET_NAMES.some((name) => name === value)
        ? { kind: 'set', of: value as SetKind | 'any' }
        : { kind: 'set-of', name: value },
    SET_NAMES,
  ),
  plainly(
    'has',
    'Something stands in',
    'field',
    'has:caption',
    'A field that is filled; also place and date.',
    (value) => ofField('has', value),
  ),
  plainly(
    'missing',
    'Nothing stands in',
    'field',
    'missing:caption',
    'A field that is empty; also place and date.',
    (value) => ofField('missing', value),
  ),
  plainly(
    'left',
    'Left to do',
    'choice',
    'left:words',
    'Open blanks, wrong codes, keywords that are not in the vocabulary, copyright notices without year or owner, file names that are still the camera’s.',
    (value) => (LEFT_TO_DO.some((of) => of === value) ? { kind: 'left', of: value as LeftToDo } : null),
    LEFT_TO_DO,
  ),
  choice('blank', 'Blank', ['open'] as const, 'A blank in a text that nobody has filled in.', () => ({
    kind: 'left',
    of: 'blanks',
  })),
  plainly('near', 'Near', 'position', 'near:62.01,-6.77~5km', 'Latitude, longitude and how far.', readNear),
  plainly('area', 'In the area', 'position', 'area:62.1,-6.7,62.3,-6.5', 'South, west, north, east.', readArea),
  plainly(
    'like',
    'Looks like',
    'text',
    'like:NK4_2032~10',
    'The photo with a file of this name; how many of 64 bits may differ.',
    readLike,
  ),
  plainly(
    'colour',
    'Colour',
    'colour',
    'colour:red',
    'A colour that a good part of the picture has; by name or as #b3122b.',
    readColour,
  ),
];

/** Fields whose search name is that of a term above are asked by that term. */
const OWN_KEYS = new Set(OWN.map(({ key }) => key));

function rowOf(row: FieldRow): TermRow {
  const key = row.searchName.toLowerCase();
  if (row.value === 'number' || row.value === 'date') {
    const kind = row.value;
    return {
      key,
      label: row.label,
      kind,
      example: kind === 'date' ? `${key}:2019` : `${key}:1..5`,
      help: row.help,
      read: (value, operator) => {
        const span = spanOf(value, operator, kind === 'date' ? daysOfDate : (text) => exactly(decimal(text)));
        return span && { kind: kind === 'date' ? 'field-date' : 'field-number', key: row.key, span };
      },
    };
  }
  return text(key, row.label, row.help);
}

const SEARCHED = new Set(SEARCHED_FIELDS.map(({ key }) => key));

export const TERMS: readonly TermRow[] = [
  ...OWN,
  ...FIELDS.filter(
    (row) =>
      !OWN_KEYS.has(row.searchName.toLowerCase()) &&
      (SEARCHED.has(row.key) || row.value === 'number' || row.value === 'date'),
  ).map(rowOf),
];

/** Words of earlier versions, which kept collections may still have. */
const ALSO: Record<string, string> = { without: 'missing' };

const BY_KEY = new Map(TERMS.map((row) => [row.key, row]));

export const termRow = (key: string): TermRow | null =>
  BY_KEY.get(Object.hasOwn(ALSO, key) ? (ALSO[key] ?? key) : key) ?? null;
