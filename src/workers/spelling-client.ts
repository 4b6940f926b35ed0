import type { DictionaryLanguage } from '@/core/text/dictionaries';
import { WorkerCaller } from './caller';

export interface SpellingClient {
  /** Those of the words that no dictionary of these languages knows. */
  misspelt(words: string[], languages: DictionaryLanguage[]): Promise<string[]>;
  /** What was most likely meant, of each language the likeliest first. */
  corrections(word: string, languages: DictionaryLanguage[]): Promise<string[]>;
}

export function workerSpelling(): SpellingClient {
  const caller = new WorkerCaller(
    () => new Worker(new URL('./spelling.worker.ts', import.meta.url), { type: 'module' }),
    () => undefined,
  );
  return {
    misspelt: (words, languages) => caller.call('misspelt', { words, languages }),
    corrections: (word, languages) => caller.call('corrections', { word, languages }),
  };
}
