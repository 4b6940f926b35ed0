'use client';

// A field of codes: looked up in place by word or by code; a wrong one is pointed out where it stands.

import { AutoComplete, Input } from 'antd';
import type { KeyboardEvent } from 'react';
import { codeListOf, lookUpCodes, wrongCodes } from '@/core/fields/check-codes';
import type { FieldRow } from '@/core/fields/registry';
import { fromTyped } from '@/core/fields/values';
import { offeredSentence, wrongCodeSentence } from '@/messages/fields';
import styles from './record-card.module.css';

const OFFERED = 12;

interface Props {
  row: FieldRow;
  id: string;
  value: string;
  placeholder: string;
  status: '' | 'error';
  describedBy: string | undefined;
  onChange: (text: string) => void;
  onBlur: () => void;
  onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
}

export function CodeField({ row, id, value, placeholder, status, describedBy, onChange, onBlur, onKeyDown }: Props) {
  const list = codeListOf(row.key);
  const last = /[^;]*$/.exec(value)?.[0].trim() ?? '';
  const before = value.slice(0, value.length - (/[^;]*$/.exec(value)?.[0].length ?? 0));
  const options = list
    ? lookUpCodes(list.codes, last, OFFERED).map(({ code, label, note }) => ({
        value: code,
        label: (
          <span>
            <span className="mono">{code}</span> {label}
            {note && <span className="quiet"> · {note}</span>}
          </span>
        ),
      }))
    : [];
  const wrong = wrongCodes({ [row.key]: fromTyped(row.key, value) });
  return (
    <div>
      <AutoComplete
        value={value}
        options={options}
        defaultActiveFirstOption={false}
        popupMatchSelectWidth={360}
        popupRender={(offered) => (
          <>
            {offered}
            {list && !list.complete && <p className={styles.offered}>{offeredSentence(list)}</p>}
          </>
        )}
        className={styles.codes}
        onChange={(text: string) => {
          if (!options.some((option) => option.value === text)) onChange(text);
        }}
        onSelect={(code: string) => onChange(`${before === '' ? '' : `${before.trimEnd()} `}${code}`)}
      >
        <Input
          id={id}
          placeholder={placeholder}
          status={status}
          variant="borderless"
          aria-describedby={describedBy}
          onBlur={onBlur}
          onKeyDown={onKeyDown}
        />
      </AutoComplete>
      {wrong.map((one) => (
        <p key={one.code} className={styles.wrongCode}>
          {wrongCodeSentence(one)}
        </p>
      ))}
    </div>
  );
}
