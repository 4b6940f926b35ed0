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

export interface ShorthandInputHandle {
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
  handle?: Ref<ShorthandInputHandle>;
}

/** A code that has grown: where the words stand, and which of the ways to say it they are. */
interface Grown {
  offer: Offer;
  at: number;
  end: number;
}

export function ShorthandInput({
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
  const area = useRef<TextAreaRef>(null);
  const line = useRef<InputRef>(null);
  const help = useId();
  const element = (): HTMLTextAreaElement | HTMLInputElement | null =>
    area.current?.resizableTextArea?.textArea ?? line.current?.input ?? null;
  const { offer, grown, look, grow, shrink, rest } = useShorthand(value, onChange, element);
  const select = (start: number, end: number) => {
    const box = element();
    box?.focus();
    box?.setSelectionRange(start, end);
  };
  useImperativeHandle(handle, () => ({
    enter: () => {
      const blank = blankAfter(value, 0);
      if (blank) select(blank.start, blank.end);
      else select(value.length, value.length);
    },
  }));
  const toNextBlank = (): boolean => {
    const at = element()?.selectionEnd ?? 0;
    const next = blanksIn(value).find(({ start }) => start >= at);
    if (next) select(next.start, next.end);
    return next !== undefined;
  };
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const isPlainTab = event.key === 'Tab' && !event.shiftKey && !event.ctrlKey && !event.altKey;
    if (isPlainTab && (grow() || toNextBlank())) return event.preventDefault();
    if (event.key === 'Escape' && shrink()) return event.stopPropagation();
    if (event.key === 'Enter') rest(); // the next photo's words may stand here in a moment
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
      rest({ keepOffer: true });
      onChange(event.target.value);
    },
    onKeyUp: look,
    onClick: look,
    onKeyDown: onKey,
    onBlur: () => {
      rest();
      onBlur?.();
    },
  };
  const blanks = blanksIn(value);
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
      <Help id={help} offer={offer} grown={grown} blanks={blanks} />
    </div>
  );
}

/**
 * Codes that grow where the cursor is: the one that is offered, and the one that has grown, which goes on to its next
 * way
 * of saying it, or back to the code.
 */
function useShorthand(
  value: string,
  onChange: (text: string) => void,
  element: () => HTMLTextAreaElement | HTMLInputElement | null,
) {
  const index = useWords((state) => state.shorthand);
  const [offer, setOffer] = useState<Offer | null>(null);
  const [grown, setGrown] = useState<Grown | null>(null);
  const caret = useRef<number | null>(null);
  useLayoutEffect(() => {
    const box = element();
    if (caret.current === null || !box) return;
    box.setSelectionRange(caret.current, caret.current);
    caret.current = null;
  }, [value]); // eslint-disable-line react-hooks/exhaustive-deps -- the element is the same
  const look = () => {
    const box = element();
    const at = box?.selectionStart ?? -1;
    setOffer(box && at === box.selectionEnd && document.activeElement === box ? offerAt(box.value, at, index) : null);
    if (grown && at !== grown.end) setGrown(null);
  };
  useEffect(look, [index]); // eslint-disable-line react-hooks/exhaustive-deps -- a list that is changed offers at once
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
  const shrink = (): boolean => {
    if (!grown) return false;
    put(grown.offer.start, grown.end, grown.offer.code);
    setGrown(null);
    return true;
  };
  const rest = ({ keepOffer = false } = {}) => {
    if (!keepOffer) setOffer(null);
    setGrown(null);
  };
  return { offer, grown, look, grow, shrink, rest };
}

interface HelpProps {
  id: string;
  offer: Offer | null;
  grown: Grown | null;
  blanks: ReturnType<typeof blanksIn>;
}

/** What Tab would do here, or which blanks are left. */
function Help({ id, offer, grown, blanks }: HelpProps) {
  return (
    <div id={id} className={styles.help} role="status">
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
