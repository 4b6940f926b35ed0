import { type StoreApi, useStore } from 'zustand';

/** A store as a hook that selects from it, with the store's own methods beside. */
export type BoundStore<T> = { (): T; <S>(select: (state: T) => S): S } & StoreApi<T>;

/** The hook of a store that lives outside React. */
export function boundStore<T>(store: StoreApi<T>): BoundStore<T> {
  const useBound = <S>(select?: (state: T) => S) => useStore(store, select ?? ((state) => state as unknown as S));
  return Object.assign(useBound, store) as BoundStore<T>;
}
