import { WorkerCaller } from './caller';

export interface SpellingClient {
  /** Those of the words that the dictionary does not know. */
  misspelt(words: string[]): Promise<string[]>;
  /** What was most likely meant, the likeliest first. */
  corrections(word: string): Promise<string[]>;
}

export function workerSpelling(): SpellingClient {
  const caller = new WorkerCaller(
    () => new Worker(new URL('./spelling.worker.ts', import.meta.url), { type: 'module' }),
    () => undefined,
  );
  return {
    misspelt: (words) => caller.call('misspelt', { words }),
    corrections: (word) => caller.call('corrections', { word }),
  };
}
