// English plural endings, as they are spelt most often.

/** The word without a plural ending, or the word itself. Words of four letters and fewer keep theirs where it is doubtful. */
export function singularOf(word: string): string {
  if (word.length > 4 && /ies$/i.test(word)) return `${word.slice(0, -3)}y`;
  if (word.length > 4 && /(?:s|x|z|ch|sh)es$/i.test(word)) return word.slice(0, -2);
  return word.length > 3 && /[^s]s$/i.test(word) ? word.slice(0, -1) : word;
}
