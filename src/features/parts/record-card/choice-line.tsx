'use client';

import { Select } from 'antd';
import { useId, type ReactNode } from 'react';
import type { Shared } from '@/core/fields/common-values';
import type { FieldRow } from '@/core/fields/registry';
import { singleFromText, textOfSingle } from '@/core/fields/values';
import { setField } from '@/engine/set-field';
import { HelpedName, useFieldHelp } from '@/features/parts/describing/field-help';
import styles from './record-card.module.css';

const YES_NO = [
  { value: 'True', label: 'Yes' },
  { value: 'False', label: 'No' },
];

/** A field whose value comes from a short list. A value that is not in the list stays, and shows as it is written. */
export function ChoiceLine({
  row,
  shared,
  photoIds,
  origin,
}: {
  row: FieldRow;
  shared: Shared;
  photoIds: string[];
  origin: ReactNode;
}) {
  const id = useId();
  const help = useFieldHelp();
  const value = shared.state === 'same' && shared.value !== undefined ? textOfSingle(shared.value) : undefined;
  const options = row.value === 'boolean' ? YES_NO : [...(row.choices ?? [])];
  const all =
    value === undefined || options.some((choice) => choice.value === value)
      ? options
      : [...options, { value, label: value }];
  return (
    <div
      className={`${styles.field} ${styles.line}`}
      data-differs={shared.state === 'differs'}
      onKeyDownCapture={help.onKeyDown}
    >
      <HelpedName help={help} words={row.help}>
        <label htmlFor={id}>{row.label}</label>
      </HelpedName>
      <Select
        id={id}
        size="small"
        variant="borderless"
        allowClear
        value={value}
        options={all}
        popupMatchSelectWidth={false}
        placeholder={shared.state === 'differs' ? `${shared.kinds} different values` : 'not said'}
        onChange={(text?: string) => void setField(row.key, singleFromText(row, text ?? ''), photoIds)}
      />
      {origin}
    </div>
  );
}
