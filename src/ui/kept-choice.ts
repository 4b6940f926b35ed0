// Choices of how things look, kept in this browser beside the catalog.

import { type StoreApi, type UseBoundStore, create } from 'zustand';
import type { z } from 'zod';

/** What is kept under a key; `null` where nothing is, or nothing that fits. */
export function readChoice<T>(key: string, schema: z.ZodType<T>): T | null {
  if (typeof localStorage === 'undefined') return null;
  try {
    return schema.safeParse(JSON.parse(localStorage.getItem(key) ?? 'null')).data ?? null;
  } catch {
    return null;
  }
}

/** A store whose state is kept under `key`; what is there and does not fit `schema` is left unread. */
export function keptChoice<T extends object>(key: string, schema: z.ZodType<T>, start: T): UseBoundStore<StoreApi<T>> {
  const store = create<T>(() => start);
  if (typeof localStorage === 'undefined') return store;
  const read = readChoice(key, schema);
  if (read) store.setState(read);
  store.subscribe((state) => localStorage.setItem(key, JSON.stringify(state)));
  return store;
}
