'use client';

// The line that states the search and takes the query; every letter typed narrows at once. It colours what it
// understands; what stands below it while one types is in search-panel.tsx.

import { Button, Tooltip } from 'antd';
import { type KeyboardEvent, type RefObject, useEffect, useId, useMemo, useRef, useState } from 'react';
import { parseScope } from '@/core/query/parse-scope';
import { useScope } from '@/features/parts/search/use-scope';
import { useKeys } from '@/ui/keys';
import { colouredParts } from './coloured-parts';
import { rememberScope } from './kept-searches';
import { useLineOpen } from './line-open';
import { openRules } from './rules';
import { SearchPanel } from './search-panel';
import styles from './search-line.module.css';
import { type Option, useOptions } from './use-options';

const setOpen = (open: boolean): void => useLineOpen.setState({ open });

export function SearchLine() {
  const input = useRef<HTMLInputElement>(null);
  const { typed, take } = useTyped();
  const open = useLineOpen((state) => state.open);
  const [cursor, setCursor] = useState(0);
  const [active, setActive] = useState(-1);
  const listId = useId();
  const options = useOptions(typed, cursor, open);
  const { problems, items } = useMemo(() => parseScope(typed), [typed]);
  useKeys({
    '/': () => {
      input.current?.focus();
      input.current?.select();
    },
    Backspace: () => take(''),
  });
  const change = (text: string) => {
    take(text);
    setActive(-1);
  };
  const clear = () => {
    change('');
    setOpen(false);
  };
  const choose = (option: Option) => {
    change(option.text);
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
    } else if (event.key === 'Enter' && options[0]?.reading === 'sole') {
      choose(options[0]);
    } else if (event.key === 'Enter') {
      rememberScope(typed);
      setOpen(false);
    }
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
      <div className={styles.box} data-warning={problems.length > 0}>
        <Typing
          input={input}
          typed={typed}
          listId={listId}
          expanded={open && options.length > 0}
          active={active >= 0 ? options[active]?.id : undefined}
          onKeyDown={onKeyDown}
          onOpen={() => setOpen(true)}
          onCursor={setCursor}
          onType={change}
        />
        {typed !== '' && <ClearButton onClear={clear} />}
        <RulesButton typed={typed} onTake={change} />
      </div>
      <span id="search-remark" className={styles.remark}>
        {problems.length > 0 && !open && `Not understood, so left out: ${problems.map(({ text }) => text).join(' ')}`}
      </span>
      {open && (
        <SearchPanel
          typed={typed}
          problems={problems}
          conditions={items.length}
          options={options}
          active={active}
          listId={listId}
          onChoose={choose}
          onTake={change}
        />
      )}
    </div>
  );
}

const ClearButton = ({ onClear }: { onClear: () => void }) => (
  <button type="button" className={styles.empty} aria-label="Clear the search" onClick={onClear}>
    ×
  </button>
);

const RulesButton = ({ typed, onTake }: { typed: string; onTake: (text: string) => void }) => (
  <Tooltip title="Put the search together by rules">
    <Button size="small" type="text" onClick={() => openRules({ text: typed, title: 'the search', onTake })}>
      Rules…
    </Button>
  </Tooltip>
);

/** What is typed, and the search in the address; each follows the other where that changed by itself. */
function useTyped(): { typed: string; take: (text: string) => void } {
  const { scope, setScope } = useScope();
  const [typed, setTyped] = useState(scope);
  const sent = useRef(scope);
  useEffect(() => {
    if (scope !== sent.current) setTyped(scope);
    sent.current = scope;
  }, [scope]);
  const take = (text: string) => {
    setTyped(text);
    sent.current = text;
    setScope(text);
  };
  return { typed, take };
}

interface TypingProps {
  input: RefObject<HTMLInputElement | null>;
  typed: string;
  listId: string;
  expanded: boolean;
  active: string | undefined;
  onKeyDown: (event: KeyboardEvent<HTMLInputElement>) => void;
  onOpen: () => void;
  onCursor: (at: number) => void;
  onType: (text: string) => void;
}

/** The field itself, over its own text in colours. */
function Typing({ input, typed, listId, expanded, active, onKeyDown, onOpen, onCursor, onType }: TypingProps) {
  const mirror = useRef<HTMLDivElement>(null);
  const follow = () => {
    onCursor(input.current?.selectionStart ?? 0);
    if (mirror.current) mirror.current.scrollLeft = input.current?.scrollLeft ?? 0;
  };
  return (
    <>
      <div ref={mirror} className={styles.mirror} aria-hidden>
        {colouredParts(typed).map(({ text, as }, at) => (
          <span key={at} data-as={as}>
            {text}
          </span>
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
        aria-describedby="search-remark"
        aria-expanded={expanded}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={active}
        placeholder="All photos. Type words, or a field such as taken: rating: camera:"
        onChange={({ target }) => {
          onType(target.value);
          onOpen();
          onCursor(target.selectionStart ?? target.value.length);
        }}
        onKeyDown={onKeyDown}
        onSelect={follow}
        onScroll={follow}
        onFocus={onOpen}
        onClick={onOpen}
      />
    </>
  );
}
