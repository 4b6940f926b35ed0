'use client';

import { copiesOf, provenCount, type CopyStanding } from '@/core/fixity/copies';
import { faultSentence } from '@/messages/problems';
import { useLive } from '@/storage/catalog/live';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { dateTime } from '@/ui/format';
import { session, useSession } from '../session/session';
import styles from './record-card.module.css';

const WORDS: Record<CopyStanding, string> = { proven: 'proven', 'not-yet-read': 'not read in full yet', damaged: 'not what its checksum says', missing: 'missing' };

/** Where the photo is: every drive, how well it is proven there, and what waits to be written. */
export function CopiesPanel({ photo, files }: { photo: PhotoRecord; files: FileRecord[] }) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const outbox = useLive(async () => (await session.db.outbox.bulkGet(files.flatMap(({ id }) => [id, `move:${id}`]))).flatMap((item) => item ?? []), [files]) ?? [];
  const connections = useSession((state) => state.connections);
  const copies = copiesOf(files, photo);
  const proven = provenCount(copies);
  return (
    <section className={styles.group} aria-label="Copies">
      <h3>
        Copies <span className={styles.badge} data-level={proven >= 2 ? 'safe' : 'caution'}>{proven === 1 ? '1 proven copy' : `${proven} proven copies`}</span>
      </h3>
      <ul className={styles.copies}>
        {copies.map(({ driveId, path, standing, provenAt }) => {
          const waiting = outbox.find((item) => item.driveId === driveId);
          return (
            <li key={driveId} data-standing={standing}>
              <strong>{drives.find(({ id }) => id === driveId)?.name ?? 'unknown drive'}</strong>
              {connections[driveId]?.state !== 'connected' && <em> away</em>}
              <span className="quiet"> {WORDS[standing]}{provenAt !== null && standing === 'proven' ? `, ${dateTime(provenAt)}` : ''}</span>
              <div className="mono">{path}</div>
              {waiting && <div className={styles.waiting}>{waiting.trouble ? faultSentence(waiting.trouble) : waiting.task.kind === 'move' ? 'its new name waits in the outbox' : 'changes wait in the outbox'}</div>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
