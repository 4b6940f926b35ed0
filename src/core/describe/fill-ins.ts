// Fill-ins: `[=city]` in a text that is put on many photos stands for what each photo says by that name. What a photo
// does not say becomes a blank with that name as its hint, so that the gap is seen and counted instead of silently left
// out.

import { nameIn } from '../names/file-names';
import { WRITTEN_FIELDS, type FieldValues, fieldNamed } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import { capturedIn, toStrings, wordsIn } from '../fields/values';
import { numberAmong } from '../take-in/accession';
import { dateInWords } from '../time/date-words';
import { blankOf, blanksIn } from './blanks';

/** What a text can be filled from: the fields of a photo and the path of its first file. */
export interface FillFacts {
  fields: FieldValues;
  path: string;
}

const FILL_IN = /\[=([^[\]]*)\]/g;

/** What is no field of its own, or is wanted in words rather than as it is kept. */
const NAMED: Record<string, { label: string; read: (facts: FillFacts) => string }> = {
  year: { label: 'year taken', read: ({ fields }) => capturedIn(fields)?.written.slice(0, 4) ?? '' },
  date: { label: 'date taken, in words', read: ({ fields }) => dateInWords(capturedIn(fields)?.written ?? '') },
  day: { label: 'date taken, in figures', read: ({ fields }) => capturedIn(fields)?.written.slice(0, 10) ?? '' },
  time: { label: 'time taken', read: ({ fields }) => capturedIn(fields)?.written.slice(11, 16) ?? '' },
  place: {
    label: 'place, from the spot to the country',
    read: ({ fields }) =>
      [fields.sublocation, fields.city, fields.province, fields.country]
        .filter((part) => typeof part === 'string')
        .join(', '),
  },
  file: { label: 'file name', read: ({ path }) => nameIn(path) },
  accession: {
    label: 'accession number of the photo',
    read: ({ fields }) => numberAmong(wordsIn(fields.identifier)) ?? '',
  },
};

/** All names that can be filled in, with what they stand for. */
export const fillInNames = (): { name: string; label: string }[] => [
  ...Object.entries(NAMED).map(([name, { label }]) => ({ name, label })),
  ...WRITTEN_FIELDS.filter(({ searchName }) => !(searchName in NAMED)).map(({ searchName, label }) => ({
    name: searchName,
    label: label.toLowerCase(),
  })),
];

export const hasFillIn = (value: FieldValue | undefined): boolean =>
  toStrings(value).some((text) => text.search(FILL_IN) >= 0);

/** Names in the text that stand for nothing; they are left as they are. */
export const unknownFillIns = (text: string): string[] =>
  [...text.matchAll(FILL_IN)]
    .map((found) => nameOf(found[1]))
    .filter((name) => !(name in NAMED) && fieldNamed(name) === undefined);

const nameOf = (written: string | undefined): string => (written ?? '').trim().toLowerCase();

/** The text with every fill-in replaced by what this photo says. */
export function fillIn(text: string, facts: FillFacts): string {
  return text.replaceAll(FILL_IN, (whole, written: string) => {
    const name = nameOf(written);
    const said = wordsFor(name, facts);
    return said === null ? whole : said === '' ? blankOf(name) : said;
  });
}

/** The same, with nothing where the photo says nothing: for what is drawn, and not kept. */
export function fillInWhatIsSaid(text: string, facts: FillFacts): string {
  const filled = fillIn(text, facts);
  return blanksIn(filled)
    .reduceRight((rest, { start, end }) => rest.slice(0, start) + rest.slice(end), filled)
    .replace(/^[\s,;·–-]+|[\s,;·–-]+$/g, '')
    .replace(/\s+/g, ' ');
}

/** `null` for a name that stands for nothing. */
function wordsFor(name: string, facts: FillFacts): string | null {
  const named = Object.hasOwn(NAMED, name) ? NAMED[name] : undefined;
  if (named) return named.read(facts);
  const row = fieldNamed(name);
  return row ? toStrings(facts.fields[row.key]).join(', ') : null;
}

/** A value with its texts filled in; others as they are. In a list, what comes out empty is left out. */
export function filledIn(value: FieldValue, facts: FillFacts): FieldValue {
  if (typeof value === 'string') return fillIn(value, facts);
  if (Array.isArray(value) && value.every((item) => typeof item === 'string'))
    return [...new Set(value.map((item) => fillIn(item, facts)))];
  return value;
}
