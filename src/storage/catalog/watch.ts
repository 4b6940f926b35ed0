import { liveQuery } from 'dexie';

/** Resolves when the number that `read` gives grows, or when `signal` aborts; sees the changes of other tabs too. */
export function untilGrown(read: () => Promise<number>, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    let last: number | null = null;
    const subscription = liveQuery(read).subscribe((value) => {
      if (last !== null && value > last) resolve();
      last = value;
    });
    signal.addEventListener('abort', () => {
      subscription.unsubscribe();
      resolve();
    });
  });
}
