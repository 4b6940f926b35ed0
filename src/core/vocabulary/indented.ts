// The vocabulary as indented text: a word a line, each level one tab deeper. Synonyms follow the word in braces, a note
// behind a hash. Read leniently: blanks as indentation count by the first step that is seen, and a level that is
// skipped is the next one.

import { type ListedWord, listed } from './listed';

export function writeIndented(words: readonly ListedWord[], depth = 0): string {
  return words
    .map(({ word, synonyms, note, below }) => {
      const also = synonyms.length > 0 ? ` {${synonyms.map(oneLine).join('; ')}}` : '';
      const said = note === '' ? '' : ` # ${oneLine(note)}`;
      return `${'\t'.repeat(depth)}${oneLine(word)}${also}${said}\n${writeIndented(below, depth + 1)}`;
    })
    .join('');
}

const oneLine = (text: string) => text.replace(/\s+/g, ' ').trim();

export function readIndented(text: string): ListedWord[] {
  const top: ListedWord[] = [];
  /** The last word of each depth, and how far it was indented. */
  const open: { indent: number; word: ListedWord }[] = [];
  for (const line of text.replace(/^\uFEFF/, '').split(/\r\n?|\n/)) {
    const word = readLine(line);
    if (!word) continue;
    const indent = indentOf(line);
    while (open.length > 0 && (open.at(-1)?.indent ?? -1) >= indent) open.pop();
    (open.at(-1)?.word.below ?? top).push(word);
    open.push({ indent, word });
  }
  return top;
}

/** A tab is worth as much as eight blanks, as terminals have it. */
const indentOf = (line: string): number =>
  [...(/^\s*/.exec(line)?.[0] ?? '')].reduce((sum, letter) => sum + (letter === '\t' ? 8 : 1), 0);

function readLine(line: string): ListedWord | null {
  const hash = line.search(/(?:^|\s)#\s/);
  const note =
    hash < 0
      ? ''
      : line
          .slice(hash)
          .replace(/^\s*#\s*/, '')
          .trim();
  const said = hash < 0 ? line : line.slice(0, hash);
  const braces = /^(.*?)\s*\{([^{}]*)\}\s*$/.exec(said);
  const word = (braces?.[1] ?? said).trim();
  if (word === '') return null;
  return {
    ...listed(word),
    synonyms: (braces?.[2] ?? '')
      .split(';')
      .map((text) => text.trim())
      .filter((text) => text !== ''),
    note,
  };
}
