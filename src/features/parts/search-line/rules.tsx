'use client';

// The rules of a scope, put together by hand: all, any or none of what stands in a group, groups within groups, with
// the count of every step. The text beside them is the same scope; either is changed, the other follows.

import { AutoComplete, Button, Drawer, Input, Select } from 'antd';
import { Fragment, useState } from 'react';
import { create } from 'zustand';
import { parseScope } from '@/core/query/parse-scope';
import {
  type Comparing,
  type Comparison,
  compared,
  comparingsOf,
  comparisonOf,
  ruleOf,
} from '@/core/query/comparisons';
import {
  type RuleGroup,
  type Join,
  NEW_RULE,
  type Rule,
  type RuleNode,
  ruleText,
  rulesOf,
  textOfRules,
} from '@/core/query/rules';
import { TERMS, termRow } from '@/core/query/terms';
import { scopeProblemWords } from '@/messages/scope';
import { photos } from '@/ui/format';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './search-line.module.css';
import { useCounts } from '@/features/parts/search/use-counts';

interface Order {
  text: string;
  /** What is being changed; `null` for something new, which gets a name. */
  title: string | null;
  onTake: (text: string, name: string | null) => void;
}

const useRules = create<{ order: Order | null }>(() => ({ order: null }));

export const openRules = (order: Order): void => useRules.setState({ order });

export function RulesDrawer() {
  const order = useRules((state) => state.order);
  return (
    <Drawer
      open={order !== null}
      onClose={() => useRules.setState({ order: null })}
      size={860}
      title={order?.title ? `Rules of ${order.title}` : 'Rules'}
      destroyOnHidden
    >
      {order && <Rules order={order} onDone={() => useRules.setState({ order: null })} />}
    </Drawer>
  );
}

const EMPTY: RuleGroup = { kind: 'group', join: 'all', of: [NEW_RULE] };

function Rules({ order, onDone }: { order: Order; onDone: () => void }) {
  const [state, setState] = useState(() => {
    const { rules, sort } = rulesOf(order.text);
    return { rules: rules.of.length > 0 ? rules : EMPTY, sort };
  });
  const [typed, setTyped] = useState(order.text);
  const [name, setName] = useState('');
  const [found] = useCounts([typed]);
  const change = (rules: RuleGroup) => {
    setState({ ...state, rules });
    setTyped(textOfRules(rules, state.sort));
  };
  const type = (text: string) => {
    setTyped(text);
    const { rules, sort } = rulesOf(text);
    setState({ rules: rules.of.length > 0 ? rules : EMPTY, sort });
  };
  const { problems } = parseScope(typed);
  const needsName = order.title === null;
  const ready = typed.trim() !== '' && problems.length === 0 && (!needsName || name.trim() !== '');
  return (
    <form
      className={styles.rules}
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        order.onTake(typed, needsName ? name.trim() : null);
        onDone();
      }}
    >
      {needsName && (
        <label className={styles.ruleName}>
          Name <Input value={name} onChange={(event) => setName(event.target.value)} placeholder="Smart collection" />
        </label>
      )}
      <GroupBox group={state.rules} onChange={change} onRemove={null} level={1} />
      <label className={styles.ruleText}>
        The same as text{' '}
        <Input.TextArea
          autoSize={{ minRows: 2, maxRows: 6 }}
          value={typed}
          onChange={(event) => type(event.target.value)}
          spellCheck={false}
        />
      </label>
      {problems.map((problem) => (
        <p key={`${problem.start} ${problem.code}`} className={styles.problem}>
          {scopeProblemWords(problem)}
          {problem.repair !== null && (
            <Button
              size="small"
              type="link"
              onClick={() => type(typed.slice(0, problem.start) + problem.repair + typed.slice(problem.end))}
            >
              {problem.repair === '' ? 'Leave it out' : problem.repair}
            </Button>
          )}
        </p>
      ))}
      <footer className={styles.ruleFoot}>
        <span role="status">{found === undefined ? '…' : photos(found)}</span>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="primary" htmlType="submit" disabled={!ready}>
          {needsName ? 'Keep' : 'Use these rules'}
        </Button>
      </footer>
    </form>
  );
}

const JOINS: Record<Join, string> = { all: 'all of these', any: 'any of these', none: 'none of these' };

function GroupBox({
  group,
  onChange,
  onRemove,
  level,
}: {
  group: RuleGroup;
  onChange: (group: RuleGroup) => void;
  onRemove: (() => void) | null;
  level: number;
}) {
  const put = (at: number, node: RuleNode | null) =>
    onChange({ ...group, of: node ? group.of.with(at, node) : group.of.toSpliced(at, 1) });
  const add = (node: RuleNode) => onChange({ ...group, of: [...group.of, node] });
  return (
    <fieldset className={styles.group}>
      <legend>
        <Select<Join>
          size="small"
          value={group.join}
          onChange={(join) => onChange({ ...group, join })}
          options={Object.entries(JOINS).map(([value, label]) => ({ value: value as Join, label }))}
          aria-label={`Group ${level}: how its rules are joined`}
        />
        {onRemove && (
          <Button size="small" type="text" onClick={onRemove} aria-label={`Remove group ${level}`}>
            ×
          </Button>
        )}
      </legend>
      {group.of.map((node, at) =>
        node.kind === 'group' ? (
          <GroupBox
            key={at}
            group={node}
            onChange={(next) => put(at, next)}
            onRemove={() => put(at, null)}
            level={level + 1}
          />
        ) : (
          <RuleRow key={at} rule={node} onChange={(next) => put(at, next)} onRemove={() => put(at, null)} />
        ),
      )}
      <div className={styles.cardRow}>
        <Button size="small" onClick={() => add(NEW_RULE)}>
          Add a rule
        </Button>
        <Button
          size="small"
          onClick={() => add({ kind: 'group', join: group.join === 'any' ? 'all' : 'any', of: [NEW_RULE] })}
        >
          Add a group
        </Button>
      </div>
    </fieldset>
  );
}

const HOW: Record<Comparing, [is: string, isNot: string]> = {
  has: ['has', 'has not'],
  is: ['is', 'is not'],
  between: ['between', 'not between'],
  'at-least': ['at least', 'not at least'],
  'at-most': ['at most', 'not at most'],
  above: ['above', 'not above'],
  below: ['below', 'not below'],
  missing: ['is missing', 'is there'],
};

const WORDS = 'words';
const FIELDS = [{ value: WORDS, label: 'Words anywhere' }, ...TERMS.map(({ key, label }) => ({ value: key, label }))];

function RuleRow({ rule, onChange, onRemove }: { rule: Rule; onChange: (rule: Rule) => void; onRemove: () => void }) {
  // a range of which one end is not said yet is no condition, and stays in the form
  const [draft, setDraft] = useState<Comparison | null>(null);
  const isDraft = draft !== null && ruleText(ruleOf(draft, rule.quoted)) === ruleText(rule);
  const comparison = isDraft ? draft : comparisonOf(rule);
  const { key, how, not, values } = comparison;
  const problem = parseScope(ruleText(rule)).problems[0];
  const change = (next: Comparison) => {
    setDraft(next);
    onChange(ruleOf(next, rule.quoted));
  };
  const setKey = (chosen: string) => {
    const next = chosen === WORDS ? null : chosen;
    const ways = comparingsOf(next);
    change(compared(comparison, next, ways.includes(how) ? how : (ways[0] ?? 'has'), not));
  };
  const ways = comparingsOf(key);
  return (
    <div className={styles.rule}>
      <Select
        size="small"
        showSearch={{ optionFilterProp: 'label' }}
        value={key ?? WORDS}
        onChange={setKey}
        options={FIELDS}
        aria-label="Field"
        className={styles.ruleField}
      />
      <Select
        size="small"
        value={`${not ? '-' : ''}${how}`}
        aria-label="Comparison"
        className={styles.ruleOperator}
        onChange={(value) =>
          change(compared(comparison, key, value.replace(/^-/, '') as Comparing, value.startsWith('-')))
        }
        options={[false, true].flatMap((isNot) =>
          ways.map((way) => ({ value: `${isNot ? '-' : ''}${way}`, label: HOW[way][isNot ? 1 : 0] })),
        )}
      />
      <span className={styles.ruleValues}>
        {values.map((value, at) => (
          <Fragment key={at}>
            {at > 0 && <span className="quiet">and</span>}
            <RuleValue
              field={key}
              value={value}
              label={values.length === 1 ? 'Value' : at === 0 ? 'From' : 'To'}
              onValue={(next) => change({ ...comparison, values: values.with(at, next) })}
              problem={problem ? scopeProblemWords(problem) : null}
            />
          </Fragment>
        ))}
      </span>
      <Button size="small" type="text" onClick={onRemove} aria-label="Remove the rule">
        ×
      </Button>
    </div>
  );
}

interface RuleValueProps {
  field: string | null;
  value: string;
  label: string;
  onValue: (value: string) => void;
  problem: string | null;
}

function RuleValue({ field, value, label, onValue, problem }: RuleValueProps) {
  const row = field === null ? null : termRow(field);
  const text = field === null ? null : `${field}:${value}`;
  const offered =
    useAsked(text, () => session.search.complete(text ?? '', text?.length ?? 0, 30))?.answer.filter(
      ({ kind }) => kind === 'value',
    ) ?? [];
  return (
    <span className={styles.ruleValue}>
      <AutoComplete
        size="small"
        value={value}
        onChange={onValue}
        aria-label={label}
        placeholder={row?.example.replace(/^[a-z]+[:<>=]+/, '').replace(/\.\..*$/, '') ?? 'words'}
        status={problem ? 'warning' : ''}
        options={offered.map(({ label: offer, count }) => ({
          value: offer,
          label: count === null ? offer : `${offer} · ${count}`,
        }))}
        {...(offered.length === 0 && { open: false })} // nothing is said to be open where nothing is
        style={{ width: '100%' }}
      />
      {problem && <span className={styles.problem}>{problem}</span>}
    </span>
  );
}
