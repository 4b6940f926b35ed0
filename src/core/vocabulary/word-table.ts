// The vocabulary as rows of a table: path from the top (its words parted by " > "), synonyms (parted by semicolons),
// note.

import { type ListedWord, listed } from './listed';
import { sameWord } from './vocabulary';

export const WORD_COLUMNS = ['word', 'synonyms', 'note'] as const;
const BETWEEN = ' > ';

export function wordRows(words: readonly ListedWord[], above: readonly string[] = []): string[][] {
  return words.flatMap((one) => {
    const path = [...above, one.word];
    return [[path.join(BETWEEN), one.synonyms.join('; '), one.note], ...wordRows(one.below, path)];
  });
}

/** The first row may be the names of the columns. Words above that have no row of their own are made. */
export function readWordRows(rows: readonly (readonly string[])[]): ListedWord[] {
  const top: ListedWord[] = [];
  rows.forEach((cells, index) => {
    const [path = '', synonyms = '', note = ''] = cells;
    if (index === 0 && path.trim().toLowerCase() === WORD_COLUMNS[0]) return;
    let level = top;
    let word: ListedWord | undefined;
    for (const name of path
      .split(/\s+>\s+/)
      .map((part) => part.trim())
      .filter((part) => part !== '')) {
      word = level.find((one) => sameWord(one.word, name));
      if (!word) level.push((word = listed(name)));
      level = word.below;
    }
    if (!word) return;
    word.synonyms.push(
      ...synonyms
        .split(';')
        .map((text) => text.trim())
        .filter((text) => text !== ''),
    );
    if (word.note === '') word.note = note.trim();
  });
  return top;
}
