'use client';

import { Button } from 'antd';
import type { Shared } from '@/core/fields/common-values';
import type { FieldRow } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { toTyped } from '@/core/fields/values';
import { count } from '@/ui/format';
import { SmallCard } from '@/ui/small-card';
import styles from './record-card.module.css';

/** Different values listed; the others are counted. */
const LISTED = 12;

/** What the photos of a selection say where they differ, with how many say it; one of them can be given to all. */
export function MixedValues({
  row,
  shared,
  onTake,
}: {
  row: FieldRow;
  shared: Shared & { state: 'differs' };
  onTake: (value: FieldValue | undefined) => void;
}) {
  const content = (
    <table className={styles.statements} aria-label={`What the photos say for ${row.label}`}>
      <tbody>
        {shared.values.slice(0, LISTED).map(({ value, photos }, index) => (
          <tr key={index}>
            <th scope="row">{count(photos)}</th>
            <td>{toTyped(value) || <span className="quiet">(empty)</span>}</td>
            <td>
              {value !== undefined && (
                <Button size="small" onClick={() => onTake(value)}>
                  Give to all
                </Button>
              )}
            </td>
          </tr>
        ))}
        {shared.kinds > LISTED && (
          <tr>
            <th />
            <td className="quiet">and {count(shared.kinds - LISTED)} other values</td>
            <td />
          </tr>
        )}
      </tbody>
    </table>
  );
  return (
    <SmallCard content={content} placement="topRight">
      <button type="button" className={styles.mixed} aria-label={`which? What they say for ${row.label}`}>
        which?
      </button>
    </SmallCard>
  );
}
