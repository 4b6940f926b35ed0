import type { RowProblem } from '@/core/describe/photo-table';

/** What could not be understood in a table, as a sentence. */
export function rowProblemSentence({ row, why, what }: RowProblem): string {
  switch (why) {
    case 'no-photo':
      return `Line ${row}: no photo of this catalog has the number “${what}”.`;
    case 'twice':
      return `Line ${row}: this photo stood further up already; the first line counts.`;
    case 'too-short':
      return `Line ${row}: it ends before the column ${what}.`;
    case 'does-not-fit':
      return `Line ${row}: not a value of its field. ${what}`;
  }
}
