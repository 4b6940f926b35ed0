// Whether a file name says anything: a name that a camera counted up says nothing of the picture. Cameras name files by
// the Design rule for Camera File system (DCF 2.0, CIPA DC-009-2010, 4.3): four letters, digits or underscores, then a
// number from 0001 to 9999; quoted from memory. That cameras in telephones write a date and a time behind letters of
// their own is common practice, no source.

import { baseOf, nameIn } from './file-names';

const DCF = /^([A-Z0-9_]{4})(\d{4})$/i;
const BY_CLOCK = /^[A-Z]{2,4}[_-]?\d{8}[_-]\d{6,9}$/i;
/** What copying programs put behind a name that was taken. */
const AGAIN = /(?:[-_ ]\d{1,2}| ?\(\d{1,3}\))$/;

/** The name of a file as its camera counted it, with nothing added that tells what is in the picture. */
export function isCameraName(path: string): boolean {
  const base = baseOf(nameIn(path));
  return isCounted(base) || isCounted(base.replace(AGAIN, ''));
}

function isCounted(base: string): boolean {
  if (BY_CLOCK.test(base)) return true;
  const [, free = '', number = ''] = DCF.exec(base) ?? [];
  if (number === '' || number === '0000') return false;
  // what reads as a date, as a word with a year, or as a word (small and great letters) was written by a person
  const isDate = /^(?:18|19|20)\d\d$/.test(free) && /^(?:0[1-9]|1[0-2])(?:[0-2]\d|3[01])$/.test(number);
  const isWordAndYear = /^[A-Z]{4}$/i.test(free) && /^(?:18|19|20)\d\d$/.test(number);
  const isWord = /[a-z]/.test(free) && /[A-Z]/.test(free);
  return !isDate && !isWordAndYear && !isWord;
}
