// Values for every field from a seed: words in many scripts, structures filled to the last member, dates in all forms.

import { FIELDS, type FieldValues } from '@/core/fields/registry';
import { type FieldValue, type Shape, type Structure, isList } from '@/core/fields/shape';
import { STRUCTURES } from '@/core/fields/structures';

export const WORDS: Record<string, string> = {
  plain: 'Boats',
  latin: 'Bátar á Viðareiði ø',
  wide: '北港 Ωmega',
  emoji: 'sheep 🐑 here',
  digits: '007',
  word: 'true',
  quotes: `"it's" <a> & b`,
  long: 'ð'.repeat(15),
  lines: 'one\ntwo',
  blanks: 'two  blanks, a comma',
};

export const DATES = [
  '2019-07-04T14:03:22+01:00',
  '2019-07-04T14:03:22',
  '2019-07-04T14:03:22.07Z',
  '2004',
  '2004-07',
  '2004-07-31',
];

/** A value for a field or a member, with `text` in it; lists hold two different ones, structures every member. */
export function sampleFor(
  shape: Shape & { key?: string },
  text: string,
  date: string,
  depth = 0,
): FieldValue | undefined {
  if (shape.structure !== undefined) {
    const structure = shape.structure;
    const one = (): Structure | undefined => {
      const members = STRUCTURES[structure].flatMap((row) => {
        const value = sampleFor(row, text, date, depth + 1);
        return value === undefined ? [] : [[row.key, value] as const];
      });
      return members.length > 0 ? Object.fromEntries(members) : undefined;
    };
    // keywords below keywords go on for ever; three levels are enough
    const item = depth > 3 ? undefined : one();
    return item === undefined ? undefined : isList(shape) ? [item] : item;
  }
  if (shape.key === 'modelAge') return ['20', '31'];
  const single = singleFor(shape, text, date);
  return isList(shape) ? [String(single), `${String(single)} 2`] : single;
}

function singleFor(shape: Shape & { key?: string }, text: string, date: string): string | number | boolean {
  if (shape.value === 'position') return '62.225, -6.5875, 12.5 m';
  if (shape.value === 'direction') return '243.5';
  if (shape.xmp.name === 'GPSLatitude') return '62,13.5N';
  if (shape.xmp.name === 'GPSLongitude') return '6,35.25W';
  if (shape.xmp.name === 'GPSAltitude') return '12';
  if (shape.xmp.name === 'GPSAltitudeRef') return '0';
  if (/^rb[XYWHR]/.test(shape.xmp.name)) return '0.25';
  if (shape.choices?.[1]) return shape.choices[1].value;
  if (shape.value === 'number') return 3;
  if (shape.value === 'boolean') return true;
  if (shape.value === 'date') return date;
  if (shape.key === 'countryCode') return 'FO';
  if (shape.key === 'category') return 'ABC';
  return text;
}

export const sampleFields = (text: string, date: string): FieldValues =>
  Object.fromEntries(
    FIELDS.flatMap((row) => {
      const value = sampleFor(row, text, date);
      return value === undefined ? [] : [[row.key, value]];
    }),
  );
