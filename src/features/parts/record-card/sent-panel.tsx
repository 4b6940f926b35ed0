'use client';

import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { count } from '@/ui/format';
import { session } from '@/engine/session';
import styles from './record-card.module.css';

/** Where the photo went: when, to whom, as which file. */
export function SentPanel({ photo }: { photo: PhotoRecord }) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const sent =
    useLive(
      async () =>
        (
          await session.db.deliveries
            .filter(({ deleted, photoIds }) => !deleted && photoIds.includes(photo.id))
            .toArray()
        )
          .map(({ id, name, date, note, files }) => ({
            id,
            name,
            date,
            note,
            file: files?.find(({ photoId }) => photoId === photo.id),
          }))
          .sort((a, b) => (a.date < b.date ? 1 : -1)),
      [photo.id],
    ) ?? [];
  if (sent.length === 0) return null;
  return (
    <section className={styles.group} aria-label="Sent out">
      <h3>Sent out</h3>
      <ul className={styles.copies}>
        {sent.map(({ id, name, date, note, file }) => (
          <li key={id}>
            <strong>{name}</strong> <span className="quiet mono">{date}</span>
            {file && (
              <span className="quiet">
                {' '}
                {file.width && file.height ? `${count(file.width)} × ${count(file.height)}, ` : ''}
                {drives.find((drive) => drive.id === file.driveId)?.name ?? 'a drive of before'}
              </span>
            )}
            {file && <div className="mono">{file.path}</div>}
            {note !== '' && <div className="quiet">{note}</div>}
          </li>
        ))}
      </ul>
    </section>
  );
}
