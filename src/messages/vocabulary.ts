// Why something is not done to a word, as a sentence.

import type { Likeness } from '@/core/vocabulary/alike';
import type { Refusal } from '@/core/vocabulary/plan';

const SENTENCES: Record<Refusal, string> = {
  taken: 'A word of this name stands there already. Merge the two instead.',
  ring: 'A word cannot stand below itself.',
  same: 'That is as it is already.',
  nothing: 'A word needs a name; to split one, give two names or more.',
  unknown: 'The word is no longer there.',
};

export const refusalSentence = (refusal: Refusal): string => SENTENCES[refusal];

const LIKENESSES: Record<Likeness, string> = {
  case: 'capitals',
  accent: 'accents',
  spacing: 'spacing',
  plural: 'one or many',
  letter: 'one letter',
};

export const likenessWords = (likeness: Likeness): string => LIKENESSES[likeness];
