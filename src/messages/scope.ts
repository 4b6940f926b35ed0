// What a scope says, and what of it is not understood, in words.

import type { Explained } from '@/core/search/explain';
import type { ScopeProblem, ScopeProblemCode, Operator, Query, Term } from '@/core/query/query';
import { termRow } from '@/core/query/terms';

const SENTENCES: Record<ScopeProblemCode, (problem: ScopeProblem) => string> = {
  'unknown-field': ({ text }) => `“${text.split(/[:<>=]/)[0] ?? text}” is no field`,
  'bad-value': ({ text }) =>
    /[:=]$/.test(text) ? `“${text}” waits for its value` : `“${text}” has no value that can be understood`,
  'no-operator': ({ text }) => `“${text}” cannot be compared so`,
  'quote-open': ({ text }) => `${text} has no closing quotation mark`,
  'group-open': () => 'A parenthesis is not closed',
  'group-empty': () => 'There is nothing between the parentheses',
  'stray-close': () => 'A closing parenthesis has no opening one',
  'nothing-after': ({ text }) => `Nothing stands behind ${text === '-' ? 'the minus' : text}`,
  'nothing-before': ({ text }) => `Nothing stands before ${text}`,
  'too-deep': () => 'More parentheses within each other than can be read',
};

export const scopeProblemWords = (problem: ScopeProblem): string => SENTENCES[problem.code](problem);

const COMPARED: Record<Operator, string> = {
  ':': '',
  '=': 'is',
  '<': 'below',
  '<=': 'at most',
  '>': 'above',
  '>=': 'at least',
};

function valueWords({ operator, value }: Term): string {
  const inside = operator === ':' ? /^(<=|>=|<|>)(.+)$/.exec(value) : null;
  if (inside) return `${COMPARED[inside[1] as Operator]} ${inside[2]}`;
  const [from, to] = operator === ':' && value.includes('..') ? value.split('..') : [];
  if (from !== undefined && to !== undefined)
    return from === '' ? `up to ${to}` : to === '' ? `${from} and up` : `${from} to ${to}`;
  return `${COMPARED[operator]} ${value}`.trim();
}

export function termWords(term: Term): string {
  if (term.key === null) return term.quoted ? `the words “${term.value}”` : `“${term.value}”`;
  const row = termRow(term.key);
  const label = row?.label ?? term.key;
  if (row?.kind === 'text') return `${label} ${term.operator === '=' ? 'is' : 'has'} “${term.value}”`;
  return `${label}: ${valueWords(term)}`;
}

/** A whole condition in words. */
export function queryWords(query: Query): string {
  switch (query.kind) {
    case 'term':
      return termWords(query);
    case 'not':
      return `not ${query.of.kind === 'term' ? termWords(query.of) : `(${queryWords(query.of)})`}`;
    case 'any':
      return query.of.map((one) => (one.kind === 'all' ? `(${queryWords(one)})` : queryWords(one))).join(' or ');
    case 'all':
      return query.of.map((one) => (one.kind === 'any' ? `(${queryWords(one)})` : queryWords(one))).join(' and ');
  }
}

export const unheardWords = ({ word, meant }: Explained['unheard'][number]): string =>
  meant ? `No photo has “${word}”` : `No photo has “${word}”, nor a word like it`;
