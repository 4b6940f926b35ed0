'use client';

import { Input, Tooltip } from 'antd';
import type { TextAreaRef } from 'antd/es/input/TextArea';
import { type KeyboardEvent, useEffect, useId, useRef, useState } from 'react';
import { planSet } from '@/core/changes/change';
import type { Shared } from '@/core/changes/selection';
import type { FieldRow } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { fromTyped, toTyped } from '@/core/fields/values';
import { useKeys } from '@/ui/keys';
import { stepFocus } from '../session/selection';
import { session } from '../session/session';
import { useResult } from '../scope/use-result';
import styles from './record-card.module.css';

interface Props {
  row: FieldRow;
  shared: Shared;
  photoIds: string[];
}

/** One field of the selection. It is written when the cursor leaves it, or with Enter (Ctrl+Enter in the caption). */
export function FieldLine({ row, shared, photoIds }: Props) {
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
    if (pending.current) void write(row.key, pending.current);
    pending.current = null;
  }, [target, row.key]);
  useKeys(row.key === 'caption' ? { t: () => area.current?.focus({ cursor: 'end' }) } : {});

  const save = async () => {
    const waiting = pending.current;
    pending.current = null;
    setTouched(false);
    if (waiting) await write(row.key, waiting);
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
    <div className={row.long || row.key === 'headline' ? styles.field : `${styles.field} ${styles.line}`} data-differs={shared.state === 'differs' && !touched}>
      <Tooltip title={row.help} placement="left" mouseEnterDelay={0.6}>
        <label htmlFor={id}>{row.label}</label>
      </Tooltip>
      {row.long ? <Input.TextArea {...common} ref={area} autoSize={{ minRows: 2, maxRows: 10 }} /> : <Input {...common} />}
    </div>
  );
}

async function write(key: FieldRow['key'], { photoIds, typed }: { photoIds: string[]; typed: string }): Promise<void> {
  const value: FieldValue | undefined = fromTyped(key, typed);
  const photos = (await session.db.photos.bulkGet(photoIds)).flatMap((photo) => (photo ? [photo] : []));
  await session.change({ kind: 'fields', origin: 'person', edits: planSet(photos, key, value) });
}
