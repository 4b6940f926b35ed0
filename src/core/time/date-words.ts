// A date in words, as far as it is known: `30 August 2026`, `August 2026`, `1968`.

export const MONTHS: readonly string[] = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** @param written ISO 8601 digits, whole or partial; whatever else gives the empty text */
export function dateInWords(written: string): string {
  const found = /^(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?/.exec(written);
  if (!found) return '';
  const [, year, month, day] = found;
  const name = month === undefined ? undefined : MONTHS[Number(month) - 1];
  return [day !== undefined && name ? String(Number(day)) : null, name, year].filter(Boolean).join(' ');
}
