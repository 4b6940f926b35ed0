// Two photos turned out to be one: what was kept of the one that goes is kept of the one that stays.

import type { Delivery } from '../send-out/delivery';
import type { Round } from '../sift/round';
import type { Collection } from './collection';

interface Holding {
  collections: Collection;
  rounds: Round;
  deliveries: Delivery;
}

/** Once, where the one of the two came first. */
const renamedIn = (photoIds: readonly string[], from: string, to: string): string[] => [
  ...new Set(photoIds.map((id) => (id === from ? to : id))),
];

/** The item as it speaks of the photo that stays; `null` where it does not speak of the other. */
export function withSamePhoto<S extends keyof Holding>(
  savedKind: S,
  item: Holding[S],
  from: string,
  to: string,
): Holding[S] | null {
  if (!item.photoIds.includes(from)) return null;
  const photoIds = renamedIn(item.photoIds, from, to);
  if (savedKind === 'collections') return { ...item, photoIds };
  if (savedKind === 'rounds') {
    const { [from]: decided, ...others } = (item as Round).decided;
    return { ...item, photoIds, decided: decided && !others[to] ? { ...others, [to]: decided } : others } as Holding[S];
  }
  const { files } = item as Delivery;
  return {
    ...item,
    photoIds,
    ...(files && { files: files.map((file) => (file.photoId === from ? { ...file, photoId: to } : file)) }),
  };
}
