'use client';

// The order by hand of a collection, while the scope is that collection and the wall shows it so: selected photos are
// dragged before another, or moved by the menu of the selection.

import type { DragEvent } from 'react';
import { type Collection, findNamed, planMoving, planTakingOut } from '@/core/catalog/collection';
import { parseScope } from '@/core/query/parse-scope';
import { collectionsIn } from '@/core/query/query';
import { gatherInto, useCollections } from '@/features/parts/collections/use-collections';
import { draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { useSelection } from '@/features/parts/selection/selection';
import { plain } from '@/core/text/fold';

export type HandStep = 'front' | 'earlier' | 'later' | 'end' | 'out';

export interface HandOrder {
  /** `null` where the scope shows no collection in its order by hand. */
  collection: Collection | null;
  step: (step: HandStep) => void;
  drop: (event: DragEvent) => void;
}

export function useHandOrder(scope: string): HandOrder {
  const collections = useCollections();
  const parsed = parseScope(scope);
  const [named] = parsed.sort.by === 'hand' ? collectionsIn(parsed) : [];
  const collection =
    named === undefined ? null : (findNamed(collections, plain(named)).find(({ kind }) => kind === 'hand') ?? null);
  const move = (ids: ReadonlySet<string>, before: string | null) =>
    collection && void gatherInto(collection, planMoving(collection.photoIds, ids, before));
  return {
    collection,
    step: (step) => {
      if (!collection) return;
      const { ids } = useSelection.getState();
      if (step === 'out') void gatherInto(collection, planTakingOut(collection.photoIds, ids));
      else move(ids, beforeWhich(collection.photoIds, ids, step));
    },
    drop: (event) => {
      const ids = new Set(draggedPhotos(event.dataTransfer));
      if (!collection || ids.size === 0) return;
      event.preventDefault();
      const onto =
        event.target instanceof Element ? event.target.closest<HTMLElement>('[data-photo]')?.dataset.photo : undefined;
      move(ids, onto ?? null);
    },
  };
}

/** The photo that will stand behind the moved ones; `null` for the end. */
function beforeWhich(
  photoIds: readonly string[],
  ids: ReadonlySet<string>,
  step: Exclude<HandStep, 'out'>,
): string | null {
  const rest = photoIds.filter((id) => !ids.has(id));
  const first = photoIds.findIndex((id) => ids.has(id));
  const place = photoIds.slice(0, Math.max(0, first)).filter((id) => !ids.has(id)).length;
  const to = { front: 0, earlier: Math.max(0, place - 1), later: place + 1, end: rest.length }[step];
  return rest[to] ?? null;
}
