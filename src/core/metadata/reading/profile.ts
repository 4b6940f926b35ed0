// What a photo's colours are counted in, in words: the profile in the file; what EXIF names where there is none; or
// nothing, and then it is shown as sRGB (IEC 61966-2-1), as all that is untagged is (common practice).

import { type Format, isRawFormat } from '../../formats/containers/formats';

interface Coloured {
  format: Format;
  profile: string | null;
  seconds: number | null;
}

/** EXIF 2.32, tag 0xa001: 1 is sRGB; 2 is written by some cameras for Adobe RGB, and is not of the standard. */
export const BY_EXIF: Readonly<Record<number, string>> = { 1: 'sRGB (by EXIF)', 2: 'Adobe RGB (by EXIF)' };
export const NO_PROFILE = 'none';

/** `null` where it has no meaning: for videos, and for raws, whose colours come into being when they are developed. */
export const profileWord = ({ format, profile, seconds }: Coloured): string | null =>
  profile ?? (isRawFormat(format) || seconds !== null || format === 'avi' || format === 'video' ? null : NO_PROFILE);

/** What should be known of it; `null` where all is well. */
export function profileRemark(photo: Coloured): string | null {
  const word = profileWord(photo);
  if (word === NO_PROFILE) return 'taken as sRGB';
  if (word === BY_EXIF[2]) return 'without its profile in the file: shown as sRGB, paler than it was meant';
  return null;
}
