// Choices of the person's that belong to the archive and not to this screen: they are kept on the drives, and are there
// again in another browser and after a rebuild. A choice of before that is kept in this browser alone is taken over
// once.

import type { z } from 'zod';
import { type StoreApi, createStore } from 'zustand/vanilla';
import type { SettingValue } from '@/core/catalog/change';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { follow as followQuery } from '@/storage/catalog/watch';
import { readChoice } from '@/ui/kept-choice';

type Keep = (id: string, value: SettingValue) => Promise<void>;
type Follow = (db: CatalogDatabase, keep: Keep) => void;

const waiting: Follow[] = [];
let followed: { db: CatalogDatabase; keep: Keep } | null = null;

/** The catalog is open: from now on choices come from it, and go to it. */
export function followChoices(db: CatalogDatabase, keep: Keep): void {
  followed = { db, keep };
  for (const follow of waiting.splice(0)) follow(db, keep);
}

/**
 * A store whose state is kept as the setting `id`; what is there and does not fit `schema` is left alone. `before`: the
 * key it had in this browser.
 */
export function archiveChoice<T extends object>(
  id: string,
  schema: z.ZodType<T>,
  start: T,
  before: string | null = null,
): StoreApi<T> {
  const store = createStore<T>(() => start);
  // what was read from the catalog, as text: that is not written back
  let known = JSON.stringify(start);
  const follow: Follow = (db, keep) => {
    let isFirst = true;
    followQuery(
      () => db.settings.get(id),
      (setting) => {
        const read = schema.safeParse(setting?.value);
        if (read.success) {
          known = JSON.stringify(read.data);
          store.setState(read.data);
        } else if (isFirst && setting === undefined) {
          const old = before === null ? null : readChoice(before, schema);
          if (old) store.setState(old);
        }
        isFirst = false;
      },
    );
    store.subscribe((state) => {
      const text = JSON.stringify(state);
      if (text === known) return;
      known = text;
      void keep(id, JSON.parse(text) as SettingValue);
    });
  };
  if (followed) follow(followed.db, followed.keep);
  else waiting.push(follow);
  return store;
}
