'use client';

// A kit: its fields, what each does to what is there, and its value. Made without any picture, or begun with what one
// says.

import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { WRITTEN_FIELDS, type FieldKey, type FieldRow, fieldOf } from '@/core/fields/registry';
import { type FieldValue, type Structure, isList, isWordList } from '@/core/fields/shape';
import { fromTyped, valueProblemOf, structuresIn, tidyStructure, typedFor } from '@/core/fields/values';
import type { Kit, KitEntry, KitMode } from '@/core/describe/kit';
import { valueProblemSentence } from '@/messages/fields';
import { StructureForm } from './structure-form';
import { session } from '@/engine/session';
import { FillInNames } from './fill-in-names';
import styles from './describing.module.css';

interface Line {
  key: FieldKey;
  mode: KitMode;
  typed: string;
  /** Of a field of structures: the first is edited here, the others stay as they are. */
  structures: Structure[];
}

const lineOf = ({ key, mode, value }: KitEntry): Line => ({
  key,
  mode,
  typed: fieldOf(key).structure ? '' : typedFor(key, value),
  structures: structuresIn(value),
});
const emptyLine = (key: FieldKey, mode: KitMode): Line => ({ key, mode, typed: '', structures: [] });

function valueOf({ key, typed, structures }: Line): FieldValue | undefined {
  const row = fieldOf(key);
  if (row.structure === undefined) return fromTyped(key, typed);
  const tidy: Structure[] = [];
  for (const one of structures) {
    const kept = tidyStructure(row.structure, one);
    if (kept) tidy.push(kept);
  }
  return isList(row) ? (tidy.length > 0 ? tidy : undefined) : tidy[0];
}

const MODES: { value: KitMode; label: string }[] = [
  { value: 'leave', label: 'leave for now' },
  { value: 'fill', label: 'fill if empty' },
  { value: 'add', label: 'add' },
  { value: 'replace', label: 'replace' },
];
const PLACED: FieldKey[] = ['creator', 'copyrightNotice', 'credit', 'source'];

/** The date taken is never a kit's, nor what belongs to one photo alone. */
const NOT_OF_KITS: ReadonlySet<FieldKey> = new Set<FieldKey>([
  'captured',
  'digitised',
  'iptcEdited',
  'imageGuid',
  'registryEntry',
  'rating',
  'identifier',
  'originalName',
  'memberOf',
  'keywordTree',
  'region',
]);
export const isOfKits = (key: FieldKey): boolean => !NOT_OF_KITS.has(key);
const CHOICES = WRITTEN_FIELDS.filter(({ key }) => isOfKits(key)).map(({ key, label }) => ({ value: key, label }));

interface Props {
  kit: Kit | null;
  /** What a new kit begins with. */
  start?: KitEntry[];
  onDone: (id: string | null) => void;
}

export function KitForm({ kit, start = [], onDone }: Props) {
  const [name, setName] = useState(kit?.name ?? '');
  const [lines, setLines] = useState<Line[]>(
    kit || start.length > 0 ? (kit?.entries ?? start).map(lineOf) : PLACED.map((key) => emptyLine(key, 'fill')),
  );
  const change = (at: number, patch: Partial<Line>) =>
    setLines(lines.map((line, index) => (index === at ? { ...line, ...patch } : line)));
  const entries = lines.flatMap((line) => {
    const value = valueOf(line);
    return value === undefined ? [] : [{ key: line.key, mode: line.mode, value }];
  });
  const problem = lines.map(({ key, typed }) => valueProblemOf(key, typed)).find((one) => one !== null) ?? null;
  const keep = async () => {
    const id = kit
      ? (await session.changeKept('kits', kit, { name: name.trim(), entries })) && kit.id
      : await session.keep('kits', { name: name.trim(), entries });
    if (id) onDone(id);
  };
  return (
    <div className={styles.kit} role="group" aria-label={kit ? `Kit ${kit.name}` : 'New kit'}>
      <Input
        value={name}
        placeholder="Name of the kit"
        aria-label="Name of the kit"
        onChange={({ target }) => setName(target.value)}
      />
      {lines.map(({ key, mode, typed, structures }, index) => (
        <div key={index} className={styles.kitLine}>
          <Select<FieldKey>
            size="small"
            value={key}
            options={CHOICES}
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={`Field ${index + 1}`}
            onChange={(next) => change(index, emptyLine(next, mode === 'add' ? 'fill' : mode))}
          />
          <Select<KitMode>
            size="small"
            value={mode}
            options={MODES.filter(({ value }) => value !== 'add' || isWordList(fieldOf(key)))}
            aria-label={`What ${fieldOf(key).label} does`}
            onChange={(next) => change(index, { mode: next })}
          />
          <KitValue
            row={fieldOf(key)}
            typed={typed}
            structures={structures}
            onTyped={(text) => change(index, { typed: text })}
            onStructures={(next) => change(index, { structures: next })}
          />
          <Button
            size="small"
            type="text"
            aria-label={`Take ${fieldOf(key).label} out`}
            onClick={() => setLines(lines.filter((_, at) => at !== index))}
          >
            ×
          </Button>
        </div>
      ))}
      <p className="quiet">
        In a text, [=city] or the name of any other field is filled in per photo; [?who does what] is a blank to be
        filled later. <FillInNames />
      </p>
      {problem && <p className={styles.problem}>{valueProblemSentence(problem)}</p>}
      <div className={styles.line}>
        <Button size="small" type="text" onClick={() => setLines([...lines, emptyLine('keywords', 'add')])}>
          + field
        </Button>
        <span className={styles.push} />
        {kit && (
          <Button
            size="small"
            type="text"
            danger
            onClick={() => {
              void session.changeKept('kits', kit, { deleted: true });
              onDone(null);
            }}
          >
            Remove the kit
          </Button>
        )}
        <Button size="small" onClick={() => onDone(null)}>
          Leave it
        </Button>
        <Button
          size="small"
          type="primary"
          disabled={name.trim() === '' || entries.length === 0 || problem !== null}
          onClick={() => void keep()}
        >
          Keep the kit
        </Button>
      </div>
    </div>
  );
}

interface ValueProps {
  row: FieldRow;
  typed: string;
  structures: Structure[];
  onTyped: (text: string) => void;
  onStructures: (structures: Structure[]) => void;
}

function KitValue({ row, typed, structures, onTyped, onStructures }: ValueProps) {
  if (row.structure !== undefined)
    return (
      <div role="group" aria-label={row.label}>
        <StructureForm
          structure={row.structure}
          value={structures[0] ?? {}}
          onChange={(first) => onStructures([first, ...structures.slice(1)])}
        />
        {structures.length > 1 && <p className="quiet">and {structures.length - 1} more, kept as they are</p>}
      </div>
    );
  const common = {
    size: 'small' as const,
    value: typed,
    'aria-label': row.label,
    placeholder: row.help,
    onChange: ({ target }: { target: { value: string } }) => onTyped(target.value),
  };
  return row.long ? <Input.TextArea {...common} autoSize={{ minRows: 1, maxRows: 6 }} /> : <Input {...common} />;
}
