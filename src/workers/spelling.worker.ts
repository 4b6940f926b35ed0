// The spell checker: Hunspell dictionaries of the languages that are asked for, held here because each takes a second
// or two to read and some 100 MB to keep. A word that any of them knows is right.

import nspell from 'nspell';
import type { DictionaryLanguage } from '@/core/text/dictionaries';
import { serve } from './serve';

type Checker = ReturnType<typeof nspell>;

async function read(language: DictionaryLanguage): Promise<Checker> {
  const [aff, dic] = await Promise.all(
    ['aff', 'dic'].map(async (part) => {
      const answer = await fetch(`/api/dictionary/${language}/${part}`);
      if (!answer.ok) throw new Error('The dictionary could not be read.');
      return answer.text();
    }),
  );
  return nspell(aff ?? '', dic ?? '');
}

const checkers = new Map<DictionaryLanguage, Promise<Checker>>();

function checkersOf(languages: readonly DictionaryLanguage[]): Promise<Checker[]> {
  for (const language of [...checkers.keys()]) if (!languages.includes(language)) checkers.delete(language); // room
  return Promise.all(
    languages.map((language) => {
      const known = checkers.get(language) ?? read(language);
      checkers.set(language, known);
      known.catch(() => checkers.delete(language)); // it is tried again
      return known;
    }),
  );
}

serve<'misspelt' | 'corrections'>(self, {
  misspelt: async ({ words, languages }) => {
    const all = await checkersOf(languages);
    return words.filter((word) => !all.some((checker) => checker.correct(word)));
  },
  corrections: async ({ word, languages }) => [
    ...new Set((await checkersOf(languages)).flatMap((checker) => checker.suggest(word))),
  ],
});
