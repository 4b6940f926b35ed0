import { counted } from './plural';

const FAULT_WORDS: Record<string, string> = {
  'not-a-backup': 'It is no backup of a catalog.',
  newer: 'It was made by a later version of Wembo, which reads it.',
  damaged: 'It is damaged, or was cut short. Nothing was made of it; take another one.',
};

export const backupProblem = (error: unknown): string =>
  FAULT_WORDS[error instanceof Error ? error.message : ''] ?? 'It could not be read. Nothing was made of it.';

export const backupSinceSentence = (changes: number): string =>
  changes === 0 ? 'all you did is in it.' : `${counted(changes, 'act is', 'acts are')} not in it yet.`;
