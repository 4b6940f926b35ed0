'use client';

// The line that states the scope and takes the query; every letter typed narrows at once. It colours what it
// understands, offers what can be typed next, reads plain words, keeps scopes that were used and those that are pinned,
// and says what each condition does.

import { Button, Tooltip } from 'antd';
import { type KeyboardEvent, useEffect, useId, useMemo, useRef, useState } from 'react';
import type { Explained } from '@/core/search/explain';
import { pieces } from '@/core/query/lex';
import { parseScope } from '@/core/query/parse-scope';
import { readPlainWords } from '@/core/query/plain-words';
import { scopeProblemWords } from '@/messages/scope';
import { count } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { ConditionList, useExplained } from './condition-list';
import { type Coloured, colouredParts } from './coloured-parts';
import { rememberScope, togglePinned, usePinnedScopes, useRecentScopes } from './kept-searches';
import { openRules } from './rules';
import styles from './search-line.module.css';
import { useScope } from '@/features/parts/search/use-scope';
import { useSession } from '@/features/parts/session/use-session';

const OFFERED = 12;

interface Option {
  id: string;
  /** The whole text after it was taken. */
  text: string;
  label: string;
  remark: string;
  group: string;
}

export function ScopeLine() {
  const { scope, setScope } = useScope();
  const [typed, setTyped] = useState(scope);
  const [open, setOpen] = useState(false);
  const [cursor, setCursor] = useState(0);
  const [active, setActive] = useState(-1);
  const sent = useRef(scope);
  const input = useRef<HTMLInputElement>(null);
  const mirror = useRef<HTMLDivElement>(null);
  const listId = useId();

  useEffect(() => {
    if (scope !== sent.current) setTyped(scope);
    sent.current = scope;
  }, [scope]);
  useKeys({
    '/': () => {
      input.current?.focus();
      input.current?.select();
    },
  });

  const take = (text: string) => {
    setTyped(text);
    setActive(-1);
    sent.current = text;
    setScope(text);
  };
  useKeys({ Backspace: () => take('') });
  const options = useOptions(typed, cursor, open);
  const { faults, items } = useMemo(() => parseScope(typed), [typed]);
  const explained = useExplained(typed, open && items.length <= TABLE_MOST); // what is not shown is not counted at every key
  const choose = (option: Option) => {
    take(option.text);
    requestAnimationFrame(() => {
      input.current?.focus();
      input.current?.setSelectionRange(option.text.length, option.text.length);
      setCursor(option.text.length);
    });
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    const option = options[active];
    if (event.key === 'Escape') input.current?.blur();
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setOpen(true);
      setActive((now) => Math.max(-1, Math.min(options.length - 1, now + (event.key === 'ArrowDown' ? 1 : -1))));
    } else if ((event.key === 'Enter' || event.key === 'Tab') && option) {
      event.preventDefault();
      choose(option);
    } else if (event.key === 'Enter') {
      rememberScope(typed);
      setOpen(false);
    }
  };
  const followCursor = () => {
    setCursor(input.current?.selectionStart ?? 0);
    if (mirror.current) mirror.current.scrollLeft = input.current?.scrollLeft ?? 0;
  };
  return (
    <div
      className={styles.line}
      role="search"
      onBlur={(event) => {
        if (event.currentTarget.contains(event.relatedTarget)) return;
        setOpen(false);
        setActive(-1);
        rememberScope(typed);
      }}
    >
      <div className={styles.box} data-warning={faults.length > 0}>
        <div ref={mirror} className={styles.mirror} aria-hidden>
          {colouredParts(typed).map(({ text, as }, at) => (
            <Part key={at} text={text} as={as} />
          ))}
        </div>
        <input
          ref={input}
          className={styles.input}
          value={typed}
          spellCheck={false}
          autoComplete="off"
          role="combobox"
          aria-label="Search"
          aria-describedby="scope-remark"
          aria-expanded={open && options.length > 0}
          aria-controls={listId}
          aria-autocomplete="list"
          aria-activedescendant={active >= 0 ? options[active]?.id : undefined}
          placeholder="All photos. Type words, or a field such as taken: rating: camera:"
          onChange={(event) => {
            take(event.target.value);
            setOpen(true);
            setCursor(event.target.selectionStart ?? event.target.value.length);
          }}
          onKeyDown={onKeyDown}
          onSelect={followCursor}
          onScroll={followCursor}
          onFocus={() => setOpen(true)}
          onClick={() => setOpen(true)}
        />
        {typed !== '' && (
          <button
            type="button"
            className={styles.empty}
            aria-label="Clear the search"
            onClick={() => {
              take('');
              setOpen(false);
            }}
          >
            ×
          </button>
        )}
        <Tooltip title="Put the search together by rules">
          <Button
            size="small"
            type="text"
            onClick={() => openRules({ text: typed, title: 'the search', onTake: (text) => take(text) })}
          >
            Rules…
          </Button>
        </Tooltip>
      </div>
      <span id="scope-remark" className={styles.remark}>
        {faults.length > 0 && !open && `Not understood, so left out: ${faults.map(({ text }) => text).join(' ')}`}
      </span>
      {open && (
        <div className={styles.panel} onMouseDown={(event) => event.preventDefault()}>
          {faults.map((fault) => (
            <p key={`${fault.start} ${fault.code}`} className={styles.fault}>
              {scopeProblemWords(fault)}; it narrows nothing.
              {fault.repair !== null && (
                <Button
                  size="small"
                  type="link"
                  onClick={() =>
                    take(
                      (typed.slice(0, fault.start) + fault.repair + typed.slice(fault.end)).replace(/\s+/g, ' ').trim(),
                    )
                  }
                >
                  {fault.repair === '' ? (
                    'Leave it out'
                  ) : (
                    <>
                      Take <code>{fault.repair}</code>
                    </>
                  )}
                </Button>
              )}
            </p>
          ))}
          <ul id={listId} role="listbox" aria-label="What can be typed" className={styles.options}>
            {options.map((option, at) => (
              <li
                key={option.id}
                id={option.id}
                role="option"
                aria-selected={at === active}
                onClick={() => choose(option)}
                data-first={option.group !== options[at - 1]?.group}
              >
                <span className={styles.optionGroup}>
                  {option.group !== options[at - 1]?.group ? option.group : ''}
                </span>
                <span>{option.label}</span>
                <span className={styles.shelfCount}>{option.remark}</span>
              </li>
            ))}
          </ul>
          {explained && isTelling(explained) && <ConditionList scope={typed} explained={explained} onScope={take} />}
          <footer className={styles.panelFoot}>
            <span className="quiet">
              Words are all looked for; <code>OR</code> joins two, <code>-</code> leaves out, <code>( )</code> groups.
            </span>
            <IndexWords />
            {typed.trim() !== '' && <PinButton scope={typed.trim()} />}
          </footer>
        </div>
      )}
    </div>
  );
}

/** One condition needs no table, and of a whole sentence none would be read. */
const TABLE_MOST = 6;
const isTelling = ({ items, unheard }: Explained): boolean => items.length > 1 || unheard.length > 0;

const Part = ({ text, as }: Coloured) => <span data-as={as}>{text}</span>;

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
  const stage = useSession((state) => state.stage);
  const indexed = useSession((state) => state.indexed);
  return (
    <span className="quiet">
      {stage === 'ready'
        ? `The index is complete: ${count(indexed)} photos`
        : `The index is being opened: ${count(indexed)} photos so far`}
    </span>
  );
}

/** Completions of the word at the cursor, a reading of plain words, and scopes that were used before. */
function useOptions(typed: string, cursor: number, open: boolean): Option[] {
  const { pinned } = usePinnedScopes();
  const { recent } = useRecentScopes();
  const atCursor = `${cursor} ${typed}`;
  const completions = useAsked(open ? atCursor : null, () => session.search.complete(typed, cursor, OFFERED));
  const plain = useAsked(open && isSentence(typed) ? typed : null, () => plainReading(typed));
  return useMemo(() => {
    const offered = (completions?.of === atCursor ? completions.answer : []).map((one, at): Option => ({
      id: `scope-complete-${at}`,
      text: typed.slice(0, one.start) + one.text + (one.kind === 'field' ? '' : ' ') + typed.slice(one.end).trimStart(),
      label: one.kind === 'field' ? `${one.text} ${one.label}` : one.label,
      remark: one.count === null ? '' : count(one.count),
      group: one.kind === 'field' ? 'Fields' : one.kind === 'value' ? 'Values' : 'Words',
    }));
    const reading = plain?.of === typed ? plain.answer : null;
    const read: Option[] = reading
      ? [
          {
            id: 'scope-plain',
            text: reading.scope,
            label: reading.scope,
            remark: reading.notUnderstood.length > 0 ? `not understood: ${reading.notUnderstood.join(', ')}` : '',
            group: 'Read as',
          },
        ]
      : [];
    const kept = (scopes: string[], group: string): Option[] =>
      scopes
        .filter(
          (one) =>
            one !== typed.trim() && (typed.trim() === '' || one.toLowerCase().includes(typed.trim().toLowerCase())),
        )
        .map((one, at) => ({ id: `scope-${group}-${at}`, text: one, label: one, remark: '', group }));
    return [
      ...read,
      ...offered,
      ...kept(pinned, 'Pinned'),
      ...kept(
        recent.filter((one) => !pinned.includes(one)),
        'Used before',
      ),
    ].slice(0, 20);
  }, [completions, plain, typed, atCursor, pinned, recent]);
}

/**
 * Words and nothing else, two at least: who writes fields, quotes or parentheses has said it in the language already.
 */
const isSentence = (typed: string): boolean => {
  const all = pieces(typed);
  return (
    all.length > 1 &&
    all.every((piece) => piece.kind === 'term' && piece.key === null && !piece.quoted) &&
    /\p{L}/u.test(typed)
  );
};

/** Worth offering only where it says something else than the words themselves. */
async function plainReading(typed: string): Promise<{ scope: string; notUnderstood: string[] } | null> {
  const words = [...new Set(typed.match(/[\p{L}\p{M}\p{N}’'-]+/gu) ?? [])].slice(0, 60);
  const counts = await session.search.count(words.map((word) => `"${word}"`));
  const known = new Set(words.filter((_, at) => (counts[at] ?? 0) > 0));
  const { scope, read, notUnderstood } = readPlainWords(typed, (word) => known.has(word));
  return scope !== '' && scope !== typed.trim() && read.some(({ text, term }) => text !== term)
    ? { scope, notUnderstood }
    : null;
}
