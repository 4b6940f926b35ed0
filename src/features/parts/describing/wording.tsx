'use client';

// A field for words: blanks are marked and stepped through, a shorthand code before the cursor is offered and grows
// with Tab. Nothing happens by itself: without Tab every letter stays as it was typed.

import { Input, type InputRef } from 'antd';
import type { TextAreaRef } from 'antd/es/input/TextArea';
import {
  type KeyboardEvent,
  type ReactNode,
  type Ref,
  useEffect,
  useId,
  useImperativeHandle,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { blankAfter, blanksIn } from '@/core/describe/blanks';
import { type Offer, offerAt } from '@/core/describe/shorthand';
import styles from './describing.module.css';
import { useWords } from './words';

export interface WordingHandle {
  /** Takes the cursor to the first blank, or to the end. */
  enter: () => void;
}

interface Props {
  id: string;
  value: string;
  onChange: (text: string) => void;
  long: boolean;
  placeholder?: string;
  status?: '' | 'error';
  describedBy?: string | undefined;
  onBlur?: () => void;
  onKeyDown?: (event: KeyboardEvent<HTMLElement>) => void;
  handle?: Ref<WordingHandle>;
}

/** A code that has grown: where the words stand, and which of the ways to say it they are. */
interface Grown {
  offer: Offer;
  at: number;
  end: number;
}

export function Wording({
  id,
  value,
  onChange,
  long,
  placeholder = '',
  status = '',
  describedBy,
  onBlur,
  onKeyDown,
  handle,
}: Props) {
  const index = useWords((state) => state.shorthand);
  const area = useRef<TextAreaRef>(null);
  const line = useRef<InputRef>(null);
  const [offer, setOffer] = useState<Offer | null>(null);
  const [grown, setGrown] = useState<Grown | null>(null);
  const caret = useRef<number | null>(null);
  const help = useId();
  const element = (): HTMLTextAreaElement | HTMLInputElement | null =>
    area.current?.resizableTextArea?.textArea ?? line.current?.input ?? null;
  useLayoutEffect(() => {
    const box = element();
    if (caret.current === null || !box) return;
    box.setSelectionRange(caret.current, caret.current);
    caret.current = null;
  }, [value]);
  const select = (start: number, end: number) => {
    const box = element();
    box?.focus();
    box?.setSelectionRange(start, end);
  };
  const enter = () => {
    const blank = blankAfter(value, 0);
    if (blank) select(blank.start, blank.end);
    else select(value.length, value.length);
  };
  useImperativeHandle(handle, () => ({ enter }));
  const look = () => {
    const box = element();
    const at = box?.selectionStart ?? -1;
    setOffer(box && at === box.selectionEnd && document.activeElement === box ? offerAt(box.value, at, index) : null);
    if (grown && at !== grown.end) setGrown(null);
  };
  const put = (start: number, end: number, text: string) => {
    caret.current = start + text.length;
    onChange(value.slice(0, start) + text + value.slice(end));
  };
  const grow = (): boolean => {
    if (grown && grown.offer.expansions.length > 1) {
      const at = (grown.at + 1) % grown.offer.expansions.length;
      const text = grown.offer.expansions[at]?.text ?? '';
      put(grown.offer.start, grown.end, text);
      setGrown({ offer: grown.offer, at, end: grown.offer.start + text.length });
      return true;
    }
    const text = offer?.expansions[0]?.text;
    if (!offer || text === undefined) return false;
    put(offer.start, offer.end, text);
    setGrown({ offer, at: 0, end: offer.start + text.length });
    setOffer(null);
    return true;
  };
  const toNextBlank = (): boolean => {
    const at = element()?.selectionEnd ?? 0;
    const next = blanksIn(value).find(({ start }) => start >= at);
    if (next) select(next.start, next.end);
    return next !== undefined;
  };
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key === 'Tab' && !event.shiftKey && !event.ctrlKey && !event.altKey && (grow() || toNextBlank()))
      return event.preventDefault();
    if (event.key === 'Escape' && grown) {
      put(grown.offer.start, grown.end, grown.offer.code);
      setGrown(null);
      event.stopPropagation();
      return;
    }
    onKeyDown?.(event);
  };
  const common = {
    id,
    value,
    placeholder,
    status,
    variant: 'borderless' as const,
    'aria-describedby': [describedBy, help].filter(Boolean).join(' '),
    onChange: (event: { target: { value: string } }) => {
      setGrown(null);
      onChange(event.target.value);
    },
    onKeyUp: look,
    onClick: look,
    onKeyDown: onKey,
    onBlur: () => {
      setOffer(null);
      setGrown(null);
      onBlur?.();
    },
  };
  const blanks = blanksIn(value);
  useEffect(look, [index]); // eslint-disable-line react-hooks/exhaustive-deps -- a list that is changed offers at once
  return (
    <div className={styles.wording}>
      {long && blanks.length > 0 && (
        <div className={styles.mirror} aria-hidden>
          {marked(value)}
        </div>
      )}
      {long ? (
        <Input.TextArea {...common} ref={area} autoSize={{ minRows: 2, maxRows: 10 }} />
      ) : (
        <Input {...common} ref={line} />
      )}
      <div id={help} className={styles.help} role="status">
        {offer && (
          <span>
            <b>{offer.code}</b> → {offer.expansions.map(({ text }) => text).join(' · ')} <kbd>Tab</kbd>
          </span>
        )}
        {!offer && grown && grown.offer.expansions.length > 1 && (
          <span>
            said in {grown.offer.expansions.length} ways: <kbd>Tab</kbd> the next, <kbd>Esc</kbd> the code again
          </span>
        )}
        {!offer && !grown && blanks.length > 0 && (
          <span>
            {blanks.length === 1 ? 'one blank' : `${blanks.length} blanks`}:{' '}
            {blanks.map(({ hint }) => hint || 'without a hint').join(' · ')}
          </span>
        )}
      </div>
    </div>
  );
}

/** The text with its blanks marked; laid behind the field, letter on letter. */
function marked(value: string): ReactNode[] {
  const parts: ReactNode[] = [];
  let at = 0;
  for (const { start, end } of blanksIn(value)) {
    parts.push(value.slice(at, start), <mark key={start}>{value.slice(start, end)}</mark>);
    at = end;
  }
  return [...parts, value.slice(at)];
}
