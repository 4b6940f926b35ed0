'use client';

import Link from 'next/link';
import { copiesOf, type CopyStatus } from '@/core/fixity/copies';
import type { DriveStanding } from '@/core/fixity/drive-facts';
import { driveFactsOf, photoSafety } from '@/core/fixity/keeping';
import { driveProblemSentence } from '@/messages/problems';
import { useLive } from '@/storage/catalog/live';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { dateTime } from '@/ui/format';
import { session } from '@/engine/session';
import styles from './record-card.module.css';
import { useKeeping, useSession } from '@/features/parts/session/use-session';

const WORDS: Record<CopyStatus, string> = {
  verified: 'verified',
  'not-yet-read': 'not read in full yet',
  'in-doubt': 'in doubt',
  damaged: 'damaged: not what was first measured',
  missing: 'missing',
};

/** A copy there counts for nothing. */
const STANDS: Record<DriveStanding, string> = { 'in-use': '', retired: ', retired', lost: ', lost' };

/** What asks the person for something. */
const TO_SETTLE: ReadonlySet<CopyStatus> = new Set(['damaged', 'in-doubt', 'missing']);

/** Where the photo is: every drive, whether it is verified there, and what waits to be written. */
export function CopiesPanel({ photo, files }: { photo: PhotoRecord; files: FileRecord[] }) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const outbox =
    useLive(
      async () =>
        (await session.db.outbox.bulkGet(files.flatMap(({ id }) => [id, `move:${id}`]))).flatMap((item) => item ?? []),
      [files],
    ) ?? [];
  const connections = useSession((state) => state.connections);
  const copies = copiesOf(files, photo);
  const keeping = useKeeping();
  const { copies: verified, lacks } = photoSafety(files, photo, keeping);
  return (
    <section className={styles.group} aria-label="Copies">
      <h3>
        Copies{' '}
        <span className={styles.badge} data-level={lacks.length === 0 ? 'safe' : 'caution'}>
          {verified === 1 ? '1 verified copy' : `${verified} verified copies`}
        </span>
      </h3>
      <ul className={styles.copies}>
        {copies.map(({ driveId, path, status, verifiedAt }) => {
          const waiting = outbox.find((item) => item.driveId === driveId);
          return (
            <li key={driveId} data-status={status}>
              <strong>{drives.find(({ id }) => id === driveId)?.name ?? 'unknown drive'}</strong>
              {connections[driveId]?.state !== 'connected' && <em> away</em>}
              {STANDS[driveFactsOf(keeping, driveId).standing]}
              <span className="quiet">
                {' '}
                {WORDS[status]}
                {verifiedAt !== null && status === 'verified' ? `, ${dateTime(verifiedAt)}` : ''}
              </span>
              <div className="mono">{path}</div>
              {TO_SETTLE.has(status) && <Link href="/safekeep#to-settle">settle it in Safekeep</Link>}
              {waiting && (
                <div className={styles.waiting}>
                  {waiting.problem
                    ? driveProblemSentence(waiting.problem)
                    : waiting.task.kind === 'move'
                      ? 'its new name waits in the outbox'
                      : 'changes wait in the outbox'}
                </div>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
