'use client';

import { Button } from 'antd';
import { fieldOf } from '@/core/fields/registry';
import { toTyped } from '@/core/fields/values';
import { useLive } from '@/storage/catalog/live';
import type { ConflictRecord } from '@/storage/catalog/records';
import { session } from '../session/session';
import styles from './record-card.module.css';

/** Another program changed a sidecar and so did the person here: both versions, and the choice. */
export function ConflictPanel({ photoId }: { photoId: string }) {
  const conflicts = useLive(() => session.db.conflicts.where('photoId').equals(photoId).toArray(), [photoId]) ?? [];
  return conflicts.map((conflict) => <Conflict key={conflict.fileId} conflict={conflict} />);
}

export function Conflict({ conflict }: { conflict: ConflictRecord }) {
  const photo = useLive(() => session.db.photos.get(conflict.photoId), [conflict.photoId]);
  const file = useLive(() => session.db.files.get(conflict.fileId), [conflict.fileId]);
  const fromFile = conflict.from === 'file';
  return (
    <section className={styles.conflict} aria-label="Two versions">
      <p>Another program changed <span className="mono">{fromFile ? file?.path : file?.sidecar?.path}</span> while it was edited here. Both versions are kept until you decide.</p>
      <table>
        <thead><tr><th scope="col">Field</th><th scope="col">Here</th><th scope="col">{fromFile ? 'In the image file' : 'In the sidecar'}</th></tr></thead>
        <tbody>
          {conflict.keys.map((key) => (
            <tr key={key}><th scope="row">{fieldOf(key).label}</th><td>{toTyped(photo?.fields[key]) || '(empty)'}</td><td>{toTyped(conflict.theirs[key]) || '(empty)'}</td></tr>
          ))}
        </tbody>
      </table>
      <div className={styles.decide}>
        <Button size="small" onClick={() => void session.decide(conflict.fileId, 'ours')}>Keep what is here</Button>
        <Button size="small" onClick={() => void session.decide(conflict.fileId, 'theirs')}>{fromFile ? 'Take the file’s' : 'Take the sidecar’s'}</Button>
      </div>
    </section>
  );
}
