// The field registry: every descriptive field of a photo is one row here. Forms, search, readers and writers derive
// from it; adding a field is adding a row. Names, XMP properties and IIM datasets follow the IPTC Photo Metadata
// Standard 2023.1 (from memory, checked against ExifTool's tables in tests/reference), EXIF 2.32 and XMP part 2.

import { MAIN } from '../exif/exif-tags';
import { IIM, type IimDataset } from '../iim/datasets';
import type { XmpName } from '../xmp/namespaces';
import type { XmpForm } from '../xmp/packet';

export type FieldKey =
  | 'title' | 'headline' | 'caption' | 'keywords' | 'creator' | 'copyrightNotice' | 'credit' | 'source' | 'instructions'
  | 'sublocation' | 'city' | 'province' | 'country' | 'countryCode' | 'rating' | 'label';

/** `text`: one line. `long`: several lines. `list`: unordered. `names`: ordered. `number`: whole. */
export type FieldType = 'text' | 'long' | 'list' | 'names' | 'number';
export type FieldGroup = 'judgement' | 'content' | 'place' | 'rights';

export interface FieldRow {
  key: FieldKey;
  label: string;
  standardName: string;
  help: string;
  group: FieldGroup;
  type: FieldType;
  xmp: XmpName & { form: XmpForm };
  iim: IimDataset | null;
  /** EXIF tag of the main directory that carries the same fact. */
  exifTag: number | null;
  /** The word before the colon in the scope line. */
  searchName: string;
}

/** A field's value: text as written, a list as written, or a whole number. Absent fields have no entry. */
export type FieldValue = string | string[] | number;
export type FieldValues = Partial<Record<FieldKey, FieldValue>>;

const dc = (name: string, form: XmpForm) => ({ prefix: 'dc', name, form }) as const;
const photoshop = (name: string) => ({ prefix: 'photoshop', name, form: 'text' }) as const;
const core = (name: string) => ({ prefix: 'Iptc4xmpCore', name, form: 'text' }) as const;
const xmp = (name: string) => ({ prefix: 'xmp', name, form: 'text' }) as const;

export const FIELDS: readonly FieldRow[] = [
  { key: 'rating', label: 'Rating', standardName: 'Rating', help: 'One to five; 0 is unrated, −1 rejected.', group: 'judgement', type: 'number', xmp: xmp('Rating'), iim: null, exifTag: null, searchName: 'rating' },
  { key: 'label', label: 'Marker', standardName: 'Label', help: 'A mark of your own making, by its name. Example: to print', group: 'judgement', type: 'text', xmp: xmp('Label'), iim: null, exifTag: null, searchName: 'marker' },
  { key: 'title', label: 'Title', standardName: 'Title', help: 'A short name or reference for the photo. Example: Klaksvík slip 032', group: 'content', type: 'text', xmp: dc('title', 'alt'), iim: IIM.objectName, exifTag: null, searchName: 'title' },
  { key: 'headline', label: 'Headline', standardName: 'Headline', help: 'What the picture shows, in a line. Example: Launching after the third refit', group: 'content', type: 'text', xmp: photoshop('Headline'), iim: IIM.headline, exifTag: null, searchName: 'headline' },
  { key: 'caption', label: 'Caption', standardName: 'Description', help: 'Who, what, when, where and why, in sentences.', group: 'content', type: 'long', xmp: dc('description', 'alt'), iim: IIM.caption, exifTag: MAIN.imageDescription, searchName: 'caption' },
  { key: 'keywords', label: 'Keywords', standardName: 'Keywords', help: 'Words to find the photo by; comma or semicolon between them.', group: 'content', type: 'list', xmp: dc('subject', 'bag'), iim: IIM.keywords, exifTag: null, searchName: 'keyword' },
  { key: 'sublocation', label: 'Location', standardName: 'Sublocation (legacy)', help: 'The spot within the city or region. Example: the old slip', group: 'place', type: 'text', xmp: core('Location'), iim: IIM.sublocation, exifTag: null, searchName: 'location' },
  { key: 'city', label: 'City', standardName: 'City (legacy)', help: 'City, town or village.', group: 'place', type: 'text', xmp: photoshop('City'), iim: IIM.city, exifTag: null, searchName: 'city' },
  { key: 'province', label: 'Province or state', standardName: 'Province or State (legacy)', help: 'Region within the country. Example: Norðoyar', group: 'place', type: 'text', xmp: photoshop('State'), iim: IIM.provinceState, exifTag: null, searchName: 'province' },
  { key: 'country', label: 'Country', standardName: 'Country (legacy)', help: 'The country by its full name.', group: 'place', type: 'text', xmp: photoshop('Country'), iim: IIM.countryName, exifTag: null, searchName: 'country' },
  { key: 'countryCode', label: 'Country code', standardName: 'Country Code (legacy)', help: 'Two or three letters, ISO 3166. Example: FO or FRO', group: 'place', type: 'text', xmp: core('CountryCode'), iim: IIM.countryCode, exifTag: null, searchName: 'countrycode' },
  { key: 'creator', label: 'Creator', standardName: 'Creator', help: 'Who made the photo; several names with a semicolon between them.', group: 'rights', type: 'names', xmp: dc('creator', 'seq'), iim: IIM.byline, exifTag: MAIN.artist, searchName: 'creator' },
  { key: 'copyrightNotice', label: 'Copyright notice', standardName: 'Copyright Notice', help: 'Sign, year and owner. Example: © 2026 Faroe Harbours Survey', group: 'rights', type: 'text', xmp: dc('rights', 'alt'), iim: IIM.copyrightNotice, exifTag: MAIN.copyright, searchName: 'copyright' },
  { key: 'credit', label: 'Credit line', standardName: 'Credit Line', help: 'How to name the people when it is published.', group: 'rights', type: 'text', xmp: photoshop('Credit'), iim: IIM.credit, exifTag: null, searchName: 'credit' },
  { key: 'source', label: 'Source', standardName: 'Source', help: 'From whom the photo came to you; differs from the credit when someone passed it on.', group: 'rights', type: 'text', xmp: photoshop('Source'), iim: IIM.source, exifTag: null, searchName: 'source' },
  { key: 'instructions', label: 'Instructions', standardName: 'Instructions', help: 'Anything a receiver must know or do.', group: 'rights', type: 'text', xmp: photoshop('Instructions'), iim: IIM.specialInstructions, exifTag: null, searchName: 'instructions' },
];

const byKey = new Map(FIELDS.map((row) => [row.key, row]));

export function fieldOf(key: FieldKey): FieldRow {
  const row = byKey.get(key);
  if (!row) throw new Error(`no field ${key}`);
  return row;
}
