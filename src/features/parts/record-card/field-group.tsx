'use client';

import { useState } from 'react';
import type { SelectionSummary } from '@/core/fields/common-values';
import { FIELDS, type FieldGroup, type FieldRow } from '@/core/fields/registry';
import { GROUP_TITLES, isShownEmpty, useChosenFields } from './chosen-fields';
import { ChoiceLine } from './choice-line';
import { FieldLine } from './field-line';
import { KeywordLine } from '@/features/parts/describing/keyword-line';
import { StructureLine } from './structure-line';
import { type OriginOfValue, ValueOrigin } from './value-origin';
import styles from './record-card.module.css';

interface Props {
  group: FieldGroup;
  summary: SelectionSummary;
  photoIds: string[];
  /** Where values come from can be said of one photo. */
  origin: OriginOfValue | null;
}

/** A group of fields: the usual ones and those that say something; the others when asked for. */
export function FieldGroupSection({ group, summary, photoIds, origin }: Props) {
  const [all, setAll] = useState(false);
  const rows = FIELDS.filter((row) => row.group === group);
  const says = ({ key }: FieldRow) =>
    summary.fields[key].state === 'differs' ||
    (summary.fields[key].state === 'same' && summary.fields[key].value !== undefined);
  const choice = useChosenFields();
  const shown = all ? rows : rows.filter((row) => isShownEmpty(choice, row.key) || says(row));
  const hidden = rows.length - shown.length;
  return (
    <section className={styles.group} aria-label={GROUP_TITLES[group]}>
      <h3>
        {GROUP_TITLES[group]}
        {(hidden > 0 || all) && (
          <button type="button" className={styles.more} aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'only the usual fields' : `${hidden} more`}
          </button>
        )}
      </h3>
      {shown.map((row) => (
        <Line key={row.key} row={row} summary={summary} photoIds={photoIds} origin={origin} />
      ))}
    </section>
  );
}

function Line({ row, summary, photoIds, origin }: Omit<Props, 'group'> & { row: FieldRow }) {
  const shared = summary.fields[row.key];
  const from = origin && <ValueOrigin origin={origin} row={row} />;
  // what is half typed here is of these photos alone; the cursor in a line of text goes on to the next photo
  const own = photoIds.join(' ');
  if (row.key === 'keywords')
    return <KeywordLine key={own} words={summary.keywords} photoIds={photoIds} origin={from} />;
  if (row.structure !== undefined)
    return (
      <StructureLine key={own} row={row} structure={row.structure} shared={shared} photoIds={photoIds} origin={from} />
    );
  if (row.choices || row.value === 'boolean')
    return <ChoiceLine row={row} shared={shared} photoIds={photoIds} origin={from} />;
  return <FieldLine row={row} shared={shared} photoIds={photoIds} origin={from} />;
}
