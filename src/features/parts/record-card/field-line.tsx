'use client';

import { NO_PHOTOS } from '@/core/search/photo-order';
import { Input } from 'antd';
import { type KeyboardEvent, type ReactNode, type RefObject, useEffect, useId, useRef, useState } from 'react';
import type { Shared } from '@/core/fields/common-values';
import type { FieldRow } from '@/core/fields/registry';
import { fromTyped, valueProblemOf, valueRemarksOf, toTyped } from '@/core/fields/values';
import { codeListOf } from '@/core/fields/check-codes';
import { valueProblemSentence, valueRemarkSentence } from '@/messages/fields';
import { useKeys } from '@/ui/keys';
import { stepFocus } from '@/features/parts/selection/selection';
import { useResult } from '@/features/parts/search/use-result';
import { photos as photosWords } from '@/ui/format';
import { HelpedName, useFieldHelp } from '@/features/parts/describing/field-help';
import { type ShorthandInputHandle, ShorthandInput } from '@/features/parts/describing/shorthand-input';
import { type SeenValue, seenIn } from '@/storage/catalog/sidecars';
import { session } from '@/engine/session';
import { setField } from '@/engine/set-field';
import { MixedValues } from './mixed-values';
import { CodeField } from './code-field';
import styles from './record-card.module.css';

interface Props {
  row: FieldRow;
  shared: Shared;
  photoIds: string[];
  origin: ReactNode;
  /** When this changes, the cursor goes into the field, to its first blank. */
  enterOn?: string | null;
}

/** One field of the selection. It is written when the cursor leaves it, or with Enter (Ctrl+Enter in the caption). */
export function FieldLine({ row, shared, photoIds, origin, enterOn = null }: Props) {
  const { typed, touched, change, keep, cancel } = useTypedValue(row, shared, photoIds);
  const wording = useRef<ShorthandInputHandle>(null);
  const help = useFieldHelp();
  const id = useId();
  useKeys(row.key === 'caption' ? { t: () => wording.current?.enter() } : {});
  useEnterOn(enterOn, wording);
  const problem = touched ? valueProblemOf(row.key, typed) : null;
  const why = problem && valueProblemSentence(problem);
  const differs = shared.state === 'differs' && !touched;
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key === 'Escape') {
      cancel();
      (event.target as HTMLElement).blur();
    } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      // at once: what is typed next belongs to the next photo
      if (keep()) stepFocus(useResult.getState().result?.order ?? NO_PHOTOS, 1);
    } else if (event.key === 'Enter' && !row.long) keep();
  };
  const describedBy = why ? `${id}-why` : undefined;
  const common = {
    id,
    value: typed,
    placeholder: shared.state === 'differs' && !touched ? `${shared.kinds} different values` : '',
    status: why ? ('error' as const) : ('' as const),
    onBlur: () => void keep(),
    onKeyDown,
  };
  return (
    <div
      className={isWide(row) ? styles.field : `${styles.field} ${styles.line}`}
      data-differs={differs}
      onKeyDownCapture={help.onKeyDown}
    >
      <HelpedName help={help} words={row.help}>
        <label htmlFor={id}>{row.label}</label>
      </HelpedName>
      {origin}
      {codeListOf(row.key) ? (
        <CodeField {...common} row={row} describedBy={describedBy} onChange={change} />
      ) : row.value === 'text' ? (
        <ShorthandInput
          {...common}
          long={row.long === true}
          handle={wording}
          describedBy={describedBy}
          onChange={change}
        />
      ) : (
        <Input
          {...common}
          variant="borderless"
          aria-describedby={describedBy}
          onChange={(event) => change(event.target.value)}
        />
      )}
      {shared.state === 'differs' && !touched && (
        <MixedValues row={row} shared={shared} onTake={(value) => void setField(row.key, value, photoIds)} />
      )}
      {touched && !why && photoIds.length > 1 && (
        <p className={styles.willDo} role="status">
          {willDo(shared, photoIds.length, typed)}
        </p>
      )}
      {!why &&
        valueRemarksOf(row.key, typed).map((remark) => (
          <p key={remark} className={styles.remark}>
            {valueRemarkSentence(remark)}
          </p>
        ))}
      {why && (
        <p className={styles.why} id={`${id}-why`} role="alert">
          {why}
        </p>
      )}
    </div>
  );
}

/**
 * What stands in a field of the selection, and what is typed there until it is written. What was typed for one
 * selection
 * is written to that one, even when the selection changes before the field is left.
 */
function useTypedValue(row: FieldRow, shared: Shared, photoIds: string[]) {
  const value = shared.state === 'same' ? toTyped(shared.value) : '';
  const [typed, setTyped] = useState(value);
  const [touched, setTouched] = useState(false);
  const target = photoIds.join(' ');
  const pending = useRef<Pending | null>(null);
  useEffect(() => {
    // what is being typed stays, also when another tab or program changes the value meanwhile
    if (pending.current) return;
    setTyped(value);
    setTouched(false);
  }, [value, target]);
  useEffect(
    () => () => {
      if (pending.current) void write(row, pending.current);
      pending.current = null;
    },
    [target, row],
  );
  const change = (text: string) => {
    setTyped(text);
    setTouched(true);
    pending.current = { photoIds, typed: text, seen: pending.current?.seen ?? seenNow(row, photoIds) };
  };
  /** `false`: what cannot be kept stays, with its reason, until it is mended or given up. */
  const keep = (): boolean => {
    const waiting = pending.current;
    if (waiting && valueProblemOf(row.key, waiting.typed) !== null) return false;
    pending.current = null;
    setTouched(false);
    if (waiting) void write(row, waiting);
    return true;
  };
  const cancel = () => {
    pending.current = null;
    setTyped(value);
    setTouched(false);
  };
  return { typed, touched, change, keep, cancel };
}

/** When `enterOn` changes, the cursor goes into the field, to its first blank; not while a search is being typed. */
function useEnterOn(enterOn: string | null, wording: RefObject<ShorthandInputHandle | null>): void {
  useEffect(() => {
    if (enterOn === null || document.activeElement?.closest('[role=search]')) return;
    // the text of the photo that has just come is there with the next drawing
    const timer = setTimeout(() => wording.current?.enter());
    return () => clearTimeout(timer);
  }, [enterOn, wording]);
}

/** What leaving the field will do to several photos, before it is done. */
function willDo(shared: Shared, count: number, typed: string): string {
  const said =
    shared.state === 'differs'
      ? shared.values.reduce((sum, { value, photos }) => sum + (value === undefined ? 0 : photos), 0)
      : shared.value === undefined
        ? 0
        : count;
  const act = typed.trim() === '' ? `Takes it from ${photosWords(said)}` : `Goes to all ${photosWords(count)}`;
  return `${act}${typed.trim() !== '' && said > 0 ? `, and replaces what ${said === count ? 'they' : photosWords(said)} say${said === 1 ? 's' : ''} now` : ''}. One undo.`;
}

/** Fields of more than a few words have the whole width. */
const isWide = (row: FieldRow): boolean => row.long === true || (row.iim?.maxBytes ?? 0) > 64;

interface Pending {
  photoIds: string[];
  typed: string;
  /** Of one photo, what stood there when the typing began. */
  seen: Promise<SeenValue | null>;
}

async function seenNow({ key }: FieldRow, photoIds: string[]): Promise<SeenValue | null> {
  const photo = photoIds.length === 1 ? await session.db.photos.get(photoIds[0] ?? '') : undefined;
  return photo ? seenIn(photo, key) : null;
}

async function write(row: FieldRow, { photoIds, typed, seen }: Pending): Promise<void> {
  if (valueProblemOf(row.key, typed) === null) await setField(row.key, fromTyped(row.key, typed), photoIds, await seen);
}
