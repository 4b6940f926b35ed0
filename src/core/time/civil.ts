// Days and seconds without a clock: the proleptic Gregorian calendar by arithmetic (the method of counting days in eras
// of 400 years; common knowledge).

/** `2019-07-04T13:03:22` of seconds since 1 January 1970. */
export function isoOfSeconds(seconds: number): string {
  const days = Math.floor(seconds / 86_400);
  const rest = Math.floor(seconds - days * 86_400);
  const shifted = days + 719_468;
  const era = Math.floor(shifted / 146_097);
  const dayOfEra = shifted - era * 146_097;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const monthFromMarch = Math.floor((5 * dayOfYear + 2) / 153);
  const day = dayOfYear - Math.floor((153 * monthFromMarch + 2) / 5) + 1;
  const month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9;
  const year = yearOfEra + era * 400 + (month <= 2 ? 1 : 0);
  const two = (value: number) => String(value).padStart(2, '0');
  return `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}T${two(Math.floor(rest / 3600))}:${two(Math.floor(rest / 60) % 60)}:${two(rest % 60)}`;
}

/**
 * Seconds since 1 January 1970 of `2019-07-04T13:03:22`, whose zone is not looked at; the fraction of a second is left
 * out.
 */
export function secondsOfIso(written: string): number {
  const part = (from: number, length: number) => Number(written.slice(from, from + length));
  const [year, month, day] = [part(0, 4), part(5, 2), part(8, 2)];
  const yearFromMarch = month <= 2 ? year - 1 : year;
  const era = Math.floor(yearFromMarch / 400);
  const yearOfEra = yearFromMarch - era * 400;
  const dayOfYear = Math.floor((153 * (month > 2 ? month - 3 : month + 9) + 2) / 5) + day - 1;
  const days =
    era * 146_097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - 719_468;
  return days * 86_400 + part(11, 2) * 3600 + part(14, 2) * 60 + part(17, 2);
}

/** Seconds from 1 January 1904, from which videos count, to 1 January 1970. */
export const VIDEO_EPOCH_SECONDS = 2_082_844_800;
