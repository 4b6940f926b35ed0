// Facets: the values that photos of a scope have, with a count beside each. A row says which term of the scope asks for
// a value, and where the values stand.

import { type FieldKey, fieldOf } from '../fields/registry';
import { searchedTexts } from '../fields/searched';
import { usualRatio } from '../query/terms';
import { shapeOf } from './evaluate';
import type { SearchContext } from './search-context';
import { type Columns, type ListName, listIn, valueOf, type SingleText } from './columns';
import { foldText } from '../text/fold';
import { FLAG, type FacetCount } from './search-record';
import type { TextColumn } from './value-columns';

export type FacetCounts = Record<string, FacetCount[]>;

/** In the order in which they are shown. */
export const FACET_NAMES = [
  'rating',
  'marker',
  'keyword',
  'person',
  'camera',
  'lens',
  'iso',
  'f',
  'focal',
  'year',
  'country',
  'province',
  'city',
  'location',
  'creator',
  'format',
  'profile',
  'orientation',
  'aspect',
  'kind',
  'set',
  'drive',
  'accession',
  'copies',
  'safe',
  'edited',
  'corrected',
  'sent',
] as const;
export type FacetName = (typeof FACET_NAMES)[number];

interface FacetRow {
  /** The term that asks for a value. */
  key: string;
  label: string;
  /** Several values are asked for with `=` (the whole value) or `:`. */
  operator: ':' | '=';
  /** Values in their own order rather than the most frequent first. */
  ordered?: true;
  /** At least the `limit` most frequent. */
  count: (slots: Uint32Array, context: SearchContext, limit: number) => Map<string, number>;
}

const row = (
  key: string,
  label: string,
  operator: FacetRow['operator'],
  count: FacetRow['count'],
  ordered?: true,
): FacetRow => ({ key, label, operator, count, ...(ordered && { ordered }) });

/** What one question finds stands together, under the spelling most photos have. */
function bySpelling(counts: Map<string, number>): Map<string, number> {
  const spelled = new Map<string, { word: string; of: number; all: number }>();
  for (const [word, photos] of counts) {
    const form = foldText(word.trim());
    const known = spelled.get(form);
    if (!known) spelled.set(form, { word, of: photos, all: photos });
    else Object.assign(known, { all: known.all + photos }, photos > known.of && { word, of: photos });
  }
  return new Map(Array.from(spelled.values(), ({ word, all }) => [word, all]));
}

/** Counts by number of a column, then the few numbers into words. */
function byText(
  slots: Uint32Array,
  column: TextColumn | null,
  words: (text: string) => readonly string[],
): Map<string, number> {
  const found = new Map<string, number>();
  if (!column) return found;
  const counts = new Uint32Array(column.numberCount);
  const { raw } = column;
  for (let at = 0; at < slots.length; at++) {
    const number = raw[slots[at] as number] ?? 0;
    counts[number] = (counts[number] as number) + 1;
  }
  for (let number = 1; number < counts.length; number++) {
    const photos = counts[number] ?? 0;
    if (photos > 0) for (const word of words(column.textOf(number))) found.set(word, (found.get(word) ?? 0) + photos);
  }
  return bySpelling(found);
}

const ofText =
  (name: SingleText) =>
  (slots: Uint32Array, { columns }: SearchContext) =>
    byText(slots, columns.textColumn(name), (text) => [text]);
const ofField =
  (key: FieldKey) =>
  (slots: Uint32Array, { columns }: SearchContext) =>
    byText(slots, columns.fieldColumn(key), (text) => searchedTexts(fieldOf(key), valueOf(text)));

/** Spellings that are found together are counted together. Only the words that most photos have are looked up. */
const ofList =
  (name: ListName) =>
  (slots: Uint32Array, { columns }: SearchContext, limit: number) => {
    const list = columns.list(name);
    const counts = list.countForms(slots);
    const forms = greatest(counts, limit);
    return new Map(Array.from(list.spellings(forms, slots), ([form, word]) => [word, counts[form] ?? 0]));
  };

/** Places of the greatest values, at most so many, 0 left out. */
function greatest(values: Uint32Array, limit: number): number[] {
  const places: number[] = [];
  for (let place = 0; place < values.length; place++) if (values[place] !== 0) places.push(place);
  if (places.length <= limit) return places;
  // the limit's own value is found by counting how many have each
  const sorted = Uint32Array.from(places, (place) => values[place] as number).sort();
  const least = sorted[sorted.length - limit] ?? 0;
  const above = places.filter((place) => (values[place] as number) > least);
  return [...above, ...places.filter((place) => values[place] === least).slice(0, limit - above.length)];
}

function by(slots: Uint32Array, valueOf: (slot: number) => string | number | null): Map<string, number> {
  const counts = new Map<string | number, number>();
  for (let at = 0; at < slots.length; at++) {
    const value = valueOf(slots[at] as number);
    if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  return new Map([...counts].map(([value, count]) => [String(value), count]));
}

/** Of single precision: put into words once a value, not once a photo. */
const ofNumber =
  (name: 'iso' | 'fNumber' | 'focal') =>
  (slots: Uint32Array, { columns }: SearchContext) => {
    const column = columns.column(name);
    const counts = new Map<number, number>();
    for (let at = 0; at < slots.length; at++) {
      const value = column[slots[at] as number] as number;
      if (value === value) counts.set(value, (counts.get(value) ?? 0) + 1); // not NaN, which is none
    }
    return new Map(Array.from(counts, ([value, photos]) => [String(Number(value.toPrecision(6))), photos]));
  };
const flag = (columns: Columns, slot: number, bit: number): boolean =>
  ((columns.column('flags')[slot] ?? 0) & bit) !== 0;
const yesNo = (is: boolean): string => (is ? 'yes' : 'no');

/** Years lie close together: they are counted in an array. */
function byYear(slots: Uint32Array, { columns }: SearchContext): Map<string, number> {
  const day = columns.column('day');
  const counts = new Uint32Array(10_000);
  for (let at = 0; at < slots.length; at++) {
    const year = ((day[slots[at] as number] as number) / 10_000) | 0;
    counts[year] = (counts[year] as number) + 1;
  }
  const found = new Map<string, number>();
  for (let year = 1; year < counts.length; year++)
    if ((counts[year] ?? 0) > 0) found.set(String(year), counts[year] ?? 0);
  return found;
}

function byRating(slots: Uint32Array, { columns }: SearchContext): Map<string, number> {
  const rating = columns.column('rating');
  const counts = new Uint32Array(7);
  for (let at = 0; at < slots.length; at++) {
    const rung = (rating[slots[at] as number] as number) + 1;
    counts[rung] = (counts[rung] as number) + 1;
  }
  return new Map(
    Array.from(counts, (count, rung): [string, number] => [String(rung - 1), count]).filter(([, count]) => count > 0),
  );
}

/** Those that have none of the usual ratios are left out. */
function byRatio(slots: Uint32Array, { columns }: SearchContext): Map<string, number> {
  const aspect = columns.column('aspect');
  const counts = new Map<number, number>();
  for (let at = 0; at < slots.length; at++) {
    const of = aspect[slots[at] as number] as number;
    counts.set(of, (counts.get(of) ?? 0) + 1);
  }
  const found = new Map<string, number>();
  for (const [of, photos] of counts) {
    const ratio = usualRatio(of);
    if (ratio !== null) found.set(ratio, (found.get(ratio) ?? 0) + photos);
  }
  return found;
}

/** A slide that was photographed as a raw is of two kinds. */
function byKind(slots: Uint32Array, { columns }: SearchContext): Map<string, number> {
  const flags = columns.column('flags');
  let [raw, video, picture] = [0, 0, 0];
  for (let at = 0; at < slots.length; at++) {
    const of = flags[slots[at] as number] as number;
    if ((of & FLAG.raw) !== 0) raw += 1;
    if ((of & FLAG.video) !== 0) video += 1;
    if ((of & (FLAG.raw | FLAG.video)) === 0) picture += 1;
  }
  return new Map(Object.entries({ raw, video, picture }).filter(([, photos]) => photos > 0));
}

export const FACETS: Record<FacetName, FacetRow> = {
  year: row('taken', 'Year', ':', byYear, true),
  camera: row('camera', 'Camera', '=', ofText('camera')),
  lens: row('lens', 'Lens', '=', ofText('lens')),
  iso: row('iso', 'ISO', ':', ofNumber('iso'), true),
  f: row('f', 'Aperture', ':', ofNumber('fNumber'), true),
  focal: row('focal', 'Focal length', ':', ofNumber('focal'), true),
  keyword: row('keyword', 'Keyword', '=', ofList('keywords')),
  country: row('country', 'Country', '=', ofField('country')),
  province: row('province', 'Province', '=', ofField('province')),
  city: row('city', 'City', '=', ofField('city')),
  location: row('location', 'Location', '=', ofField('sublocation')),
  person: row('person', 'Person', '=', ofList('personShown')),
  creator: row('creator', 'Creator', '=', ofField('creator')),
  rating: row('rating', 'Rating', ':', byRating, true),
  marker: row('marker', 'Marker', '=', ofField('label')),
  format: row('format', 'Format', '=', ofText('format')),
  profile: row('profile', 'Colour profile', '=', ofText('profile')),
  orientation: row('orientation', 'Shape', ':', (slots, { columns }) =>
    by(slots, (slot) => shapeOf(columns.column('aspect')[slot] ?? 1)),
  ),
  aspect: row('aspect', 'Aspect ratio', ':', byRatio),
  kind: row('kind', 'Kind', ':', byKind),
  set: row('set', 'Set', ':', (slots, context) => {
    const { list, of } = context.sets();
    return by(slots, (slot) => list[of[slot] ?? -1]?.kind ?? null);
  }),
  drive: row('drive', 'Drive', '=', (slots, { columns }) => byText(slots, columns.textColumn('drives'), listIn)),
  accession: row('accession', 'Accession', ':', (slots, { columns }) =>
    byText(slots, columns.textColumn('accession'), (text) => [text.slice(0, text.lastIndexOf('.'))]),
  ),
  copies: row(
    'copies',
    'Verified copies',
    ':',
    (slots, { columns }) => by(slots, (slot) => columns.column('copies')[slot] ?? 0),
    true,
  ),
  safe: row('safe', 'Safe', ':', (slots, { columns, nowMs }) =>
    by(slots, (slot) => yesNo((columns.column('safeUntil')[slot] ?? 0) > nowMs)),
  ),
  edited: row('edited', 'Edited', ':', (slots, { columns }) =>
    by(slots, (slot) => yesNo(flag(columns, slot, FLAG.edited))),
  ),
  corrected: row('corrected', 'Corrected', ':', (slots, { columns }) =>
    by(slots, (slot) => yesNo(flag(columns, slot, FLAG.corrected))),
  ),
  sent: row('sent', 'Sent out', '=', ofList('sent')),
};

export function countFacet(name: FacetName, slots: Uint32Array, context: SearchContext, limit: number): FacetCount[] {
  const { count, ordered } = FACETS[name];
  const found = [...count(slots, context, limit)]
    .filter(([value]) => value !== '')
    .map(([value, photos]) => ({ value, count: photos }));
  if (ordered)
    found.sort((a, b) =>
      name === 'year' || name === 'rating' ? Number(b.value) - Number(a.value) : Number(a.value) - Number(b.value),
    );
  else found.sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1));
  return found.slice(0, limit);
}
