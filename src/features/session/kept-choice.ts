// Choices of how things look, kept in this browser beside the catalog.

import { type StoreApi, type UseBoundStore, create } from 'zustand';
import type { z } from 'zod';

/** A store whose state is kept under `key`; what is there and does not fit `schema` is left unread. */
export function keptChoice<T extends object>(key: string, schema: z.ZodType<T>, start: T): UseBoundStore<StoreApi<T>> {
  const store = create<T>(() => start);
  if (typeof localStorage === 'undefined') return store;
  const read = schema.safeParse(JSON.parse(localStorage.getItem(key) ?? 'null'));
  if (read.success) store.setState(read.data);
  store.subscribe((state) => localStorage.setItem(key, JSON.stringify(state)));
  return store;
}
