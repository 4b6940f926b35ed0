// Which smart collections refer to which others by `in:`, so that a new name is carried into them, a removal is said
// before it breaks one, and one that refers to itself is told.

import { parseScope } from '../query/parse-scope';
import { collectionsIn, queryOf, type Query } from '../query/query';
import { joinedConditions, queryText, sortText } from '../query/write-scope';
import { type Collection, findNamed, inside, scopeName, withInside } from './collection';
import { plain } from '../text/fold';

const namesIn = (scope: string): string[] => collectionsIn(parseScope(scope));

/** Smart collections that name it. */
export const referringTo = (collections: readonly Collection[], id: string): Collection[] =>
  collections.filter(
    (one) =>
      one.kind === 'smart' &&
      namesIn(one.scope).some((name) => findNamed(collections, plain(name)).some((found) => found.id === id)),
  );

/** Names of collections that a scope asks for and that are not there. */
export const missingIn = (collections: readonly Collection[], scope: string): string[] =>
  namesIn(scope).filter((name) => findNamed(collections, plain(name)).length === 0);

/** Whether a collection comes back to itself over those it names or holds. */
export function refersToItself(collections: readonly Collection[], id: string): boolean {
  const seen = new Set<string>();
  const from = (at: string): boolean => {
    const one = collections.find((each) => each.id === at);
    if (!one) return false;
    const next =
      one.kind === 'smart'
        ? namesIn(one.scope).flatMap((name) => findNamed(collections, plain(name)))
        : one.kind === 'folder'
          ? inside(collections, at)
          : [];
    return next.some(({ id: other }) => {
      if (other === id) return true;
      if (seen.has(other)) return false;
      seen.add(other);
      return from(other);
    });
  };
  return from(id);
}

/**
 * The collections as they are after one got another name or folder: scopes that named it, or what stands in it, name it
 * as it is called now. Returns those that change, the renamed one among them.
 */
export function renamed(
  collections: readonly Collection[],
  id: string,
  patch: Partial<Pick<Collection, 'name' | 'parentId'>>,
): Collection[] {
  const after = collections.map((one) => (one.id === id ? { ...one, ...patch } : one));
  const touched = withInside(collections, id).filter((one) =>
    namesIn(collections.map(({ scope }) => scope).join(' ')).some((name) =>
      findNamed(collections, plain(name)).some((found) => found.id === one.id),
    ),
  );
  const carried = after.map((one) => {
    if (one.kind !== 'smart') return one;
    const scope = touched.reduce(
      (text, target) =>
        withReference(
          text,
          (name) =>
            findNamed(collections, plain(name)).length === 1 &&
            findNamed(collections, plain(name))[0]?.id === target.id,
          scopeName(after, after.find((each) => each.id === target.id) ?? target),
        ),
      one.scope,
    );
    return scope === one.scope ? one : { ...one, scope };
  });
  return carried.filter((one, at) => one !== collections[at]);
}

/** The scope with those names of collections that pass put as another. */
function withReference(text: string, passes: (name: string) => boolean, name: string): string {
  const scope = parseScope(text);
  if (!namesIn(text).some((one) => passes(one) && one !== name)) return text;
  const put = (query: Query): Query => {
    if (query.kind === 'term')
      return query.test.kind === 'in' && passes(query.test.collection)
        ? { ...query, value: name, test: { kind: 'in', collection: name } }
        : query;
    return query.kind === 'not' ? { kind: 'not', of: put(query.of) } : { ...query, of: query.of.map(put) };
  };
  return joinedConditions(queryText(put(queryOf(scope))), sortText(scope.sort));
}
