'use client';

// A pattern as a row of parts: added, set, dragged into another order (by pointer, or by keys on the handle), taken
// out.

import {
  type Announcements,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  horizontalListSortingStrategy,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Dropdown, Input, InputNumber, Select } from 'antd';
import { useId } from 'react';
import type { PatternPart, Pattern, SequenceOver } from '@/core/names/pattern';
import { SmallCard } from '@/ui/small-card';
import styles from './naming.module.css';
import { PART_KINDS, labelOf } from './parts';

interface Props {
  label: string;
  of: 'names' | 'folders';
  pattern: Pattern;
  onChange: (pattern: Pattern) => void;
}

export function PatternEditor({ label, of, pattern, onChange }: Props) {
  const id = useId();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const keys = pattern.map((_, index) => `${id}-${index}`);
  const replace = (at: number, part: PatternPart) => onChange(pattern.map((one, index) => (index === at ? part : one)));
  const end = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id)
      onChange(arrayMove([...pattern], keys.indexOf(String(active.id)), keys.indexOf(String(over.id))));
  };
  const place = (key: unknown) => keys.indexOf(String(key)) + 1;
  const partAt = (key: unknown) => labelOf(pattern[place(key) - 1] ?? { kind: 'text', text: '' });
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${partAt(active.id)} is picked up at place ${place(active.id)} of ${keys.length}`,
    onDragOver: ({ active, over }) =>
      over ? `${partAt(active.id)} is at place ${place(over.id)} of ${keys.length}` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${partAt(active.id)} is put down at place ${place(over.id)} of ${keys.length}` : undefined,
    onDragCancel: ({ active }) => `${partAt(active.id)} is back at place ${place(active.id)} of ${keys.length}`,
  };
  const kinds = PART_KINDS.filter(({ in: where }) => where === 'both' || where === of);
  return (
    <div className={styles.editor} role="group" aria-label={label}>
      <DndContext
        id={id}
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={end}
        accessibility={{ announcements }}
      >
        <SortableContext items={keys} strategy={horizontalListSortingStrategy}>
          {pattern.map((part, index) => (
            <PartChip
              key={keys[index]}
              id={keys[index] ?? ''}
              part={part}
              onChange={(next) => replace(index, next)}
              onRemove={() => onChange(pattern.filter((_, at) => at !== index))}
            />
          ))}
        </SortableContext>
      </DndContext>
      <Dropdown
        trigger={['click']}
        menu={{
          items: kinds.map(({ label: name, help }) => ({
            key: name,
            label: (
              <span className={styles.kind}>
                {name}
                <em>{help}</em>
              </span>
            ),
          })),
          onClick: ({ key }) =>
            onChange([...pattern, kinds.find(({ label: name }) => name === key)?.make ?? { kind: 'text', text: '' }]),
        }}
      >
        <Button size="small" type="text" aria-label={`Add a part to ${label.toLowerCase()}`}>
          + part
        </Button>
      </Dropdown>
    </div>
  );
}

function PartChip({
  id,
  part,
  onChange,
  onRemove,
}: {
  id: string;
  part: PatternPart;
  onChange: (part: PatternPart) => void;
  onRemove: () => void;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  const name = labelOf(part);
  return (
    <span
      ref={setNodeRef}
      className={styles.part}
      data-kind={part.kind}
      data-dragging={isDragging}
      style={{ transform: CSS.Transform.toString(transform), transition }}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        className={styles.handle}
        {...attributes}
        {...listeners}
        aria-label={`Move: ${name}`}
      >
        ⋮
      </button>
      {part.kind === 'text' ? (
        <Input
          size="small"
          variant="borderless"
          className={styles.text}
          value={part.text}
          style={{ width: part.text !== '' && part.text.trim() === '' ? 64 : `max(24px, ${part.text.length + 1}ch)` }}
          onChange={(event) => onChange({ ...part, text: event.target.value })}
          aria-label="Text"
          suffix={part.text !== '' && part.text.trim() === '' ? <span className={styles.blank}>space</span> : null}
        />
      ) : part.kind === 'date' || part.kind === 'sequence' ? (
        <SmallCard
          placement="bottomLeft"
          content={
            part.kind === 'date' ? (
              <DateForm part={part} onChange={onChange} />
            ) : (
              <SequenceForm part={part} onChange={onChange} />
            )
          }
        >
          <button type="button" className={styles.set}>
            {part.kind === 'date' ? part.form : `${String(part.start).padStart(part.digits, '0')}…`}
          </button>
        </SmallCard>
      ) : (
        <span className={styles.name}>{part.kind === 'level' ? '/' : name}</span>
      )}
      <button type="button" className={styles.remove} onClick={onRemove} aria-label={`Take out: ${name}`}>
        ×
      </button>
    </span>
  );
}

const FORMS = ['YYYY-MM-DD', 'YYYYMMDD', 'YYMMDD', 'YYYY', 'YYYY-MM', 'MM Month', 'YYYYMMDD-hhmmss', 'hhmmss'];

function DateForm({ part, onChange }: { part: PatternPart & { kind: 'date' }; onChange: (part: PatternPart) => void }) {
  return (
    <div className={styles.form}>
      <label htmlFor="date-form">Form</label>
      <Input
        id="date-form"
        value={part.form}
        onChange={(event) => onChange({ ...part, form: event.target.value })}
        className="mono"
      />
      <div className={styles.forms}>
        {FORMS.map((form) => (
          <Button
            key={form}
            size="small"
            type={form === part.form ? 'primary' : 'default'}
            onClick={() => onChange({ ...part, form })}
          >
            {form}
          </Button>
        ))}
      </div>
      <p className="quiet">YYYY YY MM Month DD hh mm ss stand for the date taken; all else for itself.</p>
    </div>
  );
}

const OVER: { value: SequenceOver; label: string }[] = [
  { value: 'folder', label: 'each folder' },
  { value: 'day', label: 'each day' },
  { value: 'accession', label: 'all together' },
];

function SequenceForm({
  part,
  onChange,
}: {
  part: PatternPart & { kind: 'sequence' };
  onChange: (part: PatternPart) => void;
}) {
  return (
    <div className={styles.form}>
      <label htmlFor="sequence-start">Begins at</label>
      <InputNumber
        id="sequence-start"
        min={0}
        max={999_999_999}
        value={part.start}
        onChange={(start) => onChange({ ...part, start: start ?? 1 })}
      />
      <label htmlFor="sequence-digits">Digits</label>
      <InputNumber
        id="sequence-digits"
        min={1}
        max={9}
        value={part.digits}
        onChange={(digits) => onChange({ ...part, digits: digits ?? 4 })}
      />
      <label htmlFor="sequence-over">Counts over</label>
      <Select<SequenceOver>
        id="sequence-over"
        value={part.over}
        options={OVER}
        onChange={(over) => onChange({ ...part, over })}
      />
      {part.digits < 4 && (
        <p className="quiet">With fewer than four digits, names stop sorting in order past {10 ** part.digits - 1}.</p>
      )}
    </div>
  );
}
