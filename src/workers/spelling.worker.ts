// The spell checker: Hunspell dictionaries of British and American English, held here because they take a second to
// read and some 100 MB to keep. A word that either knows is right.

import nspell from 'nspell';
import { serve } from './serve';

async function read(language: string) {
  const [aff, dic] = await Promise.all(
    ['aff', 'dic'].map(async (part) => {
      const answer = await fetch(`/api/dictionary/${language}/${part}`);
      if (!answer.ok) throw new Error('The dictionary could not be read.');
      return answer.text();
    }),
  );
  return nspell(aff ?? '', dic ?? '');
}

const checkers = Promise.all(['british', 'american'].map(read));

serve<'misspelt' | 'corrections'>(self, {
  misspelt: async ({ words }) => {
    const all = await checkers;
    return words.filter((word) => !all.some((checker) => checker.correct(word)));
  },
  corrections: async ({ word }) => [...new Set((await checkers).flatMap((checker) => checker.suggest(word)))],
});
