'use client';

import { Button, Checkbox, Input, Select } from 'antd';
import { useId } from 'react';
import { type FieldValue, type Structure, isList } from '@/core/fields/shape';
import { type MemberRow, type StructureName, STRUCTURES } from '@/core/fields/structures';
import { structuresIn, toTyped } from '@/core/fields/values';
import { MEMBER_HELP } from '@/core/fields/member-help';
import styles from './describing.module.css';
import { HelpedName, useFieldHelp } from './field-help';

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
          words={MEMBER_HELP[structure][row.key] ?? ''}
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
  /** What belongs there. */
  words: string;
  value: FieldValue | undefined;
  onChange: (value: FieldValue | undefined) => void;
}

function Member(props: MemberProps) {
  const { row, words, onChange } = props;
  const id = useId();
  const help = useFieldHelp();
  if (row.structure !== undefined) return <Nested {...props} structure={row.structure} />;
  return (
    <div className={styles.member} onKeyDownCapture={help.onKeyDown}>
      <HelpedName help={help} words={words}>
        <label htmlFor={id}>{row.label}</label>
      </HelpedName>
      <MemberInput id={id} row={row} value={props.value} onChange={onChange} />
    </div>
  );
}

function MemberInput({ id, row, value, onChange }: Omit<MemberProps, 'words'> & { id: string }) {
  if (row.value === 'boolean')
    return (
      <Checkbox
        id={id}
        checked={value === true}
        onChange={({ target }) => onChange(target.checked ? true : undefined)}
      />
    );
  if (row.choices)
    return (
      <Select
        id={id}
        size="small"
        variant="borderless"
        allowClear
        value={typeof value === 'string' ? value : undefined}
        options={[...row.choices]}
        onChange={(code?: string) => onChange(code)}
      />
    );
  // a list is typed in one line and parted at semicolons when it is kept
  const parts = (text: string): FieldValue | undefined =>
    isList(row) ? text.split(';').map((part) => part.trimStart()) : text === '' ? undefined : text;
  return (
    <Input
      id={id}
      size="small"
      variant="borderless"
      value={toTyped(value)}
      placeholder={isList(row) ? 'semicolon between several' : ''}
      onChange={({ target }) => onChange(parts(target.value))}
    />
  );
}

function Nested({ row, structure, words, value, onChange }: MemberProps & { structure: StructureName }) {
  const items = structuresIn(value);
  const change = (next: Structure[]) => onChange(next.length === 0 ? undefined : isList(row) ? next : next[0]);
  return (
    <fieldset className={styles.nested}>
      <legend title={words}>{row.label}</legend>
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
