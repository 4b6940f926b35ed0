// What is kept under an id in several catalogs, brought together. Of two versions the later one holds. Two that are
// apart become one, the same wherever they meet: lists of photos, decisions, meanings and synonyms hold what either
// has; of all else one holds, and what the other said stays beside it as a thing of its own, so that nobody's word is
// lost.

import type { SavedKind, SavedItems } from './change';
import { valueMark } from '../fields/value-mark';
import { NO_VERSION, type Versioned, compareVersions, joinedVersion, weightOf } from '../fields/version';

/** What an id may have, everywhere it is read. */
const ID_LENGTH = 64;
/** Letters of a name, at most. */
export const NAME_LENGTH = 500;

type Item = SavedItems[SavedKind] & Versioned;

/** Brings lists of one saved kind together: every id once, in the order in which they first come. */
export function mergeSaved<S extends SavedKind>(
  savedKind: S,
  ...lists: readonly (readonly SavedItems[S][])[]
): SavedItems[S][] {
  const merged = new Map<string, SavedItems[S]>();
  const add = (one: SavedItems[S]): void => {
    const other = merged.get(one.id);
    if (!other) {
      merged.set(one.id, one);
      return;
    }
    const { item, beside } = mergeTwo(savedKind, other, one);
    // who has it already has nothing new
    merged.set(one.id, isSame(item, other) ? other : item);
    if (beside) add(beside);
  };
  for (const one of lists.flat()) add(one);
  return [...merged.values()];
}

const isSame = (a: Item, b: Item): boolean =>
  a === b ||
  (compareVersions(a.version ?? NO_VERSION, b.version ?? NO_VERSION) === 'same' &&
    (a.version === undefined) === (b.version === undefined) &&
    textOf(a) === textOf(b));

function mergeTwo<S extends SavedKind>(
  savedKind: S,
  a: SavedItems[S],
  b: SavedItems[S],
): { item: SavedItems[S]; beside: SavedItems[S] | null } {
  const [ours, theirs] = [a.version ?? NO_VERSION, b.version ?? NO_VERSION];
  const order = compareVersions(ours, theirs);
  if (order === 'before' || order === 'after') return { item: order === 'before' ? b : a, beside: null };
  // of before there were versions: those that have none say when they were changed, and nothing else
  if (ours === NO_VERSION && theirs === NO_VERSION) return { item: laterOf(a, b), beside: null };
  const [winner, loser] = weightier(a, b);
  if (textOf(winner) === textOf(loser))
    return { item: { ...winner, version: joinedVersion(ours, theirs) }, beside: null };
  const item = { ...withAll(savedKind, winner, loser), version: joinedVersion(ours, theirs) } as SavedItems[S];
  return { item, beside: isToldBy(savedKind, item, loser) ? null : besideOf(loser) };
}

const laterOf = <T extends Item>(a: T, b: T): T =>
  a.updatedAt === b.updatedAt ? (textOf(a) >= textOf(b) ? a : b) : a.updatedAt > b.updatedAt ? a : b;

/**
 * What was deleted on one side and changed on the other stays; else the one that was changed more often, else by its
 * text: the same everywhere.
 */
function weightier<T extends Item>(a: T, b: T): [winner: T, loser: T] {
  if (a.deleted !== b.deleted) return a.deleted ? [b, a] : [a, b];
  const [ours, theirs] = [weightOf(a.version ?? NO_VERSION), weightOf(b.version ?? NO_VERSION)];
  return ours > theirs || (ours === theirs && textOf(a) >= textOf(b)) ? [a, b] : [b, a];
}

/** Its content as one text, with the members by name and without what tells when and by whom. */
function textOf(item: Item): string {
  const { updatedAt: _, version: __, ...content } = item;
  return sorted(content) ?? '';
}

const sorted = (value: unknown): string | undefined =>
  JSON.stringify(value, (_, one: unknown) =>
    typeof one === 'object' && one !== null && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  );

/** The winner with what the loser has beside it, where a thing is made of parts. */
function withAll<S extends SavedKind>(savedKind: S, winner: SavedItems[S], loser: SavedItems[S]): SavedItems[S] {
  if (winner.deleted || loser.deleted) return winner;
  const union = (a: readonly string[], b: readonly string[]) => [...new Set([...a, ...b])];
  switch (savedKind) {
    case 'collections':
      return {
        ...winner,
        photoIds: union((winner as SavedItems['collections']).photoIds, (loser as SavedItems['collections']).photoIds),
      };
    case 'deliveries': {
      const [one, other] = [winner as SavedItems['deliveries'], loser as SavedItems['deliveries']];
      const known = new Set(one.files?.map(({ photoId, path }) => `${photoId} ${path}`));
      const files = [
        ...(one.files ?? []),
        ...(other.files ?? []).filter(({ photoId, path }) => !known.has(`${photoId} ${path}`)),
      ];
      return { ...winner, photoIds: union(one.photoIds, other.photoIds), ...(files.length > 0 && { files }) };
    }
    // what one of them holds to be private is
    case 'spots':
      return {
        ...winner,
        isPrivate: (winner as SavedItems['spots']).isPrivate || (loser as SavedItems['spots']).isPrivate,
      };
    case 'rounds':
      return {
        ...winner,
        decided: { ...(loser as SavedItems['rounds']).decided, ...(winner as SavedItems['rounds']).decided },
      };
    case 'ladder':
      return {
        ...winner,
        meanings: { ...(loser as SavedItems['ladder']).meanings, ...(winner as SavedItems['ladder']).meanings },
      };
    case 'vocabulary': {
      const [one, other] = [winner as SavedItems['vocabulary'], loser as SavedItems['vocabulary']];
      const synonyms = union(one.synonyms, [
        ...other.synonyms,
        ...(other.word === one.word ? [] : [other.word]),
      ]).filter((word) => word !== one.word);
      const isPrivate = one.isPrivate === true || other.isPrivate === true;
      return { ...winner, synonyms, note: one.note === '' ? other.note : one.note, ...(isPrivate && { isPrivate }) };
    }
    default:
      return winner;
  }
}

/**
 * Whether all a person entered in the loser is told by what holds now; what has no name, and what is no more than an
 * order, is nobody's work.
 */
function isToldBy<S extends SavedKind>(savedKind: S, item: SavedItems[S], loser: SavedItems[S]): boolean {
  if (loser.deleted || !(savedKind in HAS_WORK)) return true;
  const { updatedAt: _, version: __, ...content } = loser;
  const {
    order: ___,
    pinned: ____,
    photoIds: _____,
    active: ______,
    files: _______,
    ...work
  } = content as Record<string, unknown>;
  return Object.entries(work).every(
    ([member, value]) => sorted(value) === sorted((item as unknown as Record<string, unknown>)[member]),
  );
}

const HAS_WORK: Partial<Record<SavedKind, true>> = {
  collections: true,
  deliveries: true,
  deliveryProfiles: true,
  kits: true,
  patterns: true,
  routines: true,
  markers: true,
  shorthand: true,
  spots: true,
};

/**
 * A change of a thing that became another since it was planned, or since it was done: only what the change is about
 * changes; the rest stays as it is now. `isAgain`: it is done or taken back a second time, and leaves alone what was
 * changed since.
 */
export function rebased<T extends Item>(before: T | null, after: T, now: T | undefined, isAgain: boolean): T {
  if (!now || !before) return after;
  const [was, wanted, is] = [before, after, now] as unknown as Record<string, unknown>[];
  const item: Record<string, unknown> = { ...now };
  for (const member of new Set([...Object.keys(was ?? {}), ...Object.keys(wanted ?? {})])) {
    const [then, there, to] = [sorted(was?.[member]), sorted(is?.[member]), sorted(wanted?.[member])];
    if (then === to || (isAgain && there !== then)) continue;
    if (wanted?.[member] === undefined) delete item[member];
    else item[member] = wanted[member];
  }
  return {
    ...(item as unknown as T),
    updatedAt: after.updatedAt,
    ...(now.version !== undefined && { version: now.version }),
  };
}

function besideOf<T extends Item>(loser: T): T {
  const name = 'name' in loser ? { name: `${loser.name.slice(0, NAME_LENGTH - 20)} (other version)` } : {};
  return { ...loser, ...name, id: `${loser.id.slice(0, ID_LENGTH - 10)}~${valueMark(textOf(loser))}` };
}

/** Why something could not be read back from its file. */
export interface SavedProblem {
  /** The member it is about, by its way: `name`, `entries.0.value`. */
  member: string;
  /** Letters or members it has and may have; `null` where it is none of that kind. */
  tooMany: { has: number; most: number } | null;
}
