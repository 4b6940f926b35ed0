// Sets in words.

import { SET_CODES } from '@/core/search/search-record';
import type { SetKind } from '@/core/sift/sets';

export const SET_WORDS: Record<SetKind, string> = {
  bracket: 'bracket',
  burst: 'burst',
  panorama: 'panorama',
  companion: 'raw with companion',
  chosen: 'set',
};

/** `bracket of 3`, by the code of the kind; nothing for no set. */
export function setWords(code: number, size: number): string {
  const kind = SET_CODES[code];
  return kind ? `${SET_WORDS[kind]} of ${size}` : '';
}
