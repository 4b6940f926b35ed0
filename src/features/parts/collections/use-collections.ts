'use client';

// The collections as the person has them, and what is done with them. Every act is a change that undo takes back.

import { useEffect } from 'react';
import type { SavedChange } from '@/core/catalog/change';
import {
  type Collection,
  type CollectionKind,
  type Gathering,
  inside,
  keptForIndex,
  newCollection,
  planAdding,
  planTakingOut,
  scopeName,
} from '@/core/catalog/collection';
import { renamed } from '@/core/catalog/references';
import { quoted } from '@/core/query/write-scope';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { useSession } from '@/features/parts/session/use-session';

const there = async (): Promise<Collection[]> =>
  (await session.db.collections.toArray()).filter(({ deleted }) => !deleted);

export const useCollections = (): Collection[] => useLive(there, []) ?? NONE;
const NONE: Collection[] = [];

/** Tells the index of the collections, now and whenever they change; for the frame. */
export function useKeepCollections(): void {
  const collections = useLive(there, []);
  const stage = useSession((state) => state.stage.state);
  useEffect(() => {
    if (!collections || stage !== 'ready') return;
    session.search.knowCollections(collections.map(keptForIndex)).then(
      () => session.searchedAnew(),
      () => undefined,
    ); // the worker died: it is told again when it is filled
  }, [collections, stage]);
}

/** The scope by which a collection is looked at: its own words where it fills itself, else its name. */
export const scopeOf = (collections: readonly Collection[], one: Collection): string =>
  one.kind === 'smart'
    ? one.scope
    : `in:${quoted(scopeName(collections, one))}${one.kind === 'hand' ? ' sort:hand' : ''}`;

export const makeCollection = (
  name: string,
  kind: CollectionKind,
  more: Parameters<typeof newCollection>[2] = {},
): Promise<string | null> => session.keep('collections', newCollection(name, kind, more));

const kept = (before: Collection, patch: Partial<Collection>): SavedChange => ({
  kind: 'kept',
  savedKind: 'collections',
  before,
  after: { ...before, ...patch, updatedAt: Date.now() },
});

export const patchCollection = (one: Collection, patch: Partial<Collection>): Promise<boolean> =>
  session.change(kept(one, patch));

/** Another name or folder; what other collections say of it follows, as one act. */
export async function renameCollection(
  id: string,
  patch: Partial<Pick<Collection, 'name' | 'parentId'>>,
): Promise<void> {
  const collections = await there();
  const before = new Map(collections.map((one) => [one.id, one]));
  const changes = renamed(collections, id, patch).flatMap((after): SavedChange[] => {
    const was = before.get(after.id);
    return was ? [kept(was, after)] : [];
  });
  if (changes.length > 0) await session.change({ kind: 'together', changes });
}

/** Out of the list. What stands in a folder moves to where the folder stood. */
export async function removeCollection(one: Collection): Promise<void> {
  const within = inside(await there(), one.id);
  await session.change({
    kind: 'together',
    changes: [kept(one, { deleted: true }), ...within.map((each) => kept(each, { parentId: one.parentId }))],
  });
}

/** Photos come in, leave, or change places, as one act. */
export const gatherInto = ({ id, name }: Collection, gathering: Gathering): Promise<boolean> =>
  gathering.put.length + gathering.take.length === 0
    ? Promise.resolve(true)
    : session.change({ kind: 'gather', collectionId: id, name, gathering });

/** Returns how many were new to it. */
export async function addToCollection(one: Collection, photoIds: readonly string[]): Promise<number> {
  const gathering = planAdding(one.photoIds, photoIds);
  await gatherInto(one, gathering);
  return gathering.put.length;
}

export async function takeOutOfCollection(one: Collection, photoIds: ReadonlySet<string>): Promise<number> {
  const gathering = planTakingOut(one.photoIds, photoIds);
  await gatherInto(one, gathering);
  return gathering.take.length;
}

/** One step among those of its folder. */
export async function stepCollection(one: Collection, by: -1 | 1): Promise<void> {
  const siblings = inside(await there(), one.parentId);
  const at = siblings.findIndex(({ id }) => id === one.id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= siblings.length) return;
  const order = siblings.toSpliced(at, 1).toSpliced(to, 0, one);
  await session.change({
    kind: 'together',
    changes: order.flatMap((each, index) => (each.order === index ? [] : [kept(each, { order: index })])),
  });
}
