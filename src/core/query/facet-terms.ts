// What a scope says of one facet: any of several values, or none of several. A facet reads and writes whole conditions
// that are about nothing else; a condition in which it is mixed with others is the person's own and is left as it
// stands.

import { parseScope } from './parse-scope';
import { type Operator, type Query, termsOf } from './query';
import { joinedConditions, quoted, without } from './write-scope';

export interface ChosenValues {
  any: string[];
  not: string[];
}

/** Whether a condition asks for nothing but values of this key. */
export const isOnlyOf = (query: Query, key: string): boolean => {
  const terms = termsOf(query);
  return terms.length > 0 && terms.every((term) => term.key === key);
};

/**
 * `camera="A"`, `camera="A" OR camera="B"`, or one of them behind a minus: values side by side, nothing nested further.
 */
function valuesIn(query: Query, key: string): { not: boolean; values: string[] } | null {
  const inner = query.kind === 'not' ? query.of : query;
  if (!isOnlyOf(inner, key)) return null;
  if (inner.kind === 'term') return { not: query.kind === 'not', values: [inner.value] };
  if (inner.kind !== 'any' || inner.of.some(({ kind }) => kind !== 'term')) return null;
  return { not: query.kind === 'not', values: termsOf(inner).map(({ value }) => value) };
}

export function chosenIn(text: string, key: string): ChosenValues {
  const chosen: ChosenValues = { any: [], not: [] };
  for (const { query } of parseScope(text).items) {
    const found = valuesIn(query, key);
    if (found) chosen[found.not ? 'not' : 'any'].push(...found.values);
  }
  return chosen;
}

/** The scope with these values chosen of a facet, whatever it said of it before. */
export function withChosen(text: string, key: string, operator: Operator, { any, not }: ChosenValues): string {
  const items = parseScope(text).items.filter(({ query }) => valuesIn(query, key) !== null);
  const bare = items.reduceRight((left, item) => without(left, item), text);
  const terms = (values: readonly string[]) => values.map((value) => `${key}${operator}${quoted(value)}`);
  return joinedConditions(bare, terms(any).join(' OR '), ...terms(not).map((term) => `-${term}`));
}
