'use client';

// What will happen to the photos, field by field, before it does.

import type { EditsPreview } from '@/core/fields/edits-summary';
import { fieldOf } from '@/core/fields/registry';
import { toTyped } from '@/core/fields/values';
import { count, photos } from '@/ui/format';
import styles from './describing.module.css';

/** Different changes shown of each field; the others are counted. */
const KINDS = 4;

export function EditsTable({ preview, label }: { preview: EditsPreview; label: string }) {
  if (preview.fields.length === 0) return <p className="quiet">Nothing would change.</p>;
  return (
    <table className={styles.preview} aria-label={label}>
      <thead>
        <tr>
          <th scope="col">Field</th>
          <th scope="col">Now</th>
          <th scope="col">Then</th>
          <th scope="col">Photos</th>
        </tr>
      </thead>
      <tbody>
        {preview.fields.map(({ key, kinds }) => [
          ...kinds.slice(0, KINDS).map(({ before, after, photos: number }, index) => (
            <tr key={`${key} ${index}`}>
              {index === 0 && (
                <th scope="rowgroup" rowSpan={Math.min(KINDS, kinds.length) + (kinds.length > KINDS ? 1 : 0)}>
                  {fieldOf(key).label}
                </th>
              )}
              <td>{toTyped(before) || <span className="quiet">(empty)</span>}</td>
              <td>{toTyped(after) || <span className="quiet">(empty)</span>}</td>
              <td className="mono">{count(number)}</td>
            </tr>
          )),
          kinds.length > KINDS && (
            <tr key={`${key} more`}>
              <td colSpan={3} className="quiet">
                and {count(kinds.length - KINDS)} other changes, on{' '}
                {photos(kinds.slice(KINDS).reduce((sum, kind) => sum + kind.photos, 0))}
              </td>
            </tr>
          ),
        ])}
      </tbody>
    </table>
  );
}
