import Dexie from 'dexie';
import { useEffect, useState } from 'react';
import { watchCalmly } from './watch';

/** A React hook over a database query that runs again whenever what it read changes, in this tab or another. */
export { useLiveQuery as useLive } from 'dexie-react-hooks';

/**
 * The same for sums over a whole table: while it changes all the time, as when a drive is cataloged, they are asked for
 * only every half second. `read` may change with `deps` only.
 */
export function useSum<T>(db: Dexie, table: string, read: () => Promise<T>, deps: readonly unknown[]): T | undefined {
  const [sum, setSum] = useState<T>();
  useEffect(() => watchCalmly(db, table, read, setSum), [db, table, ...deps]); // eslint-disable-line react-hooks/exhaustive-deps
  return sum;
}
