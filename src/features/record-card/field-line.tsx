'use client';

import { Input, Tooltip } from 'antd';
import type { TextAreaRef } from 'antd/es/input/TextArea';
import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react';
import type { Shared } from '@/core/changes/selection';
import type { FieldRow } from '@/core/fields/registry';
import { fromTyped, misfitOf, toTyped } from '@/core/fields/values';
import { misfitSentence } from '@/messages/fields';
import { useKeys } from '@/ui/keys';
import { stepFocus } from '../session/selection';
import { useResult } from '../scope/use-result';
import { setField } from '../session/set-field';
import styles from './record-card.module.css';

interface Props {
  row: FieldRow;
  shared: Shared;
  photoIds: string[];
  origin: ReactNode;
}

/** One field of the selection. It is written when the cursor leaves it, or with Enter (Ctrl+Enter in the caption). */
export function FieldLine({ row, shared, photoIds, origin }: Props) {
  const value = shared.state === 'same' ? toTyped(shared.value) : '';
  const [typed, setTyped] = useState(value);
  const [touched, setTouched] = useState(false);
  const area = useRef<TextAreaRef>(null);
  const id = useId();
  const target = photoIds.join(' ');
  // what was typed for one selection is written to that one, even when the selection changes before the field is left
  const pending = useRef<{ photoIds: string[]; typed: string } | null>(null);

  useEffect(() => {
    // what is being typed stays, also when another tab or program changes the value meanwhile
    if (pending.current) return;
    setTyped(value);
    setTouched(false);
  }, [value, target]);
  useEffect(() => () => {
    if (pending.current) void write(row, pending.current);
    pending.current = null;
  }, [target, row]);
  useKeys(row.key === 'caption' ? { t: () => area.current?.focus({ cursor: 'end' }) } : {});

  const misfit = touched ? misfitOf(row.key, typed) : null;
  const why = misfit && misfitSentence(misfit);
  const save = async () => {
    const waiting = pending.current;
    if (waiting && misfitOf(row.key, waiting.typed) !== null) return; // stays, with its reason, until it is mended or given up
    pending.current = null;
    setTouched(false);
    if (waiting) await write(row, waiting);
  };
  const change = (text: string) => {
    setTyped(text);
    setTouched(true);
    pending.current = { photoIds, typed: text };
  };
  const saveAndGoOn = async () => {
    await save();
    stepFocus(useResult.getState().result?.ids ?? [], 1);
  };
  const cancel = () => {
    pending.current = null;
    setTyped(value);
    setTouched(false);
  };
  const placeholder = shared.state === 'differs' && !touched ? `${shared.kinds} different values` : '';
  const common = {
    id, value: typed, placeholder, variant: 'borderless' as const,
    onChange: (event: { target: { value: string } }) => change(event.target.value),
    status: why ? ('error' as const) : ('' as const), 'aria-describedby': why ? `${id}-why` : undefined,
    onBlur: () => void save(),
    onKeyDown: (event: KeyboardEvent<HTMLElement>) => {
      if (event.key === 'Escape') {
        cancel();
        (event.target as HTMLElement).blur();
      } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void saveAndGoOn();
      else if (event.key === 'Enter' && !row.long) void save();
    },
  };
  return (
    <div className={isWide(row) ? styles.field : `${styles.field} ${styles.line}`} data-differs={shared.state === 'differs' && !touched}>
      <Tooltip title={row.help} placement="left" mouseEnterDelay={0.6}>
        <label htmlFor={id}>{row.label}</label>
      </Tooltip>
      {origin}
      {row.long ? <Input.TextArea {...common} ref={area} autoSize={{ minRows: 2, maxRows: 10 }} /> : <Input {...common} />}
      {why && <p className={styles.why} id={`${id}-why`} role="alert">{why}</p>}
    </div>
  );
}

/** Fields of more than a few words have the whole width. */
const isWide = (row: FieldRow): boolean => row.long === true || (row.iim?.maxBytes ?? 0) > 64;

async function write(row: FieldRow, { photoIds, typed }: { photoIds: string[]; typed: string }): Promise<void> {
  if (misfitOf(row.key, typed) === null) await setField(row.key, fromTyped(row.key, typed), photoIds);
}
