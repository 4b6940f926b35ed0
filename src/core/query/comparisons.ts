// Comparisons as a form shows them: a field, what it is held against and how, with two values for a range and none for
// what is missing. A rule of the search is read as one, and one is written as a rule.

import { parseScope } from './parse-scope';
import type { Operator } from './query';
import type { Rule } from './rules';
import { type TermKind, termRow } from './terms';

export type Comparing = 'has' | 'is' | 'between' | 'at-least' | 'at-most' | 'above' | 'below' | 'missing';

export interface Comparison {
  /** The key of a term; `null` for words anywhere. */
  key: string | null;
  how: Comparing;
  not: boolean;
  /** Two for a range, none where it is missing, else one. */
  values: string[];
}

const OPERATORS: Partial<Record<Comparing, Operator>> = {
  'at-least': '>=',
  'at-most': '<=',
  above: '>',
  below: '<',
};

const isRanged = (kind: TermKind | undefined): boolean => kind === 'number' || kind === 'date';

/** Whether photos without a value of the term can be asked for. */
const canMiss = (key: string): boolean => parseScope(`missing:${key}`).problems.length === 0;

/** How a term can be compared, without the negations. */
export function comparingsOf(key: string | null): Comparing[] {
  const kind = key === null ? 'field' : termRow(key)?.kind;
  const missing: Comparing[] = key !== null && canMiss(key) ? ['missing'] : [];
  if (isRanged(kind)) return ['is', 'between', 'at-least', 'at-most', 'above', 'below', ...missing];
  if (kind === 'text') return ['has', 'is', ...missing];
  return [kind === 'field' ? 'has' : 'is', ...missing];
}

export function comparisonOf({ key, operator, value, not }: Rule): Comparison {
  if ((key === 'missing' || key === 'has') && operator === ':' && canMiss(value) && termRow(value))
    return { key: value.toLowerCase(), how: 'missing', not: not !== (key === 'has'), values: [] };
  const kind = key === null ? 'field' : termRow(key)?.kind;
  const one = (how: Comparing): Comparison => ({ key, how, not, values: [value] });
  if (!isRanged(kind)) return one(operator === '=' || (kind !== 'text' && kind !== 'field') ? 'is' : 'has');
  const by = (Object.entries(OPERATORS) as [Comparing, Operator][]).find(([, sign]) => sign === operator)?.[0];
  if (by) return one(by);
  const [, from, to] = /^(.*?)\.\.(.*)$/.exec(value) ?? [];
  if (from === undefined || to === undefined) return one('is');
  if (from === '' && to !== '') return { key, how: 'at-most', not, values: [to] };
  if (to === '' && from !== '') return { key, how: 'at-least', not, values: [from] };
  return { key, how: 'between', not, values: [from, to] };
}

/** An unfinished range has no value yet, so that nothing is searched for by half of it. */
export function ruleOf({ key, how, not, values }: Comparison, quoted: boolean): Rule {
  const [first = '', second = ''] = values;
  const rule = (operator: Operator, value: string): Rule => ({ kind: 'rule', key, operator, value, quoted, not });
  if (how === 'missing') return { kind: 'rule', key: 'missing', operator: ':', value: key ?? '', quoted: false, not };
  if (how === 'between') return rule(':', first !== '' && second !== '' ? `${first}..${second}` : '');
  if (how === 'is') return rule(key !== null && termRow(key)?.kind === 'text' ? '=' : ':', first);
  return rule(OPERATORS[how] ?? ':', first);
}

/** The same comparison of another kind, with what of its values it can keep. */
export function compared(before: Comparison, key: string | null, how: Comparing, not: boolean): Comparison {
  const isSame = key === before.key;
  const [first = '', second = ''] = isSame ? before.values : [];
  return { key, how, not, values: how === 'missing' ? [] : how === 'between' ? [first, second] : [first] };
}
