// A scope as rules that are put together by hand: groups of which all, any or none must hold, nested as one likes, and
// single rules. Between rules and text nothing is lost, either way.

import { parseScope } from './parse-scope';
import { type Operator, type Query, type Sort, queryOf } from './query';
import { joinedConditions, sortText, termText } from './write-scope';

export type Join = 'all' | 'any' | 'none';

export interface Rule {
  kind: 'rule';
  /** `null` for words anywhere. */
  key: string | null;
  operator: Operator;
  value: string;
  quoted: boolean;
  not: boolean;
}

export interface RuleGroup {
  kind: 'group';
  join: Join;
  of: RuleNode[];
}

export type RuleNode = Rule | RuleGroup;

export const NEW_RULE: Rule = { kind: 'rule', key: 'keyword', operator: ':', value: '', quoted: false, not: false };

export function rulesOf(text: string): { rules: RuleGroup; sort: Sort } {
  const scope = parseScope(text);
  const node = nodeOf(queryOf(scope));
  const only = node.kind === 'group' && node.join === 'all' && node.of.length === 1 ? node.of[0] : node;
  return {
    rules: only?.kind === 'group' ? only : node.kind === 'group' ? node : { kind: 'group', join: 'all', of: [node] },
    sort: scope.sort,
  };
}

function nodeOf(query: Query): RuleNode {
  switch (query.kind) {
    case 'term':
      return {
        kind: 'rule',
        key: query.key,
        operator: query.operator,
        value: query.value,
        quoted: query.quoted,
        not: false,
      };
    case 'all':
    case 'any':
      return { kind: 'group', join: query.kind, of: query.of.map(nodeOf) };
    case 'not': {
      const inner = nodeOf(query.of);
      if (inner.kind === 'rule')
        return inner.not ? { kind: 'group', join: 'none', of: [inner] } : { ...inner, not: true };
      return inner.join === 'any' ? { ...inner, join: 'none' } : { kind: 'group', join: 'none', of: [inner] };
    }
  }
}

/** A rule without a value is left out: it is still being made. */
export function textOfRules(rules: RuleGroup, sort: Sort): string {
  return joinedConditions(groupText(rules, true), sortText(sort));
}

function groupText({ join, of }: RuleGroup, top: boolean): string {
  const parts = of
    .map((node) => (node.kind === 'rule' ? ruleText(node) : groupText(node, false)))
    .filter((part) => part !== '');
  if (parts.length === 0) return '';
  if (join === 'none')
    return `-${parts.length === 1 && !parts[0]?.startsWith('-') && !parts[0]?.includes(' OR ') ? parts[0] : `(${parts.join(' OR ')})`}`;
  if (join === 'any')
    return parts.length === 1 ? (parts[0] ?? '') : top ? parts.join(' OR ') : `(${parts.join(' OR ')})`;
  return top || parts.length === 1 ? parts.join(' ') : `(${parts.join(' ')})`;
}

export const ruleText = (rule: Rule): string =>
  rule.value.trim() === '' ? '' : `${rule.not ? '-' : ''}${termText(rule)}`;
