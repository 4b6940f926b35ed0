/** First index whose value is not below `value`, in a sorted list. */
export function lowerBound<T extends number | string>(sorted: ArrayLike<T>, value: T): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((sorted[middle] as T) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
