import Dexie, { liveQuery } from 'dexie';

const CALM_MS = 500;

/**
 * Resolves when what `read` gives is not `known` any more, or when `signal` aborts; sees the changes of other tabs too.
 */
export function untilOther<T>(read: () => Promise<T>, known: T, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const subscription = liveQuery(read).subscribe({
      next: (value) => value !== known && resolve(),
      error: () => undefined,
    });
    signal.addEventListener('abort', () => {
      subscription.unsubscribe();
      resolve();
    });
  });
}

/** Gives what `read` reads, now and whenever that is not what it was. Returns how to end it. */
export function follow<T>(read: () => Promise<T>, give: (value: T) => void): () => void {
  const subscription = liveQuery(read).subscribe({ next: give, error: () => undefined });
  return () => subscription.unsubscribe();
}

/** Calls after each write into a table, in this tab or another one. Returns how to end it. */
export function onChanged(db: Dexie, table: string, call: () => void): () => void {
  const onMutated = (parts: object) => {
    if (Object.keys(parts).some((part) => part.startsWith(`idb://${db.name}/${table}/`))) call();
  };
  Dexie.on.storagemutated.subscribe(onMutated);
  return () => Dexie.on.storagemutated.unsubscribe(onMutated);
}

/** Gives what `read` reads, now and after changes of a table, at most every half second. Returns how to end it. */
export function watchCalmly<T>(db: Dexie, table: string, read: () => Promise<T>, give: (value: T) => void): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  let [ended, reading, changed] = [false, false, false];
  const look = async () => {
    timer = null;
    reading = true;
    changed = false;
    // a read that fails leaves the sum as it was; the next change asks again
    const value = await read().then(
      (sum) => ({ sum }),
      () => null,
    );
    reading = false;
    if (ended) return;
    if (value) give(value.sum);
    if (changed) timer ??= setTimeout(() => void look(), CALM_MS);
  };
  const unfollow = onChanged(db, table, () => {
    changed = true;
    if (!reading) timer ??= setTimeout(() => void look(), CALM_MS);
  });
  void look();
  return () => {
    ended = true;
    if (timer) clearTimeout(timer);
    unfollow();
  };
}
