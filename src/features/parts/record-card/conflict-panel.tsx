'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { type FieldKey, type FieldValues, fieldOf } from '@/core/fields/registry';
import { type FieldValue, isWordList } from '@/core/fields/shape';
import { toTyped, wordsIn } from '@/core/fields/values';
import { useLive } from '@/storage/catalog/live';
import type { ConflictRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import styles from './record-card.module.css';

/** Another program changed a sidecar and so did the person here: both versions, and the choice. */
export function ConflictPanel({ photoId }: { photoId: string }) {
  const conflicts = useLive(() => session.db.conflicts.where('photoId').equals(photoId).toArray(), [photoId]) ?? [];
  return conflicts.map((conflict) => <ConflictCard key={conflict.fileId} conflict={conflict} />);
}

type Side = 'here' | 'theirs' | 'both';
const SIDES: Record<Side, string> = { here: 'here', theirs: 'theirs', both: 'both' };

/** Lists are proposed together; where only one side says something, that; otherwise what is here. */
function proposed(key: FieldKey, here: FieldValue | undefined, theirs: FieldValue | undefined): Side {
  if (here === undefined || theirs === undefined) return here === undefined ? 'theirs' : 'here';
  return isWordList(fieldOf(key)) ? 'both' : 'here';
}

function chosenValue(side: Side, here: FieldValue | undefined, theirs: FieldValue | undefined): FieldValue | undefined {
  if (side === 'both') return [...new Set([...wordsIn(here), ...wordsIn(theirs)])];
  return side === 'here' ? here : theirs;
}

export function ConflictCard({ conflict }: { conflict: ConflictRecord }) {
  const photo = useLive(() => session.db.photos.get(conflict.photoId), [conflict.photoId]);
  const file = useLive(() => session.db.files.get(conflict.fileId), [conflict.fileId]);
  const [sides, setSides] = useState<Partial<Record<FieldKey, Side>>>({});
  const fromFile = conflict.from === 'file';
  if (!photo) return null;
  const sideOf = (key: FieldKey): Side => sides[key] ?? proposed(key, photo.fields[key], conflict.theirs[key]);
  const decide = (decided: FieldValues) => session.decide([{ fileId: conflict.fileId, decided }]);
  const merge = () =>
    decide(
      Object.fromEntries(
        conflict.keys.map((key) => [key, chosenValue(sideOf(key), photo.fields[key], conflict.theirs[key])]),
      ),
    );
  const all = (side: Side) =>
    decide(
      Object.fromEntries(conflict.keys.map((key) => [key, chosenValue(side, photo.fields[key], conflict.theirs[key])])),
    );
  return (
    <section className={styles.conflict} aria-label="Two versions">
      <p>
        Another program changed <span className="mono">{fromFile ? file?.path : file?.sidecar?.path}</span> while it was
        edited here. Both versions are kept until you decide, field by field or for all.
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Here</th>
            <th scope="col">{fromFile ? 'In the image file' : 'In the sidecar'}</th>
            <th scope="col">Take</th>
          </tr>
        </thead>
        <tbody>
          {conflict.keys.map((key) => (
            <tr key={key}>
              <th scope="row">{fieldOf(key).label}</th>
              <td>{toTyped(photo.fields[key]) || '(empty)'}</td>
              <td>{toTyped(conflict.theirs[key]) || '(empty)'}</td>
              <td>
                <select
                  value={sideOf(key)}
                  onChange={({ target }) => setSides({ ...sides, [key]: target.value as Side })}
                  aria-label={`Take for ${fieldOf(key).label}`}
                >
                  {(isWordList(fieldOf(key))
                    ? (['both', 'here', 'theirs'] as const)
                    : (['here', 'theirs'] as const)
                  ).map((side) => (
                    <option key={side} value={side}>
                      {SIDES[side]}
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className={styles.decide}>
        <Button size="small" type="primary" onClick={() => void merge()}>
          Take as chosen
        </Button>
        <Button size="small" onClick={() => void all('here')}>
          Keep what is here
        </Button>
        <Button size="small" onClick={() => void all('theirs')}>
          {fromFile ? 'Take the file’s' : 'Take the sidecar’s'}
        </Button>
      </div>
    </section>
  );
}
