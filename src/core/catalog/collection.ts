// Collections: photos gathered by hand, scopes that fill themselves (smart collections), and folders of both, without
// limit of depth. A scope names one by its name or, where that is not enough, by its path: `in:"Harbours/Best"`.

import type { Versioned } from '../fields/version';
import { plain } from '../text/fold';

export type CollectionKind = 'smart' | 'hand' | 'folder';

export interface CollectionNode {
  id: string;
  name: string;
  parentId: string | null;
}

/**
 * From the top down to the collection itself. A ring, as two drives can make one, is opened at the first that comes up
 * again; one whose folder is not there stands at the top.
 */
export function pathTo<C extends CollectionNode>(byId: ReadonlyMap<string, C>, id: string): C[] {
  const path: C[] = [];
  const seen = new Set<string>();
  for (let at = byId.get(id); at && !seen.has(at.id); at = at.parentId === null ? undefined : byId.get(at.parentId)) {
    seen.add(at.id);
    path.unshift(at);
  }
  return path;
}

/** Those of a name or of a path's end, in plain form. */
export function findNamed<C extends CollectionNode>(kept: readonly C[], asked: string): C[] {
  const parts = asked.split('/').map(plain);
  const last = parts.at(-1) ?? '';
  const byId = new Map(kept.map((one) => [one.id, one]));
  const whole = kept.filter(({ name }) => plain(name) === asked); // a name may have a stroke in it
  return whole.length > 0 || parts.length === 1
    ? whole
    : kept.filter(
        (one) =>
          plain(one.name) === last &&
          endsWith(
            pathTo(byId, one.id).map(({ name }) => plain(name)),
            parts,
          ),
      );
}

const endsWith = (path: readonly string[], parts: readonly string[]): boolean =>
  parts.length <= path.length && parts.every((part, at) => path[path.length - parts.length + at] === part);

/** How a scope names it: by its name where no other has it, else by its path. */
export function scopeName<C extends CollectionNode>(kept: readonly C[], one: C): string {
  if (findNamed(kept, plain(one.name)).length === 1) return one.name;
  return pathTo(new Map(kept.map((each) => [each.id, each])), one.id)
    .map(({ name }) => name)
    .join('/');
}

/** A collection as it is kept. `scope` is that of a smart one, `photoIds` those of one by hand, in its order. */
export interface Collection extends CollectionNode, Versioned {
  kind: CollectionKind;
  scope: string;
  photoIds: string[];
  /** Kept at hand, above the others. */
  pinned: boolean;
  /** Place among those of the same folder; of the same, by name. */
  order: number;
}

export const newCollection = (
  name: string,
  kind: CollectionKind,
  more: Partial<Pick<Collection, 'parentId' | 'scope' | 'photoIds' | 'order'>> = {},
): Omit<Collection, 'id' | 'updatedAt' | 'deleted'> => ({
  name,
  kind,
  parentId: null,
  scope: '',
  photoIds: [],
  pinned: false,
  order: 0,
  ...more,
});

/** Photos taken out of a list and put into it, each with its place: in the list before, and in the list after. */
export interface Gathering {
  take: { photoId: string; at: number }[];
  put: { photoId: string; at: number }[];
}

/**
 * The list after it. Photos that are no longer there are not taken, those that are there already not put a second time.
 */
export function gathered(photoIds: readonly string[], { take, put }: Gathering): string[] {
  const taken = new Set(take.map(({ photoId }) => photoId));
  const list = photoIds.filter((id) => !taken.has(id));
  const there = new Set(list);
  for (const { photoId, at } of put.toSorted((a, b) => a.at - b.at))
    if (!there.has(photoId)) list.splice(Math.min(at, list.length), 0, photoId);
  return list;
}

/** These photos at the end; those that are in it stay where they are. */
export function planAdding(photoIds: readonly string[], added: readonly string[]): Gathering {
  const there = new Set(photoIds);
  return {
    take: [],
    put: [...new Set(added)]
      .filter((id) => !there.has(id))
      .map((photoId, index) => ({ photoId, at: photoIds.length + index })),
  };
}

export function planTakingOut(photoIds: readonly string[], out: ReadonlySet<string>): Gathering {
  return { take: photoIds.flatMap((photoId, at) => (out.has(photoId) ? [{ photoId, at }] : [])), put: [] };
}

/** Moves photos of it, in the order they have, before another; to the end where that is `null` or one of them. */
export function planMoving(photoIds: readonly string[], moved: ReadonlySet<string>, before: string | null): Gathering {
  const { take } = planTakingOut(photoIds, moved);
  const rest = photoIds.filter((id) => !moved.has(id));
  const at = before === null || moved.has(before) ? rest.length : rest.indexOf(before);
  return { take, put: take.map(({ photoId }, index) => ({ photoId, at: (at < 0 ? rest.length : at) + index })) };
}

export const inverseGathering = ({ take, put }: Gathering): Gathering => ({ take: put, put: take });

/**
 * In a folder, or at the top (`null`): in their order. One whose folder is gone, or stands in itself, is at the top.
 */
export function inside(collections: readonly Collection[], parentId: string | null): Collection[] {
  const byId = new Map(collections.map((one) => [one.id, one]));
  const parentOf = (one: Collection): string | null =>
    one.parentId !== null && byId.has(one.parentId) && pathTo(byId, one.id)[0]?.parentId === null ? one.parentId : null;
  return collections
    .filter((one) => parentOf(one) === parentId)
    .sort(
      (a, b) =>
        a.order - b.order ||
        (plain(a.name) < plain(b.name) ? -1 : plain(a.name) > plain(b.name) ? 1 : a.id < b.id ? -1 : 1),
    );
}

/** It and everything in it, however deep. */
export function withInside(collections: readonly Collection[], id: string): Collection[] {
  const one = collections.find((each) => each.id === id);
  const found = one ? [one] : [];
  for (let at = 0; at < found.length; at++)
    found.push(
      ...collections.filter(
        ({ id: other, parentId }) => parentId === found[at]?.id && !found.some((each) => each.id === other),
      ),
    );
  return found;
}

/** What the index is told of it. */
export const keptForIndex = ({
  id,
  name,
  parentId,
  kind,
  scope,
  photoIds,
}: Collection): CollectionNode &
  ({ kind: 'smart'; scope: string } | { kind: 'hand'; photoIds: readonly string[] } | { kind: 'folder' }) =>
  kind === 'smart'
    ? { id, name, parentId, kind, scope }
    : kind === 'hand'
      ? { id, name, parentId, kind, photoIds }
      : { id, name, parentId, kind };
