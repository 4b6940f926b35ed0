'use client';

import { Button, Checkbox, Input, Select } from 'antd';
import { useId } from 'react';
import { type FieldValue, type Structure, isList } from '@/core/fields/shape';
import { type MemberRow, type StructureName, STRUCTURES } from '@/core/fields/structures';
import { structuresIn, toTyped } from '@/core/fields/values';
import styles from './describing.module.css';

interface Props {
  structure: StructureName;
  value: Structure;
  onChange: (value: Structure) => void;
}

/** The members of a structure, each in its own line; structures inside it are indented. */
export function StructureForm({ structure, value, onChange }: Props) {
  return (
    <div className={styles.members}>
      {STRUCTURES[structure].map((row) => (
        <Member
          key={row.key}
          row={row}
          value={value[row.key]}
          onChange={(changed) => onChange(withMember(value, row.key, changed))}
        />
      ))}
    </div>
  );
}

function withMember(value: Structure, key: string, changed: FieldValue | undefined): Structure {
  const { [key]: _, ...others } = value;
  return changed === undefined ? others : { ...others, [key]: changed };
}

interface MemberProps {
  row: MemberRow;
  value: FieldValue | undefined;
  onChange: (value: FieldValue | undefined) => void;
}

function Member({ row, value, onChange }: MemberProps) {
  const id = useId();
  if (row.structure !== undefined)
    return <Nested row={row} structure={row.structure} value={value} onChange={onChange} />;
  if (row.value === 'boolean') {
    return (
      <div className={styles.member}>
        <label htmlFor={id}>{row.label}</label>
        <Checkbox
          id={id}
          checked={value === true}
          onChange={({ target }) => onChange(target.checked ? true : undefined)}
        />
      </div>
    );
  }
  if (row.choices) {
    return (
      <div className={styles.member}>
        <label htmlFor={id}>{row.label}</label>
        <Select
          id={id}
          size="small"
          variant="borderless"
          allowClear
          value={typeof value === 'string' ? value : undefined}
          options={[...row.choices]}
          onChange={(code?: string) => onChange(code)}
        />
      </div>
    );
  }
  // a list is typed in one line and parted at semicolons when it is kept
  const parts = (text: string): FieldValue | undefined =>
    isList(row) ? text.split(';').map((part) => part.trimStart()) : text === '' ? undefined : text;
  return (
    <div className={styles.member}>
      <label htmlFor={id}>{row.label}</label>
      <Input
        id={id}
        size="small"
        variant="borderless"
        value={toTyped(value)}
        placeholder={isList(row) ? 'semicolon between several' : ''}
        onChange={({ target }) => onChange(parts(target.value))}
      />
    </div>
  );
}

function Nested({ row, structure, value, onChange }: MemberProps & { structure: StructureName }) {
  const items = structuresIn(value);
  const change = (next: Structure[]) => onChange(next.length === 0 ? undefined : isList(row) ? next : next[0]);
  return (
    <fieldset className={styles.nested}>
      <legend>{row.label}</legend>
      {items.map((item, index) => (
        <div key={index}>
          <StructureForm
            structure={structure}
            value={item}
            onChange={(changed) => change(items.with(index, changed))}
          />
          <Button size="small" type="text" onClick={() => change(items.toSpliced(index, 1))}>
            Take away
          </Button>
        </div>
      ))}
      {(isList(row) || items.length === 0) && (
        <Button size="small" type="text" onClick={() => change([...items, {}])}>
          Add to {row.label.toLowerCase()}
        </Button>
      )}
    </fieldset>
  );
}
