'use client';

import { Button, Select } from 'antd';
import { type ReactNode, useEffect, useId, useState } from 'react';
import { type Code, TERM_LISTS } from '@/core/fields/code-lists';
import type { Shared } from '@/core/fields/common-values';
import type { FieldRow } from '@/core/fields/registry';
import { type FieldValue, type Structure, isList } from '@/core/fields/shape';
import type { StructureName } from '@/core/fields/structures';
import { sameValue, structuresIn, tidyStructure, toStrings } from '@/core/fields/values';
import { setField } from '@/engine/set-field';
import { StructureForm } from '@/features/parts/describing/structure-form';
import { HelpedName, useFieldHelp } from '@/features/parts/describing/field-help';
import styles from './record-card.module.css';

interface Props {
  row: FieldRow;
  structure: StructureName;
  shared: Shared;
  photoIds: string[];
  origin: ReactNode;
}

const present = (item: Structure | undefined): Structure[] => (item ? [item] : []);

/**
 * A field of structures: one line each, opened to its members. What is typed is kept when the cursor leaves the
 * structure.
 */
export function StructureLine({ row, structure, shared, photoIds, origin }: Props) {
  const value = shared.state === 'same' ? shared.value : undefined;
  const [items, setItems] = useState(structuresIn(value));
  const [open, setOpen] = useState<number | null>(null);
  const heading = useId();
  const help = useFieldHelp();
  useEffect(() => setItems(structuresIn(value)), [value]);

  const save = (next: Structure[]) => {
    const tidy: Structure[] = [];
    for (const item of next) tidy.push(...present(tidyStructure(structure, item)));
    const wanted: FieldValue | undefined = isList(row) ? (tidy.length > 0 ? tidy : undefined) : tidy[0];
    if (!sameValue(wanted, value) || shared.state === 'differs') void setField(row.key, wanted, photoIds);
  };
  const add = () => {
    setItems([...items, {}]);
    setOpen(items.length);
  };
  const remove = (index: number) => {
    const next = items.toSpliced(index, 1);
    setItems(next);
    setOpen(null);
    save(next);
  };
  const terms = TERM_LISTS[row.key];
  const mayAdd = isList(row) || items.length === 0;
  return (
    <div className={styles.field} role="group" aria-labelledby={heading}>
      <div className={styles.structureHead} onKeyDownCapture={help.onKeyDown}>
        <HelpedName help={help} words={row.help}>
          <span className={styles.label} id={heading}>
            {row.label}
          </span>
        </HelpedName>
        {shared.state === 'differs' && <em className="quiet">{shared.kinds} different values</em>}
        {origin}
        {terms && (
          <TermChoice
            name={terms.name}
            codes={terms.codes}
            onTake={(code) =>
              save([...items, { name: code.label, identifier: code.code, vocabulary: terms.vocabulary }])
            }
          />
        )}
        {mayAdd && (
          <Button size="small" type="text" onClick={add} aria-label={`Add to ${row.label}`}>
            {shared.state === 'differs' ? 'Replace' : 'Add'}
          </Button>
        )}
      </div>
      {items.map((item, index) => (
        <div key={index} className={styles.structure}>
          <button
            type="button"
            className={styles.structureLine}
            aria-expanded={open === index}
            onClick={() => setOpen(open === index ? null : index)}
          >
            {toStrings(item).join(', ') || 'new, nothing entered yet'}
          </button>
          {open === index && (
            <div onBlur={(event) => !event.currentTarget.contains(event.relatedTarget) && save(items)}>
              <StructureForm
                structure={structure}
                value={item}
                onChange={(changed) => setItems(items.with(index, changed))}
              />
              <Button size="small" type="text" danger onClick={() => remove(index)}>
                Take away
              </Button>
            </div>
          )}
        </div>
      ))}
    </div>
  );
}

/** A term of a published list, looked up by word. */
function TermChoice({ name, codes, onTake }: { name: string; codes: readonly Code[]; onTake: (code: Code) => void }) {
  const options = codes.map(({ code, label }) => ({ value: code, label }));
  return (
    <Select
      size="small"
      variant="borderless"
      value={null}
      placeholder={name}
      showSearch={{ optionFilterProp: 'label' }}
      popupMatchSelectWidth={300}
      options={options}
      aria-label={`Look up in ${name}`}
      onChange={(chosen: string | null) => {
        const code = codes.find((one) => one.code === chosen);
        if (code) onTake(code);
      }}
    />
  );
}
