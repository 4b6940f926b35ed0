// Names in the order in which people number them: `IMG_2` before `IMG_10`.

import { foldText } from './fold';

const DIGITS = 12;

/** A form of the name that sorts so as plain text; without regard to case and accents. */
export const numbered = (name: string): string =>
  foldText(name).replace(/\d+/g, (digits) => digits.replace(/^0+(?=\d)/, '').padStart(DIGITS, '0'));
