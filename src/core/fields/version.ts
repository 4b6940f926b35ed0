// Versions: which of two states of one thing is later, told by what each side had seen and by no clock.
//
// A version counts, for every catalog that ever changed the thing, its changes: `k3f9x2ab:7 m27c01de:2`. It is a
// version vector (Parker et al., "Detection of Mutual Inconsistency in Distributed Systems", IEEE TSE SE-9, 1983): one
// that has seen all of the other is later; two of which each has something the other has not are apart, and both are
// kept. The catalog that changed it last stands first. Empty: never changed here.

export type Version = string;

export const NO_VERSION: Version = '';
/**
 * Stands for every program that is not Wembo: what it wrote is one change more, the same for whichever catalog meets
 * it.
 */
export const ELSEWHERE = '*';

/** What is kept on drives under an id, and can be changed in several catalogs. */
export interface Versioned {
  /** When it was last changed; milliseconds since 1970, UTC. For people: it decides nothing. */
  updatedAt: number;
  /** Kept as a tombstone, so that an older copy on a drive that was away does not bring it back. */
  deleted: boolean;
  /** Absent in what was kept before versions were. */
  version?: Version | undefined;
}

const DOT = /^[*a-z0-9]{1,32}:[1-9]\d{0,11}$/;

export const isVersion = (text: string): boolean =>
  text === NO_VERSION || (text.length < 5000 && text.split(' ').every((dot) => DOT.test(dot)));

function countsOf(version: Version): Map<string, number> {
  const counts = new Map<string, number>();
  for (const dot of version === NO_VERSION ? [] : version.split(' ')) {
    const at = dot.lastIndexOf(':');
    counts.set(dot.slice(0, at), Number(dot.slice(at + 1)));
  }
  return counts;
}

const textOf = (counts: Iterable<readonly [string, number]>): Version =>
  [...counts].map(([by, count]) => `${by}:${count}`).join(' ');

/** After one more change by a catalog. */
export function bumped(version: Version, by: string): Version {
  const counts = countsOf(version);
  const count = (counts.get(by) ?? 0) + 1;
  counts.delete(by);
  return textOf([[by, count], ...counts]);
}

export type Order = 'same' | 'before' | 'after' | 'apart';

/** How `a` stands to `b`. */
export function compareVersions(a: Version, b: Version): Order {
  if (a === b) return 'same';
  const [ours, theirs] = [countsOf(a), countsOf(b)];
  const lacks = (one: Map<string, number>, other: Map<string, number>) =>
    [...other].some(([by, count]) => (one.get(by) ?? 0) < count);
  const [behind, ahead] = [lacks(ours, theirs), lacks(theirs, ours)];
  return behind ? (ahead ? 'apart' : 'before') : ahead ? 'after' : 'same';
}

/** What has seen both. */
export function joinedVersion(a: Version, b: Version): Version {
  const order = compareVersions(a, b);
  if (order !== 'apart') return order === 'before' ? b : a;
  const counts = countsOf(a);
  for (const [by, count] of countsOf(b)) counts.set(by, Math.max(count, counts.get(by) ?? 0));
  return textOf([...counts].sort(([one], [other]) => (one < other ? -1 : 1)));
}

/** Who changed it last; `null` where nobody did. */
export const writerOf = (version: Version): string | null => countsOf(version).keys().next().value ?? null;

/** How many changes it has seen: orders what is apart, the same everywhere. */
export const weightOf = (version: Version): number =>
  [...countsOf(version).values()].reduce((sum, count) => sum + count, 0);
