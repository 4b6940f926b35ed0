'use client';

// What stands below the search line while one types: what was not understood and how it may be meant, what can be typed
// next, what each condition does, and whether everything can be found already.

import { Button } from 'antd';
import type { Explained } from '@/core/search/explain';
import type { ScopeProblem } from '@/core/query/query';
import { useSession } from '@/features/parts/session/use-session';
import { scopeProblemWords } from '@/messages/scope';
import { count } from '@/ui/format';
import { ConditionList, useExplained } from './condition-list';
import { togglePinned, usePinnedScopes } from './kept-searches';
import styles from './search-line.module.css';
import type { Option } from './use-options';

/** One condition needs no table, and of a whole sentence none would be read. */
const TABLE_MOST = 6;
const isTelling = ({ items, unheard }: Explained): boolean => items.length > 1 || unheard.length > 0;

interface Props {
  typed: string;
  problems: readonly ScopeProblem[];
  /** How many conditions stand in it. */
  conditions: number;
  options: readonly Option[];
  /** The option the arrow keys have come to; −1 for none. */
  active: number;
  listId: string;
  onChoose: (option: Option) => void;
  onTake: (text: string) => void;
}

export function SearchPanel({ typed, problems, conditions, options, active, listId, onChoose, onTake }: Props) {
  const explained = useExplained(typed, conditions <= TABLE_MOST); // what is not shown is not counted at every key
  const isClear = options.some(({ reading }) => reading === 'clear' || reading === 'sole');
  return (
    <div className={styles.panel} onMouseDown={(event) => event.preventDefault()}>
      {problems.map((problem) => (
        <NotUnderstood key={`${problem.start} ${problem.code}`} problem={problem} typed={typed} onTake={onTake} />
      ))}
      <ul id={listId} role="listbox" aria-label="What can be typed" className={styles.options}>
        {options.map((option, at) => (
          <li
            key={option.id}
            id={option.id}
            role="option"
            aria-selected={at === active}
            onClick={() => onChoose(option)}
            data-first={option.group !== options[at - 1]?.group}
          >
            <span className={styles.optionGroup}>{option.group !== options[at - 1]?.group ? option.group : ''}</span>
            <span>{option.label}</span>
            <span className={styles.shelfCount}>{option.remark}</span>
            {option.reading && <Use byEnter={option.reading === 'sole'} />}
          </li>
        ))}
      </ul>
      {explained && isTelling(explained) && !isClear && (
        <ConditionList scope={typed} explained={explained} onScope={onTake} />
      )}
      <footer className={styles.panelFoot}>
        <span className="quiet">
          Words are all looked for; <code>OR</code> joins two, <code>-</code> leaves out, <code>( )</code> groups.
        </span>
        <IndexWords />
        {typed.trim() !== '' && <PinButton scope={typed.trim()} />}
      </footer>
    </div>
  );
}

const Use = ({ byEnter }: { byEnter: boolean }) => <span className={styles.use}>Use{byEnter && <kbd>Enter</kbd>}</span>;

/** What narrows nothing, and what could be meant by it. */
function NotUnderstood({
  problem,
  typed,
  onTake,
}: {
  problem: ScopeProblem;
  typed: string;
  onTake: (text: string) => void;
}) {
  const { start, end, repair } = problem;
  const repaired = () => (typed.slice(0, start) + repair + typed.slice(end)).replace(/\s+/g, ' ').trim();
  return (
    <p className={styles.problem}>
      {scopeProblemWords(problem)}; it narrows nothing.
      {repair !== null && (
        <Button size="small" type="link" onClick={() => onTake(repaired())}>
          {repair === '' ? (
            'Leave it out'
          ) : (
            <>
              Take <code>{repair}</code>
            </>
          )}
        </Button>
      )}
    </p>
  );
}

function PinButton({ scope }: { scope: string }) {
  const pinned = usePinnedScopes((state) => state.pinned.includes(scope));
  return (
    <Button size="small" type="text" aria-pressed={pinned} onClick={() => togglePinned(scope)}>
      {pinned ? 'Unpin this search' : 'Pin this search'}
    </Button>
  );
}

/** Whether everything can be found already. */
function IndexWords() {
  const stage = useSession((state) => state.stage.state);
  const indexed = useSession((state) => state.indexed);
  return (
    <span className="quiet">
      {stage === 'ready'
        ? `The index is complete: ${count(indexed)} photos`
        : `The index is being opened: ${count(indexed)} photos so far`}
    </span>
  );
}
