// How many letters must be put in, left out, exchanged or turned with their neighbour to make one word of another
// (optimal string alignment; Damerau 1964, Levenshtein 1966). Counting stops once it is sure to exceed what is asked
// for.

/** @returns the distance, or `most + 1` where it is greater than `most`. Letters are UTF-16 units. O(length × most). */
export function editDistance(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  const beyond = most + 1;
  let twoBefore: number[] = [];
  let before = Array.from({ length: b.length + 1 }, (_, column) => Math.min(column, beyond));
  for (let row = 1; row <= a.length; row++) {
    const now = new Array<number>(b.length + 1).fill(beyond);
    now[0] = Math.min(row, beyond);
    let least = now[0];
    for (let column = Math.max(1, row - most); column <= Math.min(b.length, row + most); column++) {
      const same = a[row - 1] === b[column - 1];
      let steps = Math.min(
        (before[column] ?? beyond) + 1,
        (now[column - 1] ?? beyond) + 1,
        (before[column - 1] ?? beyond) + (same ? 0 : 1),
      );
      if (row > 1 && column > 1 && a[row - 1] === b[column - 2] && a[row - 2] === b[column - 1])
        steps = Math.min(steps, (twoBefore[column - 2] ?? beyond) + 1);
      now[column] = Math.min(steps, beyond);
      least = Math.min(least, steps);
    }
    if (least > most) return beyond;
    [twoBefore, before] = [before, now];
  }
  return before[b.length] ?? beyond;
}

/** Of a short list the word that is meant most likely: the nearest, of several the first; `null` where none is near. */
export function nearestWord(typed: string, words: Iterable<string>, most = typed.length > 4 ? 2 : 1): string | null {
  let found: string | null = null;
  let within = most;
  for (const word of words) {
    const steps = editDistance(typed, word, within);
    if (steps > within || (found !== null && steps === within)) continue;
    [found, within] = [word, steps];
  }
  return found;
}
