const queues = new Map<string, Promise<unknown>>();

/** One at a time of what has this name, in all tabs; where there are no locks, in this one. */
export function alone<T>(name: string, act: () => Promise<T>): Promise<T> {
  if (typeof navigator !== 'undefined' && 'locks' in navigator) return navigator.locks.request(name, act) as Promise<T>;
  const mine = (queues.get(name) ?? Promise.resolve()).then(act);
  queues.set(
    name,
    mine.catch(() => undefined),
  );
  return mine;
}
